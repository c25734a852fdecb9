// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/instrument.h"

namespace finch::app {

/// The line at the foot: what the tool is doing or last said, and where the record was saved.
class StatusLine final : public Instrument {
    Q_OBJECT
public:
    explicit StatusLine(QWidget* parent = nullptr);
    void say(const QString& text, State state);
    void progress(const QString& text);
    void saved(const QString& text);
    [[nodiscard]] const QString& text() const { return text_; }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    QString text_, progress_, saved_;
    State state_ = State::ok;
};

} // namespace finch::app
