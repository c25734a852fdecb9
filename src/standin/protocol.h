// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "proof/layout.h"
#include "quantity/error.h"

#include <nlohmann/json_fwd.hpp>
#include <string>

/// JSON lines between the program and a bench. Each line is one object; requests have "do", answers have "is".
/// Described with an example each in docs/formats.md.
namespace finch::standin {

inline constexpr int protocol_version = 1;

[[nodiscard]] nlohmann::json to_json(const ToolStep& step);
/// Errors: document.* with the field.
[[nodiscard]] Expected<ToolStep> tool_step_from_json(const nlohmann::json& document);

[[nodiscard]] nlohmann::json to_json(const RectMm& rect);
[[nodiscard]] Expected<RectMm> rect_from_json(const nlohmann::json& document);

/// {"is": "fault", ...} of an error.
[[nodiscard]] nlohmann::json fault_json(const Error& error);
[[nodiscard]] Error fault_from_json(const nlohmann::json& document);

} // namespace finch::standin
