// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "bench_link/protocol.h"
#include "standin/camera.h"
#include "standin/galvo.h"

#include <memory>
#include <nlohmann/json_fwd.hpp>
#include <optional>
#include <QLocalServer>
#include <QObject>
#include <QTimer>

class QLocalSocket;

namespace finch::standin {

/// The simulated bench behind a local socket: burns the steps of one job in scaled time, then photographs the plate.
class Server final : public QObject {
    Q_OBJECT
public:
    /// `speed_up`: how many seconds of burning pass in one second.
    Server(Nature nature, const World& world, double speed_up, QObject* parent = nullptr);
    ~Server() override;

    /// Starts to listen. Errors: standin.listen.
    [[nodiscard]] Expected<bool> listen(const QString& name);

Q_SIGNALS:
    void last_client_left();

private:
    struct Job;
    struct Run;
    void accept();
    void read(QLocalSocket* client);
    void answer(QLocalSocket* client, const protocol::Answer& message);
    void handle(QLocalSocket* client, const nlohmann::json& request);
    [[nodiscard]] Expected<void> start(QLocalSocket* client, int number, const nlohmann::json& request);
    void step();
    void cancel(QLocalSocket* client, int number);
    [[nodiscard]] Expected<void> start_run(QLocalSocket* client, int number, const nlohmann::json& request);
    void step_run();
    /// As many lines as there is time for; whether the stage at hand is over.
    [[nodiscard]] bool do_lines();
    void hold(const std::string& why);
    void swing_door(QLocalSocket* client, bool open);
    void go_on(QLocalSocket* client, int number);
    void cancel_run(QLocalSocket* client, int number);
    [[nodiscard]] Expected<void> measure_plate(QLocalSocket* client, int number, const nlohmann::json& request);
    [[nodiscard]] Expected<void> drive_mirrors(QLocalSocket* client, int number, const nlohmann::json& request);
    [[nodiscard]] Expected<void> photograph_plate(QLocalSocket* client, int number, const nlohmann::json& request);

    std::shared_ptr<const Nature> nature_;
    World world_;
    CameraBody camera_;
    Galvo galvo_;
    double speed_up_;
    QLocalServer server_;
    QTimer timer_;
    int clients_ = 0;
    bool open_ = false; ///< its enclosure
    std::unique_ptr<Job> job_;
    std::unique_ptr<Run> run_;
    std::optional<Plate> plate_;
    std::optional<std::string> fault_after_; ///< for tests: name of the step at which the laser fails
};

} // namespace finch::standin
