// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/piece_reader.h"
#include "app/stations/piece/piece_panels.h"
#include "app/stations/piece/series_panel.h"

#include <QDialog>
#include <QTimer>

class QCheckBox;
class QComboBox;
class QDoubleSpinBox;
class QFontComboBox;
class QGridLayout;
class QLabel;
class QLineEdit;
class QListWidget;
class QPushButton;

namespace finch::app {

/// What is typed on a drawing: words, numbers that count, and columns of a table, with what each piece of a tray says.
/// It is seen at once, and on the drawing when it is taken.
class TextDialog final : public QDialog {
    Q_OBJECT
public:
    TextDialog(Workbench& workbench, PieceReader& reader, QWidget* parent = nullptr);

private:
    QWidget* make_texts();
    QDoubleSpinBox* number(QGridLayout* grid, const NumberField& field, double TypedText::*value);
    [[nodiscard]] TypedText* chosen();
    void add_text();
    void remove_text();
    void choose(int row);
    void show_chosen();
    void edited();
    void show_insertions();
    void show_all();
    void show_drawing();

    Workbench& workbench_;
    PieceReader& reader_;
    TypedTexts typed_;
    std::vector<std::string> called_; ///< what each was called on the drawing; empty: it is new
    std::optional<PointMm> blank_;
    int nests_ = 1;
    bool filling_ = false;
    QTimer rest_;
    std::vector<LayerPath> drawn_; ///< of the drawing without what is typed
    std::vector<QString> drawn_names_;
    QListWidget* list_ = nullptr;
    QPushButton* remove_ = nullptr;
    QWidget* fields_ = nullptr;
    QLineEdit* words_ = nullptr;
    QPushButton* insert_ = nullptr;
    QLineEdit* name_ = nullptr;
    QFontComboBox* font_ = nullptr;
    QCheckBox* bold_ = nullptr;
    QCheckBox* mirrored_ = nullptr;
    QComboBox* end_ = nullptr;
    std::vector<std::pair<QDoubleSpinBox*, double TypedText::*>> numbers_;
    QDoubleSpinBox* at_x_ = nullptr;
    QDoubleSpinBox* at_y_ = nullptr;
    SeriesPanel* series_ = nullptr;
    DrawingView* view_ = nullptr;
    QLabel* told_ = nullptr;
    QPushButton* take_ = nullptr;
};

} // namespace finch::app
