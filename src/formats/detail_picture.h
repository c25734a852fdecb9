// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "quantity/error.h"

#include <QString>
#include <string>
#include <vector>

namespace finch {

/// Widths of a picture of fine detail, from finer than the spot to well above it, the finest first.
[[nodiscard]] std::vector<double> detail_widths_mm(double spot_mm);

/// A drawing (SVG) that shows how fine a recipe can mark: for each width bars that far apart, slits in a block, and
/// squares, with the width in µm below. Patterns and numbers are layers of their own. Valid: spot 1 µm to 1 mm.
/// Errors: detail.spot.
[[nodiscard]] Expected<std::string> detail_picture(double spot_mm);

/// The same as a file in a folder, which is made, named by its spot: "detail-61.svg". Errors: also file.not_written.
[[nodiscard]] Expected<QString> detail_file(const QString& folder, double spot_mm);

} // namespace finch
