// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace finch {

/// Whether fonts can be asked at all: a Qt application runs.
[[nodiscard]] bool has_fonts();
/// Loads the fonts that ship with the program, once; nothing without an application. So a window and a command line
/// draw the same words alike.
void load_fonts();

} // namespace finch
