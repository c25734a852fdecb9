// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/answer_panel.h"
#include "app/instruments/control_chart.h"
#include "app/session/workbench.h"
#include "record/control_record.h"

namespace finch::app {

/// What the reading of a threshold sheet says; the sheet must be one.
[[nodiscard]] AnswerView threshold_view(const Workbench& workbench, const Round& round);
/// What the reading of a field sheet says, for what the target accepts; the sheet must be one.
[[nodiscard]] AnswerView field_view(const Workbench& workbench, const Round& round);
/// What the depths of a step wedge say, for the depth that is wanted now; the sheet must be one.
[[nodiscard]] AnswerView wedge_view(const Workbench& workbench, const Round& round);
/// What the reading of an offset series says for the target of now; the sheet must be one.
[[nodiscard]] AnswerView offsets_view(const Workbench& workbench, const Round& round);

[[nodiscard]] ControlView control_view(const RecordedControl& control);
[[nodiscard]] State state_of(ControlVerdict verdict);

} // namespace finch::app
