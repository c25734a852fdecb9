// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "search/depth_cells.h"

#include "quantity/format.h"
#include "recipe/predict.h"
#include "search/draws.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace finch {
namespace {

constexpr double cell_to_cell = 0.04; // of ln depth: what one bench does twice
constexpr double reach = 2.2;         // standard deviations that the trials span
constexpr double step_ln = 0.04;
constexpr std::size_t depths_drawn = 400;
// Deep cells take minutes, and the next round is sure to know more: a cell must pay more than one of a film's.
constexpr double depth_pays = 0.08, depth_per_minute = 0.03;
constexpr double narrow = 0.09; // of the depth: less than the tenth that workshops mean

/// Recipes by depth: asks the model, and knows where it refuses.
class Deepener {
public:
    Deepener(const Scene& scene, Recipe base, const Fill& fill) : scene_(scene), base_(std::move(base)), fill_(fill) {}

    [[nodiscard]] std::optional<DepthTrial> at(int passes, double speed_factor) const {
        Recipe r = base_;
        r.setting.passes = passes;
        const KnobLimits speeds = knob_limits(scene_.bench, Knob::scan_speed);
        if (speed_factor != 1)
            r = with_knob(
                r, Knob::scan_speed,
                std::clamp(with_digits(knob_value(r, Knob::scan_speed) * speed_factor, 3), speeds.low, speeds.high));
        return depth_trial(scene_, r, fill_);
    }
    /// Nearest to a depth by passes alone, then by speed where a pass is too coarse a step.
    [[nodiscard]] std::optional<DepthTrial> near(double um) const {
        int low = 1, high = 2;
        std::optional<DepthTrial> best = at(1, 1);
        if (!best)
            return std::nullopt;
        const auto off = [&](const DepthTrial& t) { return std::abs(std::log(t.um / um)); };
        const auto keep = [&](const std::optional<DepthTrial>& t) {
            if (t && off(*t) < off(*best))
                best = t;
        };
        std::optional<DepthTrial> above = best;
        while (above && above->um < um && high < most_passes) {
            low = high / 2;
            above = at(high, 1);
            keep(above);
            high *= 2;
        }
        for (high = std::min(high, most_passes); high - low > 1;) {
            const int middle = low + (high - low) / 2;
            const auto t = at(middle, 1);
            keep(t);
            (t && t->um < um ? low : high) = middle;
        }
        if (constexpr double close = 0.02; off(*best) > close) {
            // Depth goes about inversely with speed; two steps are near enough for a cell.
            double factor = 1;
            const int passes = best->recipe.setting.passes;
            for (int i = 0; i < 2; ++i) {
                const auto t = at(passes, factor = std::clamp(factor * best->um / um, 0.5, 2.0));
                if (!t)
                    break;
                keep(t);
            }
        }
        return best;
    }

private:
    const Scene& scene_;
    Recipe base_;
    Fill fill_;
};

/// Depths of the trials on benches that may be, bench by bench: one factor is the bench's, a little is each cell's.
std::vector<std::vector<double>> depth_worlds(std::span<const DepthTrial> trials, std::uint64_t seed) {
    Draws draws(seed);
    std::vector<std::vector<double>> out;
    for (std::size_t w = 0; w < depths_drawn; ++w) {
        const double bench = draws.normal();
        std::vector<double> um;
        for (const DepthTrial& t : trials) {
            const double own = std::min(cell_to_cell, 0.5 * t.spread_ln);
            const double common = std::sqrt(t.spread_ln * t.spread_ln - own * own);
            um.push_back(t.um * std::exp(common * bench + own * draws.normal()));
        }
        out.push_back(std::move(um));
    }
    return out;
}

} // namespace

std::optional<DepthTrial> depth_trial(const Scene& scene, const Recipe& recipe, const Fill& fill) {
    const auto p = predict(scene, recipe, fill, unseen);
    if (!p || !p->removal || !(p->depth_um() > 0))
        return std::nullopt;
    const double sd = p->removal->spread_ln;
    if (p->burn_index > 1 || p->depth_um() * std::exp(sd) > in_micrometres(scene.stock.thickness))
        return std::nullopt;
    return DepthTrial{recipe, p->depth_um(), sd, p->mark.pattern.time_s};
}

std::vector<DepthTrial> depth_trials(const Scene& scene, const Recipe& base, const Fill& fill,
                                     const WantedDepth& wanted) {
    const Deepener deepener(scene, base, fill);
    std::vector<DepthTrial> out;
    const auto middle = deepener.near(wanted.um);
    if (!middle)
        return out;
    const int steps = static_cast<int>(std::ceil(reach * middle->spread_ln / step_ln));
    for (int i = -steps; i <= steps; ++i)
        if (auto t = deepener.near(wanted.um * std::exp(step_ln * i));
            t && std::ranges::none_of(out, [&](const DepthTrial& o) { return o.recipe == t->recipe; }))
            out.push_back(std::move(*t));
    std::ranges::sort(out, {}, &DepthTrial::um);
    return out;
}

NextCells next_depth_cells(const WantedDepth& wanted, std::span<const DepthTrial> trials, const CellBudget& budget,
                           std::uint64_t seed) {
    NextCells out;
    out.risk = 0;
    if (trials.empty())
        return out;
    std::vector<std::vector<double>> value;
    std::vector<std::vector<bool>> met;
    for (const std::vector<double>& depths : depth_worlds(trials, seed)) {
        std::vector<double> v;
        std::vector<bool> m;
        for (const double um : depths) {
            const double off = std::abs(um - wanted.um), near = met_within * wanted.within_um;
            m.push_back(off < near);
            v.push_back(off < near ? 1 : 0.1 / (1 + std::pow((off - near) / wanted.within_um, 2)));
        }
        value.push_back(std::move(v));
        met.push_back(std::move(m));
    }
    std::vector<double> cost;
    for (const DepthTrial& t : trials)
        cost.push_back(depth_per_minute * t.seconds / 60);
    std::vector<std::size_t> chosen = greedy_cover(value, cost, budget.most, depth_pays);
    // Of a narrow band no single cell pays much: two at least, one to each side of what is expected.
    if (wanted.within_um < narrow * wanted.um && chosen.size() < 2)
        chosen = greedy_cover(value, cost, std::min<std::size_t>(2, budget.most), -1);
    for (const std::size_t k : chosen)
        if (out.seconds + trials[k].seconds <= budget.seconds) {
            out.cells.push_back(k);
            out.seconds += trials[k].seconds;
        }
    std::size_t reached = 0;
    for (const std::vector<bool>& world : met)
        reached += std::ranges::any_of(out.cells, [&](std::size_t k) { return world[k]; }) ? 1U : 0U;
    out.promise = static_cast<double>(reached) / depths_drawn;
    out.for_goal = out.cells.size();
    return out;
}

double chance_of(const WantedDepth& wanted, std::span<const DepthTrial> cells, std::uint64_t seed) {
    std::size_t reached = 0;
    for (const std::vector<double>& depths : depth_worlds(cells, seed))
        reached += std::ranges::any_of(
                       depths, [&](double um) { return std::abs(um - wanted.um) < met_within * wanted.within_um; })
                       ? 1U
                       : 0U;
    return static_cast<double>(reached) / depths_drawn;
}

double depth_belief(const WantedDepth& wanted, double um, double within_um) {
    const double sd = std::max(within_um / 1.645, 1e-6);
    const auto below = [&](double x) { return 0.5 * std::erfc((um - x) / (sd * std::numbers::sqrt2)); };
    return below(wanted.um + wanted.within_um) - below(wanted.um - wanted.within_um);
}

} // namespace finch
