// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "document/picture.h"
#include "proof/layout.h"

#include <QString>
#include <string>
#include <vector>

class QByteArray;

namespace finch {

using MarkerModules = std::array<std::array<bool, 49>, 4>;

/// SVG in mm with one layer (group with an id) for fiducials, labels, the white card and each cell; the recipe of each
/// layer is in its title.
[[nodiscard]] std::string sheet_svg(const ProofSheet& sheet, const MarkerModules& modules);

/// One line per cell with its knobs, place and whether it is left out.
[[nodiscard]] std::string sheet_csv(const ProofSheet& sheet);

/// A page to print at true scale, with the settings beside the sheet. Errors: file.not_written.
[[nodiscard]] Expected<bool> write_sheet_pdf(const ProofSheet& sheet, const SheetForecast& forecast, const Setup& setup,
                                             const MarkerModules& modules, const QString& path);

/// Writes a file so that the old one stays whole until the new one is. Errors: file.not_written.
[[nodiscard]] Expected<bool> write_file(const QString& path, const std::string& bytes);

/// A PNG or JPEG as RGB, turned as its orientation tag says.
/// Errors: file.missing, picture.not_a_picture, picture.too_large (over 100 megapixels).
[[nodiscard]] Expected<Picture> load_picture(const QString& path);
[[nodiscard]] Expected<Picture> picture_from_bytes(const QByteArray& bytes, const std::string& name);
[[nodiscard]] QByteArray png_bytes(const Picture& picture);

} // namespace finch
