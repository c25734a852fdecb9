// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/height_map_file.h"

#include "formats/grey_picture.h"

namespace finch {

Expected<HeightMap> load_height_map(const std::filesystem::path& path) {
    const auto image = grey_picture(path);
    if (!image)
        return tl::unexpected(image.error());
    HeightMap out;
    out.width = image->grey.width();
    out.height = image->grey.height();
    out.bits = image->grey.format() == QImage::Format_Grayscale16 ? 16 : 8;
    out.grey.reserve(static_cast<std::size_t>(out.width) * static_cast<std::size_t>(out.height));
    for (int y = 0; y < out.height; ++y) {
        const uchar* row = image->grey.constScanLine(y);
        if (out.bits == 16) {
            const auto* wide = reinterpret_cast<const quint16*>(row); // NOLINT: rows of this format are of 16 bit
            out.grey.insert(out.grey.end(), wide, wide + out.width);
        } else
            out.grey.insert(out.grey.end(), row, row + out.width);
    }
    return out;
}

} // namespace finch
