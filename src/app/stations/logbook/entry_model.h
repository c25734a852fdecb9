// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "record/logbook.h"

#include <QAbstractListModel>

namespace finch::app {

/// Entries of the logbook, newest first, fetched page by page.
class EntryModel final : public QAbstractListModel {
    Q_OBJECT
public:
    explicit EntryModel(const Logbook* logbook, QObject* parent = nullptr)
        : QAbstractListModel(parent), logbook_(logbook) {}
    void set_filter(const EntryFilter& filter);
    void reload();
    [[nodiscard]] const Entry* entry(const QModelIndex& index) const;
    [[nodiscard]] QModelIndex index_of(long long id) const;
    [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;
    [[nodiscard]] bool canFetchMore(const QModelIndex& parent) const override;
    void fetchMore(const QModelIndex& parent) override;

Q_SIGNALS:
    void failed(const Error& error);

private:
    const Logbook* logbook_;
    EntryFilter filter_;
    std::vector<Entry> entries_;
    bool more_ = false;
};

} // namespace finch::app
