// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/shipped_fonts.h"

#include <mutex>
#include <QFontDatabase>
#include <QGuiApplication>

/// Resources of a library that is linked in are named once, outside of any namespace.
static void name_fonts() {
    Q_INIT_RESOURCE(fonts);
}

namespace finch {

bool has_fonts() {
    return qobject_cast<QGuiApplication*>(QCoreApplication::instance()) != nullptr;
}

void load_fonts() {
    static std::once_flag once;
    if (!has_fonts())
        return;
    std::call_once(once, [] {
        name_fonts();
        for (const char* name :
             {"sans-regular", "sans-medium", "sans-semibold", "mono-regular", "mono-medium", "mono-semibold"})
            QFontDatabase::addApplicationFont(QStringLiteral(":/fonts/plex-%1.ttf").arg(QLatin1StringView(name)));
    });
}

} // namespace finch
