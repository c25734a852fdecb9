// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/workbench.h"
#include "physics/patch.h"
#include "recipe/knob_effects.h"
#include "recipe/regime_map.h"

#include <atomic>
#include <memory>
#include <QObject>
#include <QTimer>

namespace finch::app {

/// Computes the regime map and the simulated patch in a worker: coarse first, newest request wins, never blocking.
class TuneWorker final : public QObject {
    Q_OBJECT
public:
    explicit TuneWorker(Workbench& workbench, QObject* parent = nullptr);
    ~TuneWorker() override;

    [[nodiscard]] Knob across() const { return across_; }
    [[nodiscard]] Knob down() const { return down_; }
    void set_axes(Knob across, Knob down);
    /// Starts what is out of date; the map is kept while only its two knobs move inside it.
    void update_soon();
    [[nodiscard]] std::shared_ptr<const RegimeMap> map() const { return map_; }
    [[nodiscard]] bool finished() const { return map_ != nullptr && map_->block == 1 && !computing_; }
    [[nodiscard]] std::shared_ptr<const PatchResult> patch() const { return patch_; }

Q_SIGNALS:
    void map_changed();
    void patch_changed();

private:
    struct Asked;
    void start_map();
    void start_patch();

    Workbench& workbench_;
    Knob across_ = Knob::scan_speed, down_ = Knob::power;
    std::shared_ptr<const RegimeMap> map_;
    std::shared_ptr<const PatchResult> patch_;
    std::shared_ptr<Asked> map_for_, patch_for_;
    std::shared_ptr<std::atomic<int>> map_turn_, patch_turn_; ///< older workers see a newer number and stop
    bool computing_ = false;
    QTimer soon_;
};

} // namespace finch::app
