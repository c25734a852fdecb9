// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "proof/reading.h"

#include <cstdint>
#include <string>
#include <vector>

namespace finch {

/// Two recipes to be compared, and what was settled before anything is burned.
struct ComparisonRequest {
    Recipe first, second; ///< they must differ in the setting alone
    std::size_t pairs = 8;
    Measure measure = Measure::lightness;
    double matters = 1; ///< least difference that would change what one does
};

/// A sheet of pairs side by side: the first recipe in row 1, the second in row 2. Which of a pair is burned first, and
/// which pair comes next, is drawn by chance, so that warmth, drift and place fall on both alike. `request` gives
/// number, aim and the size of the cells. Errors: compare.same, compare.more_than_setting, compare.pairs (3 to 24),
/// those of plan_free_sheet().
[[nodiscard]] Expected<ProofSheet> plan_comparison(const SheetRequest& request, const ComparisonRequest& comparison,
                                                   const Bench& bench, const Recipe& labels, std::uint64_t seed);

enum class Comparing { matters, differs, does_not_matter, cannot_tell };

/// What a read comparison says.
struct ComparisonVerdict {
    std::vector<std::pair<double, double>> readings; ///< of each pair that could be used
    double difference = 0;                           ///< second minus first, mean
    double low = 0, high = 0;                        ///< 95 % interval of it
    double shown = 0;       ///< difference that so many pairs with this scatter show nine times in ten
    std::size_t needed = 0; ///< pairs after which the answer would be known, where it cannot be told now
    Comparing finding = Comparing::cannot_tell;
    std::string words; ///< two sentences
};
/// Paired t test (Student 1908) with the power by the non-central t. Pairs of which a cell is hidden or spoiled are
/// left out. Errors: compare.no_comparison, compare.too_few (under three pairs).
[[nodiscard]] Expected<ComparisonVerdict> judge_comparison(const ProofSheet& sheet, const SheetReading& reading);

/// The number that a measure takes from a colour.
[[nodiscard]] double measured_by(Measure measure, const Lab& lab);
[[nodiscard]] std::string_view word(Measure measure);

} // namespace finch
