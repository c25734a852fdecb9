// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/server.h"

#include "bench/bench_json.h"
#include "standin/protocol.h"

#include <algorithm>
#include <nlohmann/json.hpp>
#include <QBuffer>
#include <QImage>
#include <QLocalSocket>
#include <QPointer>

namespace finch::standin {
namespace {

using json = nlohmann::json;
constexpr int tick_ms = 40;
constexpr qint64 longest_line = 32 * 1024 * 1024;

std::string png_base64(const Picture& picture) {
    const QImage image(picture.rgb.data(), picture.width, picture.height, 3 * picture.width, QImage::Format_RGB888);
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    image.save(&buffer, "PNG", 80);
    return bytes.toBase64().toStdString();
}

Shot read_shot(const json& d, std::uint64_t seed) {
    Shot shot;
    shot.seed = d.value("seed", seed + 1);
    shot.disturbed = d.value("disturbed", true);
    shot.quarter_turns = d.value("quarter_turns", 0.0);
    shot.blur_px = d.value("blur_px", 0.8);
    shot.exposure = d.value("exposure", 1.0);
    shot.glares = d.value("glares", -1);
    if (d.contains("white_card_mm"))
        if (const auto rect = rect_from_json(d["white_card_mm"]))
            shot.white_card = *rect;
    if (d.contains("covered_mm"))
        if (const auto rect = rect_from_json(d["covered_mm"]))
            shot.covered = *rect;
    return shot;
}

} // namespace

struct Server::Job {
    QPointer<QLocalSocket> client;
    std::vector<ToolStep> steps;
    Setup setup;
    std::shared_ptr<const Metal> metal;
    Plate plate;
    std::size_t next = 0;
    double owed_s = 0; ///< burning time that has passed but is not yet used up
    double burned_s = 0, total_s = 0;
};

Server::Server(Materials materials, std::uint64_t seed, double speed_up, QObject* parent)
    : QObject(parent), materials_(std::move(materials)), seed_(seed), speed_up_(speed_up), truth_(hidden_truth(seed)) {
    timer_.setInterval(tick_ms);
    connect(&timer_, &QTimer::timeout, this, &Server::step);
    connect(&server_, &QLocalServer::newConnection, this, &Server::accept);
}

Server::~Server() = default;

Expected<bool> Server::listen(const QString& name) {
    QLocalServer::removeServer(name);
    server_.setSocketOptions(QLocalServer::UserAccessOption);
    if (!server_.listen(name))
        return failure("standin.listen", "The stand-in cannot listen: " + server_.errorString().toStdString(),
                       "Give another socket name.");
    return true;
}

void Server::accept() {
    while (QLocalSocket* client = server_.nextPendingConnection()) {
        connect(client, &QLocalSocket::readyRead, this, [this, client] { read(client); });
        connect(client, &QLocalSocket::disconnected, this, [this, client] {
            if (job_ && job_->client == client) {
                timer_.stop();
                job_.reset();
            }
            client->deleteLater();
            Q_EMIT last_client_left();
        });
    }
}

void Server::read(QLocalSocket* client) {
    while (client->canReadLine()) {
        const QByteArray line = client->readLine();
        const json request = json::parse(line.begin(), line.end(), nullptr, false);
        if (request.is_object())
            handle(client, request);
        else
            answer(
                client,
                fault_json({"protocol.not_json", "The request is not a JSON object.", "Send one object a line.", {}}));
    }
    if (client->bytesAvailable() > longest_line) {
        answer(client, fault_json({"protocol.too_long", "The request is over 32 MB.", "Send fewer steps.", {}}));
        client->disconnectFromServer();
    }
}

void Server::answer(QLocalSocket* client, const json& message) {
    client->write(QByteArray::fromStdString(message.dump()) + '\n');
    client->flush();
}

void Server::handle(QLocalSocket* client, const json& request) {
    try {
        const std::string what = request.value("do", "");
        if (what == "hello")
            answer(client,
                   {{"is", "hello"}, {"version", protocol_version}, {"bench", "stand-in"}, {"enclosure", "shut"}});
        else if (what == "burn")
            start(client, request);
        else if (what == "cancel")
            cancel(client);
        else if (what == "photograph")
            photograph_plate(client, request);
        else
            answer(client, fault_json({"protocol.unknown",
                                       "The request \"" + what + "\" is not known.",
                                       "Use hello, burn, cancel or photograph.",
                                       {}}));
    } catch (const json::exception& e) {
        answer(client, fault_json({"protocol.bad_request",
                                   std::string("The request is not as described: ") + e.what(),
                                   "See docs/formats.md.",
                                   {}}));
    }
}

void Server::start(QLocalSocket* client, const json& request) {
    if (job_) {
        answer(client, fault_json({"standin.busy", "The bench is burning another job.", "Wait or cancel it.", {}}));
        return;
    }
    const auto setup = setup_from_json(request.value("setup", json()), "");
    if (!setup) {
        answer(client, fault_json(setup.error()));
        return;
    }
    const auto metal = materials_.find(setup->stock.metal);
    if (!metal) {
        answer(client, fault_json(metal.error()));
        return;
    }
    auto job = std::make_unique<Job>();
    job->client = client;
    job->setup = *setup;
    job->metal = *metal;
    double right = 10, low = 10;
    for (const json& s : request.value("steps", json::array())) {
        auto step = tool_step_from_json(s);
        if (!step) {
            answer(client, fault_json(step.error()));
            return;
        }
        for (const RectMm& r : step->hatch) {
            right = std::max(right, r.x + r.w);
            low = std::max(low, r.y + r.h);
        }
        job->steps.push_back(std::move(*step));
    }
    job->plate = bare_plate(*job->metal, materials_, job->setup.stock, right + 2, low + 2);
    fault_after_.reset();
    if (request.contains("fail_at"))
        fault_after_ = request["fail_at"].get<std::string>();
    for (const ToolStep& s : job->steps)
        if (const auto b = burn(s, job->setup, materials_, *job->metal, truth_, seed_))
            job->total_s += b->time_s;
    job_ = std::move(job);
    answer(client, {{"is", "started"}, {"time_s", job_->total_s}});
    timer_.start();
}

void Server::step() {
    if (!job_ || !job_->client) {
        timer_.stop();
        job_.reset();
        return;
    }
    job_->owed_s += speed_up_ * tick_ms / 1000.0;
    std::string last;
    while (job_->next < job_->steps.size()) {
        const ToolStep& s = job_->steps[job_->next];
        const auto b = burn(s, job_->setup, materials_, *job_->metal, truth_, seed_);
        if (!b || (fault_after_ && *fault_after_ == s.name)) {
            const Error e = b ? Error{"standin.laser_fault",
                                      "The source reported a fault at " + s.name + ".",
                                      "Reset the source. What was burned stays on the plate.",
                                      {}}
                              : b.error();
            answer(job_->client, fault_json(e));
            plate_ = job_->plate;
            timer_.stop();
            job_.reset();
            return;
        }
        if (b->time_s > job_->owed_s)
            break;
        job_->owed_s -= b->time_s;
        job_->burned_s += b->time_s;
        job_->plate.burns.push_back(*b);
        last = s.name;
        ++job_->next;
    }
    const bool done = job_->next >= job_->steps.size();
    const double share =
        job_->total_s > 0 ? std::min(1.0, (job_->burned_s + (done ? 0 : job_->owed_s)) / job_->total_s) : 1;
    const std::string at = done ? last : job_->steps[job_->next].name;
    answer(job_->client, {{"is", "progress"},
                          {"share", done ? 1.0 : share},
                          {"at", at},
                          {"burned_s", job_->burned_s},
                          {"time_s", job_->total_s}});
    if (done) {
        timer_.stop();
        plate_ = job_->plate;
        answer(job_->client, {{"is", "burned"}, {"time_s", job_->burned_s}});
        job_.reset();
    }
}

void Server::cancel(QLocalSocket* client) {
    if (job_) {
        timer_.stop();
        plate_ = job_->plate;
        job_.reset();
    }
    answer(client, {{"is", "cancelled"}});
}

void Server::photograph_plate(QLocalSocket* client, const json& request) {
    if (!plate_) {
        answer(client, fault_json({"standin.no_plate", "Nothing has been burned yet.", "Burn a sheet first.", {}}));
        return;
    }
    answer(client, {{"is", "photo"}, {"png_base64", png_base64(photograph(*plate_, read_shot(request, seed_)))}});
}

} // namespace finch::standin
