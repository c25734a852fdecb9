// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/verbs.h"
#include "document/json_fields.h"
#include "formats/data_folder.h"
#include "formats/plain_numbers.h"
#include "proof/sheet.h"

#include <fmt/format.h>
#include <iostream>
#include <QGuiApplication>

namespace {

using namespace finch;
using json = nlohmann::json;
using cli::add_scene;
using cli::Options;
using cli::Verb;

constexpr int failed = 1;
constexpr int bad_use = 2;

/// Of a sheet that answers one question.
void add_question(CLI::App& app, cli::QuestionOptions& o) {
    app.add_option("--recipe", o.recipe, "Recipe file, or -")->capture_default_str();
    app.add_option("--number", o.number, "Number of the sheet")
        ->capture_default_str()
        ->check(CLI::Range(0, highest_sheet_number));
    app.add_option("--seed", o.seed, "Of what chance decides on the sheet")->capture_default_str();
    app.add_option("--aim", o.aim, "The question");
    app.add_option("--svg", o.svg, "Also write the sheet as SVG with layers");
    app.add_option("--sheet", o.sheet, "Such a sheet that was burned; with its --reading");
    app.add_option("--reading", o.reading, "Its reading");
}

void add_target(CLI::App& app, Options& o) {
    app.add_option("--recipe", o.search.recipe, "Recipe to begin from, or -")->capture_default_str();
    app.add_option("--target", o.search.target, "A named colour, or dark")->capture_default_str();
    app.add_option("--lab", o.search.lab, "L* a* b* instead of a name")->expected(3);
    app.add_option("--depth", o.search.depth, "A depth instead of a colour: \"120 um +- 10\"");
    app.add_flag("--darker-is-better", o.search.dark, "With --lab: what is darker is as good");
    app.add_option("--within", o.search.within, "Accepted CIEDE2000, or L* above a darkness")
        ->capture_default_str()
        ->check(CLI::Range(0.5, 20.0));
    app.add_option("--cells", o.search.cells, "At most so many cells")->capture_default_str()->check(CLI::Range(1, 60));
    app.add_option("--minutes", o.search.minutes, "At most so long")
        ->capture_default_str()
        ->check(CLI::Range(0.01, 1000.0));
    app.add_option("--risk", o.search.risk, "Highest chance of damage of a cell, 0 to 1")
        ->capture_default_str()
        ->check(CLI::Range(0.0, 1.0));
    app.add_option("--number", o.search.number, "Number of the sheet")
        ->capture_default_str()
        ->check(CLI::Range(0, highest_sheet_number));
}

/// A list of what was measured of the cells of a sheet.
void add_measured(CLI::App& app, Options& o, const char* name, std::string& list, const char* says) {
    app.add_option("--sheet", o.depth.sheet, "Sheet file, or -")->capture_default_str();
    app.add_option(name, list, says)->required();
    app.add_option("--reading", o.depth.reading, "Reading of its photograph, if it was photographed");
}

void add_search(CLI::App& app, Options& o) {
    add_scene(app, o.search);
    app.add_option("--sheet", o.search.sheets, "A sheet that was burned before; with its --reading, oldest first");
    app.add_option("--reading", o.search.readings, "Its reading");
}

void add_log_file(CLI::App& app, Options& o) {
    app.add_option("--file", o.log.file, "The logbook (logbook.sqlite)")->required();
}

void add_log_filter(CLI::App& app, Options& o) {
    add_log_file(app, o);
    app.add_option("--words", o.log.words, "Only entries with these words");
    app.add_option("--kind", o.log.kind, "sheet, reading, recipe or bench");
    app.add_option("--limit", o.log.limit, "At most so many")->capture_default_str()->check(CLI::PositiveNumber);
}

const std::vector<Verb>& verbs() {
    static const std::vector<Verb> table{
        {"", "predict", "What a recipe will do, as JSON",
         [](CLI::App& app, Options& o) {
             add_scene(app, o.predict);
             app.add_option("--recipe", o.predict.recipe, "Recipe file, or - for standard input")
                 ->capture_default_str();
             app.add_option("--fill", o.predict.fill, "Fill file; one square centimetre without it");
             app.add_option("--evidence", o.predict.evidence, "What is known of this lot: a document as in rests_on");
             app.add_flag("--robustness", o.predict.robustness,
                          "Add how the outcome answers to the bench's own errors");
         },
         [](const cli::Context& c, const Options& o) { return cli::predict(c, o.predict); }},
        {"", "plan", "Recipes for every process that this bench can do to this stock",
         [](CLI::App& app, Options& o) {
             add_scene(app, o.aim);
             app.add_option("--aim", o.aim.aim, "Aim file, or - for standard input; nothing is wished without it");
             app.add_option("--process", o.aim.process, "Only this process, by key");
         },
         [](const cli::Context& c, const Options& o) { return cli::plan(c, o.aim); }},
        {"", "carry", "Move a recipe to another bench, judged by what it does on both",
         [](CLI::App& app, Options& o) {
             add_scene(app, o.carry);
             app.add_option("--recipe", o.carry.recipe, "Recipe file, or -")->capture_default_str();
             app.add_option("--to", o.carry.to, "Bench file or name")->capture_default_str();
         },
         [](const cli::Context& c, const Options& o) { return cli::carry(c, o.carry); }},
        {"", "borrow", "Someone else's settings as a start on this bench",
         [](CLI::App& app, Options& o) {
             add_scene(app, o.borrow);
             app.add_option("--text", o.borrow.text, "File with the settings as text, or -")->capture_default_str();
             app.add_option("--process", o.borrow.process, "What they are for, by key")->capture_default_str();
         },
         [](const cli::Context& c, const Options& o) { return cli::borrow(c, o.borrow); }},
        {"", "stage", "What a run of many passes looks like on the way",
         [](CLI::App& app, Options& o) {
             add_scene(app, o.predict);
             app.add_option("--recipe", o.predict.recipe, "Recipe file, or -")->capture_default_str();
         },
         [](const cli::Context& c, const Options& o) { return cli::stage(c, o.predict); }},
        {"", "setup", "Spot, focus tolerance and field of each lens",
         [](CLI::App& app, Options& o) {
             add_scene(app, o.setup);
             app.add_option("--offset-mm", o.setup.offset_mm, "Focus offset to give the spot at");
             app.add_option("--spot-um", o.setup.wanted_spot_um, "Spot to raise the lens for");
             app.add_option("--part-mm", o.setup.part_mm, "Length and width of a part to fit")->expected(2);
         },
         [](const cli::Context& c, const Options& o) { return cli::setup(c, o.setup); }},
        {"aim", "judge", "How a recipe answers an aim, wish by wish",
         [](CLI::App& app, Options& o) {
             add_scene(app, o.aim);
             app.add_option("--aim", o.aim.aim, "Aim file")->required();
             app.add_option("--recipe", o.aim.recipe, "Recipe file, or -")->capture_default_str();
         },
         [](const cli::Context& c, const Options& o) { return cli::aim_judge(c, o.aim); }},
        {"proof", "plan", "Plan a sheet and predict its cells",
         [](CLI::App& app, Options& o) {
             add_scene(app, o.plan);
             app.add_option("--recipe", o.plan.recipe, "Recipe with the fixed knobs, or -")->capture_default_str();
             app.add_option("--across", o.plan.across, "knob:from:to:count[:linear]")->capture_default_str();
             app.add_option("--down", o.plan.down, "knob:from:to:count[:linear]")->capture_default_str();
             app.add_option("--number", o.plan.number, "Number of the sheet")
                 ->capture_default_str()
                 ->check(CLI::Range(0, highest_sheet_number));
             app.add_option("--aim", o.plan.aim, "What the sheet is for");
             app.add_option("--cell-width-mm", o.plan.cell_width_mm, "Width of a cell")->capture_default_str();
             app.add_option("--cell-height-mm", o.plan.cell_height_mm, "Height of a cell")->capture_default_str();
             app.add_option("--gap-mm", o.plan.gap_mm, "Gap between cells")->capture_default_str();
             app.add_flag("--leave-out", o.plan.leave_out, "Leave out cells that would burn or show nothing");
             app.add_option("--svg", o.plan.svg, "Also write the sheet as SVG with layers");
             app.add_option("--csv", o.plan.csv, "Also write the cells as CSV");
             app.add_option("--pdf", o.plan.pdf, "Also write a page to print");
         },
         [](const cli::Context& c, const Options& o) { return cli::proof_plan(c, o.plan); }},
        {"proof", "burn", "Burn a sheet on the stand-in and photograph it",
         [](CLI::App& app, Options& o) {
             app.add_option("--sheet", o.burn.sheet, "Sheet file, or -")->capture_default_str();
             add_scene(app, o.burn);
             app.add_option("--photo", o.burn.photo, "Where the photograph goes (PNG)")->required();
             app.add_option("--tilt", o.burn.tilts,
                            "Also photograph it tilted by so many degrees, beside the photograph: NAME-tilt-30.png")
                 ->check(CLI::Range(5.0, 70.0));
             app.add_option("--depths", o.burn.depths,
                            "Also measure the cells with the stand-in's gauge, into this list");
             app.add_option("--rest-below-k", o.burn.rest_below_k,
                            "Rest before a cell until under so much is left of the earlier ones' heat")
                 ->check(CLI::Range(0.5, most_rest_below_k));
             app.add_option("--burned", o.burn.burned,
                            "Also write the sheet with the turns and rests it was burned in");
             app.add_option("--seed", o.burn.seed, "Seed of the stand-in's hidden truth")->capture_default_str();
             app.add_option("--speed-up", o.burn.speed_up, "Seconds of burning in one second")
                 ->capture_default_str()
                 ->check(CLI::PositiveNumber);
         },
         [](const cli::Context& c, const Options& o) { return cli::proof_burn(c, o.burn); }},
        {"proof", "read", "Read a photograph of a sheet",
         [](CLI::App& app, Options& o) {
             app.add_option("--sheet", o.read.sheet, "Sheet file, or -")->capture_default_str();
             app.add_option("--photo", o.read.photos, "PNG or JPEG; several of the turned sheet are read as one")
                 ->required();
             add_scene(app, o.read);
             app.add_option("--camera", o.read.camera, "Camera whose colours are set right: file of camera fit");
             app.add_option("--card", o.read.card, "L* a* b* of the white card")->expected(3)->capture_default_str();
             app.add_option("--corners", o.read.corners,
                            "Outer corners of the four fiducials by hand: x y in pixels, from the upper left one round")
                 ->expected(8);
             auto* reading = app.add_option("--reading", o.read.reading, "Reading from above, for --tilt");
             app.add_option("--tilt", o.read.tilt_deg, "The photographs show the sheet tilted by so many degrees")
                 ->needs(reading)
                 ->check(CLI::Range(5.0, 70.0));
             app.add_option("--target", o.read.target, "Rank the cells against a named colour");
             app.add_option("--rectified", o.read.rectified, "Also write the sheet squared up (PNG)");
         },
         [](const cli::Context& c, const Options& o) { return cli::proof_read(c, o.read); }},
        {"proof", "depths", "Put measured depths into the reading of a sheet, or make one of them",
         [](CLI::App& app, Options& o) {
             add_measured(app, o, "--depths", o.depth.depths, "List of depths, one a line: B1; 120 +- 5");
         },
         [](const cli::Context& c, const Options& o) { return cli::proof_depths(c, o.depth); }},
        {"proof", "colours", "Put colours that an instrument measured into the reading of a sheet, or make one of them",
         [](CLI::App& app, Options& o) {
             add_measured(app, o, "--colours", o.depth.colours, "List of L* a* b*, one a line: B1; 36.2; 1.9; -28.4");
         },
         [](const cli::Context& c, const Options& o) { return cli::proof_colours(c, o.depth); }},
        {"proof", "gloss", "Put what a gloss meter read into the reading of a sheet, or make one of it",
         [](CLI::App& app, Options& o) {
             add_measured(app, o, "--gloss", o.depth.gloss, "List of gloss units, one cell a line: B1; 212");
         },
         [](const cli::Context& c, const Options& o) { return cli::proof_gloss(c, o.depth); }},
        {"proof", "scratches", "Put scratch tests into the reading of a sheet, or make one of them",
         [](CLI::App& app, Options& o) {
             add_measured(app, o, "--scratches", o.depth.scratches, "List of tools survived, one cell a line: B1; 4");
         },
         [](const cli::Context& c, const Options& o) { return cli::proof_scratches(c, o.depth); }},
        {"proof", "suggest", "The first or next cells for a target, with what they promise",
         [](CLI::App& app, Options& o) {
             add_search(app, o);
             add_target(app, o);
             app.add_option("--aim", o.search.aim, "What the sheet is for");
             app.add_flag("--frame", o.search.frame,
                          "One frame filled in rounds: room for more at first, then the bare places of the last sheet");
             app.add_option("--svg", o.search.svg, "Also write the sheet as SVG with layers");
         },
         [](const cli::Context& c, const Options& o) { return cli::proof_suggest(c, o.search); }},
        {"proof", "openings", "Ways to begin for a target, with cells, time, plate and promise of each",
         [](CLI::App& app, Options& o) {
             add_search(app, o);
             add_target(app, o);
         },
         [](const cli::Context& c, const Options& o) { return cli::proof_openings(c, o.search); }},
        {"proof", "compare", "Two recipes in pairs; with --sheet and --reading, whether the difference matters",
         [](CLI::App& app, Options& o) {
             add_scene(app, o.compare);
             add_question(app, o.compare);
             app.add_option("--with", o.compare.with, "The second recipe");
             app.add_option("--pairs", o.compare.pairs, "Pairs")->capture_default_str()->check(CLI::Range(3, 24));
             app.add_option("--measure", o.compare.measure, "What is compared")
                 ->capture_default_str()
                 ->check(CLI::IsMember({"lightness", "chroma", "a", "b"}));
             app.add_option("--matters", o.compare.matters, "Least difference that matters")
                 ->capture_default_str()
                 ->check(CLI::Range(0.0, 200.0));
         },
         [](const cli::Context& c, const Options& o) { return cli::proof_compare(c, o.compare); }},
        {"proof", "focus-ladder", "Marks at many focus offsets; with --sheet and --reading, where the best focus is",
         [](CLI::App& app, Options& o) {
             add_scene(app, o.ladder);
             add_question(app, o.ladder);
             app.add_option("--reach-mm", o.ladder.reach_mm, "To each side; 0 = as far as the lens asks for")
                 ->capture_default_str()
                 ->check(CLI::Range(0.0, 50.0));
             app.add_option("--about-mm", o.ladder.about_mm, "Where the best focus is thought to be")
                 ->capture_default_str()
                 ->check(CLI::Range(-50.0, 50.0));
             app.add_option("--steps", o.ladder.steps, "Offsets")->capture_default_str()->check(CLI::Range(7, 25));
             app.add_flag("--over-field", o.ladder.over_field, "All over the field, so that tilt shows too");
             app.add_option("--accept-de", o.ladder.accept_de, "CIEDE2000 up to which a mark holds")
                 ->capture_default_str()
                 ->check(CLI::Range(0.1, 50.0));
         },
         [](const cli::Context& c, const Options& o) { return cli::proof_focus_ladder(c, o.ladder); }},
        {"proof", "lot-check", "A recipe on another lot; with --sheet and --reading, whether it does the same",
         [](CLI::App& app, Options& o) {
             add_scene(app, o.lot);
             add_question(app, o.lot);
             app.add_option("--expected", o.lot.expected, "L* a* b* of the recipe where it was proven")
                 ->expected(3)
                 ->check(CLI::Range(-200.0, 200.0));
             app.add_option("--accept-de", o.lot.accept_de, "CIEDE2000 up to which it passes for the same")
                 ->capture_default_str()
                 ->check(CLI::Range(0.1, 50.0));
         },
         [](const cli::Context& c, const Options& o) { return cli::proof_lot_check(c, o.lot); }},
        {"proof", "threshold",
         "A recipe at many powers, mixed; with --sheet and --reading, where the stock begins to change",
         [](CLI::App& app, Options& o) {
             add_scene(app, o.threshold);
             add_question(app, o.threshold);
             app.add_option("--from", o.threshold.from_percent, "Weakest power, %")
                 ->capture_default_str()
                 ->check(CLI::Range(0.1, 100.0));
             app.add_option("--to", o.threshold.to_percent, "Strongest power, %")
                 ->capture_default_str()
                 ->check(CLI::Range(0.1, 100.0));
             app.add_option("--powers", o.threshold.powers, "Powers")->capture_default_str();
             app.add_option("--times", o.threshold.times, "Cells of each")->capture_default_str();
         },
         [](const cli::Context& c, const Options& o) { return cli::proof_threshold(c, o.threshold); }},
        {"proof", "offsets",
         "One film at several focus offsets; with --sheet and --reading, which serves best for a target",
         [](CLI::App& app, Options& o) {
             add_scene(app, o.offsets);
             add_question(app, o.offsets);
             app.add_option("--reach-mm", o.offsets.reach_mm, "To each side; 0 = to where the spot has doubled")
                 ->capture_default_str()
                 ->check(CLI::Range(0.0, 50.0));
             app.add_option("--offsets", o.offsets.offsets, "Offsets, an odd number")->capture_default_str();
             app.add_option("--target", o.offsets.target, "A named colour, or dark")->capture_default_str();
             app.add_option("--within", o.offsets.within, "Accepted CIEDE2000")
                 ->capture_default_str()
                 ->check(CLI::Range(0.5, 20.0));
         },
         [](const cli::Context& c, const Options& o) { return cli::proof_offsets(c, o.offsets); }},
        {"proof", "field", "A recipe all over the field; with --sheet and --reading, what the corners get",
         [](CLI::App& app, Options& o) {
             add_scene(app, o.field);
             add_question(app, o.field);
             app.add_option("--within", o.field.within, "Accepted CIEDE2000")->capture_default_str();
         },
         [](const cli::Context& c, const Options& o) { return cli::proof_field(c, o.field); }},
        {"proof", "wedge", "A recipe at more and more passes; with --sheet and --reading, what its depths say",
         [](CLI::App& app, Options& o) {
             add_scene(app, o.wedge);
             add_question(app, o.wedge);
             app.add_option("--passes", o.wedge.passes, "Up to so many")->capture_default_str();
             app.add_option("--steps", o.wedge.steps, "Steps")->capture_default_str();
             app.add_option("--times", o.wedge.times, "Cells of each")->capture_default_str();
             app.add_option("--depth", o.wedge.depth, "With --sheet: a wanted depth, \"120 um\"");
         },
         [](const cli::Context& c, const Options& o) { return cli::proof_wedge(c, o.wedge); }},
        {"proof", "palette", "Colours read on this bench and lot, what it reaches, and how near wanted colours are",
         [](CLI::App& app, Options& o) {
             add_search(app, o);
             app.add_option("--recipe", o.search.recipe, "Recipe round which other settings are looked for, or -")
                 ->capture_default_str();
             app.add_option("--want", o.search.wanted,
                            "A wanted colour: a name, or \"L* a* b*\"; as often as you like");
             app.add_option("--within", o.search.within, "Accepted CIEDE2000")
                 ->capture_default_str()
                 ->check(CLI::Range(0.5, 20.0));
             app.add_option("--risk", o.search.risk, "Highest chance of damage of a setting, 0 to 1")
                 ->capture_default_str()
                 ->check(CLI::Range(0.0, 1.0));
         },
         [](const cli::Context& c, const Options& o) { return cli::proof_palette(c, o.search); }},
        {"proof", "learn", "What read sheets teach about this bench and lot", add_search,
         [](const cli::Context& c, const Options& o) { return cli::proof_learn(c, o.search); }},
        {"camera", "chart", "The colour chart to print, with its patches",
         [](CLI::App& app, Options& o) {
             app.add_option("--svg", o.camera.svg, "Write the chart to this SVG")->required();
         },
         [](const cli::Context&, const Options& o) { return cli::camera_chart(o.camera); }},
        {"camera", "fit", "Set a camera's colours right from places of known colour",
         [](CLI::App& app, Options& o) {
             app.add_option("--photo", o.camera.photo, "Photograph of the chart, or of the sheet")->required();
             app.add_option("--values", o.camera.values, "Lines patch,L*,a*,b* as measured")->required();
             app.add_option("--sheet", o.camera.sheet, "Sheet file: cells were measured instead of the chart");
             app.add_option("--name", o.camera.name, "Name of the camera")->capture_default_str();
             app.add_option("--when", o.camera.when_utc, "Day, as ISO 8601");
             app.add_option("--out", o.camera.out, "Also write it to this file");
         },
         [](const cli::Context& c, const Options& o) { return cli::camera_fit(c, o.camera); }},
        {"log", "list", "Entries, newest first", add_log_filter,
         [](const cli::Context&, const Options& o) { return cli::log_list(o.log); }},
        {"log", "control", "Every control of the day, with its course and what it says", add_log_file,
         [](const cli::Context&, const Options& o) { return cli::log_control(o.log); }},
        {"log", "scrap", "The scrap bin, with what is bare on its pieces",
         [](CLI::App& app, Options& o) {
             add_log_file(app, o);
             app.add_option("--sheet", o.log.sheet, "A sheet: where it is best laid on a piece of its stock");
             app.add_option("--stock", o.log.stock, "Key of the sheet's stock")->capture_default_str();
         },
         [](const cli::Context& c, const Options& o) { return cli::log_scrap(c, o.log); }},
        {"log", "show", "One entry whole",
         [](CLI::App& app, Options& o) {
             add_log_file(app, o);
             app.add_option("--id", o.log.id, "Number of the entry")->required();
         },
         [](const cli::Context&, const Options& o) { return cli::log_show(o.log); }},
        {"log", "repeatable",
         "Why an old result may not come again: what was never recorded, never proven, or differs now",
         [](CLI::App& app, Options& o) {
             add_log_file(app, o);
             app.add_option("--id", o.log.id, "Number of the entry")->required();
             add_scene(app, o.log);
         },
         [](const cli::Context& c, const Options& o) { return cli::log_repeatable(c, o.log); }},
        {"log", "export", "Entries whole: as one document, as a folder with pictures, or their cells as a table",
         [](CLI::App& app, Options& o) {
             add_log_filter(app, o);
             app.add_option("--folder", o.log.folder, "Write a new folder with entries and pictures instead");
             app.add_option("--cells-csv", o.log.out, "Write the read cells to this CSV instead");
         },
         [](const cli::Context&, const Options& o) {
             return !o.log.folder.empty() ? cli::log_export_folder(o.log)
                    : !o.log.out.empty()  ? cli::log_export_cells(o.log)
                                          : cli::log_export(o.log);
         }},
        {"log", "import", "Add the entries of an exported folder or document",
         [](CLI::App& app, Options& o) {
             add_log_file(app, o);
             app.add_option("--from", o.log.folder, "The exported folder, or the document")->required();
         },
         [](const cli::Context&, const Options& o) { return cli::log_import(o.log); }},
    };
    static const std::vector<Verb> all = [] {
        std::vector<Verb> both = table;
        const std::vector<Verb> pieces = cli::piece_verbs();
        both.insert(both.end(), pieces.begin(), pieces.end());
        return both;
    }();
    return all;
}

CLI::App* command_of(CLI::App& app, const Verb& verb) {
    CLI::App* group = std::string_view(verb.group).empty() ? &app : app.get_subcommand(verb.group);
    return group->get_subcommand(verb.name);
}

void describe(CLI::App& app, Options& o) {
    app.require_subcommand(1);
    app.set_version_flag("--version", FINCH_VERSION);
    app.add_subcommand("proof", "Proof sheets: plan, suggest, burn, read, learn")->require_subcommand(1);
    app.add_subcommand("aim", "Aims: judge")->require_subcommand(1);
    app.add_subcommand(
           "piece",
           "Pieces: describe, hatch, relief, job, plan, heat, place, tray, batch, steps, price, scanner, export")
        ->require_subcommand(1);
    app.add_subcommand("camera", "Cameras: chart, fit")->require_subcommand(1);
    app.add_subcommand("log", "The logbook: list, show, export, import")->require_subcommand(1);
    for (const Verb& verb : verbs()) {
        CLI::App* group = std::string_view(verb.group).empty() ? &app : app.get_subcommand(verb.group);
        verb.options(*group->add_subcommand(verb.name, verb.help), o);
    }
}

int report(const Expected<json>& result) {
    if (!result) {
        std::cerr << json_text(cli::error_json(result.error()), 2) << '\n';
        return failed;
    }
    std::cout << json_text(*result, 2) << '\n';
    return std::cout.flush().good() ? 0 : failed;
}

int run(CLI::App& app, const Options& o) {
    const auto folders = data_folders();
    if (!folders)
        return report(tl::unexpected(folders.error()));
    std::vector<Error> troubles;
    auto materials = load_materials(*folders, &troubles);
    if (!materials)
        return report(tl::unexpected(materials.error()));
    for (const Error& e : troubles)
        std::cerr << json_text({{"left_out", cli::error_json(e)["error"]}}, 2) << '\n';
    const cli::Context context{*folders, std::make_shared<const Materials>(std::move(*materials)), std::cin};
    for (const Verb& verb : verbs())
        if (command_of(app, verb)->parsed())
            return report(verb.run(context, o));
    return bad_use;
}

int run_checked(int argc, char** argv) {
    Options o;
    CLI::App app{
        "Gilded Finch on the command line: JSON in and out. Exit code 0 = done, 1 = the work failed, 2 = bad use."};
    describe(app, o);
    const auto refuse = [](const std::string& why, const std::string& fix) {
        std::cerr << json_text(cli::error_json({"use.arguments", why, fix, {}}), 2) << '\n';
        return bad_use;
    };
    for (int i = 1; i < argc; ++i)
        if (!QString::fromUtf8(argv[i]).toUtf8().startsWith(argv[i]))
            return refuse(fmt::format("Argument {} is not UTF-8.", i), "Rename the file, or give a path without it.");
    try {
        app.parse(argc, argv);
    } catch (const CLI::CallForHelp& e) {
        return app.exit(e);
    } catch (const CLI::CallForVersion& e) {
        return app.exit(e);
    } catch (const CLI::ParseError& e) {
        return refuse(e.what(), "Run with --help.");
    }
    // Only a page to print and a drawing with text need fonts, and with them a graphical application; never a display.
    // Without one, nothing but our own JSON can appear on standard error.
    qputenv("QT_QPA_PLATFORM", "offscreen");
    qInstallMessageHandler([](QtMsgType, const QMessageLogContext&, const QString&) {});
    std::unique_ptr<QCoreApplication> qt;
    if (o.plan.pdf.empty() && o.piece.file.empty() && o.job.file.empty() && o.job.blank.empty() &&
        o.tray.typed.texts.empty())
        qt = std::make_unique<QCoreApplication>(argc, argv);
    else
        qt = std::make_unique<QGuiApplication>(argc, argv);
    plain_numbers();
    o.burn.standin = (QCoreApplication::applicationDirPath() + QStringLiteral("/finch-standin")).toStdString();
    std::error_code fault;
    if (!std::filesystem::exists(o.burn.standin, fault))
        o.burn.standin =
            (QCoreApplication::applicationDirPath() + QStringLiteral("/../standin/finch-standin")).toStdString();
    return run(app, o);
}

} // namespace

int main(int argc, char** argv) {
    try {
        return run_checked(argc, argv);
    } catch (const std::exception& e) {
        std::cerr << json_text(cli::error_json({"program.fault",
                                                std::string("A fault of the program: ") + e.what(),
                                                "Please report it with the arguments.",
                                                {}}),
                               2)
                  << '\n';
        return failed;
    }
}
