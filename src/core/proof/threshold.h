// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "proof/reading.h"
#include "recipe/scene.h"

#include <cstdint>
#include <string>

namespace finch {

/// Between which powers a threshold is looked for.
struct ThresholdRequest {
    double low_percent = 5, high_percent = 50;
    std::size_t powers = 8; ///< 5 to 16, in equal ratios
    std::size_t times = 3;  ///< each, 2 to 6
    bool operator==(const ThresholdRequest&) const = default;
};

/// A sheet of one recipe at several powers, each several times, at places that are drawn by chance, so that place and
/// power do not fall together. `request` gives number, aim, recipe and the size of the cells.
/// Errors: threshold.range, threshold.powers, threshold.no_look when it is not known how the stock looks unmarked,
/// those of plan_free_sheet().
[[nodiscard]] Expected<ProofSheet> plan_threshold(const SheetRequest& request, const ThresholdRequest& wanted,
                                                  const Scene& scene, const Recipe& labels, std::uint64_t seed);

/// Where something begins as the power rises.
struct Threshold {
    enum class Found {
        within, ///< between the powers that were burned
        below,  ///< the weakest cells have it already
        above,  ///< the strongest cells do not have it
        unclear ///< some have it and some have not, over more than half again of the power
    };
    Found found = Found::unclear;
    double percent = 0;       ///< half of the cells have it
    double low = 0, high = 0; ///< nine in ten
    double spared_up_to = 0;  ///< at most a tenth of the cells has it, nineteen in twenty; 0: not that surely
    double peak_j_cm2 = 0;    ///< of a pulse at `percent`
    double dose_j_mm2 = 0;    ///< over all passes, there
};

/// What a read threshold sheet says.
struct ThresholdFinding {
    Threshold shows;  ///< a cell looks different from the stock
    Threshold spoils; ///< a cell was ticked as molten, torn or flaked
    struct Power {
        double percent = 0;
        int cells = 0, changed = 0, spoiled = 0;
    };
    std::vector<Power> powers; ///< weakest first, of the cells that were read
    ThresholdRequest next;     ///< a narrower or shifted sheet, where one would say more
    std::string words;         ///< two or three sentences
};
/// A normal threshold in ln(power) with a fiftieth of slips, by its whole posterior on a grid; nothing is assumed of
/// where it lies or how sharp it is. Errors: threshold.none, threshold.too_few (eight cells are the least).
[[nodiscard]] Expected<ThresholdFinding> judge_threshold(const ProofSheet& sheet, const SheetReading& reading,
                                                         const Bench& bench);

[[nodiscard]] nlohmann::json to_json(const ThresholdFinding& finding);

} // namespace finch
