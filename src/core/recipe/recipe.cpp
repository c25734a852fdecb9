// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "recipe/recipe.h"

#include "document/json_fields.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace finch {
namespace {

Recipe read_recipe(JsonFields f) {
    Recipe r;
    r.name = f.text_or("name", "");
    for (const Knob knob : all_knobs) {
        const KnobTraits& t = traits(knob);
        const char* key = t.key.data(); // a literal, so it ends
        const double v = t.whole   ? f.whole_or(key, static_cast<int>(t.usual.value_or(t.low)), static_cast<int>(t.low),
                                                static_cast<int>(t.high))
                         : t.usual ? f.number_or(key, *t.usual, t.low, t.high)
                                   : f.number(key, t.low, t.high);
        t.set(r, v);
    }
    r.cross_hatch = f.flag_or("cross_hatch", false);
    const std::string process = f.text_or("process", "anneal");
    if (const auto known = process_from_key(process))
        r.process = *known;
    else
        f.fault("process", "\"" + process + "\" is no process.", "Write anneal, colour, engrave, strip or the like.");
    r.deep.clean_every = f.whole_or("clean_every", 0, 0, 10000);
    r.deep.focus_every = f.whole_or("focus_every", 0, 0, 10000);
    r.deep.focus_step = mm(f.number_or("focus_step_mm", 0, 0, 10));
    r.deep.narrowest = mm(f.number_or("narrowest_mm", 10, 0.01, 1000));
    r.compound = f.text_or("compound", "");
    r.coats = f.number_or("coats", 2, 0.25, 8);
    f.nothing_else();
    return r;
}

} // namespace

Setting burned_setting(const Recipe& recipe) {
    Setting s = recipe.setting;
    s.passes *= recipe.cross_hatch ? 2 : 1;
    return s;
}

Expected<Recipe> recipe_from_json(const nlohmann::json& document, const std::string& file) {
    if (const auto version = check_format(document, "finch-recipe", 1, file); !version)
        return tl::unexpected(version.error());
    std::vector<Error> faults;
    Recipe recipe = read_recipe(JsonFields(document, "", faults));
    if (auto fault = first_fault(faults, file))
        return tl::unexpected(*fault);
    return recipe;
}

Expected<Recipe> recipe_from_text(std::string_view text, const std::string& file) {
    const auto document = parse_json(text, file);
    return document ? recipe_from_json(*document, file) : tl::unexpected(document.error());
}

nlohmann::json to_json(const Recipe& r) {
    nlohmann::json out{{"format", "finch-recipe"}, {"version", 1}, {"name", r.name}, {"cross_hatch", r.cross_hatch}};
    for (const Knob knob : all_knobs) {
        const KnobTraits& t = traits(knob);
        if (t.whole)
            out[std::string(t.key)] = static_cast<int>(t.get(r));
        else
            out[std::string(t.key)] = tidy(t.get(r));
    }
    out["process"] = traits(r.process).key;
    if (r.deep != DeepSteps{}) {
        out["clean_every"] = r.deep.clean_every;
        out["focus_every"] = r.deep.focus_every;
        out["focus_step_mm"] = tidy(in_mm(r.deep.focus_step));
        out["narrowest_mm"] = tidy(in_mm(r.deep.narrowest));
    }
    if (!r.compound.empty()) {
        out["compound"] = r.compound;
        out["coats"] = r.coats;
    }
    return out;
}

Expected<Fill> fill_from_text(std::string_view text, const std::string& file) {
    const auto document = parse_json(text, file);
    if (!document)
        return tl::unexpected(document.error());
    if (const auto version = check_format(*document, "finch-fill", 1, file); !version)
        return tl::unexpected(version.error());
    std::vector<Error> faults;
    JsonFields f(*document, "", faults);
    const Fill fill{mm(f.number("line_length_mm", 0.1, 1000)), f.number("area_mm2", 0.01, 1e6)};
    f.nothing_else();
    if (auto fault = first_fault(faults, file))
        return tl::unexpected(*fault);
    return fill;
}

} // namespace finch
