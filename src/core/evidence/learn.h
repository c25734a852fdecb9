// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "evidence/observation.h"
#include "recipe/scene.h"

#include <span>
#include <string>
#include <vector>

namespace finch {

/// For what a lesson holds: one bench, lens, metal, finish, lot and coat. It is never carried to another silently.
[[nodiscard]] std::string evidence_key(const Setup& setup);

/// What all observations together teach. A fold: any order gives the same bits, and a place that was measured again
/// counts once, by its newest reading. Observations of other set-ups than the first one's key are ignored, as are those
/// that do not count.
///
/// Films: the posterior that a search plans with (docs/search.md), which tells every setting its own thickness, look
/// and border of damage; one gain is its summary. Where no film fits the colours none is learned. Depth: the weighted
/// median of measured over predicted depth. Coat and compound: which cells of threshold sheets are done. Fewer than
/// three usable colours, or no depth, leave that part as the physics alone has it.
[[nodiscard]] Evidence learn(const Materials& materials, std::span<const Observation> observations);

/// How predictions of some places agreed with what was measured there, with two states of knowledge.
struct Agreement {
    double thickness_ratio = 1;         ///< film with the later knowledge over the film with the earlier, median
    double before_de = 0, after_de = 0; ///< median CIEDE2000 of prediction to reading
    std::size_t cells = 0;              ///< places whose colour says something about the film; 0: nothing to compare
    bool operator==(const Agreement&) const = default;
};
[[nodiscard]] Agreement agreement(const Materials& materials, std::span<const Observation> observations,
                                  const Evidence& before, const Evidence& after);

/// Oxide thickness (nm) that shows a colour best near a predicted one; used to say how far a cell is off. 0 where the
/// metal has no film that colours.
[[nodiscard]] double thickness_from_colour(const Metal& metal, const Lab& lab, double haze, double near_nm);

} // namespace finch
