// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "proof/axis.h"
#include "recipe/predict.h"

#include <nlohmann/json_fwd.hpp>
#include <string>
#include <vector>

namespace finch {

struct SheetAxis {
    Knob knob = Knob::scan_speed;
    std::vector<double> values; ///< in the knob's unit
    Steps steps = Steps::ratio;
    bool operator==(const SheetAxis&) const = default;
};

inline constexpr int highest_sheet_number = 1000000;
inline constexpr std::size_t most_free_cells = 150;

/// A proof sheet: cells of one recipe with two knobs varied, or free cells that each have a setting of their own.
struct ProofSheet {
    int number = 1;   ///< its fiducials carry number modulo 250
    std::string aim;  ///< what it is for: "Noon line in deep blue"
    Recipe base;      ///< the fixed knobs
    SheetAxis across; ///< columns A, B ...
    SheetAxis down;   ///< rows 1, 2 ...
    Length cell_width = mm(5);
    Length cell_height = mm(4);
    Length gap = mm(1);
    Recipe label_recipe;        ///< safe recipe of labels and fiducials
    std::vector<bool> left_out; ///< by cell index, row by row
    /// Of free cells, row by row; a place beyond the last is empty. None: the two axes say it all.
    std::vector<Setting> own;
    std::size_t own_columns = 0;

    [[nodiscard]] bool free() const { return !own.empty(); }
    [[nodiscard]] std::size_t columns() const { return free() ? own_columns : across.values.size(); }
    [[nodiscard]] std::size_t rows() const {
        return free() ? (own.size() + own_columns - 1) / own_columns : down.values.size();
    }
    [[nodiscard]] std::size_t cells() const { return columns() * rows(); }
    bool operator==(const ProofSheet&) const = default;
};

/// "D2" for a cell index.
[[nodiscard]] std::string cell_name(const ProofSheet& sheet, std::size_t cell);
/// The knobs that vary from cell to cell, in the order of all_knobs.
[[nodiscard]] std::vector<Knob> varied_knobs(const ProofSheet& sheet);
/// Errors: proof.no_cell.
[[nodiscard]] Expected<std::size_t> cell_from_name(const ProofSheet& sheet, const std::string& name);
[[nodiscard]] Recipe cell_recipe(const ProofSheet& sheet, std::size_t cell);
[[nodiscard]] Fill cell_fill(const ProofSheet& sheet);

struct SheetRequest {
    int number = 1;
    std::string aim;
    Recipe base;
    AxisPlan across, down;
    Length cell_width = mm(5);
    Length cell_height = mm(4);
    Length gap = mm(1);
    bool operator==(const SheetRequest&) const = default;
};

/// Plans a sheet. Errors: proof.axis_*, proof.same_knob, proof.cell_size (1..50 mm), proof.too_large (beyond the
/// field).
[[nodiscard]] Expected<ProofSheet> plan_sheet(const SheetRequest& request, const Bench& bench,
                                              const Recipe& label_recipe);

/// A sheet of free cells, as near to a square as four columns or more allow. The request's axes are not looked at.
/// Errors: proof.cell_size, proof.gap, proof.no_cells (1 to 150), proof.too_large.
[[nodiscard]] Expected<ProofSheet> plan_free_sheet(const SheetRequest& request, const std::vector<Setting>& cells,
                                                   const Bench& bench, const Recipe& label_recipe);

/// A dark anneal for labels and fiducials that this bench and stock can do without removing anything: searched with the
/// model over power and speed. Errors: proof.no_label_recipe.
[[nodiscard]] Expected<Recipe> label_recipe(const Scene& scene);

enum class CellFate { marks, shows_nothing, burns, impossible };

struct CellForecast {
    CellFate fate = CellFate::marks;
    Expected<Prediction> prediction;
    double time_s = 0;
};

struct SheetForecast {
    std::vector<CellForecast> cells;
    double labels_s = 0;
    double total_s = 0; ///< of the cells that are not left out, with labels and travel
};

/// Predicts every cell and the time of the sheet.
[[nodiscard]] SheetForecast forecast(const ProofSheet& sheet, const Scene& scene);

/// The sheet with every cell that would burn, show nothing or cannot be set left out.
[[nodiscard]] ProofSheet without_hopeless(ProofSheet sheet, const SheetForecast& forecast);

/// A line of equal dose or pulses across the sheet, in cell coordinates (0 = centre of the first column or row).
struct LevelLine {
    double level = 0;
    struct Point {
        double column = 0, row = 0;
    };
    std::vector<Point> from, to; ///< segments
};
enum class LevelKind { pulses_per_mm2, areal_dose_j_mm2 };
/// Up to `count` lines at levels of cell centres; none if the quantity does not vary over the sheet.
[[nodiscard]] std::vector<LevelLine> level_lines(const ProofSheet& sheet, const Bench& bench, LevelKind kind,
                                                 int count);

[[nodiscard]] nlohmann::json to_json(const ProofSheet& sheet);
/// Reads a `finch-sheet` document.
[[nodiscard]] Expected<ProofSheet> sheet_from_json(const nlohmann::json& document, const std::string& file);
[[nodiscard]] Expected<ProofSheet> sheet_from_text(std::string_view text, const std::string& file);

} // namespace finch
