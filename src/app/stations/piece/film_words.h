// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/film_steps.h"
#include "app/instruments/parts_bar.h"
#include "app/session/film_work.h"
#include "app/stations/piece/piece_panels.h"

/// What is shown of work with a sprayed film, from plain values.
namespace finch::app {

[[nodiscard]] FilmStepsPicture film_picture(const FilmWork& work);
/// Where it stands, in a sentence, and how that is.
struct FilmWords {
    QString text;
    State state = State::ok;
};
[[nodiscard]] FilmWords film_words(const FilmWork& work);
/// What takes the rest of the coat off now.
[[nodiscard]] std::vector<FindingRowView> wash_rows(const FilmWork& work);
/// What a piece costs, by cause.
[[nodiscard]] std::vector<PartsBar::Part> cost_parts(const CompoundPlan& plan);
[[nodiscard]] QString money(double value);

} // namespace finch::app
