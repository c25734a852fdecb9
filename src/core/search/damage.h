// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "search/draws.h"
#include "search/trial.h"

#include <memory>
#include <span>
#include <vector>

namespace finch {

/// Width of the border itself, in ln: two cells of one setting need not come out alike.
inline constexpr double damage_width = 0.10;

/// Where benches spoil metal before anything was burned on this one, in ln against the model. Benches of another kind
/// than the model wear a surface away where many pulses come near the vapour limit, which the joined model's tear does
/// not see: docs/decisions/0028-worn-by-many-pulses.md.
struct DamagePrior {
    double earlier = 0, sd = 0.45; ///< of both thresholds
    double rest_sd = 0.45;         ///< of the smooth rest; 0 = none
    bool by_wear = true;           ///< the wear of many pulses stands for the joined model's tear
    bool operator==(const DamagePrior&) const = default;
};
/// The joined model's own borders: what it is thought to know of a bench that nobody has burned on.
inline constexpr DamagePrior joined_model_damage{0, 0.35, 0, false};
/// The same with room for what that model does not know: what the cells move of the shares that a prediction tells.
inline constexpr DamagePrior told_damage{0, 0.35, 0.6, false};

/// A setting that was burned, and whether it came out molten, torn or flaked.
struct DamageSeen {
    Trial trial;
    bool spoiled = false;
};

/// Where this bench spoils metal: by heat and by the tear of single pulses, each with a threshold that cells move, and
/// a smooth rest over the settings, because the border has another form than any model's. Source: docs/search.md.
class DamagePosterior {
public:
    explicit DamagePosterior(const DamagePrior& prior = {}) : DamagePosterior({}, prior) {}
    DamagePosterior(std::span<const DamageSeen> seen, const DamagePrior& prior);

    /// How much earlier (ln) than the model says, and the deviation.
    [[nodiscard]] double heat() const { return heat_; }
    [[nodiscard]] double heat_sd() const { return heat_sd_; }
    /// The same of the other border: wear, or tear.
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
    DamagePrior prior_;
    double heat_, heat_sd_, tear_, tear_sd_;
    std::shared_ptr<const Rest> rest_; ///< absent: nothing was seen
};

} // namespace finch
