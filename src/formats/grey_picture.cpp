// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/grey_picture.h"

#include "formats/picture_file.h"

#include <cmath>
#include <QBuffer>
#include <QImageReader>
#include <QPainter>

namespace finch {
namespace {

constexpr qint64 most_pixels = 40'000'000;

/// Programs that do not know write the resolution of a screen.
bool is_of_a_screen(double dots_per_mm) {
    return std::abs(dots_per_mm - 96 / 25.4) < 0.02 || std::abs(dots_per_mm - 72 / 25.4) < 0.02;
}

} // namespace

Expected<GreyPicture> grey_picture(const std::filesystem::path& path) {
    const Place place{path.string(), 0, {}};
    const auto bytes = picture_bytes(QString::fromStdString(path.string()));
    if (!bytes)
        return tl::unexpected(bytes.error());
    QBuffer buffer;
    buffer.setData(*bytes);
    QImageReader reader(&buffer);
    reader.setDecideFormatFromContent(true);
    reader.setAutoTransform(true);
    const QSize size = reader.size();
    if (size.isValid() && static_cast<qint64>(size.width()) * size.height() > most_pixels)
        return failure("picture.too_large", "The picture has over 40 megapixels.",
                       "Save it smaller: finer than the spot nothing is marked.", place);
    QImageReader::setAllocationLimit(512);
    const QImage read = reader.read();
    if (read.isNull())
        return failure("picture.not_a_picture", "This is no PNG or JPEG picture, or it is damaged.",
                       "Choose another file.", place);
    const bool wide = read.depth() > 32 || read.format() == QImage::Format_Grayscale16;
    GreyPicture out;
    if (read.hasAlphaChannel()) {
        out.grey = QImage(read.size(), wide ? QImage::Format_RGBX64 : QImage::Format_RGB32);
        out.grey.fill(Qt::white);
        QPainter(&out.grey).drawImage(0, 0, read);
    } else
        out.grey = read;
    out.grey.convertTo(wide ? QImage::Format_Grayscale16 : QImage::Format_Grayscale8);
    if (out.grey.isNull())
        return failure("picture.too_large", "There is not enough memory for this picture.", "Save it smaller.", place);
    if (const double dots = read.dotsPerMeterX() / 1000.0; dots > 1 && dots < 400 && !is_of_a_screen(dots))
        out.dots_per_mm = dots;
    return out;
}

} // namespace finch
