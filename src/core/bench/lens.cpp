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

Length depth_about(const BeamWaist& waist, Length offset, double growth) {
    if (!(growth > 1))
        return metres(0);
    const double zr = in_mm(waist.rayleigh), z = std::abs(in_mm(offset)),
                 grown = growth * growth * (1 + z * z / (zr * zr)),
                 shrunk = (1 + z * z / (zr * zr)) / (growth * growth);
    const double up = zr * std::sqrt(grown - 1) - z;
    // Near the waist the spot cannot shrink so far.
    return mm(shrunk > 1 ? std::min(up, z - zr * std::sqrt(shrunk - 1)) : up);
}

LongestPart longest_part(Length field, Length width) {
    const Length diagonal = std::numbers::sqrt2 * field - width;
    return diagonal > field ? LongestPart{diagonal, 45} : LongestPart{field, 0};
}

} // namespace finch
