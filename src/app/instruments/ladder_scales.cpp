// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/instruments/ladder_scales.h"

#include <algorithm>
#include <cmath>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

struct LadderSample {
    double at = 0;
    Prediction prediction;
};

/// Bands and soft borders of what happens along a scale; samples rise.
void lay_bands(LadderView& v, const std::vector<LadderSample>& samples, const Metal& metal) {
    if (samples.empty())
        return;
    // Layers in the order in which they come up.
    std::vector<Effect> layers;
    const auto layer_of = [&](Effect e) {
        const auto it = std::find(layers.begin(), layers.end(), e);
        return static_cast<std::size_t>(it - layers.begin());
    };
    for (const LadderSample& s : samples)
        for (const EffectShare& e : s.prediction.shares.told(0.02))
            if (layer_of(e.effect) == layers.size())
                layers.push_back(e.effect);
    const double step = samples.size() > 1 ? std::sqrt(samples[1].at / samples[0].at) : 1;
    for (const LadderSample& s : samples) {
        const Prediction& p = s.prediction;
        if (p.effect == Effect::not_modelled)
            continue;
        LadderView::Shared shared{s.at, {}};
        double sum = 0;
        for (const Effect e : layers)
            shared.upto.push_back(sum += p.shares[e]);
        for (double& u : shared.upto)
            u = sum > 0 ? u / sum : 0;
        v.shared.push_back(std::move(shared));
        const QString name = from_utf8(word(p.effect));
        if (!v.bands.empty() && v.bands.back().name == name) {
            v.bands.back().to = s.at * step;
        } else {
            const double border = v.bands.empty() ? s.at : s.at / step;
            if (!v.bands.empty())
                v.bands.back().to = border;
            v.bands.push_back({name, border, s.at * step});
        }
        if (p.film_seen())
            v.film.push_back({s.at, colour_from_above(p, metal)});
    }
    if (!v.bands.empty())
        v.bands.back().to = std::min(v.bands.back().to, v.high);
}

constexpr int ladder_steps = 18; // a quarter to a ninth of a decade: finer than the borders are known

} // namespace

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
    v.spread = 2 * p.film_spread_ln;
    std::vector<LadderSample> samples;
    for (int i = 0; i <= ladder_steps; ++i) {
        const double dose = v.low * std::pow(v.high / v.low, static_cast<double>(i) / ladder_steps);
        const double speed = in_mm_per_second(recipe.setting.scan_speed) * v.value / dose;
        if (speed < 1 || speed > 20000)
            continue;
        if (const auto at = predict(scene, with_knob(recipe, Knob::scan_speed, speed), fill, unseen))
            samples.push_back({dose, *at});
    }
    lay_bands(v, samples, scene.metal);
    if (ghost != nullptr)
        if (const auto there = predict(scene, *ghost, fill, unseen))
            v.ghost = there->mark.pattern.areal_dose_j_m2 / 1e6;
    return v;
}

LadderView fluence_ladder(const Scene& scene, const Recipe& recipe, const Fill& fill, const Prediction& p,
                          const Recipe* ghost) {
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
    // The fluence follows the power, also beyond what this source has.
    std::vector<LadderSample> samples;
    for (int i = 0; i <= ladder_steps; ++i) {
        const double fluence = v.low * std::pow(v.high / v.low, static_cast<double>(i) / ladder_steps);
        const double percent = recipe.setting.power_percent * fluence / v.value;
        Bench bench = scene.bench;
        if (percent > 100)
            bench.source = emitting(bench.source, percent / 100);
        const auto at = predict({scene.materials, scene.metal, bench, scene.stock, scene.evidence},
                                with_knob(recipe, Knob::power, std::min(percent, 100.0)), fill, unseen);
        if (at)
            samples.push_back({fluence, *at});
    }
    lay_bands(v, samples, scene.metal);
    v.film.clear(); // the dose ladder shows the colours
    if (ghost != nullptr)
        if (const auto there = predict(scene, *ghost, fill, unseen))
            v.ghost = there->mark.pattern.peak_fluence_j_m2 / 1e4;
    return v;
}

} // namespace finch::app
