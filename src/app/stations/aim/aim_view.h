// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/judgement_board.h"
#include "app/session/aim_flow.h"

namespace finch::app {

/// View data of the aim station, computed from what was weighed. Tested without a window.
[[nodiscard]] std::vector<JudgedColumn> judged_columns(const Workbench& workbench, const AimFlow& aims);
[[nodiscard]] std::vector<WishLine> wish_lines(const Aim& aim);
[[nodiscard]] QString aim_facts(const Aim& aim);
/// What the button under a column says.
[[nodiscard]] QString take_text(const Proposal& proposal, const Workbench& workbench, bool best);

} // namespace finch::app
