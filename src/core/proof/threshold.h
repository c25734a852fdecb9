// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "evidence/onset.h"
#include "proof/reading.h"
#include "recipe/scene.h"

#include <cstdint>
#include <optional>
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
    Onset::Found found = Onset::Found::unclear; ///< along the powers that were burned; unclear over half as much again
    double percent = 0;                         ///< half of the cells have it
    double low = 0, high = 0;                   ///< nine in ten
    double spared_up_to = 0; ///< at most a tenth of the cells has it, nineteen in twenty; 0: not that surely
    double peak_j_cm2 = 0;   ///< of a pulse at `percent`
    double dose_j_mm2 = 0;   ///< over all passes, there
};

/// How the stock of a threshold sheet looks unmarked: as the photograph saw it beside the cells, or where there is none
/// as it is known.
[[nodiscard]] Lab unmarked_of(const ProofSheet& sheet, const SheetReading* reading);

/// Whether a cell of a threshold sheet looks different from the stock, of a compound after the wash. Nothing where it
/// was not read.
[[nodiscard]] std::optional<bool> changed(const ProofSheet& sheet, const SheetReading& reading, std::size_t cell);

/// Whether a cell is nearer to what the process is meant to leave than to the stock. Nothing where it was not read, the
/// sheet does not know such an end, or no photograph shows a ground that can be told from it.
[[nodiscard]] std::optional<bool> is_done(const ProofSheet& sheet, const SheetReading& reading, std::size_t cell);

/// What a read threshold sheet says.
struct ThresholdFinding {
    Threshold shows;               ///< a cell looks different from the stock
    std::optional<Threshold> done; ///< a coat or a compound is nearer to its end than to the stock, see finished()
    Threshold spoils;              ///< a cell was ticked as molten, torn or flaked
    struct Power {
        double percent = 0;
        int cells = 0, changed = 0, spoiled = 0;
        int done = 0;
        int scratched = 0;
        double steps = 0; ///< of the scratch ladder, mean of those that were scratched
    };
    std::vector<Power> powers; ///< weakest first, of the cells that were read
    /// Where it holds best against scratches, each power taken with its neighbours.
    struct Holding {
        double percent = 0, steps = 0;
        double low_percent = 0, high_percent = 0; ///< within half a step of it, on both sides without a gap
    };
    std::optional<Holding> holds; ///< with three powers scratched
    ThresholdRequest next;        ///< a narrower or shifted sheet, where one would say more
    std::string words;            ///< two or three sentences
};
/// By onset_of() in ln(power). Errors: threshold.none, threshold.too_few (eight cells are the least).
[[nodiscard]] Expected<ThresholdFinding> judge_threshold(const ProofSheet& sheet, const SheetReading& reading,
                                                         const Bench& bench);

[[nodiscard]] nlohmann::json to_json(const ThresholdFinding& finding);

} // namespace finch
