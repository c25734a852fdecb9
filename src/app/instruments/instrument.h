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
    explicit Instrument(const QString& name, QWidget* parent = nullptr) : QWidget(parent) {
        setObjectName(name);
        setAttribute(Qt::WA_OpaquePaintEvent, false);
    }
    [[nodiscard]] const Theme& theme() const { return theme_of(this); }

protected:
    /// What a screen reader says: name, value, unit and state in words.
    void speak(const QString& name, const QString& description) {
        setAccessibleName(name);
        setAccessibleDescription(description);
    }
};

} // namespace finch::app
