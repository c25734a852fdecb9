// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "search/trial.h"

#include "physics/anneal.h"
#include "physics/crew.h"
#include "recipe/predict.h"
#include "search/damage.h"

#include <algorithm>
#include <boost/math/special_functions/erf.hpp>
#include <cmath>
#include <numbers>
#include <optional>

namespace finch {
namespace {

constexpr double step_absorbed = 0.15, step_spot = 0.10, step_warmer = 40;
/// Incubation: the fluence at which a surface is worn falls with the number of pulses on a place, by this power. Source
/// of the law and of the limit: docs/decisions/0028-worn-by-many-pulses.md.
constexpr double incubation = 0.15, worn_from_ln = 1.5;
constexpr double reference_ln_nm = 3.9120230054281460; // ln 50: about there the slope turns

double normal_score(double share) {
    return -std::numbers::sqrt2 * boost::math::erfc_inv(2 * std::clamp(share, 1e-9, 1 - 1e-9));
}

/// The scene with one thing changed at a time. Absorptance and power are one parameter: a film cannot tell them
/// apart.
class Emulator {
public:
    Emulator(const Scene& scene, const Fill& fill)
        : scene_(scene), nominal_(scene.knowing({})), fill_(fill), part_(workpiece(scene.stock, {})), warmer_(part_),
          lens_(scene.bench.lens()), wider_(with_spot(std::exp(step_spot))),
          narrower_(with_spot(std::exp(-step_spot))) {
        part_.growth_gain = warmer_.growth_gain = 1;
        warmer_.start_temperature_c += step_warmer;
    }

    [[nodiscard]] std::optional<Trial> at(const Recipe& recipe) const {
        const Setting s = burned_setting(recipe);
        if (!within_range(s))
            return std::nullopt;
        // Before anything is known the chance of damage is the share that the joined model tells.
        if (const auto joined = predict(nominal_, recipe, fill_, unseen); joined && joined->heat_modelled)
            return at(recipe, joined->mark, joined->share_away);
        return about(recipe, s,
                     anneal(scene_.metal, scene_.materials.model, scene_.bench.source, lens_, s, part_, fill_, unseen));
    }
    [[nodiscard]] std::optional<Trial> at(const Recipe& recipe, const AnnealResult& middle, double share_away) const {
        const Setting s = burned_setting(recipe);
        if (!within_range(s))
            return std::nullopt;
        Trial t = about(recipe, s, middle);
        t.tear_ln = tear(share_away);
        return t;
    }

private:
    [[nodiscard]] bool within_range(const Setting& s) const {
        for (const Workpiece& part : {part_, warmer_})
            for (const Lens& lens : {lens_, wider_, narrower_})
                if (input_fault(scene_.bench.source, lens, s, part, fill_))
                    return false;
        return true;
    }
    [[nodiscard]] static double tear(double share_away) {
        constexpr double share_sd = 0.35; // by which the joined model's share is spread
        return std::hypot(share_sd, damage_width) * normal_score(share_away);
    }
    /// All but the tear.
    [[nodiscard]] Trial about(const Recipe& recipe, const Setting& s, const AnnealResult& middle) const {
        Trial t;
        t.recipe = recipe;
        const double native_nm = scene_.materials.model.native_oxide_m * 1e9;
        t.native2_nm2 = native_nm * native_nm;
        t.g = grown(middle.oxide.hot_s);
        GrowthProbe here = probe(lens_, s), wider = probe(wider_, s), narrower = probe(narrower_, s);
        const double up_a = grown(here.hot_s(std::exp(step_absorbed))),
                     down_a = grown(here.hot_s(std::exp(-step_absorbed))), up_t = grown(here.hot_s(1, step_warmer)),
                     up_s = grown(wider.hot_s()), down_s = grown(narrower.hot_s());
        // Where hardly anything grows the differences are noise of the Arrhenius cut-off.
        t.ga = std::clamp((up_a - down_a) / (2 * step_absorbed), 0.0, 25.0);
        t.gaa = std::clamp((up_a + down_a - 2 * t.g) / (step_absorbed * step_absorbed), -40.0, 40.0);
        t.gs = std::clamp((up_s - down_s) / (2 * step_spot), -40.0, 10.0);
        t.gss = std::clamp((up_s + down_s - 2 * t.g) / (step_spot * step_spot), -80.0, 80.0);
        t.gt = std::clamp((up_t - t.g) / step_warmer, 0.0, 0.05);
        t.at = {std::log(middle.pattern.areal_dose_j_m2 * 1e-6), std::log(middle.pattern.pulses_per_m2 * 1e-6 / 8e4),
                std::log(middle.pattern.peak_fluence_j_m2 * 1e-4), std::log(middle.pulse.peak_power_w / 600)};
        t.haze = middle.look.haze;
        t.heat_ln = std::log(std::max({middle.melt_index, middle.removal.index, 1e-3}));
        t.worn_ln = std::log(std::max(middle.removal.ratio, 1e-3)) +
                    incubation * std::log(std::max(middle.pattern.pulses_per_spot, 1.0)) - worn_from_ln;
        t.seconds = middle.pattern.time_s;
        t.absorbed_w = middle.heat.absorptance * middle.pulse.average_power_w;
        return t;
    }
    [[nodiscard]] Lens with_spot(double factor) const {
        Lens lens = scene_.bench.lens();
        // The spot goes with the beam quality, and so does the depth of focus.
        lens.beam_quality_m2 = effective_m2(lens, scene_.bench.source.wavelength) * factor;
        lens.measured_spot.reset();
        return lens;
    }
    [[nodiscard]] GrowthProbe probe(const Lens& lens, const Setting& s) const {
        return {scene_.metal, scene_.materials.model, scene_.bench.source, lens, s, part_, fill_};
    }
    /// ln of the grown film squared in nm2, beyond the end of the modelled scale too.
    [[nodiscard]] double grown(double hot_s) const {
        const double gain = scene_.materials.model.growth_factor.at(scene_.stock.coating);
        const double m2 = hot_s * growth_constant(scene_.metal.melting_k, *scene_.metal.oxide, gain);
        return std::log(std::max(m2 * 1e18, 1e-9));
    }

