// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "physics/film.h"

#include <vector>

namespace finch {

/// Colour of a film from straight above by thickness, for one metal: two tables that the haze mixes. For what asks for
/// thousands of colours of films that were predicted already.
class FilmTable {
public:
    static constexpr double step_nm = 2, thickest_nm = 1000;

    explicit FilmTable(const FilmOptics& film);
    /// Thickness is clamped to the table. `haze`: share of the light that is scattered, 0..1.
    [[nodiscard]] Lab at(double nm, double haze) const;

private:
    std::vector<Xyz> mirror_, scattered_;
};

} // namespace finch
