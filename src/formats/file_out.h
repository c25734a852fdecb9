// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "quantity/error.h"

#include <functional>
#include <QString>
#include <string>

class QIODevice;

namespace finch {

/// Writes a file so that the old one stays whole until the new one is on the disk. Errors: file.not_written, also when
/// the disk turns out to be full only at the end.
[[nodiscard]] Expected<void> write_file(const QString& path, const std::string& bytes);

/// The same for what is too long to hold: `fill` writes it piece by piece. An error of `fill` leaves the old file.
[[nodiscard]] Expected<void> write_file(const QString& path, const std::function<Expected<void>(QIODevice&)>& fill);

} // namespace finch
