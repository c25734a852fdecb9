// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace finch::tests {

/// How long a test waits for what must come, in milliseconds: against one that hangs, never a measure of speed. A
/// slow machine that runs three sanitized tests at once needs a minute for what takes seconds here.
inline constexpr int patience = 240'000;

} // namespace finch::tests
