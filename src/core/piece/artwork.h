// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "quantity/plane.h"

#include <cstddef>
#include <optional>
#include <string>
#include <vector>

namespace finch {

/// Curves are drawn as chords that leave them by no more than this, and by no more than this share of their size.
inline constexpr double chord_mm = 5e-4, chord_share = 1e-4;
/// Of drawings with so many curves that they come to over `most_fine_points`, by how much more they may; over
/// `most_art_points` a drawing is refused: its outlines would take minutes to untangle.
inline constexpr double coarse_chords = 10;
inline constexpr std::size_t most_fine_points = 400'000, most_art_points = 1'000'000;
/// Farther from the origin of its page nothing may be drawn.
inline constexpr double farthest_mm = 10000;

/// A line of chords, in mm; x to the right, y up from the lower left corner of the page.
struct Outline {
    std::vector<PointMm> points; ///< a closed one does not repeat its first
    bool closed = false;
    bool operator==(const Outline&) const = default;
};
[[nodiscard]] double length_mm(const Outline& outline);

/// What lies inside of outlines.
enum class FillRule {
    non_zero, ///< by winding, as drawings say
    even_odd, ///< by crossings, as drawings say
    nested    ///< files without a rule: outlines inside of others are holes, those that cross are one area
};

/// One painted thing of a drawing. A stroke is an area as well: `outlines` go round it, `lines` are its middle.
struct ArtShape {
    std::string name; ///< as in the file: an id, or the kind and its place
    std::size_t layer = 0;
    FillRule rule = FillRule::non_zero;
    std::vector<Outline> outlines;
    std::vector<Outline> lines; ///< of a stroke; empty for a filled area
    double stroke_mm = 0;       ///< narrowest width of a stroke
    bool operator==(const ArtShape&) const = default;
};

struct ArtLayer {
    std::string name;
    std::string colour; ///< "#rrggbb"
    bool operator==(const ArtLayer&) const = default;
};

/// Something about a drawing that an operator should see.
struct ArtFinding {
    std::string code; ///< stable: "open_outline"
    std::optional<std::size_t> layer;
    std::optional<PointMm> at;
    std::optional<double> gap_mm; ///< what is missing, or how wide
    bool closed = false;          ///< the program has mended it
    std::string text;             ///< one or two sentences
    bool operator==(const ArtFinding&) const = default;
};

/// A drawing as it was read. Nothing of the file is dropped without a finding.
struct Artwork {
    double width_mm = 0, height_mm = 0; ///< of the page
    std::vector<ArtLayer> layers;
    std::vector<ArtShape> shapes; ///< in painting order
    std::vector<ArtFinding> findings;
    bool operator==(const Artwork&) const = default;
};

/// That a drawing was read with coarse chords.
[[nodiscard]] ArtFinding coarse_finding();

/// The layer of this name and colour, added where there is none.
[[nodiscard]] std::size_t layer_of(Artwork& art, const std::string& name, const std::string& colour);

/// Chords of a cubic from the last point of `points` on, as fine as `chord_mm` and `chord_share` ask for, times
/// `coarser`.
void add_cubic(std::vector<PointMm>& points, PointMm one, PointMm two, PointMm end, double coarser = 1);
/// Chords of an arc of an ellipse: centre, the two half axes as vectors, from angle to angle in radians. Without its
/// first point.
void add_arc(std::vector<PointMm>& points, PointMm centre, PointMm one, PointMm two, double from, double to,
             double coarser = 1);

} // namespace finch
