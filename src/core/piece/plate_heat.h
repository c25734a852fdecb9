// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "quantity/plane.h"

#include <span>
#include <vector>

namespace finch {

/// A thin plate as heat sees it: warm alike through its thickness, with edges that lose nothing and faces that lose in
/// proportion to how warm they are.
struct HeatPlate {
    RectMm outline;
    double thickness_mm = 1;
    double conductivity_w_mk = 15, capacity_j_m3k = 4e6;
    double loss_w_m2k = 60; ///< of both faces together: air, a table, clamps
};

/// Temperature of a plate on which places are heated one after the other, in cosine waves over the outline: exact but
/// for waves shorter than 1/48 of a side, which level out within a moment.
class PlateHeat {
public:
    explicit PlateHeat(const HeatPlate& plate);

    /// A place, as the waves have it: the mean of each over points that stand for equal parts of it. `part_mm`: width
    /// of what a point stands for.
    using Waves = std::vector<double>;
    [[nodiscard]] Waves waves(std::span<const PointMm> points, double part_mm) const;

    /// What so many seconds do while a place is heated by so many watts, worked out once.
    struct Heating {
        Waves left, added;
    };
    [[nodiscard]] Heating heating(const Waves& place, double watts, double seconds) const;

    /// Time passes, with nothing heated, or with a place heated.
    void wait(double seconds);
    void heat(const Heating& heating);
    /// Mean rise (K) over a place now, and of the whole plate.
    [[nodiscard]] double rise_k(const Waves& place) const;
    [[nodiscard]] double mean_k() const { return rise_.front(); }
    /// How long to wait until a place is no warmer than this; an hour where it takes longer.
    [[nodiscard]] double wait_until_s(const Waves& place, double rise_k) const;

private:
    static constexpr int side = 48;
    double width_mm_, height_mm_;
    PointMm corner_;
    double capacity_j_k_;       ///< of the whole plate
    std::vector<double> decay_; ///< per second
    std::vector<double> rise_;
};

} // namespace finch
