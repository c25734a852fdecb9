// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "recipe/effect.h"

#include <algorithm>
#include <cmath>

namespace finch {

std::string_view key(ModelFinding finding) {
    switch (finding) {
    case ModelFinding::width_fixed:
        return "recipe.width_fixed";
    case ModelFinding::width_clamped:
        return "model.width_clamped";
    case ModelFinding::plume_between_pulses:
        return "model.plume_between_pulses";
    }
    return "";
}

Shares fused_shares(const CompoundOutcome& o, const CompoundSetting& s, const std::optional<CompoundWindow>& window,
                    double firm_adhesion, double spread_ln) {
    using enum Effect;
    Shares out;
    if (o.grade == 0 || !window) {
        out[no_bond] = 1;
        return out;
    }
    const double bonded = share_over(s.power_w, window->low_w, spread_ln);
    const double burnt = std::min(bonded, share_over(s.power_w, window->high_w, spread_ln));
    // Hot enough, but too short to stand a tool: adhesion saturates, so that its logarithm is a power's.
    const double firm = std::min(1.0, share_over(o.adhesion, firm_adhesion, spread_ln) /
                                          std::max(share_over(1, firm_adhesion, spread_ln), 1e-9));
    out[over_burns] = burnt;
    out[bonds] = (bonded - burnt) * firm;
    out[under_fused] = 1 - out[over_burns] - out[bonds];
    return out;
}

} // namespace finch
