// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "quantity/error.h"

#include <QString>

namespace finch::app {

/// Opens the log of the field: finch.log in the folder, five files of a megabyte in turn. What Qt and the libraries say
/// goes there as well. Without a folder, or when it cannot be written, nothing is logged and nothing fails.
void open_log(const QString& folder);

/// Notes an error that the operator was shown.
void log_error(const Error& error);
/// Notes something worth knowing when a report comes in from the field.
void log_note(const QString& text);
/// An exception that reached a border: notes it, and gives the error to show.
[[nodiscard]] Error internal_fault(const char* doing, const char* exception);

} // namespace finch::app
