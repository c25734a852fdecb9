// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "demo_bench.h"
#include "piece/job_heat.h"
#include "recipe/predict.h"
#include "standin/chance.h"

#include <algorithm>
#include <catch2/catch.hpp>
#include <fmt/format.h>
#include <numeric>

using namespace finch;
using namespace finch::tests;
using finch::standin::Chance;

namespace {

/// A plate of square cells that warm each other, stepped through time: nothing of it is taken from the program.
class CellPlate {
public:
    CellPlate(const HeatPlate& p, double cell_mm) : cell_mm_(cell_mm) {
        nx_ = static_cast<int>(std::lround(p.outline.w / cell_mm));
        ny_ = static_cast<int>(std::lround(p.outline.h / cell_mm));
        const double cell_m = cell_mm * 1e-3, thick_m = p.thickness_mm * 1e-3;
        capacity_ = p.capacity_j_m3k * cell_m * cell_m * thick_m;
        between_ = p.conductivity_w_mk * thick_m / capacity_; // per second, from cell to cell
        lost_ = p.loss_w_m2k * cell_m * cell_m / capacity_;
        k_.assign(static_cast<std::size_t>(nx_ * ny_), 0);
        next_ = k_;
    }
    /// The cells of a rectangle with corners on the cells' grid.
    [[nodiscard]] std::vector<int> cells(const RectMm& r) const {
        std::vector<int> out;
        for (int y = 0; y < ny_; ++y)
            for (int x = 0; x < nx_; ++x)
                if (const double cx = (x + 0.5) * cell_mm_, cy = (y + 0.5) * cell_mm_;
                    cx > r.x && cx < r.x + r.w && cy > r.y && cy < r.y + r.h)
                    out.push_back(y * nx_ + x);
        return out;
    }
    [[nodiscard]] double mean(const std::vector<int>& where) const {
        double sum = 0;
        for (const int c : where)
            sum += k_[static_cast<std::size_t>(c)];
        return sum / static_cast<double>(where.size());
    }
    void run(double seconds, const std::vector<int>& where, double watts) {
        const double most = 0.2 / between_;
        const int steps = static_cast<int>(std::ceil(seconds / most));
        for (int i = 0; i < steps; ++i)
            step(seconds / steps, where, watts);
    }

private:
    void step(double dt, const std::vector<int>& where, double watts) {
        const double* k = k_.data();
        double* next = next_.data();
        for (int y = 0; y < ny_; ++y) {
            const int below = std::max(0, y - 1) * nx_, above = std::min(ny_ - 1, y + 1) * nx_, row = y * nx_;
            for (int x = 0; x < nx_; ++x) {
                const double here = k[row + x];
                const double in = k[row + std::max(0, x - 1)] + k[row + std::min(nx_ - 1, x + 1)] + k[below + x] +
                                  k[above + x] - 4 * here;
                next[row + x] = here + dt * (between_ * in - lost_ * here);
            }
        }
        for (const int c : where)
            next[c] += dt * watts / static_cast<double>(where.size()) / capacity_;
        std::swap(k_, next_);
    }

    int nx_ = 0, ny_ = 0;
    double cell_mm_, capacity_ = 1, between_ = 0, lost_ = 0;
    std::vector<double> k_, next_;
};

constexpr double cell_mm = 2;

struct Layout {
    HeatPlate plate;
    std::vector<RectMm> places;
    std::vector<HeatTask> tasks;
};

/// Rows of marks on thin stock, as they are drawn: each beside the last.
Layout layout(std::uint64_t seed) {
    Chance c{seed * 17};
    Layout out;
    const double w = cell_mm * std::round(c.even(15, 60)), h = cell_mm * std::round(c.even(10, 40));
    out.plate.outline = {0, 0, w, h};
    out.plate.thickness_mm = c.even(0.2, 0.8);
    out.plate.conductivity_w_mk = seed % 4 == 0 ? 115 : 16;
    out.plate.capacity_j_m3k = seed % 4 == 0 ? 3.3e6 : 4.1e6;
    out.plate.loss_w_m2k = c.even(0, 1) < 0.5 ? 30 : 60;
    const int columns = 3 + static_cast<int>(seed % 5), rows = 2 + static_cast<int>(seed % 4);
    const double share_x = c.even(0.4, 0.9), share_y = c.even(0.4, 0.9);
    for (int j = 0; j < rows; ++j)
        for (int i = 0; i < columns; ++i) {
            const auto on_grid = [](double v) { return cell_mm * std::round(v / cell_mm); };
            RectMm r{on_grid((i + 0.5 - 0.5 * share_x) * w / columns), on_grid((j + 0.5 - 0.5 * share_y) * h / rows),
                     std::max(cell_mm, on_grid(share_x * w / columns)), std::max(cell_mm, on_grid(share_y * h / rows))};
            HeatTask t;
            constexpr int n = 8;
            for (int a = 0; a < n; ++a)
                for (int b = 0; b < n; ++b)
                    t.points.push_back({r.x + (a + 0.5) * r.w / n, r.y + (b + 0.5) * r.h / n});
            t.part_mm = std::sqrt(r.w * r.h) / n;
            t.heat_w = c.even(3, 8);
            t.seconds = r.w * r.h / c.even(5, 20);
            out.places.push_back(r);
            out.tasks.push_back(std::move(t));
        }
    return out;
}

struct Seen {
    double peak_k = 0, seconds = 0;
    std::vector<double> preheat_k;
};
Seen in_cells(const Layout& l, const HeatOrder& o) {
    // Small marks need small cells; large plates would take long with them.
    CellPlate plate(l.plate, l.plate.outline.w * l.plate.outline.h < 4000 ? 0.5 * cell_mm : cell_mm);
    Seen out;
    for (std::size_t i = 0; i < o.order.size(); ++i) {
        const auto cells = plate.cells(l.places[o.order[i]]);
        plate.run(o.pause_s[i], cells, 0);
        out.preheat_k.push_back(plate.mean(cells));
        out.peak_k = std::max(out.peak_k, out.preheat_k.back());
        plate.run(l.tasks[o.order[i]].seconds, cells, l.tasks[o.order[i]].heat_w);
        out.seconds += o.pause_s[i] + l.tasks[o.order[i]].seconds;
    }
    return out;
}

} // namespace

