// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "recipe/search_space.h"

#include "quantity/format.h"

#include <algorithm>
#include <cmath>

namespace finch {
SearchSpace::SearchSpace(const Scene& scene, const Aim& aim, const PlanTask& task)
    : scene_(scene), aim_(aim), task_(task), rules_(rules(task.process)) {
    const Source& source = scene.bench.source;
    const BeamWaist beam = waist(scene.bench.lens(), source.wavelength);
    base_.process = task.process;
    base_.compound = task.compound;
    base_.setting.pulse_width = source.pulse_width_min;
    base_.setting.frequency = source.frequency_max;
    if (rules_.start != nullptr)
        rules_.start(scene, base_);
    for (const SearchAxis& axis : rules(task.process, task.school).search) {
        const bool held = axis.knob == Knob::scan_speed && task.dose_j_mm2; // it follows from the dose
        const bool fixed = axis.knob == Knob::pulse_width && source.kind != SourceKind::variable_pulse_width;
        if (held || fixed || (axis.pulsed_only && !source.pulsed()))
            continue;
        const double unit = axis.per == Per::spot              ? in_mm(beam.spot)
                            : axis.per == Per::rayleigh_length ? in_mm(beam.rayleigh)
                                                               : 1;
        const KnobLimits limits = knob_limits(scene.bench, axis.knob);
        const double low = std::clamp(axis.low * unit, limits.low, limits.high);
        const double high = std::clamp(axis.high * unit, limits.low, limits.high);
        if (high - low < 1e-9)
            base_ = with_knob(base_, axis.knob, low);
        else
            axes_.push_back({axis.knob, low, high, axis.by_ratio, axis.seeds});
    }
}

Recipe SearchSpace::recipe(const std::vector<double>& point) const {
    Recipe r = base_;
    for (std::size_t i = 0; i < axes_.size(); ++i) {
        const Axis& a = axes_[i];
        const double t = std::clamp(point[i], 0.0, 1.0);
        r = with_knob(r, a.knob, a.by_ratio ? a.low * std::pow(a.high / a.low, t) : a.low + t * (a.high - a.low));
    }
    follow(r);
    return r;
}

void SearchSpace::follow(Recipe& r) const {
    const KnobLimits speeds = knob_limits(scene_.bench, Knob::scan_speed);
    if (task_.dose_j_mm2) {
        const PulseOutput pulse = pulse_output(scene_.bench.source, r.setting);
        const double speed = pulse.average_power_w / (*task_.dose_j_mm2 * in_mm(r.setting.hatch_pitch));
        r.setting.scan_speed = mm_per_second(std::clamp(speed, speeds.low, speeds.high));
    }
    if (rules_.follow != nullptr)
        rules_.follow(scene_, aim_, r);
}

std::vector<std::vector<double>> SearchSpace::seeds() const {
    std::vector<std::vector<double>> out{{}};
    for (const Axis& a : axes_) {
        std::vector<std::vector<double>> longer;
        for (const auto& start : out)
            for (const double s : a.seeds) {
                longer.push_back(start);
                longer.back().push_back(s);
            }
        out = std::move(longer);
    }
    return out;
}

Recipe SearchSpace::rounded(Recipe r, int digits) const {
    for (const Axis& a : axes_) {
        const double v = knob_value(r, a.knob);
        double nice = a.knob == Knob::power && digits <= 3 ? std::round(v * 2) / 2 : with_digits(v, digits);
        if (a.knob == Knob::focus_offset)
            nice = std::round(v * 20) / 20;
        const KnobLimits limits = knob_limits(scene_.bench, a.knob);
        r = with_knob(r, a.knob, std::clamp(nice, limits.low, limits.high));
    }
    if (task_.dose_j_mm2)
        r.setting.scan_speed = mm_per_second(with_digits(in_mm_per_second(r.setting.scan_speed), 3));
    follow(r);
    if (task_.dose_j_mm2)
        r.setting.scan_speed = mm_per_second(with_digits(in_mm_per_second(r.setting.scan_speed), 4));
    return r;
}

} // namespace finch
