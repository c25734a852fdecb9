// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "cli/commands.h"
#include "piece/artwork.h"
#include "piece/placing.h"
#include "piece/relief_cut.h"
#include "piece/typed_text.h"
#include "recipe/quote.h"

/// What is asked of drawings, height maps and jobs.
namespace finch::cli {

/// How large a drawing becomes; one of these, or none.
struct SizeOptions {
    double factor = 0, width_mm = 0, height_mm = 0, margin_mm = 3;
    std::vector<double> stock_mm;
};
/// The drawing so. Errors: use.arguments, those of sizing_of().
[[nodiscard]] Expected<Artwork> sized(Artwork art, const SizeOptions& options);

struct PieceOptions {
    std::string file, layer;
    std::vector<double> as_drawn; ///< x and y in turn, of faults that are not mended
    double close_mm = 0.05, spot_mm = 0.05;
    double unit_mm = 0, width_mm = 0; ///< 0 = as the file says
    double dark_below = 0.5;
    SizeOptions size;
    double pitch_mm = 0.05, angle_deg = 0, inset_mm = 0, shift = 0;
    bool one_way = false, by_shape = false;
};
/// Layers of a drawing with their areas, and what is wrong with it.
[[nodiscard]] Expected<nlohmann::json> piece_describe(const PieceOptions& options);
/// Writes a picture of fine detail; prints its widths.
[[nodiscard]] Expected<nlohmann::json> piece_detail(double spot_mm, const std::string& out);
struct ReliefOptions {
    std::string bench = "wren", stock = "sundial-316", recipe = "-", file;
    ReliefRules rules = [] {
        ReliefRules one_pass_a_layer;
        one_pass_a_layer.depth_um = 0;
        return one_pass_a_layer;
    }();
    bool stay = false; ///< the focus does
    bool schools = false, job = false;
};
/// Layers of a height map with area, runs, seconds and depth; or the ways to cut it side by side; or the job. Errors:
/// relief.too_deep, relief.removes_nothing.
[[nodiscard]] Expected<nlohmann::json> piece_relief(const Context& context, const ReliefOptions& options);
/// The lines of one pass over a drawing or one of its layers. Errors: piece.no_layer.
[[nodiscard]] Expected<nlohmann::json> piece_hatch(const PieceOptions& options);

/// What is typed on a drawing, by the names of its files.
struct TextOptions {
    std::string texts, rows, pieces; ///< finch-texts, a table, and which of its rows: "25-48, 51"
};
[[nodiscard]] Expected<TypedTexts> read_texts(const Context& context, const TextOptions& options);

struct JobOptions {
    std::string bench = "wren", stock = "sundial-316", file, name;
    int pass = 0, after = 0;                            ///< of a run: which, from 1; after which line of it
    std::vector<std::string> recipes;                   ///< "layer=file", by name or colour
    std::vector<std::string> guides;                    ///< layers by name or colour
    std::vector<std::string> by_shape;                  ///< layers that are filled shape by shape
    std::vector<std::string> one_way, insets, contours; ///< layers, "layer=mm", "layer=times"
    std::vector<double> blank;                          ///< width and height of a page without a file
    TextOptions typed;
    double close_mm = 0.05, spot_mm = 0.05;
    SizeOptions size;
    std::string to = "json", out;
};
[[nodiscard]] Expected<Job> read_job(const Context& context, const std::string& file);
/// A drawing and its recipes as one document. Errors: piece.no_layer, job.no_recipe.
[[nodiscard]] Expected<nlohmann::json> piece_job(const Context& context, const JobOptions& options);
/// How warm an order of marking finds what it marks, and what another order, pauses or clamps would do; with `take` the
/// job in the order that helps.
struct HeatOptions {
    std::string file;
    bool take = false;
};
[[nodiscard]] Expected<nlohmann::json> piece_heat(const Context& context, const HeatOptions& options);

struct TrayOptions {
    std::string file, jig;
    int columns = 4, rows = 6, wanted = 0;
    double pitch_x_mm = 20, pitch_y_mm = 20, margin_mm = 10, clearance_mm = 0.1, spoiled = 0.03;
    std::vector<std::string> offsets; ///< "nest=x,y"
    int filled = 0;
    bool in_turn = false;
    std::string outline; ///< layer that is the part's own
    TextOptions typed;
};
/// A job of one part laid into the nests of a tray; writes the jig that holds them.
[[nodiscard]] Expected<nlohmann::json> piece_tray(const Context& context, const TrayOptions& options);
/// How many parts and trays a batch takes, and how long with one tray or two. Errors: batch.wanted.
[[nodiscard]] Expected<nlohmann::json> piece_batch(const Context& context, const TrayOptions& options);

struct PlaceOptions {
    std::string file;
    PlaceRules rules;
    std::vector<double> shift;
    bool tiles = false, round = false, job = false;
};
/// A job turned, mirrored, shifted, in tiles, or in strips round a turned part, and what is to be known of that.
/// Errors: those of placed().
[[nodiscard]] Expected<nlohmann::json> piece_place(const Context& context, const PlaceOptions& options);

struct MoneyOptions {
    std::string file, against;
    PriceRules price;
    int wanted = 10, together = 4;
    double spoiled = 0.03;
};
/// The procedure of a job with a sprayed film, with its minutes and what a piece costs. Errors: compound.no_film, those
/// of piece_cost().
[[nodiscard]] Expected<nlohmann::json> piece_steps(const Context& context, const MoneyOptions& options);
/// What pieces cost and are sold for, by quantity, and from how many on another job makes them cheaper.
[[nodiscard]] Expected<nlohmann::json> piece_price(const Context& context, const MoneyOptions& options);

struct ScannerOptions {
    std::string bench = "wren";
    std::vector<std::string> took; ///< "scan=time"
    std::string scan, out;
};
/// What runs that were timed say of a bench's scanner; writes one of the scans to be timed. Errors: scanner.no_scan,
/// time.unreadable.
[[nodiscard]] Expected<nlohmann::json> piece_scanner(const Context& context, const ScannerOptions& options);
/// What a job takes and does, layer by layer.
[[nodiscard]] Expected<nlohmann::json> piece_plan(const Context& context, const JobOptions& options);
/// What must be so before a job is run.
[[nodiscard]] Expected<nlohmann::json> piece_gates(const Context& context, const JobOptions& options);
/// The passes of a run, or one of them as a program, also after a line of it.
[[nodiscard]] Expected<nlohmann::json> piece_passes(const Context& context, const JobOptions& options);
/// Writes a job as svg, dxf, gcode, frame, csv or json.
[[nodiscard]] Expected<nlohmann::json> piece_export(const Context& context, const JobOptions& options);

} // namespace finch::cli
