// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/scanner_fit.h"

#include <algorithm>
#include <cmath>
#include <Eigen/Dense>

namespace finch {
namespace {

constexpr int n = ScannerKnowledge::unknowns;
using Vector = Eigen::Matrix<double, n, 1>;
using Matrix = Eigen::Matrix<double, n, n>;

/// How much scanners differ from the usual one: deviations of the logarithm of jump speed, acceleration, settling,
/// settling per length, laser delays, overhead of a pass, acceleration of lines. Estimates of the trade.
const Vector usual_spread = (Vector() << 0.4, 0.6, 0.5, 0.5, 0.5, 0.7, 0.6).finished();
constexpr double stopwatch_s = 0.2, form_share = 0.01;
constexpr double other_jobs_share = 0.015; ///< by which the form fails on jobs unlike those that were timed

ScannerTiming with(const Vector& ln) {
    ScannerTiming t;
    t.jump_mm_s *= std::exp(ln[0]);
    t.acceleration_mm_s2 *= std::exp(ln[1]);
    t.settle_us *= std::exp(ln[2]);
    t.settle_most_us *= std::exp(ln[2]); // the same electronics
    t.settle_us_per_mm *= std::exp(ln[3]);
    t.on_us *= std::exp(ln[4]);
    t.off_us *= std::exp(ln[4]);
    t.pass_s *= std::exp(ln[5]);
    t.line_acceleration_mm_s2 *= std::exp(ln[6]);
    return t;
}

Vector logarithms(const ScannerTiming& t) {
    const ScannerTiming usual;
    Vector out;
    out << std::log(t.jump_mm_s / usual.jump_mm_s), std::log(t.acceleration_mm_s2 / usual.acceleration_mm_s2),
        std::log(t.settle_us / usual.settle_us), std::log(t.settle_us_per_mm / usual.settle_us_per_mm),
        std::log(t.on_us / usual.on_us), std::log(t.pass_s / usual.pass_s),
        std::log(t.line_acceleration_mm_s2 / usual.line_acceleration_mm_s2);
    return out;
}

double seconds(const Vector& ln, std::span<const ScanLoad> loads) {
    const ScannerTiming t = with(ln);
    double s = 0;
    for (const ScanLoad& load : loads)
        s += time_parts(t, load).total();
    return s;
}

Vector slope(const Vector& ln, std::span<const ScanLoad> loads) {
    constexpr double h = 1e-4;
    Vector out;
    for (int i = 0; i < n; ++i) {
        Vector up = ln, down = ln;
        up[i] += h;
        down[i] -= h;
        out[i] = (seconds(up, loads) - seconds(down, loads)) / (2 * h);
    }
    return out;
}

double deviation_s(double took) {
    return std::hypot(stopwatch_s, form_share * took);
}

/// Half the misfit of runs and prior.
double misfit(const Vector& ln, const std::vector<TimedRun>& runs) {
    double out = 0.5 * ln.cwiseQuotient(usual_spread).squaredNorm();
    for (const TimedRun& r : runs) {
        const double z = (r.took_s - seconds(ln, {&r.load, 1})) / deviation_s(r.took_s);
        out += 0.5 * z * z;
    }
    return out;
}

HatchRun line(double x, double y, double length, bool back) {
    return back ? HatchRun{{x + length, y}, {x, y}} : HatchRun{{x, y}, {x + length, y}};
}

} // namespace

ScannerKnowledge fitted(const Scanner& scanner) {
    const std::vector<TimedRun>& runs = scanner.timed;
    const Matrix prior = usual_spread.cwiseAbs2().cwiseInverse().asDiagonal();
    Vector ln = Vector::Zero();
    Matrix information = prior;
    double at = misfit(ln, runs), damping = 1e-3;
    for (int round = 0; round < 60 && !runs.empty(); ++round) {
        information = prior;
        Vector gradient = -prior * ln;
        for (const TimedRun& r : runs) {
            const double deviation = deviation_s(r.took_s);
            const Vector j = slope(ln, {&r.load, 1}) / deviation;
            information += j * j.transpose();
            gradient += j * (r.took_s - seconds(ln, {&r.load, 1})) / deviation;
        }
        Matrix damped = information;
        damped.diagonal() *= 1 + damping;
        const Vector step = damped.ldlt().solve(gradient).cwiseMax(-1.0).cwiseMin(1.0);
        const double then = misfit(ln + step, runs);
        if (then < at) {
            ln += step;
            damping = std::max(1e-9, damping / 5);
            if (at - then < 1e-10)
                break;
            at = then;
        } else if ((damping *= 8) > 1e6)
            break;
    }
    ScannerKnowledge out{with(ln), {}, runs.size(), 0, 0};
    Eigen::Map<Matrix>(out.covariance.data()) = information.inverse();
    for (std::size_t i = 0; i < runs.size(); ++i) {
        const double share = runs[i].took_s / seconds(ln, {&runs[i].load, 1}) - 1;
        if (std::abs(share) > std::abs(out.oddest_share)) {
            out.oddest = i;
            out.oddest_share = share;
        }
    }
    return out;
}

TimeBand time_of(const ScannerKnowledge& scanner, std::span<const ScanLoad> loads) {
    constexpr double nine_in_ten = 1.645;
    const Vector ln = logarithms(scanner.timing);
    TimeBand out;
    out.likely = seconds(ln, loads);
    if (out.likely <= 0)
        return out;
    const Vector j = slope(ln, loads) / out.likely; // of the logarithm: a time is never below nothing
    const double deviation = std::sqrt(std::max(0.0, j.dot(Eigen::Map<const Matrix>(scanner.covariance.data()) * j)) +
                                       other_jobs_share * other_jobs_share);
    out.low = out.likely * std::exp(-nine_in_ten * deviation);
    out.high = out.likely * std::exp(nine_in_ten * deviation);
    return out;
}

std::vector<TimingPattern> timing_patterns(double field_mm, double speed_max_mm_s) {
    // Little of their time marks: what is to be found out is the rest. Of many shapes these three, by a search over the
    // lengths of lines and jumps, leave least in doubt about jobs of other kinds.
    const double side = std::min(40.0, 0.5 * field_mm);
    std::vector<TimingPattern> out(3);
    out[0] = {"dots close together", {}, std::min(400.0, speed_max_mm_s), 5};
    const auto dots = [](TimingPattern& p, int rows, int columns, PointMm step, double length) {
        for (int row = 0; row < rows; ++row)
            for (int column = 0; column < columns; ++column)
                p.hatch.runs.push_back(line(column * step.x, row * step.y, length, false));
    };
    dots(out[0], 80, 80, {0.0125 * side, 0.0125 * side}, 0.05);
    out[1] = {"short lines", {}, std::min(2000.0, speed_max_mm_s), 20};
    for (int column = 0; column < 8; ++column)
        for (int row = 0; row < 125; ++row)
            out[1].hatch.runs.push_back(line(2.0 * column, 0.15 * row, 0.5, row % 2 == 1));
    out[2] = {"dots far apart", {}, std::min(400.0, speed_max_mm_s), 10};
    dots(out[2], 300, 2, {0.4 * side, 0.05}, 0.1);
    for (TimingPattern& p : out)
        for (std::size_t i = 0; i < p.hatch.runs.size(); ++i)
            p.hatch.line_start.push_back(i);
    return out;
}

} // namespace finch
