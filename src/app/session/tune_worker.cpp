// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/tune_worker.h"

#include "app/session/background.h"

#include <algorithm>
#include <QCoreApplication>
#include <QPointer>

namespace finch::app {

/// What a map or a patch was computed for.
struct TuneWorker::Asked {
    Setup setup;
    Recipe recipe; ///< of a map: with its two knobs at nothing, because they are the axes
    Fill fill;
    Evidence evidence;
    MapAxis across, down;
    bool operator==(const Asked&) const = default;
};

TuneWorker::TuneWorker(Workbench& workbench, QObject* parent)
    : QObject(parent), workbench_(workbench), map_turn_(std::make_shared<std::atomic<int>>(0)),
      patch_turn_(std::make_shared<std::atomic<int>>(0)) {
    soon_.setSingleShot(true);
    soon_.setInterval(60);
    connect(&soon_, &QTimer::timeout, this, [this] {
        start_map();
        start_patch();
    });
}

TuneWorker::~TuneWorker() {
    ++*map_turn_;
    ++*patch_turn_;
}

void TuneWorker::set_axes(Knob across, Knob down) {
    if (across == down)
        return;
    across_ = across;
    down_ = down;
    map_for_.reset();
    update_soon();
}

void TuneWorker::update_soon() {
    soon_.start();
}

void TuneWorker::start_map() {
    const Draft& d = workbench_.draft();
    Asked asked{d.setup, with_knob(with_knob(d.recipe, across_, 1), down_, 1), d.fill, workbench_.evidence(), {}, {}};
    asked.recipe.name.clear();
    const auto inside = [&](const MapAxis& a) {
        const double s = a.share(knob_value(d.recipe, a.knob));
        return s >= 0.04 && s <= 0.96;
    };
    if (map_for_ != nullptr) {
        asked.across = map_for_->across;
        asked.down = map_for_->down;
        if (asked == *map_for_ && inside(asked.across) && inside(asked.down))
            return;
    }
    asked.across = map_axis(workbench_.bench(), d.recipe, across_);
    asked.down = map_axis(workbench_.bench(), d.recipe, down_);
    map_for_ = std::make_shared<Asked>(asked);
    computing_ = true;
    const int turn = ++*map_turn_;
    const QPointer<TuneWorker> self(this);
    const auto work = [asked, recipe = d.recipe, materials = workbench_.shared_materials(), turn, turns = map_turn_,
                       self] {
        const auto metal = materials->find(asked.setup.stock.metal);
        if (!metal) {
            QMetaObject::invokeMethod(
                qApp,
                [self, turn, turns] {
                    if (self != nullptr && *turns == turn) {
                        self->map_.reset();
                        self->computing_ = false;
                        Q_EMIT self->map_changed();
                    }
                },
                Qt::QueuedConnection);
            return;
        }
        const Scene scene{*materials, **metal, asked.setup.bench, asked.setup.stock, asked.evidence};
        RegimeMap map;
        map.across = asked.across;
        map.down = asked.down;
        compute_map(scene, recipe, asked.fill, map, threads_for_work(), [&](const RegimeMap& done) {
            if (*turns != turn)
                return false;
            auto shown = std::make_shared<const RegimeMap>(done);
            QMetaObject::invokeMethod(
                qApp,
                [self, shown, turn, turns] {
                    if (self != nullptr && *turns == turn) {
                        self->map_ = shown;
                        self->computing_ = shown->block > 1;
                        Q_EMIT self->map_changed();
                    }
                },
                Qt::QueuedConnection);
            return true;
        });
    };
    [[maybe_unused]] const auto running = run_in_background(work);
}

void TuneWorker::start_patch() {
    const Draft& d = workbench_.draft();
    Asked asked{d.setup, d.recipe, d.fill, workbench_.evidence(), {}, {}};
    asked.recipe.name.clear();
    if (patch_for_ != nullptr && asked == *patch_for_)
        return;
    patch_for_ = std::make_shared<Asked>(asked);
    const int turn = ++*patch_turn_;
    const auto& p = workbench_.prediction();
    const bool cuts = p && p->removal && p->removal->pass.crater.volume_um3 > 0 && !p->film_seen();
    if (!cuts) {
        patch_.reset();
        Q_EMIT patch_changed();
        return;
    }
    const QPointer<TuneWorker> self(this);
    const auto work = [asked, materials = workbench_.shared_materials(), turn, turns = patch_turn_, self] {
        const auto metal = materials->find(asked.setup.stock.metal);
        if (!metal || !(*metal)->removal)
            return;
        const Cutting cut = cutting(*materials, **metal, asked.setup.bench, asked.recipe);
        PatchJob job;
        // The first passes show the texture; depth follows from the recursion, not from this picture.
        job.passes = std::min(asked.recipe.setting.passes, 24);
        job.angle_deg = asked.recipe.setting.hatch_angle_deg;
        job.turn_deg = asked.recipe.turn_per_pass_deg;
        job.cross = asked.recipe.cross_hatch;
        job.shift = asked.recipe.line_shift_percent / 100;
        job.focus_offset_mm = in_mm(asked.recipe.setting.focus_offset);
        const auto deliver = [&](const Expected<PatchResult>& result) {
            if (!result || *turns != turn)
                return;
            auto shown = std::make_shared<const PatchResult>(*result);
            QMetaObject::invokeMethod(
                qApp,
                [self, shown, turn, turns] {
                    if (self != nullptr && *turns == turn) {
                        self->patch_ = shown;
                        Q_EMIT self->patch_changed();
                    }
                },
                Qt::QueuedConnection);
        };
        const auto go_on = [&](int) { return *turns == turn; };
        // The preview first: it costs the same whatever the number of pulses.
        const double step_um = in_mm_per_second(cut.raster.speed) / in_kilohertz(cut.train.frequency);
        const double crater = one_pass(cut.metal, cut.model, cut.train, cut.beam, cut.raster).crater.diameter_um;
        if (step_um <= crater / 4)
            deliver(groove_patch(cut, job, go_on));
        const double pulses =
            job.passes * job.size_mm * job.size_mm * 1e6 / (step_um * in_micrometres(cut.raster.pitch));
        if (pulses < 4e6)
            deliver(simulate_patch(cut, job, threads_for_work(), go_on));
    };
    [[maybe_unused]] const auto running = run_in_background(work);
}

} // namespace finch::app

#include "moc_tune_worker.cpp"
