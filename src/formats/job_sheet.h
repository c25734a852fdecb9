// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "piece/job.h"

#include <string>

namespace finch {

/// Ten hexadecimal digits that say which job this is, down to the last line: of its document's SHA-256.
[[nodiscard]] std::string job_code(const Job& job);

/// The job as pages to print (PDF, A4): what it is marked on, a drawing of it, its layers with recipe, passes and time,
/// what to do before the laser is on, and its code as text and as a QR code. Needs a QGuiApplication, for the fonts.
/// Errors: those of hatch(); job.sheet when the code cannot be drawn.
[[nodiscard]] Expected<std::string> job_sheet_pdf(const Job& job);

} // namespace finch
