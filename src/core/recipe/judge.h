// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "recipe/aim.h"
#include "recipe/effort.h"

#include <string>
#include <vector>

namespace finch {

enum class Answer { passes, fails, unknown };

/// One wish against one recipe: the answer, the number behind it and one plain sentence.
struct Verdict {
    WishKind kind = WishKind::dark;
    bool must = true;
    Answer answer = Answer::unknown;
    std::string number; ///< "L* 32 ± 4"; "not tested" where nothing gives one
    std::string reason;
    bool operator==(const Verdict&) const = default;
};

/// A recipe with all that judging needs.
struct Judged {
    const Recipe& recipe;
    const Prediction& prediction;
    const Appearance& look;
    const Effort& effort;
};
[[nodiscard]] Verdict judge(const Scene& scene, const Aim& aim, const Wish& wish, const Judged& of);
[[nodiscard]] std::vector<Verdict> judge(const Scene& scene, const Aim& aim, const Judged& of);

/// Wear and rust classes of a process on the metal at hand.
[[nodiscard]] Durability durability(const Scene& scene, const Recipe& recipe, const Prediction& prediction);

/// Wishes that this metal is unlikely to give, whatever the process, each with its reason. Nothing is forbidden.
[[nodiscard]] std::vector<std::string> challenges(const Scene& scene, const Aim& aim);

/// What a mark costs a working part; empty if nothing is at stake.
[[nodiscard]] std::string working_part_risk(const Scene& scene, const Aim& aim, const Recipe& recipe,
                                            const Prediction& prediction);

} // namespace finch
