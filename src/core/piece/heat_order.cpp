// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/heat_order.h"

#include <algorithm>
#include <numeric>
#include <random>

namespace finch {
namespace {

/// A task on a plate, worked out once.
struct Work {
    PlateHeat::Waves place;
    PlateHeat::Heating heating;
    double heat_j = 0, seconds = 0;
};

std::vector<Work> work_of(const PlateHeat& plate, const std::vector<HeatTask>& tasks) {
    std::vector<Work> out;
    for (const HeatTask& t : tasks) {
        Work w{plate.waves(t.points, t.part_mm), {}, t.heat_w * t.seconds, t.seconds};
        w.heating = plate.heating(w.place, t.heat_w, t.seconds);
        out.push_back(std::move(w));
    }
    return out;
}

HeatOrder followed(PlateHeat plate, const std::vector<Work>& work, const std::vector<std::size_t>& order,
                   double limit_k) {
    HeatOrder out;
    out.order = order;
    for (const std::size_t i : order) {
        double k = plate.rise_k(work[i].place), pause = 0;
        if (k > limit_k) {
            pause = plate.wait_until_s(work[i].place, limit_k);
            plate.wait(pause);
            k = plate.rise_k(work[i].place);
        }
        out.pause_s.push_back(pause);
        out.preheat_k.push_back(k);
        out.peak_k = std::max(out.peak_k, k);
        plate.heat(work[i].heating);
        out.plate_k = std::max(out.plate_k, plate.mean_k());
        out.seconds += pause + work[i].seconds;
    }
    return out;
}

/// Each task is followed by the same on the other parts, while this one cools.
HeatOrder in_turn(PlateHeat plate, const std::vector<Work>& work, const std::vector<std::size_t>& order, int parts) {
    HeatOrder out;
    out.order = order;
    double others_s = 0;
    for (const std::size_t i : order) {
        plate.wait(others_s);
        out.pause_s.push_back(others_s);
        const double k = plate.rise_k(work[i].place);
        out.preheat_k.push_back(k);
        out.peak_k = std::max(out.peak_k, k);
        plate.heat(work[i].heating);
        out.plate_k = std::max(out.plate_k, plate.mean_k());
        out.seconds += others_s + work[i].seconds;
        others_s = (parts - 1) * work[i].seconds;
    }
    return out;
}

bool ready(const HeatTask& task, const std::vector<bool>& done) {
    return std::ranges::all_of(task.after, [&](std::size_t a) { return done[a]; });
}

bool allowed(const std::vector<HeatTask>& tasks, const std::vector<std::size_t>& order) {
    std::vector<bool> done(tasks.size(), false);
    for (const std::size_t i : order) {
        if (!ready(tasks[i], done))
            return false;
        done[i] = true;
    }
    return true;
}

/// Each time the one that is coolest now; of those alike, the hottest work first, so that it has longest to cool.
std::vector<std::size_t> coolest_first(PlateHeat plate, const std::vector<HeatTask>& tasks,
                                       const std::vector<Work>& work) {
    std::vector<bool> done(tasks.size(), false);
    std::vector<std::size_t> order;
    while (order.size() < tasks.size()) {
        std::size_t best = tasks.size();
        double best_k = 0;
        for (std::size_t i = 0; i < tasks.size(); ++i) {
            if (done[i] || !ready(tasks[i], done))
                continue;
            const double k = plate.rise_k(work[i].place);
            const bool alike = best < tasks.size() && std::abs(k - best_k) < 1e-6;
            if (best == tasks.size() || (alike ? work[i].heat_j > work[best].heat_j : k < best_k)) {
                best = i;
                best_k = k;
            }
        }
        if (best == tasks.size())
            break; // rings of "after" that nobody can begin
        done[best] = true;
        order.push_back(best);
        plate.heat(work[best].heating);
    }
    return order;
}

/// What pauses would have to take away; of equals the cooler one.
double badness(const HeatOrder& o, double wanted_k) {
    double over = 0;
    for (const double k : o.preheat_k)
        over += std::max(0.0, k - wanted_k);
    return over + 0.1 * std::max(0.0, o.peak_k);
}

} // namespace

double HeatOrder::paused_s() const {
    return std::accumulate(pause_s.begin(), pause_s.end(), 0.0);
}

const HeatOrder& HeatPlan::best() const {
    switch (help) {
    case Help::none_needed:
        return plain;
    case Help::order:
        return cooler;
    case Help::order_and_short_pauses:
    case Help::only_pauses:
        return paused;
    }
    return plain;
}

std::string_view word(HeatPlan::Help help) {
    switch (help) {
    case HeatPlan::Help::none_needed:
        return "none needed";
    case HeatPlan::Help::order:
        return "order";
    case HeatPlan::Help::order_and_short_pauses:
        return "order and short pauses";
    case HeatPlan::Help::only_pauses:
        return "only pauses";
    }
    return "";
}

HeatPlan heat_plan(const HeatPlate& plate, const std::vector<HeatTask>& tasks, const HeatRules& rules) {
    constexpr double never = 1e300;
    const PlateHeat cold(plate);
    const auto work = work_of(cold, tasks);
    std::vector<std::size_t> as_they_stand(tasks.size());
    std::iota(as_they_stand.begin(), as_they_stand.end(), std::size_t(0));
    HeatPlan out;
    out.plain = followed(cold, work, as_they_stand, never);
    HeatPlate held = plate;
    held.loss_w_m2k = std::max(rules.clamped_loss, plate.loss_w_m2k);
    const PlateHeat clamped(held);
    out.clamped = followed(clamped, work_of(clamped, tasks), as_they_stand, never);
    if (rules.parts > 1)
        out.in_turn = in_turn(cold, work, as_they_stand, rules.parts);
    out.cooler = followed(cold, work, coolest_first(cold, tasks, work), never);
    const double wanted = out.wanted_k = std::max(0.5 * out.plain.peak_k, rules.harmless_k);
    if (badness(out.plain, wanted) < badness(out.cooler, wanted) || out.cooler.order.size() < tasks.size())
        out.cooler = out.plain;
    std::mt19937 chance(1); // moves are tried in the same order on every machine
    for (int move = 0; move < rules.moves && tasks.size() > 2; ++move) {
        // The warmest beginning changes places with another, or is moved elsewhere; so is any.
        std::vector<std::size_t> order = out.cooler.order;
        const auto warmest =
            static_cast<std::size_t>(std::ranges::max_element(out.cooler.preheat_k) - out.cooler.preheat_k.begin());
        const std::size_t a = move % 2 == 0 ? warmest : chance() % order.size(), b = chance() % order.size();
        if (move % 3 == 0)
            std::swap(order[a], order[b]);
        else {
            const std::size_t task = order[a];
            order.erase(order.begin() + static_cast<long>(a));
            order.insert(order.begin() + static_cast<long>(std::min(b, order.size())), task);
        }
        if (!allowed(tasks, order))
            continue;
        HeatOrder tried = followed(cold, work, order, never);
        if (badness(tried, wanted) < badness(out.cooler, wanted) - 1e-9)
            out.cooler = std::move(tried);
    }
    out.paused = followed(cold, work, out.cooler.order, wanted);
    using Help = HeatPlan::Help;
    out.help = out.plain.peak_k <= rules.harmless_k                                ? Help::none_needed
               : out.cooler.peak_k <= wanted                                       ? Help::order
               : out.paused.seconds <= (1 + rules.most_longer) * out.plain.seconds ? Help::order_and_short_pauses
                                                                                   : Help::only_pauses;
    return out;
}

} // namespace finch
