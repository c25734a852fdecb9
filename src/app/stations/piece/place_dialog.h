// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/place_view.h"
#include "app/session/relief_reader.h"
#include "app/stations/piece/piece_panels.h"

#include <QDialog>
#include <QTimer>

class QButtonGroup;
class QCheckBox;
class QDoubleSpinBox;
class QGridLayout;
class QLabel;
class QLineEdit;
class QPushButton;
class QSpinBox;
class QStackedWidget;
class QTableWidget;

namespace finch::app {

/// Where a piece lies: as drawn, in the nests of a tray, in tiles, or round a turned part. What is asked is laid out at
/// once, beside it; it is the piece's when it is taken.
class PlaceDialog final : public QDialog {
    Q_OBJECT
public:
    PlaceDialog(Workbench& workbench, PieceReader& drawing, ReliefReader& relief, QWidget* parent = nullptr);

private:
    QWidget* make_choices();
    QWidget* page(const std::function<void(QGridLayout*)>& fill);
    QDoubleSpinBox* number(QGridLayout* grid, const QString& name, const QString& label, const QString& unit,
                           double low, double high, double value, const std::function<void(PlaceRules&, double)>& set);
    QSpinBox* whole(QGridLayout* grid, const QString& name, const QString& label, int low, int high, int value,
                    const std::function<void(PlaceRules&, int)>& set);
    QCheckBox* check(const QString& name, const QString& label, bool on,
                     const std::function<void(PlaceRules&, bool)>& set);
    void hold(Holding holding);
    void take_offsets();
    void ask();
    void lay_out();
    void show_answer(const Expected<PlacedPiece>& answer);
    void save_jig();

    Workbench& workbench_;
    PieceReader& drawing_;
    ReliefReader& relief_;
    PlaceRules rules_;
    double width_mm_ = 0, height_mm_ = 0; ///< of the page before it is turned
    QTimer rest_;
    bool filling_ = true;
    std::optional<PlacedPiece> piece_;
    QButtonGroup* holdings_ = nullptr;
    QStackedWidget* pages_ = nullptr;
    QDoubleSpinBox* turn_ = nullptr;
    QLineEdit* offsets_ = nullptr;
    PlaceView* view_ = nullptr;
    QLabel* words_ = nullptr;
    QTableWidget* strips_ = nullptr;
    FindingList* findings_ = nullptr;
    QPushButton* take_ = nullptr;
    QPushButton* jig_ = nullptr;
    QPushButton* diagonal_ = nullptr;
};

} // namespace finch::app
