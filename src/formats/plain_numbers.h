// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <clocale>

namespace finch {

/// Undoes what the application object of Qt does to numbers: it takes the locale of the environment over for the whole
/// C library, and a library that reads or writes a number by it would then use a decimal comma. Called once in each
/// main, after the application object was made. Our own code asks the locale for nothing.
inline void plain_numbers() {
    std::setlocale(LC_NUMERIC, "C");
}

} // namespace finch
