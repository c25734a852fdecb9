// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/bench_json.h"
#include "bench_link/local_bench_doors.h"
#include "bench_link/protocol.h"

#include <nlohmann/json.hpp>

namespace finch {

using json = nlohmann::json;

RequestId LocalBench::burn(const Setup& setup, const std::vector<ToolStep>& steps, BenchLink::Piece piece) {
    const RequestId id = ++last_;
    if (burn_) {
        later([this, id] {
            Q_EMIT laser_->failed(id, {"bench.busy", "The bench is burning another job.", "Wait, or cancel it.", {}},
                                  false);
        });
        return id;
    }
    json list = json::array();
    for (const ToolStep& step : steps)
        list.push_back(protocol::to_json(step));
    json message{{"do", "burn"}, {"job", id}, {"setup", to_json(setup)}, {"steps", std::move(list)}};
    if (piece == BenchLink::Piece::same)
        message["piece"] = "same";
    if (fail_at_)
        message["fail_at"] = *fail_at_;
    fail_at_.reset();
    burn_ = Pending{id, QByteArray::fromStdString(protocol::to_line(message)), false};
    ensure_started();
    send_pending();
    return id;
}

void LocalBench::cancel_burn(RequestId id) {
    if (!burn_ || burn_->id != id)
        return;
    if (burn_->sent) {
        socket_.write(QByteArray::fromStdString(protocol::to_line({{"do", "cancel"}, {"job", id}})));
        socket_.flush();
        cancel_limit_.start();
        return;
    }
    burn_.reset();
    later([this, id] { Q_EMIT laser_->cancelled(id); });
}

RequestId LocalBench::photograph(const RectMm& white_card, double tilt_deg) {
    return take_shot(
        [&](RequestId id) {
            json message{{"do", "photograph"}, {"shot", id}, {"white_card_mm", protocol::to_json(white_card)}};
            if (tilt_deg > 0)
                message["tilt_deg"] = tilt_deg;
            return message;
        },
        false);
}

RequestId LocalBench::photograph_print(const ColourPrint& print) {
    return take_shot(
        [&](RequestId id) {
            return json{{"do", "photograph"}, {"shot", id}, {"print", protocol::to_json(print)}};
        },
        true);
}

RequestId LocalBench::take_shot(const std::function<json(RequestId)>& request, bool of_print) {
    const RequestId id = ++last_;
    if (shot_) {
        later([this, id] {
            Q_EMIT eye_->failed(id, {"camera.busy", "The camera is taking another photograph.", "Wait for it.", {}});
        });
        return id;
    }
    shot_ = Pending{id, QByteArray::fromStdString(protocol::to_line(request(id))), false, 0, of_print};
    ensure_started();
    send_pending();
    return id;
}

void LocalBench::cancel_shot(RequestId id) {
    if (shot_ && shot_->id == id)
        shot_.reset(); // what arrives for it later is of no request and falls on the floor
}

RequestId LocalBench::measure(const std::vector<PointMm>& at) {
    const RequestId id = ++last_;
    if (probe_ || at.empty() || at.size() > protocol::most_probed) {
        later([this, id, busy = probe_.has_value()] {
            Q_EMIT gauge_->failed(
                id,
                busy ? Error{"gauge.busy", "The gauge is measuring already.", "Wait for it.", {}}
                     : Error{"gauge.places", "The gauge measures 1 to 1000 places at a time.", "Ask for fewer.", {}});
        });
        return id;
    }
    const json message{{"do", "measure"}, {"probe", id}, {"at_mm", protocol::to_json(at)}};
    probe_ = Pending{id, QByteArray::fromStdString(protocol::to_line(message)), false, at.size()};
    ensure_started();
    send_pending();
    return id;
}

void LocalBench::cancel_probe(RequestId id) {
    if (probe_ && probe_->id == id)
        probe_.reset();
}

RequestId LocalBench::drive(const std::vector<LineMm>& lines, double speed_mm_s, int passes) {
    const RequestId id = ++last_;
    if (drive_ || lines.empty() || lines.size() > protocol::most_driven) {
        later([this, id, busy = drive_.has_value()] {
            Q_EMIT mirrors_->failed(
                id, busy ? Error{"mirrors.busy", "The mirrors are being timed already.", "Wait for it.", {}}
                         : Error{"mirrors.lines", "1 to 200000 lines are timed at a time.", "Time fewer.", {}});
        });
        return id;
    }
    const json message{{"do", "drive"},
                       {"drive", id},
                       {"lines_mm", protocol::to_json(lines)},
                       {"speed_mm_s", speed_mm_s},
                       {"passes", passes}};
    drive_ = Pending{id, QByteArray::fromStdString(protocol::to_line(message)), false};
    ensure_started();
    send_pending();
    return id;
}

void LocalBench::cancel_drive(RequestId id) {
    if (drive_ && drive_->id == id)
        drive_.reset();
}

RequestId LocalBench::run(const std::string& gcode, const std::vector<LaidPart>& parts) {
    const RequestId id = ++last_;
    if (run_ || parts.size() > protocol::most_laid || gcode.size() > protocol::longest_program) {
        later([this, id, busy = run_.has_value()] {
            Q_EMIT runner_->failed(id,
                                   busy ? Error{"bench.busy", "The bench runs another job.", "Wait, or cancel it.", {}}
                                        : Error{"bench.too_long",
                                                "A run has at most 24 MB of lines and 1000 parts.",
                                                "Run its layers one by one.",
                                                {}});
        });
        return id;
    }
    json message{{"do", "run"}, {"run", id}, {"gcode", gcode}, {"parts", protocol::to_json(parts)}};
    if (const int line = std::exchange(open_at_, 0); line > 0)
        message["open_at"] = line;
    run_ = Pending{id, QByteArray::fromStdString(protocol::to_line(message)), false};
    run_waits_ = false;
    ensure_started();
    send_pending();
    return id;
}

void LocalBench::hold_run(RequestId id) {
    if (!run_ || run_->id != id || !run_->sent || run_waits_)
        return;
    socket_.write(QByteArray::fromStdString(protocol::to_line({{"do", "hold"}, {"run", id}})));
    socket_.flush();
}

void LocalBench::swing_door(bool open) {
    if (!greeted_)
        return;
    socket_.write(QByteArray::fromStdString(protocol::to_line({{"do", "door"}, {"open", open}})));
    socket_.flush();
}

void LocalBench::go_on(RequestId id) {
    if (!run_ || run_->id != id || !run_waits_)
        return;
    run_waits_ = false;
    socket_.write(QByteArray::fromStdString(protocol::to_line({{"do", "go_on"}, {"run", id}})));
    socket_.flush();
    silence_.start();
}

void LocalBench::cancel_run(RequestId id) {
    if (!run_ || run_->id != id)
        return;
    if (run_->sent) {
        socket_.write(QByteArray::fromStdString(protocol::to_line({{"do", "cancel"}, {"run", id}})));
        socket_.flush();
        run_waits_ = false;
        cancel_limit_.start();
        return;
    }
    run_.reset();
    later([this, id] { Q_EMIT runner_->cancelled(id, 0); });
}

} // namespace finch
