// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/proof_flow.h"

#include <QDialog>

class QComboBox;
class QDoubleSpinBox;
class QLabel;
class QPushButton;
class QSpinBox;

namespace finch::app {

/// Settles a comparison of two recipes before it is burned: which, in how many pairs, by what, and from which
/// difference on it matters.
class CompareDialog final : public QDialog {
    Q_OBJECT
public:
    CompareDialog(Workbench& workbench, ProofFlow& flow, QWidget* parent = nullptr);

private:
    void refresh();
    void plan();
    [[nodiscard]] ComparisonRequest request() const;

    Workbench& workbench_;
    ProofFlow& flow_;
    std::vector<std::pair<QString, Recipe>> recipes_;
    QComboBox* first_;
    QComboBox* second_;
    QSpinBox* pairs_;
    QComboBox* measure_;
    QDoubleSpinBox* matters_;
    QLabel* differs_;
    QPushButton* plan_;
};

} // namespace finch::app
