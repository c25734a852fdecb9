// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/commands.h"
#include "cli/reference.h"
#include "document/json_fields.h"
#include "formats/data_folder.h"

#include <CLI/CLI.hpp>
#include <iostream>
#include <nlohmann/json.hpp>
#include <QGuiApplication>

namespace {

using namespace finch;
using json = nlohmann::json;

constexpr int failed = 1;
constexpr int bad_use = 2;

int report(const Expected<json>& result) {
    if (!result) {
        std::cerr << cli::error_json(result.error()).dump(2) << '\n';
        return failed;
    }
    std::cout << result->dump(2) << '\n';
    return std::cout.good() ? 0 : failed;
}

Expected<json> reference(const cli::Context& context, const std::string& model) {
    const auto text = cli::read_input(context, "-");
    const auto document = text ? parse_json(*text, "standard input") : Expected<json>(tl::unexpected(text.error()));
    return document ? reference_document(model, *document, context.materials) : document;
}

struct Options {
    cli::PredictOptions predict;
    cli::PlanOptions plan;
    cli::BurnOptions burn;
    cli::ReadOptions read;
    cli::LogOptions log;
    std::string model;
};

void describe(CLI::App& app, Options& o) {
    app.require_subcommand(1);
    app.set_version_flag("--version", FINCH_VERSION);
    auto* predict = app.add_subcommand("predict", "What a recipe will do, as JSON");
    predict->add_option("--bench", o.predict.bench, "Bench file or name")->capture_default_str();
    predict->add_option("--stock", o.predict.stock, "Stock file or name")->capture_default_str();
    predict->add_option("--recipe", o.predict.recipe, "Recipe file, or - for standard input")->capture_default_str();
    predict->add_option("--fill", o.predict.fill, "Fill file; one square centimetre without it");
    predict->add_flag("--robustness", o.predict.robustness, "Add how the outcome answers to the bench's own errors");
    auto* ref =
        app.add_subcommand("reference", "Fill a vectors document from standard input with the program's own outputs");
    ref->add_option("--model", o.model, "anneal-color")->required();
    auto* proof = app.add_subcommand("proof", "Proof sheets: plan, burn, read");
    proof->require_subcommand(1);
    auto* plan = proof->add_subcommand("plan", "Plan a sheet and predict its cells");
    plan->add_option("--bench", o.plan.bench, "Bench file or name")->capture_default_str();
    plan->add_option("--stock", o.plan.stock, "Stock file or name")->capture_default_str();
    plan->add_option("--recipe", o.plan.recipe, "Recipe with the fixed knobs, or -")->capture_default_str();
    plan->add_option("--across", o.plan.across, "knob:from:to:count[:linear]")->capture_default_str();
    plan->add_option("--down", o.plan.down, "knob:from:to:count[:linear]")->capture_default_str();
    plan->add_option("--number", o.plan.number, "Number of the sheet")
        ->capture_default_str()
        ->check(CLI::NonNegativeNumber);
    plan->add_option("--aim", o.plan.aim, "What the sheet is for");
    plan->add_option("--cell-width-mm", o.plan.cell_width_mm, "Width of a cell")->capture_default_str();
    plan->add_option("--cell-height-mm", o.plan.cell_height_mm, "Height of a cell")->capture_default_str();
    plan->add_option("--gap-mm", o.plan.gap_mm, "Gap between cells")->capture_default_str();
    plan->add_flag("--leave-out", o.plan.leave_out, "Leave out cells that would burn or show nothing");
    plan->add_option("--svg", o.plan.svg, "Also write the sheet as SVG with layers");
    plan->add_option("--csv", o.plan.csv, "Also write the cells as CSV");
    plan->add_option("--pdf", o.plan.pdf, "Also write a page to print");
    auto* burn = proof->add_subcommand("burn", "Burn a sheet on the stand-in and photograph it");
    burn->add_option("--sheet", o.burn.sheet, "Sheet file, or -")->capture_default_str();
    burn->add_option("--bench", o.burn.bench, "Bench file or name")->capture_default_str();
    burn->add_option("--stock", o.burn.stock, "Stock file or name")->capture_default_str();
    burn->add_option("--photo", o.burn.photo, "Where the photograph goes (PNG)")->required();
    burn->add_option("--seed", o.burn.seed, "Seed of the stand-in's hidden truth")->capture_default_str();
    burn->add_option("--speed-up", o.burn.speed_up, "Seconds of burning in one second")
        ->capture_default_str()
        ->check(CLI::PositiveNumber);
    auto* read = proof->add_subcommand("read", "Read a photograph of a sheet");
    read->add_option("--sheet", o.read.sheet, "Sheet file, or -")->capture_default_str();
    read->add_option("--photo", o.read.photo, "PNG or JPEG")->required();
    read->add_option("--bench", o.read.bench, "Bench file or name")->capture_default_str();
    read->add_option("--stock", o.read.stock, "Stock file or name")->capture_default_str();
    read->add_option("--target", o.read.target, "Rank the cells against a named colour");
    read->add_option("--rectified", o.read.rectified, "Also write the sheet squared up (PNG)");
    auto* log = app.add_subcommand("log", "The logbook: list, show, export");
    log->require_subcommand(1);
    for (const auto& [name, text] : {std::pair{"list", "Entries, newest first"}, std::pair{"show", "One entry whole"},
                                     std::pair{"export", "Entries whole, as one document"}}) {
        auto* command = log->add_subcommand(name, text);
        command->add_option("--file", o.log.file, "The logbook (logbook.sqlite)")->required();
        if (std::string_view(name) == "show") {
            command->add_option("--id", o.log.id, "Number of the entry")->required();
            continue;
        }
        command->add_option("--words", o.log.words, "Only entries with these words");
        command->add_option("--kind", o.log.kind, "sheet, reading, recipe or bench");
        command->add_option("--limit", o.log.limit, "At most so many")
            ->capture_default_str()
            ->check(CLI::PositiveNumber);
        if (std::string_view(name) == "export") {
            command->add_flag("--pictures", o.log.pictures, "With pictures as base64");
            command->add_option("--cells-csv", o.log.out, "Write the read cells to this CSV instead");
        }
    }
}

int run(CLI::App& app, Options& o) {
    const auto folder = data_folder();
    const auto materials = folder.and_then(load_materials);
    if (!materials)
        return report(tl::unexpected(materials.error()));
    const cli::Context context{*folder, *materials, std::cin};
    if (app.got_subcommand("predict"))
        return report(cli::predict(context, o.predict));
    if (app.got_subcommand("reference"))
        return report(reference(context, o.model));
    if (app.got_subcommand("proof")) {
        const CLI::App* proof = app.get_subcommand("proof");
        if (proof->got_subcommand("plan"))
            return report(cli::proof_plan(context, o.plan));
        return report(proof->got_subcommand("burn") ? cli::proof_burn(context, o.burn)
                                                    : cli::proof_read(context, o.read));
    }
    const CLI::App* log = app.get_subcommand("log");
    if (log->got_subcommand("list"))
        return report(cli::log_list(o.log));
    if (log->got_subcommand("show"))
        return report(cli::log_show(o.log));
    return report(o.log.out.empty() ? cli::log_export(o.log) : cli::log_export_cells(o.log));
}

} // namespace

