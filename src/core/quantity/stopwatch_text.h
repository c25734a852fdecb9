// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "quantity/error.h"

#include <string_view>

namespace finch {

/// Seconds of a time as a stopwatch shows it or a person says it: "44.7", "44,7 s", "1:32", "1:02:05.5", "1 min 32",
/// "2 h 5 min". A hundredth to ten million. Errors: time.unreadable.
[[nodiscard]] Expected<double> seconds_from_text(std::string_view text);

} // namespace finch
