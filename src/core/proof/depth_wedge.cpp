// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/depth_wedge.h"

#include "physics/pulse.h"
#include "recipe/predict.h"
#include "search/draws.h"

#include <algorithm>
#include <boost/math/distributions/students_t.hpp>
#include <cmath>
#include <fmt/format.h>
#include <map>
#include <nlohmann/json.hpp>

namespace finch {
namespace {

constexpr std::size_t fewest_steps = 3, most_wedge_steps = 12, most_cells_of_step = 4;
constexpr double gauge_sd = 1.645;     ///< of what nine in ten lie within, in standard deviations
constexpr double least_scatter = 0.02; ///< of ln(depth): floors are rough

/// ln(depth) over ln(passes) by least squares, with what its numbers are known to.
struct PowerLaw {
    double mean_x = 0, mean_y = 0, slope = 1;
    double var_mean = 0, var_slope = 0, t = 1.645;

    [[nodiscard]] double at(double x) const { return mean_y + slope * (x - mean_x); }
    [[nodiscard]] double half(double x) const {
        return t * std::sqrt(var_mean + var_slope * (x - mean_x) * (x - mean_x));
    }
};

struct MeasuredDepth {
    double passes_ln = 0, depth_ln = 0, sd = 0;
};

PowerLaw law_through(const std::vector<MeasuredDepth>& depths) {
    PowerLaw law;
    double w = 0, wx = 0, wy = 0;
    for (const MeasuredDepth& d : depths) {
        const double weight = 1 / (d.sd * d.sd);
        w += weight;
        wx += weight * d.passes_ln;
        wy += weight * d.depth_ln;
    }
    law.mean_x = wx / w;
    law.mean_y = wy / w;
    double xx = 0, xy = 0;
    for (const MeasuredDepth& d : depths) {
        const double weight = 1 / (d.sd * d.sd), dx = d.passes_ln - law.mean_x;
        xx += weight * dx * dx;
        xy += weight * dx * (d.depth_ln - law.mean_y);
    }
    law.slope = xy / xx;
    double chi = 0;
    for (const MeasuredDepth& d : depths)
        chi += std::pow((d.depth_ln - law.at(d.passes_ln)) / d.sd, 2);
    const double freedom = static_cast<double>(depths.size()) - 2;
    // Cells that scatter more than the gauge says, or a law that is not quite a power, widen all of it.
    const double scale = std::max(1.0, chi / freedom);
    law.var_mean = scale / w;
    law.var_slope = scale / xx;
    law.t = boost::math::quantile(boost::math::students_t(freedom), 0.95);
    return law;
}

std::string wedge_words(const WedgeFinding& f, const std::optional<WantedDepth>& wanted) {
    std::string out = fmt::format("{:.3g} \u00b5m with the first pass ({:.3g} to {:.3g}); twice the passes make {:.2f} "
                                  "times the depth ({:.2f} to "
                                  "{:.2f}){}.",
                                  f.first_um, f.first_low, f.first_high, f.doubling, f.doubling_low, f.doubling_high,
                                  f.doubling_high < 2  ? ": it falls off"
                                  : f.doubling_low > 2 ? ": it grows"
                                                       : "");
    if (wanted && f.passes)
        out += fmt::format(" {:.3g} \u00b5m take {:.0f} passes ({:.0f} to {:.0f}){}.", wanted->um, std::ceil(*f.passes),
                           std::floor(*f.passes_low), std::ceil(*f.passes_high),
                           f.s_per_cm2 ? fmt::format(", {:.1f} min for a square centimetre", *f.s_per_cm2 / 60)
                                       : std::string());
    if (f.beyond > 2)
        out += fmt::format(" That is {:.0f} times as many as were measured: burn a longer wedge first.", f.beyond);
    return out;
}

} // namespace

Expected<ProofSheet> plan_wedge(const SheetRequest& request, const WedgeRequest& wanted, const Scene& scene,
                                const Recipe& labels, std::uint64_t seed) {
    const auto once = predict(scene, request.base, {request.cell_width, 20}, unseen);
    if (!once)
        return tl::unexpected(once.error());
    if (traits(request.base.process).lasting_colour || !once->removal || once->depth_um() <= 0)
        return failure("wedge.no_depth", "This recipe takes nothing away.", "Take a recipe that engraves.");
    if (wanted.steps < fewest_steps || wanted.steps > most_wedge_steps || wanted.times < 1 ||
        wanted.times > most_cells_of_step || wanted.most_passes < static_cast<int>(wanted.steps) ||
        wanted.most_passes > most_passes)
        return failure("wedge.passes",
                       fmt::format("{} steps of up to {} passes make no wedge.", wanted.steps, wanted.most_passes),
                       fmt::format("Take 3 to 12 steps, each 1 to 4 times, and from as many passes as steps up to {}.",
                                   most_passes));
    std::vector<Setting> cells;
    int last = 0;
    for (std::size_t i = 0; i < wanted.steps; ++i) {
        const double share = static_cast<double>(i) / static_cast<double>(wanted.steps - 1);
        last = std::max(last + 1, static_cast<int>(std::lround(std::pow(wanted.most_passes, share))));
        Setting s = request.base.setting;
        s.passes = last;
        cells.insert(cells.end(), wanted.times, s);
    }
    Draws chance(seed);
    for (std::size_t i = cells.size(); i > 1; --i)
        std::swap(cells[i - 1], cells[chance.below(i)]);
    auto sheet = plan_free_sheet(request, cells, scene.bench, labels);
    if (sheet)
        sheet->wedge = true;
    return sheet;
}

Expected<WedgeFinding> judge_wedge(const ProofSheet& sheet, const SheetReading& reading, const Scene& scene,
                                   const std::optional<WantedDepth>& wanted) {
    if (!sheet.wedge || reading.cells.size() != sheet.cells())
        return failure("wedge.none", fmt::format("Sheet {} is no step wedge.", sheet.number), "Plan one.");
    std::vector<MeasuredDepth> depths;
    std::map<int, std::vector<std::pair<double, double>>> by_passes;
    for (std::size_t i = 0; i < sheet.own.size(); ++i) {
        const CellReading& c = reading.cells[i];
        if (!c.depth_um || c.spoiled)
            continue;
        const double um = *c.depth_um, sd = c.depth_within_um / gauge_sd;
        if (um <= sd) // no more than the gauge's own error: no depth yet
            continue;
        depths.push_back({std::log(sheet.own[i].passes), std::log(um), std::hypot(sd / um, least_scatter)});
        by_passes[sheet.own[i].passes].emplace_back(um, c.depth_within_um);
    }
    if (by_passes.size() < fewest_steps)
        return failure(
            "wedge.too_few",
            fmt::format("Depths at {} pass counts are known that a gauge can tell from nothing.", by_passes.size()),
            "Measure more cells: three counts are the least.");
    const PowerLaw law = law_through(depths);
    WedgeFinding f;
    for (const auto& [passes, measured] : by_passes) {
        WedgeFinding::Step s{passes, 0, 0};
        for (const auto& [um, within] : measured) {
            s.um += um / static_cast<double>(measured.size());
            s.within_um = std::max(s.within_um, within);
        }
        f.steps.push_back(s);
    }
    f.first_um = std::exp(law.at(0));
    f.first_low = std::exp(law.at(0) - law.half(0));
    f.first_high = std::exp(law.at(0) + law.half(0));
    const double slope_half = law.t * std::sqrt(law.var_slope);
    f.doubling = std::exp2(law.slope);
    f.doubling_low = std::exp2(law.slope - slope_half);
    f.doubling_high = std::exp2(law.slope + slope_half);
    if (wanted && law.slope > 0.1) {
        const double y = std::log(wanted->um);
        const double x = law.mean_x + (y - law.mean_y) / law.slope;
        const double half = law.half(x) / law.slope;
        f.passes = std::max(1.0, std::exp(x));
        f.passes_low = std::max(1.0, std::exp(x - half));
        f.passes_high = std::max(1.0, std::exp(x + half));
        f.beyond = std::max(1.0, *f.passes / f.steps.back().passes);
        Setting s = sheet.base.setting;
        s.passes = 1;
        const Source& source = scene.bench.source;
        f.s_per_cm2 = std::ceil(*f.passes) * pattern(pulse_output(source, s), source, scene.bench.lens(), s, Fill{},
                                                     scene.materials.model.turn_s)
                                                 .pass_s;
    }
    f.words = wedge_words(f, wanted);
    return f;
}

nlohmann::json to_json(const WedgeFinding& f) {
    nlohmann::json steps = nlohmann::json::array();
    for (const auto& s : f.steps)
        steps.push_back({{"passes", s.passes}, {"depth_um", s.um}, {"within_um", s.within_um}});
    nlohmann::json out = {{"format", "finch-wedge-finding"},
                          {"version", 1},
                          {"steps", steps},
                          {"first_pass_um", f.first_um},
                          {"first_pass_um_within", {f.first_low, f.first_high}},
                          {"doubling", f.doubling},
                          {"doubling_within", {f.doubling_low, f.doubling_high}},
                          {"words", f.words}};
    if (f.passes) {
        out["passes"] = *f.passes;
        out["passes_within"] = {*f.passes_low, *f.passes_high};
        out["s_per_cm2"] = *f.s_per_cm2;
    }
    return out;
}

} // namespace finch
