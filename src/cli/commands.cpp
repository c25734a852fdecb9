// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/commands.h"

#include "bench/bench_json.h"
#include "record/repeatable.h"

#include "bench/bench_json.h"
#include "document/json_fields.h"
#include "evidence/evidence_json.h"
#include "formats/data_folder.h"
#include "formats/file_out.h"
#include "recipe/check.h"
#include "recipe/predict.h"
#include "record/control_record.h"
#include "record/exchange.h"
#include "record/scrap_record.h"

#include <fmt/format.h>
#include <istream>
#include <iterator>
#include <nlohmann/json.hpp>

namespace finch::cli {

using json = nlohmann::json;

Expected<std::string> read_input(const Context& context, const std::string& file) {
    if (file != "-")
        return read_text_file(file);
    return std::string(std::istreambuf_iterator<char>(context.in), std::istreambuf_iterator<char>());
}

json error_json(const Error& e) {
    return {{"error",
             {{"code", e.code},
              {"message", e.message},
              {"fix", e.fix},
              {"file", e.place.file},
              {"line", e.place.line},
              {"field", e.place.field}}}};
}

Expected<OwnScene> load_scene(const Context& context, const std::string& bench_name, const std::string& stock_name) {
    const auto bench = load_bench(context.data, bench_name);
    if (!bench)
        return tl::unexpected(bench.error());
    const auto stock = load_stock(context.data, stock_name);
    if (!stock)
        return tl::unexpected(stock.error());
    return own_scene(context.materials, {*bench, *stock, {}}, {});
}

Expected<json> predict(const Context& context, const PredictOptions& o) {
    const auto own = load_scene(context, o.bench, o.stock);
    if (!own)
        return tl::unexpected(own.error());
    Evidence known;
    if (!o.evidence.empty()) {
        const auto text = read_input(context, o.evidence);
        const auto document = text ? parse_json(*text, o.evidence) : Expected<json>(tl::unexpected(text.error()));
        const auto read =
            document ? evidence_from_json(*document, o.evidence) : Expected<Evidence>(tl::unexpected(document.error()));
        if (!read)
            return tl::unexpected(read.error());
        known = *read;
    }
    const Scene scene = own->scene().knowing(known);
    const auto text = read_input(context, o.recipe);
    const auto recipe = text ? recipe_from_text(*text, o.recipe) : Expected<Recipe>(tl::unexpected(text.error()));
    if (!recipe)
        return tl::unexpected(recipe.error());
    Fill fill;
    if (!o.fill.empty()) {
        const auto fill_text = read_input(context, o.fill);
        const auto given =
            fill_text ? fill_from_text(*fill_text, o.fill) : Expected<Fill>(tl::unexpected(fill_text.error()));
        if (!given)
            return tl::unexpected(given.error());
        fill = *given;
    }
    const auto p = finch::predict(scene, *recipe, fill);
    if (!p)
        return tl::unexpected(p.error());
    json out = to_json(*p);
    json findings = json::array();
    static const char* const severities[]{"note", "warning", "blocking"};
    std::vector<Finding> all = check(*recipe, scene.bench, scene.stock);
    for (const ModelFinding f : p->findings)
        all.push_back(finding_of(f));
    for (const Finding& f : all)
        findings.push_back({{"code", f.code},
                            {"severity", severities[static_cast<int>(f.severity)]},
                            {"message", f.message},
                            {"remedy", f.remedy}});
    out["findings"] = findings;
    if (o.robustness) {
        const auto r = finch::robustness(scene, *recipe, fill);
        if (!r)
            return tl::unexpected(r.error());
        out["robustness"] = {{"focus_de_ab", r->focus_de},
                             {"power_de_ab", r->power_de},
                             {"thickness_de_ab", r->thickness_de},
                             {"fragility_de_ab", r->fragility},
                             {"oxide_per_power", r->oxide_per_power}};
    }
    return out;
}

namespace {

Expected<std::unique_ptr<Logbook>> open_existing(const LogOptions& o) {
    // Opening would create an empty logbook; asking for one that is not there is a mistake.
    std::error_code fault;
    if (!std::filesystem::is_regular_file(o.file, fault))
        return failure("file.missing", "There is no logbook at this path.", "Give --file the path of a logbook.sqlite.",
                       {o.file, 0, {}});
    return Logbook::open(QString::fromStdString(o.file), LogbookUse::look_only);
}

Expected<EntryFilter> filter_of(const LogOptions& o) {
    EntryFilter f;
    f.words = o.words;
    f.limit = o.limit;
    if (o.kind.empty())
        return f;
    for (const EntryKind kind : {EntryKind::sheet, EntryKind::reading, EntryKind::recipe, EntryKind::bench})
        if (o.kind == word(kind)) {
            f.kind = kind;
            return f;
        }
    return failure("log.unknown_kind", fmt::format("No kind of entry is called \"{}\".", o.kind),
                   "Use sheet, reading, recipe or bench.");
}

json head_json(const Entry& e) {
    return {{"id", e.id},       {"kind", word(e.kind)}, {"when_utc", e.when_utc},     {"operator", e.by},
            {"title", e.title}, {"summary", e.summary}, {"outcome", word(e.outcome)}, {"bench", e.bench},
            {"metal", e.metal}, {"lot", e.lot},         {"parent", e.parent}};
}

} // namespace

Expected<json> log_list(const LogOptions& o) {
    const auto book = open_existing(o);
    const auto filter = filter_of(o);
    if (!book || !filter)
        return tl::unexpected(book ? filter.error() : book.error());
    const auto entries = (*book)->list(*filter);
    if (!entries)
        return tl::unexpected(entries.error());
    json list = json::array();
    for (const Entry& e : *entries)
        list.push_back(head_json(e));
    return json{{"entries", list}};
}

Expected<json> log_show(const LogOptions& o) {
    const auto book = open_existing(o);
    if (!book)
        return tl::unexpected(book.error());
    const auto e = (*book)->entry(o.id);
    if (!e)
        return tl::unexpected(e.error());
    json out = head_json(*e);
    out["setup"] = e->setup;
    out["body"] = e->body;
    out["program_version"] = e->program_version;
    return out;
}

Expected<json> log_repeatable(const Context& context, const LogOptions& o) {
    const auto book = open_existing(o);
    if (!book)
        return tl::unexpected(book.error());
    const auto e = (*book)->entry(o.id);
    const auto now = e ? load_scene(context, o.bench, o.stock) : tl::unexpected(e.error());
    if (!now)
        return tl::unexpected(now.error());
    Setup setup = now->setup;
    if (const auto then = setup_from_json(e->setup, "")) // nobody says here where the head stands
        setup.focus = then->focus;
    return to_json(repeatability(*e, setup));
}

Expected<json> log_control(const LogOptions& o) {
    const auto book = open_existing(o);
    auto read = book ? lot_checks(**book, {}) : tl::unexpected(book.error());
    if (!read)
        return tl::unexpected(read.error());
    json controls = json::array();
    for (const RecordedControl& c : controls_among(std::move(*read))) {
        json one = to_json(c.course);
        one["bench"] = c.setup.bench.name;
        one["metal"] = c.setup.stock.metal;
        one["lot"] = c.setup.stock.lot;
        one["recipe"] = to_json(c.sheet.base);
        one["expected"] = {c.sheet.lot->expected.l, c.sheet.lot->expected.a, c.sheet.lot->expected.b};
        one["too_coarse"] = c.coarse;
        controls.push_back(std::move(one));
    }
    return json{{"format", "finch-controls"}, {"version", 1}, {"controls", controls}};
}

Expected<json> log_scrap(const Context& context, const LogOptions& o) {
    const auto book = open_existing(o);
    auto facts = book ? scrap_facts(**book) : tl::unexpected(book.error());
    if (!facts)
        return tl::unexpected(facts.error());
    const auto rect = [](const RectMm& r) { return json{tidy(r.x), tidy(r.y), tidy(r.w), tidy(r.h)}; };
    const std::vector<ScrapPiece> bin = scrap_bin(*facts);
    json pieces = json::array();
    for (const ScrapPiece& p : bin) {
        json faces = json::array();
        for (std::size_t face = 0; face < scrap_faces.size(); ++face) {
            json marks = json::array();
            for (const ScrapMark& m : p.marks)
                if (m.face == face)
                    marks.push_back({{"where_mm", rect(m.where)}, {"what", m.what}, {"sheet", m.sheet}});
            faces.push_back({{"face", scrap_faces[face]},
                             {"bare_mm2", tidy(scrap_free_mm2(p, face))},
                             {"largest_mm", rect(scrap_largest_free(p, face))},
                             {"marks", marks}});
        }
        pieces.push_back({{"piece", p.name},
                          {"stock", to_json(p.stock)},
                          {"size_mm", {p.width_mm, p.height_mm}},
                          {"note", p.note},
                          {"faces", faces}});
    }
    json out{{"format", "finch-scrap-bin"}, {"version", 1}, {"pieces", pieces}};
    if (o.sheet.empty())
        return out;
    const auto text = read_text_file(o.sheet);
    const auto sheet = text ? sheet_from_text(*text, o.sheet) : tl::unexpected(text.error());
    const auto stock = sheet ? load_stock(context.data, o.stock) : tl::unexpected(sheet.error());
    if (!stock)
        return tl::unexpected(stock.error());
    const auto fit = fit_in_bin(*sheet, bin, *stock);
    if (!fit)
        return failure("scrap.no_room", "No piece of this stock in the bin has room for the sheet.",
                       "Plan fewer or smaller cells, or burn it on fresh stock.");
    out["place"] = {{"piece", fit->place.piece},       {"face", scrap_faces.at(fit->place.face)},
                    {"x_mm", tidy(fit->place.x_mm)},   {"y_mm", tidy(fit->place.y_mm)},
                    {"turned", fit->place.turned},     {"columns", fit->sheet.columns()},
                    {"words", scrap_words(fit->place)}};
    return out;
}

Expected<json> log_export(const LogOptions& o) {
    const auto book = open_existing(o);
    const auto filter = filter_of(o);
    if (!book || !filter)
        return tl::unexpected(book ? filter.error() : book.error());
    return entries_document(**book, *filter);
}

Expected<json> log_export_folder(const LogOptions& o) {
    const auto book = open_existing(o);
    const auto filter = filter_of(o);
    if (!book || !filter)
        return tl::unexpected(book ? filter.error() : book.error());
    const auto written = export_folder(**book, *filter, QString::fromStdString(o.folder));
    if (!written)
        return tl::unexpected(written.error());
    return json{{"written", o.folder}, {"entries", *written}};
}

Expected<json> log_import(const LogOptions& o) {
    const auto book = Logbook::open(QString::fromStdString(o.file));
    if (!book)
        return tl::unexpected(book.error());
    const auto added = import_entries(**book, QString::fromStdString(o.folder));
    if (!added)
        return tl::unexpected(added.error());
    return json{{"added", *added}};
}

Expected<json> log_export_cells(const LogOptions& o) {
    const auto book = open_existing(o);
    const auto filter = filter_of(o);
    if (!book || !filter)
        return tl::unexpected(book ? filter.error() : book.error());
    std::size_t readings = 0;
    const auto written = write_file(QString::fromStdString(o.out), [&](QIODevice& out) -> Expected<void> {
        const auto done = export_cells_csv(**book, *filter, out);
        if (!done)
            return tl::unexpected(done.error());
        readings = *done;
        return {};
    });
    if (!written)
        return tl::unexpected(written.error());
    return json{{"written", o.out}, {"readings", readings}};
}

} // namespace finch::cli
