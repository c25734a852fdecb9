// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <csignal>
#include <cstdio>
#include <cstdlib>
#include <dirent.h>
#include <sys/syscall.h>
#include <unistd.h>
#if defined(__SANITIZE_ADDRESS__) || defined(__SANITIZE_THREAD__)
#include <sanitizer/common_interface_defs.h>
#else
#include <execinfo.h>
#endif

namespace finch::tests {

inline void say_where(int) {
#if defined(__SANITIZE_ADDRESS__) || defined(__SANITIZE_THREAD__)
    __sanitizer_print_stack_trace();
#else
    void* at[64];
    backtrace_symbols_fd(at, backtrace(at, 64), STDERR_FILENO);
#endif
}

inline void say_where_all_are(int) {
    std::fputs("\nThis test hangs. Its threads:\n", stderr);
    say_where(0);
    const auto self = static_cast<int>(syscall(SYS_gettid));
    if (DIR* tasks = opendir("/proc/self/task"))
        while (const dirent* t = readdir(tasks))
            if (const int id = std::atoi(t->d_name); id > 0 && id != self) {
                syscall(SYS_tgkill, getpid(), id, SIGUSR2);
                sleep(1); // it writes where it stands
            }
    _exit(70);
}

/// A test that hangs says where each of its threads stands, before its time limit ends it without a word. The limit
/// stands in FINCH_PATIENCE (seconds).
inline void report_hang() {
    const char* seconds = std::getenv("FINCH_PATIENCE");
    if (seconds == nullptr || std::atoi(seconds) <= 0)
        return;
    std::signal(SIGUSR2, say_where);
    std::signal(SIGALRM, say_where_all_are);
    alarm(static_cast<unsigned>(std::atoi(seconds)));
}

} // namespace finch::tests
