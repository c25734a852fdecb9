// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "recipe/scene.h"

#include <nlohmann/json_fwd.hpp>

namespace finch {

/// What is known, with the cells behind it, so that a reader of the document predicts the same. Field by field in
/// docs/formats.md.
[[nodiscard]] nlohmann::json evidence_document(const Evidence& evidence);
/// Errors: document.* with the field.
[[nodiscard]] Expected<Evidence> evidence_from_json(const nlohmann::json& document, const std::string& file);

} // namespace finch
