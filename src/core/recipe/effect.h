// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "physics/anneal.h"
#include "physics/coat_shares.h"
#include "physics/compound.h"
#include "physics/net_removal.h"

#include <optional>
#include <string_view>

namespace finch {

/// What single pulses and all passes take from bare metal.
struct RemovalForecast {
    NetPass pass;        ///< the first, on a fresh clean surface
    double first_um = 0; ///< its net depth
    double rate_mm3_min = 0;
    double depth_if_um = 0; ///< of all passes on the workpieces where metal goes; not above the stock
    double depth_um = 0, least_um = 0, most_um = 0; ///< weighted by the share in which metal goes, with its band
    double spread_ln = 0;                           ///< of the depth
    int passes = 0;                                 ///< done before it stalled or was through
    double taper_deg = 90;
    FloorLook floor = FloorLook::untouched;
    double dark_floor = 0; ///< share of the floor that is dark powder
    RunStages stages;
    double plate_rise_k = 0, buckling_rise_k = 0;
    bool operator==(const RemovalForecast&) const = default;
};

/// What of a coat and the metal under it decides.
struct CoatForecast {
    CoatingOutcome pulsed;             ///< without meaning under a gas laser
    std::optional<GasCoatOutcome> gas; ///< under a gas laser
    double spread_ln = 0;              ///< of the threshold
    double thickness_um = 0;
    bool operator==(const CoatForecast&) const = default;
};

/// What a person must hear before any number.
enum class ModelFinding {
    width_fixed,         ///< the source does not change its pulse width
    width_clamped,       ///< outside the range of the crater and coat models
    plume_between_pulses ///< pulses follow so fast that the plume is still there
};
[[nodiscard]] std::string_view key(ModelFinding finding);

/// Shares of a compound by average heat alone: power against the powers that bond, are firm, and burn.
[[nodiscard]] Shares fused_shares(const CompoundOutcome& outcome, const CompoundSetting& setting,
                                  const std::optional<CompoundWindow>& window, double firm_adhesion, double spread_ln);

} // namespace finch
