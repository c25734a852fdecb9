// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/instrument.h"
#include "app/session/workbench.h"

#include <functional>
#include <vector>

namespace finch::app {

/// What a set-up calculation shows: a few numbers, a verdict and a drawing to scale.
struct CardResult {
    struct Line {
        QString name, value;
        std::optional<State> state;
    };
    std::vector<Line> lines;
    QString fault; ///< why nothing is computed; the drawing is left out then
    std::function<void(QPainter&, const QRectF&, const Theme&)> draw;
};

/// One set-up calculation: its inputs and how they become numbers.
struct SetupCardSpec {
    struct Input {
        QString label, name;
        double value = 0, low = 0, high = 1000; ///< mm
    };
    QString title, name;
    std::vector<Input> inputs;
    std::function<CardResult(const Workbench&, const std::vector<double>&)> compute;
};

/// Spot and offset, shims, lens and column, field, field edge, level, round part, wrap and seam, taper.
[[nodiscard]] std::vector<SetupCardSpec> setup_cards(const Workbench& workbench);

} // namespace finch::app
