// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "standin/camera.h"

#include <nlohmann/json_fwd.hpp>

namespace finch::standin {

/// How a photograph is asked for. Errors: document.*, with the field.
[[nodiscard]] Expected<Shot> read_shot(const nlohmann::json& request, std::uint64_t seed);

} // namespace finch::standin
