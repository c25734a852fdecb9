// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/lens.h"

#include <cmath>
#include <numbers>

namespace finch {
namespace {

BeamWaist waist_for(double m2, const Lens& lens, Length wavelength) {
    const double spot = 4 * m2 * in_metres(wavelength) * in_metres(lens.focal_length) /
                        (std::numbers::pi * in_metres(lens.beam_at_lens));
    const double rayleigh = std::numbers::pi * spot * spot / (4 * m2 * in_metres(wavelength));
    return {metres(spot), metres(rayleigh)};
}

} // namespace

BeamWaist computed_waist(const Lens& lens, Length wavelength) {
    return waist_for(lens.beam_quality_m2, lens, wavelength);
}

double effective_m2(const Lens& lens, Length wavelength) {
    if (!lens.measured_spot)
        return lens.beam_quality_m2;
    return in_metres(*lens.measured_spot) * std::numbers::pi * in_metres(lens.beam_at_lens) /
           (4 * in_metres(wavelength) * in_metres(lens.focal_length));
}

BeamWaist waist(const Lens& lens, Length wavelength) {
    return waist_for(effective_m2(lens, wavelength), lens, wavelength);
}

Length spot_at(const BeamWaist& waist, Length offset) {
    return waist.spot * std::sqrt(1 + std::pow(in_metres(offset) / in_metres(waist.rayleigh), 2));
}

Length depth_for_growth(const BeamWaist& waist, double growth) {
    return growth > 1 ? waist.rayleigh * std::sqrt(growth * growth - 1) : metres(0);
}

LongestPart longest_part(Length field, Length width) {
    const Length diagonal = std::numbers::sqrt2 * field - width;
    return diagonal > field ? LongestPart{diagonal, 45} : LongestPart{field, 0};
}

} // namespace finch
