// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "recipe/plan_goals.h"

#include "physics/colour_difference.h"
#include "recipe/check.h"
#include "recipe/plan.h"

#include <algorithm>
#include <cmath>

// What each process is for, as a distance to it.
namespace finch {
namespace {

/// Misses add up; the largest one speaks.
class Sum {
public:
    Sum() = default;
    explicit Sum(Miss first) : total_(std::move(first)), largest_(total_.size) {}
    void add(double size, const char* why) {
        if (!(size > 0))
            return;
        total_.size += size;
        if (size > largest_) {
            largest_ = size;
            total_.why = why;
        }
    }
    [[nodiscard]] const Miss& total() const { return total_; }

private:
    Miss total_;
    double largest_ = 0;
};

/// Share of the outcomes that a proposal must keep for what it is meant to do.
constexpr double sure_enough = 0.75;

double over(double v, double limit) {
    return std::max(0.0, v - limit);
}

double below(double v, double limit) {
    return std::max(0.0, limit - v);
}

/// What annealing and colour share: the metal stays, and its film is what one sees.
void whole(Sum& sum, const Prediction& p) {
    sum.add(2 * over(p.removal_index, 0.6), "Metal would be removed.");
    sum.add(2 * over(p.melt_index, 0.85), "The surface would melt.");
    sum.add(0.5 * over(p.burn_index, 0.8), "The part may burn through.");
    // What the pulses carry away, or what stays liquid, shows no film.
    sum.add(2 * over(sure_enough - p.shares.film(), 0),
            p.shares[Effect::melts] > p.share_away
                ? "The surface would melt."
                : "The pulses would polish or frost the metal: no film would be seen.");
}

/// What polishing and frosting share: no film to be seen, no warp.
void surface(Sum& sum, const Scene& s, const Prediction& p) {
    const double film_um = p.mark.oxide.thickness_m * 1e6;
    // Either no film thick enough to be seen grows, or each crater carries it away.
    if (s.metal.oxide)
        sum.add(std::min(over(std::log(film_um / (0.9e6 * s.metal.oxide->colour_from_m)), 0),
                         over(std::log(film_um / std::max(p.removal->pass.crater.depth_um, 1e-6)), 0)),
                "A coloured film would grow.");
    sum.add(over(p.shares.film(), 0.3), "A film would be seen in its place.");
    sum.add(0.5 * over(p.mark.plate.warp, 0.5), "The part may warp.");
}

/// ln of the fluence over the threshold of removal.
double strength(const NetPass& pass) {
    return pass.crater.log_ratio > 0 ? pass.crater.log_ratio
                                     : std::log(pass.crater.shielded_fluence_j_cm2 / pass.crater.threshold_j_cm2);
}

Miss no_removal() {
    return {10, "No removal is modelled for this metal."};
}

/// A gas laser on a coat: short of the dose that finishes it, or so far over that the metal below is marked.
Miss gas_miss(const Prediction& p, Effect wanted) {
    Sum sum;
    const GasCoatOutcome& g = *p.coating->gas;
    if (wanted == Effect::bleaches && g.depth_um)
        return {10, "This coat does not bleach."};
    if (wanted == Effect::strips && !g.depth_um)
        return {10, "A gas laser bleaches this film and leaves it."};
    sum.add(std::log(1.3 * g.finish_j_mm2 / g.dose_j_mm2),
            wanted == Effect::strips ? "The coat would stay in places." : "Too weak to bleach the dye.");
    sum.add(over(std::log(g.dose_j_mm2 / (4 * g.finish_j_mm2)), 0), "So much dose that the coat chars at its rim.");
    sum.add(over(std::log(std::max(g.tint, 1e-9)), -0.05), "The average heat would tint the metal.");
    sum.add(over(sure_enough - p.shares[wanted], 0), "It is not sure enough.");
    return sum.total();
}

Miss no_coat() {
    return {10, "This stock has no coat that is modelled."};
}

/// How surely it does what it does: minus ln of the share that does something else. Nobody tells one in two hundred
/// from less, so from there on what spares the part counts.
double certainty(const Prediction& p) {
    return -std::log(std::max(1 - p.share(), 0.005)) - 0.5 * std::min(p.burn_index + p.mark.plate.warp, 2.0);
}

} // namespace

Miss anneal_miss(const Scene& s, const Aim& aim, const Recipe&, const Prediction& p) {
    Sum sum;
    whole(sum, p);
    if (!s.metal.oxide)
        return {10, "No dark oxide is known on this metal."};
    const double dark_m = s.metal.oxide->dark_from_m;
    sum.add(over(std::log(1.05 * dark_m / std::max(p.mark.oxide.thickness_m, 1e-10)), 0),
            "The oxide is too thin to be dark.");
    // Beyond that it flakes, and every further joule is time lost.
    sum.add(over(std::log(p.mark.oxide.thickness_m / (0.3 * s.materials.model.scale_limit_m)), 0),
            "The oxide grows so thick that it may flake.");
    const Wish* wish = aim.find(WishKind::dark);
    if (p.mark.look.angles > 0)
        sum.add(over(p.mark.look.specular_included[0].lab.l, wish != nullptr ? wish->value : 42) / 20,
                "It stays lighter than wished.");
    return sum.total();
}

Miss colour_miss(const Scene& s, const Aim& aim, const Recipe&, const Prediction& p) {
    Sum sum;
    whole(sum, p);
    if (!s.metal.oxide)
        return {10, "No coloured oxide is known on this metal."};
    const double x = std::max(p.mark.oxide.thickness_m, 1e-10);
    sum.add(std::log(1.05 * s.metal.oxide->colour_from_m / x), "The film is too thin for a colour.");
    sum.add(std::log(x / (0.97 * s.metal.oxide->dark_from_m)), "The film is so thick that it is dark.");
    if (const Wish* wish = aim.find(WishKind::colour)) {
        const double de = delta_e00(p.mark.look.specular_included[0].lab, wish->lab);
        sum.add(over(de, wish->value) / 15, "The colour is not reached.");
        // Inside the tolerance the search still prefers its middle, too weakly to count as a miss.
        sum.add(1e-4 * over(de, 0.5 * wish->value), "The colour is near the edge of the tolerance.");
    }
    return sum.total();
}

Miss bright_miss(const Scene& s, const Aim&, const Recipe&, const Prediction& p) {
    Sum sum;
    if (!p.removal)
        return no_removal();
    const NetPass& pass = p.removal->pass;
    surface(sum, s, p);
    const double log_ratio = strength(pass);
    sum.add(below(log_ratio, 0.35), "The pulses are too weak to remelt the surface.");
    sum.add(over(log_ratio, 1.4), "The pulses are too strong: it would frost.");
    sum.add(below(pass.pulse_overlap, 0.7), "The pulses do not overlap enough to polish.");
    sum.add(below(pass.line_overlap, 0.6), "The lines do not overlap enough to polish.");
    sum.add(over(std::log(pass.areal_energy_j_mm2 / (0.5 * s.metal.removal->dark_from_j_mm2)), 0),
            "So much energy would darken it.");
    sum.add(2 * over(p.removal_index, 0.8), "Metal would be removed.");
    return sum.total();
}

Miss frost_miss(const Scene& s, const Aim&, const Recipe&, const Prediction& p) {
    Sum sum;
    if (!p.removal)
        return no_removal();
    const NetPass& pass = p.removal->pass;
    surface(sum, s, p);
    const double log_ratio = strength(pass);
    sum.add(below(log_ratio, 1.55), "The pulses are too weak to frost.");
    sum.add(over(log_ratio, 3), "The pulses are too strong: it would engrave.");
    sum.add(over(pass.pulse_overlap, 0.5), "The pulses overlap too much to frost.");
    sum.add(over(std::log(pass.areal_energy_j_mm2 / (0.6 * s.metal.removal->dark_from_j_mm2)), 0),
            "So much energy would darken it.");
    sum.add(over(p.depth_um(), 7) / 5, "It would be felt as depth.");
    sum.add(below(pass.line_overlap, 0.05), "Lines would stand apart.");
    return sum.total();
}

Miss cut_miss(const Scene& s, const Aim& aim, const Recipe& r, const Prediction& p) {
    Sum sum;
    if (!p.removal)
        return no_removal();
    const double target = wanted_depth_um(aim, r.process);
    const double depth = p.depth_um();
    if (depth <= 0)
        return {5 + below(p.removal->pass.crater.shielded_fluence_j_cm2 / p.removal->pass.crater.threshold_j_cm2, 1),
                "Nothing is removed."};
    sum.add(over(std::log(0.97 * target / depth), 0), "The depth is not reached.");
    if (const Wish* wish = aim.find(WishKind::depth))
        sum.add(over(std::log(depth / (0.995 * wish->high)), 0), "It goes deeper than wished.");
    sum.add(below(p.removal->pass.pulse_overlap, 0.55), "Craters stand apart: a rough wall.");
    sum.add(over(p.removal->pass.pulse_overlap, 0.9), "Pulses pile up: heat and recast.");
    sum.add(below(p.removal->pass.line_overlap, 0.1), "Ridges stay between the lines.");
    sum.add(over(depth * 1e-3 / in_mm(s.stock.thickness), 0.5), "Over half of the stock would be gone.");
    sum.add(0.5 * over(p.burn_index, 0.9), "The part may burn through.");
    return sum.total();
}

Miss bleach_miss(const Scene&, const Aim&, const Recipe&, const Prediction& p) {
    Sum sum;
    if (!p.coating)
        return no_coat();
    if (p.coating->gas)
        return gas_miss(p, Effect::bleaches);
    const CoatingOutcome& c = p.coating->pulsed;
    if (c.bleach_threshold_j_cm2 <= 0)
        return {10, "This coat does not bleach."};
    sum.add(std::log(1.25 * c.bleach_threshold_j_cm2 / c.fluence_j_cm2), "Too weak to bleach the dye.");
    sum.add(std::log(1.25 * c.fluence_j_cm2 / c.coat_threshold_j_cm2), "So strong that the film would flake off.");
    sum.add(over(c.tint, 0.9), "The metal below would be tinted.");
    return sum.total();
}

Miss film_dark_miss(const Scene& s, const Aim& aim, const Recipe&, const Prediction& p) {
    if (!p.black)
        return {10, "Only a clear anodised film darkens."};
    Sum sum;
    const BlackFilmOutcome& b = *p.black;
    sum.add(std::log(1.3 * b.low_j_cm2 / b.fluence_j_cm2), "The pulses are too weak to alter the ground of the film.");
    sum.add(std::log(1.6 * b.fluence_j_cm2 / b.high_j_cm2), "So strong that the film would break.");
    sum.add(std::log(2 * s.materials.model.join.black_pulses / b.pulses_per_spot), "Too few pulses on each spot.");
    sum.add(over(0.6 - p.shares[Effect::darkens], 0), "The pulses are too long: the film would lift.");
    if (const Wish* wish = aim.find(WishKind::dark); wish != nullptr && b.l_star)
        sum.add(over(*b.l_star, wish->value) / 20, "It stays lighter than wished.");
    return sum.total();
}

Miss strip_miss(const Scene&, const Aim&, const Recipe&, const Prediction& p) {
    Sum sum;
    if (!p.coating)
        return no_coat();
    if (p.coating->gas)
        return gas_miss(p, Effect::strips);
    const CoatingOutcome& c = p.coating->pulsed;
    sum.add(std::log(wanted_coat_margin / c.coat_margin), "The coat would stay in places.");
    sum.add(std::log(wanted_metal_margin / c.metal_margin),
            "The window is too narrow: the metal would be marked. A longer lens or a longer pulse widens it.");
    sum.add(over(std::log(std::max(c.tint, 1e-9)), -0.05), "The average heat would tint the metal.");
    if (c.passes > 0)
        sum.add(over(c.passes, 50) / 50.0, "It would take too many passes.");
    else
        sum.add(1, "The coat does not come off.");
    return sum.total();
}

Miss compound_miss(const Scene&, const Aim&, const Recipe&, const Prediction& p) {
    Sum sum;
    if (!p.compound)
        return {10, "Nothing is known of this compound on this metal."};
    const CompoundOutcome& c = *p.compound;
    if (c.grade == 0)
        return {10, "The compound does not take on this surface."};
    sum.add(below(c.position, 0.1), "Too cold to fuse.");
    sum.add(over(c.position, 0.85), "So hot that the film may burn.");
    sum.add(below(c.adhesion, 0.62), "It would not stand a steel tool.");
    sum.add(over(p.shares[Effect::blown_off] + p.shares[Effect::frosts], 0.2),
            p.shares[Effect::frosts] > p.shares[Effect::blown_off]
                ? "The pulses would frost the metal through the film."
                : "The pulses would blow the film off.");
    if (c.grade < 2)
        sum.add(0.5, "This surface takes the compound poorly.");
    return sum.total();
}

Miss creep_up_miss(const Scene&, const Aim&, const Recipe&, const Prediction&) {
    return {1, "No prediction is claimed: climb pass by pass on scrap."};
}

double cut_margin(const Prediction& p) {
    // More removal is no danger here; falling below the threshold is, and burning through.
    if (!p.removal)
        return certainty(p);
    const Crater& c = p.removal->pass.crater;
    return std::min(std::log(std::max(1.0, c.fluence_j_cm2 / c.threshold_j_cm2)),
                    -std::log(std::max(p.burn_index, 1e-3)));
}

double wanted_depth_um(const Aim& aim, Process process) {
    if (const Wish* w = aim.find(WishKind::depth))
        return 0.5 * (w->value + w->high);
    return process == Process::deep_engrave ? 300 : 50;
}

Miss miss(const Scene& s, const Aim& aim, const Recipe& r, const Prediction& p) {
    Sum sum(rules(r.process).miss(s, aim, r, p));
    if (p.mark.pulse.derating < 1)
        sum.add(0.3 * (1 - p.mark.pulse.derating), "The source cannot carry that power at so low a frequency.");
    const Gaps g = gaps(r, s.bench);
    sum.add(0.5 * over(g.along / g.most, 1), "The pulses would land too far apart.");
    sum.add(0.5 * over(g.across / g.most, 1), "The lines would lie too far apart.");
    return sum.total();
}

double safety_margin(const Recipe& r, const Prediction& p) {
    const auto margin = rules(r.process).margin;
    return margin != nullptr ? margin(p) : certainty(p);
}

} // namespace finch
