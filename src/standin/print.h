// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "proof/colour_print.h"
#include "standin/plate.h"

namespace finch::standin {

/// A print as the shop's printer made it, on its own paper: never quite the colours that were asked for.
struct Print {
    Plate paper;        ///< as a camera sees it
    LabByName measured; ///< by a good instrument, of the patches with names and of "paper"
};
/// The same print and seed give the same.
[[nodiscard]] Print printed(const ColourPrint& asked, std::uint64_t seed);

} // namespace finch::standin
