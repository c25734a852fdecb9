// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "recipe/predict.h"

#include "physics/bare_shares.h"
#include "physics/colour_difference.h"
#include "physics/heat.h"

#include <algorithm>
#include <cmath>
#include <string>

namespace finch {
namespace {

/// A train within the range of the crater and coat models, and how much its clamping widens their bands.
struct ClampedTrain {
    PulseTrain train;
    double spread_ln = 0;
};
ClampedTrain clamped(const PulseOutput& pulse, const JoinModel& join) {
    const double power = pulse.average_power_w, khz = pulse.frequency_hz / 1e3, ns = pulse.pulse_width_s * 1e9;
    const double p = std::clamp(power, 0.1, 500.0), f = std::clamp(khz, 1.0, 4000.0),
                 t = std::clamp(ns, join.width_low_ns, join.width_high_ns);
    return {{millijoules(p / f), kilohertz(f), nanoseconds(t)},
            join.clamped_spread *
                (std::abs(std::log(ns / t)) + std::abs(std::log(power / p)) + std::abs(std::log(khz / f)))};
}

void add_findings(Prediction& p, const Source& source, const Setting& setting, const JoinModel& join) {
    const double wished = in_nanoseconds(setting.pulse_width), ns = p.mark.pulse.pulse_width_s * 1e9;
    if (source.kind == SourceKind::fixed_pulse_width && wished > 0 && std::abs(std::log(wished / ns)) > 0.02)
        p.findings.add(ModelFinding::width_fixed);
    if (!(ns >= join.width_low_ns && ns <= join.width_high_ns))
        p.findings.add(ModelFinding::width_clamped);
    if (p.mark.pulse.frequency_hz > 500e3)
        p.findings.add(ModelFinding::plume_between_pulses);
}

} // namespace

MeasuredPoint measured_point(const AnnealResult& mark) {
    return {mark.pulse.average_power_w, mark.pulse.pulse_width_s * 1e9, mark.pulse.frequency_hz / 1e3,
            mark.pattern.pulse_pitch_m * mark.pulse.frequency_hz * 1e3, mark.pattern.spot_m * 1e6};
}

MetSurface met_surface(const Scene& s) {
    return {s.materials.model.finishes.at(s.stock.finish).absorptance_factor,
            warm_share(s.metal, s.stock.start_temperature_c)};
}

double coat_thickness_um(const Stock& stock, const CoatConstants& coat) {
    return stock.coating_thickness > mm(0) ? in_micrometres(stock.coating_thickness) : coat.usual_thickness_um;
}

GasBeam gas_beam(const Bench& bench, const Recipe& recipe) {
    const Setting s = burned_setting(recipe);
    return {pulse_output(bench.source, s).average_power_w,
            in_mm(spot_at(waist(bench.lens(), bench.source.wavelength), s.focus_offset)),
            in_mm_per_second(s.scan_speed), in_mm(s.hatch_pitch)};
}

CoatConditions coat_conditions(const Scene& s, const CoatConstants& coat, int passes) {
    return {s.evidence.coat_work * coat_thickness_um(s.stock, coat), passes, s.stock.start_temperature_c,
            s.evidence.coat_gain, s.materials.model.join.coat_spread};
}

Workpiece workpiece(const Stock& stock, const Evidence& evidence) {
    // What was taught of films is told setting by setting, not by one gain.
    return {stock.finish, stock.coating, stock.thickness, stock.start_temperature_c,
            evidence.films ? 1 : evidence.growth_gain};
}

double plate_loss_w_m2k(const Stock& stock, const ProcessModel& model) {
    return stock.held_by.find("clamp") != std::string::npos && stock.held_by.find("unclamp") == std::string::npos
               ? model.clamped_loss
               : model.resting_loss;
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
    out.coupling = evidence.coupling_under(recipe.compound);
    return out;
}

namespace {

double start_k(const Scene& s) {
    return s.stock.start_temperature_c + 273.15;
}

double area_rate_mm2_s(const Recipe& r) {
    return in_mm_per_second(r.setting.scan_speed) * in_mm(r.setting.hatch_pitch);
}

/// The heat model's own words on removal, melting and burning give way to the joined ones.
void settle_warnings(Prediction& p, const Metal& metal) {
    using enum Effect;
    ShortList<MarkWarning, 11> kept;
    for (const MarkWarning w : p.mark.warnings)
        if (w != MarkWarning::burn && w != MarkWarning::colour_invalid)
            kept.add(w);
    if (p.burn_index > 1)
        kept.add(MarkWarning::burn);
    if (metal.oxide && p.shares[melts] + p.shares[removes] + p.shares[frosts] + p.shares[through] > 0.5)
        kept.add(MarkWarning::colour_invalid);
    p.mark.warnings = kept;
    p.mark.look.valid = is_film(p.effect) || p.effect == none;
}

/// What the heat model says of a spot of bare metal. `film_spread_ln` must be set.
BareFacts heat_facts(const Prediction& p, const Scene& s, int passes) {
    const ProcessModel& model = s.materials.model;
    const AnnealResult& mark = p.mark;
    BareFacts f;
    f.film_spread = p.film_spread_ln;
    f.heat_index = mark.removal.index;
    f.boil_ratio = mark.removal.ratio;
    f.stock_um = in_micrometres(s.stock.thickness);
    f.tint_nm = model.tint_from_m * 1e9;
    f.lift_nm = s.stock.coating == Coating::clear ? model.join.lift_clear_nm : 0;
    // The heat model counts half of the latent heat; the look is lost when all of it is in.
    const double above_k = s.metal.melting_k - start_k(s), latent_k = s.metal.latent_rise_k;
    f.melt_index = mark.melt_index * (above_k + 0.5 * latent_k) / (above_k + latent_k);
    f.oxide = s.metal.oxide.has_value();
    if (!f.oxide)
        return f;
    f.film_nm = p.oxide_nm();
    const double gain = workpiece(s.stock, s.evidence).growth_gain * model.growth_factor.at(s.stock.coating);
    const double grown = mark.oxide.hot_s * growth_constant(s.metal.melting_k, *s.metal.oxide, gain);
    f.film_of_pass_nm =
        1e9 * std::min(std::sqrt(model.native_oxide_m * model.native_oxide_m + grown / passes), model.scale_limit_m);
    f.colour_nm = s.metal.oxide->colour_from_m * 1e9;
    f.dark_nm = s.metal.oxide->dark_from_m * 1e9;
    return f;
}

/// What the craters of all passes do, where metal goes; fills in what `facts` needs of them. The metal must have
/// removal constants.
RemovalForecast cut(BareFacts& f, const Prediction& p, const Scene& s, const Recipe& recipe, bool with_band) {
    const ProcessModel& model = s.materials.model;
    const JoinModel& join = model.join;
    const RemovalConstants& m = *s.metal.removal;
    const ClampedTrain c = clamped(p.mark.pulse, join);
    const Cutting cutting{m,
                          model.removal,
                          c.train,
                          waist(s.bench.lens(), s.bench.source.wavelength),
                          {recipe.setting.scan_speed, recipe.setting.hatch_pitch}};
    const DeepWork work = deep_work(recipe, s.evidence);
    NetWalk walk(cutting, join, met_surface(s), work);
    RemovalForecast r;
    r.pass = walk.first();
    r.stock_um = f.stock_um;
    r.spread_ln =
        std::hypot(spread_at(s.evidence.depth_points.all(), measured_point(p.mark), join.depth_slopes,
                             std::max(s.evidence.depth_fit_ln, model.spread.depth_floor), std::log(m.depth_spread)),
                   c.spread_ln);
    NetWalk::Outcome likely{0, 1, {}, {}};
    if (r.pass.crater.log_ratio > 0)
        likely = walk.walk(1, 4 * f.stock_um, f.stock_um);
    if (likely.depth_um > 0) {
        // A search does not ask for the band; its ends are nearly the factor.
        const auto depth = [&](double factor) {
            return with_band ? walk.walk(factor, 4 * f.stock_um).depth_um : likely.depth_um * factor;
        };
        const double factor = std::exp(r.spread_ln), a = depth(1 / factor), b = depth(factor);
        r.least_um = std::min(std::min(a, b), f.stock_um);
        r.most_um = std::min(std::max(a, b), f.stock_um);
    }
    const double areal = r.pass.areal_energy_j_mm2;
    f.boil_ratio = std::max(f.boil_ratio, r.pass.over_single);
    f.log_ratio = r.pass.crater.log_ratio;
    f.crater_nm = r.pass.crater.depth_um * 1e3 *
                  (1 - recast_near(join, r.pass.over_single, in_nanoseconds(c.train.width))) * work.calibration;
    f.overlap = r.pass.overlap();
    f.areal_j_mm2 = areal_since_cleaning(model.removal, areal, work.passes, work.clean_every);
    f.dark_from_j_mm2 = m.dark_from_j_mm2;
    f.depth_um = likely.depth_um;
    f.depth_spread = r.spread_ln;
    f.tarnish = (p.mark.heat.between - start_k(s)) / m.tint_rise_k;
    r.passes = likely.passes;
    r.first_um = net_depth_um(cutting, join, r.pass, 0, 1);
    r.rate_mm3_min = r.first_um * 1e-3 * area_rate_mm2_s(recipe) * 60;
    r.depth_if_um = std::min(likely.depth_um, f.stock_um);
    r.taper_deg = taper_deg(r.pass.crater, model.removal);
    r.stages = run_stages(dark_from(m, model.removal, areal, likely.passes, work.clean_every), likely.emerges_at,
                          likely.clear_at);
    return r;
}

/// Heat in the plate that is left at the upper end of the depth.
PlateOutcome plate_left(const RemovalForecast& r, const Prediction& p, const Scene& s, const Recipe& recipe,
                        const Fill& fill) {
    const ProcessModel& model = s.materials.model;
    const AnnealResult& mark = p.mark;
    PlateLoad load;
    load.power_w = mark.pulse.average_power_w;
    load.thickness_mm = in_mm(s.stock.thickness);
    load.area_rate_mm2_s = area_rate_mm2_s(recipe);
    load.side_mm = std::sqrt(fill.area_mm2);
    load.loss_w_m2k = plate_loss_w_m2k(s.stock, model);
    load.deepest_um = r.most_um;
    load.bulk_rise_k = mark.heat.lines_rise + mark.heat.passes_rise;
    load.start_k = start_k(s);
    load.spot_radius_m = mark.pattern.spot_radius_m;
    load.speed_m_s = recipe.setting.scan_speed.value();
    // As long as nothing is gone, the heat model has it already.
    const double rest_mm = left_mm(load.thickness_mm, load.deepest_um);
    load.moving_rise_k =
        rest_mm == load.thickness_mm
            ? mark.heat.moving_rise
            : moving_spot_rise(mark.heat.absorptance * mark.pulse.average_power_w * mark.heat.heat_kept,
                               load.spot_radius_m, load.speed_m_s, rest_mm * 1e-3, s.metal.conductivity_hot,
                               s.metal.diffusivity_hot(), mark.pattern.line_m / load.speed_m_s);
    return plate_outcome(load, s.metal, model.join);
}

/// What cells of this lot taught takes the place of what the physics says of film, look and the borders of damage.
void take_taught(Prediction& p, BareFacts& f, const Scene& s, const Recipe& recipe, const Fill& fill,
                 const ViewingAngles& angles) {
    const TaughtFilms& films = s.evidence.films;
    const auto told = films->told(s, recipe, fill, p.mark, floor_weights(f, s.materials.model.join).away,
                                  s.evidence.growth_gain / films->growth_gain());
    const auto see = [&](const TaughtLook& film) {
        p.mark = with_film(p.mark, film, s.metal, s.materials.model, s.bench.source, s.bench.lens(),
                           burned_setting(recipe), workpiece(s.stock, s.evidence), fill, angles);
    };
    if (!told || !told->film)
        see({p.mark.oxide.thickness_m, p.mark.look.haze, {}});
    if (!told)
        return;
    const double earlier = std::exp(told->earlier_ln);
    f.melt_index *= earlier;
    f.heat_index *= earlier;
    f.boil_ratio *= earlier;
    f.log_ratio += f.log_ratio != 0 ? told->earlier_ln : 0;
    if (!told->film)
        return;
    const double native_nm = s.materials.model.native_oxide_m * 1e9, physics_nm = p.oxide_nm();
    see(*told->film);
    p.film_spread_ln = f.film_spread = told->spread_ln;
    f.film_nm = p.oxide_nm();
    const auto grown = [&](double nm) { return std::max(nm * nm - native_nm * native_nm, 0.0); };
    const double gain = grown(physics_nm) > 0 ? grown(f.film_nm) / grown(physics_nm) : 1;
    f.film_of_pass_nm = std::sqrt(native_nm * native_nm + gain * grown(f.film_of_pass_nm));
}

/// Film and craters of bare or thinly covered metal, joined.
void forecast_bare(Prediction& p, const Scene& s, const Recipe& recipe, const Fill& fill, const ViewingAngles& angles) {
    const ProcessModel& model = s.materials.model;
    const JoinModel& join = model.join;
    const double deep_um = model.removal_net_limit_m * 1e6;
    p.film_spread_ln = spread_at(s.evidence.film_points.all(), measured_point(p.mark), join.film_slopes,
                                 0.5 * std::max(s.evidence.growth_fit_ln, join.gain_floor),
                                 unread_spread(s.metal, model.spread, p.mark.heat.peak, start_k(s)));
    BareFacts f = heat_facts(p, s, burned_setting(recipe).passes);
    if (s.metal.removal)
        p.removal = cut(f, p, s, recipe, angles.count > 0);
    if (s.evidence.films && s.metal.oxide)
        take_taught(p, f, s, recipe, fill, angles);
    const FloorWeights w = floor_weights(f, join);
    p.melt_index = f.melt_index;
    p.share_away = w.away;
    p.shares = bare_shares(f, w, join, deep_um, model.frost_limit_m * 1e6);
    p.effect = p.shares.leading();
    p.removal_index = std::max(f.heat_index, w.away * f.depth_um / deep_um);
    p.burn_index = p.mark.plate.burn;
    if (p.removal) {
        RemovalForecast& r = *p.removal;
        r.depth_um = w.away * r.depth_if_um;
        r.least_um *= w.away;
        r.most_um *= w.away;
        r.floor = floor_look(f, w);
        r.dark_floor = w.dark;
        const PlateOutcome plate = plate_left(r, p, s, recipe, fill);
        r.plate_rise_k = plate.rise_k;
        r.buckling_rise_k = buckling_rise_k(*s.metal.removal, in_mm(s.stock.thickness), std::sqrt(fill.area_mm2));
        r.crater_burn_index = plate.burn_index;
        r.crater_index = p.removal_index;
        // Craters are seen over their threshold; below it a surface that stays liquid still boils.
        const double unseen_share = 1 - normal_share((f.log_ratio - join.seen_from) / join.seen_spread);
        r.vapour_um = w.away * std::min(f.stock_um, unseen_share * share_over(f.melt_index, 1, join.melt_spread) *
                                                        p.mark.removal.net_m * 1e6);
        r.vapour_spread_ln = join.vapour_spread;
        const double boiled_um = r.boils_off() ? r.told_most_um() - r.most_um : 0;
        p.burn_index = plate.burn_index + boiled_um / (join.plate_share * f.stock_um);
        p.removal_index = std::max(p.removal_index, r.told_um() / deep_um);
    }
    if (angles.count > 0)
        p.lightness =
            expected_lightness(p.shares, p.lab().l, s.metal.film->bare_lab().l, w.dark, model.looks.dark_floor, join);
    if (!s.metal.oxide)
        p.reason = p.shares[Effect::tint] > 0.05 ? "tarnish is expected, its colour is not modelled on this metal"
                                                 : "no film is modelled on this metal";
    settle_warnings(p, s.metal);
    p.band_ln = p.film_seen() ? p.film_spread_ln : p.removal ? p.removal->spread_ln : std::log(3);
}

void forecast_coated(Prediction& p, const Scene& s, const Recipe& recipe) {
    const JoinModel& join = s.materials.model.join;
    const ClampedTrain c = clamped(p.mark.pulse, join);
    const Setting setting = burned_setting(recipe);
    if (s.stock.coating == Coating::anodised_natural) {
        p.black =
            black_film(c.train, Length::from_value(p.mark.pattern.spot_m), {setting.scan_speed, setting.hatch_pitch},
                       setting.passes, s.stock.start_temperature_c, join);
        p.shares = p.black->shares;
        if (p.black->l_star)
            p.lightness = Lightness{*p.black->l_star, s.materials.model.looks.bleached.spread};
        p.band_ln = join.black_spread;
    } else {
        const CoatConstants& coat = *s.materials.coat(s.stock.coating);
        CoatConditions conditions = coat_conditions(s, coat, setting.passes);
        conditions.spread = std::hypot(spread_at(s.evidence.coat_points.all(), measured_point(p.mark), join.coat_slopes,
                                                 std::max(s.evidence.coat_fit_ln, join.gain_floor), join.coat_spread),
                                       c.spread_ln);
        const Cutting cut{*s.metal.removal,
                          s.materials.model.removal,
                          c.train,
                          waist(s.bench.lens(), s.bench.source.wavelength),
                          {setting.scan_speed, setting.hatch_pitch}};
        CoatForecast forecast;
        forecast.pulsed = pulsed_coat(coat, cut, met_surface(s), setting.focus_offset, conditions);
        forecast.spread_ln = conditions.spread;
        forecast.thickness_um = coat_thickness_um(s.stock, coat);
        p.shares = coat_shares(forecast.pulsed, conditions, join);
        p.coating = forecast;
        p.band_ln = conditions.spread;
    }
    p.effect = p.shares.leading();
    p.mark.look.valid = false;
    p.reason = "film and depth of the metal under a coat are not modelled";
}

/// What a gas laser does to a coat; it heats bare metal too little to mark it.
void forecast_gas(Prediction& p, const Scene& s, const Recipe& recipe) {
    const JoinModel& join = s.materials.model.join;
    const CoatConstants* coat = s.materials.coat(s.stock.coating);
    if (s.stock.coating == Coating::anodised_natural) {
        p.reason = "a white mark in a clear anodised film is not modelled";
    } else if (s.metal.film == nullptr) {
        p.reason = "nothing is known of this material";
    } else if (coat == nullptr || !coat->gas || !s.metal.removal) {
        p.reason = "bare metal reflects 10.6 um; no effect is modelled";
    } else {
        const Setting setting = burned_setting(recipe);
        const GasBeam beam = gas_beam(s.bench, recipe);
        CoatConditions conditions = coat_conditions(s, *coat, setting.passes);
        conditions.spread = spread_at(s.evidence.coat_points.all(), measured_point(p.mark), join.coat_slopes,
                                      std::max(s.evidence.coat_fit_ln, join.gain_floor), join.gas_spread);
        CoatForecast forecast;
        forecast.gas = gas_coat(*coat, *s.metal.removal, beam, conditions, join);
        forecast.spread_ln = conditions.spread;
        forecast.thickness_um = coat_thickness_um(s.stock, *coat);
        p.coating = forecast;
        p.shares = gas_coat_shares(*coat, *s.metal.removal, beam, conditions, join);
        p.effect = p.shares.leading();
        p.band_ln = conditions.spread;
        p.reason = "film and depth of the metal under a coat are not modelled";
    }
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
    const SpreadModel& spread = scene.materials.model.spread;
    // The factors are ranges of nine in ten.
    p.band_ln =
        std::log(p.evidence.ladders_under(recipe.compound) > 0 ? spread.compound_learned : spread.compound_unproven) /
        1.645;
    const auto window = compound_window(*c, *m, s);
    p.shares = fused_shares(*o, s, window ? std::optional(*window) : std::nullopt, table.ladder.at(2).survived_from,
                            p.band_ln);
    if (scene.bench.source.pulsed() && scene.metal.removal) {
        const JoinModel& join = scene.materials.model.join;
        const Cutting cut{*scene.metal.removal,
                          scene.materials.model.removal,
                          clamped(p.mark.pulse, join).train,
                          waist(scene.bench.lens(), scene.bench.source.wavelength),
                          {recipe.setting.scan_speed, recipe.setting.hatch_pitch}};
        p.shares = compound_shares(
            p.shares, powder_pulse(cut, met_surface(scene), Length::from_value(p.mark.pattern.spot_m), join), join);
    }
    p.effect = p.shares.leading();
    p.lightness = p.effect == Effect::bonds ? std::optional(Lightness{c->usual_l, c->l_spread}) : std::nullopt;
    p.removal.reset(); // a film is added; what the pulses cut through it is the share that frosts
    p.share_away = p.removal_index = 0;
    p.reason = {};
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
    out.heat_modelled = bench.source.pulsed() && metal.film != nullptr;
    const bool coated = materials.coat(stock.coating) != nullptr || stock.coating == Coating::anodised_natural;
    if (out.heat_modelled) {
        // The pulses of this prediction are worked out once, by the heat model.
        // What was taught of the film is put in below, and looked at then.
        out.mark = anneal(metal, materials.model, bench.source, bench.lens(), setting, part, fill,
                          evidence.films && metal.oxide && !coated ? unseen : angles);
        add_findings(out, bench.source, setting, materials.model.join);
        if (recipe.process == Process::compound)
            forecast_bare(out, scene, recipe, fill, angles); // burn index and warmth of the part below
        else if (coated && metal.removal)
            forecast_coated(out, scene, recipe);
        else
            forecast_bare(out, scene, recipe, fill, angles);
    } else {
        out.mark.pulse = pulse_output(bench.source, setting);
        out.mark.pattern = pattern(out.mark.pulse, bench.source, bench.lens(), setting, fill, materials.model.turn_s);
        out.mark.look.valid = false;
        if (bench.source.kind == SourceKind::gas && recipe.process != Process::compound)
            forecast_gas(out, scene, recipe);
        else
            out.reason = metal.film == nullptr ? "nothing is known of this material" : "this beam is not modelled";
    }
    if (recipe.process == Process::compound)
        if (const auto done = forecast_compound(out, scene, recipe); !done)
            return tl::unexpected(done.error());
    return out;
}

Lab film_colour(const Prediction& p, const Metal& metal, double factor, double angle_deg) {
    const double x = p.mark.oxide.thickness_m * factor;
    return shifted(specular_included(*metal.film, x, p.mark.look.haze, angle_deg, metal.film->hemispherical(x)),
                   p.mark.look.shift)
        .lab;
}

std::vector<Lab> tilted_colours(const Prediction& p, const Metal& metal, double step_deg, std::size_t count) {
    const double x = p.mark.oxide.thickness_m;
    const Spectrum hemi = metal.film->hemispherical(x);
    std::vector<Lab> out;
    for (std::size_t i = 0; i < count; ++i)
        out.push_back(
            shifted(specular_included(*metal.film, x, p.mark.look.haze, step_deg * static_cast<double>(i), hemi),
                    p.mark.look.shift)
                .lab);
    return out;
}

Lab colour_from_above(const Prediction& prediction, const Metal& metal) {
    return film_colour(prediction, metal, 1, 0);
}

ColourBand colour_band(const Prediction& prediction, const Metal& metal, double angle_deg) {
    const auto at = [&](double factor) { return film_colour(prediction, metal, factor, angle_deg); };
    const double grow = std::exp(prediction.film_spread_ln);
    return {at(1 / grow), at(1), at(grow)};
}

} // namespace finch
