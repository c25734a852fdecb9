// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "quantity/error.h"

#include <string>
#include <string_view>

namespace finch {

/// What is left of a program that was stopped.
struct LeftProgram {
    std::string gcode;
    int shift = 0; ///< what a line of it has to be moved by, to be that of the program it is left of
};
/// A program of plain G-code (docs/formats.md) from after a line on: with lens, rotary, place, feed and laser as they
/// stood there, so that no line is marked twice and none is left out. Line 0: the whole. Errors: run.line where the
/// program has no such line.
[[nodiscard]] Expected<LeftProgram> left_after(std::string_view gcode, int line);

/// The first lines of a program that are together no longer than so many bytes and end with the laser off; at least up
/// to where it is off for the first time. The whole, where that is short enough.
struct ProgramSlice {
    std::string_view gcode;
    int lines = 0;
    bool whole = true;
};
[[nodiscard]] ProgramSlice first_slice(std::string_view gcode, std::size_t most_bytes);

} // namespace finch
