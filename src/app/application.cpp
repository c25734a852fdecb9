// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/application.h"

#include "app/session/border.h"
#include "formats/plain_numbers.h"

namespace finch::app {

Application::Application(int& argc, char** argv) : QApplication(argc, argv) {
    plain_numbers();
    setOrganizationName(QStringLiteral("gilded-finch"));
    setApplicationName(QStringLiteral("gilded-finch"));
    setApplicationVersion(QStringLiteral(FINCH_VERSION));
    setStyle(QStringLiteral("Fusion"));
}

bool Application::notify(QObject* receiver, QEvent* event) {
    const auto done = guarded("answering an event", [&] { return QApplication::notify(receiver, event); });
    if (done)
        return *done;
    // Told later: the event that failed may be the very one that shows it.
    QMetaObject::invokeMethod(
        this, [this, e = done.error()] { Q_EMIT faulted(e); }, Qt::QueuedConnection);
    return false;
}

} // namespace finch::app

#include "moc_application.cpp"
