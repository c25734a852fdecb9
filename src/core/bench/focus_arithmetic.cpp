// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/focus_arithmetic.h"

#include "bench/positive.h"
#include "quantity/angles.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>

namespace finch {
namespace {

long whole_um(double mm) {
    // Half to even, as the default rounding mode does.
    return std::lrint(mm * 1000);
}

} // namespace

Expected<OffsetForSpot> offset_for_spot(Length spot_at_focus, Length rayleigh, Length wanted, Power peak_power,
                                        double air_limit) {
    const double d0 = in_mm(spot_at_focus), zr = in_mm(rayleigh), d = in_mm(wanted);
    if (auto fault = not_positive({{"spot at focus", d0}, {"depth", zr}, {"wanted spot", d}}))
        return tl::unexpected(*fault);
    if (d < d0 * (1 - 1e-9))
        return failure("setup.spot_below_focus", "The wanted spot is smaller than the focus.",
                       "Choose a larger spot or a shorter lens.");
    OffsetForSpot out;
    const double ratio = d / d0;
    const double z = zr * std::sqrt(std::max(0.0, ratio * ratio - 1));
    out.raised_mm = z;
    out.lowered_mm = -z;
    out.spot_per_mm = z == 0 ? 0 : d0 * z / (zr * zr) / std::sqrt(1 + (z / zr) * (z / zr));
    const double d0_cm = d0 / 10;
    out.air_irradiance_w_cm2 = 8 * in_watts(peak_power) / (std::numbers::pi * d0_cm * d0_cm);
    out.prefer_raised = out.air_irradiance_w_cm2 <= air_limit;
    return out;
}

Expected<ShimStack> shim_stack(double target_mm, const std::vector<double>& shims_mm, double tolerance_mm, int most) {
    if (auto fault = negative({{"height", target_mm}, {"tolerance", tolerance_mm}}))
        return tl::unexpected(*fault);
    const long target = whole_um(target_mm);
    std::vector<long> shims;
    for (const double s : shims_mm)
        shims.push_back(whole_um(s));
    std::sort(shims.rbegin(), shims.rend());
    if (!shims.empty() && shims.back() <= 0)
        return failure("setup.not_positive", "A shim must be thicker than nothing.", "Remove it from the set.");
    // Sum -> fewest shims found for it; equal counts keep the first found, thickest first. Sums above the target are
    // kept but never extended.
    std::map<long, std::vector<long>> best{{0, {}}};
    std::vector<long> order{0};
    for (const long shim : shims) {
        const std::size_t known = order.size();
        std::vector<std::pair<long, std::vector<long>>> before;
        before.reserve(known);
        for (std::size_t i = 0; i < known; ++i)
            before.emplace_back(order[i], best[order[i]]);
        for (const auto& [total, used] : before) {
            if (static_cast<int>(used.size()) >= most || total > target)
                continue;
            const long sum = total + shim;
            const auto it = best.find(sum);
            if (it != best.end() && used.size() + 1 >= it->second.size())
                continue;
            if (it == best.end())
                order.push_back(sum);
            std::vector<long> with = used;
            with.push_back(shim);
            best[sum] = std::move(with);
        }
    }
    long least = std::labs(target);
    for (const auto& [sum, used] : best)
        least = std::min(least, std::labs(sum - target));
    const long limit = std::max(least, whole_um(tolerance_mm));
    const std::pair<const long, std::vector<long>>* chosen = nullptr;
    const auto better = [&](const auto& a, const auto& b) {
        const auto rank = [&](const auto& e) {
            return std::tuple(e.second.size(), std::labs(e.first - target), e.first);
        };
        return rank(a) < rank(b);
    };
    for (const auto& entry : best)
        if (std::labs(entry.first - target) <= limit && (chosen == nullptr || better(entry, *chosen)))
            chosen = &entry;
    ShimStack out;
    for (const long s : chosen->second)
        out.shims_mm.push_back(static_cast<double>(s) / 1000);
    out.sum_mm = static_cast<double>(chosen->first) / 1000;
    out.error_mm = static_cast<double>(chosen->first - target) / 1000;
    return out;
}

Expected<LevelError> level_from_rise(double span, double half_depth, double rise_mm) {
    if (auto fault = not_positive({{"span", span}, {"depth of focus", half_depth}}))
        return tl::unexpected(*fault);
    LevelError out;
    out.rise_mm = std::abs(rise_mm);
    out.end_error_mm = out.rise_mm / 2;
    out.tilt_deg = degrees * std::atan2(out.rise_mm, span);
    out.within_depth = out.end_error_mm <= half_depth;
    out.allowed_tilt_deg = degrees * std::atan2(2 * half_depth, span);
    out.allowed_rise_mm = 2 * half_depth;
    return out;
}

Expected<LevelError> level_from_tilt(double span, double half_depth, double tilt_deg) {
    return level_from_rise(span, half_depth, span * std::tan(std::abs(tilt_deg) / degrees));
}

} // namespace finch
