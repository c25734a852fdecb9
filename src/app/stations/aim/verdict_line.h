// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/instrument.h"
#include "app/stations/aim/transfer_view.h"

namespace finch::app {

/// One verdict: its shape and its sentence.
class VerdictLine final : public Instrument {
public:
    explicit VerdictLine(const QString& name, QWidget* parent = nullptr)
        : Instrument(name, QObject::tr("Verdict"), parent) {
        setFixedHeight(34);
    }
    void say(VerdictWords words) {
        words_ = std::move(words);
        speak(words_.text);
        setToolTip(words_.text);
        update();
    }
    [[nodiscard]] const QString& text() const { return words_.text; }
    [[nodiscard]] QSize sizeHint() const override {
        return {static_cast<int>(text_width(words_.text, TextStyle::section)) + 34, 34};
    }

protected:
    void paintEvent(QPaintEvent*) override {
        if (words_.text.isEmpty())
            return;
        QPainter painter(this);
        paint_state(painter, QRectF(0, 7, 20, 20), words_.state, theme());
        paint_text(painter, QRectF(28, 0, width() - 28, height()), words_.text, TextStyle::section, theme()(Role::ink));
    }

private:
    VerdictWords words_;
};

} // namespace finch::app
