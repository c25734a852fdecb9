// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "quantity/error.h"

#include <cmath>
#include <initializer_list>
#include <optional>
#include <string>
#include <utility>

namespace finch {

/// Checks that several set-up calculations share. The error names the value.
[[nodiscard]] inline std::optional<Error> not_positive(std::initializer_list<std::pair<const char*, double>> values) {
    for (const auto& [name, v] : values) {
        if (!std::isfinite(v))
            return Error{"setup.not_a_number", std::string("The ") + name + " is not a number.", "Enter a number.", {}};
        if (v <= 0)
            return Error{
                "setup.not_positive", std::string("The ") + name + " must be above 0.", "Enter a larger value.", {}};
    }
    return std::nullopt;
}

[[nodiscard]] inline std::optional<Error> negative(std::initializer_list<std::pair<const char*, double>> values) {
    for (const auto& [name, v] : values) {
        if (!std::isfinite(v))
            return Error{"setup.not_a_number", std::string("The ") + name + " is not a number.", "Enter a number.", {}};
        if (v < 0)
            return Error{"setup.negative", std::string("The ") + name + " cannot be below 0.", "Enter 0 or more.", {}};
    }
    return std::nullopt;
}

} // namespace finch
