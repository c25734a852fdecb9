// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/logbook/entry_model.h"

#include <iterator>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr int page_size = 100;

} // namespace

void EntryModel::set_filter(const EntryFilter& filter) {
    filter_ = filter;
    filter_.limit = page_size;
    reload();
}

void EntryModel::reload() {
    beginResetModel();
    entries_.clear();
    more_ = false;
    if (logbook_ != nullptr) {
        EntryFilter first = filter_;
        first.before_id = 0;
        first.limit = page_size;
        if (auto found = logbook_->list(first)) {
            entries_ = std::move(*found);
            more_ = entries_.size() == page_size;
        } else
            Q_EMIT failed(found.error());
    }
    endResetModel();
}

bool EntryModel::canFetchMore(const QModelIndex& parent) const {
    return !parent.isValid() && more_;
}

void EntryModel::fetchMore(const QModelIndex&) {
    EntryFilter next = filter_;
    next.before_id = entries_.empty() ? 0 : entries_.back().id;
    next.limit = page_size;
    auto found = logbook_->list(next);
    if (!found) {
        more_ = false;
        Q_EMIT failed(found.error());
        return;
    }
    more_ = found->size() == page_size;
    if (found->empty())
        return;
    const int first = static_cast<int>(entries_.size());
    beginInsertRows({}, first, first + static_cast<int>(found->size()) - 1);
    std::move(found->begin(), found->end(), std::back_inserter(entries_));
    endInsertRows();
}

const Entry* EntryModel::entry(const QModelIndex& index) const {
    return index.isValid() && index.row() < static_cast<int>(entries_.size())
               ? &entries_[static_cast<std::size_t>(index.row())]
               : nullptr;
}

QModelIndex EntryModel::index_of(long long id) const {
    for (std::size_t i = 0; i < entries_.size(); ++i)
        if (entries_[i].id == id)
            return index(static_cast<int>(i));
    return {};
}

int EntryModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(entries_.size());
}

QVariant EntryModel::data(const QModelIndex& index, int role) const {
    const Entry* e = entry(index);
    if (e == nullptr)
        return {};
    if (role == Qt::DisplayRole)
        return QString::fromStdString(e->title);
    if (role == Qt::AccessibleTextRole || role == Qt::ToolTipRole)
        return QString::fromStdString(e->title + ", " + e->summary + ", " + e->metal +
                                      (e->lot.empty() ? "" : ", lot " + e->lot) + ", " + word(e->outcome));
    return {};
}

} // namespace finch::app
