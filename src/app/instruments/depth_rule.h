// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/paint.h"

#include <optional>
#include <vector>

namespace finch::app {

/// The depth of one cell beside the one that is wanted, all in um.
struct DepthMark {
    double wanted = 100, within = 10;
    std::optional<double> predicted, measured;
};

/// A narrow rule along a cell, its surface on top: the wanted band, a fine tick where it is predicted, a gilt one where
/// it was measured.
void paint_depth_rule(QPainter& painter, const QRectF& box, const DepthMark& mark, const Theme& theme);

/// One groove of a section: nothing is drawn as unknown.
struct Groove {
    std::optional<double> um;
};
/// Grooves in a block of metal, side by side and to one scale, with the wanted band across them.
void paint_grooves(QPainter& painter, const QRectF& box, double wanted_um, double within_um,
                   const std::vector<Groove>& grooves, const Theme& theme);

/// "118 µm".
[[nodiscard]] QString um_text(double um);

} // namespace finch::app
