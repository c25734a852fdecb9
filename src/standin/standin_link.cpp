// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/standin_link.h"

#include "bench/bench_json.h"
#include "standin/protocol.h"

#include <nlohmann/json.hpp>
#include <QCoreApplication>
#include <QDir>
#include <QUuid>

namespace finch {
namespace {

using json = nlohmann::json;
constexpr int retry_ms = 50;
constexpr int most_tries = 200;

} // namespace

StandinLink::StandinLink(Options options, QObject* parent) : BenchLink(parent), options_(std::move(options)) {
    retry_.setInterval(retry_ms);
    connect(&retry_, &QTimer::timeout, this, &StandinLink::try_connect);
    connect(&socket_, &QLocalSocket::connected, this, [this] {
        retry_.stop();
        set(State::ready);
        send_pending();
    });
    connect(&socket_, &QLocalSocket::readyRead, this, &StandinLink::read);
    connect(&socket_, &QLocalSocket::disconnected, this, [this] {
        if (!quitting_)
            lost({"standin.died",
                  "The stand-in bench stopped answering.",
                  "Nothing in the logbook is lost. Burn the sheet again: the bench is started anew.",
                  {}});
    });
    connect(&process_, &QProcess::errorOccurred, this, [this](QProcess::ProcessError what) {
        if (what == QProcess::FailedToStart && !quitting_)
            lost({"standin.not_started",
                  "The stand-in bench cannot be started: " + process_.errorString().toStdString(),
                  "Install the program again, or read a photograph from a file.",
                  {options_.program.toStdString(), 0, {}}});
    });
}

StandinLink::~StandinLink() {
    quitting_ = true;
    socket_.abort();
    if (process_.state() != QProcess::NotRunning) {
        process_.terminate();
        if (!process_.waitForFinished(1000))
            process_.kill();
        process_.waitForFinished(500);
    }
}

void StandinLink::set(State state) {
    if (state_ == state)
        return;
    state_ = state;
    Q_EMIT state_changed();
}

void StandinLink::ensure_started() {
    if (socket_.state() == QLocalSocket::ConnectedState || retry_.isActive())
        return;
    if (process_.state() != QProcess::NotRunning) {
        process_.kill();
        process_.waitForFinished(500);
    }
    socket_name_ = QStringLiteral("gilded-finch-%1").arg(QUuid::createUuid().toString(QUuid::Id128).left(12));
    process_.setProcessChannelMode(QProcess::ForwardedErrorChannel);
    process_.setStandardOutputFile(QProcess::nullDevice());
    set(State::starting);
    tries_ = 0;
    process_.start(options_.program,
                   {QStringLiteral("--socket"), socket_name_, QStringLiteral("--seed"), QString::number(options_.seed),
                    QStringLiteral("--speed-up"), QString::number(options_.speed_up)});
    retry_.start();
}

void StandinLink::try_connect() {
    if (++tries_ > most_tries || (process_.state() == QProcess::NotRunning && tries_ > 3)) {
        retry_.stop();
        lost({"standin.not_started",
              "The stand-in bench did not come up.",
              "Try again, or read a photograph from a file.",
              {options_.program.toStdString(), 0, {}}});
        return;
    }
    if (socket_.state() == QLocalSocket::UnconnectedState)
        socket_.connectToServer(socket_name_);
}

void StandinLink::request(json message) {
    pending_ = QByteArray::fromStdString(message.dump()) + '\n';
    if (socket_.state() == QLocalSocket::ConnectedState)
        send_pending();
    else
        ensure_started();
}

void StandinLink::send_pending() {
    if (pending_.isEmpty())
        return;
    socket_.write(pending_);
    socket_.flush();
    pending_.clear();
}

void StandinLink::burn(const Setup& setup, const std::vector<ToolStep>& steps) {
    json list = json::array();
    for (const ToolStep& step : steps)
        list.push_back(standin::to_json(step));
    json message{{"do", "burn"}, {"setup", to_json(setup)}, {"steps", list}};
    if (fail_at_)
        message["fail_at"] = *fail_at_;
    fail_at_.reset();
    request(std::move(message));
}

void StandinLink::cancel() {
    if (socket_.state() == QLocalSocket::ConnectedState)
        request({{"do", "cancel"}});
}

void StandinLink::photograph(const RectMm& white_card, int attempt) {
    request({{"do", "photograph"},
             {"white_card_mm", standin::to_json(white_card)},
             {"seed", options_.seed * 1000 + static_cast<quint64>(attempt)}});
}

void StandinLink::kill() {
    process_.kill();
}

void StandinLink::read() {
    while (socket_.canReadLine()) {
        const QByteArray line = socket_.readLine();
        const json message = json::parse(line.begin(), line.end(), nullptr, false);
        if (message.is_object())
            handle(message);
    }
}

void StandinLink::handle(const json& m) {
    const std::string is = m.value("is", "");
    if (is == "started") {
        set(State::burning);
        Q_EMIT progressed(0, {});
    } else if (is == "progress") {
        Q_EMIT progressed(m.value("share", 0.0), QString::fromStdString(m.value("at", "")));
    } else if (is == "burned") {
        set(State::ready);
        Q_EMIT burned(m.value("time_s", 0.0));
    } else if (is == "cancelled") {
        set(State::ready);
        Q_EMIT cancelled();
    } else if (is == "photo") {
        Q_EMIT photographed(QByteArray::fromBase64(QByteArray::fromStdString(m.value("png_base64", ""))));
    } else if (is == "fault") {
        set(State::ready);
        Q_EMIT failed(standin::fault_from_json(m), false);
    }
}

void StandinLink::lost(const Error& error) {
    retry_.stop();
    pending_.clear();
    set(State::absent);
    Q_EMIT failed(error, true);
}

} // namespace finch
