// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "physics/bare_shares.h"

#include "physics/engraving.h"
#include "physics/heat.h"
#include "quantity/median.h"

#include <algorithm>
#include <cmath>

namespace finch {

FloorWeights floor_weights(const BareFacts& f, const JoinModel& j) {
    FloorWeights w;
    w.boils = share_over(f.boil_ratio, 1, j.boil_spread);
    const double seen = normal_share((f.log_ratio - j.seen_from) / j.seen_spread);
    const double lies_on_it = std::sqrt(f.film_of_pass_nm * f.film_of_pass_nm + f.lift_nm * f.lift_nm + 1);
    w.torn = w.boils * share_over(f.crater_nm, lies_on_it, j.torn_spread) * seen;
    w.merged = normal_share((f.overlap - j.merge_from) / j.merge_spread);
    w.dark = share_over(f.areal_j_mm2, f.dark_from_j_mm2, j.dark_spread);
    w.frost =
        normal_share((f.log_ratio - j.frost_apart - (j.frost_merged - j.frost_apart) * w.merged) / j.frost_spread) *
        (1 - w.dark);
    w.heat = share_over(f.heat_index, 1, j.heat_spread);
    const double frost_seen =
        w.frost * w.boils * seen * (f.lift_nm > 0 ? share_over(f.crater_nm, f.lift_nm, j.torn_spread) : 1);
    w.away = std::max({w.torn, w.heat, frost_seen});
    return w;
}

Shares bare_shares(const BareFacts& f, const FloorWeights& w, const JoinModel& j, double deep_um, double frost_um) {
    using enum Effect;
    Shares s;
    const double deep = std::min(w.away, std::max(w.torn * share_over(f.depth_um, deep_um, f.depth_spread), w.heat));
    s[through] = deep * share_over(f.depth_um, f.stock_um, f.depth_spread);
    const double cut = deep - s[through];
    const double frosted = cut * w.frost * (1 - share_over(f.depth_um, frost_um, f.depth_spread));
    s[removes] = cut - frosted;
    const double shallow = w.away - deep;
    s[frosts] = frosted + shallow * w.frost;
    const double rest = shallow * (1 - w.frost);
    // A dark floor; on a metal without film a shallow dark engraving.
    s[f.oxide ? dark : removes] += rest * w.dark;
    s[polishes] = rest * (1 - w.dark) * w.merged;
    s[cleans] = rest * (1 - w.dark) * (1 - w.merged);
    // The look of a film is lost when the metal is liquid between pulses.
    s[melts] = (1 - w.away) * share_over(f.melt_index, 1, j.melt_spread);
    const double left = (1 - w.away) - s[melts];
    if (!f.oxide) {
        s[tint] = left * share_over(f.tarnish, 1, j.tarnish_spread);
        s[none] = left - s[tint];
        return s;
    }
    const double a = share_over(f.film_nm, f.tint_nm, f.film_spread),
                 b = share_over(f.film_nm, f.colour_nm, f.film_spread),
                 c = share_over(f.film_nm, f.dark_nm, f.film_spread);
    s[none] = left * (1 - a);
    s[tint] = left * (a - b);
    s[colour] = left * (b - c);
    s[dark] += left * c;
    return s;
}

FloorLook floor_look(const BareFacts& f, const FloorWeights& w) {
    if (f.log_ratio <= 0)
        return f.film_nm < f.tint_nm ? FloorLook::untouched : FloorLook::tinted_or_molten;
    const double rest = 1 - w.frost - w.dark;
    FloorLook look = FloorLook::dark;
    double most = w.dark;
    for (const auto& [which, weight] : {std::pair{FloorLook::frosted, w.frost},
                                        {FloorLook::polished, rest * w.merged},
                                        {FloorLook::lightly_cleaned, rest * (1 - w.merged)}})
        if (weight > most) {
            most = weight;
            look = which;
        }
    return look;
}

std::optional<Lightness> expected_lightness(const Shares& s, double film_l, double bare_l, double dark_floor,
                                            const LookEstimate& dark_look, const JoinModel& j) {
    using enum Effect;
    struct Part {
        double weight, l, spread;
    };
    const std::array parts{
        Part{s[none] + s[tint] + s[colour] + s[dark] + s[melts], film_l, 0},
        Part{s[polishes] + s[cleans] + s[frosts], bare_l, j.polished_spread},
        Part{s[removes] * dark_floor, dark_look.l, dark_look.spread},
        Part{s[removes] * (1 - dark_floor), bare_l, j.pale_floor_spread},
    };
    double total = 0, mean = 0, square = 0;
    for (const Part& p : parts) {
        total += p.weight;
        mean += p.weight * p.l;
    }
    if (total < 1e-6)
        return std::nullopt;
    mean /= total;
    for (const Part& p : parts)
        square += p.weight * ((p.l - mean) * (p.l - mean) + p.spread * p.spread);
    return Lightness{mean, std::sqrt(square / total)};
}

double left_mm(double thickness_mm, double deepest_um) {
    return std::max(0.02 * thickness_mm, thickness_mm - deepest_um * 1e-3);
}

PlateOutcome plate_outcome(const PlateLoad& p, const Metal& metal, const JoinModel& j) {
    const RemovalConstants& m = *metal.removal;
    PlateOutcome out;
    out.rise_k = plate_rise_k(m, p.power_w, p.thickness_mm, p.side_mm, p.area_rate_mm2_s, p.loss_w_m2k);
    const double reach = p.spot_radius_m + std::sqrt(metal.diffusivity_hot() * 2 * p.spot_radius_m / p.speed_m_s);
    const double skin = (p.bulk_rise_k + p.moving_rise_k) / (metal.melting_k - p.start_k) *
                        std::exp(-left_mm(p.thickness_mm, p.deepest_um) * 1e-3 / reach);
    out.burn_index =
        p.deepest_um * 1e-3 / (j.plate_share * p.thickness_mm) + std::max(out.rise_k / m.melting_rise_k, skin);
    return out;
}

double distance_spread(std::span<const MeasuredPoint> points, const MeasuredPoint& at,
                       const std::array<double, 5>& slopes) {
    double nearest = 1e300;
    for (const MeasuredPoint& p : points) {
        const std::array ln{std::log(at.power_w / p.power_w), std::log(at.width_ns / p.width_ns),
                            std::log(at.frequency_khz / p.frequency_khz), std::log(at.speed_mm_s / p.speed_mm_s),
                            std::log(at.spot_um / p.spot_um)};
        double square = 0;
        for (std::size_t i = 0; i < ln.size(); ++i)
            square += slopes[i] * ln[i] * slopes[i] * ln[i];
        nearest = std::min(nearest, square);
    }
    return std::sqrt(nearest);
}

double spread_at(std::span<const MeasuredPoint> points, const MeasuredPoint& at, const std::array<double, 5>& slopes,
                 double floor, double unproven) {
    return points.empty() ? unproven : std::min(unproven, std::hypot(floor, distance_spread(points, at, slopes)));
}

double unread_spread(const Metal& metal, const SpreadModel& spread, double peak_k, double start_k) {
    if (!metal.oxide || !(peak_k > start_k))
        return spread.film_unproven;
    // d ln(thickness) / d ln(rise) of the growth law at the peak.
    const double power = 0.5 * metal.oxide->activation_j_mol / (gas_constant * peak_k) * (peak_k - start_k) / peak_k;
    return std::hypot(spread.film_unproven, spread.film_steep * std::max(0.0, power - spread.steep_from));
}

double gain_error(std::vector<double> ln_gains, const JoinModel& j) {
    if (ln_gains.size() < 3)
        return std::max(j.gain_floor, j.gain_alone);
    const double middle = median(ln_gains);
    const double n = static_cast<double>(ln_gains.size());
    for (double& g : ln_gains)
        g = std::abs(g - middle);
    // Median and its error under a normal core (Rousseeuw and Croux 1993; sqrt(pi / 2) for a median).
    return std::max(j.gain_floor, 1.2533 * 1.4826 * median(std::move(ln_gains)) / std::sqrt(n));
}

} // namespace finch
