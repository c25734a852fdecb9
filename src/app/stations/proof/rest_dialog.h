// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/proof_flow.h"
#include "proof/sheet_heat.h"

#include <QDialog>
#include <QDoubleSpinBox>
#include <QLabel>

class QPushButton;

namespace finch::app {

/// How warm each cell of the planned sheet finds the plate from those before it, what that does to the film, and what
/// it costs to rest until the heat has gone.
class RestDialog final : public QDialog {
    Q_OBJECT
public:
    RestDialog(Workbench& workbench, ProofFlow& flow, QWidget* parent = nullptr);

private:
    void refresh();
    [[nodiscard]] SheetHeat heat(double rest_below_k) const;
    /// "Up to 14 K, where B3 is burned; its film becomes 4 % thicker by it."
    [[nodiscard]] QString warmth_words(const SheetHeat& heat) const;

    Workbench& workbench_;
    ProofSheet sheet_;
    std::vector<CellHeat> heats_;
    double bare_s_ = 0; ///< time of the sheet without rests
    QDoubleSpinBox* below_;
    QLabel *without_, *with_;
    QPushButton* rest_;
};

} // namespace finch::app
