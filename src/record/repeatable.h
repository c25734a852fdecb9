// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "bench/setup.h"
#include "record/compare.h"

#include <string>
#include <vector>

namespace finch {

/// Why an old result may not come again.
struct Repeatability {
    std::vector<std::string> never_recorded; ///< sentences, the weightiest first
    std::vector<std::string> never_proven;   ///< of the result itself
    std::vector<Difference> different;       ///< between the set-up then and the one of now
    [[nodiscard]] bool clear() const { return never_recorded.empty() && never_proven.empty() && different.empty(); }
};

/// What was never written down of an entry, what its result does not rest on, and what differs on the bench now. An
/// entry without a set-up has nothing recorded.
[[nodiscard]] Repeatability repeatability(const Entry& then, const Setup& now);

[[nodiscard]] nlohmann::json to_json(const Repeatability& repeatability);

} // namespace finch
