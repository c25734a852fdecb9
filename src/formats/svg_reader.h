// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "piece/artwork.h"
#include "quantity/error.h"

#include <string_view>

namespace finch {

/// A drawing in SVG: every path command, arcs, transforms, units, groups, references, style rules, strokes as areas,
/// dashes, text as outlines (where a Qt application runs). Layers are colours, named after the group that holds all of
/// one. What is not understood is a finding, and a file that breaks off is kept as far as it goes.
/// Errors: svg.not_xml, svg.no_drawing, svg.too_much (nesting over 200, over 200 000 things, 1 million points).
[[nodiscard]] Expected<Artwork> read_svg(std::string_view bytes);

} // namespace finch
