// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/parts_bar.h"
#include "app/session/piece_money.h"
#include "app/stations/piece/piece_panels.h"

#include <QDialog>

class QGridLayout;
class QLabel;
class QLineEdit;
class QPushButton;
class QTableWidget;

namespace finch::app {

/// What pieces cost and are sold for, by quantity, and from how many on another way to make them is cheaper. What is
/// typed is worked out at once; it is the piece's when it is kept.
class CostDialog final : public QDialog {
    Q_OBJECT
public:
    CostDialog(Workbench& workbench, const PieceReader& drawing, const ReliefReader& relief, QWidget* parent = nullptr);

private:
    void make_fields(QGridLayout* grid);
    void add(QGridLayout* grid, const NumberField& field, const std::function<void(double)>& set);
    void refresh();
    void show_batch(const CostRules& rules, int wanted);
    void show_against(const CostRules& rules, const QString& route);
    void complain(const Error& error);
    [[nodiscard]] int wanted() const;

    Workbench& workbench_;
    const PieceReader& drawing_;
    const ReliefReader& relief_;
    PriceRules price_;
    double spoiled_ = 0;
    std::optional<KeptRoute> against_;
    std::optional<KeptRoute> here_; ///< the route at hand, as it could be kept
    std::vector<PriceTier> tiers_;
    bool filling_ = true;
    QLineEdit* quantities_ = nullptr;
    QLabel* route_ = nullptr;
    QLabel* batch_ = nullptr;
    QLabel* other_ = nullptr;
    PartsBar* parts_ = nullptr;
    QTableWidget* table_ = nullptr;
    QPushButton* keep_route_ = nullptr;
    QPushButton* forget_route_ = nullptr;
    QPushButton* keep_ = nullptr;
};

} // namespace finch::app
