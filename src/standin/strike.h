// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "bench/setup.h"
#include "proof/tool_step.h"
#include "standin/world.h"

namespace finch::standin {

/// Where and when something is burned.
struct Moment {
    double x_mm = 0, y_mm = 0; ///< from the middle of the sheet, which lies in the middle of the field
    double clock_s = 0;        ///< since the laser was switched on for this plate
    double warm_k = 0;         ///< left by what was burned before
};

/// What truly hits the metal. SI units; radii to 1/e2 along and across the lines.
struct Strike {
    bool pulsed = true;
    double power_w = 0, frequency_hz = 1, pulse_s = 1, energy_j = 0;
    double along_m = 1e-5, across_m = 1e-5;
    double edge = 1, ring = 0;
    double speed_m_s = 1, pitch_m = 1e-5, line_m = 1e-3;
    double lines = 1;
    int passes = 1;
    double start_k = 293;

    /// Share per area (1/m2) of the energy of a pulse that lands at this distance from its middle.
    [[nodiscard]] double landing(double along, double across) const;
    /// Radius of a Gaussian that spreads the same heat.
    [[nodiscard]] double heat_radius_m() const;
    /// Energy on an area of all passes, J/m2.
    [[nodiscard]] double dose_j_m2() const { return power_w / (speed_m_s * pitch_m) * passes; }
};

[[nodiscard]] Strike strike(const World& world, const Setup& setup, const Recipe& recipe, const RectMm& area,
                            const Moment& moment);

} // namespace finch::standin
