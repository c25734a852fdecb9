// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "document/json_fields.h"

#include <nlohmann/json_fwd.hpp>
#include <vector>

namespace finch {

/// Some connected shapes of a layer, as shapes_of() has them, with all their passes.
struct JobStep {
    std::size_t layer = 0, first_shape = 0, shapes = 1;
    double pause_s = 0; ///< before it
    bool operator==(const JobStep&) const = default;
};

[[nodiscard]] double paused_s(const std::vector<JobStep>& steps);
[[nodiscard]] nlohmann::json to_json(const std::vector<JobStep>& steps);
[[nodiscard]] std::vector<JobStep> read_steps(JsonFields& from, const char* key);

} // namespace finch
