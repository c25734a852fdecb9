// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "recipe/search_space.h"

#include "recipe/check.h"

#include <algorithm>
#include <cmath>

namespace finch {
namespace {

double round_to(double v, int digits) {
    if (v == 0)
        return 0;
    const double scale = std::pow(10, digits - 1 - std::floor(std::log10(std::abs(v))));
    return std::round(v * scale) / scale;
}

constexpr int most_passes = 6000;

} // namespace

SearchSpace::SearchSpace(const Scene& scene, const Aim& aim, const PlanTask& task)
    : scene_(scene), aim_(aim), task_(task) {
    const BeamWaist beam = waist(scene.bench.lens(), scene.bench.source.wavelength);
    spot_mm_ = in_mm(beam.spot);
    rayleigh_mm_ = in_mm(beam.rayleigh);
    base_.process = task.process;
    base_.compound = task.compound;
    base_.setting.pulse_width = scene.bench.source.pulse_width_min;
    base_.setting.frequency = scene.bench.source.frequency_max;
    switch (task.process) {
    case Process::anneal:
        anneal_axes();
        break;
    case Process::colour:
        colour_axes();
        break;
    case Process::bright:
    case Process::frost:
        surface_axes();
        break;
    case Process::engrave:
    case Process::deep_engrave:
        cut_axes();
        break;
    case Process::strip:
    case Process::bleach:
        coat_axes();
        break;
    case Process::compound:
    case Process::creep_up:
        compound_axes();
        break;
    }
}

void SearchSpace::add(Knob knob, double low, double high, std::vector<double> seeds, bool by_ratio) {
    const KnobLimits limits = knob_limits(scene_.bench, knob);
    const double from = std::clamp(low, limits.low, limits.high), to = std::clamp(high, limits.low, limits.high);
    if (knob == Knob::pulse_width && scene_.bench.source.kind != SourceKind::variable_pulse_width)
        return;
    if (to - from < 1e-9) {
        base_ = with_knob(base_, knob, from);
        return;
    }
    axes_.push_back({knob, from, to, by_ratio, std::move(seeds)});
}

void SearchSpace::anneal_axes() {
    const bool wide = task_.school == School::out_of_focus;
    add(Knob::power, wide ? 40 : 5, 100, {0.5, 0.9});
    add(Knob::frequency, wide ? 30 : 80, wide ? 300 : 900, {0.3, 0.7});
    add(Knob::pulse_width, 60, 350, {0.7});
    add(Knob::hatch_pitch, (wide ? 0.05 : 0.03) * spot_mm_, (wide ? 0.6 : 0.3) * spot_mm_, {0.5});
    if (wide)
        add(Knob::focus_offset, 1.1 * rayleigh_mm_, 3.5 * rayleigh_mm_, {0.4}, false);
    if (!task_.dose_j_mm2)
        add(Knob::scan_speed, 10, 4000, {0.25, 0.4, 0.55, 0.7, 0.85});
}

void SearchSpace::colour_axes() {
    const bool by_width = task_.school == School::width_by_power;
    base_.setting.scan_speed = mm_per_second(std::min(1000.0, in_mm_per_second(scene_.bench.scanner.speed_max)));
    base_.setting.hatch_pitch = mm(0.08 * spot_mm_);
    add(Knob::power, 5, 100, by_width ? std::vector<double>{0.2, 0.4, 0.6, 0.8} : std::vector<double>{0.35, 0.6});
    add(Knob::frequency, 80, 900, {0.35, 0.75});
    add(Knob::pulse_width, by_width ? 4 : 20, by_width ? 350 : 250,
        by_width ? std::vector<double>{0.2, 0.5, 0.8} : std::vector<double>{0.4});
    if (!by_width) {
        add(Knob::hatch_pitch, 0.03 * spot_mm_, 0.3 * spot_mm_, {0.5});
        add(Knob::scan_speed, 60, 6000, {0.2, 0.35, 0.5, 0.65, 0.8});
    }
}

void SearchSpace::surface_axes() {
    const bool bright = task_.process == Process::bright;
    add(Knob::power, 3, 100, {0.3, 0.6, 0.9});
    add(Knob::frequency, bright ? 100 : 20, bright ? 1000 : 200, {0.3, 0.7});
    add(Knob::pulse_width, bright ? 8 : 20, bright ? 60 : 200, {0.3, 0.7});
    add(Knob::hatch_pitch, (bright ? 0.03 : 0.2) * spot_mm_, (bright ? 0.3 : 0.9) * spot_mm_, {0.4, 0.8});
    add(Knob::scan_speed, 300, 7000, {0.3, 0.55, 0.8});
}

void SearchSpace::cut_axes() {
    add(Knob::power, 60, 100, {0.9});
    add(Knob::frequency, 15, 300, {0.2, 0.4, 0.6});
    add(Knob::pulse_width, 40, 350, {0.4, 0.8});
    add(Knob::hatch_pitch, 0.3 * spot_mm_, 0.95 * spot_mm_, {0.5});
    add(Knob::scan_speed, 150, 4000, {0.4, 0.7});
}

void SearchSpace::coat_axes() {
    // Raised lens, wide spot, short energy: the coat gives way long before the metal.
    add(Knob::power, 5, 100, {0.3, 0.6, 0.9});
    add(Knob::frequency, 40, 1000, {0.3, 0.6, 0.9});
    add(Knob::pulse_width, task_.process == Process::bleach ? 8 : 60, 350, {0.3, 0.8});
    add(Knob::hatch_pitch, 0.15 * spot_mm_, 1.2 * spot_mm_, {0.5});
    add(Knob::scan_speed, 300, 6000, {0.5, 0.8});
    add(Knob::focus_offset, 0, 8 * rayleigh_mm_, {0.2, 0.5, 0.75}, false);
}

void SearchSpace::compound_axes() {
    base_.coats = 2;
    if (scene_.bench.source.pulsed()) {
        // Average heat fuses the film: soft pulses, just above the frequency from which full power comes out.
        base_.setting.pulse_width = scene_.bench.source.pulse_width_max;
        const Energy limit = pulse_energy_limit(scene_.bench.source, base_.setting.pulse_width);
        const double full_khz = in_watts(scene_.bench.source.rated_power) / in_millijoules(limit);
        const KnobLimits f = knob_limits(scene_.bench, Knob::frequency);
        base_.setting.frequency = kilohertz(std::clamp(1.5 * full_khz, f.low, f.high));
    }
    add(Knob::power, 3, 100, {0.2, 0.4, 0.6, 0.8});
    add(Knob::scan_speed, 30, 1500, {0.3, 0.5, 0.7});
    add(Knob::hatch_pitch, 0.2 * spot_mm_, 0.6 * spot_mm_, {0.5});
    if (scene_.bench.source.pulsed())
        add(Knob::focus_offset, 0, 3 * rayleigh_mm_, {0.1, 0.6}, false);
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
    if (task_.process == Process::strip && scene_.materials.coat(scene_.stock.coating) != nullptr &&
        scene_.metal.removal) {
        const CoatConstants& coat = *scene_.materials.coat(scene_.stock.coating);
        const Cutting cut = cutting(scene_.materials, scene_.metal, scene_.bench, r);
        const double thickness = scene_.stock.coating_thickness > mm(0) ? in_micrometres(scene_.stock.coating_thickness)
                                                                        : coat.usual_thickness_um;
        const int passes =
            coating_pass(coat, cut.metal, cut.model, cut.train, cut.beam, cut.raster, r.setting.focus_offset, thickness)
                .passes;
        r.setting.passes = std::clamp(passes, 1, 50);
    }
    if ((task_.process == Process::engrave || task_.process == Process::deep_engrave) && scene_.metal.removal) {
        const bool deep = task_.process == Process::deep_engrave;
        if (const Wish* detail = aim_.find(WishKind::fine_detail))
            r.deep.narrowest = mm(detail->value);
        r.deep.clean_every = deep ? 15 : 0;
        const Cutting cut = cutting(scene_.materials, scene_.metal, scene_.bench, r);
        DeepWork work = deep_work(r, scene_.evidence);
        work.passes = most_passes;
        const double target = wanted_depth_um(aim_, task_.process);
        DepthAfter done = depth_after(cut, work, target);
        if (deep && target > 0.25e3 * rayleigh_mm_ && done.depth_um > 0) {
            // Follow the floor by the depth predicted, in steps of a quarter of the Rayleigh length.
            if (const auto rule = focus_rule(cut.beam, done.depth_um / std::max(1, done.passes))) {
                r.deep.focus_every = rule->every;
                r.deep.focus_step = mm(round_to(rule->step_mm, 3));
                work.focus_every = rule->every;
                work.focus_step_mm = in_mm(r.deep.focus_step);
                done = depth_after(cut, work, target);
            }
        }
        r.setting.passes = std::clamp(done.passes, 1, most_passes);
        if (r.setting.passes > 1) {
            r.turn_per_pass_deg = 67;
            r.line_shift_percent = 38.2;
        }
    }
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

Recipe SearchSpace::rounded(Recipe r) const {
    for (const Axis& a : axes_) {
        const double v = knob_value(r, a.knob);
        double nice = a.knob == Knob::power ? std::round(v * 2) / 2 : round_to(v, 3);
        if (a.knob == Knob::focus_offset)
            nice = std::round(v * 20) / 20;
        const KnobLimits limits = knob_limits(scene_.bench, a.knob);
        r = with_knob(r, a.knob, std::clamp(nice, limits.low, limits.high));
    }
    if (task_.dose_j_mm2)
        r.setting.scan_speed = mm_per_second(round_to(in_mm_per_second(r.setting.scan_speed), 3));
    follow(r);
    if (task_.dose_j_mm2)
        r.setting.scan_speed = mm_per_second(round_to(in_mm_per_second(r.setting.scan_speed), 4));
    return r;
}

} // namespace finch
