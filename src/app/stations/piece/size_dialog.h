// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/piece_reader.h"
#include "app/stations/piece/piece_panels.h"

#include <QDialog>
#include <QTimer>

class QButtonGroup;
class QDoubleSpinBox;
class QLabel;
class QPushButton;

namespace finch::app {

/// How large the drawing becomes, seen with what would be too narrow then. It is the piece's when it is taken.
class SizeDialog final : public QDialog {
    Q_OBJECT
public:
    /// The reader has a drawing with an extent.
    SizeDialog(Workbench& workbench, PieceReader& reader, QWidget* parent = nullptr);

private:
    QWidget* make_choices();
    void choose(SizeBy by);
    void ask();
    void try_it();
    void show_answer(const Expected<std::shared_ptr<const ReadPiece>>& answer);

    Workbench& workbench_;
    PieceReader& reader_;
    ArtSize size_;
    QTimer rest_;
    QButtonGroup* by_ = nullptr;
    QDoubleSpinBox* factor_ = nullptr;
    QDoubleSpinBox* width_ = nullptr;
    QDoubleSpinBox* height_ = nullptr;
    DrawingView* drawing_ = nullptr;
    QLabel* words_ = nullptr;
    FindingList* findings_ = nullptr;
    QPushButton* take_ = nullptr;
};

} // namespace finch::app
