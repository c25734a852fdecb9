// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "physics/shares.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <numbers>

namespace finch {

std::string_view word(Effect e) {
    static constexpr std::array<std::string_view, effect_count> words{
        "no mark",   "tint",          "colour",       "dark",
        "melts",     "polishes",      "cleans",       "frosts",
        "removes",   "cuts through",  "coat kept",    "bleaches",
        "darkens",   "partly strips", "strips clean", "strips, marks the metal",
        "no bond",   "under-fused",   "bonds",        "over-burns",
        "blown off", "not modelled"};
    return words.at(static_cast<std::size_t>(e));
}

double normal_share(double z) {
    return z <= -5 ? 0 : z >= 5 ? 1 : 0.5 * (1 + std::erf(z / std::numbers::sqrt2));
}

double share_over(double value, double limit, double spread) {
    return value > 0 ? normal_share(std::log(value / limit) / spread) : 0;
}

Effect Shares::leading() const {
    const auto most = std::max_element(of_.begin(), of_.end());
    return *most > 0 ? static_cast<Effect>(most - of_.begin()) : Effect::not_modelled;
}

EffectShare Shares::next() const {
    const Effect first = leading();
    EffectShare out{first, 0};
    for (std::size_t i = 0; i < effect_count; ++i)
        if (static_cast<Effect>(i) != first && of_[i] > out.share)
            out = {static_cast<Effect>(i), of_[i]};
    return out;
}

ShortList<EffectShare, 20> Shares::told(double least) const {
    ShortList<EffectShare, 20> out;
    for (std::size_t i = 0; i < effect_count && out.count < out.items.size(); ++i)
        if (of_[i] >= least)
            out.add({static_cast<Effect>(i), of_[i]});
    std::stable_sort(out.items.begin(), out.items.begin() + static_cast<long>(out.count),
                     [](const EffectShare& a, const EffectShare& b) { return a.share > b.share; });
    return out;
}

double Shares::total() const {
    double sum = 0;
    for (const double s : of_)
        sum += s;
    return sum;
}

std::string told_words(const Shares& shares) {
    std::string out;
    for (const EffectShare& s : shares.told())
        out += fmt::format("{}{} {:.0f} %", out.empty() ? "" : ", ", word(s.effect), 100 * s.share);
    return out;
}

} // namespace finch
