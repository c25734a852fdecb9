// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "search/draws.h"
#include "search/trial.h"

#include <memory>
#include <span>
#include <vector>

namespace finch {

/// What a bench may spoil earlier or later than the model says, as a deviation of ln: before anything is known.
inline constexpr double damage_prior_sd = 0.35, damage_width = 0.10;

/// A setting that was burned, and whether it came out molten, torn or flaked.
struct DamageSeen {
    Trial trial;
    bool spoiled = false;
};

/// Where this bench spoils metal: by heat and by the tear of single pulses, each with a threshold that cells move, and
/// a smooth rest over the settings, because the border has another form than any model's. Source: docs/search.md.
class DamagePosterior {
public:
    /// `rest_sd`: of the smooth rest, in ln; 0 = none.
    DamagePosterior() = default;
    DamagePosterior(std::span<const DamageSeen> seen, double rest_sd);

    /// How much earlier (ln) than the model says, and the deviation.
    [[nodiscard]] double heat() const { return heat_; }
    [[nodiscard]] double heat_sd() const { return heat_sd_; }
    [[nodiscard]] double tear() const { return tear_; }
    [[nodiscard]] double tear_sd() const { return tear_sd_; }

    /// Share of benches like this one that spoil each setting.
    [[nodiscard]] std::vector<double> chances(std::span<const Trial> trials) const;
    /// How much earlier (ln) than the model says a setting is spoiled, by what the cells made of its chance.
    [[nodiscard]] double earlier(const Trial& trial) const;
    /// Worlds by settings: whether it is spoiled there, jointly over the settings.
    [[nodiscard]] std::vector<std::vector<bool>> worlds(std::span<const Trial> trials, std::size_t count,
                                                        Draws& draws) const;

private:
    struct Rest;
    double heat_ = 0, heat_sd_ = damage_prior_sd, tear_ = 0, tear_sd_ = damage_prior_sd;
    double rest_sd_ = 0;
    std::shared_ptr<const Rest> rest_; ///< absent: nothing was seen
};

} // namespace finch
