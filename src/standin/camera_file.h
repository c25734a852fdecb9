// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "standin/camera.h"

#include <QByteArray>

namespace finch::standin {

/// The bytes of a picture file, with the profile of its colours.
[[nodiscard]] QByteArray encoded(const Photograph& photo);

} // namespace finch::standin
