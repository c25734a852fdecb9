// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/proof_flow.h"

#include <QDialog>
#include <QLineEdit>
#include <vector>

class QLabel;
class QPushButton;

namespace finch::app {

/// How deep the cells of a sheet are: typed one after the other (a gauge that writes like a keyboard does), pasted or
/// read from a file as a list, or asked of the gauge of the bench. Nothing is kept before the operator says so.
class DepthDialog final : public QDialog {
    Q_OBJECT
public:
    DepthDialog(Workbench& workbench, ProofFlow& flow, const ProofSheet& sheet, QWidget* parent = nullptr);
    /// Fills in a list of depths; false, and said why, where it cannot be read. `file`: where it is from.
    bool take_text(const QString& text, const QString& file = {});
    void keep();

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    struct Row {
        std::size_t cell = 0;
        QLineEdit* field = nullptr;
    };
    void fill(const std::vector<CellDepth>& depths);
    void ask_file();
    void refresh();
    void complain(const QString& why);

    Workbench& workbench_;
    ProofFlow& flow_;
    ProofSheet sheet_;
    std::vector<Row> rows_;
    QPushButton* gauge_ = nullptr;
    QPushButton* keep_ = nullptr;
    QLabel* said_ = nullptr;
};

} // namespace finch::app
