// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/relief_cut.h"

#include "physics/patch.h"
#include "recipe/predict.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace finch {
namespace {

constexpr double rayleigh_share = 0.25; ///< of a step of the focus, as focus_rule()
constexpr int most_passes_of_all = 100'000, floor_passes = 24, few_layers = 24;
constexpr double buff_min_usual = 5;

/// Depth after each layer of so many passes; what stalled stays as deep as it is.
std::vector<double> by_layer(const std::vector<double>& by_pass, int layers, int passes) {
    std::vector<double> out;
    for (int k = 0; k <= layers; ++k)
        out.push_back(
            by_pass[std::min(by_pass.size() - 1, static_cast<std::size_t>(k) * static_cast<std::size_t>(passes))]);
    return out;
}

/// The first pass after which it is so deep; nothing where it never is.
std::optional<int> first_at(const std::vector<double>& by_pass, double um) {
    const auto at = std::ranges::lower_bound(by_pass, um);
    return at == by_pass.end() ? std::nullopt : std::optional(static_cast<int>(at - by_pass.begin()));
}

} // namespace

Expected<ReliefMap> relief_map(const HeightMap& picture, const ReliefRules& rules) {
    auto counts = layer_counts(picture, rules.levels);
    if (!counts)
        return tl::unexpected(counts.error());
    if (rules.crop_to_rim) {
        const auto rim = found_rim(picture);
        if (!rim)
            return failure("relief.no_rim", "No rim was found: the border of the picture is not of one grey.",
                           "Leave the picture whole, or give it an even border.");
        crop(*counts, picture.width, *rim);
    }
    return ReliefMap{std::move(*counts), picture.width, rules.width_mm / picture.width, rules.levels.layers};
}

std::string_view key(ReliefSchool school) {
    constexpr std::array keys{"every_grey", "few_and_buff", "clean_each"};
    return keys.at(static_cast<std::size_t>(school));
}

std::string_view word(ReliefSchool school) {
    constexpr std::array words{"every grey, no cleaning", "no focus move, then buff", "clean after each"};
    return words.at(static_cast<std::size_t>(school));
}

ReliefRules as_school(ReliefRules rules, ReliefSchool school, const GreyUse& use) {
    rules.follow = school != ReliefSchool::few_and_buff;
    rules.clean_every = school == ReliefSchool::clean_each ? 1 : 0;
    rules.buff_min = school == ReliefSchool::few_and_buff ? buff_min_usual : 0;
    if (school == ReliefSchool::every_grey)
        rules.levels.layers = std::clamp(use.greys - 1, 1, 256);
    if (school == ReliefSchool::few_and_buff)
        rules.levels.layers = few_layers;
    return rules;
}

