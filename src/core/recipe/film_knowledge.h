// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "physics/anneal.h"
#include "recipe/recipe.h"

#include <memory>
#include <nlohmann/json_fwd.hpp>
#include <optional>

namespace finch {

struct Scene;

/// What burned cells taught of the films of one lot on one bench. A search plans with it and predict() asks it, so that
/// the next cells, the map and the card tell one number. Immutable; may be asked from several threads.
class FilmKnowledge {
public:
    FilmKnowledge() = default;
    FilmKnowledge(const FilmKnowledge&) = delete;
    FilmKnowledge& operator=(const FilmKnowledge&) = delete;
    virtual ~FilmKnowledge() = default;

    struct Told {
        std::optional<TaughtLook> film; ///< absent where only damage was learned
        double spread_ln = 0;           ///< one standard deviation of ln(thickness)
        double earlier_ln = 0;          ///< how much earlier than the model says this bench spoils metal here
    };
    /// `physics`: the setting without any knowledge; `share_away` what the joined model says then. `more_growth`:
    /// factor on the growth constant beyond what was learned. Nothing on another metal, or where the model cannot be
    /// varied.
    [[nodiscard]] virtual std::optional<Told> told(const Scene& scene, const Recipe& recipe, const Fill& fill,
                                                   const AnnealResult& physics, double share_away,
                                                   double more_growth) const = 0;
    /// The gain of the growth constant that comes nearest to all of it: its summary.
    [[nodiscard]] virtual double growth_gain() const = 0;
    /// What it rests on, so that it can be written and fitted again.
    [[nodiscard]] virtual nlohmann::json document() const = 0;
    [[nodiscard]] virtual bool same(const FilmKnowledge& other) const = 0;
};

/// Shared and never changed: copies are cheap, and equal where they rest on the same cells.
class TaughtFilms {
public:
    TaughtFilms() = default;
    TaughtFilms(std::shared_ptr<const FilmKnowledge> known) : known_(std::move(known)) {}
    [[nodiscard]] explicit operator bool() const { return known_ != nullptr; }
    [[nodiscard]] const FilmKnowledge* operator->() const { return known_.get(); }
    [[nodiscard]] const FilmKnowledge* get() const { return known_.get(); }
    bool operator==(const TaughtFilms& other) const {
        return known_ == other.known_ || (known_ != nullptr && other.known_ != nullptr && known_->same(*other.known_));
    }

private:
    std::shared_ptr<const FilmKnowledge> known_;
};

} // namespace finch
