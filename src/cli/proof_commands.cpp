// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/commands.h"

#include "bench/bench_json.h"
#include "formats/data_folder.h"
#include "formats/sheet_export.h"
#include "proof/learn.h"
#include "standin/standin_link.h"
#include "vision/fiducials.h"
#include "vision/sheet_photo.h"

#include <charconv>
#include <fmt/format.h>
#include <nlohmann/json.hpp>
#include <QCoreApplication>
#include <QEventLoop>
#include <sstream>

namespace finch::cli {

using json = nlohmann::json;

namespace {

struct Loaded {
    Bench bench;
    Stock stock;
    std::shared_ptr<const Metal> metal;
};

Expected<Loaded> load(const Context& context, const std::string& bench_name, const std::string& stock_name) {
    const auto bench = load_bench(context.data, bench_name);
    if (!bench)
        return tl::unexpected(bench.error());
    const auto stock = load_stock(context.data, stock_name);
    if (!stock)
        return tl::unexpected(stock.error());
    const auto metal = context.materials.find(stock->metal);
    if (!metal)
        return tl::unexpected(metal.error());
    return Loaded{*bench, *stock, *metal};
}

Expected<ProofSheet> load_sheet(const Context& context, const std::string& file) {
    const auto text = read_input(context, file);
    if (!text)
        return tl::unexpected(text.error());
    return sheet_from_text(*text, file);
}

/// "scan_speed_mm_s:600:1900:8" or with ":linear" behind it.
Expected<AxisPlan> parse_axis(const std::string& text) {
    std::vector<std::string> parts;
    std::stringstream stream(text);
    for (std::string part; std::getline(stream, part, ':');)
        parts.push_back(part);
    const auto bad = [&] {
        return failure("proof.axis_text", fmt::format("\"{}\" is no axis.", text),
                       "Write knob:from:to:count, for example scan_speed_mm_s:600:1900:8, and :linear for even steps.");
    };
    if (parts.size() < 4 || parts.size() > 5)
        return bad();
    AxisPlan plan;
    const auto knob = knob_from_key(parts[0]);
    if (!knob)
        return tl::unexpected(knob.error());
    plan.knob = *knob;
    const auto number = [](const std::string& s, auto& to) {
        const auto [end, fault] = std::from_chars(s.data(), s.data() + s.size(), to);
        return fault == std::errc() && end == s.data() + s.size();
    };
    if (!number(parts[1], plan.from) || !number(parts[2], plan.to) || !number(parts[3], plan.count))
        return bad();
    plan.steps = Steps::ratio;
    if (parts.size() == 5) {
        if (parts[4] != "linear" && parts[4] != "ratio")
            return bad();
        plan.steps = parts[4] == "linear" ? Steps::linear : Steps::ratio;
    }
    return plan;
}

json forecast_json(const ProofSheet& sheet, const SheetForecast& f) {
    static const char* const fates[]{"marks", "shows nothing", "burns", "impossible"};
    json cells = json::array();
    for (std::size_t i = 0; i < sheet.cells(); ++i) {
        const CellForecast& c = f.cells[i];
        json cell{{"cell", cell_name(sheet, i)}, {"fate", fates[static_cast<int>(c.fate)]}, {"time_s", c.time_s}};
        if (c.prediction && c.fate == CellFate::marks) {
            const Lab& lab = c.prediction->lab();
            cell["lab"] = {lab.l, lab.a, lab.b};
            cell["oxide_nm"] = c.prediction->oxide_nm();
        }
        cells.push_back(cell);
    }
    return {{"cells", cells}, {"labels_s", f.labels_s}, {"total_s", f.total_s}};
}

/// Runs the link until one of its answers arrives.
template <typename Start>
Expected<bool> wait_for(StandinLink& link, void (BenchLink::*done)(double), Start start) {
    QEventLoop loop;
    std::optional<Error> fault;
    QObject::connect(&link, done, &loop, &QEventLoop::quit);
    QObject::connect(&link, &BenchLink::failed, &loop, [&](const Error& e, bool) {
        fault = e;
        loop.quit();
    });
    start();
    loop.exec();
    if (fault)
        return tl::unexpected(*fault);
    return true;
}

Expected<QByteArray> photograph(StandinLink& link, const RectMm& white_card) {
    QEventLoop loop;
    std::optional<Error> fault;
    QByteArray png;
    QObject::connect(&link, &BenchLink::photographed, &loop, [&](const QByteArray& bytes) {
        png = bytes;
        loop.quit();
    });
    QObject::connect(&link, &BenchLink::failed, &loop, [&](const Error& e, bool) {
        fault = e;
        loop.quit();
    });
    link.photograph(white_card, 1);
    loop.exec();
    if (fault)
        return tl::unexpected(*fault);
    return png;
}

} // namespace

Expected<json> proof_plan(const Context& context, const PlanOptions& o) {
    const auto loaded = load(context, o.bench, o.stock);
    if (!loaded)
        return tl::unexpected(loaded.error());
    const auto text = read_input(context, o.recipe);
    const auto recipe = text ? recipe_from_text(*text, o.recipe) : Expected<Recipe>(tl::unexpected(text.error()));
    const auto across = parse_axis(o.across), down = parse_axis(o.down);
    if (!recipe || !across || !down)
        return tl::unexpected(!recipe ? recipe.error() : !across ? across.error() : down.error());
    const auto labels = label_recipe({context.materials, *loaded->metal, loaded->bench, loaded->stock});
    if (!labels)
        return tl::unexpected(labels.error());
    const SheetRequest request{o.number,    o.aim, *recipe, *across, *down, mm(o.cell_width_mm), mm(o.cell_height_mm),
                               mm(o.gap_mm)};
    auto sheet = plan_sheet(request, loaded->bench, *labels);
    if (!sheet)
        return tl::unexpected(sheet.error());
    const SheetForecast f = forecast(*sheet, {context.materials, *loaded->metal, loaded->bench, loaded->stock});
    if (o.leave_out)
        *sheet = without_hopeless(*sheet, f);
    const MarkerModules modules = fiducial_modules(layout(*sheet));
    Expected<bool> written = true;
    if (!o.svg.empty())
        written = write_file(QString::fromStdString(o.svg), sheet_svg(*sheet, modules));
    if (written && !o.csv.empty())
        written = write_file(QString::fromStdString(o.csv), sheet_csv(*sheet));
    if (written && !o.pdf.empty())
        written =
            write_sheet_pdf(*sheet, f, {loaded->bench, loaded->stock, {}}, modules, QString::fromStdString(o.pdf));
    if (!written)
        return tl::unexpected(written.error());
    json out = to_json(*sheet);
    out["forecast"] = forecast_json(*sheet, f);
    return out;
}

Expected<json> proof_burn(const Context& context, const BurnOptions& o) {
    const auto loaded = load(context, o.bench, o.stock);
    if (!loaded)
        return tl::unexpected(loaded.error());
    const auto sheet = load_sheet(context, o.sheet);
    if (!sheet)
        return tl::unexpected(sheet.error());
    const SheetLayout at = layout(*sheet);
    StandinLink link({QString::fromStdString(o.standin), o.seed, o.speed_up});
    double burned_s = 0;
    QObject::connect(&link, &BenchLink::burned, [&](double s) { burned_s = s; });
    const auto done = wait_for(link, &BenchLink::burned, [&] {
        link.burn({loaded->bench, loaded->stock, {}}, tool_steps(*sheet, at, fiducial_modules(at)));
    });
    if (!done)
        return tl::unexpected(done.error());
    const auto png = photograph(link, at.white_card);
    if (!png)
        return tl::unexpected(png.error());
    const auto written = write_file(QString::fromStdString(o.photo), png->toStdString());
    if (!written)
        return tl::unexpected(written.error());
    return json{{"sheet", sheet->number}, {"burned_s", burned_s}, {"photo", o.photo}};
}

Expected<json> proof_read(const Context& context, const ReadOptions& o) {
    const auto loaded = load(context, o.bench, o.stock);
    if (!loaded)
        return tl::unexpected(loaded.error());
    const auto sheet = load_sheet(context, o.sheet);
    const auto picture = load_picture(QString::fromStdString(o.photo));
    if (!sheet || !picture)
        return tl::unexpected(!sheet ? sheet.error() : picture.error());
    auto read = read_sheet_photo(*picture, *sheet);
    if (!read)
        return tl::unexpected(read.error().in_file(o.photo));
    read->reading.photo = o.photo;
    if (!o.rectified.empty())
        if (const auto written =
                write_file(QString::fromStdString(o.rectified), png_bytes(read->rectified).toStdString());
            !written)
            return tl::unexpected(written.error());
    json out = to_json(read->reading, *sheet);
    Evidence known;
    if (const auto lesson =
            learn(*sheet, read->reading, {context.materials, *loaded->metal, loaded->bench, loaded->stock})) {
        known = lesson->evidence;
        out["learned"] = to_json(known);
        out["learned"].update({{"before_de00", lesson->before_de}, {"after_de00", lesson->after_de}});
    }
    if (!o.target.empty()) {
        const auto& targets = named_targets();
        const auto target =
            std::find_if(targets.begin(), targets.end(), [&](const Target& t) { return t.name == o.target; });
        if (target == targets.end())
            return failure("target.unknown", fmt::format("No target is called \"{}\".", o.target),
                           "Use dark, straw, gold, brown, purple, deep blue, light blue, green or rose.");
        const SheetForecast f =
            forecast(*sheet, {context.materials, *loaded->metal, loaded->bench, loaded->stock, known});
        for (const RankedCell& c : rank(read->reading, *target, f))
            out["ranking"].push_back({{"cell", cell_name(*sheet, c.cell)},
                                      {"de00", c.de},
                                      {"unevenness_de00", c.unevenness},
                                      {"time_s", c.time_s},
                                      {"passes", c.passes}});
    }
    return out;
}

} // namespace finch::cli