TEST_CASE("an order halves the warmest beginning, or it is said that only pauses do, and how long", "[heat]") {
    int by_order = 0, by_pauses = 0;
    std::string told;
    for (std::uint64_t seed = 1; seed <= 20; ++seed) {
        const Layout l = layout(seed);
        const HeatPlan plan = heat_plan(l.plate, l.tasks);
        const Seen plain = in_cells(l, plan.plain), best = in_cells(l, plan.best());
        INFO("layout " << seed << ", " << word(plan.help));
        // What the program says of a beginning is what the cells say.
        for (std::size_t i = 0; i < plain.preheat_k.size(); ++i)
            CHECK(plan.plain.preheat_k[i] == Approx(plain.preheat_k[i]).epsilon(0.1).margin(1.2));
        CHECK(plan.best().peak_k == Approx(best.peak_k).epsilon(0.05).margin(0.8));
        CHECK(best.seconds == Approx(plan.best().seconds));
        if (seed % 4 == 1) {
            HeatRules tray;
            tray.parts = 6, tray.moves = 0;
            const HeatOrder in_turn = heat_plan(l.plate, l.tasks, tray).in_turn.value();
            const Seen turns = in_cells(l, in_turn);
            for (std::size_t i = 0; i < turns.preheat_k.size(); ++i)
                CHECK(in_turn.preheat_k[i] == Approx(turns.preheat_k[i]).epsilon(0.1).margin(1.2));
            CHECK(in_turn.peak_k < plan.plain.peak_k);
        }
        std::vector<std::size_t> all(l.tasks.size()), order = plan.best().order;
        std::iota(all.begin(), all.end(), std::size_t(0));
        std::sort(order.begin(), order.end());
        CHECK(order == all);
        CHECK(plan.cooler.peak_k <= plan.plain.peak_k);
        CHECK(plan.cooler.paused_s() == 0);
        CHECK(plan.clamped.peak_k < plan.plain.peak_k);
        CHECK(best.peak_k <= std::max(0.5 * plain.peak_k, 5.0) * 1.05);
        const double longer = best.seconds / plain.seconds - 1;
        if (plan.help == HeatPlan::Help::only_pauses) {
            ++by_pauses;
            CHECK(longer > 0.15);
        } else {
            ++by_order;
            CHECK(longer <= 0.15);
        }
        told +=
            fmt::format("{:2}: {:5.1f} K in {:4.0f} s -> {:5.1f} K, {:+3.0f} % ({}); clamped {:.1f} K\n", seed,
                        plain.peak_k, plain.seconds, best.peak_k, 100 * longer, word(plan.help), plan.clamped.peak_k);
    }
    INFO(told);
    CHECK(by_order >= 8);
    CHECK(by_order + by_pauses == 20);
}

