// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QString>

class QScrollArea;
class QWidget;

namespace finch::app {

/// A list that is scrolled where there is no room for all of it.
[[nodiscard]] QScrollArea* scrolled(QWidget* inside, const QString& name, QWidget* parent);

} // namespace finch::app
