// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/theme/theme.h"

#include <QLabel>

namespace finch::app {

/// A label in one of the text styles.
[[nodiscard]] inline QLabel* text_label(const QString& text, TextStyle style, QWidget* parent) {
    auto* l = new QLabel(text, parent);
    l->setFont(text_font(style));
    return l;
}

/// The same for what comes from outside or from an error: shown as it is, whatever characters it has.
[[nodiscard]] inline QLabel* plain_label(const QString& text, TextStyle style, QWidget* parent) {
    QLabel* l = text_label(text, style, parent);
    l->setTextFormat(Qt::PlainText);
    return l;
}

/// Rich text with semibold for bold: the shipped faces end there, and a made-up bold is ugly.
[[nodiscard]] inline QString strong(QString html) {
    return html.replace(QStringLiteral("<b>"), QStringLiteral("<span style='font-weight:600'>"))
        .replace(QStringLiteral("</b>"), QStringLiteral("</span>"));
}

} // namespace finch::app
