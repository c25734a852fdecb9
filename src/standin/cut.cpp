// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/cut.h"

#include <algorithm>
#include <cmath>

namespace finch::standin {

Cut cut(const World& w, const OwnMetal& m, double finish, const Strike& s, const DeepSteps& steps, double narrowest) {
    // Longer pulses need more for the same depth of heat, and throw more of the melt out.
    const double width = s.pulse_s / 100e-9;
    const double best = 1e4 * m.cut_best_j_cm2 * w.cut_at * std::pow(width, 0.45);
    const double melt = std::clamp(0.25 + 0.75 * std::pow(width, 0.5), 0.25, 1.4);
    const double crowd = 1 / (1 + s.frequency_hz / 600e3); // the plume of the last pulse is in the way
    const double full_um =
        1000 * m.cut_mm3_j * w.cut * melt * crowd * std::sqrt(finish) * s.dose_j_m2() / s.passes * 1e-6;
    Cut out;
    double debris = 0;
    for (int pass = 0; pass < s.passes; ++pass) {
        const double stepped = steps.focus_every > 0 ? in_mm(steps.focus_step) * (pass / steps.focus_every) : 0;
        const double off = out.depth_um * 1e-3 - stepped; // the floor is farther away than the focus
        const double wide = 1 + 0.6 * off * off;          // of the spot's area
        const double fluence = s.energy_j * s.landing(0, 0) / wide;
        const double tune = std::log(fluence / best);
        const double efficient =
            std::exp(-tune * tune / (tune < 0 ? 2.4 : 5.0)) / (1 + std::pow(0.12 * best / fluence, 4));
        const double wall = std::exp(-w.cut_wall * out.depth_um * 1e-3 / (0.9 * std::max(narrowest, 0.05)));
        const double taken = full_um * efficient * wall * (1 - 0.4 * debris);
        debris = std::min(1.0, debris + taken / 90);
        if (steps.clean_every > 0 && (pass + 1) % steps.clean_every == 0)
            debris *= 0.2;
        out.depth_um += taken;
        if (pass == 0)
            out.first_um = taken;
    }
    const double dose = 1e-6 * s.dose_j_m2() / s.passes;
    out.dark = 1 / (1 + std::pow(m.cut_dark_j_mm2 / dose, 3));
    return out;
}

} // namespace finch::standin
