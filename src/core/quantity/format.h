// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>

namespace finch {

/// A value with so many leading digits: what a person sets and reads back.
[[nodiscard]] double with_digits(double value, int digits);

/// A number with at most `digits` significant digits, no trailing zeros and no exponent ("0.0035", "86600", "1.43").
/// Values of 10^digits and above keep their whole part rounded to the digits asked for. Not finite: "?".
[[nodiscard]] std::string format_number(double value, int digits = 3);
/// Digits with which a number and the ends of its band are told apart: two where it is wide, three where two would
/// round it away.
[[nodiscard]] int band_digits(double low, double high);

/// As format_number, with a thin space between groups of three digits and a true minus sign, for the screen.
[[nodiscard]] std::string format_for_screen(double value, int digits = 3);

/// The shortest text that reads back as exactly this value, for files and edit fields.
[[nodiscard]] std::string format_exact(double value);

/// "21 s", "7 min 04", "2 h 05" for durations.
[[nodiscard]] std::string format_duration(double seconds);

} // namespace finch
