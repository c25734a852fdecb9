// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/part_way.h"

#include "piece/fill_check.h"
#include "recipe/appearance.h"

#include <algorithm>
#include <fmt/format.h>

namespace finch {
namespace {

std::string stage_words(const RunStages& stages, int done) {
    if (stages.clear_at && done >= *stages.clear_at)
        return "The shape is clear; dust stays until the wash.";
    if (stages.emerges_at && done >= *stages.emerges_at)
        return stages.clear_at ? fmt::format("The shape shows; it is clear from about pass {}.", *stages.clear_at)
                               : std::string("The shape shows.");
    if (stages.dark_from && done >= *stages.dark_from)
        return stages.emerges_at ? fmt::format("Dark and dusty, as it should be: the shape shows from about pass {}.",
                                               *stages.emerges_at)
                                 : std::string("Dark and dusty, as it should be.");
    if (stages.dark_from)
        return fmt::format("From about pass {} it goes dark and dusty: that is normal.", *stages.dark_from);
    return {};
}

} // namespace

Expected<PartWay> part_way(const Scene& scene, const JobLayer& layer, int passes_done) {
    const auto whole = predict_layer(scene, layer);
    if (!whole)
        return tl::unexpected(whole.error());
    JobLayer so_far = layer;
    const int crossed = layer.recipe->cross_hatch ? 2 : 1;
    so_far.recipe->setting.passes =
        std::clamp((passes_done + crossed - 1) / crossed, 1, std::max(1, layer.recipe->setting.passes));
    const auto now = predict_layer(scene, so_far);
    if (!now)
        return tl::unexpected(now.error());
    PartWay out;
    if (const Appearance look = appearance(scene, *so_far.recipe, *now); look.known) {
        out.look = look.words;
        out.l = look.lab.l;
        out.l_spread = look.l_spread;
    }
    if (now->removal) {
        out.depth_um = now->removal->told_um();
        out.least_um = now->removal->told_least_um();
        out.most_um = now->removal->told_most_um();
    }
    if (whole->removal)
        out.stage = stage_words(whole->removal->stages, passes_done);
    return out;
}

} // namespace finch
