// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/instrument.h"
#include "app/session/logbook_exchange.h"
#include "app/session/workbench.h"
#include "app/stations/logbook/entry_detail.h"
#include "app/stations/logbook/entry_model.h"

#include <QStyledItemDelegate>

class QLabel;
class QLineEdit;
class QListView;
class QPushButton;

namespace finch::app {

/// Paints one entry of the list: date, state, title, summary, lot.
class EntryDelegate final : public QStyledItemDelegate {
    Q_OBJECT
public:
    EntryDelegate(const Workbench& workbench, QObject* parent) : QStyledItemDelegate(parent), workbench_(workbench) {}
    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override;
    [[nodiscard]] QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override { return {390, 50}; }
    long long a = 0, b = 0; ///< entries that are being compared

private:
    const Workbench& workbench_;
};

/// Every sheet, reading and recipe with the whole bench state: filter, detail, compare, export.
class LogbookStation final : public QWidget {
    Q_OBJECT
public:
    LogbookStation(Workbench& workbench, LogbookDesk& desk, LogbookExchange& exchange, QWidget* parent = nullptr);
    void reload();
    /// Shows an entry and selects it.
    void show_entry(long long id);
    void ask_export();
    void export_to(const QString& path);
    void ask_import();
    void import_from(const QString& path);

Q_SIGNALS:
    /// Recipe of the shown entry is wanted on the bench.
    void recipe_taken(const finch::Recipe& recipe);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    void refilter();
    void selection_changed();
    void take_recipe();
    [[nodiscard]] EntryFilter filter() const;

    Workbench& workbench_;
    LogbookDesk& desk_;
    LogbookExchange& exchange_;
    EntryModel* model_;
    EntryDelegate* delegate_;
    QListView* list_;
    QLineEdit* words_;
    std::vector<QPushButton*> kinds_;
    QLabel* count_;
    QLabel* hint_;
    QPushButton* compare_;
    QPushButton* take_;
    EntryDetail* detail_;
    void model_loaded();
    void put_on_bench(const Entry& entry);
    long long wanted_ = 0; ///< entry to select once the list has come
    long long pinned_ = 0; ///< entry A, waiting for B
};

} // namespace finch::app
