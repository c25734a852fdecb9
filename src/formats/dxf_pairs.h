// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "quantity/error.h"

#include <optional>
#include <string_view>
#include <vector>

namespace finch {

/// One pair of a DXF: what kind of value, and the value. `line` of the code.
struct DxfPair {
    int code = 0;
    std::string_view text;
    int line = 0;
};

/// A thing of a DXF: what starts with a pair of code 0, up to the next.
struct DxfThing {
    std::string_view kind;
    int line = 0;
    std::vector<DxfPair> pairs;

    [[nodiscard]] std::string_view text(int code) const;
    /// The first of a code; `otherwise` where there is none or it is no finite number.
    [[nodiscard]] double number(int code, double otherwise = 0) const;
    [[nodiscard]] std::vector<double> numbers(int code) const;
    [[nodiscard]] bool has(int code) const;
};
[[nodiscard]] std::optional<double> dxf_number(std::string_view text);

/// The things of a file in order; they look into `bytes`. What follows a line that is no code is left out, and its
/// line is put into `broken_line`. Errors: dxf.not_dxf.
[[nodiscard]] Expected<std::vector<DxfThing>> dxf_things(std::string_view bytes, int& broken_line);

} // namespace finch
