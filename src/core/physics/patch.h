// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "physics/engraving.h"

#include <cstdint>
#include <functional>
#include <vector>

namespace finch {

/// A patch of surface that is hatched pulse by pulse.
struct PatchJob {
    double size_mm = 0.5, pixel_um = 4;         ///< 0.05 to 5 mm, 0.5 to 20 um
    int passes = 20;                            ///< 1 to 2000
    double angle_deg = 0, turn_deg = 0;         ///< turn added per pass
    bool cross = false;                         ///< a second hatch at a right angle in each pass
    double shift = 0;                           ///< share of the pitch by which the line family moves per pass
    double jitter_um = 1, noise = 0.10;         ///< +- placement, +- relative depth of one pulse
    double rim = 0.12;                          ///< share of the gross volume that comes back as a rim, 0 to below 0.6
    double focus_step_um = 0;                   ///< focus lowered by this after every pass
    int phases = 4;                             ///< sub-pixel positions per axis
    double pivot_x_mm = 7.3, pivot_y_mm = -4.1; ///< hatch origin seen from the middle of the patch
    double focus_offset_mm = 0;
};

/// Heights in um, negative where metal is gone, row by row from -y.
struct SurfacePatch {
    int side = 0; ///< pixels
    double pixel_um = 1;
    std::vector<double> height;
    [[nodiscard]] double at(int x, int y) const {
        return height[static_cast<std::size_t>(y) * static_cast<std::size_t>(side) + static_cast<std::size_t>(x)];
    }
};

/// Roughness after ISO 25178-2 without form removal; anisotropy from the structure tensor: 1 grooves, 0 none.
struct PatchReport {
    double mean_depth_um = 0, sa_um = 0, sz_um = 0, anisotropy = 0;
    long pulses = 0;
};
struct PatchResult {
    SurfacePatch surface;
    PatchReport report;
};
[[nodiscard]] PatchReport measure(const SurfacePatch& surface, long pulses = 0);

/// Called after each pass with the passes done; false stops the work, and what was done so far is returned.
using PatchProgress = std::function<bool(int passes_done)>;

/// Pulse by pulse on `threads` threads; the heights are the same bits whatever their number.
/// Errors: patch.size, patch.passes.
[[nodiscard]] Expected<PatchResult> simulate_patch(const Cutting& cut, const PatchJob& job, int threads = 1,
                                                   const PatchProgress& progress = {});

/// Each pass as a periodic family of grooves: no noise, jitter or rim, cost independent of the number of pulses. Valid
/// for a pulse step up to half a crater radius. Errors as above.
[[nodiscard]] Expected<PatchResult> groove_patch(const Cutting& cut, const PatchJob& job,
                                                 const PatchProgress& progress = {});

/// Uniform in [0, 1) from three whole numbers.
[[nodiscard]] double hash01(std::uint64_t a, std::uint64_t b, std::uint64_t c);

} // namespace finch
