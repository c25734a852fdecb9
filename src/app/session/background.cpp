// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/background.h"

#include <algorithm>
#include <QCoreApplication>
#include <sys/resource.h>
#include <thread>

namespace finch::app {

QThreadPool& background_pool() {
    // Its own threads: a thread that has once given way cannot take that back.
    static QThreadPool pool;
    // Only the global pool is waited for when the application ends: this one must be too, while all it uses still is.
    [[maybe_unused]] static const bool waited_for = [] {
        qAddPostRoutine([] { pool.waitForDone(); });
        return true;
    }();
    return pool;
}

void give_way() {
    constexpr int nice = 10; // under Linux "this process" is the calling thread; threads it starts inherit it
    setpriority(PRIO_PROCESS, 0, nice);
}

int threads_for_work() {
    return std::max(1, static_cast<int>(std::thread::hardware_concurrency()));
}

} // namespace finch::app
