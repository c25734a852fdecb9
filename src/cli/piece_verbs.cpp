// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/verbs.h"

namespace finch::cli {
namespace {

void add_size(CLI::App& app, SizeOptions& o) {
    app.add_option("--times", o.factor, "As large as it is drawn, times this")
        ->check(CLI::Range(least_size_factor, most_size_factor));
    app.add_option("--drawn-width-mm", o.width_mm, "All that is drawn becomes so wide")
        ->check(CLI::Range(0.01, farthest_mm));
    app.add_option("--drawn-height-mm", o.height_mm, "All that is drawn becomes so high")
        ->check(CLI::Range(0.01, farthest_mm));
    app.add_option("--stock-mm", o.stock_mm, "WIDTH HEIGHT of a piece that it fits, in its middle")
        ->expected(2)
        ->check(CLI::Range(0.01, farthest_mm));
    app.add_option("--margin-mm", o.margin_mm, "Kept free along that piece's edge")
        ->capture_default_str()
        ->check(CLI::Range(0.0, farthest_mm));
}

void add_artwork(CLI::App& app, Options& o) {
    app.add_option("file", o.piece.file, "Drawing: SVG, DXF, PNG or JPEG")->required();
    app.add_option("--close-mm", o.piece.close_mm, "Gaps up to this are closed")
        ->capture_default_str()
        ->check(CLI::Range(0.0, 10.0));
    app.add_option("--as-drawn", o.piece.as_drawn, "X Y of a fault that is not mended")->expected(2, 200);
    app.add_option("--spot-mm", o.piece.spot_mm, "What is narrower is told")
        ->capture_default_str()
        ->check(CLI::Range(0.001, 10.0));
    app.add_option("--unit-mm", o.piece.unit_mm, "Length of a unit of a DXF, against what it says")
        ->check(CLI::Range(1e-6, 1e6));
    app.add_option("--width-mm", o.piece.width_mm, "Width of a picture")->check(CLI::Range(0.01, 10000.0));
    app.add_option("--dark-below", o.piece.dark_below, "What is darker in a picture is marked")
        ->capture_default_str()
        ->check(CLI::Range(0.0, 1.0));
    add_size(app, o.piece.size);
}

void add_texts(CLI::App& app, TextOptions& o) {
    app.add_option("--texts", o.texts, "What is typed on it: finch-texts file, or -");
    app.add_option("--table", o.rows, "CSV with a row for each piece, for {column} in a text");
    app.add_option("--pieces", o.pieces, "Which pieces lie on the tray, nest by nest: 25-48,51");
}

} // namespace

std::vector<Verb> piece_verbs() {
    return {
        {"piece", "describe", "Layers of a drawing with their areas, and what is wrong with it", add_artwork,
         [](const Context&, const Options& o) { return piece_describe(o.piece); }},
        {"piece", "detail", "A drawing that shows how fine a recipe marks, for a spot",
         [](CLI::App& app, Options& o) {
             app.add_option("--spot-mm", o.piece.spot_mm, "Of the lens")
                 ->capture_default_str()
                 ->check(CLI::Range(0.001, 1.0));
             app.add_option("--out", o.job.out, "SVG to write")->required();
         },
         [](const Context&, const Options& o) { return piece_detail(o.piece.spot_mm, o.job.out); }},
        {"piece", "hatch", "The lines of one pass over a drawing",
         [](CLI::App& app, Options& o) {
             add_artwork(app, o);
             app.add_option("--pitch-mm", o.piece.pitch_mm, "Between lines")->capture_default_str();
             app.add_option("--angle-deg", o.piece.angle_deg, "Of the lines")->capture_default_str();
             app.add_option("--inset-mm", o.piece.inset_mm, "Kept free along the edges")->capture_default_str();
             app.add_option("--shift", o.piece.shift, "Share of the pitch by which the lines are moved")
                 ->capture_default_str();
             app.add_option("--layer", o.piece.layer, "Only this layer, by name or colour");
             app.add_flag("--one-way", o.piece.one_way, "Every line in one direction");
             app.add_flag("--by-shape", o.piece.by_shape, "One connected shape after the other, the nearest first");
         },
         [](const Context&, const Options& o) { return piece_hatch(o.piece); }},
        {"piece", "relief", "Layers of a height map, each with area, runs, time and depth",
         [](CLI::App& app, Options& o) {
             app.add_option("file", o.relief.file, "PNG of 8 or 16 bit, or JPEG; white stays uncut")->required();
             add_scene(app, o.relief);
             app.add_option("--recipe", o.relief.recipe, "Recipe of a pass, or -")->capture_default_str();
             ReliefRules& r = o.relief.rules;
             app.add_option("--width-mm", r.width_mm, "Width of the picture")
                 ->capture_default_str()
                 ->check(CLI::Range(0.1, 1000.0));
             app.add_option("--layers", r.levels.layers, "Layers")->capture_default_str()->check(CLI::Range(1, 4096));
             app.add_option("--depth-um", r.depth_um, "Wanted depth: passes a layer follow; else one")
                 ->check(CLI::Range(0.1, 100000.0));
             app.add_option("--black", r.levels.black, "Grey that is cut deepest, 0 to 1")->capture_default_str();
             app.add_option("--white", r.levels.white, "Grey that stays uncut, 0 to 1")->capture_default_str();
             app.add_option("--gamma", r.levels.gamma, "Of the greys between")->capture_default_str();
             app.add_option("--sharpen", r.levels.sharpen, "Unsharp amount, against the spot's blur")
                 ->check(CLI::Range(0.0, 5.0));
             app.add_option("--sharpen-px", r.levels.sharpen_px, "Its radius in pixels")->check(CLI::Range(0.1, 50.0));
             app.add_flag("--invert", r.levels.invert, "White is cut deepest");
             app.add_flag("--crop-to-rim", r.crop_to_rim, "Nothing is cut outside the ellipse of what is drawn");
             app.add_option("--clean-every", r.clean_every, "Layers from one cleaning pass to the next; 0 = none")
                 ->check(CLI::Range(0, 4096));
             app.add_option("--follow-most-mm", r.follow_most_mm, "How far the focus follows the floor")
                 ->check(CLI::Range(0.0, 100.0));
             app.add_flag("--stay", o.relief.stay, "The focus stays where it is");
             app.add_flag("--schools", o.relief.schools, "Three ways to cut it, side by side");
             app.add_flag("--job", o.relief.job, "Print the job instead");
         },
         [](const Context& c, const Options& o) { return piece_relief(c, o.relief); }},
        {"piece", "job", "A drawing with a recipe for each layer, as one document",
         [](CLI::App& app, Options& o) {
             app.add_option("file", o.job.file, "Drawing: SVG, DXF, PNG or JPEG");
             app.add_option("--blank-mm", o.job.blank, "WIDTH HEIGHT of an empty page instead")
                 ->expected(2)
                 ->check(CLI::Range(1.0, 1000.0));
             add_texts(app, o.job.typed);
             add_size(app, o.job.size);
             add_scene(app, o.job);
             app.add_option("--recipe", o.job.recipes, "LAYER=FILE, by the layer's name or colour");
             app.add_option("--guide", o.job.guides, "A layer that is shown and never marked");
             app.add_option("--by-shape", o.job.by_shape, "A layer that is filled one connected shape after the other");
             app.add_option("--one-way", o.job.one_way, "A layer whose lines run one way");
             app.add_option("--inset-mm", o.job.insets, "LAYER=MM that is kept free along its edges");
             app.add_option("--contours", o.job.contours, "LAYER=TIMES that its outlines are marked after each pass");
             app.add_option("--name", o.job.name, "Of the job; that of the file without it");
         },
         [](const Context& c, const Options& o) { return piece_job(c, o.job); }},
        {"piece", "plan", "What a job takes and does, layer by layer",
         [](CLI::App& app, Options& o) { app.add_option("job", o.job.file, "Job file, or -")->required(); },
         [](const Context& c, const Options& o) { return piece_plan(c, o.job); }},
        {"piece", "gates", "What must be so before a job is run, from its own risks",
         [](CLI::App& app, Options& o) { app.add_option("job", o.job.file, "Job file, or -")->required(); },
         [](const Context& c, const Options& o) { return piece_gates(c, o.job); }},
        {"piece", "passes", "The passes of a run; one of them as G-code, whole or what is left of it after a fault",
         [](CLI::App& app, Options& o) {
             app.add_option("job", o.job.file, "Job file, or -")->required();
             app.add_option("--pass", o.job.pass, "This one, counted from 1 through the whole run")
                 ->check(CLI::Range(1, 10'000'000));
             app.add_option("--after", o.job.after, "Lines of its program up to this one are marked already")
                 ->check(CLI::Range(0, 2'000'000'000));
         },
         [](const Context& c, const Options& o) { return piece_passes(c, o.job); }},
        {"piece", "heat", "How warm each part of a job begins, and the order, pauses or clamps that keep it cooler",
         [](CLI::App& app, Options& o) {
             app.add_option("job", o.heat.file, "Job file, or -")->required();
             app.add_flag("--take", o.heat.take, "Print the job in the order that helps");
         },
         [](const Context& c, const Options& o) { return piece_heat(c, o.heat); }},
        {"piece", "tray", "A job of one part in every nest of a tray, and the jig that holds them",
         [](CLI::App& app, Options& o) {
             app.add_option("job", o.tray.file, "Job file, or -")->required();
             app.add_option("--columns", o.tray.columns, "Nests side by side")->capture_default_str();
             app.add_option("--rows", o.tray.rows, "Nests behind each other")->capture_default_str();
             app.add_option("--pitch-x-mm", o.tray.pitch_x_mm, "From nest to nest")->capture_default_str();
             app.add_option("--pitch-y-mm", o.tray.pitch_y_mm, "From row to row")->capture_default_str();
             app.add_option("--margin-mm", o.tray.margin_mm, "Around all parts")->capture_default_str();
             app.add_option("--outline", o.tray.outline,
                            "Layer that is the outline of the part; else the largest drawn");
             app.add_flag("--in-turn", o.tray.in_turn, "Every part gets a pass before any gets the next");
             app.add_option("--filled", o.tray.filled, "Nests that hold a part; 0 = all")->check(CLI::Range(0, 1000));
             add_texts(app, o.tray.typed);
             app.add_option("--offset", o.tray.offsets, "NEST=X,Y: how far the part lies off there, in mm");
             app.add_option("--jig", o.tray.jig, "Write the jig, SVG or DXF");
             app.add_option("--clearance-mm", o.tray.clearance_mm, "Of the pockets, all round")
                 ->capture_default_str()
                 ->check(CLI::Range(0.0, 5.0));
         },
         [](const Context& c, const Options& o) { return piece_tray(c, o.tray); }},
        {"piece", "place", "A job turned, mirrored, shifted, in tiles, or in strips round a turned part",
         [](CLI::App& app, Options& o) {
             PlaceRules& r = o.place.rules;
             app.add_option("job", o.place.file, "Job file of one part, or -")->required();
             app.add_option("--turn-deg", r.turn_deg, "To the left")->check(CLI::Range(-360.0, 360.0));
             app.add_flag("--mirrored", r.mirrored, "For a stamp");
             app.add_option("--shift-mm", o.place.shift, "X Y off the middle of the field")->expected(2);
             auto* tiles = app.add_flag("--tiles", o.place.tiles, "In tiles that fit the field");
             app.add_option("--margin-mm", r.tiles.margin_mm, "Kept free in the field")->check(CLI::Range(0.0, 1000.0));
             app.add_option("--cross-mm", r.tiles.cross_mm, "Crosses to line up by; 0 = none")
                 ->check(CLI::Range(0.0, 100.0));
             app.add_flag("--round", o.place.round, "Round a turned part on the bench's rotary")->excludes(tiles);
             app.add_option("--small-mm", r.round.small_mm, "Diameter at the small end")
                 ->check(CLI::Range(0.1, 2000.0));
             app.add_option("--large-mm", r.round.large_mm, "and at the large end")->check(CLI::Range(0.1, 2000.0));
             app.add_option("--length-mm", r.round.length_mm, "Between the ends")->check(CLI::Range(0.1, 5000.0));
             app.add_option("--middle-mm", r.round.middle_mm, "Middle of the mark, from the small end")
                 ->check(CLI::Range(0.0, 5000.0));
             app.add_flag("--full-turn", r.round.full_turn, "Stretched until it closes once round");
             app.add_option("--strips", r.round.strips, "0 = found")->check(CLI::Range(0, 20000));
             app.add_flag("--job", o.place.job, "Print the job alone");
         },
         [](const Context& c, const Options& o) { return piece_place(c, o.place); }},
        {"piece", "batch", "How many parts and trays, and how long with one tray or two",
         [](CLI::App& app, Options& o) {
             app.add_option("job", o.tray.file, "Job file with places, or -")->required();
             app.add_option("--wanted", o.tray.wanted, "Good parts")->required()->check(CLI::Range(1, 100000));
             app.add_option("--spoiled", o.tray.spoiled, "Share of parts that is spoiled")
                 ->capture_default_str()
                 ->check(CLI::Range(0.0, 0.9));
         },
         [](const Context& c, const Options& o) { return piece_batch(c, o.tray); }},
        {"piece", "steps", "Degrease, spray, dry, mark and wash, with minutes and cost",
         [](CLI::App& app, Options& o) {
             app.add_option("job", o.money.file, "Job file with a sprayed film, or -")->required();
             app.add_option("--pieces", o.money.together, "Sprayed and washed together")
                 ->capture_default_str()
                 ->check(CLI::Range(1, 1000));
         },
         [](const Context& c, const Options& o) { return piece_steps(c, o.money); }},
        {"piece", "price", "What pieces cost and are sold for, and from how many on another job is cheaper",
         [](CLI::App& app, Options& o) {
             PriceRules& p = o.money.price;
             app.add_option("job", o.money.file, "Job file, or -")->required();
             app.add_option("--against", o.money.against, "Job file of another way to make them");
             app.add_option("--wanted", o.money.wanted, "Good pieces")
                 ->capture_default_str()
                 ->check(CLI::Range(1, 100000));
             app.add_option("--spoiled", o.money.spoiled, "Share of pieces that is spoiled")
                 ->capture_default_str()
                 ->check(CLI::Range(0.0, 0.9));
             app.add_option("--pieces", o.money.together, "Sprayed and washed together")->check(CLI::Range(1, 1000));
             app.add_option("--blank", p.blank, "Price of a blank")->check(CLI::Range(0.0, 1e7));
             app.add_option("--fixed", p.fixed, "Once, besides")->check(CLI::Range(0.0, 1e7));
             app.add_option("--hands-rate", p.operator_rate_h, "An hour of hands; 0 = as the bench's")
                 ->check(CLI::Range(0.0, 1e5));
             app.add_option("--attend", p.attend, "Share of the marking that is watched")->check(CLI::Range(0.0, 1.0));
             app.add_option("--setup-min", p.setup_min, "To set up")->check(CLI::Range(0.0, 1e5));
             app.add_option("--proof-min", p.proof_min, "To prove")->check(CLI::Range(0.0, 1e5));
             app.add_option("--proof-blanks", p.proof_blanks, "Spoiled by proofs")->check(CLI::Range(0, 10000));
             app.add_option("--margin", p.margin, "Share of the price")->check(CLI::Range(0.0, 0.95));
             app.add_option("--step", p.step, "Prices are multiples of it; 0 = any")->check(CLI::Range(0.0, 1000.0));
             app.add_option("--quantities", p.tiers, "Of the price list")
                 ->expected(1, 12)
                 ->check(CLI::Range(1, 100000));
         },
         [](const Context& c, const Options& o) { return piece_price(c, o.money); }},
        {"piece", "scanner", "What scans that were timed say of a bench's scanner, and the scans to be timed",
         [](CLI::App& app, Options& o) {
             app.add_option("--bench", o.scanner.bench, "Bench file or name")->capture_default_str();
             app.add_option("--took", o.scanner.took, "SCAN=TIME, as by a stopwatch: \"short lines=31.8\"");
             app.add_option("--scan", o.scanner.scan, "Scan to write as G-code that fires nothing");
             app.add_option("--out", o.scanner.out, "File to write it to");
         },
         [](const Context& c, const Options& o) { return piece_scanner(c, o.scanner); }},
        {"piece", "export", "A job as lines or outlines for other programs",
         [](CLI::App& app, Options& o) {
             app.add_option("job", o.job.file, "Job file, or -")->required();
             app.add_option("--to", o.job.to, "svg, dxf, gcode, frame, csv or json")->required();
             app.add_option("--out", o.job.out, "File to write")->required();
         },
         [](const Context& c, const Options& o) { return piece_export(c, o.job); }},
    };
}

} // namespace finch::cli
