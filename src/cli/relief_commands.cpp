// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// Reliefs from the command line.
#include "cli/piece_commands.h"
#include "formats/height_map_file.h"

#include <filesystem>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace finch::cli {

using json = nlohmann::json;

namespace {

constexpr int hatched_layers = 12;

json pass_or_null(const std::optional<int>& pass) {
    return pass ? json(*pass) : json();
}

json cut_json(const ReliefRules& rules, const ReliefMap& map, const ReliefCut& cut,
              const std::vector<Finding>& findings) {
    json out{
        {"layers", map.layers},
        {"passes_per_layer", cut.passes_per_layer},
        {"depth_um", cut.reached_um()},
        {"depth_least_um", cut.reached_least_um()},
        {"depth_most_um", cut.reached_most_um()},
        {"seconds", cut.time.likely},
        {"seconds_low", cut.time.low},
        {"seconds_high", cut.time.high},
        {"seconds_of",
         {{"marking", cut.marking_s}, {"cleaning", cut.cleaning_s}, {"focus", cut.focus_s}, {"hands", cut.hand_s}}},
        {"hatched_over_counted", cut.hatched_over_counted},
        {"focus_lowered_mm", cut.focus_mm.back()},
        {"floor_behind_mm", cut.behind_mm},
        {"debris_loss", cut.debris_loss},
        {"terrace_um", cut.terrace_um},
        {"floor_sa_um", cut.sa_um},
        {"floor_sz_um", cut.sz_um},
        {"smallest_feature_um", cut.smallest_um},
        {"taper_deg", cut.taper_deg},
        {"wall_um", cut.wall_um},
        {"gap_um", cut.gap_um},
        {"removed_mm3", cut.removed_mm3},
        {"doubled_layers", cut.doubled_layers},
        {"fitting_layers", cut.fitting_layers},
        {"stalls", cut.stalls},
        {"dark_from_pass", pass_or_null(cut.stages.dark_from)},
        {"emerges_at_pass", pass_or_null(cut.stages.emerges_at)},
        {"clear_at_pass", pass_or_null(cut.stages.clear_at)},
        {"rules", to_json(rules)},
        {"findings", json::array()}};
    for (const Finding& f : findings)
        out["findings"].push_back({{"code", f.code}, {"text", f.message}, {"remedy", f.remedy}});
    return out;
}

} // namespace

Expected<json> piece_relief(const Context& context, const ReliefOptions& o) {
    const auto own = load_scene(context, o.bench, o.stock);
    if (!own)
        return tl::unexpected(own.error());
    const auto text = read_input(context, o.recipe);
    const auto recipe = text ? recipe_from_text(*text, o.recipe) : Expected<Recipe>(tl::unexpected(text.error()));
    if (!recipe)
        return tl::unexpected(recipe.error());
    const auto picture = load_height_map(o.file);
    if (!picture)
        return tl::unexpected(picture.error());
    const Scene scene = own->scene();
    const ScannerKnowledge scanner = fitted(scene.bench.scanner);
    const GreyUse use = grey_use(*picture);
    ReliefRules rules = o.rules;
    rules.follow = !o.stay;
    struct Worked {
        ReliefMap map;
        ReliefCut cut;
        json told;
    };
    const auto work = [&](const ReliefRules& r) -> Expected<Worked> {
        auto map = relief_map(*picture, r);
        if (!map)
            return tl::unexpected(map.error().in_file(o.file));
        auto cut = cut_relief(scene, *recipe, r, *map, scanner, {hatched_layers, true});
        if (!cut)
            return tl::unexpected(cut.error().in_file(o.file));
        json told = cut_json(r, *map, *cut, relief_findings(scene, r, *picture, use, *map, *cut));
        return Worked{std::move(*map), std::move(*cut), std::move(told)};
    };
    if (o.schools) {
        json all = json::array();
        for (const ReliefSchool school : all_relief_schools) {
            const auto done = work(as_school(rules, school, use));
            if (!done)
                return tl::unexpected(done.error());
            all.push_back(done->told);
            all.back()["school"] = key(school);
        }
        return json{{"format", "finch-relief-schools"}, {"version", 1}, {"schools", std::move(all)}};
    }
    auto done = work(rules);
    if (!done)
        return tl::unexpected(done.error());
    const ReliefCut& cut = done->cut;
    if (rules.depth_um > 0 && cut.stalls)
        return failure("relief.too_deep",
                       fmt::format("This recipe stalls at {:.0f} \u00b5m; {:.0f} are wanted.", cut.depth_um.back(),
                                   rules.depth_um),
                       "Let the focus follow, clean between layers, or take a stronger recipe.");
    if (o.job) {
        auto job = relief_job(std::filesystem::path(o.file).stem().string(), scene, own->setup, *recipe, rules,
                              done->map, cut);
        return job ? to_json(*job) : Expected<json>(tl::unexpected(job.error().in_file(o.file)));
    }
    json layers = json::array();
    double share = 0;
    for (std::size_t k = 0; k < cut.layer.size(); ++k) {
        layers.push_back({{"layer", k + 1},
                          {"area_mm2", cut.layer[k].area_mm2},
                          {"runs", cut.layer[k].runs},
                          {"seconds", cut.layer_s[k]},
                          {"depth_um", cut.depth_um[k + 1]},
                          {"focus_lowered_mm", cut.focus_mm[k]}});
        share += cut.layer[k].area_mm2 / done->map.outline_mm2() / static_cast<double>(cut.layer.size());
    }
    json out = std::move(done->told);
    out["format"] = "finch-relief-plan";
    out["version"] = 2;
    out["size_mm"] = {rules.width_mm, done->map.pixel_mm * done->map.height()};
    out["pixel_um"] = 1000 * done->map.pixel_mm;
    out["bits"] = picture->bits;
    out["wanted_depth_um"] = rules.depth_um > 0 ? json(rules.depth_um) : json();
    out["coverage"] = share;
    out["rests_on"] = fmt::format("the model of removal that predict has, and {}",
                                  scanner.runs > 0 ? fmt::format("{} timed runs of this scanner", scanner.runs)
                                                   : std::string("a scanner as it usually is"));
    out["layers"] = std::move(layers);
    return out;
}

} // namespace finch::cli
