// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/piece_reader.h"
#include "app/session/scanner_timer.h"

#include <QDialog>

class QLabel;
class QLineEdit;
class QPushButton;

namespace finch::app {

/// How long scans took at the bench: typed from a stopwatch, or asked of the mirrors of the stand-in. Three scans made
/// for it, and the layers of the drawing at hand. Nothing is kept before the operator says so.
class TimingDialog final : public QDialog {
    Q_OBJECT
public:
    TimingDialog(Workbench& workbench, ScannerTimer& timer, const PieceReader& reader, QWidget* parent = nullptr);
    void keep();

private:
    struct Row {
        TimedRun run;                ///< without its time where none was taken
        std::vector<HatchRun> lines; ///< of one pass
        QLineEdit* field = nullptr;
    };
    void add_rows();
    void ask_bench();
    void ask_folder();
    void refresh();
    void complain(const QString& why);
    /// The runs with a time that can be read; nothing, and said why, where one cannot.
    [[nodiscard]] std::optional<std::vector<TimedRun>> typed(bool aloud);

    Workbench& workbench_;
    ScannerTimer& timer_;
    const PieceReader& reader_;
    std::vector<Row> rows_;
    QPushButton* bench_ = nullptr;
    QPushButton* forget_ = nullptr;
    QPushButton* keep_ = nullptr;
    QLabel* what_ = nullptr;
    QLabel* said_ = nullptr;
};

} // namespace finch::app
