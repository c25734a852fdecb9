// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QStringList>

namespace finch::app {

inline constexpr qsizetype most_recent = 9; ///< one for each number key

/// Drawings and height maps that were opened last, by anybody on this machine's account; the newest first.
[[nodiscard]] QStringList recent_drawings();
/// It was opened now. A file that is not there is not remembered.
void remember_drawing(const QString& file);

} // namespace finch::app
