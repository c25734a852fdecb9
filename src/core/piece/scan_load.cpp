// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/scan_load.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace finch {

namespace {

/// Ways by their length, those of nearly the same length together.
class Ways {
public:
    void add(double mm) {
        constexpr double nothing_mm = 1e-6, ratio = 1.02;
        Kind& kind = kinds_[static_cast<int>(std::lround(std::log(std::max(mm, nothing_mm)) / std::log(ratio)))];
        kind.count += 1;
        kind.sum += mm;
    }
    [[nodiscard]] std::vector<WayCount> counts() const {
        std::vector<WayCount> out;
        for (const auto& [step, kind] : kinds_)
            out.push_back(
                {std::round(kind.sum / kind.count * 1e6) / 1e6, kind.count}); // a nanometre is enough to write
        return out;
    }

private:
    struct Kind {
        double count = 0, sum = 0;
    };
    std::map<int, Kind> kinds_;
};

/// Whether one line goes on where the other ends, with no corner that the mirrors have to stop at.
bool driven_through(const HatchRun& one, const HatchRun& two) {
    if (one.to != two.from)
        return false;
    constexpr double sharp = 0.7; // the cosine of 45 degrees
    const double ax = one.to.x - one.from.x, ay = one.to.y - one.from.y, bx = two.to.x - two.from.x,
                 by = two.to.y - two.from.y;
    return ax * bx + ay * by > sharp * std::hypot(ax, ay) * std::hypot(bx, by);
}

/// From standstill to standstill, by speeding up and slowing down evenly.
double moved_s(double mm, double speed, double acceleration) {
    return mm > speed * speed / acceleration ? mm / speed + speed / acceleration : 2 * std::sqrt(mm / acceleration);
}

} // namespace

ScanLoad load_of(const Hatch& hatch, double speed_mm_s, int passes) {
    Ways lines, jumps;
    const HatchRun* last = nullptr;
    double so_far = 0; // of lines that are driven through
    for (const HatchRun& r : hatch.runs) {
        const double length = std::hypot(r.to.x - r.from.x, r.to.y - r.from.y);
        if (last != nullptr && driven_through(*last, r))
            so_far += length;
        else {
            if (last != nullptr) {
                lines.add(so_far);
                jumps.add(std::hypot(r.from.x - last->to.x, r.from.y - last->to.y));
            }
            so_far = length;
        }
        last = &r;
    }
    if (last != nullptr)
        lines.add(so_far);
    return {speed_mm_s, lines.counts(), jumps.counts(), passes};
}

double marked_mm(const ScanLoad& load) {
    double mm = 0;
    for (const WayCount& w : load.lines)
        mm += w.mm * w.count;
    return mm;
}

TimeParts time_parts(const ScannerTiming& t, const ScanLoad& load) {
    TimeParts out;
    if (load.lines.empty())
        return out;
    const double passes = load.passes, v = load.speed_mm_s;
    for (const WayCount& w : load.lines) {
        out.marking += passes * w.count * w.mm / v;
        out.turning +=
            passes * w.count * (moved_s(w.mm, v, t.line_acceleration_mm_s2) - w.mm / v + 1e-6 * (t.on_us + t.off_us));
    }
    for (const WayCount& w : load.jumps) {
        const double settle = settle_time_s(t, w.mm);
        out.settling += passes * w.count * settle;
        out.jumping += passes * w.count * moved_s(w.mm, t.jump_mm_s, t.acceleration_mm_s2);
    }
    out.passes = passes * t.pass_s;
    return out;
}

} // namespace finch
