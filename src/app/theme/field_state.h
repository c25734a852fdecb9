// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QLineEdit>
#include <QStyle>

namespace finch::app {

/// Draws a field as one that cannot be read, or as any other again.
inline void mark_wrong(QLineEdit* field, bool wrong) {
    if (field->property("wrong").toBool() == wrong)
        return;
    field->setProperty("wrong", wrong);
    field->style()->polish(field);
}

} // namespace finch::app
