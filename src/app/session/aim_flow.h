// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/workbench.h"
#include "recipe/borrowed.h"
#include "recipe/weigh.h"

#include <memory>
#include <QFutureWatcher>
#include <QTimer>
#include <stop_token>

namespace finch::app {

/// Another recipe for the same mark.
struct Alternative {
    PlanTask task;
    Candidate candidate;
};

/// From an aim to a recipe: weighs every process in a worker, keeps the newest answer, and takes candidates as the
/// recipe at hand.
class AimFlow final : public QObject {
    Q_OBJECT
public:
    AimFlow(Workbench& workbench, std::vector<Bench> benches, QObject* parent = nullptr);
    ~AimFlow() override;

    /// What was weighed last; may be of an older aim while `busy`.
    [[nodiscard]] const Weighing& weighing() const { return weighing_; }
    [[nodiscard]] bool busy() const { return busy_; }
    /// Whether what was weighed last is what is asked now.
    [[nodiscard]] bool up_to_date() const;
    /// Candidates for what the recipe at hand is for.
    [[nodiscard]] const std::vector<Alternative>& alternatives() const { return alternatives_; }
    [[nodiscard]] const std::vector<Bench>& benches() const { return benches_; }

    /// Weighs again when aim, bench or stock differ from what was weighed. Asked by the station when it is seen.
    void weigh_soon();
    void find_alternatives_soon();
    void edit(const QString& text, const QString& merge, const std::function<void(Aim&)>& edit);
    /// Makes a candidate the recipe, with the target and the first sheet that go with it.
    void take(const Proposal& proposal, const Candidate& candidate);
    void take_alternative(std::size_t index);
    void take_recipe(const Recipe& recipe, const QString& why, std::optional<School> school = {});

Q_SIGNALS:
    void weighed();
    void alternatives_found();
    void taken();

private:
    struct Asked {
        Aim aim;
        Setup setup;
        Evidence evidence;
        Process process = Process::anneal;
        School school = School::single;
        std::string compound;
        bool operator==(const Asked&) const = default;
    };
    [[nodiscard]] Asked ask() const;
    [[nodiscard]] Asked ask_of_aim() const;
    void start_weighing();
    void start_alternatives();

    Workbench& workbench_;
    std::vector<Bench> benches_;
    Weighing weighing_;
    std::vector<Alternative> alternatives_;
    std::optional<Asked> weighed_for_, found_for_;
    bool busy_ = false;
    QTimer soon_, alternatives_soon_;
    std::stop_source weighing_stop_, alternatives_stop_; ///< of the newest question; older ones were told to stop
    QFutureWatcher<std::shared_ptr<std::vector<Alternative>>> alternatives_watcher_;
};

} // namespace finch::app
