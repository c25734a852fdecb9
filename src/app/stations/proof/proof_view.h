// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/knob_row.h"
#include "app/instruments/sheet_view.h"
#include "app/session/proof_flow.h"

namespace finch::app {

/// View data of the proof station, computed from the work at hand. Tested without a window.

[[nodiscard]] SheetView sheet_view(const Workbench& workbench, const std::vector<RankedCell>& ranking, LevelKind lines);
/// Any sheet with its forecast and, if there is one, its reading.
[[nodiscard]] SheetView sheet_view(const Workbench& workbench, const Scene& scene, const ProofSheet& sheet,
                                   const SheetForecast& forecast, const std::optional<SheetReading>& reading,
                                   LevelKind lines);

/// The look that is predicted for a cell of a sheet; nothing where there is none.
[[nodiscard]] std::optional<Lab> cell_look(const Scene& scene, const Recipe& recipe, const CellForecast& forecast);
/// The knobs that vary over a sheet, as they are set in a recipe.
[[nodiscard]] QString cell_settings(const ProofSheet& sheet, const Recipe& recipe);
/// A prediction of the work at hand with another recipe, seen from straight above.
[[nodiscard]] Expected<Prediction> quick_prediction(const Workbench& workbench, const Recipe& recipe);

/// One row per knob: limits, derived quantity and the local effect of a small step.
[[nodiscard]] std::vector<KnobView> knob_views(const Workbench& workbench);
/// The range of each knob that keeps the target, by scanning the model; slower, so computed when the operator pauses.
[[nodiscard]] std::vector<std::optional<std::pair<double, double>>> keeping_ranges(const Workbench& workbench);

/// One thumbnail of the strip of rounds.
struct RoundView {
    int number = 0;
    QString title, note;      ///< "Sheet 02", "shown"
    QString axes, cost, best; ///< "speed × pitch", "45 cells, 7 min 00", "best ΔE 0.7"
    QString reason;           ///< why the next one, shown before the arrow
    std::size_t columns = 0, rows = 0;
    std::vector<std::optional<Lab>> colours;
    bool current = false;
    bool measured = false;
    bool proposed = false; ///< not planned yet
};
[[nodiscard]] std::vector<RoundView> round_views(const Workbench& workbench);

/// What is said about the chosen cell.
struct CellDetail {
    int sheet = 0;
    std::size_t cell = 0;
    QString title, settings;
    std::optional<Lab> predicted, measured;
    std::optional<Lab> target;     ///< none where a depth is wanted
    std::optional<DepthMark> mark; ///< where a depth is wanted: instead of the looks
    QString predicted_note, measured_note, target_note;
    QStringList sentences;
    bool spoiled = false;
    bool takes_depth = false; ///< a gauge can say how deep it is
    QString depth;            ///< "120 ± 5" in um; empty: not measured
};
[[nodiscard]] std::optional<CellDetail> cell_detail(const Workbench& workbench);

} // namespace finch::app
