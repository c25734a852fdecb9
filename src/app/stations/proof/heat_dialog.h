// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/workbench.h"

#include <QDialog>

class QVBoxLayout;

namespace finch::app {

/// Which knob to turn for more or less heat, with its price and its side effect; and the four things that the pulse
/// frequency does, apart.
class HeatDialog final : public QDialog {
    Q_OBJECT
public:
    explicit HeatDialog(Workbench& workbench, QWidget* parent = nullptr);

private:
    void fill(bool more);
    Workbench& workbench_;
    QVBoxLayout* list_ = nullptr;
};

} // namespace finch::app
