// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/server.h"

#include "bench/bench_json.h"
#include "bench_link/protocol.h"
#include "document/json_fields.h"
#include "quantity/scan.h"
#include "standin/camera_file.h"
#include "standin/controller.h"
#include "standin/gauge.h"
#include "standin/print.h"
#include "standin/requests.h"

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>
#include <QFileInfo>
#include <QLocalSocket>
#include <QPointer>
#include <sys/stat.h>

namespace finch::standin {
namespace {

using json = nlohmann::json;
using namespace Qt::StringLiterals;
constexpr int tick_ms = 40;
constexpr qint64 longest_line = 32 * 1024 * 1024;

/// What the camera of a bench can see, and a plate can be.
constexpr double largest_plate_mm = 400;
constexpr double longest_job_s = 1e6;

} // namespace

struct Server::Job {
    int number = 0;
    QPointer<QLocalSocket> client;
    std::vector<Burn> burns; ///< what each step will have done
    Plate plate;
    std::size_t next = 0;
    double owed_s = 0; ///< burning time that has passed but is not yet used up
    double burned_s = 0, total_s = 0;
};

struct Server::Run {
    int number = 0;
    QPointer<QLocalSocket> client;
    std::vector<Stage> stages;
    std::vector<double> takes_s; ///< of each stage
    Table table;
    std::size_t next = 0, stroke = 0; ///< of that stage
    double owed_s = 0, done_s = 0, total_s = 0;
    bool waits = false, went_on = false; ///< for somebody, and that they came
    bool holds = false;
    int line = 0, open_at = 0; ///< that is done; at which the enclosure opens by itself
};

namespace {

/// What a line of a stage would take by itself; the pauses before its first one belong to that.
double alone_s(const Stage& stage, std::size_t stroke) {
    const Stage::Stroke& s = stage.strokes[stroke];
    return std::hypot(s.line.to.x - s.line.from.x, s.line.to.y - s.line.from.y) / s.speed_mm_s +
           (stroke == 0 ? stage.dwell_s : 0);
}

} // namespace

Server::Server(Nature nature, const World& world, double speed_up, QObject* parent)
    : QObject(parent), nature_(std::make_shared<const Nature>(std::move(nature))), world_(world),
      camera_(draw_camera(world.grade, world.seed)), galvo_(draw_galvo(world.grade, world.seed)), speed_up_(speed_up) {
    timer_.setInterval(tick_ms);
    connect(&timer_, &QTimer::timeout, this, &Server::step);
    connect(&server_, &QLocalServer::newConnection, this, &Server::accept);
}

Server::~Server() = default;

Expected<bool> Server::listen(const QString& name) {
    const auto fault = [](const QString& why) {
        return failure("standin.listen", "The stand-in cannot listen: " + why.toStdString(),
                       "Give another socket name.");
    };
    const QFileInfo there(name);
    if (there.isAbsolute() && there.exists()) {
        struct stat what {};
        if (lstat(QFile::encodeName(name).constData(), &what) != 0 || !S_ISSOCK(what.st_mode))
            return fault(u"there is a file of this name that is no socket"_s);
        QLocalSocket probe;
        probe.connectToServer(name);
        if (probe.waitForConnected(200))
            return fault(u"another bench listens there"_s);
        QLocalServer::removeServer(name);
    }
    server_.setSocketOptions(QLocalServer::UserAccessOption);
    if (!server_.listen(name))
        return fault(server_.errorString());
    return true;
}

void Server::accept() {
    while (QLocalSocket* client = server_.nextPendingConnection()) {
        ++clients_;
        connect(client, &QLocalSocket::readyRead, this, [this, client] { read(client); });
        connect(client, &QLocalSocket::disconnected, this, [this, client] {
            if (job_ && job_->client == client) {
                timer_.stop();
                job_.reset();
            }
            if (run_ && run_->client == client) {
                timer_.stop();
                run_.reset();
            }
            client->deleteLater();
            if (--clients_ == 0)
                Q_EMIT last_client_left();
        });
    }
}

void Server::read(QLocalSocket* client) {
    const QPointer<QLocalSocket> still(client);
    while (still && client->canReadLine()) {
        const QByteArray line = client->readLine();
        const auto request = parse_json({line.data(), static_cast<std::size_t>(line.size())}, "request");
        if (request && request->is_object())
            handle(client, *request);
        else
            answer(client,
                   protocol::Fault{
                       0, 0, 0, 0,
                       request ? Error{"protocol.not_json", "The request is no object.", "Send one object a line.", {}}
                               : request.error()});
    }
    if (still && client->bytesAvailable() > longest_line) {
        answer(client, protocol::Fault{
                           0, 0, 0, 0, {"protocol.too_long", "The request is over 32 MB.", "Send fewer steps.", {}}});
        client->disconnectFromServer();
    }
}

void Server::answer(QLocalSocket* client, const protocol::Answer& message) {
    client->write(QByteArray::fromStdString(protocol::to_line(protocol::to_json(message))));
    client->flush();
}

void Server::handle(QLocalSocket* client, const json& request) {
    std::vector<Error> faults;
    JsonFields f(request, "", faults);
    const std::string what = f.text_or("do", "");
    const int job = f.whole_or("job", 0, 0, 2000000000), shot = f.whole_or("shot", 0, 0, 2000000000),
              probe = f.whole_or("probe", 0, 0, 2000000000), drive = f.whole_or("drive", 0, 0, 2000000000),
              run = f.whole_or("run", 0, 0, 2000000000);
    const auto refuse = [&](const Error& e) { answer(client, protocol::Fault{job, shot, probe, drive, e, run}); };
    // The border: nothing that a request holds ends the bench.
    try {
        if (auto fault = first_fault(faults, "request"))
            refuse(*fault);
        else if (what == "hello")
            for (const protocol::Answer& a :
                 {protocol::Answer(protocol::Hello{protocol::version, "the stand-in", true}),
                  protocol::Answer(protocol::Door{open_})})
                answer(client, a);
        else if (what == "burn") {
            if (const auto started = start(client, job, request); !started)
                refuse(started.error());
        } else if (what == "run") {
            if (const auto started = start_run(client, run, request); !started)
                refuse(started.error());
        } else if (what == "hold") {
            if (run_ && run_->number == run && run_->client == client && !run_->waits && !run_->holds)
                hold("");
        } else if (what == "door")
            swing_door(client, f.flag_or("open", false));
        else if (what == "go_on")
            go_on(client, run);
        else if (what == "cancel")
            run != 0 ? cancel_run(client, run) : cancel(client, job);
        else if (what == "photograph") {
            if (const auto taken = photograph_plate(client, shot, request); !taken)
                refuse(taken.error());
        } else if (what == "measure") {
            if (const auto measured = measure_plate(client, probe, request); !measured)
                refuse(measured.error());
        } else if (what == "drive") {
            if (const auto driven = drive_mirrors(client, drive, request); !driven)
                refuse(driven.error());
        } else
            refuse({"protocol.unknown",
                    "The request \"" + shortened(what, 40) + "\" is not known.",
                    "Use hello, burn, run, hold, go_on, door, cancel, photograph, measure or drive.",
                    {}});
    } catch (const std::exception& e) {
        refuse({"protocol.bad_request",
                std::string("The request is not as described: ") + e.what(),
                "See docs/formats.md.",
                {}});
    }
}

Expected<void> Server::start(QLocalSocket* client, int number, const json& request) {
    if (job_ || run_)
        return failure("standin.busy", "The bench is burning another job.", "Wait or cancel it.");
    const auto setup = setup_from_json(request.value("setup", json()), "");
    if (!setup)
        return tl::unexpected(setup.error());
    auto job = std::make_unique<Job>();
    job->number = number;
    job->client = client;
    std::vector<ToolStep> steps;
    double right = 10, low = 10;
    for (const json& s : request.value("steps", json::array())) {
        auto step = protocol::tool_step_from_json(s);
        if (!step)
            return tl::unexpected(step.error());
        for (const RectMm& r : step->hatch) {
            right = std::max(right, r.x + r.w);
            low = std::max(low, r.y + r.h);
        }
        steps.push_back(std::move(*step));
    }
    if (right > largest_plate_mm || low > largest_plate_mm)
        return failure("standin.too_large", "The job is larger than the stand-in's table of 400 mm.",
                       "Burn a smaller sheet.");
    const bool same = request.value("piece", json("fresh")) == "same";
    if (same && !plate_)
        return failure("standin.no_plate", "No piece lies on the bench that could be burned on once more.",
                       "Design the cells for a fresh piece.");
    auto plate = burn_all(world_, nature_, *setup, steps, right + 2, low + 2);
    if (!plate)
        return tl::unexpected(plate.error());
    job->burns = std::move(plate->burns);
    plate->burns.clear();
    if (same) {
        job->plate = *plate_;
        job->plate.width_mm = std::max(plate_->width_mm, plate->width_mm);
        job->plate.height_mm = std::max(plate_->height_mm, plate->height_mm);
    } else
        job->plate = std::move(*plate);
    fault_after_.reset();
    if (const auto at = request.find("fail_at"); at != request.end() && at->is_string())
        fault_after_ = at->get<std::string>();
    for (std::size_t i = 0; i < steps.size(); ++i)
        job->total_s += job->burns[i].time_s += steps[i].rest_s;
    if (!(job->total_s <= longest_job_s))
        return failure("standin.too_long", "The job would take longer than eleven days.",
                       "Look at the speed and the hatch pitch of its recipes.");
    job_ = std::move(job);
    answer(client, protocol::Started{number, job_->total_s});
    timer_.start();
    return {};
}

void Server::step() {
    if (run_)
        return step_run();
    if (!job_ || !job_->client) {
        timer_.stop();
        job_.reset();
        return;
    }
    job_->owed_s += speed_up_ * tick_ms / 1000.0;
    std::string last;
    while (job_->next < job_->burns.size()) {
        const Burn& b = job_->burns[job_->next];
        if (fault_after_ && *fault_after_ == b.name) {
            answer(job_->client, protocol::Fault{job_->number,
                                                 0,
                                                 0,
                                                 0,
                                                 {"standin.laser_fault",
                                                  "The source reported a fault at " + b.name + ".",
                                                  "Reset the source. What was burned stays on the plate.",
                                                  {}}});
            plate_ = job_->plate;
            timer_.stop();
            job_.reset();
            return;
        }
        if (b.time_s > job_->owed_s)
            break;
        job_->owed_s -= b.time_s;
        job_->burned_s += b.time_s;
        job_->plate.burns.push_back(b);
        last = b.name;
        ++job_->next;
    }
    const bool done = job_->next >= job_->burns.size();
    const double share =
        job_->total_s > 0 ? std::min(1.0, (job_->burned_s + (done ? 0 : job_->owed_s)) / job_->total_s) : 1;
    const std::string at = done ? last : job_->burns[job_->next].name;
    answer(job_->client, protocol::Progress{job_->number, done ? 1.0 : share, at});
    if (done) {
        timer_.stop();
        plate_ = job_->plate;
        answer(job_->client, protocol::Burned{job_->number, job_->burned_s});
        job_.reset();
    }
}

void Server::cancel(QLocalSocket* client, int number) {
    // Of a job that has ended nothing is said: its end was said already.
    if (!job_ || job_->number != number || job_->client != client)
        return;
    timer_.stop();
    plate_ = job_->plate;
    job_.reset();
    answer(client, protocol::Cancelled{number});
}

Expected<void> Server::start_run(QLocalSocket* client, int number, const json& request) {
    if (job_ || run_)
        return failure("standin.busy", "The bench is burning another job.", "Wait or cancel it.");
    if (open_)
        return failure("standin.open", "The enclosure is open.", "Shut it: nothing is marked while it is open.");
    const auto text = request.find("gcode");
    if (text == request.end() || !text->is_string())
        return failure("standin.gcode", "There is no program.", "Send it as \"gcode\".");
    auto stages = stages_of(text->get_ref<const std::string&>());
    if (!stages)
        return tl::unexpected(stages.error());
    auto parts = protocol::parts_from_json(request.value("parts", json::array()));
    if (!parts)
        return tl::unexpected(parts.error());
    auto run = std::make_unique<Run>(Run{number, client, std::move(*stages), {}, Table(world_, std::move(*parts))});
    for (const Stage& s : run->stages) {
        run->takes_s.push_back(time_of(galvo_, s));
        run->total_s += run->takes_s.back();
    }
    if (!(run->total_s <= longest_job_s))
        return failure("standin.too_long", "The job would take longer than eleven days.", "Look at its feeds.");
    if (const auto at = request.find("open_at"); at != request.end() && at->is_number_integer())
        run->open_at = at->get<int>();
    run_ = std::move(run);
    answer(client, protocol::Runs{number, 0, run_->stages.front().name, 0});
    timer_.start();
    return {};
}

void Server::step_run() {
    Run& r = *run_;
    if (!r.client) {
        timer_.stop();
        run_.reset();
        return;
    }
    r.owed_s += speed_up_ * tick_ms / 1000.0;
    while (r.next < r.stages.size()) {
        const Stage& s = r.stages[r.next];
        if (s.waits && !r.went_on) {
            // Time that was owed is not saved up while people work.
            r.owed_s = 0;
            r.waits = true;
            timer_.stop();
            return answer(r.client, protocol::Waits{r.number, s.name});
        }
        if (!do_lines()) {
            if (r.holds)
                return;
            break;
        }
        r.went_on = false;
        r.stroke = 0;
        ++r.next;
    }
    const bool done = r.next >= r.stages.size();
    const double share = r.total_s > 0 ? std::min(1.0, (r.done_s + (done ? 0 : r.owed_s)) / r.total_s) : 1;
    answer(r.client,
           protocol::Runs{r.number, done ? 1.0 : share, done ? std::string() : r.stages[r.next].name, r.line});
    if (done) {
        timer_.stop();
        answer(r.client, protocol::Ran{r.number, false, r.table.found(r.done_s), r.line});
        run_.reset();
    }
}

bool Server::do_lines() {
    Run& r = *run_;
    const Stage& s = r.stages[r.next];
    double alone = 0;
    for (std::size_t i = 0; i < s.strokes.size(); ++i)
        alone += alone_s(s, i);
    // Corners, jumps and delays are spread over its lines.
    const double slower = alone > 0 ? r.takes_s[r.next] / alone : 0;
    if (alone <= 0) {
        if (r.takes_s[r.next] > r.owed_s)
            return false;
        r.owed_s -= r.takes_s[r.next];
        r.done_s += r.takes_s[r.next];
    }
    for (; r.stroke < s.strokes.size(); ++r.stroke) {
        const double takes = slower * alone_s(s, r.stroke);
        if (takes > r.owed_s)
            return false;
        r.owed_s -= takes;
        r.done_s += takes;
        r.table.mark(s.strokes[r.stroke]);
        r.line = s.strokes[r.stroke].of_line;
        if (r.open_at > 0 && r.line >= r.open_at) {
            ++r.stroke;
            r.open_at = 0;
            swing_door(r.client, true);
            return false;
        }
    }
    return true;
}

void Server::hold(const std::string& why) {
    run_->holds = true;
    run_->owed_s = 0;
    timer_.stop();
    answer(run_->client, protocol::Holds{run_->number, run_->line, why});
}

void Server::swing_door(QLocalSocket* client, bool open) {
    open_ = open;
    answer(client, protocol::Door{open_});
    if (open_ && run_ && run_->client && !run_->waits && !run_->holds)
        hold("The enclosure was opened.");
}

void Server::go_on(QLocalSocket* client, int number) {
    if (!run_ || run_->number != number || run_->client != client || !(run_->waits || run_->holds))
        return;
    if (open_) {
        answer(client, protocol::Holds{number, run_->line, "The enclosure is still open."});
        return;
    }
    if (run_->holds)
        run_->holds = false;
    else {
        run_->waits = false;
        run_->went_on = true;
    }
    timer_.start();
}

void Server::cancel_run(QLocalSocket* client, int number) {
    if (!run_ || run_->number != number || run_->client != client)
        return;
    timer_.stop();
    const RanJob found = run_->table.found(run_->done_s);
    const int line = run_->line;
    run_.reset();
    answer(client, protocol::Ran{number, true, found, line});
}

Expected<void> Server::photograph_plate(QLocalSocket* client, int number, const json& request) {
    const bool of_print = request.contains("print");
    if (!plate_ && !of_print)
        return failure("standin.no_plate", "Nothing has been burned yet.", "Burn a sheet first.");
    const auto shot = read_shot(request, world_.seed * 1000 + static_cast<std::uint64_t>(number));
    if (!shot)
        return tl::unexpected(shot.error());
    if (of_print) {
        const auto asked = protocol::print_from_json(request["print"]);
        if (!asked)
            return tl::unexpected(asked.error());
        if (std::max(asked->width_mm, asked->height_mm) > largest_plate_mm)
            return failure("standin.too_large", "The camera does not see a print of that size.",
                           "Print 400 mm at most.");
        Print print = printed(*asked, world_.seed);
        answer(client,
               protocol::Photo{number, encoded(photograph(print.paper, camera_, *shot)), std::move(print.measured)});
        return {};
    }
    answer(client, protocol::Photo{number, encoded(photograph(*plate_, camera_, *shot)), {}});
    return {};
}

Expected<void> Server::measure_plate(QLocalSocket* client, int number, const json& request) {
    if (!plate_)
        return failure("standin.no_plate", "Nothing has been burned yet.", "Burn a sheet first.");
    const auto at = protocol::points_from_json(request.value("at_mm", json()));
    if (!at)
        return tl::unexpected(at.error());
    Gauged g = gauged(*plate_, *at, world_.seed * 1000 + static_cast<std::uint64_t>(number));
    answer(client, protocol::Depths{number, std::move(g.depths_um), g.within_um, g.within_share});
    return {};
}

Expected<void> Server::drive_mirrors(QLocalSocket* client, int number, const json& request) {
    if (job_ || run_)
        return failure("standin.busy", "The bench is burning a job.", "Wait or cancel it.");
    const auto lines = protocol::lines_from_json(request.value("lines_mm", json()));
    if (!lines)
        return tl::unexpected(lines.error());
    std::vector<Error> faults;
    JsonFields f(request, "", faults);
    const double speed = f.number("speed_mm_s", 1, 20000);
    const int passes = f.whole("passes", 1, 1000);
    if (auto fault = first_fault(faults, "request"))
        return tl::unexpected(*fault);
    answer(client, protocol::Driven{number, driven_s(galvo_, *lines, speed, passes)});
    return {};
}

} // namespace finch::standin
