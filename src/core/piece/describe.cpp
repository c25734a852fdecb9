// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/describe.h"

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

namespace finch {
namespace {

/// To a tenth of a nanometre: what the grid of regions and its cuts hold.
double rounded(double mm) {
    return std::round(mm * 1e7) / 1e7 + 0.0;
}

std::size_t open_paths(const ArtShape& shape) {
    const auto& lines = shape.lines.empty() ? shape.outlines : shape.lines;
    return static_cast<std::size_t>(std::ranges::count_if(lines, [](const Outline& o) { return !o.closed; }));
}

} // namespace

nlohmann::json described(const MendedArt& mended) {
    const Artwork& art = mended.art;
    nlohmann::json layers = nlohmann::json::array(), findings = nlohmann::json::array();
    for (std::size_t l = 0; l < art.layers.size(); ++l) {
        const Region& region = mended.regions.at(l);
        std::size_t shapes = 0, open = 0;
        for (const ArtShape& s : art.shapes)
            if (s.layer == l) {
                ++shapes;
                open += open_paths(s);
            }
        layers.push_back({{"name", art.layers[l].name},
                          {"colour", art.layers[l].colour},
                          {"shapes", shapes},
                          {"closed_area_mm2", rounded(area_mm2(region))},
                          {"outline_mm", rounded(outline_mm(region))},
                          {"open_paths", open}});
    }
    for (const ArtFinding& f : art.findings)
        findings.push_back({{"code", f.code},
                            {"layer", f.layer ? nlohmann::json(art.layers.at(*f.layer).name) : nlohmann::json()},
                            {"at_mm", f.at ? nlohmann::json{rounded(f.at->x), rounded(f.at->y)} : nlohmann::json()},
                            {"gap_mm", f.gap_mm ? nlohmann::json(rounded(*f.gap_mm)) : nlohmann::json()},
                            {"closed", f.closed},
                            {"text", f.text}});
    return nlohmann::json{{"size_mm", {rounded(art.width_mm), rounded(art.height_mm)}},
                          {"layers", std::move(layers)},
                          {"findings", std::move(findings)}};
}

nlohmann::json to_json(const Hatch& hatch) {
    nlohmann::json segments = nlohmann::json::array();
    for (const HatchRun& r : hatch.runs)
        segments.push_back({rounded(r.from.x), rounded(r.from.y), rounded(r.to.x), rounded(r.to.y)});
    return {{"lines", hatch.line_start.size()},
            {"length_mm", rounded(hatch.length_mm())},
            {"segments_mm", std::move(segments)}};
}

} // namespace finch
