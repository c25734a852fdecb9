// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QtConcurrent>
#include <QThreadPool>

namespace finch::app {

/// Threads for work that nobody waits for: they, and the threads they start, give way to the interface.
[[nodiscard]] QThreadPool& background_pool();
/// Makes the calling thread, and those it starts from now on, give way to all others of the program.
void give_way();
/// As many as the machine runs at once.
[[nodiscard]] int threads_for_work();

/// Runs work in the background pool.
template <typename Work>
auto run_in_background(Work work) {
    return QtConcurrent::run(&background_pool(), [work = std::move(work)] {
        give_way();
        return work();
    });
}

} // namespace finch::app
