// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/background.h"

#include <sys/resource.h>

namespace finch::app {

QThreadPool& background_pool() {
    // Its own threads: a thread that has once given way cannot take that back.
    static QThreadPool pool;
    return pool;
}

void give_way() {
    constexpr int nice = 10; // under Linux "this process" is the calling thread; threads it starts inherit it
    setpriority(PRIO_PROCESS, 0, nice);
}

} // namespace finch::app
