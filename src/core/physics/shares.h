// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "physics/short_list.h"

#include <array>
#include <cstddef>
#include <string>
#include <string_view>

namespace finch {

/// What a setting does to a surface, over all processes. The order within a group decides ties.
enum class Effect {
    // bare metal
    none,
    tint,
    colour,
    dark,
    melts,
    polishes,
    cleans, ///< craters that stand apart, too faint to frost
    frosts,
    removes,
    through,
    // a coat or a film on the metal
    coat_kept,
    bleaches,
    darkens, ///< in a clear anodised film
    partly_strips,
    strips,
    strips_and_marks,
    // a compound
    no_bond,
    under_fused,
    bonds,
    over_burns,
    blown_off,
    not_modelled
};
inline constexpr std::size_t effect_count = 22;
[[nodiscard]] std::string_view word(Effect effect);
/// Tint, colour or dark: what grew is what one sees.
[[nodiscard]] constexpr bool is_film(Effect e) {
    return e == Effect::tint || e == Effect::colour || e == Effect::dark;
}

/// Normal distribution function, cut at five standard deviations so that tails do not depend on rounding.
[[nodiscard]] double normal_share(double z);
/// Share of the outcomes in which `value` exceeds `limit`, both positive; `spread` is one standard deviation of
/// ln(value). 0 for values of 0 and below.
[[nodiscard]] double share_over(double value, double limit, double spread);

struct EffectShare {
    Effect effect = Effect::none;
    double share = 0;
    bool operator==(const EffectShare&) const = default;
};
/// The fraction of workpieces, benches and lots, within what is uncertain, on which each effect would be seen. They add
/// up to 1 wherever anything is modelled, and are continuous in every knob.
class Shares {
public:
    double& operator[](Effect e) { return of_.at(static_cast<std::size_t>(e)); }
    double operator[](Effect e) const { return of_.at(static_cast<std::size_t>(e)); }
    /// The largest; the first in the order of the effects on ties. `not_modelled` where nothing is.
    [[nodiscard]] Effect leading() const;
    /// The second largest, with 0 where there is none.
    [[nodiscard]] EffectShare next() const;
    /// All that are worth telling, the largest first.
    [[nodiscard]] ShortList<EffectShare, 20> told(double least = 0.05) const;
    [[nodiscard]] double total() const;
    [[nodiscard]] double film() const {
        return (*this)[Effect::tint] + (*this)[Effect::colour] + (*this)[Effect::dark];
    }
    bool operator==(const Shares&) const = default;

private:
    std::array<double, effect_count> of_{};
};
/// "dark 83 %, melts 17 %".
[[nodiscard]] std::string told_words(const Shares& shares);

} // namespace finch
