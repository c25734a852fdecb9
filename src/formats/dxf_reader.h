// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "piece/artwork.h"
#include "quantity/error.h"

#include <optional>
#include <string_view>

namespace finch {

/// A drawing in DXF (text): LINE, ARC, CIRCLE, ELLIPSE, LWPOLYLINE and POLYLINE with bulges, SPLINE, and INSERT with
/// scale, turn and rows. Lines have no width there: what they enclose is the area, outlines inside of others are holes.
/// The page lies round what is drawn. `unit_mm`: length of a unit; none = as the file says, else a millimetre with a
/// finding. Errors: dxf.not_dxf, dxf.no_drawing, dxf.too_much.
[[nodiscard]] Expected<Artwork> read_dxf(std::string_view bytes, std::optional<double> unit_mm = {});

} // namespace finch
