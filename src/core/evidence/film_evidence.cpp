// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "evidence/film_evidence.h"

#include "evidence/learn.h"
#include "recipe/predict.h"

#include <algorithm>
#include <map>

namespace finch {
namespace {

/// The newest cells say all that matters: a bench with more has been somewhere else since.
constexpr std::size_t most_places = 400;
/// From here on a cell that nobody ticked was not looked at: it tells neither a film nor a whole surface. A search does
/// not burn such cells.
constexpr double sure_damage = 0.9;

/// Nominal rise where each of what was burned together was burned, by its turn.
std::vector<double> warmth_of(const BurnedTogether& all, const Scene& scene, const Fill& fill) {
    std::vector<CellHeat> heats;
    for (const Recipe& r : all.recipes) {
        const auto mark = predict(scene, r, fill, unseen);
        heats.push_back(mark ? cell_heat(*mark) : CellHeat{});
    }
    return expected_warmth(scene.metal, scene.stock.thickness, all.places, heats, all.rests_s);
}

} // namespace

Expected<FilmPosterior> film_posterior(const Materials& materials, const Setup& setup,
                                       std::span<const Observation> observations, int threads) {
    const auto metal = materials.find(setup.stock.metal);
    if (!metal)
        return tl::unexpected(metal.error());
    if ((*metal)->film == nullptr || !(*metal)->film->has_oxide() || !(*metal)->oxide)
        return failure("search.no_film", "No film that shows colours is modelled on " + (*metal)->name + ".",
                       "Search with a sheet of two knobs, and choose by eye.");
    const std::string key = evidence_key(setup);
    std::vector<const Observation*> places;
    for (const Observation* o : newest_of_each(observations))
        if ((o->colour || o->spoiled) && evidence_key(*o->setup) == key)
            places.push_back(o);
    // As long as all are used their order must not matter to the last bit: reading again changes nothing.
    if (places.size() > FilmPosterior::most_cells)
        std::ranges::stable_sort(places, std::greater{}, [](const Observation* o) { return o->when_utc; });
    places.resize(std::min(places.size(), most_places));
    std::vector<SeenCell> cells;
    std::map<const BurnedTogether*, std::vector<double>> warmth;
    // Cells of one burning share their set-up, and are emulated together.
    for (std::size_t begin = 0; begin < places.size();) {
        std::size_t end = begin;
        std::vector<Recipe> recipes;
        while (end < places.size() && places[end]->setup == places[begin]->setup &&
               places[end]->fill == places[begin]->fill)
            recipes.push_back(places[end++]->recipe);
        const Setup& then = *places[begin]->setup;
        const Scene scene{materials, **metal, then.bench, then.stock};
        auto emulated = trials(scene, recipes, places[begin]->fill, threads);
        // A cell that the model cannot do is left out there; find the others again by their recipe.
        std::size_t next = 0;
        for (std::size_t i = begin; i < end && next < emulated.size(); ++i)
            if (emulated[next].recipe == places[i]->recipe) {
                const Observation& o = *places[i];
                const bool told = o.colour.has_value();
                // Of the model alone: what one believes of other benches is no ground to leave a reading out.
                static const DamagePosterior model_alone(joined_model_damage);
                if (!o.spoiled && model_alone.chances({&emulated[next], 1}).front() > sure_damage) {
                    ++next;
                    continue;
                }
                if (o.together) {
                    auto& rise = warmth[o.together.get()];
                    if (rise.empty())
                        rise = warmth_of(*o.together, scene, o.fill);
                    emulated[next].warmth_k = o.turn < rise.size() ? rise[o.turn] : 0;
                }
                cells.push_back({std::move(emulated[next]), told ? *o.colour : Lab(),
                                 told ? read_sd_of(o.colour_within) : unread_sd, o.spoiled});
                ++next;
            }
        begin = end;
    }
    return FilmPosterior(std::make_shared<const FilmTable>(*(*metal)->film), std::move(cells));
}

} // namespace finch
