// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "search/film_posterior.h"

#include <Eigen/Core>
#include <vector>

namespace finch {

/// A point of the lattice from which a mode is followed.
struct LatticePoint {
    double offset = 0, slope = 0, haze = 0;
};

/// Median of one number of the cells' trials; at least one cell.
[[nodiscard]] double median_of(const std::vector<SeenCell>& cells, double Trial::*number);

/// Points of offset of G, slope and haze, from which the orders of the film that the colours may mean are found. What
/// does not depend on how far the colours may be off is worked out once.
class FilmLattice {
public:
    /// `cells` and `prior` must outlive it.
    FilmLattice(const FilmTable& table, const std::vector<SeenCell>& cells, const FilmPrior& prior);
    /// The likeliest points, at most three, one for each order; likeliest first.
    [[nodiscard]] std::vector<LatticePoint> starts(double scale) const;

private:
    [[nodiscard]] double offset_at(int i) const { return -reach_ + 2 * reach_ * i / (count_ - 1); }

    const std::vector<SeenCell>& cells_;
    const FilmPrior& prior_;
    double wide_, sd_, reach_;
    int count_;
    std::vector<Eigen::MatrixXd> at_;   ///< ln thickness by cell: offsets x slopes
    std::vector<Eigen::MatrixXd> film_; ///< by cell and haze
};

} // namespace finch
