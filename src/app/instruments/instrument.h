// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/paint.h"

#include <QWidget>

namespace finch::app {

/// A custom-painted widget: paints view data with free functions and tells a screen reader what it shows.
class Instrument : public QWidget {
    Q_OBJECT
public:
    /// `spoken` is what a screen reader calls it from the first moment, before anything was shown on it.
    Instrument(const QString& name, const QString& spoken, QWidget* parent) : QWidget(parent) {
        setObjectName(name);
        setAccessibleName(spoken);
        setAttribute(Qt::WA_OpaquePaintEvent, false);
    }
    [[nodiscard]] const Theme& theme() const { return theme_of(this); }

protected:
    /// What a screen reader says after the name: value, unit and state in words.
    void speak(const QString& description) { setAccessibleDescription(description); }
    /// The same for what is called otherwise as it changes.
    void speak(const QString& name, const QString& description) {
        setAccessibleName(name);
        setAccessibleDescription(description);
    }
};

} // namespace finch::app
