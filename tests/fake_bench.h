// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "bench_link/bench_link.h"

#include <optional>
#include <QTimer>

namespace finch::tests {

/// A bench that burns when it is told to: holds every request until the test lets it end. Keeps the contract.
class FakeBench final : public BenchLink {
public:
    [[nodiscard]] State state() const override { return running_ ? State::burning : State::ready; }
    [[nodiscard]] QString name() const override { return QStringLiteral("the fake"); }
    RequestId burn(const Setup& setup, const std::vector<ToolStep>& steps, Piece piece) override {
        const RequestId id = ++last_;
        if (running_) {
            later([this, id] { Q_EMIT failed(id, {"bench.busy", "busy", "wait", {}}, false); });
            return id;
        }
        running_ = id;
        last_setup = setup;
        last_steps = steps.size();
        last_piece = piece;
        return id;
    }
    void cancel(RequestId id) override {
        if (running_ != id)
            return;
        running_.reset();
        later([this, id] { Q_EMIT cancelled(id); });
    }
    [[nodiscard]] bool running() const { return running_.has_value(); }
    void progress(double share) {
        if (running_)
            Q_EMIT progressed(*running_, share, QStringLiteral("A1"));
    }
    void finish(double time_s = 60) {
        if (const auto id = std::exchange(running_, std::nullopt))
            Q_EMIT burned(*id, time_s);
    }
    void fail() {
        if (const auto id = std::exchange(running_, std::nullopt))
            Q_EMIT failed(*id, {"fake.failed", "The fake failed.", "Try again.", {}}, false);
    }

    Setup last_setup;
    std::size_t last_steps = 0;
    Piece last_piece = Piece::fresh;

private:
    void later(std::function<void()> what) { QTimer::singleShot(0, this, std::move(what)); }
    std::optional<RequestId> running_;
    RequestId last_ = 0;
};

/// A camera that answers with the picture it was given, when it is told to.
class FakeCamera final : public Camera {
public:
    RequestId photograph(const RectMm&, double) override {
        const RequestId id = ++last_;
        if (waiting_)
            QTimer::singleShot(0, this, [this, id] { Q_EMIT failed(id, {"camera.busy", "busy", "wait", {}}); });
        else
            waiting_ = id;
        return id;
    }
    RequestId photograph_print(const ColourPrint&) override {
        of_print_ = of_print_ || !waiting_;
        return photograph({}, 0);
    }
    void cancel(RequestId id) override {
        if (waiting_ == id)
            waiting_.reset();
    }
    [[nodiscard]] bool waiting() const { return waiting_.has_value(); }
    void answer(const QByteArray& picture) {
        if (const auto id = std::exchange(waiting_, std::nullopt)) {
            if (std::exchange(of_print_, false))
                Q_EMIT photographed_print(*id, picture, measured);
            else
                Q_EMIT photographed(*id, picture);
        }
    }
    LabByName measured{{"A1", {40, 30, 20}}}; ///< of any print
    void fail() {
        if (const auto id = std::exchange(waiting_, std::nullopt))
            Q_EMIT failed(*id, {"fake.failed", "The fake failed.", "Try again.", {}});
    }

private:
    std::optional<RequestId> waiting_;
    bool of_print_ = false;
    RequestId last_ = 0;
};

/// A gauge that answers with one depth everywhere, when it is told to.
class FakeGauge final : public Gauge {
public:
    RequestId measure(const std::vector<PointMm>& at) override {
        const RequestId id = ++last_;
        if (waiting_)
            QTimer::singleShot(0, this, [this, id] { Q_EMIT failed(id, {"gauge.busy", "busy", "wait", {}}); });
        else {
            waiting_ = id;
            places = at.size();
        }
        return id;
    }
    void cancel(RequestId id) override {
        if (waiting_ == id)
            waiting_.reset();
    }
    void answer(double um) {
        if (const auto id = std::exchange(waiting_, std::nullopt))
            Q_EMIT measured(*id, std::vector<GaugeDepth>(places, {um, 3}));
    }

    std::size_t places = 0;

private:
    std::optional<RequestId> waiting_;
    RequestId last_ = 0;
};

} // namespace finch::tests
