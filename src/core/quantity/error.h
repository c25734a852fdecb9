// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>
#include <tl/expected.hpp>

namespace finch {

/// Where something went wrong: a file, a line in it (0 = unknown) and a field or cell in it. Any part may be empty.
struct Place {
    std::string file;
    int line = 0;
    std::string field;

    bool operator==(const Place&) const = default;
};

/// What went wrong, where, and what to do. `code` is stable and dotted ("quantity.no_unit"); `message` is one plain
/// sentence with the values put in; `fix` is one sentence that says what to do.
struct Error {
    std::string code;
    std::string message;
    std::string fix;
    Place place;

    bool operator==(const Error&) const = default;

    /// The same error with the file set, unless a deeper layer already knew it.
    [[nodiscard]] Error in_file(const std::string& file) const;
    /// The same error with the field set, unless a deeper layer already knew it.
    [[nodiscard]] Error in_field(const std::string& field) const;
};

/// "wren.json, lens[0].field_mm: The field must be a number. Write millimetres without a unit."
[[nodiscard]] std::string sentence(const Error& error);

template <typename T>
using Expected = tl::expected<T, Error>;

/// Shorthand for the failing branch of an Expected.
[[nodiscard]] inline tl::unexpected<Error> failure(std::string code, std::string message, std::string fix = {},
                                                   Place place = {}) {
    return tl::unexpected<Error>(Error{std::move(code), std::move(message), std::move(fix), std::move(place)});
}

} // namespace finch
