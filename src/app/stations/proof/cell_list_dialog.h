// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/proof_flow.h"

#include <functional>
#include <QDialog>
#include <QLabel>
#include <QPlainTextEdit>
#include <QPushButton>
#include <string>

namespace finch::app {

/// What is asked of the cells of a sheet, one a line.
struct CellList {
    QString name; ///< of the widgets: "colour"
    QString title, note, keep_label;
    QString before;                                            ///< what was said already, to be gone on with
    std::function<Expected<QString>(const std::string&)> read; ///< what a text says, in a few words
    std::function<void(const std::string&)> keep;              ///< only what could be read
};

/// A list of what was measured of the cells of a sheet: typed, pasted or from a file.
class CellListDialog final : public QDialog {
    Q_OBJECT
public:
    CellListDialog(ProofFlow& flow, CellList list, QWidget* parent = nullptr);

private:
    void refresh();
    void ask_file();
    void keep();

    ProofFlow& flow_;
    CellList asked_;
    QPlainTextEdit* list_;
    QLabel* said_;
    QPushButton* keep_ = nullptr;
};

/// Colours of an instrument, scratch tests, and gloss, of a burned sheet.
[[nodiscard]] CellList colours_of_instrument(Workbench& workbench, ProofFlow& flow, const ProofSheet& sheet);
[[nodiscard]] CellList gloss_of_meter(Workbench& workbench, ProofFlow& flow, const ProofSheet& sheet);
[[nodiscard]] CellList scratch_tests(Workbench& workbench, ProofFlow& flow, const ProofSheet& sheet);

} // namespace finch::app
