// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/camera_file.h"

#include <QBuffer>
#include <QColorSpace>
#include <QImage>

namespace finch::standin {

QByteArray encoded(const Photograph& photo) {
    const Picture& p = photo.picture;
    QImage image(p.rgb.data(), p.width, p.height, 3 * p.width, QImage::Format_RGB888);
    image.setColorSpace(photo.wide ? QColorSpace::DisplayP3 : QColorSpace::SRgb);
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    const bool kept = photo.jpeg_quality == 0;
    image.save(&buffer, kept ? "PNG" : "JPEG", kept ? 80 : photo.jpeg_quality);
    return bytes;
}

} // namespace finch::standin
