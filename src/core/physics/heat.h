// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "physics/metal.h"
#include "physics/pulse.h"

namespace finch {

inline constexpr double gas_constant = 8.314462618; ///< J/(mol K)

/// exp(-x) I0(x) for x >= 0 (Abramowitz and Stegun 9.8.1 and 9.8.2).
[[nodiscard]] double scaled_bessel_i0(double x);

/// Surface heating of a plate with an insulated back relative to a half space; fo = diffusivity time / thickness^2.
[[nodiscard]] double plate_factor(double fo);

/// Rise on the axis at time t after the start of a square pulse, per absorbed peak fluence, K m2/J (Lax 1977).
/// Times in s, spot radius in m, conductivity in W/(m K), diffusivity in m2/s.
[[nodiscard]] double pulse_rise(double t, double pulse_width, double radius, double conductivity, double diffusivity);

/// Peak rise (K) under a continuous Gaussian spot moving over a plate (Cline and Anthony 1977, Lax 1977).
/// Absorbed power in W, radius, speed and thickness in m and m/s, `line_s` = time of one line.
[[nodiscard]] double moving_spot_rise(double absorbed_power, double radius, double speed, double thickness,
                                      double conductivity, double diffusivity, double line_s);

/// Rise (K) that all earlier lines of the fill leave at the centre of the last one.
[[nodiscard]] double line_accumulation(double absorbed_power, const Pattern& pattern, double speed, double pitch,
                                       double thickness, const Metal& metal, const ProcessModel& model);

/// Rise (K) that `earlier` passes over the same rectangle leave.
[[nodiscard]] double pass_accumulation(double absorbed_j_m2, const Pattern& pattern, double width, int earlier,
                                       double thickness, const Metal& metal, const ProcessModel& model);

/// Real temperature (K) of a linear, enthalpy-like one: melting plateau, ceiling at boiling.
[[nodiscard]] double real_temperature(double linear_k, const Metal& metal);

/// Parabolic growth constant (m2/s) at a temperature, with the supply ceiling; 0 without oxide data.
[[nodiscard]] double growth_constant(double temperature_k, const OxideGrowth& growth, double gain);

} // namespace finch