int main(int argc, char** argv) {
    Options o;
    CLI::App app{
        "Gilded Finch on the command line: JSON in and out. Exit code 0 = done, 1 = the work failed, 2 = bad use."};
    describe(app, o);
    try {
        app.parse(argc, argv);
    } catch (const CLI::CallForHelp& e) {
        return app.exit(e);
    } catch (const CLI::CallForVersion& e) {
        return app.exit(e);
    } catch (const CLI::ParseError& e) {
        std::cerr << cli::error_json({"use.arguments", e.what(), "Run with --help.", {}}).dump(2) << '\n';
        return bad_use;
    }
    // Only a page to print needs fonts, and with them a graphical application; never a display. Without one, nothing
    // but our own JSON can appear on standard error.
    qputenv("QT_QPA_PLATFORM", "offscreen");
    std::unique_ptr<QCoreApplication> qt;
    if (o.plan.pdf.empty())
        qt = std::make_unique<QCoreApplication>(argc, argv);
    else
        qt = std::make_unique<QGuiApplication>(argc, argv);
    o.burn.standin = (QCoreApplication::applicationDirPath() + QStringLiteral("/finch-standin")).toStdString();
    std::error_code fault;
    if (!std::filesystem::exists(o.burn.standin, fault))
        o.burn.standin =
            (QCoreApplication::applicationDirPath() + QStringLiteral("/../standin/finch-standin")).toStdString();
    return run(app, o);
}
