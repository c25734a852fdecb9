// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/artwork_file.h"

#include "formats/dxf_reader.h"
#include "formats/folders.h"
#include "formats/grey_picture.h"
#include "formats/svg_reader.h"
#include "piece/bitmap.h"

#include <fmt/format.h>
#include <QImage>

namespace finch {
namespace {

namespace fs = std::filesystem;

constexpr double usual_dots_per_inch = 300;

bool looks_like_picture(std::string_view bytes) {
    return bytes.starts_with("\x89PNG") || bytes.starts_with("\xff\xd8\xff") || bytes.starts_with("BM");
}

Expected<Artwork> read_picture(const fs::path& path, const ArtworkOptions& options) {
    const auto picture = grey_picture(path);
    if (!picture)
        return tl::unexpected(picture.error());
    QImage image = picture->grey;
    image.convertTo(QImage::Format_Grayscale8);
    Artwork art;
    AreaMask mask{image.width(), image.height(), 25.4 / usual_dots_per_inch, {}};
    if (options.width_mm)
        mask.pixel_mm = *options.width_mm / image.width();
    else if (picture->dots_per_mm > 0)
        mask.pixel_mm = 1 / picture->dots_per_mm;
    else
        art.findings.push_back({"size_assumed",
                                {},
                                {},
                                {},
                                false,
                                "The picture does not say how large it is: 300 dots to the inch were assumed."});
    std::size_t between = 0;
    mask.set.resize(static_cast<std::size_t>(mask.width) * static_cast<std::size_t>(mask.height));
    for (int y = 0; y < mask.height; ++y) {
        const uchar* row = image.constScanLine(mask.height - 1 - y);
        for (int x = 0; x < mask.width; ++x) {
            mask.set[static_cast<std::size_t>(y) * static_cast<std::size_t>(mask.width) + static_cast<std::size_t>(x)] =
                row[x] < 255 * options.dark_below ? 1 : 0;
            between += row[x] > 32 && row[x] < 223 ? 1 : 0;
        }
    }
    if (const double share = static_cast<double>(between) / static_cast<double>(mask.set.size()); share > 0.1)
        art.findings.push_back({"greys",
                                {},
                                {},
                                {},
                                false,
                                fmt::format("{:.0f} % of the picture are greys: it was cut at {:.0f} % into black and "
                                            "white. A height map is read as a relief instead.",
                                            100 * share, 100 * options.dark_below)});
    art.width_mm = mask.width * mask.pixel_mm;
    art.height_mm = mask.height * mask.pixel_mm;
    ArtShape shape;
    shape.name = path.filename().string();
    shape.rule = FillRule::non_zero;
    auto outlines = pixel_outlines(mask);
    if (!outlines)
        return tl::unexpected(outlines.error());
    shape.outlines = std::move(*outlines);
    shape.layer = layer_of(art, "black", "#000000");
    if (!shape.outlines.empty())
        art.shapes.push_back(std::move(shape));
    return art;
}

} // namespace

Expected<Artwork> read_artwork(const fs::path& path, const ArtworkOptions& options) {
    const std::string file = path.string();
    const auto with_file = [&](const Error& e) { return e.in_file(file); };
    const auto text = read_text_file(path);
    if (!text)
        return tl::unexpected(text.error());
    std::string_view bytes = *text;
    if (bytes.starts_with("\xef\xbb\xbf"))
        bytes.remove_prefix(3);
    const std::size_t first = bytes.find_first_not_of(" \t\r\n");
    if (first == std::string_view::npos)
        return failure("artwork.empty", "The file is empty.", "Choose another file.", {file, 0, {}});
    if (looks_like_picture(bytes))
        return read_picture(path, options).map_error(with_file);
    if (bytes[first] == '<' || bytes.starts_with("\xff\xfe") || bytes.starts_with("\xfe\xff"))
        return read_svg(*text).map_error(with_file);
    if (bytes.starts_with("\x1f\x8b"))
        return failure("artwork.packed", "This drawing is packed.", "Save it as plain SVG, or unpack it first.",
                       {file, 0, {}});
    if (std::isdigit(static_cast<unsigned char>(bytes[first])) != 0)
        return read_dxf(bytes, options.unit_mm).map_error(with_file);
    return failure("artwork.unknown", "This is no drawing that the program reads.",
                   "Save it as SVG, DXF (text), PNG or JPEG.", {file, 0, {}});
}

Expected<MendedArt> read_mended(const fs::path& path, const ArtworkOptions& options, const RepairRules& rules) {
    auto art = read_artwork(path, options);
    if (!art)
        return tl::unexpected(art.error());
    return mended(std::move(*art), rules).map_error([&](const Error& e) { return e.in_file(path.string()); });
}

} // namespace finch
