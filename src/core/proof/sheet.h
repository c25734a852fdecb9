// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "proof/axis.h"
#include "recipe/predict.h"

#include <array>
#include <nlohmann/json_fwd.hpp>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace finch {

struct SheetAxis {
    Knob knob = Knob::scan_speed;
    std::vector<double> values; ///< in the knob's unit
    Steps steps = Steps::ratio;
    bool operator==(const SheetAxis&) const = default;
};

inline constexpr int highest_sheet_number = 1000000;
inline constexpr std::size_t most_free_cells = 150, most_frame_places = 300;
inline constexpr double most_rest_below_k = 400;

/// What is compared in pairs of cells.
enum class Measure { lightness, chroma, a, b };
/// As documents and the command line write them, in that order.
inline constexpr std::array<std::string_view, 4> measure_keys{"lightness", "chroma", "a", "b"};
/// Free cells in pairs, for one question that was settled before they are burned.
struct PairedCells {
    Measure measure = Measure::lightness;
    double matters = 1;             ///< least difference that would change what one does
    std::vector<std::size_t> order; ///< of burning, by chance: every place once
    bool operator==(const PairedCells&) const = default;
};

/// Free cells of one recipe with less and more dose: does this lot do what the recipe did before?
struct LotCheck {
    Lab expected;         ///< what the recipe looked like where it was proven
    double accept_de = 3; ///< up to which it passes for the same
    bool operator==(const LotCheck&) const = default;
};

/// Free cells of one recipe at several powers, each several times: from which power on does the stock change, and from
/// which is it spoiled?
struct ThresholdSearch {
    Lab unmarked;          ///< of the stock
    double visible_de = 2; ///< from which on a cell counts as changed
    /// Of a coat that is gone or bleached, or a compound that has bonded; none: no such end is looked for.
    std::optional<Lab> done = {};
    bool operator==(const ThresholdSearch&) const = default;
};

/// A frame that is filled in rounds: its markers and lettering are burned once, with its first sheet.
struct SheetFrame {
    int number = 1;        ///< of the sheet whose markers are on the plate
    std::size_t first = 0; ///< place of this sheet's first cell, row by row
    std::size_t rows = 1;  ///< of the frame; its columns are the sheet's
    bool operator==(const SheetFrame&) const = default;
};

/// One cell of a sheet in the order of burning.
struct CellTurn {
    std::size_t cell = 0;
    double rest_s = 0; ///< before it, for the heat of the cells before to leave the plate
    bool operator==(const CellTurn&) const = default;
};

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
    /// Of free cells, row by row; other places are empty or another sheet's. None: the two axes say it all.
    std::vector<Setting> own;
    std::size_t own_columns = 0;
    std::optional<SheetFrame> frame; ///< of free cells; none: a frame of its own, as large as they need

    std::optional<PairedCells> paired;             ///< of free cells: row 1 against row 2
    std::optional<LotCheck> lot = {};              ///< of free cells: in order of dose
    std::optional<ThresholdSearch> threshold = {}; ///< of free cells: the places are drawn by chance
    bool ladder = false;     ///< free cells of one recipe at many focus offsets, burned from the lowest head upwards
    bool offsets = false;    ///< free cells of one film, reached at other focus offsets with other speeds and pitches
    bool wedge = false;      ///< free cells of one recipe at more and more passes, whose depths are measured
    bool field = false;      ///< free cells of one recipe all over the field, with less and more dose
    bool close = false;      ///< of free cells: small markers and narrow margins, which take less plate
    double rest_below_k = 0; ///< rest before a cell until less is left of the earlier ones' heat there; 0: never
    /// Of a burned sheet: its cells as they were burned, each once. None: as before there were turns, without rests.
    std::vector<CellTurn> turns = {};

    [[nodiscard]] bool free() const { return !own.empty(); }
    /// It asks one question instead of searching for a setting.
    [[nodiscard]] bool asks() const { return paired || ladder || lot || threshold || offsets || wedge || field; }
    [[nodiscard]] std::size_t columns() const { return free() ? own_columns : across.values.size(); }
    [[nodiscard]] std::size_t rows() const {
        return !free() ? down.values.size() : frame ? frame->rows : (own.size() + own_columns - 1) / own_columns;
    }
    [[nodiscard]] std::size_t cells() const { return columns() * rows(); }
    [[nodiscard]] std::size_t first_own() const { return frame ? frame->first : 0; }
    /// Whether a place is this sheet's: not empty, and not another round's on the same frame.
    [[nodiscard]] bool holds(std::size_t cell) const {
        return !free() || (cell >= first_own() && cell < first_own() + own.size());
    }
    /// The number that the markers on the plate carry.
    [[nodiscard]] int plate_number() const { return frame ? frame->number : number; }
    /// A later round: markers and lettering are on the plate already.
    [[nodiscard]] bool on_old_plate() const { return frame && frame->number != number; }
    bool operator==(const ProofSheet&) const = default;
};

/// What kind of sheet it is: "focus ladder", "lot check", "pairs", "threshold", "offset series", "step wedge", "field
/// sheet", "free cells", "map".
[[nodiscard]] std::string_view kind_word(const ProofSheet& sheet);
/// "D2" for a cell index.
[[nodiscard]] std::string cell_name(const ProofSheet& sheet, std::size_t cell);
/// The knobs that vary from cell to cell, in the order of all_knobs.
[[nodiscard]] std::vector<Knob> varied_knobs(const ProofSheet& sheet);
/// Cells that are this sheet's and not left out.
[[nodiscard]] std::vector<std::size_t> burned_cells(const ProofSheet& sheet);
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

/// The sheet, if it fits the field of the lens. Errors: proof.too_large.
[[nodiscard]] Expected<ProofSheet> inside_field(ProofSheet sheet, const Bench& bench);

/// Puts a sheet of free cells on a frame: its first round, with room for half as many again as its own for later ones,
/// 6 to 18: where few are enough at first, few more are for all. It lies close. Errors: proof.too_large.
[[nodiscard]] Expected<ProofSheet> with_frame(ProofSheet sheet, const Bench& bench);
/// Puts it on the free places of a frame from `first` on; the cells must be of the frame's size.
/// Errors: proof.frame_full, proof.frame_cells.
[[nodiscard]] Expected<ProofSheet> on_frame_of(ProofSheet sheet, const ProofSheet& begun, std::size_t first);

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
    double rests_s = 0;
    double total_s = 0; ///< of the cells that are not left out, with labels, travel and rests
};

/// Time of the markers and labels, in s; none on a plate that carries them.
[[nodiscard]] double lettering_s(const ProofSheet& sheet, const Scene& scene);
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
