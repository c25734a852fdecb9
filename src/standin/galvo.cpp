// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/galvo.h"

#include "standin/chance.h"

#include <algorithm>

namespace finch::standin {
namespace {

/// From standstill to standstill.
double moved_s(double mm, double fastest_mm_s, double push_mm_s2) {
    const double ramps_mm = fastest_mm_s * fastest_mm_s / push_mm_s2;
    return mm >= ramps_mm ? mm / fastest_mm_s + fastest_mm_s / push_mm_s2 : 2 * std::sqrt(mm / push_mm_s2);
}

/// The same with a soft knee, which is how a line is drawn: its speed is asked for and comes late.
double drawn_s(double mm, double speed, double push_mm_s2) {
    return std::sqrt(mm * mm / (speed * speed) + 4 * mm / push_mm_s2);
}

} // namespace

Galvo draw_galvo(Grade grade, std::uint64_t seed) {
    Galvo g;
    if (seed == 0)
        return g;
    Chance chance{seed * 7907 + 13};
    const double spread = grade == Grade::hard ? 0.45 : grade == Grade::honest ? 0.3 : 0.1;
    g.jump_mm_s *= chance.factor(spread);
    g.push_mm_s2 *= chance.factor(1.2 * spread);
    g.draw_mm_s2 = g.push_mm_s2 * chance.factor(0.5 * spread);
    g.wait_us *= chance.factor(spread);
    g.wait_over_mm *= chance.factor(spread);
    g.shortest_us *= chance.factor(spread);
    const double delays = chance.factor(spread);
    g.on_us *= delays;
    g.off_us *= delays * chance.factor(0.5 * spread);
    g.turn_us *= chance.factor(spread);
    g.cold = chance.even(0, grade == Grade::hard ? 0.2 : 0.12);
    g.warm_after_s = chance.even(10, 60);
    g.tick_us = chance.even(0, 1) < 0.5 ? 10 : 20;
    g.pass_s *= chance.factor(1.5 * spread);
    g.send_us *= chance.even(0, 1.5);
    return g;
}

double driven_s(const Galvo& g, std::span<const LineMm> runs, double speed, int passes) {
    const double tick = g.tick_us * 1e-6;
    const auto on_clock = [&](double s) { return std::ceil(s / tick - 1e-9) * tick; };
    double s = 0;
    for (int pass = 0; pass < passes; ++pass) {
        s += g.pass_s + 1e-6 * g.send_us * static_cast<double>(runs.size());
        double drawn = 0; // of lines that go on into each other
        for (std::size_t i = 0; i < runs.size(); ++i) {
            const LineMm& r = runs[i];
            const double dx = r.to.x - r.from.x, dy = r.to.y - r.from.y, length = std::hypot(dx, dy);
            if (i > 0 && r.from == runs[i - 1].to) {
                // It follows a bend without stopping, the slower the sharper.
                const LineMm& b = runs[i - 1];
                const double bx = b.to.x - b.from.x, by = b.to.y - b.from.y, before = std::hypot(bx, by);
                const double turn = before > 0 && length > 0 ? 0.5 * (1 - (dx * bx + dy * by) / (before * length)) : 0;
                s += 1e-6 * g.turn_us * turn;
            } else if (i > 0) {
                const LineMm& b = runs[i - 1];
                const double bx = b.to.x - b.from.x, by = b.to.y - b.from.y, before = std::hypot(bx, by);
                const double far = std::hypot(r.from.x - b.to.x, r.from.y - b.to.y);
                const double turn = before > 0 && length > 0 ? 0.5 * (1 - (dx * bx + dy * by) / (before * length)) : 0;
                const double cold = 1 + g.cold * std::exp(-s / g.warm_after_s);
                const double wait = g.shortest_us + g.wait_us * (1 - std::exp(-far / g.wait_over_mm));
                s += on_clock(moved_s(far, g.jump_mm_s, g.push_mm_s2) + 1e-6 * cold * (wait + g.turn_us * turn));
            }
            drawn += length;
            if (i + 1 < runs.size() && runs[i + 1].from == r.to)
                continue;
            s += on_clock(drawn_s(drawn, speed, g.draw_mm_s2) + 1e-6 * (g.on_us + g.off_us));
            drawn = 0;
        }
    }
    return s;
}

} // namespace finch::standin
