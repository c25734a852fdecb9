// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/fill_check.h"

#include "quantity/angles.h"
#include "quantity/format.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace finch {

Expected<Prediction> predict_layer(const Scene& scene, const JobLayer& layer) {
    const double area = area_mm2(layer.region);
    return predict(scene, *layer.recipe, {mm(std::clamp(std::sqrt(area), 0.1, 1000.0)), std::clamp(area, 0.01, 1e6)});
}

std::vector<Finding> fill_findings(const Recipe& recipe, const LayerFill& fill, double spot_mm) {
    std::vector<Finding> out;
    const auto add = [&](const char* code, Severity severity, std::string message, std::string remedy) {
        out.push_back({code, severity, std::nullopt, std::move(message), std::move(remedy)});
    };
    const bool film = recipe.process == Process::anneal || recipe.process == Process::colour;
    if (fill.contours > 0)
        add("fill.edge_twice", film ? Severity::warning : Severity::note,
            film ? "Along its edges the metal is heated twice: the film is thicker there, and a line of another colour "
                   "shows."
                 : "Along its edges the beam comes twice: walls are cleaner, and the rim is cut deeper than the floor.",
            film ? "Leave the contours out." : "");
    if (recipe.cross_hatch)
        add("fill.crossed", film ? Severity::warning : Severity::note,
            "Every pass is marked a second time across: twice the dose and twice the time.",
            film ? "On a film take one pass less, or do not cross." : "");
    const int directions = distinct_directions(recipe.turn_per_pass_deg);
    const int passes = recipe.setting.passes;
    if (recipe.turn_per_pass_deg != 0 && passes > 1)
        add("fill.directions",
            directions > 0 && directions < 24 && directions < passes ? Severity::warning : Severity::note,
            directions == 0
                ? fmt::format("Turned by {} deg, no direction comes back within 180 passes.",
                              format_number(recipe.turn_per_pass_deg))
                : fmt::format("Turned by {} deg, the lines lie in {} directions and then over each other again.",
                              format_number(recipe.turn_per_pass_deg), directions),
            directions > 0 && directions < passes ? "An odd turn such as 67 deg spreads them." : "");
    else if (passes > 3 && recipe.line_shift_percent == 0 && recipe.process == Process::deep_engrave)
        add("fill.grooves", Severity::warning, "Every pass runs in the grooves of the one before.",
            "Turn the lines by 67 deg a pass, or shift them by a third of the pitch.");
    if (fill.one_way)
        add("fill.one_way", Severity::note,
            "Every line runs the same way: its beginning is always at the same edge, and the way back marks nothing.",
            "");
    if (fill.inset_mm < 0.45 * spot_mm)
        add("fill.wider", Severity::note,
            fmt::format(
                "The mark is up to {} \u00b5m wider all round than it is drawn: half the spot, less what is kept free.",
                format_number(std::round(1e3 * (0.5 * spot_mm - fill.inset_mm)))),
            "Keep half the spot free where the edge must be as drawn.");
    else if (fill.inset_mm > 0.8 * spot_mm)
        add("fill.narrower", Severity::note,
            fmt::format("The mark is about {} \u00b5m narrower all round than it is drawn.",
                        format_number(std::round(1e3 * (fill.inset_mm - 0.5 * spot_mm)))),
            "");
    return out;
}

Expected<std::vector<ArtFinding>> closing_walls(const Region& region, std::size_t layer, double depth_um,
                                                double taper_deg) {
    constexpr std::size_t most_told = 20;
    const double lean = std::tan(taper_deg * pi / 180), closes_mm = 2e-3 * depth_um * lean;
    return narrow_parts(region, closes_mm).map([&](const std::vector<NarrowPart>& parts) {
        std::vector<ArtFinding> out;
        for (const NarrowPart& n : parts) {
            if (out.size() == most_told) {
                out.push_back({"closing_wall", layer, {}, {}, false, "There are more of this kind."});
                break;
            }
            out.push_back({"closing_wall", layer, n.at, n.width_mm, false,
                           fmt::format("A groove {:.3f} mm wide closes at {:.0f} of {:.0f} \u00b5m: its walls lean "
                                       "{:.0f}\u00b0.",
                                       n.width_mm, 500 * n.width_mm / lean, depth_um, taper_deg)});
        }
        return out;
    });
}

Expected<std::vector<ArtFinding>> closing_walls(const Scene& scene, const JobLayer& layer, std::size_t index) {
    const auto p = predict_layer(scene, layer);
    if (!p || !p->removal)
        return std::vector<ArtFinding>();
    return closing_walls(layer.region, index, p->depth_um(), p->removal->taper_deg);
}

} // namespace finch
