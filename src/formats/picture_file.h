// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "document/picture.h"
#include "quantity/error.h"

#include <QByteArray>
#include <QString>

namespace finch {

/// The bytes of a picture file, not yet looked at. Errors: file.missing, file.unreadable, picture.too_large (over 256
/// MB).
[[nodiscard]] Expected<QByteArray> picture_bytes(const QString& path);

/// A PNG or JPEG as RGB, turned as its orientation tag says.
/// Errors: file.*, picture.not_a_picture, picture.too_large (over 100 megapixels).
[[nodiscard]] Expected<Picture> load_picture(const QString& path);
[[nodiscard]] Expected<Picture> picture_from_bytes(const QByteArray& bytes, const std::string& name);
[[nodiscard]] QByteArray png_bytes(const Picture& picture);

} // namespace finch
