// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/protocol.h"

#include <nlohmann/json.hpp>

namespace finch::standin {
namespace {

using json = nlohmann::json;

bool numbers(const json& list, std::size_t count) {
    return list.is_array() && list.size() == count &&
           std::all_of(list.begin(), list.end(), [](const json& v) { return v.is_number(); });
}

} // namespace

json to_json(const RectMm& r) {
    return {r.x, r.y, r.w, r.h};
}

Expected<RectMm> rect_from_json(const json& d) {
    if (!numbers(d, 4) || d[2].get<double>() <= 0 || d[3].get<double>() <= 0)
        return failure("protocol.bad_rectangle", "A rectangle is [x, y, width, height] in mm.", "Send four numbers.");
    return RectMm{d[0], d[1], d[2], d[3]};
}

json to_json(const ToolStep& step) {
    json hatch = json::array(), strokes = json::array();
    for (const RectMm& r : step.hatch)
        hatch.push_back(to_json(r));
    for (const auto& stroke : step.strokes) {
        json points = json::array();
        for (const PointMm& p : stroke)
            points.push_back({p.x, p.y});
        strokes.push_back(points);
    }
    return {{"name", step.name}, {"recipe", to_json(step.recipe)}, {"hatch_mm", hatch}, {"strokes_mm", strokes}};
}

Expected<ToolStep> tool_step_from_json(const json& d) {
    if (!d.is_object())
        return failure("protocol.bad_step", "A step is an object.", "Send name, recipe, hatch_mm and strokes_mm.");
    ToolStep step;
    step.name = d.value("name", "");
    const auto recipe = recipe_from_json(d.value("recipe", json()), "");
    if (!recipe)
        return tl::unexpected(recipe.error());
    step.recipe = *recipe;
    for (const json& r : d.value("hatch_mm", json::array())) {
        const auto rect = rect_from_json(r);
        if (!rect)
            return tl::unexpected(rect.error());
        step.hatch.push_back(*rect);
    }
    for (const json& s : d.value("strokes_mm", json::array())) {
        std::vector<PointMm> stroke;
        for (const json& p : s) {
            if (!numbers(p, 2))
                return failure("protocol.bad_stroke", "A stroke is a list of [x, y] in mm.",
                               "Send two numbers a point.");
            stroke.push_back({p[0], p[1]});
        }
        step.strokes.push_back(std::move(stroke));
    }
    return step;
}

json fault_json(const Error& e) {
    return {{"is", "fault"}, {"code", e.code}, {"message", e.message}, {"fix", e.fix}};
}

Error fault_from_json(const json& d) {
    const auto text = [&d](const char* key) {
        return d.contains(key) && d[key].is_string() ? d[key].get<std::string>() : std::string();
    };
    return {text("code"), text("message"), text("fix"), {}};
}

} // namespace finch::standin
