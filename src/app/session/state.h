// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace finch::app {

/// How something stands. Every state has a shape of its own (paint_state) and a word beside it.
enum class State { ok, warn, fail, unknown };

} // namespace finch::app
