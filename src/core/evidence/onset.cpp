// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "evidence/onset.h"

#include "physics/shares.h"

#include <algorithm>
#include <cmath>
#include <utility>
#include <vector>

namespace finch {
namespace {

constexpr double slips = 0.02; ///< places that say the other thing for reasons of their own
constexpr int grid_places = 241, sharpnesses = 14;

/// Quantile of weighted values, which are sorted here.
double weighted_quantile(std::vector<std::pair<double, double>>& weighted, double share) {
    std::ranges::sort(weighted);
    double sum = 0;
    for (const auto& [value, weight] : weighted)
        if ((sum += weight) >= share)
            return value;
    return weighted.back().first;
}

} // namespace

Onset onset_of(std::span<const SeenAlong> seen, double widest) {
    const auto [lowest, highest] = std::ranges::minmax(seen, {}, &SeenAlong::at);
    const double low = lowest.at, high = highest.at, room = 0.6 * (high - low);
    std::vector<std::pair<double, double>> middles, tenths; // value and weight
    double most = -1e300;
    std::vector<double> fits;
    for (int m = 0; m < grid_places; ++m)
        for (int s = 0; s < sharpnesses; ++s) {
            const double middle = low - room + (high - low + 2 * room) * m / (grid_places - 1);
            const double sharp = 0.01 * std::pow(35.0, static_cast<double>(s) / (sharpnesses - 1));
            double fit = 0;
            for (const SeenAlong& c : seen) {
                const double p = slips + (1 - 2 * slips) * normal_share((c.at - middle) / sharp);
                fit += std::log(c.has ? p : 1 - p);
            }
            middles.emplace_back(middle, 0);
            tenths.emplace_back(middle - 1.2816 * sharp, 0);
            fits.push_back(fit);
            most = std::max(most, fit);
        }
    double sum = 0;
    for (double& f : fits)
        sum += f = std::exp(f - most);
    double below = 0, above = 0;
    for (std::size_t i = 0; i < fits.size(); ++i) {
        const double weight = fits[i] / sum;
        middles[i].second = tenths[i].second = weight;
        below += middles[i].first < low ? weight : 0;
        above += middles[i].first > high ? weight : 0;
    }
    Onset o;
    o.at = weighted_quantile(middles, 0.5);
    o.low = weighted_quantile(middles, 0.05);
    o.high = weighted_quantile(middles, 0.95);
    o.spared = weighted_quantile(tenths, 0.05);
    using Found = Onset::Found;
    o.found = above > 0.5               ? Found::above
              : below > 0.5             ? Found::below
              : o.high - o.low > widest ? Found::unclear
                                        : Found::within;
    return o;
}

} // namespace finch
