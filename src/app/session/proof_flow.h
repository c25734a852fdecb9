// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/workbench.h"
#include "document/picture.h"
#include "record/logbook.h"
#include "standin/bench_link.h"

#include <functional>
#include <QImage>
#include <QTimer>

namespace finch::app {

/// The proof loop: plan, burn, photograph, read, learn, choose, save. Long work runs on copies in a worker; every
/// result is written to the logbook before it is shown.
class ProofFlow final : public QObject {
    Q_OBJECT
public:
    ProofFlow(Workbench& workbench, Logbook* logbook, BenchLink& link, QObject* parent = nullptr);

    enum class Step { idle, burning, photographing, reading };
    [[nodiscard]] Step step() const { return step_; }
    [[nodiscard]] double progress() const { return progress_; }
    [[nodiscard]] QString progress_text() const { return progress_text_; }
    /// The squared-up photograph of the shown sheet, if it was read.
    [[nodiscard]] QImage rectified() const;

    /// An opening for the target: sets recipe and both axes of the plan.
    void suggest_opening(Knob across, Knob down);
    /// Plans the sheet asked for in the draft and shows it as a new round; hopeless cells are left out if asked for.
    void plan(bool leave_out_hopeless);
    /// The next, narrower sheet round the chosen cell.
    void plan_next();
    /// Burns the shown sheet, if the focus is confirmed and nothing blocks it.
    void burn();
    void cancel();
    void photograph();
    void read_file(const QString& path);
    void read_picture(const Picture& photo, const QString& name);
    void choose_cell(std::size_t cell);
    void show_round(int index);
    /// Saves the recipe with its evidence into the logbook.
    void save_recipe(const QString& name);
    /// Ranked cells of the shown sheet, empty without a reading.
    [[nodiscard]] std::vector<RankedCell> ranking() const;

Q_SIGNALS:
    void step_changed();
    void recorded(long long entry);

private:
    void set(Step step, double progress = 0, const QString& text = {});
    void burn_finished(double time_s);
    struct ReadResult;
    void adopt_reading(const ReadResult& result);
    /// Writes an entry and returns its id. If that fails it is kept and tried again every few seconds; then 0 is
    /// returned and `later` is called with the id once it is on the disk.
    long long record(const Entry& entry, const std::vector<EntryPicture>& pictures,
                     const std::function<void(long long)>& later = {});
    void retry();
    [[nodiscard]] Entry blank_entry(EntryKind kind) const;
    void record_focus();

    Workbench& workbench_;
    Logbook* logbook_;
    BenchLink& link_;
    Step step_ = Step::idle;
    double progress_ = 0;
    QString progress_text_;
    int attempt_ = 0;
    int burning_round_ = -1;
    bool photograph_after_burn_ = true;
    std::map<long long, QImage> rectified_;
    struct Unwritten {
        Entry entry;
        std::vector<EntryPicture> pictures;
        std::function<void(long long)> later;
    };
    std::vector<Unwritten> unwritten_;
    QTimer retry_;
};

} // namespace finch::app
