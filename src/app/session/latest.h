// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/background.h"
#include "app/session/border.h"

#include <atomic>
#include <memory>
#include <QCoreApplication>

namespace finch::app {

/// Work in the background of which only the newest is of interest: what was asked before, or is not wanted any more, is
/// never answered. Belongs to one thread, that of the interface.
class Latest {
public:
    Latest() = default;
    Latest(const Latest&) = delete;
    Latest& operator=(const Latest&) = delete;
    ~Latest() { ++*turn_; }

    [[nodiscard]] bool running() const { return running_; }
    /// Gives up what is under way.
    void give_up() {
        ++*turn_;
        running_ = false;
    }
    /// `work` runs in the background and gives an Expected; `answer` takes it in the thread of the interface.
    template <typename Work, typename Answer>
    void ask(const char* what, Work work, Answer answer) {
        running_ = true;
        const int turn = ++*turn_;
        [[maybe_unused]] const auto running =
            run_in_background([this, what, turn, turns = turn_, work = std::move(work), answer = std::move(answer)] {
                auto result = guarded(what, work);
                QMetaObject::invokeMethod(
                    qApp,
                    [this, turn, turns, answer, result = std::move(result)] {
                        if (*turns != turn)
                            return; // also when this is gone
                        running_ = false;
                        answer(result);
                    },
                    Qt::QueuedConnection);
            });
    }

private:
    std::shared_ptr<std::atomic<int>> turn_ = std::make_shared<std::atomic<int>>(0);
    bool running_ = false;
};

} // namespace finch::app
