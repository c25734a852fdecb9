// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/scale.h"

#include "standin/chance.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

namespace finch::standin {
namespace {

constexpr double air_film_nm = 3;
constexpr double thickest_nm = 3000;
constexpr int most_steps = 40; // of lines, and of pulses on a line, that are followed one by one

/// Growth (nm2) that one pulse brings, by the temperature it finds and the rise it makes.
class PulseGrowth {
public:
    PulseGrowth(const World& w, const OwnOxide& oxide, const Ground& g, const Strike& s) {
        const double activation_k = 1000 * oxide.activation_kj_mol * w.activation / 8.314;
        const double rate = w.growth * oxide.growth_nm2_us * 1e6, ceiling = w.ceiling * oxide.ceiling_nm2_us * 1e6;
        std::array<double, 16> at{}, weight{};
        const double gap = 1 / s.frequency_hz - s.pulse_s;
        for (std::size_t i = 0; i < at.size(); ++i) {
            // Five moments while the pulse lasts, eleven after it, thinning out towards the next.
            const double i0 = static_cast<double>(i);
            at[i] = i < 5 ? s.pulse_s * (i0 + 0.5) / 5 : s.pulse_s + gap * std::pow((i0 - 4.5) / 11, 3);
            weight[i] = i < 5 ? s.pulse_s / 5 : gap * (std::pow((i0 - 4) / 11, 3) - std::pow((i0 - 5) / 11, 3));
        }
        const double peak = flash(g, s.pulse_s, s.pulse_s);
        for (int b = 0; b < bases; ++b)
            for (int r = 0; r < rises; ++r) {
                double sum = 0;
                for (std::size_t i = 0; i < at.size(); ++i) {
                    const double t = shown_temperature(g, base_k(b) + rise_k(r) * flash(g, at[i], s.pulse_s) / peak);
                    const double free = rate * std::exp(activation_k * (1 / 1500.0 - 1 / t));
                    // Far below the ceiling it does not matter, and powers are slow.
                    sum +=
                        weight[i] * (free < 1e-3 * ceiling
                                         ? free
                                         : free / std::pow(1 + std::pow(free / ceiling, w.crowding), 1 / w.crowding));
                }
                ln_[static_cast<std::size_t>(b)][static_cast<std::size_t>(r)] = std::log(std::max(sum, 1e-30));
            }
    }
    [[nodiscard]] double operator()(double base, double rise) const {
        const double u = std::clamp((base - 250) / base_step, 0.0, bases - 1.001);
        const double v = std::clamp(std::sqrt(rise / most_rise) * (rises - 1), 0.0, rises - 1.001);
        const auto i = static_cast<std::size_t>(u), j = static_cast<std::size_t>(v);
        const double a = u - static_cast<double>(i), b = v - static_cast<double>(j);
        return std::exp((1 - a) * ((1 - b) * ln_[i][j] + b * ln_[i][j + 1]) +
                        a * ((1 - b) * ln_[i + 1][j] + b * ln_[i + 1][j + 1]));
    }

private:
    static constexpr int bases = 24, rises = 20;
    static constexpr double base_step = 130, most_rise = 9000;
    static double base_k(int b) { return 250 + base_step * b; }
    static double rise_k(int r) {
        const double share = static_cast<double>(r) / (rises - 1);
        return most_rise * share * share;
    }
    std::array<std::array<double, rises>, bases> ln_{};
};

/// Places from -reach to +reach, at the step or wider, and how many real steps each stands for.
struct Walk {
    std::vector<double> at;
    double each = 1;
};
Walk walk(double reach, double step, double from) {
    Walk out;
    const double count = std::max(1.0, 2 * reach / step);
    out.each = std::max(1.0, count / most_steps);
    for (double x = -reach + from * step * out.each; x < reach; x += step * out.each)
        out.at.push_back(x);
    return out;
}

} // namespace

Heated heated(const World& w, const OwnMetal& metal, double finish, double thickness_m, const Strike& s) {
    // Properties belong to temperatures that follow from them: two rounds settle it.
    double about = 900;
    Ground g = ground(w, metal, finish, thickness_m, about);
    double evaporating = 0;
    const double landing = s.energy_j * s.landing(0, 0);
    for (int round = 0; round < 2; ++round) {
        const Warmth warmth(g, s, g.absorptance);
        const double base = s.start_k + warmth.line_so_far(0, 0) + warmth.lines_before();
        const double top = base + g.absorptance * landing * flash(g, s.pulse_s, s.pulse_s);
        about = std::clamp(0.5 * (base + std::min(top, g.boiling_k)), 300.0, g.melting_k + 300);
        evaporating = std::max(0.0, 1 - (g.boiling_k + g.fusion_rise_k - base) / std::max(1.0, top - base));
        g = ground(w, metal, finish, thickness_m, about);
    }
    const double kept = 1 - w.vapour_lost * evaporating;
    const Warmth warmth(g, s, g.absorptance * kept);
    const double peak = flash(g, s.pulse_s, s.pulse_s);
    const double boils = g.boiling_k + g.fusion_rise_k;

    Heated out;
    const double step = s.speed_m_s / s.frequency_hz;
    const double reach_x = 1.5 * s.along_m, reach_y = 1.5 * s.across_m;
    out.crowd = 2.25 * 3.14 * s.along_m * s.across_m / (step * s.pitch_m) * s.passes;
    const std::optional<PulseGrowth> growth =
        metal.oxide ? std::optional<PulseGrowth>(std::in_place, w, *metal.oxide, g, s) : std::nullopt;
    const int pass_groups = std::min(s.passes, 3);
    constexpr int places = 4;
    // The film of the mean level that the table's absorptance stands for.
    const double usual = w.film_absorbs * 0.5;
    Chance chance{w.seed + 5};
    double film = 0, molten = 0, torn = 0;
    for (int place = 0; place < places; ++place) {
        double nm = air_film_nm, gone_um = 0, hottest = 0, of_pass = 0;
        for (int group = 0; group < pass_groups; ++group) {
            const int before = s.passes * (2 * group + 1) / (2 * pass_groups);
            const double level = s.start_k + warmth.lines_before() + 0.6 * warmth.passes_before(before);
            const Walk lines = walk(reach_y, s.pitch_m, (place + 0.5) / places);
            for (const double y : lines.at) {
                const Walk pulses = walk(reach_x, step, chance.even(0, 1));
                const double times = lines.each * pulses.each * s.passes / pass_groups;
                for (auto x = pulses.at.rbegin(); x != pulses.at.rend(); ++x) {
                    const double base = std::min(level + warmth.line_so_far(*x, y), boils);
                    const double more = 1 + w.film_absorbs * (1 - std::exp(-nm / w.film_scale_nm)) - usual;
                    const double fluence = std::min(0.97, g.absorptance * more) * s.energy_j * s.landing(*x, y);
                    const double rise = fluence * peak;
                    hottest = std::max(hottest, base);
                    if (base + rise > boils)
                        gone_um += 1e6 * times * 0.08 * (fluence - (boils - base) / peak) / g.vapour_j_m3;
                    if (!growth)
                        continue;
                    // n straight steps of the square law with a straight beginning.
                    const double b = w.straight_nm, grown = nm * nm + b * nm + times * (*growth)(base, rise);
                    const double next = 0.5 * (-b + std::sqrt(b * b + 4 * grown));
                    of_pass += (next - nm) / s.passes;
                    nm = std::min(next, thickest_nm);
                }
            }
        }
        film += nm / places;
        out.evaporated_um += gone_um / places;
        const double per_pass_nm = 1000 * gone_um / s.passes;
        torn += 1 / (1 + std::pow(w.tears_at * (of_pass + 700) / std::max(per_pass_nm, 1e-3), 3)) / places;
        const double run = (hottest - s.start_k) / (w.melts_at * (g.melting_k + 0.7 * g.fusion_rise_k - s.start_k));
        molten += 1 / (1 + std::exp(-std::log(std::max(run, 1e-3)) / 0.04)) / places;
    }
    out.film_nm = film;
    out.molten = molten;
    out.torn = torn;
    return out;
}

} // namespace finch::standin
