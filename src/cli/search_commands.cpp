// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/commands.h"

#include "document/json_fields.h"
#include "evidence/film_evidence.h"
#include "evidence/learn.h"
#include "evidence/what_explains.h"
#include "formats/data_folder.h"
#include "formats/file_out.h"
#include "formats/sheet_export.h"
#include "proof/designed_sheet.h"
#include "proof/layout.h"
#include "proof/observed.h"
#include "proof/opening_plans.h"
#include "proof/palette.h"
#include "vision/fiducials.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <nlohmann/json.hpp>
#include <thread>

namespace finch::cli {

using json = nlohmann::json;

namespace {

/// Everything that was burned and read before, in the order given.
Expected<std::vector<Observation>> seen_before(const Context& context, const SearchOptions& o, const Setup& setup) {
    if (o.sheets.size() != o.readings.size())
        return failure("use.pairs",
                       fmt::format("There are {} sheets and {} readings.", o.sheets.size(), o.readings.size()),
                       "Give each --sheet its --reading, in the same order.");
    std::vector<Observation> out;
    const auto then = std::make_shared<const Setup>(setup);
    for (std::size_t i = 0; i < o.sheets.size(); ++i) {
        const auto sheet = load_sheet(context, o.sheets[i]);
        const auto reading = sheet ? load_reading(o.readings[i], *sheet) : tl::unexpected(sheet.error());
        if (!reading)
            return tl::unexpected(reading.error());
        // Later sheets are newer; of two readings of one place the newer counts.
        const auto places = observed(*sheet, *reading, then, fmt::format("{:06}", i), o.readings[i]);
        out.insert(out.end(), places.begin(), places.end());
    }
    return out;
}

Expected<Target> target_of(const SearchOptions& o) {
    if (!o.depth.empty()) {
        const auto wanted = wanted_depth_from_text(o.depth);
        return wanted ? Expected<Target>(depth_target(*wanted)) : tl::unexpected(wanted.error().in_field("--depth"));
    }
    Expected<Target> t = o.lab.empty() ? target_by_name(o.target) : Target{"the colour given", {}, o.dark, o.within};
    if (!t)
        return t;
    if (!o.lab.empty()) {
        if (!(o.lab[0] >= 0 && o.lab[0] <= 100 && std::abs(o.lab[1]) <= 128 && std::abs(o.lab[2]) <= 128))
            return failure("target.lab", "This is no colour.", "Give L* from 0 to 100, a* and b* from -128 to 128.");
        t->lab = {o.lab[0], o.lab[1], o.lab[2]};
    }
    t->accept_de = o.within;
    return t;
}

/// On the bare places after the last sheet that was given.
Expected<ProofSheet> next_round(const Context& context, const SearchOptions& o, const ProofSheet& sheet) {
    const auto last = load_sheet(context, o.sheets.back());
    if (!last)
        return tl::unexpected(last.error());
    return on_frame_of(sheet, *last, last->first_own() + last->own.size());
}

int threads() {
    return std::max(1, static_cast<int>(std::thread::hardware_concurrency()));
}

json rounded(double v, double step) {
    return std::round(v / step) * step;
}

} // namespace

Expected<Target> target_by_name(const std::string& name) {
    const auto& targets = named_targets();
    const auto target = std::ranges::find(targets, name, &Target::name);
    if (target == targets.end())
        return failure("target.unknown", fmt::format("No target is called \"{}\".", name),
                       "Use dark, straw, gold, brown, purple, deep blue, light blue, green or rose.");
    return *target;
}

namespace {

/// What a search begins with: the scene, the target, the request and all that was measured before.
struct Begun {
    OwnScene own;
    Target target;
    SheetRequest request;
    std::vector<Observation> seen;
    /// Films are searched with their posterior; depths with what predict() learned of them.
    [[nodiscard]] Scene scene() const {
        const Scene plain = own.scene();
        return target.depth ? plain.knowing(learn(plain.materials, seen)) : plain;
    }
};
Expected<Begun> begin(const Context& context, const SearchOptions& o) {
    auto loaded = load_scene(context, o.bench, o.stock);
    if (!loaded)
        return tl::unexpected(loaded.error());
    const auto text = read_input(context, o.recipe);
    const auto recipe = text ? recipe_from_text(*text, o.recipe) : Expected<Recipe>(tl::unexpected(text.error()));
    const auto target = recipe ? target_of(o) : tl::unexpected(recipe.error());
    if (!target)
        return tl::unexpected(target.error());
    auto seen = seen_before(context, o, loaded->setup);
    if (!seen)
        return tl::unexpected(seen.error());
    SheetRequest request;
    request.number = o.number;
    request.aim = o.aim.empty() ? target->name : o.aim;
    request.base = *recipe;
    return Begun{std::move(*loaded), *target, request, std::move(*seen)};
}

} // namespace

Expected<json> proof_openings(const Context& context, const SearchOptions& o) {
    const auto begun = begin(context, o);
    if (!begun)
        return tl::unexpected(begun.error());
    const auto plans = opening_plans(begun->scene(), begun->own.setup, begun->target, begun->request, begun->seen,
                                     {o.cells, o.minutes, o.risk}, threads());
    if (!plans)
        return tl::unexpected(plans.error());
    return to_json(*plans, begun->target);
}

Expected<json> proof_suggest(const Context& context, const SearchOptions& o) {
    const auto begun = begin(context, o);
    if (!begun)
        return tl::unexpected(begun.error());
    const Target& target = begun->target;
    auto designed = design_next(begun->scene(), begun->own.setup, target, begun->request, begun->seen,
                                {o.cells, o.minutes, o.risk}, threads());
    if (!designed)
        return tl::unexpected(designed.error());
    if (o.frame) {
        auto framed = o.sheets.empty() ? with_frame(designed->sheet, begun->own.setup.bench)
                                       : next_round(context, o, designed->sheet);
        if (!framed)
            return tl::unexpected(framed.error());
        designed->sheet = std::move(*framed);
    }
    if (!o.svg.empty())
        if (const auto written = write_file(QString::fromStdString(o.svg),
                                            sheet_svg(designed->sheet, fiducial_modules(layout(designed->sheet))));
            !written)
            return tl::unexpected(written.error());
    json search{{"target", to_json(target)},
                {"for_target", designed->for_target},
                {"to_learn", designed->to_learn},
                {"promise", rounded(designed->promise, 1e-3)},
                {"expected_damage_cells", rounded(designed->expected_damage, 1e-3)},
                {"marking_s", rounded(designed->seconds, 1e-2)},
                {"out_of_reach", designed->out_of_reach},
                {"why", designed->reason}};
    if (designed->best)
        search["best_so_far"] = {{"recipe", to_json(designed->best->recipe)},
                                 {"belief", rounded(designed->best->belief, 1e-3)},
                                 {"most_believable", rounded(designed->best->most, 1e-3)}};
    json out = to_json(designed->sheet);
    out["search"] = std::move(search);
    return out;
}

Expected<json> proof_palette(const Context& context, const SearchOptions& o) {
    const auto loaded = load_scene(context, o.bench, o.stock);
    if (!loaded)
        return tl::unexpected(loaded.error());
    const auto text = read_input(context, o.recipe);
    const auto recipe = text ? recipe_from_text(*text, o.recipe) : Expected<Recipe>(tl::unexpected(text.error()));
    const auto seen = recipe ? seen_before(context, o, loaded->setup) : tl::unexpected(recipe.error());
    const auto known =
        seen ? film_posterior(*context.materials, loaded->setup, *seen, threads()) : tl::unexpected(seen.error());
    if (!known)
        return tl::unexpected(known.error());
    std::vector<WantedColour> wanted;
    for (const std::string& w : o.wanted) {
        auto colour = wanted_from_text(w);
        if (!colour)
            return tl::unexpected(colour.error().in_field("--want"));
        wanted.push_back(std::move(*colour));
    }
    const Scene scene = loaded->scene().knowing(learn(*context.materials, *seen));
    const auto made = palette(scene, *known, *seen, wanted, *recipe, {o.within, o.risk}, threads());
    if (!made)
        return tl::unexpected(made.error());
    return to_json(*made);
}

Expected<json> proof_learn(const Context& context, const SearchOptions& o) {
    const auto loaded = load_scene(context, o.bench, o.stock);
    if (!loaded)
        return tl::unexpected(loaded.error());
    const auto seen = seen_before(context, o, loaded->setup);
    const auto known =
        seen ? film_posterior(*context.materials, loaded->setup, *seen, threads()) : tl::unexpected(seen.error());
    if (!known)
        return tl::unexpected(known.error());
    json out{{"cells", known->cells().size()},
             {"spoiled", std::ranges::count_if(known->cells(), &SeenCell::spoiled)},
             {"orders", json::array()},
             {"damage",
              {{"heat_ln", known->damage().heat()},
               {"heat_sd_ln", known->damage().heat_sd()},
               {"wear_ln", known->damage().tear()},
               {"wear_sd_ln", known->damage().tear_sd()}}}};
    if (const auto explained = what_explains(*context.materials, loaded->setup, *seen))
        out["explains"] = to_json(*explained);
    for (const FilmPosterior::Mode& m : known->modes())
        out["orders"].push_back({{"weight", m.weight},
                                 {"growth_ln", m.offsets[0]},
                                 {"absorbed_power_ln", m.offsets[1]},
                                 {"spot_ln", m.offsets[2]},
                                 {"slope", m.offsets[3]},
                                 {"haze_shift", m.haze_shift},
                                 {"unexplained_ln", m.rest_amplitude},
                                 {"cell_to_cell_ln", m.cell_sd},
                                 {"colour_scale", m.colour_scale},
                                 {"band_factor", m.calm}});
    return out;
}

} // namespace finch::cli
