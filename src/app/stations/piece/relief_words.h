// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/relief_charts.h"
#include "app/instruments/relief_view.h"
#include "app/session/relief_reader.h"
#include "app/stations/piece/piece_view.h"

/// What the relief page shows, from plain values.
namespace finch::app {

/// One way to cut the relief.
struct WayView {
    QString name, time, depth, step, debris;
    State state = State::unknown;
    bool chosen = false;
};
/// The way at hand first, then the schools.
[[nodiscard]] std::vector<WayView> way_rows(const ReliefReader& reader, const ReliefRules& now);
/// The depth below the surface after each layer: as predicted, else evenly down to what is wanted.
[[nodiscard]] std::vector<double> shown_depths(const ReliefReader& reader, const ReliefRules& now);
[[nodiscard]] LayerProgress layer_progress(const ReliefReader& reader, const ReliefRules& now, int layers_done);
[[nodiscard]] ReliefSection section_at(const ReliefPicture& picture, int row);
/// Layers over grey, 0 to 1.
[[nodiscard]] std::vector<double> grey_curve(const ReliefRules& rules);
[[nodiscard]] std::vector<FindingRowView> relief_rows(const ReliefReader& reader);
/// "4 h 12 (3 h 50 to 4 h 40) of which ..." and what it rests on.
[[nodiscard]] QString relief_time_words(const ReliefReader& reader, const Bench& bench);

} // namespace finch::app
