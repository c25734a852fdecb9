// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/proof_flow.h"

namespace finch::app {

/// The title of the primary button and what it does now.
enum class NextAct {
    plan,
    burn,
    cancel,
    photograph,
    measure,
    plan_next,
    see_focus,
    take_dose,
    take_offset,
    tune,
    wait
};
[[nodiscard]] NextAct next_act(const Workbench& workbench, const ProofFlow& flow);
[[nodiscard]] QString next_act_text(const Workbench& workbench, NextAct act);

} // namespace finch::app
