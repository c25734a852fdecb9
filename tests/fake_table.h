// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "bench_link/bench_link.h"
#include "standin/controller.h"

#include <catch2/catch.hpp>
#include <QTimer>

namespace finch::tests {

/// A bench that marks a line when it is told to, and keeps them all. Keeps the contract of JobRunner.
class FakeTable final : public JobRunner {
public:
    RequestId run(const std::string& gcode, const std::vector<LaidPart>& parts) override {
        const RequestId id = ++last_;
        REQUIRE_FALSE(running_);
        running_ = id;
        CHECK(parts.size() <= 1);
        programs.push_back(gcode);
        strokes_.clear();
        const auto stages = standin::stages_of(gcode);
        REQUIRE(stages);
        for (const auto& s : *stages)
            strokes_.insert(strokes_.end(), s.strokes.begin(), s.strokes.end());
        next_ = 0, line_ = 0, hold_ = false, stands_ = false;
        return id;
    }
    void hold(RequestId id) override { hold_ = hold_ || running_ == id; }
    void go_on(RequestId id) override {
        if (running_ == id && stands_)
            door_ ? later([this, id] { Q_EMIT holds(id, line_, QStringLiteral("still open")); }) : go();
    }
    void cancel(RequestId id) override {
        if (running_ != id)
            return;
        running_.reset();
        later([this, id] { Q_EMIT cancelled(id, line_); });
    }
    [[nodiscard]] std::optional<bool> open() const override { return door_; }
    [[nodiscard]] bool simulated() const override { return true; }

    /// A line, or the end, if there is a run that does not stand.
    void step() {
        if (!running_ || stands_)
            return;
        if (std::exchange(hold_, false)) {
            stands_ = true;
            Q_EMIT holds(*running_, line_, {});
        } else if (next_ < strokes_.size()) {
            if (strokes_[next_].marks)
                marked.push_back(strokes_[next_]);
            line_ = strokes_[next_].of_line;
            ++next_;
            Q_EMIT progressed(*running_, 0.5, {}, line_);
        } else
            Q_EMIT ran(*std::exchange(running_, std::nullopt), {1, 0, {}});
    }
    void fail() {
        if (const auto id = std::exchange(running_, std::nullopt))
            Q_EMIT failed(*id, {"fake.failed", "The fake failed.", "Try again.", {}});
    }
    void swing(bool open) {
        door_ = open;
        Q_EMIT opened_or_shut();
        if (open && running_ && !stands_) {
            stands_ = true;
            Q_EMIT holds(*running_, line_, QStringLiteral("The enclosure was opened."));
        }
    }

    std::vector<standin::Stage::Stroke> marked;
    std::vector<std::string> programs; ///< that were sent

private:
    void go() { stands_ = false; }
    void later(std::function<void()> what) { QTimer::singleShot(0, this, std::move(what)); }
    std::optional<RequestId> running_;
    RequestId last_ = 0;
    std::vector<standin::Stage::Stroke> strokes_;
    std::size_t next_ = 0;
    int line_ = 0;
    bool hold_ = false, stands_ = false, door_ = false;
};

} // namespace finch::tests
