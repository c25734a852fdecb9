// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "piece/height_map.h"

#include <filesystem>

namespace finch {

/// A PNG (8 or 16 bit) or JPEG as a height map, colours as their grey, what is clear as white: uncut.
/// Errors: file.*, picture.not_a_picture, picture.too_large (over 40 megapixels).
[[nodiscard]] Expected<HeightMap> load_height_map(const std::filesystem::path& path);

} // namespace finch
