// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/recent_drawings.h"

#include <QFileInfo>
#include <QSettings>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr auto recent_key = "recent_drawings"_L1;

} // namespace

QStringList recent_drawings() {
    return QSettings().value(recent_key).toStringList().mid(0, most_recent);
}

void remember_drawing(const QString& file) {
    const QFileInfo there(file);
    if (!there.isFile())
        return;
    QStringList all = recent_drawings();
    all.removeAll(there.absoluteFilePath());
    all.prepend(there.absoluteFilePath());
    QSettings().setValue(recent_key, all.mid(0, most_recent));
}

} // namespace finch::app
