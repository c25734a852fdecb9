// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/edit_field.h"
#include "app/stations/proof/proof_view.h"

#include <QTimer>
#include <QWidget>

class QCheckBox;
class QComboBox;
class QGridLayout;
class QLabel;
class QPushButton;

namespace finch::app {

/// Target and the two axes of the next sheet, and what it is expected to show.
class PlanPage final : public QWidget {
    Q_OBJECT
public:
    PlanPage(Workbench& workbench, ProofFlow& flow, QWidget* parent = nullptr);
    [[nodiscard]] bool leave_out_hopeless() const;
    void refresh();

Q_SIGNALS:
    void save_asked();
    void plan_asked();
    void design_asked();
    void openings_asked();

protected:
    void showEvent(QShowEvent* event) override;
    void paintEvent(QPaintEvent*) override;

private:
    struct AxisFields {
        QComboBox* knob = nullptr;
        QLineEdit* from = nullptr;
        QLineEdit* to = nullptr;
        EditField* count = nullptr;
        QComboBox* steps = nullptr;
    };
    AxisFields add_axis(QGridLayout* grid, int row, const QString& name, const QString& title,
                        AxisPlan SheetRequest::*axis);
    void add_target(QGridLayout* grid);
    void add_size(QGridLayout* grid);
    [[nodiscard]] WantedDepth usual_depth() const;
    void commit_depth();
    void commit_axis(QLineEdit* field, AxisPlan SheetRequest::*axis, double AxisPlan::*end);
    void show_axis(const AxisFields& fields, const AxisPlan& plan);
    void refresh_cost();
    void refresh_notes();

    Workbench& workbench_;
    ProofFlow& flow_;
    QComboBox* target_ = nullptr;
    QLineEdit* target_lab_ = nullptr;
    EditField* accept_ = nullptr;
    QLabel* accept_label_ = nullptr;
    QPushButton* pick_ = nullptr;
    QLineEdit* aim_ = nullptr;
    AxisFields across_, down_;
    EditField* cell_w_ = nullptr;
    EditField* cell_h_ = nullptr;
    EditField* gap_ = nullptr;
    QCheckBox* hopeless_ = nullptr;
    QPushButton* design_ = nullptr;
    QPushButton* openings_ = nullptr;
    QLabel* cost_ = nullptr;
    QLabel* notes_ = nullptr;
    SheetWidget* preview_ = nullptr;
    QTimer idle_;
};

} // namespace finch::app
