// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "quantity/error.h"

#include <filesystem>
#include <QImage>

namespace finch {

/// A picture that says what is marked: its greys on white ground, upright, and what it says of its size.
struct GreyPicture {
    QImage grey;            ///< Grayscale16 where the file has more than 8 bits, else Grayscale8
    double dots_per_mm = 0; ///< 0 = it does not say
};
/// Errors: file.*, picture.not_a_picture, picture.too_large (over 40 megapixels), with the file.
[[nodiscard]] Expected<GreyPicture> grey_picture(const std::filesystem::path& path);

} // namespace finch
