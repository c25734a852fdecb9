// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "physics/growth.h"

#include "physics/vector_clones.h"

#include "physics/heat.h"

#include <algorithm>
#include <cmath>

namespace finch {
namespace {

/// Plain arrays in loops of their own, so that the compiler takes several points at once; the clones only widen them.
FINCH_VECTOR_CLONES double sum_of_growth(const PulseCycle& cycle, const RingHeat& ring, const Metal& metal,
                                         double gain) {
    const double melting = metal.melting_k, latent = metal.latent_rise_k, boiling = metal.boiling_k;
    const double activation_k = metal.oxide->activation_j_mol / gas_constant;
    const double prefactor = gain * metal.oxide->prefactor_m2_s, ceiling = 1 / (gain * metal.oxide->ceiling_m2_s);
    std::array<double, PulseCycle::points> exponent;
    for (std::size_t t = 0; t < PulseCycle::points; ++t) {
        const double moving = ring.moving_k - ring.fluence_j_m2 * cycle.decay[t];
        const double linear = ring.base_k + (moving > 0 ? moving : 0) + ring.fluence_j_m2 * cycle.rise[t];
        const double molten = linear - latent > melting ? linear - latent : melting;
        const double real = linear < melting ? linear : molten;
        exponent[t] = -activation_k / (real < boiling ? real : boiling);
    }
    double sum = 0;
    for (std::size_t t = 0; t < PulseCycle::points; ++t) {
        const double free = prefactor * std::exp(exponent[t]);
        sum += cycle.weight[t] * free / (1 + free * ceiling);
    }
    return sum;
}

} // namespace

double cycle_growth(const PulseCycle& cycle, const RingHeat& ring, const Metal& metal, double gain) {
    return sum_of_growth(cycle, ring, metal, gain);
}

} // namespace finch
