// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/aim_flow.h"

#include <QDialog>

class QComboBox;
class QLabel;
class QPlainTextEdit;
class QPushButton;
class QTableWidget;

namespace finch::app {

class ChangeBars;
class VerdictLine;
struct VerdictWords;

/// Someone else's settings, pasted as text or read from a table whose columns the operator maps: how far they fit, what
/// is missing, and the start that they become here.
class BorrowDialog final : public QDialog {
    Q_OBJECT
public:
    BorrowDialog(Workbench& workbench, AimFlow& aims, QWidget* parent = nullptr);
    void open_table(const QString& path);

private:
    void read_text();
    void read_row();
    void show_borrowed(const Borrowed& borrowed);
    void show_fault(const Error& error);
    void show_nothing(const VerdictWords& why);
    void fill_table();

    Workbench& workbench_;
    AimFlow& aims_;
    QPlainTextEdit* text_ = nullptr;
    QTableWidget* table_ = nullptr;
    QLabel* score_ = nullptr;
    VerdictLine* verdict_ = nullptr;
    ChangeBars* drawn_ = nullptr;
    QComboBox* process_ = nullptr;
    QPushButton* take_ = nullptr;
    std::optional<BorrowedTable> rows_;
    std::optional<Borrowed> borrowed_;
    std::optional<BorrowedStart> found_;
};

} // namespace finch::app
