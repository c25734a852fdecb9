// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "physics/colour.h"
#include "quantity/error.h"

#include <string_view>

namespace finch {

/// A colour as people type it: L* a* b* ("35 3 -33", with blanks, commas or semicolons between), or "#1F5A96".
/// Errors: target.not_a_colour.
[[nodiscard]] Expected<Lab> lab_from_text(std::string_view text);

} // namespace finch
