// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "recipe/predict.h"

#include "physics/colour_difference.h"

#include <algorithm>
#include <cmath>
#include <string>

namespace finch {
namespace {

/// Thickness spread without local calibration, with one test card, and with many cells that agree.
double oxide_spread(const SpreadModel& model, const Evidence& evidence) {
    if (evidence.sheets == 0)
        return model.film_unproven;
    // Growth goes with the square of the thickness, so half of the spread of ln(gain) is the spread of ln(thickness).
    return std::clamp(0.5 * evidence.gain_spread_ln, model.film_least, model.film_most);
}

} // namespace

Workpiece workpiece(const Stock& stock, const Evidence& evidence) {
    return {stock.finish, stock.coating, stock.thickness, stock.start_temperature_c, evidence.growth_gain};
}

PulseTrain pulse_train(const PulseOutput& pulse) {
    return {Energy::from_value(pulse.pulse_energy_j), Frequency::from_value(pulse.frequency_hz),
            seconds(pulse.pulse_width_s)};
}

Cutting cutting(const Materials& materials, const Metal& metal, const Bench& bench, const Recipe& recipe,
                const PulseOutput& pulse) {
    return {*metal.removal,
            materials.model.removal,
            pulse_train(pulse),
            waist(bench.lens(), bench.source.wavelength),
            {recipe.setting.scan_speed, recipe.setting.hatch_pitch}};
}

Cutting cutting(const Materials& materials, const Metal& metal, const Bench& bench, const Recipe& recipe) {
    return cutting(materials, metal, bench, recipe, pulse_output(bench.source, recipe.setting));
}

DeepWork deep_work(const Recipe& recipe, const Evidence& evidence) {
    DeepWork w;
    w.passes = burned_setting(recipe).passes;
    w.focus_step_mm = in_mm(recipe.deep.focus_step);
    w.focus_every = recipe.deep.focus_every;
    w.clean_every = recipe.deep.clean_every;
    w.width_mm = in_mm(recipe.deep.narrowest);
    w.focus_offset_mm = in_mm(recipe.setting.focus_offset);
    w.calibration = evidence.depth_gain;
    return w;
}

CompoundSetting compound_setting(const Bench& bench, const Recipe& recipe, const PulseOutput& pulse,
                                 const Evidence& evidence) {
    const Setting& s = recipe.setting;
    CompoundSetting out;
    out.beam = bench.source.kind == SourceKind::gas ? CompoundBeam::gas : CompoundBeam::fibre;
    out.power_w = pulse.average_power_w;
    out.speed_mm_s = in_mm_per_second(s.scan_speed);
    out.spot_mm = in_mm(spot_at(waist(bench.lens(), bench.source.wavelength), s.focus_offset));
    out.pitch_mm = in_mm(s.hatch_pitch);
    out.coats = recipe.coats;
    out.passes = burned_setting(recipe).passes;
    out.coupling = evidence.compound_coupling;
    return out;
}

namespace {

void forecast_removal(Prediction& p, const Scene& s, const Recipe& recipe, const Cutting& cut, const Fill& fill,
                      bool with_band) {
    if (removal_fault(in_watts(cut.train.average_power()), cut.train, 1, cut.raster, p.evidence.depth_gain))
        return;
    const DeepWork work = deep_work(recipe, p.evidence);
    RemovalForecast r;
    r.pass =
        one_pass(cut.metal, cut.model, cut.train, cut.beam, cut.raster, mm(work.focus_offset_mm), work.calibration);
    // One coupon narrows the band to what is left between settings.
    const double spread =
        p.evidence.depth_coupons > 0 ? s.materials.model.spread.depth_learned : s.metal.removal->depth_spread;
    if (r.pass.depth_um > 0) {
        const auto depth = [&](double factor) {
            DeepWork w = work;
            w.calibration *= factor;
            return work.passes == 1 && factor == 1 ? DepthAfter{r.pass.depth_um, 1} : depth_after(cut, w);
        };
        const DepthAfter likely = depth(1);
        r.depth_um = likely.depth_um;
        r.passes = likely.passes;
        r.least_um = with_band ? depth(1 / spread).depth_um : r.depth_um;
        r.most_um = with_band ? depth(spread).depth_um : r.depth_um;
    }
    r.taper_deg = taper_deg(r.pass.crater, cut.model);
    const ThinPlate plate =
        thin_plate(*s.metal.removal, in_watts(cut.train.average_power()), in_mm(s.stock.thickness),
                   std::sqrt(fill.area_mm2), in_mm_per_second(cut.raster.speed) * in_mm(cut.raster.pitch), r.depth_um,
                   s.stock.held_by.find("clamp") != std::string::npos ? s.materials.model.clamped_loss
                                                                      : s.materials.model.resting_loss);
    r.burn_index = plate.burn_index;
    r.plate_rise_k = plate.heat_rise_k;
    r.buckling_rise_k = plate.buckling_rise_k;
    p.removal = r;
}

void forecast_coating(Prediction& p, const Scene& s, const Recipe& recipe, const Cutting& cut) {
    const CoatConstants* coat = s.materials.coat(s.stock.coating);
    if (coat == nullptr)
        return;
    const double thickness =
        s.stock.coating_thickness > mm(0) ? in_micrometres(s.stock.coating_thickness) : coat->usual_thickness_um;
    p.coating = coating_pass(*coat, cut.metal, cut.model, cut.train, cut.beam, cut.raster, recipe.setting.focus_offset,
                             thickness);
    // The model gives one pass; what the recipe's own count of passes does follows from it.
    if (p.coating->fate == CoatFate::partly_stripped && burned_setting(recipe).passes >= p.coating->passes &&
        p.coating->passes > 0)
        p.coating->fate = CoatFate::stripped;
    p.effect = effect_of(p.coating->fate);
    p.neighbours = neighbours(*p.coating);
    p.band = coat->threshold_spread;
}

Expected<void> forecast_compound(Prediction& p, const Scene& scene, const Recipe& recipe) {
    const Stock& stock = scene.stock;
    const CompoundTable& table = scene.materials.compounds;
    const CompoundConstants* c = table.compound(recipe.compound);
    const CompoundMetal* m = table.metal(stock.metal);
    if (c == nullptr || m == nullptr)
        return failure("compound.unknown", "Nothing is known of this compound on this metal.",
                       "Try it on a scrap piece and log what happens.");
    const CompoundSetting s = compound_setting(scene.bench, recipe, p.mark.pulse, p.evidence);
    const auto o = compound_outcome(table, *c, *m, compound_surface(stock.finish, stock.coating), s);
    if (!o)
        return tl::unexpected(o.error());
    p.compound = *o;
    p.effect = effect_of(o->fate);
    p.neighbours = {};
    if (const auto w = compound_window(*c, *m, s); w && o->fate != CompoundFate::no_bond) {
        p.neighbours.add({Effect::under_fused, std::abs(std::log(s.power_w / w->low_w))});
        p.neighbours.add({Effect::over_burns, std::abs(std::log(w->high_w / s.power_w))});
    }
    p.band = p.evidence.power_ladders > 0 ? scene.materials.model.spread.compound_learned
                                          : scene.materials.model.spread.compound_unproven;
    return {};
}

} // namespace

Expected<Prediction> predict(const Scene& scene, const Recipe& recipe, const Fill& fill, const ViewingAngles& angles) {
    const auto& [materials, metal, bench, stock, evidence] = scene;
    const Setting setting = burned_setting(recipe);
    const Workpiece part = workpiece(stock, evidence);
    if (const auto fault = input_fault(bench.source, bench.lens(), setting, part, fill))
        return tl::unexpected(input_error(*fault));
    Prediction out;
    out.evidence = evidence;
    out.oxide_spread = oxide_spread(materials.model.spread, evidence);
    out.heat_modelled = bench.source.pulsed() && metal.film != nullptr;
    if (out.heat_modelled) {
        out.mark = anneal(metal, materials.model, bench.source, bench.lens(), setting, part, fill, angles);
        // The pulses of this prediction are worked out once, by the heat model.
        std::optional<Cutting> cut;
        if (metal.removal) {
            cut.emplace(cutting(materials, metal, bench, recipe, out.mark.pulse));
            forecast_removal(out, scene, recipe, *cut, fill, angles.count > 0);
        }
        const double limit_um = materials.model.removal_net_limit_m * 1e6;
        const BareEffect bare = bare_effect(out.mark, out.removal, limit_um, materials.model.frost_limit_m * 1e6);
        out.effect = bare.effect;
        out.neighbours = bare.neighbours;
        out.removal_index = bare.removal_index;
        out.band = out.film_seen() ? 1 + out.oxide_spread : metal.removal ? metal.removal->depth_spread : 3;
        if (cut)
            forecast_coating(out, scene, recipe, *cut);
    } else {
        out.mark.pulse = pulse_output(bench.source, setting);
        out.mark.pattern = pattern(out.mark.pulse, bench.source, bench.lens(), setting, fill, materials.model.turn_s);
        out.mark.look.valid = false;
        out.effect = Effect::not_modelled;
    }
    if (recipe.process == Process::compound)
        if (const auto done = forecast_compound(out, scene, recipe); !done)
            return tl::unexpected(done.error());
    return out;
}

namespace {

Lab film_colour(const Prediction& p, const Metal& metal, double factor, double angle_deg) {
    const double x = p.mark.oxide.thickness_m * factor;
    return specular_included(*metal.film, x, p.mark.look.haze, angle_deg, metal.film->hemispherical(x)).lab;
}

} // namespace

Lab colour_from_above(const Prediction& prediction, const Metal& metal) {
    return film_colour(prediction, metal, 1, 0);
}

ColourBand colour_band(const Prediction& prediction, const Metal& metal, double angle_deg) {
    const auto at = [&](double factor) { return film_colour(prediction, metal, factor, angle_deg); };
    const double grow = 1 + prediction.oxide_spread;
    return {at(1 / grow), at(1), at(grow)};
}

Expected<Robustness> robustness(const Scene& scene, const Recipe& recipe, const Fill& fill) {
    const Metal& metal = scene.metal;
    const DriftModel& drift = scene.materials.model.drift;
    const auto middle = predict(scene, recipe, fill, straight);
    if (!middle)
        return tl::unexpected(middle.error());
    Robustness out;
    std::optional<Error> error;
    // The larger colour change of both signs; thicknesses of both are kept for the slope.
    const auto both = [&](const char* what, double step, auto&& change, double& de) {
        std::array<double, 2> oxide{};
        for (const int sign : {-1, 1}) {
            Bench b = scene.bench;
            Stock s = scene.stock;
            Recipe r = recipe;
            change(b, s, r, sign * step);
            const auto p = predict({scene.materials, metal, b, s, scene.evidence}, r, fill, straight);
            if (!p) {
                error = p.error();
                return oxide;
            }
            if (p->mark.regime != middle->mark.regime)
                out.regime_changes.push_back({what, sign * step, p->mark.regime});
            de = std::max(de, delta_e_ab(p->lab(), middle->lab()));
            oxide[sign > 0 ? 1 : 0] = p->mark.oxide.thickness_m;
        }
        return oxide;
    };
    both(
        "focus", drift.focus_mm, [](Bench&, Stock&, Recipe& r, double d) { r.setting.focus_offset += mm(d); },
        out.focus_de);
    // Drift acts on what the source emits, at 100 % too, so it scales the source rather than the setting.
    const auto oxide = both(
        "power", drift.power,
        [](Bench& b, Stock&, Recipe&, double d) {
            b.source.rated_power *= 1 + d;
            b.source.largest_pulse *= 1 + d;
            b.source.peak_power_limit *= 1 + d;
            for (EnergyLimit& limit : b.source.energy_limits)
                limit.energy *= 1 + d;
        },
        out.power_de);
    both(
        "thickness", drift.thickness, [](Bench&, Stock& s, Recipe&, double d) { s.thickness *= 1 + d; },
        out.thickness_de);
    if (error)
        return tl::unexpected(*error);
    if (metal.oxide && oxide[0] > 0) {
        out.oxide_per_power = std::log(oxide[1] / oxide[0]) / std::log((1 + drift.power) / (1 - drift.power));
        const auto at = [&](double factor) {
            const double x = middle->mark.oxide.thickness_m * factor;
            return specular_included(*metal.film, x, middle->mark.look.haze, 0, metal.film->hemispherical(x)).lab;
        };
        out.de_per_percent_oxide = 0.5 * delta_e_ab(at(0.99), at(1.01));
    }
    out.fragility = std::hypot(out.focus_de, out.power_de, out.thickness_de);
    return out;
}

} // namespace finch
