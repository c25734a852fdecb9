// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "physics/removal.h"

#include "quantity/angles.h"
#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

namespace finch {
namespace {

FloorLook look_of(const RemovalConstants& m, const RemovalModel& model, const PassOutcome& p) {
    if (p.crater.fluence_j_cm2 < model.mark_ratio * p.crater.threshold_j_cm2)
        return FloorLook::untouched;
    if (p.crater.log_ratio <= 0)
        return FloorLook::tinted_or_molten;
    if (p.areal_energy_j_mm2 >= m.dark_from_j_mm2)
        return FloorLook::dark;
    if (p.crater.log_ratio < 1.5 && p.pulse_overlap > 0.5)
        return FloorLook::polished;
    return p.crater.log_ratio >= 1.5 ? FloorLook::frosted : FloorLook::lightly_cleaned;
}

} // namespace

std::string_view word(FloorLook look) {
    switch (look) {
    case FloorLook::untouched:
        return "untouched";
    case FloorLook::tinted_or_molten:
        return "tinted or molten";
    case FloorLook::dark:
        return "dark powder";
    case FloorLook::polished:
        return "bright, polished";
    case FloorLook::frosted:
        return "pale, frosted";
    case FloorLook::lightly_cleaned:
        return "lightly cleaned";
    }
    return "";
}

double peak_fluence_j_cm2(Energy energy, Length spot) {
    const double d = in_micrometres(spot);
    return 8e5 * in_millijoules(energy) / (pi * d * d);
}

double incubated_threshold(double single, double exponent, double pulses, const RemovalModel& model) {
    return single * std::pow(std::min(std::max(pulses, 1.0), model.incubation_cap), exponent - 1);
}

PulseOnSpot pulse_on_spot(const RemovalConstants& m, const RemovalModel& model, const PulseTrain& train, Length spot) {
    PulseOnSpot out;
    const double tau = in_nanoseconds(train.width);
    const double width = tau / 100;
    out.spot_um = in_micrometres(spot);
    out.fluence_j_cm2 = peak_fluence_j_cm2(train.energy, spot);
    const double x = out.fluence_j_cm2 / (model.shielding_j_cm2 * std::pow(width, 0.75));
    out.shielded_fluence_j_cm2 = out.fluence_j_cm2 * std::log1p(x) / x;
    out.single_threshold_j_cm2 = m.threshold_j_cm2 * std::sqrt(width);
    out.depth_per_log_um = m.penetration_um * std::sqrt(width);
    const double wide = out.spot_um / model.melt_spot_um;
    out.melt_gain = m.melt_gain * tau / (tau + model.melt_width_ns) / (1 + wide * wide);
    return out;
}

Crater crater_over(const PulseOnSpot& p, const RemovalConstants& m, const RemovalModel& model, double single_threshold,
                   double pulses) {
    Crater c;
    c.fluence_j_cm2 = p.fluence_j_cm2;
    c.shielded_fluence_j_cm2 = p.shielded_fluence_j_cm2;
    const double q = p.shielded_fluence_j_cm2 / (model.melt_fluence * single_threshold);
    c.gain = 1 + p.melt_gain * q * q / (1 + q * q);
    const double depth_per_log = p.depth_per_log_um * c.gain;
    c.threshold_j_cm2 = incubated_threshold(single_threshold, m.incubation, pulses, model);
    c.log_ratio = std::max(0.0, std::log(c.shielded_fluence_j_cm2 / c.threshold_j_cm2));
    c.depth_um = depth_per_log * c.log_ratio;
    c.diameter_um = p.spot_um * std::sqrt(c.log_ratio / 2);
    c.volume_um3 = pi / 16 * p.spot_um * p.spot_um * depth_per_log * c.log_ratio * c.log_ratio;
    return c;
}

Crater crater(const RemovalConstants& metal, const RemovalModel& model, const PulseTrain& train, Length spot,
              double pulses) {
    const PulseOnSpot p = pulse_on_spot(metal, model, train, spot);
    return crater_over(p, metal, model, p.single_threshold_j_cm2, pulses);
}

PassOutcome one_pass(const RemovalConstants& m, const RemovalModel& model, const PulseTrain& train,
                     const BeamWaist& beam, const Raster& raster, Length focus_offset, double calibration) {
    PassOutcome out;
    const Length spot = spot_at(beam, focus_offset);
    const PulseOnSpot f = pulse_on_spot(m, model, train, spot);
    const double d = f.spot_um;
    const double speed = in_mm_per_second(raster.speed), pitch = in_mm(raster.pitch);
    const double hertz = in_hertz(train.frequency);
    out.pulses_per_mm2 = hertz / (speed * pitch);
    double log_ratio = 2;
    // A contraction with a factor below 0.2: twelve rounds leave nothing that a double could hold.
    for (int i = 0; i < 12; ++i) {
        out.pulses_per_crater = std::max(1.0, out.pulses_per_mm2 * 1e-6 * pi / 8 * d * d * std::max(log_ratio, 0.5));
        log_ratio = std::max(
            0.0, std::log(f.shielded_fluence_j_cm2 /
                          incubated_threshold(f.single_threshold_j_cm2, m.incubation, out.pulses_per_crater, model)));
    }
    out.crater = crater_over(f, m, model, f.single_threshold_j_cm2, out.pulses_per_crater);
    const double emitted = in_watts(train.average_power());
    out.depth_um = out.pulses_per_mm2 * 1e-6 * out.crater.volume_um3 * calibration;
    out.rate_mm3_min = hertz * out.crater.volume_um3 * calibration * 1e-9 * 60;
    out.rate_per_watt = out.rate_mm3_min / emitted;
    out.energy_per_volume_j_mm3 =
        out.rate_mm3_min > 0 ? emitted * 60 / out.rate_mm3_min : std::numeric_limits<double>::infinity();
    out.areal_energy_j_mm2 = emitted / (speed * pitch);
    const double reach = out.crater.diameter_um > 0 ? out.crater.diameter_um : d;
    out.pulse_overlap = 1 - (speed / in_kilohertz(train.frequency)) / reach;
    out.line_overlap = 1 - pitch * 1e3 / reach;
    out.look = look_of(m, model, out);
    return out;
}

std::optional<Error> removal_fault(double power_w, const PulseTrain& train, double energy_limit_mj,
                                   const Raster& raster, double calibration) {
    const auto fault = [](const char* code, const char* what, const char* fix) {
        return Error{std::string("removal.") + code, what, fix, {}};
    };
    const auto inside = [](double v, double low, double high) {
        return v >= low * (1 - 1e-12) && v <= high * (1 + 1e-12);
    };
    if (!inside(power_w, 0.1, 500))
        return fault("power", "The power is outside 0.1 to 500 W.", "Removal is modelled within these limits.");
    if (!inside(in_kilohertz(train.frequency), 1, 4000))
        return fault("frequency", "The pulse frequency is outside 1 to 4000 kHz.",
                     "Removal is modelled within these limits.");
    if (!inside(in_nanoseconds(train.width), 4, 500))
        return fault("pulse_width", "The pulse width is outside 4 to 500 ns.",
                     "Shorter and longer pulses follow other physics.");
    if (!(energy_limit_mj > 0))
        return fault("energy_limit", "The largest pulse energy must be positive.", "Set it on the Bench station.");
    if (!(raster.speed.value() > 0 && raster.pitch.value() > 0))
        return fault("raster", "Scan speed and hatch pitch must be positive.", "Set both.");
    if (!inside(calibration, 0.05, 20))
        return fault("calibration", "The depth factor is outside 0.05 to 20.", "Measure one coupon again.");
    return std::nullopt;
}

BestFrequency best_frequency(const RemovalConstants& metal, const RemovalModel& model, Power power, Time width,
                             Energy energy_limit, const BeamWaist& beam, const Raster& raster, double low_khz,
                             double high_khz) {
    constexpr int samples = 121;
    const auto rate = [&](double log_khz) {
        const Frequency f = kilohertz(std::exp(log_khz));
        const PulseTrain train{std::min(Energy(power / f), energy_limit), f, width};
        return one_pass(metal, model, train, beam, raster).rate_mm3_min;
    };
    const double first = std::log(low_khz), last = std::log(high_khz);
    const auto at = [&](int i) { return first + i * (last - first) / (samples - 1); };
    int best = 0;
    double most = -1;
    for (int i = 0; i < samples; ++i)
        if (const double r = rate(at(i)); r > most) {
            most = r;
            best = i;
        }
    double low = at(std::max(0, best - 1)), high = at(std::min(samples - 1, best + 1));
    for (int i = 0; i < 40; ++i) {
        const double a = low + (high - low) / 3, c = high - (high - low) / 3;
        if (rate(a) < rate(c))
            low = a;
        else
            high = c;
    }
    const double middle = 0.5 * (low + high);
    return {std::exp(middle), rate(middle)};
}

} // namespace finch
