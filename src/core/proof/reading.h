// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "evidence/tilt_look.h"
#include "proof/camera_colour.h"
#include "proof/sheet.h"
#include "search/goal.h"

#include <optional>
#include <string>
#include <vector>

namespace finch {

enum class CellState { read, hidden, left_out };

inline constexpr int most_scratch_steps = 20; ///< longer ladders are nobody's
inline constexpr std::size_t most_tilts = 12;

/// What a photograph said of a cell by itself.
struct Photographed {
    Lab lab;
    double within_de = 0;
    bool operator==(const Photographed&) const = default;
};

/// What a photograph says about one cell.
struct CellReading {
    CellState state = CellState::left_out;
    Lab lab;
    double unevenness = 0; ///< mean CIEDE2000 of sixteen parts of the cell to its mean
    double within_de = 0;  ///< CIEDE2000 within which the true colour lies in nine of ten cases
    bool spoiled = false;  ///< ticked by the operator: molten, torn or flaked, so that its colour is no film's
    std::optional<double> depth_um = {};   ///< measured by the operator with a gauge
    double depth_within_um = 0;            ///< within which it truly lies in nine of ten cases
    bool by_instrument = false;            ///< its colour is that of a colour instrument, and stays over photographs
    std::optional<int> scratch_steps = {}; ///< of the scratch ladder that it was seen to survive
    std::vector<TiltLook> tilted = {};     ///< as it was read with the sheet tilted, by angle
    std::optional<double> gloss = {};      ///< gloss units, as an instrument gave them
    /// What the photograph said by itself, where an instrument said otherwise of this cell or of others like it.
    std::optional<Photographed> photographed = {};
    bool operator==(const CellReading&) const = default;
};

/// What the photograph said of it; an instrument's colour where only that was asked.
[[nodiscard]] Photographed as_photographed(const CellReading& cell);

/// A read proof sheet.
struct SheetReading {
    int sheet_number = 0;
    std::vector<CellReading> cells;     ///< row by row
    double edge_mm = 0;                 ///< width over which the edges of the fiducials are smeared
    int markers = 4;                    ///< fiducials that were used; 0: the corners were put by hand
    double light_range = 1;             ///< brightest over darkest light on the sheet
    std::string photo;                  ///< name of the file or of the camera
    int photos = 1;                     ///< photographs of it that were read together; 0: only measured by hand
    std::optional<Lab> ground = {};     ///< of what is unmarked beside the cells, in the same light
    std::optional<CameraColour> camera; ///< how its colours were set right; nothing: taken as they came
    std::optional<Lab> ground_photographed = {}; ///< the ground as photographed, where measured cells set it right

    [[nodiscard]] std::size_t count(CellState state) const;
    /// Whether there is a photograph that could show what an instrument did not measure.
    [[nodiscard]] bool photographed() const { return photos > 0; }
    /// Whether any cell can show its colour: it was photographed, or an instrument measured some.
    [[nodiscard]] bool shows_colours() const;
    bool operator==(const SheetReading&) const = default;
};

/// Several photographs of one sheet as one reading: the median of each cell over those that read it, and an uncertainty
/// that is no smaller than their differences. The sheet should be turned between them, so that no lamp is mirrored in
/// the same cells. At least one reading; all of the same sheet.
[[nodiscard]] SheetReading read_together(const std::vector<SheetReading>& readings);

/// A depth as a gauge gives it.
struct GaugeDepth {
    double um = 0, within_um = 0; ///< nine in ten
};
/// "120", "0.12 mm", "120 ± 5" or "120 +- 5", in um where no unit is typed. Without a spread, a twentieth and no less
/// than 2 um is taken, as a dial gauge on a small floor reads. Errors: those of parse_quantity, depth.out_of_range.
[[nodiscard]] Expected<GaugeDepth> depth_from_text(std::string_view text);

/// A depth that is wanted, typed alike: "120", "0.12 mm +- 0.01 mm". Without a range a tenth either way is meant, as
/// workshops mean it. Errors: those of depth_from_text(), depth.none_wanted.
[[nodiscard]] Expected<WantedDepth> wanted_depth_from_text(std::string_view text);

/// What is looked for on a sheet.
struct Target {
    std::string name = "deep blue";
    Lab lab{36, 2, -28};
    bool darker_is_better = false; ///< a darkness: only lightness above the target counts against it
    double accept_de = 3;
    std::optional<WantedDepth> depth = {}; ///< a depth instead of a look, which is not asked for then
    bool operator==(const Target&) const = default;
    /// How far from it still passes: um of a depth, else CIEDE2000.
    [[nodiscard]] double accepted() const { return depth ? depth->within_um : accept_de; }
};
/// A depth as a target: "120 µm deep".
[[nodiscard]] Target depth_target(const WantedDepth& wanted);

/// Cells that were left out by choice: not the places that are bare or another round's.
[[nodiscard]] std::size_t left_out_of(const ProofSheet& sheet, const SheetReading& reading);

/// CIEDE2000 to the target; for a darkness, a colour that is darker than the target counts as equally dark.
[[nodiscard]] double distance(const Target& target, const Lab& lab);

/// How far a cell is from the target: um of a depth, else CIEDE2000. Nothing where it was not measured, or is spoiled.
[[nodiscard]] std::optional<double> miss(const Target& target, const CellReading& cell);

/// Colours that operators ask for by name, each as a target.
[[nodiscard]] const std::vector<Target>& named_targets();

struct RankedCell {
    std::size_t cell = 0;
    double miss = 0; ///< as miss() tells it
    double unevenness = 0;
    double time_s = 0;
    bool passes = false;
};
/// Measured cells that are not spoiled by how far they miss; looks that differ by less than 0.3, and depths by less
/// than a twentieth of what is accepted, are ordered by evenness, then by time.
[[nodiscard]] std::vector<RankedCell> rank(const SheetReading& reading, const Target& target,
                                           const SheetForecast& forecast);

/// Round which cell a next sheet is laid: the chosen one, or the best where none is chosen or the chosen one is
/// spoiled. `ranked` must not be empty.
[[nodiscard]] std::size_t middle_cell(const SheetReading& reading, std::optional<std::size_t> chosen,
                                      const std::vector<RankedCell>& ranked);

[[nodiscard]] nlohmann::json to_json(const SheetReading& reading, const ProofSheet& sheet);
/// Reads a `finch-reading` document that belongs to the sheet.
[[nodiscard]] Expected<SheetReading> reading_from_json(const nlohmann::json& document, const ProofSheet& sheet,
                                                       const std::string& file);
[[nodiscard]] nlohmann::json to_json(const Target& target);
[[nodiscard]] Expected<Target> target_from_json(const nlohmann::json& document);

} // namespace finch
