// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "standin/bench_link.h"

#include <nlohmann/json_fwd.hpp>
#include <QLocalSocket>
#include <QProcess>
#include <QTimer>

namespace finch {

/// Drives the stand-in: starts its process when it is first needed, speaks the JSON lines, notices when it dies and
/// starts it anew for the next request.
class StandinLink final : public BenchLink {
    Q_OBJECT
public:
    struct Options {
        QString program; ///< path of finch-standin
        quint64 seed = 7;
        double speed_up = 60;
    };
    explicit StandinLink(Options options, QObject* parent = nullptr);
    ~StandinLink() override;

    [[nodiscard]] State state() const override { return state_; }
    void burn(const Setup& setup, const std::vector<ToolStep>& steps) override;
    void cancel() override;
    void photograph(const RectMm& white_card, int attempt) override;

    /// Kills the process, as a power cut would. For tests.
    void kill();
    /// Makes the laser fail at a step of the next job. For tests.
    void fail_at(const std::string& step) { fail_at_ = step; }

private:
    void set(State state);
    void request(nlohmann::json message);
    void ensure_started();
    void try_connect();
    void send_pending();
    void read();
    void handle(const nlohmann::json& message);
    void lost(const Error& error);

    Options options_;
    QString socket_name_;
    QProcess process_;
    QLocalSocket socket_;
    QTimer retry_;
    int tries_ = 0;
    State state_ = State::absent;
    bool quitting_ = false;
    std::optional<std::string> fail_at_;
    QByteArray pending_;
};

} // namespace finch
