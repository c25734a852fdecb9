// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "record/compare.h"

#include "document/json_fields.h"
#include "quantity/format.h"

#include <algorithm>
#include <array>
#include <map>

namespace finch {
namespace {

using json = nlohmann::json;

/// Where in an entry a value lies, and what people call that place. The order is the order in which a difference is
/// likely to explain another result.
struct Part {
    std::string_view path;  ///< of the document; longer paths first where one holds the other
    std::string_view group; ///< empty: not worth comparing
};
constexpr std::array compared_parts{
    Part{"body.sheet.label_recipe", ""},
    Part{"body.sheet.left_out", ""},
    Part{"body.sheet.number", ""},
    Part{"body.reading.sheet", ""},
    Part{"body.reading.cells", ""},
    Part{"body.prediction", ""},
    Part{"body.known_before", ""},
    Part{"body.learned", ""},
    Part{"body.evidence", ""},
    Part{"body.burned_uid", ""},
    Part{"body.measured.confidence", ""},
    Part{"body.measured.within_de00", ""},
    Part{"setup.bench.origin", ""},
    Part{"setup.bench.dialog", ""},
    Part{"setup.bench.column", ""},
    Part{"setup.bench.rotary", ""},
    Part{"setup.bench.rate_per_hour", ""},
    Part{"setup.bench.scanner.timed_runs", ""},
    Part{"setup.focus.changed_utc", ""},
    Part{"body.recipe", "Recipe"},
    Part{"body.sheet.base", "Recipe"},
    Part{"body.sheet", "Sheet"},
    Part{"setup.focus", "Focus"},
    Part{"setup.stock", "Stock"},
    Part{"setup.bench", "Bench"},
    Part{"body.target", "Looked for"},
    Part{"body.measured", "Found"},
    Part{"body.reading", "Found"},
    Part{"body", "Other"},
    Part{"setup", "Other"},
    Part{"who", "By whom"},
};
constexpr std::array order{"Recipe", "Focus", "Stock", "Bench", "Sheet", "Looked for", "Found", "By whom", "Other"};

/// Keys whose words would be riddles.
const std::map<std::string, std::string, std::less<>> riddles{
    {"confirmed.when_utc", "confirmed at"},
    {"confirmed.by", "confirmed by"},
    {"confirmed.method", "confirmed with"},
    {"confirmed.lens", "confirmed for lens"},
    {"confirmed.bench", "confirmed on bench"},
    {"confirmed.thickness_mm", "confirmed for thickness"},
    {"confirmed.metal", "confirmed for metal"},
    {"confirmed.lot", "confirmed for lot"},
    {"confirmed.offset_mm", "confirmed for offset"},
    {"confirmed.head_raised_mm", "head height when confirmed"},
    {"confirmed.from_gauge_mm", "best focus against the gauge"},
    {"head_raised_mm", "head raised"},
    {"lens_on", "lens"},
    {"lab", "colour L* a* b*"},
    {"accept_de00", "accepted difference"},
    {"de00_to_target", "difference to the target"},
    {"unevenness_de00", "unevenness"},
    {"darker_is_better", "darker is better"},
    {"across.values", "columns"},
    {"down.values", "rows"},
    {"across.knob", "columns vary"},
    {"rest_below_k", "rests until under (K)"},
    {"ground_lab", "unmarked stock L* a* b*"},
    {"light_range", "light, brightest over darkest"},
    {"edge_mm", "blur of the edges"},
    {"down.knob", "rows vary"},
    {"burned_s", "burned in"},
    {"source.hours_run", "source, hours run"},
};

struct Ending {
    std::string_view key, unit;
};
constexpr std::array endings{
    Ending{"_mm_s", "mm/s"}, Ending{"_mm2", "per mm²"}, Ending{"_mm", "mm"}, Ending{"_um", "µm"}, Ending{"_nm", "nm"},
    Ending{"_khz", "kHz"},   Ending{"_kw", "kW"},       Ending{"_mj", "mJ"}, Ending{"_ns", "ns"}, Ending{"_deg", "°"},
    Ending{"_percent", "%"}, Ending{"_c", "°C"},        Ending{"_w", "W"},   Ending{"_s", "s"},   Ending{"_utc", ""}};

std::string leaf_text(const json& value) {
    if (value.is_string())
        return value.get<std::string>();
    if (value.is_boolean())
        return value.get<bool>() ? "yes" : "no";
    if (value.is_number())
        return format_number(value.get<double>(), 5);
    if (value.is_array()) {
        std::string out;
        for (const json& v : value)
            out += (out.empty() ? "" : " ") + leaf_text(v);
        return out;
    }
    return json_text(value);
}

const Part* part_of(const std::string& path) {
    const auto it = std::find_if(compared_parts.begin(), compared_parts.end(), [&](const Part& p) {
        return path.starts_with(p.path) && (path.size() == p.path.size() || path[p.path.size()] == '.');
    });
    return it != compared_parts.end() ? &*it : nullptr;
}

/// Flattens a document to "a.b.c" -> text.
void flatten(const json& value, const std::string& path, std::map<std::string, std::string>& out) {
    if (const Part* part = part_of(path); part == nullptr || part->group.empty())
        return;
    if (value.is_object()) {
        for (const auto& [key, inner] : value.items())
            if (key != "format" && key != "version")
                flatten(inner, path + "." + key, out);
    } else if (value.is_array() && !value.empty() && value[0].is_object()) {
        for (const json& inner : value)
            if (const auto name = inner.is_object() ? inner.find("name") : inner.end();
                name != inner.end() && name->is_string())
                flatten(inner, path + "." + name->get<std::string>(), out);
    } else {
        out[path] = leaf_text(value);
    }
}

/// "setup.focus.head_raised_mm" -> ("head raised", "mm").
std::pair<std::string, std::string> field_words(const std::string& path) {
    std::string rest = path.substr(std::min(path.size(), part_of(path)->path.size() + 1));
    if (rest.empty())
        rest = path.substr(path.rfind('.') + 1);
    std::string unit;
    const auto known = riddles.find(rest);
    for (const Ending& e : endings)
        if (rest.size() > e.key.size() && rest.ends_with(e.key)) {
            rest.resize(rest.size() - e.key.size());
            unit = e.unit;
            break;
        }
    if (known != riddles.end())
        return {known->second, unit};
    std::replace(rest.begin(), rest.end(), '_', ' ');
    std::replace(rest.begin(), rest.end(), '.', ' ');
    return {rest, unit};
}

} // namespace

Comparison compare(const Entry& a, const Entry& b) {
    const auto all = [](const Entry& e) {
        std::map<std::string, std::string> out;
        out["who.operator"] = e.by;
        out["who.program"] = e.program_version;
        flatten(e.setup, "setup", out);
        flatten(e.body, "body", out);
        return out;
    };
    const auto left = all(a);
    auto right = all(b);
    for (const auto& [path, value] : left)
        right.try_emplace(path, "");
    Comparison out;
    for (const auto& [path, other] : right) {
        const auto it = left.find(path);
        const std::string mine = it != left.end() ? it->second : "";
        if (mine == other) {
            ++out.equal;
            continue;
        }
        const auto [field, unit] = field_words(path);
        const auto with_unit = [&unit = unit](const std::string& v) {
            return v.empty() ? std::string("—") : unit.empty() ? v : v + " " + unit;
        };
        out.differences.push_back({std::string(part_of(path)->group), field, with_unit(mine), with_unit(other)});
    }
    const auto place = [](const Difference& d) { return std::find(order.begin(), order.end(), d.group); };
    std::stable_sort(out.differences.begin(), out.differences.end(),
                     [&](const Difference& x, const Difference& y) { return place(x) < place(y); });
    return out;
}

} // namespace finch
