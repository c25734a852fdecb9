// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "physics/anneal.h"

#include "physics/growth.h"
#include "physics/quadrature.h"
#include "quantity/angles.h"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <numbers>

namespace finch {
namespace {

constexpr std::size_t profile_points = 25; // the axis, with zero weight, and 24 Gauss points
constexpr double zero_c = 273.15;

/// Beam profile in q = 2 r^2 / w^2; entry 0 is the axis.
struct Profile {
    std::array<double, profile_points> q{}, weight{}, shape{}, spread{};
};

const Profile& profile() {
    static const Profile p = [] {
        Profile out;
        const GaussRule<24>& rule = gauss_legendre<24>();
        out.shape[0] = out.spread[0] = 1;
        for (std::size_t i = 0; i < 24; ++i) {
            out.q[i + 1] = 5 * (rule.x[i] + 1);
            out.weight[i + 1] = 5 * rule.w[i];
            out.shape[i + 1] = std::exp(-out.q[i + 1]);
            out.spread[i + 1] = scaled_bessel_i0(0.5 * out.q[i + 1]);
        }
        return out;
    }();
    return p;
}

} // namespace

/// One evaluation of the model, step by step.
class Annealing {
public:
    Annealing(const Metal& metal, const ProcessModel& model, const Source& source, const Lens& lens,
              const Setting& setting, const Workpiece& part, const Fill& fill)
        : metal_(metal), model_(model), setting_(setting), part_(part), fill_(fill),
          finish_(model.finishes.at(part.finish)) {
        out_.pulse = pulse_output(source, setting);
        out_.pattern = pattern(out_.pulse, source, lens, setting, fill, model.turn_s);
        speed_ = setting.scan_speed.value();
        pitch_ = in_metres(setting.hatch_pitch);
        thickness_ = in_metres(part.thickness);
        radius_ = out_.pattern.spot_radius_m;
        start_k_ = part.start_temperature_c + zero_c;
        absorbed_ = std::min(0.95, metal.absorptance * finish_.absorptance_factor);
    }

    AnnealResult run(const ViewingAngles& angles) {
        heat();
        growth();
        removal();
        look(angles);
        judge();
        plate();
        warn();
        return out_;
    }
    double hot_s(double absorbed, double warmer_k) {
        absorbed_ = std::min(0.95, absorbed * metal_.absorptance * finish_.absorptance_factor);
        start_k_ = part_.start_temperature_c + zero_c + warmer_k;
        heat();
        growth();
        return out_.oxide.hot_s;
    }
    AnnealResult run_with(const AnnealResult& physics, const TaughtLook& film, const ViewingAngles& angles) {
        out_ = physics;
        out_.oxide.thickness_m = film.thickness_m;
        out_.look.shift = film.shift;
        see(film.haze, angles);
        out_.neighbours = {};
        judge();
        out_.warnings = {};
        warn();
        return out_;
    }

private:
    double boiling_limit(double before_k) const {
        return std::max(metal_.boiling_k + metal_.latent_rise_k - before_k, 1.0) / rise_per_fluence_;
    }
    double retained(double fluence, double limit) const {
        return fluence > limit ? limit + model_.heat_kept_above_boiling * (fluence - limit) : fluence;
    }

    void path();
    void heat();
    void growth();
    void pulse_cycle();
    void removal();
    void look(const ViewingAngles& angles);
    void see(double haze, const ViewingAngles& angles);
    void judge();
    void plate();
    void warn();

