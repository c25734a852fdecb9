// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "piece/job.h"

#include <string>

namespace finch {

/// Text for XML: what has a meaning there is spelled out, what has no place there is left out.
[[nodiscard]] std::string escaped(const std::string& text);
/// Every knob with its unit: "power 15 %, frequency 60 kHz, ...".
[[nodiscard]] std::string recipe_words(const Recipe& recipe);
/// The same with how the layer is filled. For a layer with a recipe.
[[nodiscard]] std::string marking_words(const JobLayer& layer);

} // namespace finch
