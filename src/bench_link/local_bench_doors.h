// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "bench_link/local_bench.h"

/// What each of the interfaces of a local bench asks of it.
namespace finch {

class LocalBench::Laser final : public BenchLink {
public:
    explicit Laser(LocalBench& bench) : bench_(bench) {}
    [[nodiscard]] State state() const override { return bench_.state_; }
    [[nodiscard]] QString name() const override { return bench_.name_; }
    RequestId burn(const Setup& setup, const std::vector<ToolStep>& steps, Piece piece) override {
        return bench_.burn(setup, steps, piece);
    }
    void cancel(RequestId burn) override { bench_.cancel_burn(burn); }

private:
    LocalBench& bench_;
};

class LocalBench::Eye final : public Camera {
public:
    explicit Eye(LocalBench& bench) : bench_(bench) {}
    RequestId photograph(const RectMm& white_card, double tilt_deg) override {
        return bench_.photograph(white_card, tilt_deg);
    }
    RequestId photograph_print(const ColourPrint& print) override { return bench_.photograph_print(print); }
    void cancel(RequestId shot) override { bench_.cancel_shot(shot); }

private:
    LocalBench& bench_;
};

class LocalBench::Probe final : public Gauge {
public:
    explicit Probe(LocalBench& bench) : bench_(bench) {}
    RequestId measure(const std::vector<PointMm>& at) override { return bench_.measure(at); }
    void cancel(RequestId probe) override { bench_.cancel_probe(probe); }

private:
    LocalBench& bench_;
};

class LocalBench::Galvo final : public Mirrors {
public:
    explicit Galvo(LocalBench& bench) : bench_(bench) {}
    RequestId drive(const std::vector<LineMm>& lines, double speed_mm_s, int passes) override {
        return bench_.drive(lines, speed_mm_s, passes);
    }
    void cancel(RequestId drive) override { bench_.cancel_drive(drive); }

private:
    LocalBench& bench_;
};

class LocalBench::Table final : public JobRunner {
public:
    explicit Table(LocalBench& bench) : bench_(bench) {}
    RequestId run(const std::string& gcode, const std::vector<LaidPart>& parts) override {
        return bench_.run(gcode, parts);
    }
    void hold(RequestId run) override { bench_.hold_run(run); }
    void go_on(RequestId run) override { bench_.go_on(run); }
    void cancel(RequestId run) override { bench_.cancel_run(run); }
    [[nodiscard]] std::optional<bool> open() const override { return bench_.open_; }
    [[nodiscard]] bool simulated() const override { return bench_.simulated_; }

private:
    LocalBench& bench_;
};

} // namespace finch
