// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "recipe/bounded_search.h"

#include <algorithm>
#include <nlopt.hpp>
#include <random>

namespace finch {
namespace {

struct Seen {
    const std::function<double(const std::vector<double>&)>& function;
    SearchResult best;
};

double evaluate(const std::vector<double>& x, std::vector<double>&, void* data) {
    Seen& seen = *static_cast<Seen*>(data);
    const double v = seen.function(x);
    if (v < seen.best.value)
        seen.best = {x, v};
    return v;
}

} // namespace

SearchResult minimise(const std::function<double(const std::vector<double>&)>& function, std::vector<double> start,
                      int evaluations, double first_step) {
    for (double& v : start)
        v = std::clamp(v, 0.0, 1.0);
    Seen seen{function, {start, function(start)}};
    if (start.empty())
        return seen.best;
    nlopt::opt search(nlopt::LN_SBPLX, static_cast<unsigned>(start.size()));
    search.set_lower_bounds(0.0);
    search.set_upper_bounds(1.0);
    search.set_min_objective(evaluate, &seen);
    search.set_initial_step(first_step);
    search.set_maxeval(evaluations);
    search.set_xtol_rel(1e-4);
    try {
        double value = 0;
        std::vector<double> x = start;
        search.optimize(x, value);
    } catch (const std::runtime_error&) {
        // Rounding stopped it: the best point seen is still the best point seen.
    }
    return seen.best;
}

SearchResult follow_the_crowd(const std::function<double(const std::vector<double>&)>& function,
                              std::vector<SearchResult> crowd, int evaluations) {
    const auto best = [&] {
        return *std::min_element(crowd.begin(), crowd.end(),
                                 [](const SearchResult& a, const SearchResult& b) { return a.value < b.value; });
    };
    if (crowd.size() < 4 || crowd.front().x.empty())
        return best();
    std::mt19937 random(1997);
    const auto share = [&] { return static_cast<double>(random()) / 4294967296.0; };
    for (int i = 0; i < evaluations; ++i) {
        SearchResult& here = crowd[static_cast<std::size_t>(i) % crowd.size()];
        const SearchResult top = best();
        const auto& a = crowd[random() % crowd.size()].x;
        const auto& b = crowd[random() % crowd.size()].x;
        const double length = 0.5 + 0.5 * share(), pull = 0.3 + 0.5 * share();
        std::vector<double> x = here.x;
        for (std::size_t k = 0; k < x.size(); ++k)
            if (share() < 0.9)
                x[k] = std::clamp(x[k] + pull * (top.x[k] - x[k]) + length * (a[k] - b[k]), 0.0, 1.0);
        if (const double value = function(x); value <= here.value)
            here = {std::move(x), value};
    }
    return best();
}

} // namespace finch
