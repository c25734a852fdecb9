// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "piece/hatch.h"
#include "piece/repair.h"

#include <nlohmann/json_fwd.hpp>

namespace finch {

/// Layers with their areas, and the findings; areas are what each layer covers by its own rules.
[[nodiscard]] nlohmann::json described(const MendedArt& mended);
/// Lines, their length and every run.
[[nodiscard]] nlohmann::json to_json(const Hatch& hatch);

} // namespace finch
