// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/logbook/entry_model.h"

#include <iterator>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr int page_size = 100;

} // namespace

EntryModel::EntryModel(LogbookDesk& desk, QObject* parent)
    : QAbstractListModel(parent), desk_(desk), turn_(std::make_shared<std::atomic<int>>(0)) {}

EntryModel::~EntryModel() {
    ++*turn_;
}

void EntryModel::set_filter(const EntryFilter& filter) {
    filter_ = filter;
    filter_.limit = page_size;
    ++*turn_;
    ask(0);
}

void EntryModel::ask(long long before_id) {
    EntryFilter filter = filter_;
    filter.before_id = before_id;
    const int turn = *turn_;
    desk_.ask(
        this,
        [filter, turn, turns = turn_](Logbook& book) -> Expected<Page> {
            if (*turns != turn)
                return failure("work.cancelled", "A newer question came.");
            auto found = book.list(filter);
            if (!found)
                return tl::unexpected(found.error());
            Page page{std::move(*found), 0};
            if (filter.before_id == 0) {
                const auto total = book.count(filter);
                if (!total)
                    return tl::unexpected(total.error());
                page.total = *total;
            }
            return page;
        },
        [this, turn, before_id](Expected<Page>& page) {
            if (turn != *turn_)
                return;
            if (!page) {
                more_ = false;
                Q_EMIT failed(page.error());
            } else if (before_id == 0)
                show(std::move(*page));
            else
                append(std::move(*page));
        });
}

void EntryModel::show(Page page) {
    beginResetModel();
    total_ = page.total;
    entries_ = std::move(page.entries);
    more_ = entries_.size() == page_size;
    endResetModel();
    Q_EMIT loaded();
}

void EntryModel::append(Page page) {
    if (page.entries.empty())
        return;
    const bool more = page.entries.size() == page_size;
    const int first = static_cast<int>(entries_.size());
    beginInsertRows({}, first, first + static_cast<int>(page.entries.size()) - 1);
    std::move(page.entries.begin(), page.entries.end(), std::back_inserter(entries_));
    endInsertRows();
    more_ = more; // not before they are in: whoever hears of them may ask for the next at once
}

bool EntryModel::canFetchMore(const QModelIndex& parent) const {
    return !parent.isValid() && more_;
}

void EntryModel::fetchMore(const QModelIndex&) {
    if (!more_)
        return;
    more_ = false; // until the page has come
    ask(entries_.empty() ? 0 : entries_.back().id);
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
                                      (e->lot.empty() ? "" : ", lot " + e->lot) + ", " + std::string(word(e->outcome)));
    return {};
}

} // namespace finch::app

#include "moc_entry_model.cpp"
