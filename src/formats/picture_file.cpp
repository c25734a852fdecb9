// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/picture_file.h"

#include <QBuffer>
#include <QColorSpace>
#include <QFile>
#include <QImageReader>

namespace finch {
namespace {

constexpr qint64 largest_picture = 256LL << 20;

Expected<Picture> decode(QImageReader& reader, const std::string& name) {
    const Place place{name, 0, {}};
    QImageReader::setAllocationLimit(512);
    reader.setAutoTransform(true);
    reader.setDecideFormatFromContent(true);
    const QSize size = reader.size();
    if (size.isValid() && static_cast<double>(size.width()) * size.height() > 1e8)
        return failure("picture.too_large", "The picture has over 100 megapixels.", "Save it smaller; 12 are plenty.",
                       place);
    const QImage image = reader.read();
    if (image.isNull())
        return failure("picture.not_a_picture", "This is no PNG or JPEG picture, or it is damaged.",
                       "Choose another file.", place);
    QImage rgb = image.convertToFormat(QImage::Format_RGB888);
    // A camera that writes in wider primaries says so in the file; all that follows is in those of sRGB.
    if (rgb.colorSpace().isValid() && rgb.colorSpace() != QColorSpace(QColorSpace::SRgb))
        rgb.convertToColorSpace(QColorSpace::SRgb);
    if (rgb.isNull())
        return failure("picture.too_large", "There is not enough memory for this picture.", "Save it smaller.", place);
    Picture out{rgb.width(), rgb.height(), {}};
    out.rgb.reserve(static_cast<std::size_t>(rgb.width()) * static_cast<std::size_t>(rgb.height()) * 3);
    for (int y = 0; y < rgb.height(); ++y)
        out.rgb.insert(out.rgb.end(), rgb.constScanLine(y), rgb.constScanLine(y) + 3 * rgb.width());
    return out;
}

} // namespace

Expected<QByteArray> picture_bytes(const QString& path) {
    const Place place{path.toStdString(), 0, {}};
    QFile file(path);
    if (!file.exists())
        return failure("file.missing", "The file cannot be found.", "Check the path.", place);
    if (file.size() > largest_picture)
        return failure("picture.too_large", "The file is over 256 MB.", "Save it smaller; 12 megapixels are plenty.",
                       place);
    if (!file.open(QIODevice::ReadOnly))
        return failure("file.unreadable", "The file cannot be read.", "Check its permissions.", place);
    return file.readAll();
}

Expected<Picture> load_picture(const QString& path) {
    const auto bytes = picture_bytes(path);
    return bytes ? picture_from_bytes(*bytes, path.toStdString()) : tl::unexpected(bytes.error());
}

Expected<Picture> picture_from_bytes(const QByteArray& bytes, const std::string& name) {
    QByteArray copy = bytes;
    QBuffer buffer(&copy);
    buffer.open(QIODevice::ReadOnly);
    QImageReader reader(&buffer);
    return decode(reader, name);
}

QByteArray png_bytes(const Picture& picture) {
    const QImage image(picture.rgb.data(), picture.width, picture.height, 3 * picture.width, QImage::Format_RGB888);
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    image.save(&buffer, "PNG", 70);
    return bytes;
}

} // namespace finch
