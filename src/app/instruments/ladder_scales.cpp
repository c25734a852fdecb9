// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/instruments/ladder_scales.h"

#include <algorithm>
#include <cmath>

namespace finch::app {

using namespace Qt::StringLiterals;

LadderView dose_ladder(const Scene& scene, const Recipe& recipe, const Fill& fill, const Prediction& p,
                       const Recipe* ghost) {
    LadderView v;
    v.title = QObject::tr("Areal dose");
    v.unit = u"J/mm²"_s;
    v.value = p.mark.pattern.areal_dose_j_m2 / 1e6;
    v.low = 0.01;
    v.high = 100;
    if (v.value < 0.012 || v.value > 80) {
        v.low = std::pow(10, std::floor(std::log10(v.value)) - 2);
        v.high = v.low * 1e4;
    }
    // The film's spread as a spread of dose: thickness goes with about the square root of the dose.
    v.spread = 2 * std::log(1 + p.oxide_spread);
    constexpr int samples = 28; // a seventh of a decade: finer than the bands are known
    double last = v.low;
    std::optional<Effect> current;
    for (int i = 0; i <= samples; ++i) {
        const double dose = v.low * std::pow(v.high / v.low, static_cast<double>(i) / samples);
        const double speed = in_mm_per_second(recipe.setting.scan_speed) * v.value / dose;
        if (speed < 1 || speed > 20000)
            continue;
        const auto at = predict(scene, with_knob(recipe, Knob::scan_speed, speed), fill, unseen);
        if (!at)
            continue;
        if (current && at->effect != *current) {
            const double border = dose / std::pow(v.high / v.low, 0.5 / samples);
            v.bands.push_back({from_utf8(word(*current)), last, border});
            last = border;
        } else if (!current) {
            last = dose;
        }
        current = at->effect;
        if (at->film_seen())
            v.film.push_back({dose, colour_from_above(*at, scene.metal)});
    }
    if (current)
        v.bands.push_back({from_utf8(word(*current)), last, v.high});
    if (ghost != nullptr)
        if (const auto there = predict(scene, *ghost, fill, unseen))
            v.ghost = there->mark.pattern.areal_dose_j_m2 / 1e6;
    return v;
}

LadderView fluence_ladder(const Scene& scene, const Fill& fill, const Prediction& p, const Recipe* ghost) {
    LadderView v;
    v.title = QObject::tr("Peak fluence");
    v.unit = u"J/cm²"_s;
    const AnnealResult& m = p.mark;
    v.value = std::max(1e-6, m.pattern.peak_fluence_j_m2 / 1e4);
    v.low = 0.1;
    v.high = 10;
    while (v.value > v.high * 0.8)
        v.high *= 10;
    while (v.value < v.low * 1.2)
        v.low /= 10;
    if (!p.heat_modelled)
        return v;
    const double kelvin = m.heat.pulse_rise / v.value; // per J/cm²
    const Metal& metal = scene.metal;
    const auto reaches = [&](double t) { return std::max((t - m.heat.between) / kelvin, v.low); };
    const double cleans = std::max(scene.materials.model.cleaning_from_j_m2 / 1e4, v.low);
    const double melts = reaches(metal.melting_k + 0.5 * metal.latent_rise_k);
    const double vapour = reaches(metal.boiling_k + metal.latent_rise_k);
    const double removes =
        vapour + scene.materials.model.removal_per_pulse_limit_m * metal.vaporisation_heat / m.heat.absorptance / 1e4;
    const auto band = [&](const QString& name, double from, double to) {
        from = std::clamp(from, v.low, v.high);
        to = std::clamp(to, v.low, v.high);
        if (to > from)
            v.bands.push_back({name, from, to});
    };
    band(QObject::tr("no change"), v.low, std::min(cleans, melts));
    band(QObject::tr("cleans"), cleans, melts);
    band(QObject::tr("melts"), melts, vapour);
    band(QObject::tr("vapour"), vapour, removes);
    band(QObject::tr("removes"), removes, v.high);
    if (ghost != nullptr)
        if (const auto there = predict(scene, *ghost, fill, unseen))
            v.ghost = there->mark.pattern.peak_fluence_j_m2 / 1e4;
    return v;
}

} // namespace finch::app
