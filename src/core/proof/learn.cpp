// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/learn.h"

#include "physics/colour_difference.h"
#include "quantity/format.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <numeric>

namespace finch {
namespace {

constexpr double finest_nm = 1.0;
constexpr double thickest_nm = 900.0;

/// Colour of a film by thickness, for one metal: two tables that the haze mixes.
class FilmColours {
public:
    explicit FilmColours(const FilmOptics& film) {
        for (double nm = 0; nm <= thickest_nm; nm += finest_nm * 2) {
            mirror_.push_back(to_xyz(film.surface(nm * 1e-9, 0)));
            scattered_.push_back(to_xyz(film.hemispherical(nm * 1e-9)));
        }
    }
    [[nodiscard]] Lab at(double nm, double haze) const {
        const double position = std::clamp(nm / (finest_nm * 2), 0.0, static_cast<double>(mirror_.size() - 2));
        const auto i = static_cast<std::size_t>(position);
        const double t = position - static_cast<double>(i);
        const auto mix = [&](double Xyz::*part) {
            return (1 - haze) * ((1 - t) * mirror_[i].*part + t * mirror_[i + 1].*part) +
                   haze * ((1 - t) * scattered_[i].*part + t * scattered_[i + 1].*part);
        };
        return to_lab(Xyz{mix(&Xyz::x), mix(&Xyz::y), mix(&Xyz::z)});
    }

private:
    std::vector<Xyz> mirror_, scattered_;
};

struct Observation {
    double predicted_nm = 0; ///< with the gain used before
    double haze = 0;
    Lab measured;
    double weight = 1;
};

double scaled_nm(double predicted_nm, double gain_ratio, double native_nm) {
    return std::sqrt(native_nm * native_nm + gain_ratio * (predicted_nm * predicted_nm - native_nm * native_nm));
}

/// A cost that grows up to ten and no further, so that a burnt or dirty cell does not pull the fit.
double bounded(double de) {
    return std::min(de, 10.0);
}

double median(std::vector<double> values) {
    if (values.empty())
        return 0;
    const auto middle = values.begin() + static_cast<long>(values.size() / 2);
    std::nth_element(values.begin(), middle, values.end());
    return *middle;
}

double cost(const std::vector<Observation>& cells, const FilmColours& colours, double ratio, double native_nm) {
    double sum = 0, weight = 0;
    for (const Observation& o : cells) {
        sum +=
            o.weight * bounded(delta_e00(colours.at(scaled_nm(o.predicted_nm, ratio, native_nm), o.haze), o.measured));
        weight += o.weight;
    }
    return sum / weight;
}

double best_ratio(const std::vector<Observation>& cells, const FilmColours& colours, double native_nm, double from,
                  double to) {
    constexpr int steps = 120;
    double best = 1, lowest = 1e9;
    for (int i = 0; i <= steps; ++i) {
        const double ratio = from * std::pow(to / from, static_cast<double>(i) / steps);
        const double c = cost(cells, colours, ratio, native_nm);
        if (c < lowest) {
            lowest = c;
            best = ratio;
        }
    }
    return best;
}

std::vector<Observation> observations(const ProofSheet& sheet, const SheetReading& reading,
                                      const SheetForecast& forecast) {
    std::vector<Observation> out;
    for (std::size_t i = 0; i < sheet.cells(); ++i) {
        const CellReading& c = reading.cells.at(i);
        const auto& p = forecast.cells.at(i).prediction;
        if (c.state != CellState::read || !p || !p->mark.look.valid || p->oxide_nm() < 6 || p->oxide_nm() > 600)
            continue;
        out.push_back({p->oxide_nm(), p->mark.look.haze, c.lab, std::max(0.05, c.confidence)});
    }
    return out;
}

std::vector<double> median_differences(const std::vector<Observation>& cells, const FilmColours& colours, double ratio,
                                       double native_nm) {
    std::vector<double> out;
    for (const Observation& o : cells)
        out.push_back(delta_e00(colours.at(scaled_nm(o.predicted_nm, ratio, native_nm), o.haze), o.measured));
    return out;
}

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
std::pair<double, double> hope(const ProofSheet& sheet, const SheetForecast& forecast, const Metal& metal,
                               const Target& target) {
    double best = 1e9, spread = 0;
    for (std::size_t i = 0; i < sheet.cells(); ++i) {
        const auto& f = forecast.cells.at(i);
        if (f.fate != CellFate::marks)
            continue;
        const double de = distance(target, f.prediction->lab());
        if (de < best) {
            best = de;
            const ColourBand band = colour_band(*f.prediction, metal, 0);
            spread = 0.5 * std::abs(distance(target, band.thicker) - distance(target, band.thinner));
        }
    }
    return {best, spread};
}

bool on_rim(std::size_t index, std::size_t count) {
    return count > 1 && (index == 0 || index + 1 == count);
}

} // namespace

double thickness_from_colour(const Metal& metal, const Lab& lab, double haze, double near_nm) {
    if (!metal.film->has_oxide())
        return 0;
    double best = near_nm, lowest = 1e9;
    for (int i = -60; i <= 60; ++i) {
        const double nm = near_nm * std::exp(0.01 * i);
        const double x = nm * 1e-9;
        const double de = delta_e00(specular_included(*metal.film, x, haze, 0, metal.film->hemispherical(x)).lab, lab);
        if (de < lowest) {
            lowest = de;
            best = nm;
        }
    }
    return best;
}

Expected<Lesson> learn(const ProofSheet& sheet, const SheetReading& reading, const Materials& materials,
                       const Metal& metal, const Bench& bench, const Stock& stock, const Evidence& before) {
    const SheetForecast old = forecast(sheet, materials, metal, bench, stock, before);
    const std::vector<Observation> cells = observations(sheet, reading, old);
    if (cells.size() < 3 || !metal.film->has_oxide())
        return failure(
            "proof.nothing_to_learn",
            fmt::format("Only {} cells show a film whose colour says something about its thickness.", cells.size()),
            "Burn a sheet with more cells that take a colour.");
    const double native_nm = materials.model.native_oxide_m * 1e9;
    const FilmColours colours(*metal.film);
    const double coarse = best_ratio(cells, colours, native_nm, 0.25, 4);
    const double ratio = best_ratio(cells, colours, native_nm, coarse / 1.04, coarse * 1.04);
    // How far single cells ask for another gain than all together: the spread that is left.
    std::vector<double> own;
    for (const Observation& o : cells)
        own.push_back(std::abs(std::log(best_ratio({o}, colours, native_nm, ratio / 1.6, ratio * 1.6) / ratio)));
    Lesson out;
    out.cells = cells.size();
    out.evidence = before;
    out.evidence.growth_gain = std::clamp(before.growth_gain * ratio, 0.05, 20.0);
    out.evidence.gain_spread_ln = 1.4826 * median(own);
    out.evidence.sheets = before.sheets + 1;
    out.evidence.cells = before.cells + static_cast<int>(cells.size());
    std::vector<double> ratios;
    for (const Observation& o : cells)
        ratios.push_back(scaled_nm(o.predicted_nm, ratio, native_nm) / o.predicted_nm);
    out.thickness_ratio = median(ratios);
    out.before_de = median(median_differences(cells, colours, 1, native_nm));
    out.after_de = median(median_differences(cells, colours, ratio, native_nm));
    return out;
}

Expected<NextSheet> next_sheet(const ProofSheet& sheet, const SheetReading& reading, const Target& target,
                               std::size_t chosen, const Materials& materials, const Metal& metal, const Bench& bench,
                               const Stock& stock, const Evidence& evidence) {
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
    r.across = around(sheet.across, centre(sheet.across, column), reach, 6, knob_limits(bench, sheet.across.knob));
    r.down = around(sheet.down, centre(sheet.down, row), reach, 5, knob_limits(bench, sheet.down.knob));
    r.cell_width = sheet.cell_width;
    r.cell_height = sheet.cell_height;
    r.gap = sheet.gap;
    const auto planned = plan_sheet(r, bench, sheet.label_recipe);
    if (!planned)
        return tl::unexpected(planned.error());
    const SheetForecast expected = forecast(*planned, materials, metal, bench, stock, evidence);
    std::tie(out.hoped_de, out.hoped_spread) = hope(*planned, expected, metal, target);
    const CellReading& cell = reading.cells.at(chosen);
    const double de = cell.state == CellState::read ? distance(target, cell.lab) : 0;
    out.reason = fmt::format(
        "{} is {} from {}{}. Next: {} round it.", cell_name(sheet, chosen), format_number(de, 2), target.name,
        evidence.sheets > 0
            ? fmt::format("; films run {} % {}", format_number(100 * std::abs(std::sqrt(evidence.growth_gain) - 1), 2),
                          evidence.growth_gain < 1 ? "thin" : "thick")
            : "",
        rim ? "wider steps, as it lies on the rim," : "smaller steps");
    return out;
}

Expected<NextSheet> opening_sheet(const Target& target, const Recipe& base, Knob across, Knob down,
                                  const Materials& materials, const Metal& metal, const Bench& bench,
                                  const Stock& stock, const Evidence& evidence) {
    // Walk the first knob over all that the bench can do and start where the model expects the target. Colours repeat
    // with the film's order, so a search downhill from the present value could end in a pale second order.
    const KnobLimits limits = knob_limits(bench, across);
    const double now = knob_value(base, across);
    const ViewingAngles normal{{0, 0, 0}, 1};
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
        const auto p = predict(materials, metal, bench, stock, r, {mm(5), 20}, evidence, normal);
        if (!p) {
            last = p.error();
            continue;
        }
        if (!p->mark.look.valid)
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
    const double factor = evidence.sheets == 0 ? 1.9 : 1.35;
    const auto axis = [&](Knob knob, double share) {
        const KnobLimits l = knob_limits(bench, knob);
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
                             traits(across).unit, evidence.sheets == 0 ? 30 : 10);
    return out;
}

} // namespace finch
