// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/theme/theme.h"

#include <algorithm>
#include <QPainter>
#include <QStyledItemDelegate>

namespace finch::app {

inline constexpr int share_role = Qt::UserRole; ///< 0 to 1, drawn as a bar under the number

/// A number in a table with its share as a bar under it.
class ShareDelegate final : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        QStyledItemDelegate::paint(painter, option, index);
        const Theme& t = theme_of(option.widget);
        const QRectF bar(option.rect.left() + 6, option.rect.bottom() - 6, option.rect.width() - 12, 4);
        painter->fillRect(bar, t(Role::sunken));
        painter->fillRect(QRectF(bar.left(), bar.top(),
                                 bar.width() * std::clamp(index.data(share_role).toDouble(), 0.0, 1.0), bar.height()),
                          t(Role::accent));
    }
};

} // namespace finch::app
