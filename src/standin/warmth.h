// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "standin/strike.h"

#include <array>

namespace finch::standin {

/// The metal as this world has it. SI units.
struct Ground {
    double absorptance = 0.35, conductivity = 20, diffusivity = 5e-6, capacity = 4e6;
    double bulk_diffusivity = 4e-6; ///< of metal that is only warm
    double thickness_m = 2e-3;
    double melting_k = 1700, fusion_rise_k = 400, boiling_k = 3100, vapour_j_m3 = 49e9;
};
/// `finish`: what the surface does to the absorptance. Properties are taken at the temperatures that `about_k` names.
[[nodiscard]] Ground ground(const World& world, const OwnMetal& metal, double finish, double thickness_m,
                            double about_k);

/// Temperature of the metal before a pulse lands, by direct addition of what every earlier pulse, line and pass left:
/// each is a spot or a line of heat that has spread since.
class Warmth {
public:
    Warmth(const Ground& ground, const Strike& strike, double absorbed_share);

    /// Rise that the earlier pulses of this line left at a place relative to the beam (m; + = ahead).
    [[nodiscard]] double line_so_far(double along_m, double across_m) const;
    /// Rise that earlier lines of the pass left.
    [[nodiscard]] double lines_before() const { return lines_; }
    /// Rise that so many earlier passes left.
    [[nodiscard]] double passes_before(int passes) const;

private:
    static constexpr int columns = 17, rows = 7;
    [[nodiscard]] double spread_spot(double along_m, double across_m) const;
    [[nodiscard]] double plate(double seconds) const;
    [[nodiscard]] double cooled(double seconds) const;

    Ground ground_;
    Strike strike_;
    double share_, radius_m_, lines_ = 0;
    std::array<std::array<double, columns>, rows> table_{};
};

/// Rise of the surface at a time after the start of a pulse of even power, per absorbed fluence (K m2/J).
[[nodiscard]] double flash(const Ground& ground, double seconds, double pulse_s);
/// What a thermometer would show where so much heat has gone in: melting holds it, boiling ends it.
[[nodiscard]] double shown_temperature(const Ground& ground, double heat_k);

} // namespace finch::standin
