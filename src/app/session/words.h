// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/workbench.h"
#include "recipe/effort.h"

namespace finch::app {

/// How things are put in words, wherever they stand.

/// "45 %, 300 kHz, 960 mm/s × 3.5 µm, 12 passes"
[[nodiscard]] QString recipe_line(const Recipe& recipe);
/// "dE 4.5" or "12 %"
[[nodiscard]] QString swing_text(const OutcomeSpread& spread);
/// Unit of a knob as it is read on the screen: hatch pitches are read in µm.
[[nodiscard]] QString screen_unit(Knob knob);
/// "Confirmed 14 min ago" or "Stale since 09:41".
[[nodiscard]] QString focus_headline(const Workbench& workbench);
/// Why a focus is stale: "lens changed". Empty if it is not.
[[nodiscard]] QString reason_words(const FocusState& state);
/// "1 cm²", "4.1 cm²" or "25 mm²"
[[nodiscard]] QString area_words(const Fill& fill);
/// "brushed finish, lot S316-24"
[[nodiscard]] QString stock_words(const Stock& stock);

} // namespace finch::app
