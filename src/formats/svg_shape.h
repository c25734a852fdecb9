// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "formats/svg_style.h"

#include <array>
#include <cmath>
#include <functional>
#include <numbers>
#include <optional>
#include <QPainterPath>
#include <QTransform>

namespace finch {

/// Says what was not understood: a finding's code and text.
using SvgTell = std::function<void(const std::string& code, const std::string& text)>;

/// What a share of a length is a share of.
struct SvgView {
    double w = 100, h = 100;
    [[nodiscard]] double diagonal() const { return std::hypot(w, h) / std::numbers::sqrt2; }
};

/// What an operator finds an element by: its id, or its kind and line.
[[nodiscard]] std::string name_in_file(const SvgElement& element);

/// A length that an element states; `otherwise` where it does not, or not so that it is understood.
[[nodiscard]] double svg_attribute(const SvgElement& element, const char* name, double percent_of, double otherwise,
                                   double font_size, const SvgTell& tell);

/// The path of a path, rect, circle, ellipse, line, polyline or polygon, in its own units.
[[nodiscard]] QPainterPath svg_shape(const SvgElement& element, const SvgView& view, double font_size,
                                     const SvgTell& tell);

/// x, y, width and height of a view box; nothing where there is none with an inside.
[[nodiscard]] std::optional<std::array<double, 4>> svg_view_box(const SvgElement& element);
/// From a view box into a rectangle of its own units, as preserveAspectRatio says.
[[nodiscard]] QTransform svg_fitted(const SvgElement& element, const std::array<double, 4>& box, double w, double h);

} // namespace finch