    const Scene& scene_;
    Scene nominal_; ///< without what was learned: that is the posterior's
    const Fill& fill_;
    Workpiece part_, warmer_;
    Lens lens_, wider_, narrower_;
};

} // namespace

Trial::Told Trial::told(const BenchOffsets& b) const {
    const double ln_grown =
        g + b[0] + ga * b[1] + 0.5 * gaa * b[1] * b[1] + gs * b[2] + 0.5 * gss * b[2] * b[2] + gt * warmth_k * b[4];
    const double grown = std::exp(std::min(ln_grown, 40.0));
    const double u = 0.5 * std::log(native2_nm2 + grown), by_g = 0.5 * grown / (native2_nm2 + grown) * (1 + b[3]);
    const double above = u - reference_ln_nm;
    return {u + b[3] * above, {by_g, by_g * (ga + gaa * b[1]), by_g * (gs + gss * b[2]), above, by_g * gt * warmth_k}};
}

std::vector<Trial> trials(const Scene& scene, std::span<const Recipe> recipes, const Fill& fill, int threads) {
    const Emulator emulator(scene, fill);
    std::vector<std::optional<Trial>> all(recipes.size());
    Crew(threads).run(static_cast<int>(recipes.size()), [&](int i) {
        all[static_cast<std::size_t>(i)] = emulator.at(recipes[static_cast<std::size_t>(i)]);
    });
    std::vector<Trial> out;
    out.reserve(recipes.size());
    for (std::optional<Trial>& t : all)
        if (t)
            out.push_back(std::move(*t));
    return out;
}

std::optional<Trial> trial_of(const Scene& scene, const Recipe& recipe, const Fill& fill, const AnnealResult& physics,
                              double share_away) {
    return Emulator(scene, fill).at(recipe, physics, share_away);
}

double likeness(const Trial& a, const Trial& b, double length) {
    double square = 0;
    for (std::size_t i = 0; i < a.at.size(); ++i)
        square += (a.at[i] - b.at[i]) * (a.at[i] - b.at[i]);
    const double r = std::sqrt(5 * square) / length;
    return (1 + r + r * r / 3) * std::exp(-r);
}

} // namespace finch
