// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "bench/setup.h"
#include "physics/bare_shares.h"
#include "physics/metal.h"
#include "recipe/film_knowledge.h"

#include <algorithm>
#include <memory>
#include <span>
#include <vector>

namespace finch {

/// Settings that were measured, never changed once there: copies share them.
class MeasuredPoints {
public:
    MeasuredPoints() = default;
    MeasuredPoints(std::vector<MeasuredPoint> points)
        : points_(points.empty() ? nullptr : std::make_shared<const std::vector<MeasuredPoint>>(std::move(points))) {}
    [[nodiscard]] std::span<const MeasuredPoint> all() const {
        return points_ ? std::span<const MeasuredPoint>(*points_) : std::span<const MeasuredPoint>();
    }
    bool operator==(const MeasuredPoints& other) const {
        return points_ == other.points_ || std::ranges::equal(all(), other.all());
    }

private:
    std::shared_ptr<const std::vector<MeasuredPoint>> points_;
};

/// What readings have taught about this lot on this bench. A fit is the standard error of the logarithm of its gain;
/// how far a prediction may be off grows from there with the distance to the nearest measured setting.
struct Evidence {
    /// Correction of the oxide growth constant. Where films were taught it is their summary, and a prediction takes of
    /// it only what differs from that.
    double growth_gain = 1;
    double growth_fit_ln = 0;
    MeasuredPoints film_points; ///< for the band of a gain alone: none where films were taught
    TaughtFilms films;
    double depth_gain = 1; ///< measured over predicted depth of removal
    double depth_fit_ln = 0;
    MeasuredPoints depth_points;
    double coat_gain = 1; ///< measured over predicted threshold of the coat
    double coat_work = 1; ///< measured over predicted work to take the whole coat, told as a thickness
    double coat_fit_ln = 0;
    MeasuredPoints coat_points;
    int coat_sheets = 0;             ///< behind it: sheets that searched its threshold
    int depth_coupons = 0;           ///< behind it
    double compound_coupling = 0.25; ///< share of the heat that reaches the metal under a compound; above 1 where less
                                     ///< is lost than the model counts
    std::string compound;            ///< which one; empty: whichever is used
    int power_ladders = 0;           ///< behind it
    int sheets = 0;
    int cells = 0;
    bool operator==(const Evidence&) const = default;

    /// What a ladder said of one compound is not said of another.
    [[nodiscard]] bool speaks_of(const std::string& of) const { return compound.empty() || compound == of; }
    [[nodiscard]] double coupling_under(const std::string& of) const {
        return speaks_of(of) ? compound_coupling : Evidence().compound_coupling;
    }
    [[nodiscard]] int ladders_under(const std::string& of) const { return speaks_of(of) ? power_ladders : 0; }
};

/// What everything is predicted and judged in: the materials, what lies on the bench, and what was learned about it.
/// Refers to its parts, which must outlive it.
struct Scene {
    const Materials& materials;
    const Metal& metal;
    const Bench& bench;
    const Stock& stock;
    Evidence evidence = {};

    /// The same bench and stock with other knowledge.
    [[nodiscard]] Scene knowing(const Evidence& other) const { return {materials, metal, bench, stock, other}; }
};

/// A scene that owns its parts, so that it can be kept, compared and handed to a worker.
struct OwnScene {
    std::shared_ptr<const Materials> materials;
    std::shared_ptr<const Metal> metal;
    Setup setup;
    Evidence evidence = {};

    /// Refers to this value, which must outlive what is returned.
    [[nodiscard]] Scene scene() const { return {*materials, *metal, setup.bench, setup.stock, evidence}; }
};
/// Errors: material.unknown when the stock's metal is not among the materials.
[[nodiscard]] inline Expected<OwnScene> own_scene(std::shared_ptr<const Materials> materials, const Setup& setup,
                                                  const Evidence& evidence) {
    auto metal = materials->find(setup.stock.metal);
    if (!metal)
        return tl::unexpected(metal.error());
    return OwnScene{std::move(materials), std::move(*metal), setup, evidence};
}

} // namespace finch
