// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/plate.h"

#include "recipe/appearance.h"

#include <algorithm>
#include <cmath>

namespace finch::standin {
namespace {

/// What a removed or molten surface looks like: rough grey, darker and warmer the harsher it was treated.
Lab spoiled_look(const Prediction& p) {
    const bool removed = p.share_away > p.shares[Effect::melts];
    const double harshness = std::clamp(removed ? p.removal_index : p.melt_index, 1.0, 4.0);
    if (removed)
        return {60 - 7 * harshness, 0.6, 3.5};
    return {52 - 5 * harshness, 2.0, 8.0};
}

/// What the camera will see of it.
Lab look_of(const Scene& scene, const Recipe& recipe, const Prediction& p) {
    if (traits(recipe.process).lasting_colour && p.heat_modelled && !p.coating)
        return p.mark.look.valid ? p.lab() : spoiled_look(p);
    const Appearance look = appearance(scene, recipe, p);
    if (look.known)
        return look.lab;
    // Under-fused compound washes off and leaves the bare metal; what burns leaves brown.
    const Appearance bare = unmarked(scene);
    return p.effect == Effect::over_burns || !bare.known ? Lab{38, 4, 9} : bare.lab;
}

double rect_area(const std::vector<RectMm>& rects) {
    double sum = 0;
    for (const RectMm& r : rects)
        sum += r.w * r.h;
    return sum;
}

double stroke_length(const std::vector<std::vector<PointMm>>& strokes) {
    double sum = 0;
    for (const auto& s : strokes)
        for (std::size_t i = 1; i < s.size(); ++i)
            sum += std::hypot(s[i].x - s[i - 1].x, s[i].y - s[i - 1].y);
    return sum;
}

} // namespace

double unit_random(std::uint64_t seed, std::uint64_t index) {
    std::uint64_t x = seed * 0x9E3779B97F4A7C15u + index * 0xD1B54A32D192ED03u + 0x632BE59BD9B4E019u;
    x = (x ^ (x >> 30)) * 0xBF58476D1CE4E5B9u;
    x = (x ^ (x >> 27)) * 0x94D049BB133111EBu;
    return static_cast<double>((x ^ (x >> 31)) >> 11) / 9007199254740992.0;
}

HiddenTruth hidden_truth(std::uint64_t seed) {
    if (seed == 0)
        return {};
    const auto around = [seed](std::uint64_t i, double reach) { return reach * (2 * unit_random(seed, i) - 1); };
    return {1 + around(1, 0.05), 1 + around(2, 0.04), 1 + around(3, 0.03), around(4, 0.25), std::exp(around(5, 0.20))};
}

Plate bare_plate(const Metal& metal, const Materials& materials, const Stock& stock, double width_mm,
                 double height_mm) {
    const Bench any;
    const Appearance bare = unmarked({materials, metal, any, stock, {}});
    if (metal.film == nullptr || materials.coat(stock.coating) != nullptr)
        return {bare.known ? bare.lab : Lab{30, 0, 0}, width_mm, height_mm, {}};
    const FilmOptics& film = *metal.film;
    const double native = metal.oxide ? materials.model.native_oxide_m : 0;
    const double haze = materials.model.finishes.at(stock.finish).haze;
    return {specular_included(film, native, haze, 0, film.hemispherical(native)).lab, width_mm, height_mm, {}};
}

Expected<Burn> burn(const ToolStep& step, const Setup& setup, const Materials& materials, const Metal& metal,
                    const HiddenTruth& truth, std::uint64_t seed) {
    Metal true_metal = metal;
    true_metal.absorptance *= truth.absorptance;
    Bench bench = setup.bench;
    bench.source.rated_power *= truth.power;
    Lens& lens = bench.lenses.at(bench.lens_index);
    lens.beam_quality_m2 = effective_m2(lens, bench.source.wavelength) * truth.spot;
    lens.measured_spot.reset();
    Recipe recipe = step.recipe;
    recipe.setting.focus_offset += mm(truth.focus_mm);
    Evidence nature;
    nature.growth_gain = truth.growth;
    nature.depth_gain = truth.growth;
    Fill fill{mm(5), 25};
    if (!step.hatch.empty()) {
        const RectMm& first = step.hatch.front();
        fill = {mm(first.w), first.w * first.h};
    }
    const auto p = predict({materials, true_metal, bench, setup.stock, nature}, recipe, fill);
    if (!p)
        return tl::unexpected(p.error());
    Burn out{step.name, step.hatch, step.strokes,
             look_of({materials, true_metal, bench, setup.stock, nature}, recipe, *p)};
    out.line_mm = p->mark.pattern.spot_m * 1e3 * 1.3;
    out.texture = 0.006 + 0.010 * unit_random(seed, std::hash<std::string>{}(step.name)) +
                  (p->mark.look.valid ? 0 : 0.05) + 0.1 * std::min(1.0, p->mark.pattern.line_ripple);
    const double per_mm2 = p->mark.pattern.time_s / fill.area_mm2;
    out.time_s =
        per_mm2 * rect_area(step.hatch) + stroke_length(step.strokes) / in_mm_per_second(recipe.setting.scan_speed);
    return out;
}

} // namespace finch::standin
