// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "piece/repair.h"

#include <filesystem>
#include <optional>

namespace finch {

struct ArtworkOptions {
    std::optional<double> unit_mm;  ///< of a DXF that does not say
    std::optional<double> width_mm; ///< of a picture that does not say
    double dark_below = 0.5;        ///< of a picture: what is darker is marked
};
/// A drawing or picture, told by what is in the file. Errors: file.*, artwork.unknown, artwork.empty, svg.*, dxf.*,
/// picture.*, bitmap.too_fine.
[[nodiscard]] Expected<Artwork> read_artwork(const std::filesystem::path& path, const ArtworkOptions& options = {});

/// The same, ready to be worked with. Errors: also region.failed.
[[nodiscard]] Expected<MendedArt> read_mended(const std::filesystem::path& path, const ArtworkOptions& options,
                                              const RepairRules& rules);

} // namespace finch
