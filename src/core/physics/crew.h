// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <atomic>
#include <condition_variable>
#include <exception>
#include <functional>
#include <mutex>
#include <thread>
#include <vector>

namespace finch {

/// A few threads that stay for a whole job and share the parts of each of its steps. The caller works too. Parts must
/// not depend on one another. What a part throws comes out of `run`, once the others are done; parts that were not
/// begun by then are left.
class Crew {
public:
    explicit Crew(int threads) {
        for (int i = 1; i < threads; ++i)
            members_.emplace_back([this] { serve(); });
    }
    Crew(const Crew&) = delete;
    Crew& operator=(const Crew&) = delete;
    ~Crew() {
        {
            const std::lock_guard lock(mutex_);
            leaving_ = true;
        }
        start_.notify_all();
        for (std::thread& t : members_)
            t.join();
    }

    void run(int parts, const std::function<void(int)>& work) {
        if (members_.empty() || parts <= 1) {
            for (int p = 0; p < parts; ++p)
                work(p);
            return;
        }
        {
            const std::lock_guard lock(mutex_);
            work_ = &work;
            parts_ = parts;
            next_ = 0;
            busy_ = members_.size();
            thrown_ = nullptr;
            ++step_;
        }
        start_.notify_all();
        take_parts(work, parts);
        std::unique_lock lock(mutex_);
        done_.wait(lock, [this] { return busy_ == 0; });
        if (thrown_ != nullptr)
            std::rethrow_exception(thrown_);
    }

private:
    void take_parts(const std::function<void(int)>& work, int parts) {
        for (int p = next_++; p < parts; p = next_++)
            try {
                work(p);
            } catch (...) {
                next_ = parts;
                const std::lock_guard lock(mutex_);
                if (thrown_ == nullptr)
                    thrown_ = std::current_exception();
            }
    }
    void serve() {
        long seen = 0;
        std::unique_lock lock(mutex_);
        while (true) {
            start_.wait(lock, [&] { return leaving_ || step_ != seen; });
            if (leaving_)
                return;
            seen = step_;
            const std::function<void(int)>* work = work_;
            const int parts = parts_;
            lock.unlock();
            take_parts(*work, parts);
            lock.lock();
            if (--busy_ == 0)
                done_.notify_one();
        }
    }

    std::mutex mutex_;
    std::condition_variable start_, done_;
    const std::function<void(int)>* work_ = nullptr;
    int parts_ = 0;
    std::atomic<int> next_ = 0;
    std::size_t busy_ = 0;
    long step_ = 0;
    std::exception_ptr thrown_;
    bool leaving_ = false;
    std::vector<std::thread> members_;
};

} // namespace finch
