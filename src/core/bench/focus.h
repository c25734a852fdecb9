// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "bench/stock.h"
#include "quantity/units.h"

#include <optional>
#include <string>
#include <vector>

namespace finch {

enum class FocusMethod { gauge_stick, pointer_dots, touch_probe, camera, ladder };

/// One act of confirming the focus, with what it was true for.
struct FocusConfirmation {
    std::string when_utc; ///< ISO 8601
    std::string by;       ///< initials
    FocusMethod method = FocusMethod::gauge_stick;
    std::string bench;
    std::string lens;
    Length thickness;
    std::string metal;
    std::string lot;
    Length offset;
    Length head_raised = mm(0); ///< where the head stood then
    Length from_gauge = mm(0);  ///< by a ladder: where the best focus lies against what was found without one
    bool operator==(const FocusConfirmation&) const = default;
};

/// Focus as it stands: what is wanted, what was confirmed, what moved since.
struct Focus {
    FocusMethod method = FocusMethod::gauge_stick;
    Length offset = mm(0);      ///< wanted; + = lens raised, part farther from the lens
    Length head_raised = mm(0); ///< by the operator, from wherever it once stood
    std::optional<FocusConfirmation> confirmed;
    std::string changed_utc; ///< when something that focus rests on last changed
    bool operator==(const Focus&) const = default;
};

enum class StaleReason {
    never_confirmed,
    bench_changed,
    lens_changed,
    thickness_changed,
    stock_changed,
    offset_changed,
    head_moved
};

/// Whether the last confirmation still holds.
struct FocusState {
    std::vector<StaleReason> reasons; ///< empty: confirmed
    Length surface_error = mm(0);     ///< how far the surface now sits from where it was confirmed; - = nearer the lens
    [[nodiscard]] bool stale() const { return !reasons.empty(); }
    bool operator==(const FocusState&) const = default;
};

/// What is confirmed when the focus is confirmed now.
[[nodiscard]] FocusConfirmation confirmation(const Focus& focus, const std::string& bench, const std::string& lens,
                                             const Stock& stock, const std::string& by, const std::string& when_utc);

/// What is confirmed when the head goes to the best focus that a ladder found, burned when the focus was `then`.
[[nodiscard]] FocusConfirmation found_by_ladder(const FocusConfirmation& then, Length best, const std::string& by,
                                                const std::string& when_utc);

/// Judges the last confirmation against the bench, lens and stock in place now.
[[nodiscard]] FocusState focus_state(const Focus& focus, const std::string& bench, const std::string& lens,
                                     const Stock& stock);

} // namespace finch
