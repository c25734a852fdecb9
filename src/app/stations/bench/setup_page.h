// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/stations/bench/setup_cards.h"

#include <QWidget>

namespace finch::app {

/// One calculation as a drawing with its numbers and the few fields that it asks for.
class SetupCard final : public QWidget {
    Q_OBJECT
public:
    SetupCard(Workbench& workbench, SetupCardSpec spec, QWidget* parent = nullptr);
    void refresh();

protected:
    void paintEvent(QPaintEvent*) override;

private:
    Workbench& workbench_;
    SetupCardSpec spec_;
    std::vector<double> values_;
    CardResult result_;
};

/// All set-up arithmetic of the bench at hand, side by side.
class SetupPage final : public QWidget {
    Q_OBJECT
public:
    explicit SetupPage(Workbench& workbench, QWidget* parent = nullptr);

protected:
    void showEvent(QShowEvent* event) override;

private:
    void refresh();
    std::vector<SetupCard*> cards_;
};

} // namespace finch::app
