// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/next_sheet.h"

#include "quantity/format.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace finch {
namespace {

/// Share by which one axis is opened on either side of its centre.
AxisPlan around(const SheetAxis& axis, double centre, double steps_either_side, int count, const KnobLimits& limits) {
    const auto n = axis.values.size();
    AxisPlan plan{axis.knob, centre, centre, count, axis.steps};
    if (axis.steps == Steps::ratio) {
        const double ratio =
            n > 1 ? std::pow(axis.values.back() / axis.values.front(), 1.0 / static_cast<double>(n - 1)) : 1.1;
        const double reach = std::pow(std::max(ratio, 1 / ratio), steps_either_side);
        plan.from = centre / reach;
        plan.to = centre * reach;
    } else {
        const double step = n > 1 ? std::abs(axis.values.back() - axis.values.front()) / static_cast<double>(n - 1)
                                  : 0.1 * std::abs(centre);
        plan.from = centre - steps_either_side * step;
        plan.to = centre + steps_either_side * step;
    }
    plan.from = std::clamp(plan.from, limits.low, limits.high);
    plan.to = std::clamp(plan.to, limits.low, limits.high);
    if (n > 1 && axis.values.front() > axis.values.back())
        std::swap(plan.from, plan.to);
    return plan;
}

/// Best predicted difference to the target over a sheet, and how much it moves with the spread of the film.
std::optional<std::pair<double, double>> hope(const ProofSheet& sheet, const SheetForecast& forecast,
                                              const Metal& metal, const Target& target) {
    double best = 1e9, spread = 0;
    for (std::size_t i = 0; i < sheet.cells(); ++i) {
        const auto& f = forecast.cells.at(i);
        // A colour that nobody computed is no hope.
        if (f.fate != CellFate::marks || !f.prediction->film_seen())
            continue;
        const double de = distance(target, f.prediction->lab());
        if (de < best) {
            best = de;
            const ColourBand band = colour_band(*f.prediction, metal, 0);
            spread = 0.5 * std::abs(distance(target, band.thicker) - distance(target, band.thinner));
        }
    }
    return best < 1e9 ? std::optional(std::pair{best, spread}) : std::nullopt;
}

bool on_rim(std::size_t index, std::size_t count) {
    return count > 1 && (index == 0 || index + 1 == count);
}

} // namespace

Expected<NextSheet> next_sheet(const ProofSheet& sheet, const SheetReading& reading, const Target& target,
                               std::size_t chosen, const Scene& scene) {
    const std::size_t column = chosen % sheet.columns();
    const std::size_t row = chosen / sheet.columns();
    const auto centre = [&](const SheetAxis& axis, std::size_t at) { return axis.values.at(at); };
    // A cell on the rim may have its better neighbour outside: the range moves half way out.
    const bool rim = on_rim(column, sheet.columns()) || on_rim(row, sheet.rows());
    const double reach = rim ? 2.0 : 1.25;
    NextSheet out;
    SheetRequest& r = out.request;
    r.number = sheet.number + 1;
    r.aim = sheet.aim;
    r.base = cell_recipe(sheet, chosen);
    r.across =
        around(sheet.across, centre(sheet.across, column), reach, 6, knob_limits(scene.bench, sheet.across.knob));
    r.down = around(sheet.down, centre(sheet.down, row), reach, 5, knob_limits(scene.bench, sheet.down.knob));
    r.cell_width = sheet.cell_width;
    r.cell_height = sheet.cell_height;
    r.gap = sheet.gap;
    const auto planned = plan_sheet(r, scene.bench, sheet.label_recipe);
    if (!planned)
        return tl::unexpected(planned.error());
    const SheetForecast expected = forecast(*planned, scene);
    if (const auto best = hope(*planned, expected, scene.metal, target)) {
        out.hoped_de = best->first;
        out.hoped_spread = best->second;
    }
    const CellReading& cell = reading.cells.at(chosen);
    const double de = cell.state == CellState::read ? distance(target, cell.lab) : 0;
    out.reason = fmt::format(
        "{} is {} from {}{}. Next: {} round it.", cell_name(sheet, chosen), format_number(de, 2), target.name,
        scene.evidence.sheets > 0
            ? fmt::format("; films run {} % {}",
                          format_number(100 * std::abs(std::sqrt(scene.evidence.growth_gain) - 1), 2),
                          scene.evidence.growth_gain < 1 ? "thin" : "thick")
            : "",
        rim ? "wider steps, as it lies on the rim," : "smaller steps");
    return out;
}

Expected<NextSheet> opening_sheet(const Target& target, const Recipe& base, Knob across, Knob down,
                                  const Scene& scene) {
    // Walk the first knob over all that the bench can do and start where the model expects the target. Colours repeat
    // with the film's order, so a search downhill from the present value could end in a pale second order.
    const KnobLimits limits = knob_limits(scene.bench, across);
    const double now = knob_value(base, across);
    Recipe start = base;
    double best = 1e9;
    std::optional<Error> last;
    constexpr int steps = 240;
    const bool by_ratio = traits(across).by_ratio && now > 0;
    const double low = by_ratio ? std::max(limits.low, now / 100) : limits.low;
    const double high = by_ratio ? std::min(limits.high, now * 100) : limits.high;
    for (int i = 0; i <= steps; ++i) {
        const double t = static_cast<double>(i) / steps;
        const double v = by_ratio ? low * std::pow(high / low, t) : low + t * (high - low);
        const Recipe r = with_knob(base, across, v);
        const auto p = predict(scene, r, {mm(5), 20}, straight);
        if (!p) {
            last = p.error();
            continue;
        }
        if (p->shares.film() < 0.5)
            continue;
        const double de = distance(target, p->lab());
        if (de < best - 1e-9) {
            best = de;
            start = r;
        }
    }
    if (best > 1e8)
        return last ? tl::unexpected(*last)
                    : tl::unexpected(Error{"proof.no_start",
                                           "No setting near this recipe marks without melting.",
                                           "Lower the power or raise the frequency of the base recipe.",
                                           {}});
    const double factor = scene.evidence.sheets == 0 ? 1.9 : 1.35;
    const auto axis = [&](Knob knob, double share) {
        const KnobLimits l = knob_limits(scene.bench, knob);
        const double v = knob_value(start, knob);
        const double f = std::pow(factor, share);
        const bool ratio = v > 0 && knob != Knob::passes && knob != Knob::hatch_angle && knob != Knob::turn_per_pass;
        if (ratio)
            return AxisPlan{knob, std::clamp(v / f, l.low, l.high), std::clamp(v * f, l.low, l.high), 6, Steps::ratio};
        const double step = knob == Knob::passes ? 3 : knob == Knob::focus_offset ? 1 : 30;
        return AxisPlan{knob, std::clamp(v - step, l.low, l.high), std::clamp(v + step, l.low, l.high), 6,
                        Steps::linear};
    };
    NextSheet out;
    out.request.aim = target.name;
    out.request.base = start;
    out.request.across = axis(across, 1);
    out.request.across.count = 8;
    out.request.down = axis(down, 0.8);
    out.hoped_de = best;
    out.reason = fmt::format("The model expects {} near {} {} {}; without a sheet on this lot its films are good to {} "
                             "%, so both axes are wide.",
                             target.name, traits(across).label, format_number(knob_value(start, across), 3),
                             traits(across).unit, scene.evidence.sheets == 0 ? 30 : 10);
    return out;
}

} // namespace finch