Expected<ReliefCut> cut_relief(const Scene& scene, const Recipe& of_one_pass, const ReliefRules& rules,
                               const ReliefMap& map, const ScannerKnowledge& scanner, const ReliefEffort& effort) {
    if (!scene.metal.removal)
        return failure("relief.removes_nothing", "Nothing is known of how this metal is removed.",
                       "Take one of the metals that can be engraved.");
    Recipe recipe = of_one_pass;
    recipe.cross_hatch = false; // a pass of a layer is one pass
    recipe.deep = {};
    const double height_mm = map.pixel_mm * map.height();
    recipe.deep.narrowest = mm(std::min(rules.width_mm, height_mm));
    const ProcessModel& model = scene.materials.model;
    const Cutting cut = cutting(scene.materials, scene.metal, scene.bench, recipe);
    DeepWork work = deep_work(recipe, scene.evidence);
    FloorFollow follow;
    if (rules.follow)
        follow = {std::max(0.001, std::round(1000 * rayleigh_share * in_mm(cut.beam.rayleigh)) / 1000), 1,
                  rules.follow_most_mm};
    // One answer about removal: where predict has none, there is none here.
    const auto predicted = [&](int passes) {
        return predict(scene, with_knob(recipe, Knob::passes, std::min(passes, most_passes)),
                       Fill{mm(height_mm), std::max(1e-3, map.outline_mm2())});
    };
    const auto one_pass = predicted(1);
    if (!one_pass)
        return tl::unexpected(one_pass.error());
    if (!one_pass->removal)
        return failure("relief.removes_nothing",
                       one_pass->reason.empty() ? "How this source removes this stock is not modelled."
                                                : std::string(one_pass->reason),
                       "Take bare metal and a pulsed source.");
    const int layers = map.layers;
    const auto walked = [&](int passes, int clean_every, double factor) {
        work.passes = passes;
        work.clean_every = clean_every;
        return NetWalk(cut, model.join, met_surface(scene), work).depths(factor, follow);
    };
    ReliefCut out;
    // As many passes a layer as bring what is black to the depth wanted.
    const auto first = walked(most_passes_of_all, rules.clean_every, 1);
    const auto wanted = first_at(first, rules.depth_um);
    out.stalls = rules.depth_um > 0 && !wanted;
    const int enough = rules.depth_um <= 0 ? layers : wanted ? *wanted : static_cast<int>(first.size()) - 1;
    if (first.back() < 0.01)
        return failure("relief.removes_nothing", "This recipe takes nothing away.",
                       "Take a recipe that engraves, or one with more pulse energy.");
    out.passes_per_layer = std::max(1, (enough + layers - 1) / layers);
    std::vector<double> by_pass;
    for (;; ++out.passes_per_layer) {
        follow.each = out.passes_per_layer;
        const int clean = rules.clean_every * out.passes_per_layer;
        by_pass = walked(out.passes_per_layer * layers, clean, 1);
        if (rules.depth_um <= 0 || by_pass.back() >= rules.depth_um || out.stalls ||
            out.passes_per_layer * layers > 4 * enough + layers)
            break;
    }
    out.stalls = out.stalls || (rules.depth_um > 0 && by_pass.back() < rules.depth_um);
    const int r = out.passes_per_layer, clean = rules.clean_every * r;
    // Of whole passes again, as many as it took.
    const int took = rules.depth_um <= 0 ? layers : first_at(by_pass, rules.depth_um).value_or(r * layers);
    const int each = std::max(1, static_cast<int>(std::lround(static_cast<double>(took) / layers)));
    out.fitting_layers = std::min(most_relief_layers, (took + each - 1) / each);
    const auto whole = predicted(r * layers);
    if (!whole)
        return tl::unexpected(whole.error());
    const double spread = std::exp((whole->removal ? whole : one_pass)->removal->spread_ln);
    out.depth_um = by_layer(by_pass, layers, r);
    out.least_um = by_layer(walked(r * layers, clean, 1 / spread), layers, r);
    out.most_um = by_layer(walked(r * layers, clean, spread), layers, r);
    out.deepest = map.counts.empty() ? 0 : std::ranges::max(map.counts);
    const double clean_depth = walked(r * layers, 1, 1).back();
    out.debris_loss = clean_depth > 0 ? std::max(0.0, 1 - out.depth_um.back() / clean_depth) : 0;
    double lowered = 0;
    for (int k = 0; k < layers; ++k) {
        const double z_mm = k < out.deepest ? 1e-3 * out.depth_um[static_cast<std::size_t>(k)] : 0;
        while (follow.step_mm > 0 && z_mm >= lowered + follow.step_mm &&
               lowered + follow.step_mm <= follow.most_mm + 1e-9)
            lowered += follow.step_mm;
        out.focus_mm.push_back(lowered);
        out.behind_mm = std::max(out.behind_mm, z_mm - lowered);
    }

    // Time.
    const double speed = in_mm_per_second(recipe.setting.scan_speed), pitch = in_mm(recipe.setting.hatch_pitch);
    auto stats = layer_stats(map.counts, map.width, map.pixel_mm, layers, pitch);
    if (!stats)
        return tl::unexpected(stats.error());
    out.layer = std::move(*stats);
    out.hatched_over_counted =
        hatched_over_counted(map, out.layer, scanner.timing, speed, pitch, recipe.setting.hatch_angle_deg,
                             r * recipe.turn_per_pass_deg, effort.hatched);
    std::vector<ScanLoad> loads;
    out.done_s.push_back(0);
    for (int k = 0; k < layers; ++k) {
        ScanLoad load = load_of(out.layer[static_cast<std::size_t>(k)], map.outline_mm2(), speed, pitch);
        load.passes = r;
        out.layer_s.push_back(out.hatched_over_counted * time_parts(scanner.timing, load).total());
        out.marking_s += out.layer_s.back();
        if (rules.clean_every > 0 && (k + 1) % rules.clean_every == 0)
            out.cleaning_s += out.layer_s.back() / r / model.effort.cleaning_speed;
        if (const double down =
                out.focus_mm[static_cast<std::size_t>(k)] - (k > 0 ? out.focus_mm[static_cast<std::size_t>(k) - 1] : 0);
            down > 0)
            out.focus_s += down / model.effort.focus_mm_s + model.effort.focus_settle_s;
        out.done_s.push_back(out.marking_s + out.cleaning_s + out.focus_s);
        if (!load.lines.empty())
            loads.push_back(std::move(load));
    }
    out.hand_s = 60 * rules.buff_min;
    const TimeBand counted = time_of(scanner, loads);
    const double likely_s = out.marking_s + out.cleaning_s + out.focus_s;
    out.time = counted.likely > 0 ? TimeBand{likely_s, likely_s * counted.low / counted.likely,
                                             likely_s * counted.high / counted.likely}
                                  : TimeBand{likely_s, likely_s, likely_s};

    // Shape.
    const NetPass pass = NetWalk(cut, model.join, met_surface(scene), work).first();
    const Crater& crater = pass.crater;
    out.spot_um = in_micrometres(spot_at(cut.beam, recipe.setting.focus_offset));
    out.smallest_um = crater.diameter_um;
    out.taper_deg = taper_deg(crater, model.removal);
    out.terrace_um = out.depth_um.back() / layers;
    for (int k = 0; k < layers; ++k)
        out.removed_mm3 += 1e-3 *
                           (out.depth_um[static_cast<std::size_t>(k) + 1] - out.depth_um[static_cast<std::size_t>(k)]) *
                           out.layer[static_cast<std::size_t>(k)].area_mm2;
    const Thinnest thin = thinnest(map.counts, map.width, layers / 2);
    out.wall_um = 1000 * map.pixel_mm * thin.wall_px;
    out.gap_um = 1000 * map.pixel_mm * thin.gap_px;
    out.doubled_layers = doubled_layers(map.counts, layers);
    by_pass.resize(std::min(by_pass.size(), static_cast<std::size_t>(r) * static_cast<std::size_t>(out.deepest) + 1));
    out.stages =
        run_stages(dark_from(*scene.metal.removal, model.removal, pass.areal_energy_j_mm2,
                             static_cast<int>(by_pass.size()) - 1, clean),
                   first_at(by_pass, model.removal.emerge_um), first_at(by_pass, 2.5 * model.removal.emerge_um));
    if (effort.floor) {
        PatchJob job;
        job.size_mm = 0.3;
        job.passes = std::min(floor_passes, r * layers);
        job.angle_deg = recipe.setting.hatch_angle_deg;
        job.turn_deg = recipe.turn_per_pass_deg;
        job.shift = recipe.line_shift_percent / 100;
        job.focus_offset_mm = in_mm(recipe.setting.focus_offset);
        if (const auto floor = simulate_patch(cut, job)) {
            out.sa_um = floor->report.sa_um;
            out.sz_um = floor->report.sz_um;
        }
    }
    return out;
}

} // namespace finch
