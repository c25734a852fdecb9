// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/ladder.h"
#include "app/instruments/pulse_stamp.h"
#include "app/instruments/swatch.h"
#include "app/session/workbench.h"
#include "recipe/explain.h"

namespace finch::app {

/// One number of the consequences, with its state and the quantity that explains it.
struct NumberLine {
    QString name, value, unit;
    std::optional<State> state;
    Quantity why = Quantity::areal_dose;
};

/// Everything the consequences panel shows for the recipe set now.
struct ConsequencesView {
    bool computed = false;
    QString fault;   ///< why nothing is predicted
    QString subject; ///< "cell D2" or the recipe's name
    LadderView dose, fluence;
    StampView stamp;
    QString overlap; ///< "95 % along, 94 % across"
    SwatchView swatch;
    QString look; ///< "blue, holds to 45°"
    std::vector<NumberLine> numbers;
    QString rests_on;
};

[[nodiscard]] ConsequencesView consequences_view(const Workbench& workbench, int tilt_index);

} // namespace finch::app