TEST_CASE("heat in a plate obeys its closed forms", "[heat]") {
    HeatPlate p;
    p.outline = {-20, 5, 60, 40};
    p.thickness_mm = 0.5;
    PlateHeat plate(p);
    // The whole plate heated, with its loss: a plain exponential.
    std::vector<PointMm> everywhere;
    for (int x = 0; x < 60; ++x)
        for (int y = 0; y < 40; ++y)
            everywhere.push_back({-19.5 + x, 5.5 + y});
    const auto whole = plate.waves(everywhere, 1);
    plate.heat(plate.heating(whole, 5, 7));
    const double capacity = 4e6 * 60e-3 * 40e-3 * 0.5e-3, lost = 60.0 * 60e-3 * 40e-3;
    CHECK(plate.mean_k() == Approx(5 / lost * (1 - std::exp(-7 * lost / capacity))).epsilon(1e-9));
    CHECK(plate.rise_k(whole) == Approx(plate.mean_k()).epsilon(1e-6));
    const double before = plate.mean_k(), s = plate.wait_until_s(whole, 0.5 * before);
    plate.wait(s);
    CHECK(plate.mean_k() == Approx(0.5 * before).epsilon(1e-6));
    CHECK(s == Approx(capacity / lost * std::log(2.0)).epsilon(1e-6));
    // A point's heat without loss spreads as in a large plate: a Gaussian of variance 2 D t.
    p.loss_w_m2k = 0;
    PlateHeat open(p);
    const std::vector<PointMm> at{{10, 25}};
    open.heat(open.heating(open.waves(at, 0), 1000, 1e-3)); // one joule
    open.wait(5);
    const double d = 15 / 4e6, r = 6e-3;
    for (const double away : {0.0, r}) {
        const std::vector<PointMm> there{{10 + 1e3 * away, 25}};
        CHECK(open.rise_k(open.waves(there, 0)) ==
              Approx(1 / (4e6 * 0.5e-3) / (4 * 3.14159265358979 * d * 5) * std::exp(-away * away / (4 * d * 5)))
                  .epsilon(0.01));
    }
    // Twice as fast, and no later than the wait that is asked for where it never cools.
    CHECK(open.wait_until_s(open.waves(at, 0), 0) == 3600);
}

TEST_CASE("a job is a plate with tasks, and its order is kept in it", "[heat]") {
    const DemoBench demo;
    const Scene scene = demo.scene();
    Job job{"marks", 60, 30, demo.setup, {}, {}, {}};
    const auto square = [](double x, double y, double side) {
        return std::vector<PointMm>{{x, y}, {x + side, y}, {x + side, y + side}, {x, y + side}};
    };
    JobLayer rim{"rim", "#000", true, {}, {}, false}, dots{"dots", "#111", false, {}, {}, false}, over = dots;
    rim.region.rings = {square(0, 0, 60)};
    Recipe r;
    r.setting = {40, kilohertz(300), nanoseconds(100), mm_per_second(800), mm(0.02), 0, 2, mm(0)};
    dots.recipe = over.recipe = r;
    for (int i = 0; i < 90; ++i)
        dots.region.rings.push_back(square(2 + 5 * (i % 10), 2 + 5 * (i / 10), 3));
    over.name = "over";
    over.region.rings = {square(2.5, 2.5, 1), square(55, 55, 2)};
    job.layers = {rim, dots, over};
    const auto heat = job_heat(job, scene, ScannerTiming());
    REQUIRE(heat);
    CHECK(heat->plate.outline.w == 60);
    CHECK(heat->tasks.size() <= 60);
    CHECK(heat->tasks.size() == heat->steps.size());
    double joules = 0, seconds = 0, marking = 0;
    for (const HeatTask& t : heat->tasks) {
        joules += t.heat_w * t.seconds;
        seconds += t.seconds;
    }
    for (const JobLayer* l : {&job.layers[1], &job.layers[2]})
        marking += 2 * pass_hatch(*l, 0)->length_mm() / 800;
    const auto p = predict(scene, r, {mm(28.4), 810}).value();
    CHECK(
        joules ==
        Approx(p.mark.heat.absorptance * p.mark.heat.heat_kept * p.mark.pulse.average_power_w * marking).epsilon(0.02));
    CHECK(seconds > marking);
    // What lies over other marks waits for them.
    std::size_t waits = 0;
    for (std::size_t i = 0; i < heat->tasks.size(); ++i)
        if (heat->steps[i].layer == 2)
            waits += heat->tasks[i].after.size();
        else
            CHECK(heat->tasks[i].after.empty());
    CHECK(waits >= 1);
    const HeatPlan plan = heat_plan(heat->plate, heat->tasks);
    job.steps = steps_of(*heat, plan.paused);
    CHECK(steps_complete(job));
    std::vector<std::size_t> done_at(heat->tasks.size());
    for (std::size_t i = 0; i < plan.paused.order.size(); ++i)
        done_at[plan.paused.order[i]] = i;
    for (std::size_t i = 0; i < heat->tasks.size(); ++i)
        for (const std::size_t a : heat->tasks[i].after)
            CHECK(done_at[a] < done_at[i]);
    // Written and read it is the same; an order of another drawing is refused.
    const auto again = job_from_json(to_json(job), "job.json");
    REQUIRE(again);
    CHECK(again->steps == job.steps);
    for (const auto& spoil : std::vector<std::function<void(Job&)>>{
             [](Job& j) { j.steps.pop_back(); }, [](Job& j) { j.steps.push_back(j.steps.front()); },
             [](Job& j) { j.steps.front().layer = 9; }, [](Job& j) { j.steps.front().first_shape = 1000; },
             [](Job& j) { j.layers[1].region.rings.pop_back(); }}) {
        Job broken = job;
        spoil(broken);
        const auto refused = job_from_json(to_json(broken), "job.json");
        REQUIRE_FALSE(refused);
        CHECK(refused.error().code == "job.steps");
    }
    job.steps.clear();
    job.layers[1].guide = job.layers[2].guide = true;
    CHECK(job_heat(job, scene, ScannerTiming()).error().code == "heat.no_recipe");
}
