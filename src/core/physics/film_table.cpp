// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "physics/film_table.h"

#include <algorithm>

namespace finch {

FilmTable::FilmTable(const FilmOptics& film) {
    const auto count = static_cast<std::size_t>(thickest_nm / step_nm) + 1;
    for (std::size_t i = 0; i < count; ++i) {
        const double x = step_nm * static_cast<double>(i) * 1e-9;
        mirror_.push_back(to_xyz(film.surface(x, 0)));
        scattered_.push_back(to_xyz(film.hemispherical(x)));
    }
}

Lab FilmTable::at(double nm, double haze) const {
    // Short of the last entry, so that there is always one to mix with.
    const double position = std::clamp(nm / step_nm, 0.0, static_cast<double>(mirror_.size()) - 1.001);
    const auto i = static_cast<std::size_t>(position);
    const double t = position - static_cast<double>(i);
    const auto mix = [&](double Xyz::*part) {
        return (1 - haze) * ((1 - t) * mirror_[i].*part + t * mirror_[i + 1].*part) +
               haze * ((1 - t) * scattered_[i].*part + t * scattered_[i + 1].*part);
    };
    return to_lab(Xyz{mix(&Xyz::x), mix(&Xyz::y), mix(&Xyz::z)});
}

} // namespace finch
