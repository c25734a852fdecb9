// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "quantity/error.h"
#include "quantity/plane.h"

#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace finch {

using NestOffsets = std::vector<std::pair<int, PointMm>>;

/// Offsets of nests in mm as they are typed: "7=0.1,-0.05 12=0,0.2", blanks or semicolons between. Nothing typed is no
/// offset. Errors: tray.offset_text, which says which of them; also where a nest is named twice.
[[nodiscard]] Expected<NestOffsets> offsets_from_text(std::string_view text);
/// And back.
[[nodiscard]] std::string offsets_text(const NestOffsets& offsets);

} // namespace finch
