// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "quantity/error.h"

namespace finch {

Error Error::in_file(const std::string& file) const {
    Error copy = *this;
    if (copy.place.file.empty())
        copy.place.file = file;
    return copy;
}

Error Error::in_field(const std::string& field) const {
    Error copy = *this;
    if (copy.place.field.empty())
        copy.place.field = field;
    return copy;
}

std::string sentence(const Error& error) {
    std::string where = error.place.file;
    if (error.place.line > 0)
        where += (where.empty() ? "line " : ", line ") + std::to_string(error.place.line);
    if (!error.place.field.empty())
        where += (where.empty() ? "" : ", ") + error.place.field;
    std::string text = where.empty() ? error.message : where + ": " + error.message;
    if (!error.fix.empty())
        text += " " + error.fix;
    return text;
}

} // namespace finch
