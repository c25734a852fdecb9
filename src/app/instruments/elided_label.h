// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/instrument.h"

namespace finch::app {

/// One line of text that ends in an ellipsis where there is no room; the whole text is in its tooltip.
class ElidedLabel final : public Instrument {
    Q_OBJECT
public:
    ElidedLabel(const QString& name, TextStyle style, Role role, QWidget* parent = nullptr)
        : Instrument(name, tr("No words yet"), parent), style_(style), role_(role) {
        setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Preferred);
        setMinimumWidth(40);
    }
    void set_text(const QString& text) {
        text_ = text;
        setToolTip(text);
        speak(text.isEmpty() ? tr("No words yet") : text, {});
        update();
    }

protected:
    void paintEvent(QPaintEvent*) override {
        // Two or three letters and dots tell nothing: better no words than a riddle; the tooltip has them.
        if (width() < 100 && QFontMetricsF(text_font(style_)).horizontalAdvance(text_) > width())
            return;
        QPainter painter(this);
        paint_text(painter, QRectF(rect()), text_, style_, theme()(role_));
    }

private:
    TextStyle style_;
    Role role_;
    QString text_;
};

} // namespace finch::app
