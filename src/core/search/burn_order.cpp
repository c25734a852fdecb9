// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "search/burn_order.h"

#include "recipe/predict.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace finch {
namespace {

double square_mm(const CellPlace& a, const CellPlace& b) {
    return (a.x_mm - b.x_mm) * (a.x_mm - b.x_mm) + (a.y_mm - b.y_mm) * (a.y_mm - b.y_mm);
}

} // namespace

std::size_t grid_columns(std::size_t count) {
    const auto root = static_cast<std::size_t>(std::ceil(std::sqrt(static_cast<double>(count))));
    return std::min(count, std::max<std::size_t>(4, root));
}

std::vector<CellPlace> cell_grid(std::size_t count) {
    const std::size_t columns = grid_columns(count);
    std::vector<CellPlace> out;
    for (std::size_t i = 0; i < count; ++i)
        out.push_back({6.0 * static_cast<double>(i % columns), 5.0 * static_cast<double>(i / columns)});
    return out;
}

std::vector<std::size_t> burn_order(std::span<const CellPlace> places) {
    std::vector<std::size_t> order, left;
    for (std::size_t i = 0; i < places.size(); ++i)
        (i == 0 ? order : left).push_back(i);
    while (!left.empty()) {
        auto best = left.begin();
        double farthest = -1;
        for (auto k = left.begin(); k != left.end(); ++k) {
            double nearest = 1e300;
            // The last four, the older the less.
            for (std::size_t back = 0; back < std::min<std::size_t>(4, order.size()); ++back)
                nearest = std::min(nearest, square_mm(places[*k], places[order[order.size() - 1 - back]]) /
                                                (1 + 0.6 * static_cast<double>(back)));
            if (nearest > farthest) {
                farthest = nearest;
                best = k;
            }
        }
        order.push_back(*best);
        left.erase(best);
    }
    return order;
}

CellHeat cell_heat(const Prediction& cell) {
    const double absorbed_w = cell.mark.heat.absorptance * cell.mark.pulse.average_power_w;
    return {cell.heat_modelled ? absorbed_w : 0, cell.mark.pattern.time_s};
}

std::vector<std::size_t> cool_order(std::span<const CellPlace> places) {
    std::vector<std::size_t> order = burn_order(places);
    constexpr std::size_t most = 40; // of more the pairs are too many, and the last few matter less
    if (order.size() > most)
        return order;
    // As in expected_warmth(), with 4 s a cell on thin steel: what a place gets from another so many turns before.
    constexpr double cell_s = 4, spreads_mm2_s = 4, loss_s = 40;
    const std::size_t n = order.size();
    std::vector<double> given(n * n * n);
    for (std::size_t at = 0; at < n; ++at)
        for (std::size_t from = 0; from < n; ++from)
            for (std::size_t turns = 1; turns < n; ++turns) {
                const double t = cell_s * static_cast<double>(turns);
                given[(at * n + from) * n + turns] =
                    std::exp(-square_mm(places[at], places[from]) / (4 * spreads_mm2_s * t) - t / loss_s) / t;
            }
    const auto warmth = [&] {
        double sum = 0;
        for (std::size_t i = 0; i < n; ++i) {
            double rise = 0;
            for (std::size_t j = 0; j < i; ++j)
                rise += given[(order[i] * n + order[j]) * n + i - j];
            sum += rise * rise * rise * rise; // the warmest counts
        }
        return sum;
    };
    double least = warmth();
    for (bool better = true; better;) {
        better = false;
        for (std::size_t i = 0; i < order.size(); ++i)
            for (std::size_t j = i + 1; j < order.size(); ++j) {
                std::swap(order[i], order[j]);
                if (const double now = warmth(); now < least * (1 - 1e-9)) {
                    least = now;
                    better = true;
                } else
                    std::swap(order[i], order[j]);
            }
    }
    return order;
}

namespace {

/// A plate on which one cell after another is burned.
class WarmPlate {
public:
    WarmPlate(const Metal& metal, Length thickness)
        : diffusivity_(metal.diffusivity_bulk()), per_area_(metal.heat_capacity_bulk * in_metres(thickness)) {}
    /// Rise (K) in the middle of a cell's time, if it is burned after a rest.
    [[nodiscard]] double rise(const CellPlace& at, const CellHeat& cell, double rest_s) const {
        constexpr double soonest_s = 1.5, loss_s = 40, most_k = 400;
        double out = 0;
        for (const Spot& s : hot_) {
            const double t = std::max(soonest_s, now_s_ + rest_s + 0.5 * cell.seconds - s.when_s);
            out += s.energy_j / (4 * std::numbers::pi * diffusivity_ * t * per_area_) *
                   std::exp(-square_mm(s.at, at) * 1e-6 / (4 * diffusivity_ * t)) * std::exp(-t / loss_s);
        }
        return std::min(out, most_k);
    }
    void burn(const CellPlace& at, const CellHeat& cell, double rest_s) {
        constexpr double travel_s = 0.05;
        now_s_ += rest_s + cell.seconds + travel_s;
        hot_.push_back({cell.absorbed_w * cell.seconds, at, now_s_ - 0.5 * cell.seconds});
    }

private:
    struct Spot {
        double energy_j;
        CellPlace at;
        double when_s;
    };
    double diffusivity_, per_area_, now_s_ = 0;
    std::vector<Spot> hot_;
};

} // namespace

std::vector<double> expected_warmth(const Metal& metal, Length thickness, std::span<const CellPlace> places,
                                    std::span<const CellHeat> cells, std::span<const double> pause_s) {
    WarmPlate plate(metal, thickness);
    std::vector<double> out;
    for (std::size_t i = 0; i < places.size(); ++i) {
        const double rest_s = pause_s.empty() ? 0 : pause_s[i];
        out.push_back(plate.rise(places[i], cells[i], rest_s));
        plate.burn(places[i], cells[i], rest_s);
    }
    return out;
}

std::vector<double> rests_below(double below_k, double longest_s, const Metal& metal, Length thickness,
                                std::span<const CellPlace> places, std::span<const CellHeat> cells) {
    WarmPlate plate(metal, thickness);
    std::vector<double> out;
    for (std::size_t i = 0; i < places.size(); ++i) {
        double rest_s = 0;
        while (rest_s < longest_s && plate.rise(places[i], cells[i], rest_s) > below_k)
            rest_s = std::min(longest_s, rest_s + 1);
        plate.burn(places[i], cells[i], rest_s);
        out.push_back(rest_s);
    }
    return out;
}

} // namespace finch
