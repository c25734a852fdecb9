// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "recipe/predict.h"
#include "recipe/process_rules.h"

// What each process is for, as a distance to it; and which knobs follow from that.
namespace finch {

[[nodiscard]] Miss anneal_miss(const Scene&, const Aim&, const Recipe&, const Prediction&);
[[nodiscard]] Miss colour_miss(const Scene&, const Aim&, const Recipe&, const Prediction&);
[[nodiscard]] Miss bright_miss(const Scene&, const Aim&, const Recipe&, const Prediction&);
[[nodiscard]] Miss frost_miss(const Scene&, const Aim&, const Recipe&, const Prediction&);
[[nodiscard]] Miss cut_miss(const Scene&, const Aim&, const Recipe&, const Prediction&);
[[nodiscard]] Miss strip_miss(const Scene&, const Aim&, const Recipe&, const Prediction&);
[[nodiscard]] Miss bleach_miss(const Scene&, const Aim&, const Recipe&, const Prediction&);
[[nodiscard]] Miss film_dark_miss(const Scene&, const Aim&, const Recipe&, const Prediction&);
[[nodiscard]] Miss compound_miss(const Scene&, const Aim&, const Recipe&, const Prediction&);
[[nodiscard]] Miss creep_up_miss(const Scene&, const Aim&, const Recipe&, const Prediction&);

[[nodiscard]] double cut_margin(const Prediction&);

/// Passes that take the coat off.
void follow_coat(const Scene&, const Aim&, Recipe&);
/// Passes, turn, cleaning and focus steps that reach the depth wanted.
void follow_depth(const Scene&, const Aim&, Recipe&);

} // namespace finch
