// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "proof/focus_fit.h"
#include "proof/reading.h"

#include <cstdint>
#include <string>

namespace finch {

/// How a focus ladder is laid.
struct LadderRequest {
    Length reach = mm(0);    ///< offsets from -reach to +reach about `about`; 0 = as far as the lens asks for
    Length about = mm(0);    ///< where the best focus is thought to be
    std::size_t steps = 13;  ///< offsets, 7 to 25
    bool over_field = false; ///< marks all over the field, so that tilt shows; otherwise close together
};

/// Reach that a lens asks for: on both sides to where the spot has more than twice its area.
[[nodiscard]] Length ladder_reach(const Bench& bench);

/// A sheet of marks of one recipe at many focus offsets, through zero on both sides, each offset at several places
/// drawn by chance, so that place and offset do not fall together. They are burned from the lowest head upwards, so
/// that the column always comes from one side. `request` gives number, aim, recipe and gap; the marks are
/// of 4 mm. Errors:
/// ladder.steps, ladder.reach, those of plan_free_sheet().
[[nodiscard]] Expected<ProofSheet> plan_focus_ladder(const SheetRequest& request, const LadderRequest& ladder,
                                                     const Bench& bench, const Recipe& labels, std::uint64_t seed);

enum class LadderVerdict {
    found,    ///< the best focus, well within the ladder
    beyond,   ///< it lies at an end of the ladder or farther
    flat,     ///< the marks look alike at all offsets
    uncertain ///< they differ, but do not mirror each other well enough
};

/// What a read ladder says.
struct LadderFinding {
    LadderVerdict verdict = LadderVerdict::uncertain;
    FocusFit fit;
    std::vector<LadderMark> marks;  ///< those that were read
    std::vector<std::size_t> cells; ///< of the sheet, of each mark
    double accept_de = 3;
    double tilt_takes_mm = 0; ///< half of what tilt and bow change over the sheet
    double span_mm = 0;       ///< of the marks, the wider way
    bool over_field = false;
    std::string words; ///< two or three sentences
};
/// `accept_de`: CIEDE2000 up to which a mark passes for that at the best focus.
/// Errors: ladder.no_ladder, ladder.too_few (nine marks at five offsets are the least).
[[nodiscard]] Expected<LadderFinding> judge_ladder(const ProofSheet& sheet, const SheetReading& reading,
                                                   const Bench& bench, double accept_de);

[[nodiscard]] nlohmann::json to_json(const LadderFinding& finding, const ProofSheet& sheet);

} // namespace finch
