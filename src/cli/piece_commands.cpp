// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// Artwork from the command line.
#include "cli/piece_commands.h"
#include "formats/artwork_file.h"
#include "formats/height_map_file.h"
#include "piece/describe.h"
#include "recipe/predict.h"

#include <algorithm>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace finch::cli {

using json = nlohmann::json;

namespace {

Expected<MendedArt> drawing(const PieceOptions& o) {
    ArtworkOptions options;
    if (o.unit_mm > 0)
        options.unit_mm = o.unit_mm;
    if (o.width_mm > 0)
        options.width_mm = o.width_mm;
    options.dark_below = o.dark_below;
    return read_mended(o.file, options, {o.close_mm, o.spot_mm});
}

} // namespace

Expected<json> piece_describe(const PieceOptions& o) {
    return drawing(o).map(described);
}

Expected<json> piece_hatch(const PieceOptions& o) {
    const auto read = drawing(o);
    if (!read)
        return tl::unexpected(read.error());
    std::vector<const Region*> regions;
    std::string names;
    for (std::size_t l = 0; l < read->regions.size(); ++l) {
        const ArtLayer& layer = read->art.layers[l];
        names += (names.empty() ? "" : ", ") + layer.name;
        if (o.layer.empty() || layer.name == o.layer || layer.colour == o.layer)
            regions.push_back(&read->regions[l]);
    }
    if (regions.empty() && !o.layer.empty())
        return failure("piece.no_layer", fmt::format("The drawing has no layer \"{}\".", o.layer),
                       "It has: " + names + ".", {o.file, 0, "layer"});
    auto region = united(regions);
    if (region && o.inset_mm != 0)
        region = inset(*region, o.inset_mm);
    if (!region)
        return tl::unexpected(region.error().in_file(o.file));
    HatchRules rules;
    rules.pitch_mm = o.pitch_mm;
    rules.angle_deg = o.angle_deg;
    rules.shift = o.shift;
    rules.to_and_fro = !o.one_way;
    rules.by_shape = o.by_shape;
    const auto lines = hatch(*region, rules);
    return lines ? to_json(*lines) : Expected<json>(tl::unexpected(lines.error().in_file(o.file)));
}

Expected<json> piece_relief(const Context& context, const ReliefOptions& o) {
    const auto own = load_scene(context, o.bench, o.stock);
    if (!own)
        return tl::unexpected(own.error());
    const auto text = read_input(context, o.recipe);
    const auto recipe = text ? recipe_from_text(*text, o.recipe) : Expected<Recipe>(tl::unexpected(text.error()));
    if (!recipe)
        return tl::unexpected(recipe.error());
    const auto map = load_height_map(o.file);
    if (!map)
        return tl::unexpected(map.error());
    const auto counts = layer_counts(*map, {o.layers, o.black, o.white, o.gamma, o.invert});
    if (!counts)
        return tl::unexpected(counts.error().in_file(o.file));
    const Scene scene = own->scene();
    if (!scene.metal.removal)
        return failure("relief.removes_nothing", "Nothing is known of how this metal is removed.",
                       "Take one of the metals that can be engraved.");
    const Cutting cut = cutting(scene.materials, scene.metal, scene.bench, *recipe);
    DeepWork work = deep_work(*recipe, scene.evidence);
    const double pixel_mm = o.width_mm / map->width, height_mm = pixel_mm * map->height;
    work.width_mm = std::min(o.width_mm, height_mm);
    // As many passes a layer as bring the deepest place to the wanted depth.
    constexpr int most_passes = 200'000;
    int passes = 1;
    if (o.depth_um > 0) {
        work.passes = most_passes;
        const DepthAfter reached = depth_after(cut, work, o.depth_um);
        if (reached.depth_um < o.depth_um)
            return failure(
                "relief.too_deep",
                fmt::format("This recipe stalls at {:.0f} \u00b5m; {:.0f} are wanted.", reached.depth_um, o.depth_um),
                "Lower the focus on the way, or take a stronger recipe.");
        passes = std::max(1, (reached.passes + o.layers - 1) / o.layers);
    }
    const auto plan = plan_relief(cut, work, {}, *counts, map->width, pixel_mm, o.layers, o.width_mm * height_mm);
    if (!plan)
        return tl::unexpected(plan.error().in_file(o.file));
    work.passes = passes * o.layers;
    const std::vector<double> depth = depth_by_pass(cut, work);
    json layers = json::array();
    double seconds = 0;
    for (std::size_t k = 0; k < plan->layer.size(); ++k) {
        const double s = passes * plan->layer_s[k];
        seconds += s;
        layers.push_back({{"layer", k + 1},
                          {"area_mm2", plan->layer[k].area_mm2},
                          {"runs", plan->layer[k].runs},
                          {"seconds", s},
                          {"depth_um", depth[std::min(depth.size() - 1, (k + 1) * static_cast<std::size_t>(passes))]}});
    }
    return json{{"format", "finch-relief-plan"},
                {"version", 1},
                {"size_mm", {o.width_mm, height_mm}},
                {"pixel_um", 1000 * pixel_mm},
                {"bits", map->bits},
                {"passes_per_layer", passes},
                {"wanted_depth_um", o.depth_um > 0 ? json(o.depth_um) : json()},
                {"depth_um", layers.empty() ? json(0.0) : layers.back()["depth_um"]},
                {"seconds", seconds},
                {"coverage", plan->coverage},
                {"smallest_feature_um", plan->smallest_feature_um},
                {"taper_deg", plan->taper_deg},
                {"rests_on", "model of removal, and a scanner as it usually is"},
                {"layers", std::move(layers)}};
}

} // namespace finch::cli
