// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "piece/job.h"

#include <QPainterPath>

namespace finch {

/// What a job marks and shows, for painting, in mm before it is moved to its places.
struct JobOutlines {
    QPainterPath marks, guides; ///< alike at every place; in a tray without texts that differ from part to part
};
/// Layers of a relief lie in each other: of very many points the first layers say where it is.
[[nodiscard]] JobOutlines job_outlines(const Job& job);
/// What a nest alone has; nothing of a job that is marked in parts, whose layers lie where they are drawn.
[[nodiscard]] QPainterPath own_outlines(const Job& job, const JobPlace& place);

} // namespace finch
