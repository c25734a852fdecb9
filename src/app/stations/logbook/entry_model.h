// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/logbook_desk.h"

#include <atomic>
#include <QAbstractListModel>

namespace finch::app {

/// Entries of the logbook, newest first, fetched page by page.
class EntryModel final : public QAbstractListModel {
    Q_OBJECT
public:
    explicit EntryModel(LogbookDesk& desk, QObject* parent = nullptr);
    ~EntryModel() override;
    /// Asks for the first page; what is shown stays until it comes. Only the newest question is answered.
    void set_filter(const EntryFilter& filter);
    /// How many entries match, once that is known.
    [[nodiscard]] long long total() const { return total_; }
    [[nodiscard]] const Entry* entry(const QModelIndex& index) const;
    [[nodiscard]] QModelIndex index_of(long long id) const;
    [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;
    [[nodiscard]] bool canFetchMore(const QModelIndex& parent) const override;
    void fetchMore(const QModelIndex& parent) override;

Q_SIGNALS:
    void failed(const finch::Error& error);
    /// The first page of the newest question is shown.
    void loaded();

private:
    struct Page {
        std::vector<Entry> entries;
        long long total = 0;
    };
    void ask(long long before_id);
    void show(Page page);
    void append(Page page);

    LogbookDesk& desk_;
    std::shared_ptr<std::atomic<int>> turn_; ///< questions of an older turn are not even worked on
    long long total_ = 0;
    EntryFilter filter_;
    std::vector<Entry> entries_;
    bool more_ = false;
};

} // namespace finch::app
