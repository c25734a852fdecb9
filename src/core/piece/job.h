// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "bench/setup.h"
#include "piece/job_step.h"
#include "piece/layer_fill.h"
#include "piece/repair.h"
#include "piece/scan_load.h"
#include "recipe/recipe.h"

#include <nlohmann/json_fwd.hpp>

namespace finch {

/// One layer of a job: where, and with what.
struct JobLayer {
    std::string name, colour;
    bool guide = false;           ///< shown by the pointer, never marked
    std::optional<Recipe> recipe; ///< of a layer that is marked
    Region region;
    bool by_shape = false;         ///< filled one connected shape after the other
    std::vector<int> only_at = {}; ///< numbers of the places that have it, whole; empty: all, as far as they reach
    bool one_way = false;          ///< every line in one direction
    int contours = 0;              ///< times round the outlines after every pass, each a pitch further in
    double inset_mm = 0;           ///< by which the region is narrower than it was drawn, already
    std::string words = {};        ///< that it shows, of a typed text
};
/// Where a part is marked: in a nest of a tray, or as one of several that a drawing is too large or too round for.
struct JobPlace {
    int number = 1;
    PointMm by;                          ///< how far the drawing is moved there
    std::optional<RectMm> only = {};     ///< marks what lies in it, before it is moved; nothing: all
    std::optional<double> axis_deg = {}; ///< where the rotary stands
    bool by_hand = false;                ///< the part is moved there by hand: the program waits
    bool operator==(const JobPlace&) const = default;
};
/// All that a bench needs to mark a piece, in the order of marking; refers to no other file.
struct Job {
    std::string name;
    double width_mm = 0, height_mm = 0; ///< of the page; places are from its lower left corner, y up
    Setup setup;                        ///< that it was made for
    std::vector<JobLayer> layers;
    std::vector<JobStep> steps;   ///< an order of marking for the heat's sake; empty: layer by layer, pass by pass
    std::vector<JobPlace> places; ///< of a tray, in the order of marking; empty: one part where it is drawn
    bool in_turn = false;         ///< every part gets a pass or a step before any gets the next
};
/// The places, or the one where the part is drawn.
[[nodiscard]] std::vector<JobPlace> places_of(const Job& job);

/// The layer so filled; its region becomes what is left of it. Errors: fill.nothing_left, region.failed.
[[nodiscard]] Expected<JobLayer> filled(JobLayer layer, const LayerFill& fill);

/// Every layer of a drawing, in its order, without recipes.
[[nodiscard]] Job job_of(std::string name, const Setup& setup, const MendedArt& drawing);
/// Whether every layer has a recipe or is a guide. Errors: job.no_recipe.
[[nodiscard]] Expected<void> settled(const Job& job);

/// Once round the outlines of a layer and as often as it says, as lines that are joined. Errors: region.failed.
[[nodiscard]] Expected<std::vector<HatchRun>> contour_runs(const JobLayer& layer);

/// What marking one layer takes, whole.
struct LayerWork {
    Hatch hatch;   ///< of the first pass
    ScanLoad load; ///< of all passes, which are taken to be like the first
};
/// Errors: those of pass_hatch().
[[nodiscard]] Expected<LayerWork> layer_work(const JobLayer& layer);
/// The same as the job has it: an order of steps fills shape by shape.
[[nodiscard]] Expected<LayerWork> layer_work(const Job& job, const JobLayer& layer);

/// The hatch of one pass of a layer with a recipe, the first is 0: turned, crossed and moved as that says; a crossed
/// pass counts twice, as in burned_setting(). Errors: those of hatch().
[[nodiscard]] Expected<Hatch> pass_hatch(const JobLayer& layer, int pass);
/// What of a layer is marked at a place, before it is moved there; made once for all its passes. Refers to the layer.
struct LayerAt {
    const JobLayer* layer = nullptr;
    Region region;
    bool meets = false;                  ///< lines of neighbouring places meet
    std::vector<HatchRun> contours = {}; ///< after every pass
};
[[nodiscard]] Expected<LayerAt> layer_at(const JobLayer& layer, const JobPlace& place);
[[nodiscard]] Expected<Hatch> pass_hatch(const LayerAt& part, int pass);
/// Whether a place has a layer, be it in part.
[[nodiscard]] bool is_at(const JobLayer& layer, const JobPlace& place);
/// Where a layer is to be seen: by how much it is moved into each nest that has it; once, as it is drawn, where the job
/// is marked in parts. And the page on which that is.
[[nodiscard]] std::vector<PointMm> drawn_at(const Job& job, const JobLayer& layer);
[[nodiscard]] PointMm drawn_size(const Job& job);
/// What marking everything takes, at every place, layer by layer. Errors: those of hatch().
[[nodiscard]] Expected<std::vector<ScanLoad>> loads_of(const Job& job);
/// The same of some of its shapes alone, each as indices of rings.
[[nodiscard]] Expected<Hatch> pass_hatch(const JobLayer& layer, int pass,
                                         std::span<const std::vector<std::size_t>> shapes);
/// Whether the steps mark every shape of every layer that is marked, once, and no place or layer asks for a part. No
/// steps do. Errors: job.steps.
[[nodiscard]] Expected<void> steps_complete(const Job& job);

/// Version 2 has places that mark a part of the drawing, parts in turn, lines that run one way, contours and words; a
/// job without them is written as version 1.
inline constexpr int job_format_version = 2;
/// Written and read again it is the same, byte by byte.
[[nodiscard]] nlohmann::json to_json(const Job& job);
/// Reads a `finch-job`. Errors name the field; document.newer_version.
[[nodiscard]] Expected<Job> job_from_json(const nlohmann::json& document, const std::string& file);

} // namespace finch
