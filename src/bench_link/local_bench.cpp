// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench_link/local_bench_doors.h"

#include "bench/bench_json.h"
#include "bench_link/protocol.h"

#include <cmath>
#include <nlohmann/json.hpp>
#include <sys/socket.h>
#include <unistd.h>

namespace finch {
namespace {

using json = nlohmann::json;
constexpr int retry_ms = 30;

} // namespace

LocalBench::LocalBench(Options options, QObject* parent)
    : QObject(parent), options_(std::move(options)), name_(tr("the stand-in")), laser_(std::make_unique<Laser>(*this)),
      eye_(std::make_unique<Eye>(*this)), gauge_(std::make_unique<Probe>(*this)),
      mirrors_(std::make_unique<Galvo>(*this)), runner_(std::make_unique<Table>(*this)) {
    retry_.setInterval(retry_ms);
    connect(&retry_, &QTimer::timeout, this, &LocalBench::try_connect);
    for (QTimer* limit : {&start_limit_, &silence_, &cancel_limit_})
        limit->setSingleShot(true);
    start_limit_.setInterval(options_.start_limit_ms);
    silence_.setInterval(options_.silence_limit_ms);
    cancel_limit_.setInterval(options_.cancel_limit_ms);
    connect(&start_limit_, &QTimer::timeout, this, [this] {
        lost({"bench.not_started",
              "The bench did not come up in time.",
              "Try again, or read a photograph from a file.",
              {options_.program.toStdString(), 0, {}}});
    });
    connect(&silence_, &QTimer::timeout, this, [this] {
        lost({"bench.silent",
              "The bench stopped answering.",
              "Look at the bench before anything else: it may still be burning. Then burn the sheet again.",
              {}});
    });
    connect(&cancel_limit_, &QTimer::timeout, this, [this] {
        lost({"bench.will_not_stop",
              "The bench did not stop when it was told to, so it was ended.",
              "Look at the plate: some cells may be burned.",
              {}});
    });
    socket_.setReadBufferSize(protocol::longest_line + 1);
    connect(&socket_, &QLocalSocket::connected, this, &LocalBench::greet);
    connect(&socket_, &QLocalSocket::readyRead, this, &LocalBench::read);
    connect(&socket_, &QLocalSocket::disconnected, this, [this] {
        if (!quitting_)
            lost({"bench.died",
                  "The bench stopped answering: its program ended.",
                  "Nothing in the logbook is lost. Burn the sheet again: the bench is started anew.",
                  {}});
    });
    connect(&process_, &QProcess::errorOccurred, this, [this](QProcess::ProcessError what) {
        if (what == QProcess::FailedToStart && !quitting_)
            lost({"bench.not_started",
                  "The bench cannot be started: " + process_.errorString().toStdString(),
                  "Install the program again, or read a photograph from a file.",
                  {options_.program.toStdString(), 0, {}}});
    });
}

LocalBench::~LocalBench() {
    quitting_ = true;
    socket_.abort();
    if (process_.state() != QProcess::NotRunning) {
        process_.terminate();
        if (!process_.waitForFinished(500))
            process_.kill();
        process_.waitForFinished(500);
    }
}

BenchLink& LocalBench::laser() {
    return *laser_;
}

Camera& LocalBench::camera() {
    return *eye_;
}

Gauge& LocalBench::gauge() {
    return *gauge_;
}

Mirrors& LocalBench::mirrors() {
    return *mirrors_;
}

JobRunner& LocalBench::runner() {
    return *runner_;
}

void LocalBench::set(BenchLink::State state) {
    if (state_ == state)
        return;
    state_ = state;
    Q_EMIT laser_->state_changed();
}

void LocalBench::later(std::function<void()> answer) {
    QMetaObject::invokeMethod(this, std::move(answer), Qt::QueuedConnection);
}

void LocalBench::ensure_started() {
    // Also while it has not said hello yet: who asks meanwhile must not start it anew.
    if (greeted_ || retry_.isActive() || socket_.state() != QLocalSocket::UnconnectedState)
        return;
    if (process_.state() != QProcess::NotRunning) {
        process_.kill();
        process_.waitForFinished(500);
    }
    // Nobody else can put a socket of theirs into a folder that only this user may enter.
    folder_ = std::make_unique<QTemporaryDir>();
    process_.setProcessChannelMode(QProcess::ForwardedErrorChannel);
    process_.setStandardOutputFile(QProcess::nullDevice());
    set(BenchLink::State::starting);
    process_.start(options_.program,
                   {QStringLiteral("--socket"), folder_->filePath(QStringLiteral("bench")), QStringLiteral("--seed"),
                    QString::number(options_.seed), QStringLiteral("--speed-up"), QString::number(options_.speed_up)});
    retry_.start();
    start_limit_.start();
}

void LocalBench::try_connect() {
    if (process_.state() == QProcess::NotRunning && process_.error() != QProcess::UnknownError)
        return lost({"bench.not_started",
                     "The bench ended as soon as it was started.",
                     "Install the program again, or read a photograph from a file.",
                     {options_.program.toStdString(), 0, {}}});
    if (socket_.state() == QLocalSocket::UnconnectedState)
        socket_.connectToServer(folder_->filePath(QStringLiteral("bench")));
}

std::optional<Error> LocalBench::wrong_peer() const {
    ucred peer{};
    socklen_t size = sizeof peer;
    const int socket = static_cast<int>(socket_.socketDescriptor());
    if (getsockopt(socket, SOL_SOCKET, SO_PEERCRED, &peer, &size) == 0 && peer.uid == geteuid() &&
        peer.pid == process_.processId())
        return std::nullopt;
    return Error{"bench.stranger",
                 "Another program than the bench answered.",
                 "Close whatever else uses the bench, and try again.",
                 {}};
}

void LocalBench::greet() {
    retry_.stop();
    if (const auto stranger = wrong_peer())
        return lost(*stranger);
    socket_.write(QByteArray::fromStdString(protocol::to_line({{"do", "hello"}, {"version", protocol::version}})));
    socket_.flush();
}

void LocalBench::send_pending() {
    if (!greeted_)
        return;
    for (auto* pending : {&burn_, &shot_, &probe_, &drive_, &run_})
        if (*pending && !(*pending)->sent) {
            socket_.write((*pending)->line);
            (*pending)->line.clear();
            (*pending)->sent = true;
            silence_.start();
        }
    socket_.flush();
}

void LocalBench::read() {
    while (socket_.canReadLine()) {
        const QByteArray line = socket_.readLine();
        if (waiting())
            silence_.start();
        take({line.data(), static_cast<std::size_t>(line.size())});
    }
    if (socket_.bytesAvailable() > protocol::longest_line)
        lost({"protocol.too_long", "The bench sent a line without an end.", "Start the bench again.", {}});
}

void LocalBench::take(std::string_view line) {
    const auto answer = protocol::answer_from_line(line);
    if (!answer)
        return lost(answer.error());
    std::visit([this](const auto& a) { on(a); }, *answer);
}

bool LocalBench::of_burn(RequestId id) const {
    return burn_ && burn_->id == id;
}

RequestId LocalBench::end_burn() {
    const RequestId id = burn_->id;
    burn_.reset();
    cancel_limit_.stop();
    if (!waiting())
        silence_.stop();
    set(BenchLink::State::ready);
    return id;
}

RequestId LocalBench::end_quick(std::optional<Pending>& request) {
    const RequestId id = std::exchange(request, std::nullopt)->id;
    if (!waiting())
        silence_.stop();
    return id;
}

void LocalBench::on(const protocol::Hello& hello) {
    if (hello.version != protocol::version)
        return lost({"protocol.version",
                     "The bench speaks version " + std::to_string(hello.version) + " of the protocol, this program " +
                         std::to_string(protocol::version) + ".",
                     "Install program and bench of the same version.",
                     {}});
    start_limit_.stop();
    greeted_ = true;
    simulated_ = hello.simulated;
    if (!hello.bench.empty())
        name_ = QString::fromStdString(hello.bench);
    set(BenchLink::State::ready);
    send_pending();
}

void LocalBench::on(const protocol::Started& started) {
    if (!of_burn(started.job))
        return;
    set(BenchLink::State::burning);
    Q_EMIT laser_->progressed(started.job, 0, {});
}

void LocalBench::on(const protocol::Progress& progress) {
    if (of_burn(progress.job))
        Q_EMIT laser_->progressed(progress.job, progress.share, QString::fromStdString(progress.at));
}

void LocalBench::on(const protocol::Burned& burned) {
    if (of_burn(burned.job))
        Q_EMIT laser_->burned(end_burn(), burned.time_s);
}

void LocalBench::on(const protocol::Cancelled& cancelled) {
    if (of_burn(cancelled.job))
        Q_EMIT laser_->cancelled(end_burn());
}

void LocalBench::on(const protocol::Photo& photo) {
    if (!shot_ || shot_->id != photo.shot)
        return;
    if (shot_->of_print)
        Q_EMIT eye_->photographed_print(end_quick(shot_), photo.picture, photo.measured);
    else
        Q_EMIT eye_->photographed(end_quick(shot_), photo.picture);
}

void LocalBench::on(const protocol::Depths& depths) {
    if (!probe_ || probe_->id != depths.probe)
        return;
    if (depths.depths_um.size() != probe_->places)
        return lost({"protocol.depths",
                     "The gauge sent another number of depths than was asked for.",
                     "Measure again, or type the depths.",
                     {}});
    std::vector<GaugeDepth> out;
    for (const double um : depths.depths_um)
        out.push_back({um, std::hypot(depths.within_um, depths.within_share * um)});
    Q_EMIT gauge_->measured(end_quick(probe_), out);
}

void LocalBench::on(const protocol::Runs& runs) {
    if (run_ && run_->id == runs.run)
        Q_EMIT runner_->progressed(runs.run, runs.share, QString::fromStdString(runs.at), runs.line);
}

void LocalBench::on(const protocol::Holds& holds) {
    if (!run_ || run_->id != holds.run)
        return;
    run_waits_ = true;
    if (!waiting())
        silence_.stop();
    Q_EMIT runner_->holds(holds.run, holds.line, QString::fromStdString(holds.why));
}

void LocalBench::on(const protocol::Door& door) {
    open_ = door.open;
    Q_EMIT runner_->opened_or_shut();
}

void LocalBench::on(const protocol::Waits& waits) {
    if (!run_ || run_->id != waits.run)
        return;
    run_waits_ = true;
    if (!waiting())
        silence_.stop(); // people take their time
    Q_EMIT runner_->waits(waits.run, QString::fromStdString(waits.at));
}

void LocalBench::on(const protocol::Ran& ran) {
    if (!run_ || run_->id != ran.run)
        return;
    if (!burn_)
        cancel_limit_.stop();
    const RequestId id = end_quick(run_);
    if (ran.cancelled)
        Q_EMIT runner_->cancelled(id, ran.line);
    else
        Q_EMIT runner_->ran(id, ran.found);
}

void LocalBench::on(const protocol::Driven& driven) {
    if (drive_ && drive_->id == driven.drive)
        Q_EMIT mirrors_->driven(end_quick(drive_), driven.time_s);
}

void LocalBench::on(const protocol::Fault& fault) {
    const bool of_anything =
        fault.job == 0 && fault.shot == 0 && fault.probe == 0 && fault.drive == 0 && fault.run == 0;
    if (burn_ && (of_burn(fault.job) || of_anything))
        Q_EMIT laser_->failed(end_burn(), fault.error, false);
    else if (shot_ && (shot_->id == fault.shot || of_anything))
        Q_EMIT eye_->failed(end_quick(shot_), fault.error);
    else if (probe_ && (probe_->id == fault.probe || of_anything))
        Q_EMIT gauge_->failed(end_quick(probe_), fault.error);
    else if (drive_ && (drive_->id == fault.drive || of_anything))
        Q_EMIT mirrors_->failed(end_quick(drive_), fault.error);
    else if (run_ && (run_->id == fault.run || of_anything)) {
        cancel_limit_.stop();
        Q_EMIT runner_->failed(end_quick(run_), fault.error);
    }
}

void LocalBench::lost(const Error& error) {
    for (QTimer* timer : {&retry_, &start_limit_, &silence_, &cancel_limit_})
        timer->stop();
    greeted_ = false;
    open_.reset();
    const auto burn = std::exchange(burn_, std::nullopt);
    const auto shot = std::exchange(shot_, std::nullopt);
    const auto probe = std::exchange(probe_, std::nullopt);
    const auto drive = std::exchange(drive_, std::nullopt);
    const auto run = std::exchange(run_, std::nullopt);
    {
        const QSignalBlocker quiet(socket_);
        socket_.abort();
    }
    if (process_.state() != QProcess::NotRunning)
        process_.kill();
    set(BenchLink::State::absent);
    if (burn)
        Q_EMIT laser_->failed(burn->id, error, true);
    if (shot)
        Q_EMIT eye_->failed(shot->id, error);
    if (probe)
        Q_EMIT gauge_->failed(probe->id, error);
    if (drive)
        Q_EMIT mirrors_->failed(drive->id, error);
    if (run)
        Q_EMIT runner_->failed(run->id, error);
    Q_EMIT runner_->opened_or_shut();
}

} // namespace finch
