// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <array>
#include <QColor>
#include <QFont>
#include <QPalette>
#include <QPixmap>
#include <QString>

class QWidget;

namespace finch::app {

/// Colours by meaning. Surroundings are neutral grey, so that marks are judged without bias.
enum class Role {
    window,
    surface,
    raised,
    field,
    sunken,
    ink,
    ink2,
    ink3,
    hair,
    rule,
    tick,
    hatch,
    accent,
    accent_text,
    on_accent,
    ok,
    warn,
    danger,
    unknown,
    band1,
    band2,
    band3,
    band4,
    mat,
    series1,
    series2,
    series3,
    series4,
    tag_ground,
    tag_ink,
    casing,
    needle_on_picture,
    gap_ring,
    count_
};

/// Text styles; numbers that carry a unit are set in the mono styles.
enum class TextStyle { title, section, head, body, small, readout, readout_large, value, value_small, value_bold };

/// One table of colours.
class Theme {
public:
    /// "paper" (light) or "workshop" (dark); anything else is paper.
    [[nodiscard]] static const Theme& named(const QString& name);
    [[nodiscard]] QColor operator()(Role role) const { return colours_[static_cast<std::size_t>(role)]; }
    [[nodiscard]] const QString& name() const { return name_; }
    [[nodiscard]] bool dark() const { return dark_; }
    [[nodiscard]] QPalette palette() const;
    /// Spacing and outline of stock widgets.
    [[nodiscard]] QString style_sheet() const;

private:
    Theme(QString name, bool dark, std::array<const char*, static_cast<std::size_t>(Role::count_)> colours);
    QString name_;
    bool dark_;
    std::array<QColor, static_cast<std::size_t>(Role::count_)> colours_;
};

/// The theme of the window that a widget is in.
[[nodiscard]] const Theme& theme_of(const QWidget* widget);
void set_theme(QWidget* window, const Theme& theme);

[[nodiscard]] QFont text_font(TextStyle style);

/// A line icon in one colour, sharp at the given device pixel ratio.
[[nodiscard]] QPixmap icon_pixmap(const QString& name, const QColor& colour, int size, double ratio);

} // namespace finch::app
