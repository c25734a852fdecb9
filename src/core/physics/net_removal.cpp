// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "physics/net_removal.h"

#include "physics/metal.h"
#include "quantity/angles.h"

#include <algorithm>
#include <cmath>

namespace finch {
namespace {

constexpr double stalled_um = 1e-4;

/// What limits of the incubation acted, in bits: thresholds without them are smooth in the spot.
int limits_of(double pulses, double log_ratio, const RemovalModel& model) {
    return (pulses <= 1 ? 1 : 0) | (pulses >= model.incubation_cap ? 2 : 0) | (log_ratio <= 0.5 ? 4 : 0) |
           (log_ratio <= 0 ? 8 : 0);
}

} // namespace

double warm_share(const Metal& m, double start_c) {
    const double top = m.boiling_k + m.latent_rise_k;
    return (top - start_c - 273.15) / (top - 293.15);
}

NetPass net_pass(const Cutting& cut, const MetSurface& surface, Length spot, bool first, double calibration) {
    NetPass out;
    const PulseOnSpot p = pulse_on_spot(cut.metal, cut.model, cut.train, spot);
    const double d = p.spot_um;
    const double speed = in_mm_per_second(cut.raster.speed), pitch = in_mm(cut.raster.pitch);
    out.pulses_per_mm2 = in_hertz(cut.train.frequency) / (speed * pitch);
    const double fin = first ? surface.finish : 1;
    // A contraction with a factor below 0.2: twelve rounds leave nothing that a double could hold. The finish acts
    // through the first pulses on a spot, whose number changes with it. In logarithms, because powers are slow.
    const double ln_fin = std::log(fin);
    const double over = std::log(p.shielded_fluence_j_cm2 / (p.single_threshold_j_cm2 * surface.warm));
    double log_ratio = 2;
    for (int i = 0; i < 12; ++i) {
        const double n = std::max(1.0, out.pulses_per_mm2 * 1e-6 * pi / 8 * d * d * std::max(log_ratio, 0.5));
        out.pulses_per_crater = n;
        const double next = std::max(
            0.0, over + ln_fin / n + (1 - cut.metal.incubation) * std::log(std::min(n, cut.model.incubation_cap)));
        if (next == log_ratio)
            break;
        log_ratio = next;
    }
    out.single_threshold_j_cm2 =
        p.single_threshold_j_cm2 * surface.warm * (fin == 1 ? 1 : std::pow(fin, -1 / out.pulses_per_crater));
    out.crater = crater_over(p, cut.metal, cut.model, out.single_threshold_j_cm2, out.pulses_per_crater);
    out.over_single = p.shielded_fluence_j_cm2 / out.single_threshold_j_cm2;
    out.areal_energy_j_mm2 = in_watts(cut.train.average_power()) / (speed * pitch);
    const double reach = std::max(out.crater.diameter_um, 0.05 * d);
    out.pulse_overlap = 1 - speed / in_kilohertz(cut.train.frequency) / reach;
    out.line_overlap = 1 - pitch * 1e3 / reach;
    out.loosened_um = out.pulses_per_mm2 * 1e-6 * out.crater.volume_um3 * calibration;
    return out;
}

double recast_near(const JoinModel& join, double over_single, double width_ns) {
    const double at_threshold =
        join.recast_short + (join.recast_long - join.recast_short) * width_ns / (width_ns + join.recast_width_ns);
    return at_threshold * std::exp(-std::max(0.0, over_single - 1) / join.recast_decay);
}

double recast_in_pass(const JoinModel& join, double pulses) {
    const double n = std::max(0.0, pulses - 1);
    return join.recast_pass * n / (n + join.recast_pulses);
}

double groove_depth_um(const JoinModel& join, double z, double crater_um) {
    if (z <= 0 || crater_um <= 0)
        return 0;
    return 2 * z / (1 + std::sqrt(1 + 2 * join.groove / crater_um * z));
}

namespace {

/// (1 - exp(-u)) / u, u >= 0; by its series where a pass takes little, because there are thousands of passes.
double mean_decay(double u) {
    return u < 0.05 ? 1 - u / 2 * (1 - u / 3 * (1 - u / 4 * (1 - u / 5 * (1 - u / 6)))) : (1 - std::exp(-u)) / u;
}
/// As debris_efficiency(); `clear` = exp(-since / scale).
double efficiency_after(const RemovalModel& model, double clear, double more) {
    return model.debris_floor + (1 - model.debris_floor) * clear * mean_decay(more / model.debris_depth_um);
}

} // namespace

double debris_efficiency(const RemovalModel& model, double since, double more) {
    return efficiency_after(model, std::exp(-since / model.debris_depth_um), more);
}

namespace {

double through_walls_and_debris(const Cutting& cut, const JoinModel& join, double z1, double crater_um, double clear) {
    if (z1 <= 0)
        return 0;
    const double first = groove_depth_um(join, z1 * efficiency_after(cut.model, clear, 0), crater_um);
    const double z = groove_depth_um(join, z1 * efficiency_after(cut.model, clear, first), crater_um);
    const double out_of_focus = 0.5e-3 * z / in_mm(cut.beam.rayleigh);
    return z / (1 + out_of_focus * out_of_focus);
}

double caught_not(const JoinModel& join, const NetPass& p, double width_ns) {
    return (1 - recast_near(join, p.over_single, width_ns)) * (1 - recast_in_pass(join, p.pulses_per_crater));
}

} // namespace

double net_depth_um(const Cutting& cut, const JoinModel& join, const NetPass& p, double since, double shade) {
    return through_walls_and_debris(cut, join,
                                    p.loosened_um * caught_not(join, p, in_nanoseconds(cut.train.width)) * shade,
                                    p.crater.diameter_um, std::exp(-since / cut.model.debris_depth_um));
}

NetWalk::NetWalk(const Cutting& cut, const JoinModel& join, const MetSurface& surface, const DeepWork& work)
    : cut_(cut), join_(join), work_(work), grid_mm_(0.01 * in_mm(cut.beam.rayleigh)) {
    const Length spot = spot_at(cut.beam, mm(work.focus_offset_mm));
    first_ = net_pass(cut, surface, spot, true, work.calibration);
    first_fresh_ = {first_.loosened_um / work.calibration * caught_not(join, first_, in_nanoseconds(cut.train.width)),
                    first_.crater.diameter_um, 0};
    per_mm2_ = first_.pulses_per_mm2;
    single_threshold_ = cut.metal.threshold_j_cm2 * std::sqrt(in_nanoseconds(cut.train.width) / 100) * surface.warm;
}

NetWalk::Fresh NetWalk::fresh(double offset_mm) const {
    const PulseOnSpot p = pulse_on_spot(cut_.metal, cut_.model, cut_.train, spot_at(cut_.beam, mm(offset_mm)));
    const double over = std::log(p.shielded_fluence_j_cm2 / single_threshold_);
    const double per_log = per_mm2_ * 1e-6 * pi / 8 * p.spot_um * p.spot_um;
    double log_ratio = 2, n = 1;
    for (int i = 0; i < 12; ++i) {
        n = std::max(1.0, per_log * std::max(log_ratio, 0.5));
        const double next =
            std::max(0.0, over + (1 - cut_.metal.incubation) * std::log(std::min(n, cut_.model.incubation_cap)));
        if (next == log_ratio)
            break;
        log_ratio = next;
    }
    const Crater c = crater_over(p, cut_.metal, cut_.model, single_threshold_, n);
    NetPass pass;
    pass.over_single = p.shielded_fluence_j_cm2 / single_threshold_;
    pass.pulses_per_crater = n;
    return {per_mm2_ * 1e-6 * c.volume_um3 * caught_not(join_, pass, in_nanoseconds(cut_.train.width)), c.diameter_um,
            limits_of(n, c.log_ratio, cut_.model) | (pass.over_single <= 1 ? 16 : 0)};
}

const NetWalk::Fresh& NetWalk::node(long i) {
    i = std::abs(i); // the beam is symmetric about its waist
    Node& n = nodes_.at(static_cast<std::size_t>(i) % nodes_.size());
    if (n.at != i)
        n = {i, fresh(static_cast<double>(i) * grid_mm_)};
    return n.fresh;
}

NetWalk::Fresh NetWalk::read(double offset_mm) {
    const double x = std::abs(offset_mm) / grid_mm_;
    if (!(x < 1e9))
        return {};
    const long i = static_cast<long>(x);
    const double t = x - static_cast<double>(i);
    const Fresh a = node(i - 1), b = node(i), c = node(i + 1), d = node(i + 2);
    if (a.branch != b.branch || b.branch != c.branch || c.branch != d.branch)
        return fresh(offset_mm);
    const double wa = -t * (t - 1) * (t - 2) / 6, wb = (t + 1) * (t - 1) * (t - 2) / 2, wc = -t * (t + 1) * (t - 2) / 2,
                 wd = t * (t + 1) * (t - 1) / 6;
    return {wa * a.net_um + wb * b.net_um + wc * c.net_um + wd * d.net_um,
            wa * a.crater_um + wb * b.crater_um + wc * c.crater_um + wd * d.crater_um, b.branch};
}

double NetWalk::pass_um(const Fresh& f, double calibration, double clear, double shade) const {
    return through_walls_and_debris(cut_, join_, f.net_um * calibration * shade, f.crater_um, clear);
}

double NetWalk::deepen(Floor& f, int pass, double calibration) {
    const double offset = work_.focus_offset_mm + f.z_um * 1e-3 - f.focus_mm;
    const double shade = 1 / (1 + cut_.model.aspect * f.z_um * 1e-3 / work_.width_mm);
    const double dz = pass_um(pass == 1 ? first_fresh_ : read(offset), calibration, f.clear, shade);
    f.z_um += dz;
    f.since_um += dz;
    const double u = dz / cut_.model.debris_depth_um;
    f.clear *= 1 - u * mean_decay(u);
    return dz;
}

void NetWalk::clean(Floor& f, int pass) const {
    if (work_.clean_every > 0 && pass % work_.clean_every == 0) {
        f.since_um *= cut_.model.cleaning_residue;
        f.clear = std::exp(-f.since_um / cut_.model.debris_depth_um);
    }
}

std::vector<double> NetWalk::depths(double factor, const FloorFollow& follow) {
    std::vector<double> out{0};
    Floor f;
    for (int i = 1; i <= work_.passes; ++i) {
        const double dz = deepen(f, i, work_.calibration * factor);
        out.push_back(f.z_um);
        if (dz < stalled_um)
            break;
        clean(f, i);
        while (follow.step_mm > 0 && i % follow.each == 0 && 1e-3 * f.z_um >= f.focus_mm + follow.step_mm &&
               f.focus_mm + follow.step_mm <= follow.most_mm + 1e-9)
            f.focus_mm += follow.step_mm;
    }
    return out;
}

NetWalk::Outcome NetWalk::walk(double factor, double stop_um, double cap_um) {
    Outcome out;
    const double calibration = work_.calibration * factor;
    double& z = out.depth_um;
    Floor floor;
    const auto seen = [&](std::optional<int>& at, double limit) {
        if (!at && std::min(z, cap_um) >= limit)
            at = out.passes;
    };
    for (int i = 1; i <= work_.passes; ++i) {
        const double dz = deepen(floor, i, calibration);
        z = floor.z_um;
        out.passes = i;
        seen(out.emerges_at, cut_.model.emerge_um);
        seen(out.clear_at, 2.5 * cut_.model.emerge_um);
        if (z >= stop_um || dz < stalled_um)
            break;
        clean(floor, i);
        if (work_.focus_every > 0 && i % work_.focus_every == 0)
            floor.focus_mm += work_.focus_step_mm;
    }
    return out;
}

double areal_since_cleaning(const RemovalModel& model, double per_pass, int passes, int clean_every) {
    if (clean_every <= 0)
        return per_pass * passes;
    const int full = (passes - 1) / clean_every, rest = (passes - 1) % clean_every;
    const double r = model.cleaning_residue;
    const double left =
        r < 1 ? per_pass * clean_every * r * (1 - std::pow(r, full)) / (1 - r) : per_pass * clean_every * full;
    return left + per_pass * (rest + 1);
}

std::optional<int> dark_from(const RemovalConstants& metal, const RemovalModel& model, double per_pass, int passes,
                             int clean_every) {
    // The energy rises within a block and each block tops the one before, by less and less.
    for (int n = 1; n <= passes; ++n) {
        if (areal_since_cleaning(model, per_pass, n, clean_every) >= metal.dark_from_j_mm2)
            return n;
        if (clean_every <= 0) { // straight there; rounding decides between neighbours
            const double whole = metal.dark_from_j_mm2 / per_pass;
            n = std::max(n, whole < passes + 2.0 ? static_cast<int>(whole) - 1 : passes);
        } else if (n > 40 * clean_every) {
            break;
        }
    }
    return std::nullopt;
}

RunStages run_stages(std::optional<int> dark, std::optional<int> emerges, std::optional<int> clear) {
    if (dark && emerges && *dark >= *emerges)
        dark.reset();
    return {dark, emerges, clear};
}

} // namespace finch
