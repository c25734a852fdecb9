// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/heat_strip.h"
#include "app/session/piece_reader.h"

#include <QDialog>

class QLabel;
class QPushButton;

namespace finch::app {

/// How warm the plate is where each mark begins: in plain order, in the order that keeps it coolest, with pauses, and
/// clamped. The operator takes one of them for the piece.
class OrderDialog final : public QDialog {
    Q_OBJECT
public:
    OrderDialog(Workbench& workbench, PieceReader& reader, QWidget* parent = nullptr);

private:
    void show_plan(const Expected<PlannedHeat>& planned);
    void take(const HeatOrder& order);

    Workbench& workbench_;
    PieceReader& reader_;
    std::optional<PlannedHeat> planned_;
    QLabel* said_ = nullptr;
    HeatStrip* strip_ = nullptr;
    QLabel* rests_ = nullptr;
    QPushButton* plain_ = nullptr;
    QPushButton* cooler_ = nullptr;
    QPushButton* paused_ = nullptr;
};

/// What an order, pauses and clamps do, in sentences.
[[nodiscard]] QString heat_words(const PlannedHeat& planned, double thickness_mm);

} // namespace finch::app
