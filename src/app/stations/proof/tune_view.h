// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/regime_map_view.h"
#include "app/instruments/surface_view.h"
#include "app/session/tune_worker.h"

namespace finch::app {

/// View data of the tune page, computed from the work at hand. Tested without a window.
[[nodiscard]] RegimeMapView regime_map_view(const Workbench& workbench, const TuneWorker& worker);
[[nodiscard]] SurfaceView surface_view(const Workbench& workbench, const TuneWorker& worker);
/// What the surface picture says in sentences, with bold claims.
[[nodiscard]] QString surface_sentences(const Workbench& workbench, const SurfaceView& view);

} // namespace finch::app
