// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "bench_link/laid_part.h"
#include "quantity/error.h"
#include "standin/galvo.h"

#include <string>
#include <string_view>
#include <vector>

namespace finch::standin {

/// A program of plain G-code as this bench's controller understands it: what it does between two stops.
struct Stage {
    struct Stroke {
        LineMm line;
        double speed_mm_s = 0;
        bool marks = false; ///< the laser is on
        int of_line = 0;    ///< of the program
    };
    std::string name;   ///< the last comment that names a nest, a tile or a strip
    bool waits = false; ///< for somebody, before it begins
    std::vector<Stroke> strokes;
    double dwell_s = 0; ///< pauses, and moves of lens and rotary
};
/// Words it knows: G0 G1 G4 G21 G90, M0 M2 M3 M5, X Y Z A F P S; comments after a semicolon. A word that it does not
/// know stops it before anything is marked. Errors: standin.gcode with the line.
[[nodiscard]] Expected<std::vector<Stage>> stages_of(std::string_view gcode);

[[nodiscard]] double time_of(const Galvo& galvo, const Stage& stage);

/// Parts in their pockets. A jig is never quite as it was drawn: every pocket lies a little off, and one is worn.
class Table {
public:
    Table(const World& world, std::vector<LaidPart> parts);
    void mark(const Stage::Stroke& stroke);
    [[nodiscard]] RanJob found(double time_s) const;

private:
    struct There {
        LaidPart said;
        RectMm box; ///< of the part, where it is
        double marked_mm = 0;
        double left = 1e300, low = 1e300, right = -1e300, high = -1e300;
    };
    std::vector<There> parts_;
    double beside_mm_ = 0;
};

} // namespace finch::standin
