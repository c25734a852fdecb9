// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "quantity/format.h"

#include <QString>
#include <string_view>

namespace finch::app {

/// Text of the core, which is UTF-8, for the screen.
[[nodiscard]] inline QString from_utf8(std::string_view text) {
    return QString::fromUtf8(text.data(), static_cast<qsizetype>(text.size()));
}

/// The same for a std::string.
[[nodiscard]] inline QString q(const std::string& text) {
    return QString::fromStdString(text);
}

/// "21 s", "7 min 04", "2 h 05".
[[nodiscard]] inline QString screen_duration(double seconds) {
    return QString::fromStdString(format_duration(seconds));
}

/// A number for the screen: three digits, groups and a true minus sign.
[[nodiscard]] inline QString screen_number(double value, int digits = 3) {
    return QString::fromStdString(format_for_screen(value, digits));
}

} // namespace finch::app
