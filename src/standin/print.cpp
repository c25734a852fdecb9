// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/print.h"

#include "standin/chance.h"
#include "standin/instrument.h"

namespace finch::standin {

Print printed(const ColourPrint& asked, std::uint64_t seed) {
    Chance chance(seed * 7919 + 11);
    const std::array<double, 3> paper{94 + chance.bell(0.8), chance.bell(0.5), -1 + chance.bell(1)};
    // Its ink is paler than what was asked for, and no black is black.
    const double darkest = 4 + chance.even(0, 3), full = chance.even(0.84, 0.96);
    const double to_red = chance.bell(1.2), to_yellow = chance.bell(1.5);
    Print out;
    out.paper.width_mm = asked.width_mm;
    out.paper.height_mm = asked.height_mm;
    out.paper.bare.reflects = card_of(paper);
    out.paper.bare.scatters = 1;
    out.measured["paper"] = instrument_lab(out.paper.bare.reflects);
    for (const ColourPrint::Patch& patch : asked.patches) {
        const auto& [l, a, b] = patch.asked_lab;
        const double ink = 1 - l / 100;
        Surface surface;
        surface.reflects = card_of({darkest + l * (paper[0] - darkest) / 100, full * a + ink * to_red + paper[1],
                                    full * b + ink * to_yellow + paper[2]});
        surface.scatters = 1;
        surface.texture = 0.002;
        if (!patch.name.empty())
            out.measured[patch.name] = instrument_lab(surface.reflects);
        out.paper.burns.push_back({patch.name, patch.where, {}, surface, 0.1, 0});
    }
    return out;
}

} // namespace finch::standin
