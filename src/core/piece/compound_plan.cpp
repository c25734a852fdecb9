// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/compound_plan.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace finch {
namespace {

constexpr int most_drawn_apart = 24; // stretches of the beam, one a piece

std::vector<StepSpan> spans_of(const CompoundStep& step, const CompoundWork& work) {
    using Kind = StepSpan::Kind;
    const double hands = (step.hands_each_s * work.pieces + step.hands_once_s) / 60;
    std::vector<StepSpan> out;
    switch (step.stage) {
    case CompoundStage::spray: {
        // What is sprayed once for all comes with the first coat; between coats it waits.
        const int coats = std::max(1, static_cast<int>(std::ceil(work.coats - 1e-9)));
        for (int i = 0; i < coats; ++i) {
            if (i > 0 && step.wait_min > 0)
                out.push_back({Kind::wait, step.wait_min});
            out.push_back({Kind::hands, step.hands_each_s * work.pieces / 60 + (i == 0 ? step.hands_once_s / 60 : 0)});
        }
        break;
    }
    case CompoundStage::mark: {
        const int drawn = std::min(work.pieces, most_drawn_apart);
        if (hands + work.load_s * work.pieces / 60 > 0)
            out.push_back({Kind::hands, hands + work.load_s * work.pieces / 60});
        for (int i = 0; i < drawn; ++i)
            out.push_back({Kind::beam, work.mark_s * work.pieces / 60 / drawn});
        break;
    }
    default:
        if (hands > 0)
            out.push_back({Kind::hands, hands});
        if (step.wait_min > 0)
            out.push_back({Kind::wait, step.wait_min});
    }
    return out;
}

} // namespace

std::string_view key(StepEvent::Kind kind) {
    constexpr std::array<std::string_view, 3> keys{"done", "skipped", "withdrawn"};
    return keys.at(static_cast<std::size_t>(kind));
}

double StepPlan::minutes() const {
    double sum = 0;
    for (const StepSpan& s : spans)
        sum += s.minutes;
    return sum;
}

double StepPlan::minutes(StepSpan::Kind kind) const {
    double sum = 0;
    for (const StepSpan& s : spans)
        sum += s.kind == kind ? s.minutes : 0;
    return sum;
}

double CompoundPlan::minutes() const {
    double sum = 0;
    for (const StepPlan& s : steps)
        sum += s.minutes();
    return sum;
}

double CompoundPlan::minutes(StepSpan::Kind kind) const {
    double sum = 0;
    for (const StepPlan& s : steps)
        sum += s.minutes(kind);
    return sum;
}

Expected<CompoundPlan> compound_plan(const CompoundConstants& c, const CompoundWork& work) {
    if (work.pieces < 1 || work.pieces > 1000)
        return failure("compound.pieces", "So many pieces cannot be sprayed together.", "Enter 1 to 1000.");
    const auto use = spray_use(c, {.coats = work.coats,
                                   .mark_width_mm = work.width_mm,
                                   .mark_height_mm = work.height_mm,
                                   .fill = std::clamp(work.fill, 1e-6, 1.0)});
    if (!use)
        return tl::unexpected(use.error());
    CompoundPlan out;
    out.spray = *use;
    out.film_g_m2 = c.dry_g_m2 * work.coats;
    const double coats = std::ceil(work.coats - 1e-9);
    for (const CompoundStep& s : c.steps) {
        out.steps.push_back({s, spans_of(s, work)});
        out.each_s += s.hands_each_s * (s.stage == CompoundStage::spray ? coats : 1);
        out.once_s += s.hands_once_s;
    }
    out.each_s += work.load_s;
    out.wash = c.wash_cost;
    out.can = use->cost_per_mark - c.wash_cost;
    out.bench = work.mark_s / 3600 * work.bench_rate_h;
    out.hands = (out.each_s + out.once_s / work.pieces) / 3600 * work.operator_rate_h;
    return out;
}

CompoundStand stand_of(const CompoundPlan& plan, const CompoundConstants& c, const std::vector<StepEvent>& events,
                       double now_min) {
    CompoundStand out;
    // The last word on each step; with one that is withdrawn all that came after it in the procedure is.
    std::vector<const StepEvent*> last(plan.steps.size(), nullptr);
    for (const StepEvent& e : events)
        for (std::size_t i = 0; i < plan.steps.size(); ++i)
            if (plan.steps[i].step.stage == e.stage) {
                last[i] = &e;
                if (e.kind == StepEvent::Kind::withdrawn)
                    std::fill(last.begin() + static_cast<std::ptrdiff_t>(i), last.end(), nullptr);
            }
    double at = 0;
    bool begun = true;
    for (std::size_t i = 0; i < plan.steps.size(); ++i) {
        LivedStep s;
        s.from_min = at;
        if (begun && last[i] != nullptr) {
            s.state = last[i]->kind == StepEvent::Kind::skipped ? StepState::skipped : StepState::done;
            s.to_min = std::max(at, last[i]->at_min);
        } else {
            if (begun) {
                out.now = i;
                s.state = StepState::now;
            }
            begun = false;
            s.to_min = at + plan.steps[i].minutes();
            if (s.state == StepState::now && !events.empty())
                s.to_min = std::max(s.to_min, now_min); // it takes longer than planned
        }
        at = s.to_min;
        out.steps.push_back(s);
    }
    for (std::size_t i = 0; i < plan.steps.size(); ++i) {
        const CompoundStage stage = plan.steps[i].step.stage;
        const bool past = out.steps[i].state == StepState::done || out.steps[i].state == StepState::skipped;
        if (stage == CompoundStage::dry) {
            out.may_mark = past;
            if (out.now == i)
                out.drying_min = std::max(0.0, now_min - out.steps[i].from_min);
        }
        if (stage == CompoundStage::mark && out.steps[i].state == StepState::done) {
            out.marked = true;
            out.unwashed_min = std::max(0.0, now_min - out.steps[i].to_min);
        }
        if (stage == CompoundStage::wash && past)
            out.unwashed_min.reset();
    }
    if (out.unwashed_min && c.wash_within_min > 0)
        out.wash_left_min = c.wash_within_min - *out.unwashed_min;
    return out;
}

} // namespace finch
