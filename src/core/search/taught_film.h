// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "document/json_fields.h"
#include "recipe/film_knowledge.h"
#include "search/film_posterior.h"

#include <mutex>

namespace finch {

/// A search's posterior as what predictions ask. Fitted when it is first asked.
class TaughtFilm final : public FilmKnowledge {
public:
    /// `metal`: key of the metal that was marked. `cells` newest first; only their numbers are kept, not their recipes.
    /// `growth_gain`: the summary of it.
    TaughtFilm(std::string metal, std::vector<SeenCell> cells, double growth_gain);
    TaughtFilm(std::string metal, FilmPosterior posterior, double growth_gain);

    [[nodiscard]] std::optional<Told> told(const Scene& scene, const Recipe& recipe, const Fill& fill,
                                           const AnnealResult& physics, double share_away,
                                           double more_growth) const override;
    [[nodiscard]] double growth_gain() const override { return gain_; }
    [[nodiscard]] nlohmann::json document() const override;
    [[nodiscard]] bool same(const FilmKnowledge& other) const override;

    [[nodiscard]] const std::string& metal() const { return metal_; }
    /// `metal`: the one that was marked.
    [[nodiscard]] const FilmPosterior& posterior(const Metal& metal) const;

private:
    std::string metal_;
    std::vector<SeenCell> cells_;
    double gain_ = 1;
    mutable std::once_flag fitted_;
    mutable std::optional<FilmPosterior> posterior_;
    mutable std::optional<DamagePosterior> told_damage_;
};

/// Errors through `f`'s list, with the field.
[[nodiscard]] TaughtFilms taught_films(JsonFields f);

} // namespace finch
