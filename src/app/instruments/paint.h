// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/state.h"
#include "app/session/text.h"
#include "app/theme/theme.h"
#include "physics/colour.h"

#include <QPainter>
#include <QRectF>
#include <QString>

/// Small pieces that several instruments paint with.
namespace finch::app {

/// Disc with tick, triangle with bar, octagon with cross, dashed ring with question mark: a shape for each state, so
/// that colour is never the only sign.
void paint_state(QPainter& painter, const QRectF& box, State state, const Theme& theme);

/// Text in a style and role. Returns the width that it took.
double paint_text(QPainter& painter, const QRectF& box, const QString& text, TextStyle style, const QColor& colour,
                  Qt::Alignment alignment = Qt::AlignLeft | Qt::AlignVCenter);
/// Text that wraps inside a box. Returns the height that it took.
double paint_paragraph(QPainter& painter, const QRectF& box, const QString& text, TextStyle style, const QColor& colour,
                       Qt::Alignment alignment = Qt::AlignLeft | Qt::AlignTop);
/// A value in mono and its unit in sans behind it, right-aligned in the box.
void paint_value(QPainter& painter, const QRectF& box, const QString& value, const QString& unit, const Theme& theme,
                 const QColor& colour);
[[nodiscard]] double text_width(const QString& text, TextStyle style);

/// A line on whole pixels, without smoothing.
void paint_hairline(QPainter& painter, QPointF from, QPointF to, const QColor& colour);
/// A diagonal hatch that keeps its pitch at any device pixel ratio.
void paint_hatch(QPainter& painter, const QRectF& box, const QColor& line, double pitch = 5);
/// The gilt pointer of the present value: a triangle whose tip touches `tip`.
void paint_pointer(QPainter& painter, QPointF tip, double size, double angle_deg, const QColor& fill,
                   const QColor& outline);

[[nodiscard]] QColor to_qcolor(const Lab& lab);
/// Black or white, whichever reads better on a colour.
[[nodiscard]] QColor ink_on(const Lab& lab);
[[nodiscard]] QString lab_text(const Lab& lab);

} // namespace finch::app
