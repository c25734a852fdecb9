// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "quantity/error.h"

#include <QApplication>

namespace finch::app {

/// The application object, and the border of everything that an event sets off: an exception out of a slot or a handler
/// ends here, is logged and shown, and the program goes on.
class Application final : public QApplication {
    Q_OBJECT
public:
    Application(int& argc, char** argv);
    bool notify(QObject* receiver, QEvent* event) override;

Q_SIGNALS:
    void faulted(const finch::Error& error);
};

} // namespace finch::app
