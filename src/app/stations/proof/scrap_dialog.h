// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/scrap_view.h"
#include "app/session/scrap_keeper.h"

#include <QComboBox>
#include <QDialog>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTableWidget>

namespace finch::app {

/// The scrap bin: its pieces with what they carry, new ones, and on which of them the shown sheet is burned.
class ScrapDialog final : public QDialog {
    Q_OBJECT
public:
    /// `look_only`: another window works on the workshop, and nothing is said of a piece here.
    ScrapDialog(Workbench& workbench, bool look_only, QWidget* parent = nullptr);

private:
    QWidget* make_new_piece();
    QWidget* make_used();
    void fill();
    void show_chosen();
    [[nodiscard]] const ScrapPiece* chosen() const;
    void put_in();
    void use();
    void answer(const Expected<void>& done);
    void tell(const QString& message);

    Workbench& workbench_;
    bool look_only_;
    std::vector<ScrapPiece> bin_; ///< with the plans
    QString message_;             ///< about what was asked last; stays until something else is
    QTableWidget* table_;
    ScrapView* view_;
    QLabel* says_;
    QDoubleSpinBox *width_ = nullptr, *height_ = nullptr;
    QLineEdit* note_ = nullptr;
    QComboBox* face_ = nullptr;
    std::array<QDoubleSpinBox*, 4> where_{}; ///< x, y, width, height
    QPushButton *lay_ = nullptr, *fresh_ = nullptr, *out_ = nullptr, *use_ = nullptr;
};

} // namespace finch::app
