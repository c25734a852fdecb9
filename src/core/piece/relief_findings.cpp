// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/relief_cut.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace finch {
namespace {

constexpr double deg = 3.14159265358979323846 / 180;

} // namespace

std::vector<Finding> relief_findings(const Scene& scene, const ReliefRules& rules, const HeightMap& picture,
                                     const GreyUse& use, const ReliefMap& map, const ReliefCut& cut) {
    std::vector<Finding> out;
    const auto add = [&](const char* code, Severity severity, std::string message, std::string remedy = {}) {
        out.push_back({code, severity, std::nullopt, std::move(message), std::move(remedy)});
    };
    using enum Severity;
    const double stock_um = in_micrometres(scene.stock.thickness);
    if (cut.reached_most_um() > 0.8 * stock_um)
        add("relief.thin_stock", cut.reached_um() > 0.8 * stock_um ? blocking : warning,
            fmt::format("The deepest place may leave {:.2f} mm of {:.2f} mm.",
                        std::max(0.0, stock_um - cut.reached_most_um()) / 1000, stock_um / 1000),
            "Less depth, or thicker stock.");
    if (cut.stalls)
        add("relief.stalls", warning,
            fmt::format("It stalls at {:.0f} µm of {:.0f}: the floor lies {:.2f} mm under the focus, and debris costs "
                        "{:.0f} %.",
                        cut.depth_um.back(), rules.depth_um, cut.behind_mm, 100 * cut.debris_loss),
            rules.follow ? "Clean between layers, or take a stronger recipe." : "Let the focus follow the floor.");
    else if (rules.depth_um > 0 && cut.depth_um.back() > 1.1 * rules.depth_um && cut.fitting_layers != map.layers)
        add("relief.overshoots", warning,
            fmt::format("Whole passes of {} layers come to {:.0f} µm, {:.0f} are wanted.", map.layers,
                        cut.depth_um.back(), rules.depth_um),
            fmt::format("{} layers fit.", cut.fitting_layers));
    if (cut.behind_mm > 0 && rules.follow && !cut.focus_mm.empty() &&
        cut.focus_mm.back() + 1e-6 >= rules.follow_most_mm && 1e-3 * cut.reached_um() > rules.follow_most_mm)
        add("relief.focus_limit", warning, fmt::format("The focus stops following at {:.2f} mm.", rules.follow_most_mm),
            "Raise that limit.");
    const double wasted = 1 - (use.lightest - use.darkest) / (rules.levels.white - rules.levels.black);
    if (wasted > 0.1)
        add("relief.wasted_greys", warning,
            fmt::format("The picture uses greys {:.2f} to {:.2f}: {:.0f} % of the depth is wasted.", use.darkest,
                        use.lightest, 100 * wasted),
            "Move black and white to where its greys begin and end.");
    if (cut.doubled_layers > 0)
        add("relief.doubled", warning,
            fmt::format("{} of {} layers repeat the one above: the picture has {} greys{}.", cut.doubled_layers,
                        map.layers, use.greys, picture.bits == 8 ? ", 8 bits" : ""),
            picture.bits == 8 ? "Fewer layers, or a picture of 16 bits." : "Fewer layers.");
    if (cut.sz_um > 0)
        add("relief.terraces", cut.terrace_um > 0.25 * cut.sz_um ? warning : note,
            fmt::format("Steps of {:.1f} µm {} in a floor of Sz {:.0f} µm (Sa {:.1f}).", cut.terrace_um,
                        cut.terrace_um > 0.25 * cut.sz_um ? "show" : "are lost", cut.sz_um, cut.sa_um),
            cut.terrace_um > 0.25 * cut.sz_um ? "More layers make them lower." : "");
    if (cut.wall_um > 0 && cut.wall_um < cut.spot_um)
        add("relief.thin_wall", warning,
            fmt::format("Walls of {:.0f} µm are thinner than the spot of {:.0f} and burn away.", cut.wall_um,
                        cut.spot_um),
            "Larger, or a lens with a smaller spot.");
    const double closes_um = 2 * 0.5 * cut.reached_um() * std::tan(cut.taper_deg * deg);
    if (cut.gap_um > 0 && cut.gap_um < std::max(closes_um, cut.spot_um))
        add("relief.narrow_gap", warning,
            fmt::format("Gaps of {:.0f} µm close before half the depth: walls lean {:.0f}°.", cut.gap_um,
                        cut.taper_deg),
            "Larger, or less depth.");
    if (1000 * map.pixel_mm > 0.5 * cut.spot_um)
        add("relief.coarse_pixels", warning,
            fmt::format("A pixel is {:.0f} µm, over half the spot: edges come out in steps.", 1000 * map.pixel_mm),
            "A picture with more pixels.");
    if (cut.stages.dark_from)
        add("relief.dark", note,
            cut.stages.emerges_at
                ? fmt::format("Dark and dusty from pass {}; the shape shows at about pass {}: let it run.",
                              *cut.stages.dark_from, *cut.stages.emerges_at)
                : fmt::format("Dark and dusty from pass {}; the shape hardly shows.", *cut.stages.dark_from));
    else if (cut.stages.emerges_at)
        add("relief.emerges", note, fmt::format("The shape shows at about pass {}.", *cut.stages.emerges_at));
    std::ranges::stable_sort(out, [](const Finding& a, const Finding& b) { return a.severity > b.severity; });
    return out;
}

} // namespace finch