    const Metal& metal_;
    const ProcessModel& model_;
    const Setting& setting_;
    const Workpiece& part_;
    const Fill& fill_;
    const FinishFactors& finish_;
    AnnealResult out_;
    double speed_ = 0, pitch_ = 0, thickness_ = 0, radius_ = 0, start_k_ = 0, absorbed_ = 0;
    double rise_per_fluence_ = 0, heating_power_ = 0, base_k_ = 0, axis_limit_ = 0;
    std::array<double, profile_points> kept_fluence_{}, moving_{};
    struct PerWatt {
        double lines_k = 0, passes_k = 0, moving_k = 0;
    };
    std::optional<PerWatt> per_watt_; ///< rise by what depends on path and plate alone
    std::optional<PulseCycle> cycle_;
};

void Annealing::path() {
    if (per_watt_)
        return;
    const double line_s = out_.pattern.line_m / speed_;
    per_watt_ = {
        line_accumulation(1, out_.pattern, speed_, pitch_, thickness_, metal_, model_),
        pass_accumulation(1 / (speed_ * pitch_), out_.pattern, out_.pattern.lines * pitch_, setting_.passes - 1,
                          thickness_, metal_, model_),
        moving_spot_rise(1, radius_, speed_, thickness_, metal_.conductivity_hot, metal_.diffusivity_hot(), line_s)};
}

void Annealing::heat() {
    const Profile& p = profile();
    HeatResult& h = out_.heat;
    const double k = metal_.conductivity_hot;
    const double diffusivity = metal_.diffusivity_hot();
    const double fluence = absorbed_ * out_.pattern.peak_fluence_j_m2;
    h.absorptance = absorbed_;
    rise_per_fluence_ = pulse_rise(out_.pulse.pulse_width_s, out_.pulse.pulse_width_s, radius_, k, diffusivity);

    double all = 0, kept = 0;
    const double cold_limit = boiling_limit(start_k_);
    for (std::size_t i = 0; i < profile_points; ++i) {
        kept_fluence_[i] = retained(fluence * p.shape[i], cold_limit);
        kept += p.weight[i] * kept_fluence_[i];
        all += p.weight[i] * fluence * p.shape[i];
    }
    h.heat_kept = kept / all;
    heating_power_ = absorbed_ * out_.pulse.average_power_w * h.heat_kept;
    path();
    h.lines_rise = heating_power_ * per_watt_->lines_k;
    h.passes_rise = heating_power_ * per_watt_->passes_k;
    base_k_ = start_k_ + h.lines_rise + 0.5 * h.passes_rise;
    h.moving_rise = heating_power_ * per_watt_->moving_k;
    h.peclet = speed_ * (radius_ / std::numbers::sqrt2) / (4 * diffusivity);

    const double f = out_.pulse.frequency_hz;
    const double before =
        f * radius_ / (k * std::sqrt(2 * pi)) * std::atan(std::sqrt(8 * diffusivity * (0.5 / f)) / radius_);
    for (std::size_t i = 0; i < profile_points; ++i) {
        moving_[i] = h.moving_rise * p.spread[i];
        const double pre = base_k_ + std::max(0.0, moving_[i] - kept_fluence_[i] * before);
        const double limit = boiling_limit(pre);
        kept_fluence_[i] = retained(fluence * p.shape[i], limit);
        if (i == 0) {
            h.between = pre;
            axis_limit_ = limit;
        }
    }
    h.pulse_rise = fluence * rise_per_fluence_;
    h.linear_peak = h.between + h.pulse_rise;
    h.peak = real_temperature(h.linear_peak, metal_);
}

void Annealing::growth() {
    if (!metal_.oxide)
        return;
    pulse_cycle();
    const double gain = part_.growth_gain * model_.growth_factor.at(part_.coating);
    const Profile& p = profile();
    double sum = 0;
    for (std::size_t q = 1; q < profile_points; ++q)
        sum += p.weight[q] * cycle_growth(*cycle_, {base_k_, moving_[q], kept_fluence_[q]}, metal_, gain);
    const double grown = out_.pattern.pulses_per_m2 * 0.5 * pi * radius_ * radius_ * sum;
    out_.oxide.thickness_m =
        std::min(std::sqrt(model_.native_oxide_m * model_.native_oxide_m + grown), model_.scale_limit_m);
    out_.oxide.hot_s = grown / growth_constant(metal_.melting_k, *metal_.oxide, gain);
}

void Annealing::pulse_cycle() {
    if (cycle_)
        return;
    const double tau = out_.pulse.pulse_width_s;
    const double f = out_.pulse.frequency_hz;
    const double k = metal_.conductivity_hot;
    const double diffusivity = metal_.diffusivity_hot();
    PulseCycle& cycle = cycle_.emplace();
    const auto put = [&](std::size_t i, double t, double w) {
        cycle.weight[i] = w;
        cycle.rise[i] = pulse_rise(t, tau, radius_, k, diffusivity);
        cycle.decay[i] =
            f * radius_ / (k * std::sqrt(2 * pi)) * std::atan(std::sqrt(8 * diffusivity * (t + 0.5 / f)) / radius_);
    };
    const GaussRule<12>& on = gauss_legendre<12>();
    for (std::size_t i = 0; i < 12; ++i) {
        const double s = 0.5 * (on.x[i] + 1);
        put(i, tau * s * s, 2 * tau * s * 0.5 * on.w[i]);
    }
    const GaussRule<40>& after = gauss_legendre<40>();
    const double end = std::asinh(std::sqrt(1 / (f * tau) - 1));
    for (std::size_t i = 0; i < 40; ++i) {
        const double u = 0.5 * end * (after.x[i] + 1);
        const double sh = std::sinh(u);
        put(12 + i, tau + tau * sh * sh, 2 * tau * sh * std::cosh(u) * 0.5 * end * after.w[i]);
    }
}

void Annealing::removal() {
    RemovalResult& r = out_.removal;
    const double fluence = absorbed_ * out_.pattern.peak_fluence_j_m2;
    r.ratio = fluence / axis_limit_;
    r.per_pulse_m = std::max(0.0, fluence - axis_limit_) / metal_.vaporisation_heat;
    if (r.ratio > 1)
        r.net_m = model_.removal_share * out_.pattern.pulses_per_m2 * 0.5 * pi * radius_ * radius_ * fluence /
                  metal_.vaporisation_heat * (1 - (1 + std::log(r.ratio)) / r.ratio);
    r.index = std::max(r.per_pulse_m / model_.removal_per_pulse_limit_m, r.net_m / model_.removal_net_limit_m);
}

void Annealing::look(const ViewingAngles& angles) {
    const double crowd = out_.pattern.pulses_per_spot / model_.haze_pulses_per_spot;
    double texture = model_.haze_most * (1 - std::exp(-crowd * crowd)) * metal_.film->cover(out_.oxide.thickness_m);
    texture = 1 - (1 - texture) * std::exp(-out_.removal.net_m / model_.haze_depth_m);
    see(finish_.haze + (1 - finish_.haze) * texture, angles);
}

void Annealing::see(double haze, const ViewingAngles& angles) {
    Look& look = out_.look;
    const FilmOptics& film = *metal_.film;
    const double x = out_.oxide.thickness_m;
    look.haze = haze;
    look.angles = angles.count;
    if (angles.count == 0)
        return;
    const Spectrum hemi = film.hemispherical(x);
    for (std::size_t i = 0; i < angles.count; ++i) {
        const Spectrum mirror = film.surface(x, angles.at[i]);
        look.specular_included[i] = shifted(specular_included(mirror, look.haze, angles.at[i], hemi), look.shift);
        look.room[i] = shifted(
            room_look(mirror, look.haze, angles.at[i], model_.room_light, model_.room_lamp_deg, hemi), look.shift);
    }
    look.specular_excluded = shifted(specular_excluded(look.haze, hemi), look.shift);
    look.blackness = std::clamp((60 - look.specular_included[0].lab.l) / 40, 0.0, 1.0);
}

void Annealing::judge() {
    const double melt_span = metal_.melting_k + 0.5 * metal_.latent_rise_k - start_k_;
    double& melt = out_.melt_index;
    melt = (out_.heat.between - start_k_) / melt_span;
    if (!metal_.oxide)
        melt = std::max(melt, (out_.heat.linear_peak - start_k_) / melt_span);
    const double removal = out_.removal.index;
    const double x = out_.oxide.thickness_m;
    const auto from = [](double v) { return -std::log(std::max(v, 1e-6)); };

    std::array<double, 4> step{0, model_.tint_from_m, 0, 0};
    std::size_t steps = 1;
    if (metal_.oxide) {
        step[2] = metal_.oxide->colour_from_m;
        step[3] = metal_.oxide->dark_from_m;
        steps = 4;
    }
    std::size_t at = 0;
    while (at + 1 < steps && x >= step[at + 1])
        ++at;
    const auto oxide_regime = static_cast<Regime>(at);
    out_.regime = removal >= 1 ? Regime::ablation : melt >= 1 ? Regime::surface_melting : oxide_regime;
    if (removal >= 1) {
        out_.neighbours.add({melt >= 1 ? Regime::surface_melting : oxide_regime, std::log(removal)});
    } else if (melt >= 1) {
        out_.neighbours.add({oxide_regime, std::log(melt)});
        out_.neighbours.add({Regime::ablation, from(removal)});
    } else {
        if (at > 0)
            out_.neighbours.add({static_cast<Regime>(at - 1), std::log(x / step[at])});
        if (at + 1 < steps)
            out_.neighbours.add({static_cast<Regime>(at + 1), std::log(step[at + 1] / x)});
        out_.neighbours.add({Regime::surface_melting, from(melt)});
        out_.neighbours.add({Regime::ablation, from(removal)});
    }
    out_.margins.ablation = from(removal);
    out_.margins.surface_melting = from(melt);
    if (metal_.oxide) {
        out_.margins.tint = std::log(x / step[1]);
        out_.margins.interference_colour = std::log(x / step[2]);
        out_.margins.dark_anneal = std::log(x / step[3]);
    }
    out_.look.valid = out_.regime != Regime::ablation && out_.regime != Regime::surface_melting;
}

void Annealing::plate() {
    const Pattern& p = out_.pattern;
    const double diffusivity = metal_.diffusivity_hot();
    const double size = std::max(p.line_m, p.lines * pitch_);
    const double fill_radius = std::sqrt(fill_.area_mm2 * 1e-6 / pi);
    const double bulk = out_.heat.lines_rise + out_.heat.passes_rise;
    const double buckling = 0.94 * (thickness_ / fill_radius) * (thickness_ / fill_radius) / metal_.expansion;
    const double dwell = p.spot_m / speed_;
    const double skin = 1 / (1 / radius_ + 1 / std::sqrt(4 * diffusivity * dwell));
    const double yield = 2 * metal_.yield_strain / metal_.expansion;
    const double plastic = std::max(0.0, 1 - yield / std::max(out_.heat.moving_rise, 1e-9));
    const double bow = 6 * metal_.yield_strain * skin * plastic / (thickness_ * thickness_) * size * size / 8;
    out_.plate.warp = bulk / buckling + bow / 0.1e-3;
    const double left = std::max(thickness_ - out_.removal.net_m, 0.02 * thickness_);
    const double reach = radius_ + std::sqrt(diffusivity * dwell);
    const double ligament = bulk + moving_spot_rise(heating_power_, radius_, speed_, left, metal_.conductivity_hot,
                                                    diffusivity, p.line_m / speed_);
    out_.plate.burn =
        out_.removal.net_m / (0.5 * thickness_) + ligament / (metal_.melting_k - start_k_) * std::exp(-left / reach);
}

void Annealing::warn() {
    const Pattern& p = out_.pattern;
    const bool skin_melts = out_.heat.linear_peak > metal_.melting_k + metal_.latent_rise_k;
    const auto add_if = [this](bool when, MarkWarning w) {
        if (when)
            out_.warnings.add(w);
    };
    add_if(!out_.look.valid, MarkWarning::colour_invalid);
    add_if(out_.look.valid && out_.oxide.thickness_m >= model_.scale_limit_m, MarkWarning::scale);
    add_if(out_.pulse.derating < 1, MarkWarning::derated);
    add_if(p.pulse_pitch_m > 0.5 * p.spot_m || pitch_ > 0.5 * p.spot_m, MarkWarning::gaps);
    add_if(part_.coating == Coating::nickel || part_.coating == Coating::clear, MarkWarning::coated);
    add_if(!metal_.oxide, MarkWarning::no_colour);
    add_if(p.peak_fluence_j_m2 >= model_.cleaning_from_j_m2 && out_.removal.index < 0.3 &&
               (out_.regime == Regime::too_cold || out_.regime == Regime::tint) && !skin_melts,
           MarkWarning::cleaning);
    add_if(skin_melts && out_.look.valid, MarkWarning::pulse_melt);
    add_if(p.line_ripple > 0.2, MarkWarning::stripes);
    add_if(out_.plate.warp > 1, MarkWarning::warp);
    add_if(out_.plate.burn > 1, MarkWarning::burn);
}

std::string_view word(Regime regime) {
    switch (regime) {
    case Regime::too_cold:
        return "too cold";
    case Regime::tint:
        return "tint";
    case Regime::interference_colour:
        return "interference colour";
    case Regime::dark_anneal:
        return "dark anneal";
    case Regime::surface_melting:
        return "surface melting";
    case Regime::ablation:
        return "ablation";
    }
    return "";
}

AnnealResult anneal(const Metal& metal, const ProcessModel& model, const Source& source, const Lens& lens,
                    const Setting& setting, const Workpiece& part, const Fill& fill, const ViewingAngles& angles) {
    assert(!input_fault(source, lens, setting, part, fill));
    return Annealing(metal, model, source, lens, setting, part, fill).run(angles);
}

AnnealResult with_film(const AnnealResult& physics, const TaughtLook& film, const Metal& metal,
                       const ProcessModel& model, const Source& source, const Lens& lens, const Setting& setting,
                       const Workpiece& part, const Fill& fill, const ViewingAngles& angles) {
    return Annealing(metal, model, source, lens, setting, part, fill).run_with(physics, film, angles);
}

GrowthProbe::GrowthProbe(const Metal& metal, const ProcessModel& model, const Source& source, const Lens& lens,
                         const Setting& setting, const Workpiece& part, const Fill& fill)
    : annealing_(std::make_unique<Annealing>(metal, model, source, lens, setting, part, fill)) {
    assert(!input_fault(source, lens, setting, part, fill) && metal.oxide);
}
GrowthProbe::~GrowthProbe() = default;
GrowthProbe::GrowthProbe(GrowthProbe&&) noexcept = default;

double GrowthProbe::hot_s(double absorbed, double warmer_k) {
    return annealing_->hot_s(absorbed, warmer_k);
}

Expected<double> gain_from_thickness(double predicted_m, double observed_m, double gain_used,
                                     const ProcessModel& model) {
    const double native = model.native_oxide_m * model.native_oxide_m;
    if (!(predicted_m * predicted_m > native && observed_m * observed_m > native))
        return failure("physics.gain", "A film no thicker than the native oxide teaches nothing.",
                       "Use a cell that shows a colour.");
    return gain_used * (observed_m * observed_m - native) / (predicted_m * predicted_m - native);
}

} // namespace finch
