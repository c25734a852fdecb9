// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "record/logbook.h"

#include "bench/bench_json.h"
#include "document/json_fields.h"
#include "proof/reading.h"
#include "quantity/format.h"

#include <algorithm>
#include <array>
#include <fmt/format.h>
#include <map>

namespace finch {
namespace {

using json = nlohmann::json;

std::string csv_field(const std::string& text) {
    // A leading sign that a spreadsheet would take for a formula is made harmless.
    std::string out = !text.empty() && std::string_view("=+-@").find(text[0]) != std::string_view::npos &&
                              !std::isdigit(static_cast<unsigned char>(text[text.size() > 1 ? 1 : 0]))
                          ? "'" + text
                          : text;
    if (out.find_first_of(",\"\n\r") == std::string::npos)
        return out;
    std::string quoted = "\"";
    for (const char c : out)
        quoted += c == '"' ? std::string("\"\"") : std::string(1, c);
    return quoted + "\"";
}

json entry_json(const Entry& e) {
    return {{"id", e.id},
            {"kind", word(e.kind)},
            {"when_utc", e.when_utc},
            {"operator", e.by},
            {"title", e.title},
            {"summary", e.summary},
            {"outcome", word(e.outcome)},
            {"bench", e.bench},
            {"metal", e.metal},
            {"lot", e.lot},
            {"parent", e.parent},
            {"setup", e.setup},
            {"body", e.body},
            {"program_version", e.program_version}};
}

Entry read_entry(JsonFields& f) {
    Entry e;
    e.id = f.whole_or("id", 0, 0, 2000000000);
    e.kind = static_cast<EntryKind>(f.choice("kind", {"sheet", "reading", "recipe", "bench"}));
    e.when_utc = f.text("when_utc");
    e.by = f.text_or("operator", "");
    e.title = f.text("title");
    e.summary = f.text_or("summary", "");
    e.outcome = static_cast<Outcome>(f.choice("outcome", {"good", "caution", "bad", "unknown"}));
    e.bench = f.text_or("bench", "");
    e.metal = f.text_or("metal", "");
    e.lot = f.text_or("lot", "");
    e.parent = f.whole_or("parent", 0, 0, 2000000000);
    e.setup = f.json().value("setup", json::object());
    e.body = f.json().value("body", json::object());
    e.program_version = f.text_or("program_version", "");
    return e;
}

std::string leaf_text(const json& value) {
    if (value.is_string())
        return value.get<std::string>();
    if (value.is_number_float())
        return format_number(value.get<double>(), 4);
    if (value.is_array()) {
        std::string out;
        for (const json& v : value)
            out += (out.empty() ? "" : " ") + leaf_text(v);
        return out;
    }
    return value.dump();
}

/// Single cells and computed numbers differ always; they belong to the detail of an entry, not to what was done.
bool worth_comparing(const std::string& path) {
    for (const std::string_view prefix : {"body.reading.cells", "body.prediction", "body.sheet.label_recipe",
                                          "body.sheet.left_out", "body.measured.confidence"})
        if (path.starts_with(prefix))
            return false;
    return true;
}

/// Flattens a document to "a.b.c" -> text.
void flatten(const json& value, const std::string& path, std::map<std::string, std::string>& out) {
    if (!worth_comparing(path))
        return;
    if (value.is_object()) {
        for (const auto& [key, inner] : value.items())
            if (key != "format" && key != "version")
                flatten(inner, path.empty() ? key : path + "." + key, out);
    } else if (value.is_array() && !value.empty() && value[0].is_object()) {
        for (const json& inner : value)
            if (const auto name = inner.find("name"); name != inner.end() && name->is_string())
                flatten(inner, path + "." + name->get<std::string>(), out);
    } else {
        out[path] = leaf_text(value);
    }
}

/// The bench first, then the sheet or recipe, then what was looked for and found.
int place_in_comparison(const std::string& path) {
    const std::array<std::string_view, 5> order{"setup.", "body.recipe", "body.sheet", "body.target", "body."};
    for (std::size_t i = 0; i < order.size(); ++i)
        if (path.starts_with(order[i]))
            return static_cast<int>(i);
    return static_cast<int>(order.size());
}

const std::vector<std::pair<std::string_view, std::string_view>> unit_endings{
    {"_mm_s", "mm/s"}, {"_mm2", "per mm2"}, {"_mm", "mm"}, {"_um", "um"}, {"_nm", "nm"},
    {"_khz", "kHz"},   {"_kw", "kW"},       {"_mj", "mJ"}, {"_ns", "ns"}, {"_deg", "deg"},
    {"_percent", "%"}, {"_c", "degC"},      {"_w", "W"},   {"_utc", ""}};

/// "focus.head_raised_mm" -> ("focus head raised", "mm").
std::pair<std::string, std::string> field_words(std::string path) {
    std::string unit;
    for (const auto& [ending, name] : unit_endings)
        if (path.size() > ending.size() && path.compare(path.size() - ending.size(), ending.size(), ending) == 0) {
            path.resize(path.size() - ending.size());
            unit = name;
            break;
        }
    for (const std::string_view prefix : {"setup.", "body."})
        if (path.starts_with(prefix))
            path.erase(0, prefix.size());
    std::replace(path.begin(), path.end(), '_', ' ');
    std::replace(path.begin(), path.end(), '.', ' ');
    return {path, unit};
}

} // namespace

Expected<json> Logbook::export_json(const EntryFilter& filter, bool with_pictures) const {
    const auto heads = list(filter);
    if (!heads)
        return tl::unexpected(heads.error());
    json entries = json::array();
    for (auto head = heads->rbegin(); head != heads->rend(); ++head) {
        const auto whole = entry(head->id);
        if (!whole)
            return tl::unexpected(whole.error());
        json one = entry_json(*whole);
        if (with_pictures) {
            const auto shots = pictures(head->id);
            if (!shots)
                return tl::unexpected(shots.error());
            for (const EntryPicture& p : *shots)
                one["pictures"].push_back({{"name", p.name}, {"png_base64", p.png.toBase64().toStdString()}});
        }
        entries.push_back(std::move(one));
    }
    return json{{"format", "finch-logbook"}, {"version", 1}, {"entries", std::move(entries)}};
}

Expected<int> Logbook::import_json(const json& document, const std::string& file) {
    if (const auto version = check_format(document, "finch-logbook", 1, file); !version)
        return tl::unexpected(version.error());
    std::vector<Error> faults;
    JsonFields f(document, "", faults);
    std::vector<std::pair<Entry, std::vector<EntryPicture>>> incoming;
    for (JsonFields& item : f.list("entries")) {
        std::vector<EntryPicture> shots;
        if (item.has("pictures"))
            for (JsonFields& p : item.list("pictures"))
                shots.push_back(
                    {p.text("name"), QByteArray::fromBase64(QByteArray::fromStdString(p.text("png_base64")))});
        incoming.emplace_back(read_entry(item), std::move(shots));
    }
    if (auto fault = first_fault(faults, file))
        return tl::unexpected(*fault);
    std::map<std::string, long long> known;
    const auto mark = [](const Entry& e) { return e.when_utc + '|' + word(e.kind) + '|' + e.title; };
    EntryFilter everything;
    everything.limit = 1000000;
    const auto present = list(everything);
    if (!present)
        return tl::unexpected(present.error());
    for (const Entry& e : *present)
        known[mark(e)] = e.id;
    std::map<long long, long long> new_id; // ids of the file -> ids here, so that parents stay parents
    int added = 0;
    for (auto& [e, shots] : incoming) {
        const long long old_id = e.id;
        if (const auto it = known.find(mark(e)); it != known.end()) {
            new_id[old_id] = it->second;
            continue;
        }
        e.parent = new_id.contains(e.parent) ? new_id[e.parent] : 0;
        const auto id = add(e, shots);
        if (!id)
            return tl::unexpected(id.error());
        new_id[old_id] = *id;
        ++added;
    }
    return added;
}

Expected<std::string> export_cells_csv(const Logbook& logbook, const EntryFilter& filter) {
    EntryFilter readings = filter;
    readings.kind = EntryKind::reading;
    const auto heads = logbook.list(readings);
    if (!heads)
        return tl::unexpected(heads.error());
    std::string out = "entry,when_utc,operator,bench,lens,metal,finish,thickness_mm,lot,sheet,cell";
    for (const Knob knob : all_knobs)
        out += "," + std::string(traits(knob).key);
    out += ",state,l,a,b,unevenness_de00,confidence\n";
    for (const Entry& head : *heads) {
        const auto e = logbook.entry(head.id);
        if (!e)
            return tl::unexpected(e.error());
        const auto setup = setup_from_json(e->setup, "");
        const auto sheet = sheet_from_json(e->body.value("sheet", json()), "");
        if (!setup || !sheet)
            continue;
        const auto reading = reading_from_json(e->body.value("reading", json()), *sheet, "");
        if (!reading)
            continue;
        for (std::size_t i = 0; i < sheet->cells(); ++i) {
            const CellReading& c = reading->cells[i];
            if (c.state == CellState::left_out)
                continue;
            out += fmt::format("{},{},{},{},{},{},{},{},{},{},{}", e->id, e->when_utc, csv_field(e->by),
                               csv_field(setup->bench.name), csv_field(setup->bench.lens().name), setup->stock.metal,
                               word(setup->stock.finish), format_exact(in_mm(setup->stock.thickness)),
                               csv_field(setup->stock.lot), sheet->number, cell_name(*sheet, i));
            const Recipe recipe = cell_recipe(*sheet, i);
            for (const Knob knob : all_knobs)
                out += "," + format_number(knob_value(recipe, knob), 9);
            out += c.state == CellState::read ? fmt::format(",read,{:.3f},{:.3f},{:.3f},{:.3f},{:.3f}\n", c.lab.l,
                                                            c.lab.a, c.lab.b, c.unevenness, c.confidence)
                                              : ",hidden,,,,,\n";
        }
    }
    return out;
}

Comparison compare(const Entry& a, const Entry& b) {
    std::map<std::string, std::string> left, right;
    const auto all = [](const Entry& e, std::map<std::string, std::string>& to) {
        to["operator"] = e.by;
        to["program version"] = e.program_version;
        flatten(e.setup, "setup", to);
        flatten(e.body, "body", to);
    };
    all(a, left);
    all(b, right);
    Comparison out;
    for (const auto& [path, value] : left)
        right.try_emplace(path, "");
    std::vector<std::pair<std::string, std::string>> sorted(right.begin(), right.end());
    std::stable_sort(sorted.begin(), sorted.end(), [](const auto& x, const auto& y) {
        return place_in_comparison(x.first) < place_in_comparison(y.first);
    });
    for (const auto& [path, other] : sorted) {
        const auto it = left.find(path);
        const std::string mine = it != left.end() ? it->second : "";
        if (mine == other) {
            ++out.equal;
            continue;
        }
        const auto [words, unit] = field_words(path);
        const auto with_unit = [&unit = unit](const std::string& v) {
            return v.empty() ? std::string("\u2014") : unit.empty() ? v : v + " " + unit;
        };
        out.differences.push_back({words, with_unit(mine), with_unit(other)});
    }
    return out;
}

} // namespace finch
