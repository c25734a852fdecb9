// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "proof/reading.h"
#include "recipe/scene.h"

#include <string>

namespace finch {

/// At which focus offsets a film is tried.
struct OffsetRequest {
    Length reach = mm(0);    ///< from -reach to +reach, through zero; 0 = to where the spot has doubled
    std::size_t offsets = 7; ///< 3 to 13, odd
    bool operator==(const OffsetRequest&) const = default;
};

/// Half as wide as the head may go before the spot, and with it the finest detail, is twice as wide.
[[nodiscard]] Length offset_reach(const Bench& bench);

/// A sheet for the question whether a film is better made in focus or out of it: at every offset, on both sides, the
/// recipe with a pitch as wide against the spot as it was and the speed that makes the same film by the model, and that
/// with a sixth more and less film. Burned from the lowest head upwards. Offsets at which the bench cannot do it, or
/// where metal would be removed, are left out. `request` gives number, aim, recipe and the size of the cells.
/// Errors: offsets.no_film, offsets.count, offsets.none when less than three offsets can do it, those of
/// plan_free_sheet().
[[nodiscard]] Expected<ProofSheet> plan_offsets(const SheetRequest& request, const OffsetRequest& wanted,
                                                const Scene& scene, const Recipe& labels);

/// The best cell of one offset.
struct OffsetResult {
    double offset_mm = 0, spot_um = 0;
    std::size_t cell = 0;
    Lab lab;
    double miss = 0;       ///< from the target, CIEDE2000
    double within_de = 0;  ///< of its reading
    double unevenness = 0; ///< within the cell
    double s_per_cm2 = 0;  ///< of marking
    bool passes = false;
};
struct OffsetFinding {
    std::vector<OffsetResult> offsets; ///< lowest first, those that could be read
    std::size_t best = 0;              ///< of them: passes, and is fastest; where none passes, the nearest
    std::size_t in_focus = 0;          ///< of them: nearest to no offset
    bool told_apart = false;           ///< the best differs from the one in focus by more than the readings may be off
    std::string words;                 ///< two or three sentences
};
/// Errors: offsets.none_asked, offsets.too_few (three offsets are the least).
[[nodiscard]] Expected<OffsetFinding> judge_offsets(const ProofSheet& sheet, const SheetReading& reading,
                                                    const Scene& scene, const Target& target);

[[nodiscard]] nlohmann::json to_json(const OffsetFinding& finding, const ProofSheet& sheet);

} // namespace finch
