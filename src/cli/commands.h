// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "document/picture.h"
#include "formats/data_folder.h"
#include "proof/reading.h"
#include "recipe/scene.h"

#include <iosfwd>
#include <nlohmann/json_fwd.hpp>
#include <string>
#include <vector>

/// The work of the command line program. Each command returns a document to print, or an error.
namespace finch::cli {

struct Context {
    DataFolders data;
    std::shared_ptr<const Materials> materials;
    std::istream& in; ///< read for "-"
};

/// A sheet from a file, or from "-".
[[nodiscard]] Expected<ProofSheet> load_sheet(const Context& context, const std::string& file);

struct PredictOptions {
    std::string bench = "wren", stock = "sundial-316", recipe = "-", fill;
    std::string evidence; ///< a `rests_on` document: what is known of this lot
    bool robustness = false;
};
[[nodiscard]] Expected<nlohmann::json> predict(const Context& context, const PredictOptions& options);

struct AimOptions {
    std::string bench = "wren", stock = "sundial-316", recipe = "-", aim, process;
};
/// How a recipe answers an aim, wish by wish.
[[nodiscard]] Expected<nlohmann::json> aim_judge(const Context& context, const AimOptions& options);
/// Candidates of every process that this bench can do to this stock, or of one.
[[nodiscard]] Expected<nlohmann::json> plan(const Context& context, const AimOptions& options);

struct CarryOptions {
    std::string bench = "wren", stock = "sundial-316", recipe = "-", to = "heron";
};
[[nodiscard]] Expected<nlohmann::json> carry(const Context& context, const CarryOptions& options);

struct BorrowOptions {
    std::string bench = "wren", stock = "sundial-316", text = "-", process = "engrave";
};
[[nodiscard]] Expected<nlohmann::json> borrow(const Context& context, const BorrowOptions& options);

/// What a run of many passes looks like on the way.
[[nodiscard]] Expected<nlohmann::json> stage(const Context& context, const PredictOptions& options);

struct SetupOptions {
    std::string bench = "wren", stock = "sundial-316";
    double offset_mm = 0, wanted_spot_um = 0;
    std::vector<double> part_mm; ///< length and width, or empty
};
/// Spot, focus tolerance and field of each lens of a bench.
[[nodiscard]] Expected<nlohmann::json> setup(const Context& context, const SetupOptions& options);

struct PlanOptions {
    std::string bench = "wren", stock = "sundial-316", recipe = "-", aim;
    std::string across = "scan_speed_mm_s:600:1900:8", down = "hatch_pitch_mm:0.003:0.007:6";
    int number = 1;
    double cell_width_mm = 5, cell_height_mm = 4, gap_mm = 1;
    bool leave_out = false;
    std::string svg, csv, pdf; ///< files to write beside, if named
};
/// A `finch-sheet` document with its forecast.
[[nodiscard]] Expected<nlohmann::json> proof_plan(const Context& context, const PlanOptions& options);

struct BurnOptions {
    std::string sheet = "-", bench = "wren", stock = "sundial-316", standin, photo, depths;
    std::uint64_t seed = 7;
    double speed_up = 1000;
    std::vector<double> tilts; ///< further photographs, degrees
    double rest_below_k = 0;   ///< of the sheet, if told
    std::string burned;        ///< where the sheet goes as it was burned
};
/// Burns a sheet on the stand-in and writes its photograph.
[[nodiscard]] Expected<nlohmann::json> proof_burn(const Context& context, const BurnOptions& options);

struct ReadOptions {
    std::string sheet = "-", bench = "wren", stock = "sundial-316", target, rectified, camera;
    std::vector<std::string> photos;
    std::vector<double> card{95, 0, 2}, corners; ///< L* a* b*; x y of four corners in pixels
    double tilt_deg = 0;                         ///< of the sheet in the photographs
    std::string reading;                         ///< from above, of which they become part then
};
/// A `finch-reading` document, with the lesson and, for a named target, the ranking.
[[nodiscard]] Expected<nlohmann::json> proof_read(const Context& context, const ReadOptions& options);

struct DepthOptions {
    std::string sheet = "-", depths, colours, scratches, gloss, reading;
};
/// A `finch-reading` with the depths of a list: of the reading given, or of a sheet that was not photographed.
[[nodiscard]] Expected<nlohmann::json> proof_depths(const Context& context, const DepthOptions& options);
/// The same with what a gloss meter read.
[[nodiscard]] Expected<nlohmann::json> proof_gloss(const Context& context, const DepthOptions& options);
/// The same with how much of the scratch ladder cells survived.
[[nodiscard]] Expected<nlohmann::json> proof_scratches(const Context& context, const DepthOptions& options);
/// The same with colours that an instrument measured.
[[nodiscard]] Expected<nlohmann::json> proof_colours(const Context& context, const DepthOptions& options);

struct SearchOptions {
    std::string bench = "wren", stock = "sundial-316", recipe = "-", target = "deep blue", aim, svg;
    std::vector<std::string> sheets, readings; ///< what was burned and read before, pair by pair
    std::vector<double> lab;                   ///< instead of a named target
    std::string depth;                         ///< instead of either: "120 um +- 10"
    std::vector<std::string> wanted;           ///< names, or L* a* b* as text
    bool dark = false;                         ///< a darkness: what is darker is as good
    bool frame = false;                        ///< one frame, filled in rounds
    double within = 3, minutes = 30, risk = 0.25;
    std::size_t cells = 12;
    int number = 1;
};
/// A `finch-sheet` of free cells for a target, with what it promises and why.
[[nodiscard]] Expected<nlohmann::json> proof_suggest(const Context& context, const SearchOptions& options);
/// `finch-openings`: every way to begin with cells, time, plate and promise.
[[nodiscard]] Expected<nlohmann::json> proof_openings(const Context& context, const SearchOptions& options);

/// A sheet that answers one question: planned, or judged by its reading.
struct QuestionOptions {
    std::string bench = "wren", stock = "sundial-316", recipe = "-", sheet, reading, svg, aim;
    int number = 1;
    std::uint64_t seed = 1;
};
struct CompareOptions : QuestionOptions {
    std::string with, measure = "lightness";
    double matters = 1;
    std::size_t pairs = 8;
};
struct LadderOptions : QuestionOptions {
    double reach_mm = 0, about_mm = 0, accept_de = 3;
    std::size_t steps = 13;
    bool over_field = false;
};
struct LotOptions : QuestionOptions {
    std::vector<double> expected; ///< L* a* b*
    double accept_de = 3;
};
struct ThresholdOptions : QuestionOptions {
    double from_percent = 5, to_percent = 50;
    std::size_t powers = 8, times = 3;
};
struct OffsetOptions : QuestionOptions {
    double reach_mm = 0, within = 3;
    std::size_t offsets = 7;
    std::string target = "deep blue";
};
struct FieldOptions : QuestionOptions {
    double within = 3;
};
struct WedgeOptions : QuestionOptions {
    std::string depth; ///< wanted
    int passes = 32;
    std::size_t steps = 6, times = 2;
};
/// A reading that belongs to the sheet.
[[nodiscard]] Expected<SheetReading> load_reading(const std::string& file, const ProofSheet& sheet);
/// A sheet of two recipes in pairs; with a sheet and its reading, what they say.
[[nodiscard]] Expected<nlohmann::json> proof_compare(const Context& context, const CompareOptions& options);
/// A ladder of focus offsets; with a sheet and its reading, where the best focus is, tilt and how far the mark holds.
[[nodiscard]] Expected<nlohmann::json> proof_focus_ladder(const Context& context, const LadderOptions& options);
/// Five cells of a recipe with less and more dose; with a sheet and its reading, whether this lot does what another
/// did.
[[nodiscard]] Expected<nlohmann::json> proof_lot_check(const Context& context, const LotOptions& options);
/// A recipe at many powers; with a sheet and its reading, from which on the stock changes, and is spoiled.
[[nodiscard]] Expected<nlohmann::json> proof_threshold(const Context& context, const ThresholdOptions& options);
/// One film at several focus offsets; with a sheet and its reading, which of them serves best.
[[nodiscard]] Expected<nlohmann::json> proof_offsets(const Context& context, const OffsetOptions& options);
/// A recipe all over the field; with a sheet and its reading, what the corners get against the middle.
[[nodiscard]] Expected<nlohmann::json> proof_field(const Context& context, const FieldOptions& options);
/// A recipe at more and more passes; with a sheet and its depths, how it falls off and what a depth takes.
[[nodiscard]] Expected<nlohmann::json> proof_wedge(const Context& context, const WedgeOptions& options);
/// The colours that were read on this bench and lot, what it reaches, and how near wanted colours are.
[[nodiscard]] Expected<nlohmann::json> proof_palette(const Context& context, const SearchOptions& options);
/// What the readings teach about this bench and lot.
[[nodiscard]] Expected<nlohmann::json> proof_learn(const Context& context, const SearchOptions& options);

/// A target by its name. Errors: target.unknown.
[[nodiscard]] Expected<Target> target_by_name(const std::string& name);

/// A picture file, with the libraries that read it kept from writing to standard error.
[[nodiscard]] Expected<Picture> quiet_picture(const std::string& path);

struct CameraOptions {
    std::string svg, photo, values, sheet, name = "camera", when_utc, out;
};
/// Writes the chart to print, and tells its patches.
[[nodiscard]] Expected<nlohmann::json> camera_chart(const CameraOptions& options);
/// A `finch-camera` document from a photographed chart, or from a sheet whose cells were measured.
[[nodiscard]] Expected<nlohmann::json> camera_fit(const Context& context, const CameraOptions& options);

struct LogOptions {
    std::string file, words, kind, out;
    long long id = 0;
    int limit = 50;
    std::string folder;                                ///< of an export or import
    std::string sheet;                                 ///< that is to be laid
    std::string bench = "wren", stock = "sundial-316"; ///< of now
};
/// Why an old result may not come again on a bench and stock.
[[nodiscard]] Expected<nlohmann::json> log_repeatable(const Context& context, const LogOptions& options);
/// `finch-controls`: every control of the logbook with its course over the days.
[[nodiscard]] Expected<nlohmann::json> log_control(const LogOptions& options);
/// `finch-scrap-bin`: the pieces of the scrap bin with what is bare on them; with a sheet, where that is best laid.
[[nodiscard]] Expected<nlohmann::json> log_scrap(const Context& context, const LogOptions& options);
[[nodiscard]] Expected<nlohmann::json> log_list(const LogOptions& options);
[[nodiscard]] Expected<nlohmann::json> log_show(const LogOptions& options);
[[nodiscard]] Expected<nlohmann::json> log_export(const LogOptions& options);
/// Writes the entries with their pictures into `options.folder`.
[[nodiscard]] Expected<nlohmann::json> log_export_folder(const LogOptions& options);
/// Adds the entries of `options.folder`, an exported folder or document.
[[nodiscard]] Expected<nlohmann::json> log_import(const LogOptions& options);
/// Writes the read cells as CSV to `options.out`.
[[nodiscard]] Expected<nlohmann::json> log_export_cells(const LogOptions& options);

/// A bench with stock on it, by name or file.
[[nodiscard]] Expected<OwnScene> load_scene(const Context& context, const std::string& bench, const std::string& stock);
/// Text of a file, or of the input for "-".
[[nodiscard]] Expected<std::string> read_input(const Context& context, const std::string& file);
/// {"error": {...}} of an error.
[[nodiscard]] nlohmann::json error_json(const Error& error);

} // namespace finch::cli
