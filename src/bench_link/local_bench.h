// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "bench_link/bench_link.h"
#include "bench_link/protocol.h"

#include <functional>
#include <memory>
#include <nlohmann/json_fwd.hpp>
#include <optional>
#include <QLocalSocket>
#include <QProcess>
#include <QTemporaryDir>
#include <QTimer>

namespace finch {

/// A bench that is a program of its own on this machine, such as the stand-in: starts it when it is first needed,
/// speaks the lines of protocol.h over a socket in a folder that only this user may enter, notices when it dies or
/// falls silent, and starts it anew for the next request.
class LocalBench final : public QObject {
    Q_OBJECT
public:
    struct Options {
        QString program; ///< path of the bench's program
        quint64 seed = 7;
        double speed_up = 60;
        int start_limit_ms = 15000;   ///< from the start of the program to its hello
        int silence_limit_ms = 20000; ///< of a bench that has something to do
        int cancel_limit_ms = 3000;   ///< for a bench to stop
    };
    explicit LocalBench(Options options, QObject* parent = nullptr);
    ~LocalBench() override;

    [[nodiscard]] BenchLink& laser();
    [[nodiscard]] Camera& camera();
    [[nodiscard]] Gauge& gauge();
    [[nodiscard]] Mirrors& mirrors();
    [[nodiscard]] JobRunner& runner();

    /// Kills the process, as a power cut would. For tests.
    void kill() { process_.kill(); }
    /// Makes the laser fail at a step of the next job. For tests.
    void fail_at(const std::string& step) { fail_at_ = step; }
    /// Starts the bench, so that it tells how it stands.
    void wake() { ensure_started(); }
    /// Opens or shuts the enclosure of the stand-in, which no real bench lets a program do.
    void swing_door(bool open);
    /// Opens it at a line of the next run. For tests.
    void open_at(int line) { open_at_ = line; }
    [[nodiscard]] qint64 process_id() const { return process_.processId(); }

private:
    class Laser;
    class Eye;
    class Probe;
    class Galvo;
    class Table;
    /// A request that is not answered yet.
    struct Pending {
        RequestId id = 0;
        QByteArray line;
        bool sent = false;
        std::size_t places = 0; ///< of a gauge
        bool of_print = false;  ///< of a camera
    };

    void set(BenchLink::State state);
    RequestId burn(const Setup& setup, const std::vector<ToolStep>& steps, BenchLink::Piece piece);
    void cancel_burn(RequestId id);
    RequestId photograph(const RectMm& white_card, double tilt_deg);
    RequestId photograph_print(const ColourPrint& print);
    RequestId take_shot(const std::function<nlohmann::json(RequestId)>& request, bool of_print);
    void cancel_shot(RequestId id);
    RequestId measure(const std::vector<PointMm>& at);
    void cancel_probe(RequestId id);
    RequestId drive(const std::vector<LineMm>& lines, double speed_mm_s, int passes);
    void cancel_drive(RequestId id);
    RequestId run(const std::string& gcode, const std::vector<LaidPart>& parts);
    void hold_run(RequestId id);
    void go_on(RequestId id);
    void cancel_run(RequestId id);
    void ensure_started();
    void try_connect();
    [[nodiscard]] std::optional<Error> wrong_peer() const;
    void greet();
    void send_pending();
    void read();
    void take(std::string_view line);
    void on(const protocol::Hello& hello);
    void on(const protocol::Started& started);
    void on(const protocol::Progress& progress);
    void on(const protocol::Burned& burned);
    void on(const protocol::Cancelled& cancelled);
    void on(const protocol::Photo& photo);
    void on(const protocol::Depths& depths);
    void on(const protocol::Driven& driven);
    void on(const protocol::Fault& fault);
    void on(const protocol::Runs& runs);
    void on(const protocol::Waits& waits);
    void on(const protocol::Ran& ran);
    void on(const protocol::Holds& holds);
    void on(const protocol::Door& door);
    [[nodiscard]] bool of_burn(RequestId id) const;
    /// Whether the bench has something to answer; a run that waits for somebody has not.
    [[nodiscard]] bool waiting() const { return burn_ || shot_ || probe_ || drive_ || (run_ && !run_waits_); }
    /// The request that was answered; the bench may be silent again if it was the last.
    RequestId end_quick(std::optional<Pending>& request);
    RequestId end_burn();
    void lost(const Error& error);
    /// Runs once the request has returned.
    void later(std::function<void()> answer);

    Options options_;
    std::unique_ptr<QTemporaryDir> folder_;
    QProcess process_;
    QLocalSocket socket_;
    QTimer retry_, start_limit_, silence_, cancel_limit_;
    BenchLink::State state_ = BenchLink::State::absent;
    bool greeted_ = false;
    bool quitting_ = false;
    RequestId last_ = 0;
    std::optional<Pending> burn_, shot_, probe_, drive_, run_;
    bool run_waits_ = false; ///< for somebody, or stands
    std::optional<bool> open_;
    bool simulated_ = false;
    int open_at_ = 0;
    std::optional<std::string> fail_at_;
    QString name_;
    std::unique_ptr<Laser> laser_;
    std::unique_ptr<Eye> eye_;
    std::unique_ptr<Probe> gauge_;
    std::unique_ptr<Galvo> mirrors_;
    std::unique_ptr<Table> runner_;
};

} // namespace finch
