// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/piece_reader.h"
#include "app/stations/piece/piece_panels.h"

#include <QDialog>
#include <QTimer>

class QCheckBox;
class QDoubleSpinBox;
class QLabel;
class QPushButton;
class QSpinBox;

namespace finch::app {

/// How a layer is filled: the lines of its passes under a lens, their time, and what they do. It is the layer's when it
/// is taken.
class FillDialog final : public QDialog {
    Q_OBJECT
public:
    /// `layer` has a recipe and is no guide.
    FillDialog(Workbench& workbench, PieceReader& reader, std::size_t layer, QWidget* parent = nullptr);

private:
    QWidget* make_choices();
    QCheckBox* check(const QString& name, const QString& label, const QString& tip, bool on,
                     const std::function<void(bool)>& set);
    void ask();
    void try_it();
    void show_answer(const Expected<FillTrial>& answer);

    Workbench& workbench_;
    PieceReader& reader_;
    std::size_t layer_ = 0;
    PieceLayer before_;
    LayerFill fill_;
    Recipe recipe_;
    QString effect_before_;
    bool first_answer_ = true;
    double spot_mm_ = 0;
    QTimer rest_;
    QDoubleSpinBox* inset_ = nullptr;
    QSpinBox* shown_ = nullptr;
    HatchLens* lens_ = nullptr;
    QLabel* words_ = nullptr;
    FindingList* findings_ = nullptr;
    QPushButton* take_ = nullptr;
};

} // namespace finch::app
