// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "physics/engraving.h"

#include "quantity/angles.h"
#include <algorithm>
#include <cmath>

namespace finch {
namespace {

/// Walks the recursion; `fresh` gives the depth of a clean pass at an offset in mm, `record` sees each depth.
template <typename Fresh, typename Record>
DepthAfter walk(const RemovalModel& model, const DeepWork& w, double target_um, Fresh&& fresh, Record&& record) {
    double z = 0, since = 0, focus = 0;
    int i = 1;
    for (; i <= w.passes; ++i) {
        const double clean = fresh(w.focus_offset_mm + z * 1e-3 - focus);
        const double debris = model.debris_floor + (1 - model.debris_floor) * std::exp(-since / model.debris_depth_um);
        const double dz = clean * debris / (1 + model.aspect * z * 1e-3 / w.width_mm);
        z += dz;
        since += dz;
        record(z);
        if (z >= target_um || dz < 1e-4)
            break;
        if (w.clean_every > 0 && i % w.clean_every == 0)
            since *= model.cleaning_residue;
        if (w.focus_every > 0 && i % w.focus_every == 0)
            focus += w.focus_step_mm;
    }
    return {z, std::min(i, w.passes)};
}

} // namespace

std::vector<double> depth_by_pass(const Cutting& c, const DeepWork& work, double target_um) {
    std::vector<double> out{0};
    walk(
        c.model, work, target_um,
        [&](double offset) {
            return one_pass(c.metal, c.model, c.train, c.beam, c.raster, mm(offset), work.calibration).depth_um;
        },
        [&](double z) { out.push_back(z); });
    return out;
}

DepthAfter depth_after(const Cutting& c, const DeepWork& work, double target_um) {
    const double grid = 0.01 * in_mm(c.beam.rayleigh);
    long cell = -1;
    double below = 0, above = 0;
    const auto at = [&](long i) {
        return one_pass(c.metal, c.model, c.train, c.beam, c.raster, mm(static_cast<double>(i) * grid),
                        work.calibration)
            .depth_um;
    };
    const auto fresh = [&](double offset) {
        // The model is symmetric in the offset.
        const double x = std::abs(offset) / grid;
        const long i = static_cast<long>(x);
        if (i != cell) {
            below = cell >= 0 && i == cell + 1 ? above : at(i);
            above = at(i + 1);
            cell = i;
        }
        return below + (x - static_cast<double>(i)) * (above - below);
    };
    return walk(c.model, work, target_um, fresh, [](double) {});
}

Expected<FocusRule> focus_rule(const BeamWaist& beam, double depth_per_pass_um, double share) {
    if (!(depth_per_pass_um > 0))
        return failure("removal.nothing_removed", "Nothing is removed, so there is no focus to follow.",
                       "Raise the pulse energy or tighten the focus.");
    const double room = share * in_mm(beam.rayleigh) * 1e3 / depth_per_pass_um;
    const int every = std::max(1, static_cast<int>(std::floor(room)));
    return FocusRule{every * depth_per_pass_um * 1e-3, every};
}

PassesToDepth passes_to_depth(const Cutting& cut, const DeepWork& work, double target_um, double spread) {
    const auto passes = [&](double factor) {
        DeepWork w = work;
        w.calibration *= factor;
        const std::vector<double> z = depth_by_pass(cut, w, target_um);
        return z.back() >= target_um ? static_cast<int>(z.size()) - 1 : -1;
    };
    return {passes(1), passes(spread), passes(1 / spread)};
}

double taper_deg(const Crater& c, const RemovalModel& model) {
    return c.log_ratio <= 0 ? 90
                            : model.taper_floor_deg + degrees * std::asin(c.threshold_j_cm2 / c.shielded_fluence_j_cm2);
}

double floor_width_mm(double width_mm, double depth_um, const Crater& c, const RemovalModel& model) {
    return std::max(0.0, width_mm - 2e-3 * depth_um * std::tan(taper_deg(c, model) / degrees));
}

std::string_view word(Stage s) {
    switch (s) {
    case Stage::first_marks:
        return "first marks";
    case Stage::dark_powder:
        return "dark powder";
    case Stage::shape_emerges:
        return "the shape emerges";
    case Stage::relief_clear:
        return "clear relief";
    }
    return "";
}

Stage stage(const RemovalConstants& metal, const RemovalModel& model, double depth_range_um, double areal_energy) {
    if (depth_range_um >= model.emerge_um)
        return depth_range_um < 2.5 * model.emerge_um ? Stage::shape_emerges : Stage::relief_clear;
    return areal_energy >= metal.dark_from_j_mm2 ? Stage::dark_powder : Stage::first_marks;
}

double plate_rise_k(const RemovalConstants& m, double power_w, double thickness, double side, double area_rate,
                    double loss) {
    const double heat = m.heat_share * power_w;
    const double kept = heat / (area_rate * m.heat_capacity_j_mm3k * thickness);
    const double lost = heat / (2 * side * 1e-3 * std::sqrt(m.conductivity_w_mk * thickness * 1e-3 * loss));
    return kept * lost / (kept + lost);
}

double buckling_rise_k(const RemovalConstants& m, double thickness, double side) {
    const double slender = thickness / side;
    return 1.265 * slender * slender / (m.expansion_1e6_k * 1e-6);
}

ThinPlate thin_plate(const RemovalConstants& m, double power_w, double thickness, double side, double area_rate,
                     double depth_um, double loss) {
    ThinPlate out;
    out.heat_rise_k = plate_rise_k(m, power_w, thickness, side, area_rate, loss);
    out.buckling_rise_k = buckling_rise_k(m, thickness, side);
    out.warps = out.heat_rise_k > out.buckling_rise_k;
    out.left = std::max(0.0, 1 - depth_um * 1e-3 / thickness);
    out.burn_index = (depth_um * 1e-3 / thickness) / 0.5 + out.heat_rise_k / m.melting_rise_k;
    out.burns = out.burn_index >= 1;
    return out;
}

} // namespace finch
