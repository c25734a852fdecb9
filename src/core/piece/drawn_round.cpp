// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/drawn_round.h"

#include "document/json_fields.h"
#include "piece/shapes.h"

#include <algorithm>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace finch {
namespace {

/// By how often a ray to the right crosses the line.
bool inside(const std::vector<PointMm>& line, const PointMm& p) {
    bool in = false;
    for (std::size_t i = 0, k = line.size() - 1; i < line.size(); k = i++) {
        const PointMm &a = line[k], &b = line[i];
        if ((a.y > p.y) != (b.y > p.y) && p.x < a.x + (b.x - a.x) * (p.y - a.y) / (b.y - a.y))
            in = !in;
    }
    return in;
}

void take_out_one(MendedArt& drawing, const DrawnRound& round) {
    auto& layers = drawing.art.layers;
    const auto tell = [&](const char* code, std::string text) {
        drawing.art.findings.push_back({code, {}, {}, {}, false, std::move(text)});
    };
    const auto from = std::ranges::find_if(
        layers, [&](const ArtLayer& l) { return l.name == round.layer && l.colour == round.colour; });
    if (from == layers.end())
        return tell("round.no_layer", fmt::format("\"{}\" was drawn round in a layer that is gone.", round.name));
    if (std::ranges::any_of(layers, [&](const ArtLayer& l) { return l.name == round.name; }))
        return tell("round.name", fmt::format("There is a layer \"{}\" already: nothing is taken out.", round.name));
    const auto old = static_cast<std::size_t>(from - layers.begin());
    Region& whole = drawing.regions.at(old);
    Region taken;
    std::vector<bool> goes(whole.rings.size(), false);
    for (const auto& shape : shapes_of(whole)) {
        const bool all = std::ranges::all_of(shape, [&](std::size_t ring) {
            return std::ranges::all_of(whole.rings[ring], [&](const PointMm& p) { return inside(round.line, p); });
        });
        for (const std::size_t ring : shape)
            goes[ring] = all;
    }
    Region left;
    for (std::size_t i = 0; i < goes.size(); ++i)
        (goes[i] ? taken : left).rings.push_back(std::move(whole.rings[i]));
    whole = std::move(left);
    if (taken.empty())
        return tell("round.nothing", fmt::format("No shape of \"{}\" lies wholly in what was drawn round as \"{}\".",
                                                 round.layer, round.name));
    for (ArtFinding& f : drawing.art.findings)
        if (f.layer == old && f.at && inside(round.line, *f.at))
            f.layer = layers.size();
    const std::string colour = from->colour;
    layers.push_back({round.name, colour});
    drawing.regions.push_back(std::move(taken));
}

} // namespace

void take_out(MendedArt& drawing, const std::vector<DrawnRound>& rounds) {
    for (const DrawnRound& round : rounds)
        if (round.line.size() > 2)
            take_out_one(drawing, round);
}

nlohmann::json to_json(const std::vector<DrawnRound>& rounds) {
    nlohmann::json out = nlohmann::json::array();
    for (const DrawnRound& r : rounds) {
        nlohmann::json line = nlohmann::json::array();
        for (const PointMm& p : r.line) {
            line.push_back(p.x);
            line.push_back(p.y);
        }
        out.push_back({{"name", r.name}, {"layer", r.layer}, {"colour", r.colour}, {"line_mm", std::move(line)}});
    }
    return out;
}

std::vector<DrawnRound> read_rounds(JsonFields& f, const char* key) {
    std::vector<DrawnRound> out;
    for (JsonFields& r : f.list(key)) {
        if (out.size() == most_rounds) {
            f.fault(key, "There are more than 50 parts drawn round.", "Draw them as layers of the file.");
            break;
        }
        DrawnRound one{r.text("name"), r.text("layer"), r.text("colour"), {}};
        const nlohmann::json& line = r.raw("line_mm");
        const bool whole =
            line.is_array() && line.size() >= 6 && line.size() % 2 == 0 && line.size() <= 2 * most_round_points &&
            std::ranges::all_of(line, [](const nlohmann::json& n) {
                return n.is_number() && n.get<double>() > -2 * farthest_mm && n.get<double>() < 2 * farthest_mm;
            });
        if (!whole) {
            r.fault("line_mm", "This is no line round something.", "Give x and y in turn, three places or more.");
            continue;
        }
        for (std::size_t i = 0; i + 1 < line.size(); i += 2)
            one.line.push_back({line[i].get<double>(), line[i + 1].get<double>()});
        out.push_back(std::move(one));
    }
    return out;
}

} // namespace finch
