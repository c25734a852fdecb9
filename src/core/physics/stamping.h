// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "physics/crew.h"
#include "physics/patch.h"

#include <functional>
#include <map>
#include <vector>

namespace finch {

/// Centre of one pulse in um, origin in the middle of the patch, and its relative depth.
struct PulseMark {
    double x = 0, y = 0, depth = 1;
};

/// A height map that craters are stamped into. The pulses of one hatch read the floor as it was when the hatch began,
/// so they do not depend on one another; each pixel receives its stamps in the order of the pulses whichever thread
/// brings them, so the sum is the same bits.
class StampSheet {
public:
    StampSheet(int side, double pixel_um, int reach_px, int phases, double rim);

    using CraterAt = std::function<Crater(int bin)>;
    /// Pulses in parts that may be worked on at once; the order of the pulses is that of the parts, one after another.
    using Parts = std::vector<std::vector<PulseMark>>;
    /// `base_um` is the focus over the untouched surface, `bin_um` the step in which craters are told apart.
    void stamp(const Parts& marks, int pad, int core, double base_um, double bin_um, const CraterAt& crater_at,
               Crew& crew);
    /// The middle of the map.
    [[nodiscard]] SurfacePatch core(int pad, int side) const;

private:
    /// One crater on pixels at one sub-pixel position, row by row, each `width_` numbers long with zeros at the end.
    using Footprint = std::vector<double>;
    struct Stamp {
        int x = 0, y = 0; ///< first pixel of the footprint
        double depth = 1;
        const Footprint* print = nullptr;
    };
    /// One part of the pulses, made ready by one thread.
    struct Part {
        std::vector<int> bins, phases;
        std::vector<Stamp> stamps;
        std::vector<std::vector<Stamp>> by_strip;
        int low = 0, high = 0; ///< bins
    };
    [[nodiscard]] Footprint footprint(const Crater& crater, double fx, double fy) const;
    const std::vector<Footprint>& prints(int bin, const CraterAt& crater_at);
    void look(const std::vector<PulseMark>& marks, double centre, double base_um, double bin_um, Part& part) const;
    void deal(Part& part, int low, const std::vector<const std::vector<Footprint>*>& table) const;
    void stamp_rows(int from, int to, const std::vector<Stamp>& stamps);
    [[nodiscard]] int strips() const;

    int side_, stride_, reach_, width_, phases_;
    double pixel_, rim_;
    std::vector<double> height_;
    std::map<int, std::vector<Footprint>> prints_; ///< by bin; by phase inside
    std::vector<Part> parts_;
};

} // namespace finch
