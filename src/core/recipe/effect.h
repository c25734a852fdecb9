// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "physics/anneal.h"
#include "physics/coat_shares.h"
#include "physics/compound.h"
#include "physics/net_removal.h"
#include "quantity/format.h"

#include <algorithm>
#include <cmath>
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
    /// What boils off a surface that stays liquid between pulses, where no crater is seen; weighted like `depth_um`.
    double vapour_um = 0, vapour_spread_ln = 1.1, stock_um = 0;
    double crater_burn_index = 0, crater_index = 0; ///< burn and removal index by craters and heat, without that
    /// What is told: craters or vapour, whichever takes more.
    [[nodiscard]] bool boils_off() const { return vapour_um > depth_um; }
    [[nodiscard]] double told_um() const { return boils_off() ? vapour_um : depth_um; }
    [[nodiscard]] double told_least_um() const {
        return boils_off() ? std::max(least_um, vapour_um * std::exp(-vapour_spread_ln)) : least_um;
    }
    [[nodiscard]] int told_digits() const { return band_digits(told_least_um(), told_most_um()); }
    [[nodiscard]] double told_most_um() const {
        return boils_off() ? std::min(stock_um, std::max(most_um, vapour_um * std::exp(vapour_spread_ln))) : most_um;
    }
    int passes = 0; ///< done before it stalled or was through
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
