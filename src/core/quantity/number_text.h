// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "quantity/parse.h"

#include <string>
#include <string_view>
#include <vector>

namespace finch {

/// Blanks, minus signs, micro signs and the like brought to plain ASCII ("12 µm" -> "12 um").
[[nodiscard]] std::string plain_ascii(std::string_view utf8);

/// The possible readings of a bare number; two when a single comma could be either sign ("1,500"), none if malformed.
[[nodiscard]] std::vector<double> number_readings(std::string text, DecimalSign decimal);

/// True if the text holds arithmetic beyond one number ("2*0.015", "(3+1)/2").
[[nodiscard]] bool is_expression(std::string_view text);

/// Value of + - * / and brackets over decimal numbers (a comma counts as a decimal sign). Errors:
/// quantity.not_a_number.
[[nodiscard]] Expected<double> evaluate(std::string_view text);

} // namespace finch
