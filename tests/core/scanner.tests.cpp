// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/job.h"
#include "piece/scanner_fit.h"

#include "quantity/stopwatch_text.h"
#include "standin/chance.h"
#include "standin/galvo.h"

#include <algorithm>
#include <catch2/catch.hpp>
#include <fmt/format.h>
#include <numbers>

using namespace finch;
using namespace finch::standin;

namespace {

/// A job of one of four kinds: a filled bar, two-stroke letters in a row, a ring, dots in a grid.
std::vector<HatchRun> any_job(Chance& c, int kind) {
    std::vector<HatchRun> out;
    const double pitch = c.even(0.02, 0.1);
    bool back = false;
    const auto add = [&](std::vector<HatchRun> line) {
        if (back) {
            std::reverse(line.begin(), line.end());
            for (HatchRun& r : line)
                std::swap(r.from, r.to);
        }
        out.insert(out.end(), line.begin(), line.end());
        back = !back;
    };
    if (kind == 0) {
        const double w = c.even(3, 60), h = c.even(2, 20);
        for (double y = 0; y < h; y += pitch)
            add({{{0, y}, {w, y}}});
    } else if (kind == 1) {
        const int letters = static_cast<int>(c.even(5, 60));
        for (int l = 0; l < letters; ++l) {
            const double x = 3 * l, h = c.even(1, 4);
            for (double y = 0; y < h; y += pitch) {
                const double a = x + c.even(0, 0.5), b = x + 1.3;
                add({{{a, y}, {a + c.even(0.1, 0.7), y}}, {{b, y}, {b + c.even(0.1, 0.8), y}}});
            }
        }
    } else if (kind == 2) {
        const double outer = c.even(5, 30), inner = outer * c.even(0.5, 0.95);
        for (double y = -outer + pitch; y < outer; y += pitch) {
            const double o = std::sqrt(outer * outer - y * y);
            if (std::abs(y) >= inner) {
                add({{{-o, y}, {o, y}}});
                continue;
            }
            const double i = std::sqrt(inner * inner - y * y);
            add({{{-o, y}, {-i, y}}, {{i, y}, {o, y}}});
        }
    } else {
        const int dots = static_cast<int>(c.even(200, 3000)), columns = static_cast<int>(c.even(10, 60));
        const double apart = c.even(0.3, 3);
        for (int i = 0; i < dots; ++i) {
            const double x = i % columns * apart, y = i / columns * apart;
            out.push_back({{x, y}, {x + c.even(0.05, 0.3), y}});
        }
    }
    return out;
}

/// A scanner of which the three scans were timed with a stopwatch.
Scanner timed_on(const Galvo& galvo, Chance& c) {
    Scanner out;
    for (const TimingPattern& p : timing_patterns(110, 8000))
        out.timed.push_back({p.name,
                             {},
                             load_of(p.hatch, p.speed_mm_s, p.passes),
                             driven_s(galvo, p.hatch.runs, p.speed_mm_s, p.passes) + c.bell(0.15)});
    return out;
}

struct Forecasts {
    std::vector<double> off; ///< shares by which twenty other jobs are told wrong
    int held = 0;            ///< within the band
    [[nodiscard]] double median() const {
        std::vector<double> s = off;
        std::sort(s.begin(), s.end());
        return s.at(s.size() / 2);
    }
    [[nodiscard]] auto within(double share) const {
        return std::count_if(off.begin(), off.end(), [&](double o) { return o <= share; });
    }
};

Forecasts twenty_jobs(const Galvo& galvo, const Scanner& scanner, Chance c) {
    const ScannerKnowledge known = fitted(scanner);
    Forecasts out;
    for (int kind = 0; out.off.size() < 20; ++kind) {
        Hatch h{any_job(c, kind % 4), {}};
        const double speed = std::exp(c.even(std::log(100), std::log(4000)));
        const int passes = static_cast<int>(c.even(1, 12));
        const double took = driven_s(galvo, h.runs, speed, passes);
        if (took < 1.5 * passes)
            continue; // what is over in a moment nobody plans
        const ScanLoad load = load_of(h, speed, passes);
        const TimeBand band = time_of(known, {&load, 1});
        out.off.push_back(std::abs(band.likely / took - 1));
        out.held += band.low <= took && took <= band.high ? 1 : 0;
    }
    return out;
}

} // namespace

TEST_CASE("three timed runs tell what other jobs take on scanners of another form", "[scanner]") {
    // The bench that ships: every one of twenty jobs within a twentieth, half of them within a fiftieth.
    Chance first{7 * 31 + 5};
    const Galvo shipped = draw_galvo(Grade::honest, 7);
    const Forecasts there = twenty_jobs(shipped, timed_on(shipped, first), first);
    CHECK(there.within(0.05) == 20);
    CHECK(there.median() <= 0.02);
    // And any other: docs/bands.md has the numbers that this prints with -s.
    for (const auto& [grade, near, medians, held] : {std::tuple{Grade::friendly, 0.97, 0.02, 0.85},
                                                     {Grade::honest, 0.93, 0.025, 0.85},
                                                     {Grade::hard, 0.88, 0.04, 0.85}}) {
        std::size_t within = 0, untimed_within = 0, all = 0;
        int in_band = 0, untimed_in_band = 0, whole = 0;
        double worst_median = 0;
        for (std::uint64_t seed = 1; seed <= 40; ++seed) {
            const Galvo galvo = draw_galvo(grade, seed);
            Chance c{seed * 31 + 5};
            const Scanner scanner = timed_on(galvo, c);
            const Forecasts f = twenty_jobs(galvo, scanner, c), blind = twenty_jobs(galvo, Scanner(), c);
            within += static_cast<std::size_t>(f.within(0.05));
            whole += f.within(0.05) == 20 ? 1 : 0;
            untimed_within += static_cast<std::size_t>(blind.within(0.05));
            in_band += f.held;
            untimed_in_band += blind.held;
            all += f.off.size();
            worst_median = std::max(worst_median, f.median());
        }
        const auto share = [&](auto n) { return static_cast<double>(n) / static_cast<double>(all); };
        INFO(fmt::format(
            "{}: within 5 % {:.3f} (untimed {:.3f}), all twenty on {} of 40, worst median {:.4f}, in the band {:.3f} "
            "(untimed {:.3f})",
            word(grade), share(within), share(untimed_within), whole, worst_median, share(in_band),
            share(untimed_in_band)));
        CHECK(share(within) >= near);
        CHECK(worst_median <= medians);
        CHECK(share(in_band) >= held);
        CHECK(within > untimed_within);
    }
}

TEST_CASE("a fit finds the constants of a scanner of its own form, and doubts what nothing tells", "[scanner]") {
    Chance c{11};
    for (int round = 0; round < 10; ++round) {
        ScannerTiming truth;
        truth.jump_mm_s *= c.factor(0.3);
        truth.settle_us *= c.factor(0.3);
        truth.settle_most_us *= truth.settle_us / 180;
        truth.pass_s *= c.factor(0.5);
        Scanner scanner;
        for (const TimingPattern& p : timing_patterns(110, 8000)) {
            const ScanLoad load = load_of(p.hatch, p.speed_mm_s, p.passes);
            scanner.timed.push_back({p.name, {}, load, time_parts(truth, load).total()});
        }
        const ScannerKnowledge k = fitted(scanner);
        CHECK(std::abs(k.oddest_share) < 0.01);
        for (const TimedRun& run : scanner.timed) {
            const TimeBand now = time_of(k, {&run.load, 1}), before = time_of(fitted({}), {&run.load, 1});
            CHECK(now.likely == Approx(run.took_s).epsilon(0.01));
            CHECK(now.high / now.low < before.high / before.low);
        }
        // Twice the work takes twice as long, with the same doubt; nothing takes nothing.
        const ScanLoad load = scanner.timed[0].load;
        const std::vector<ScanLoad> twice{load, load};
        CHECK(time_of(k, twice).likely == Approx(2 * time_of(k, {&load, 1}).likely));
        CHECK(time_of(k, {}).high == 0);
        // A run whose time was noted wrongly stands out against a second one of its kind.
        scanner.timed.push_back(scanner.timed[2]);
        scanner.timed[2].took_s *= 1.3;
        const ScannerKnowledge torn = fitted(scanner);
        CHECK(std::abs(torn.oddest_share) > 0.05);
        CHECK(torn.oddest >= 2);
    }
    CHECK(fitted({}).timing == ScannerTiming());
    // A layer marked in another way is another scan; of very many the newest are kept, as many as a file may hold.
    const ScanLoad slow{100, {{1, 5}}, {}, 1}, quick{900, {{1, 5}}, {}, 1};
    std::vector<TimedRun> kept = with_runs({{"layer", {}, slow, 9}}, {{"layer", {}, quick, 2}, {"layer", {}, slow, 8}});
    REQUIRE(kept.size() == 2);
    CHECK(kept[1].took_s == 8);
    for (int i = 0; i < 150; ++i)
        kept = with_runs(std::move(kept), {{fmt::format("scan {}", i), {}, slow, 1.0 + i}});
    CHECK(kept.size() == most_timed_runs);
    CHECK(kept.back().took_s == 150);
}

TEST_CASE("the load of a hatch is its lines and jumps, whatever their order", "[scanner]") {
    Chance c{5};
    Hatch h{any_job(c, 2), {}};
    const ScanLoad load = load_of(h, 800, 3);
    double lines = 0, exact = 0, jumps = 0;
    const ScannerTiming t;
    for (std::size_t i = 0; i < h.runs.size(); ++i) {
        const HatchRun& r = h.runs[i];
        exact += run_time_s(t, std::hypot(r.to.x - r.from.x, r.to.y - r.from.y), 800);
        if (i > 0)
            exact += jump_time_s(t, std::hypot(r.from.x - h.runs[i - 1].to.x, r.from.y - h.runs[i - 1].to.y));
    }
    for (const WayCount& w : load.lines)
        lines += w.count;
    for (const WayCount& w : load.jumps)
        jumps += w.count;
    CHECK(lines == static_cast<double>(h.runs.size()));
    CHECK(jumps == lines - 1);
    CHECK(marked_mm(load) == Approx(h.length_mm()).epsilon(1e-6));
    const TimeParts parts = time_parts(t, load);
    CHECK(parts.total() == Approx(3 * (exact + t.pass_s)).epsilon(1e-3));
    CHECK(parts.marking == Approx(3 * h.length_mm() / 800).epsilon(1e-6));
    // A line too short for its speed is crossed sooner than a model says that grants it the whole ramp.
    const ScanLoad dot{4000, {{0.05, 1}}, {}, 1};
    CHECK(time_parts(t, dot).total() < t.pass_s + run_time_s(t, 0.05, 4000));
    CHECK(time_parts(t, {}).total() == 0);
}

TEST_CASE("a time is read as a stopwatch shows it", "[scanner]") {
    for (const auto& [text, seconds] : {std::pair{"44.7", 44.7},
                                        {" 44,7 s ", 44.7},
                                        {"1:32", 92.0},
                                        {"1:02:05.5", 3725.5},
                                        {"1 min 32", 92.0},
                                        {"2 h 5 min", 7500.0},
                                        {"2h5", 7500.0},
                                        {"90 min", 5400.0},
                                        {"0:07", 7.0}})
        CHECK(seconds_from_text(text).value_or(-1) == Approx(seconds));
    for (const char* text : {"", "soon", "0", "-3", "1:75", "1:", ":30", "1:2:3:4", "0.001", "44.7 kg", "5 s 3 min",
                             "3 min 90", "1e400", "1 2", "99999999"}) {
        INFO(text);
        const auto read = seconds_from_text(text);
        REQUIRE_FALSE(read);
        CHECK(read.error().code == "time.unreadable");
        CHECK_FALSE(read.error().fix.empty());
    }
}

TEST_CASE("contours are told as well as hatches, though mirrors slow in their bends", "[scanner]") {
    // Mostly contours: rings and squares with few lines in them.
    std::size_t within = 0, all = 0;
    double worst = 0;
    for (std::uint64_t seed = 1; seed <= 30; ++seed) {
        const Galvo galvo = draw_galvo(Grade::honest, seed);
        Chance c{seed * 17 + 3};
        const ScannerKnowledge known = fitted(timed_on(galvo, c));
        for (int kind = 0; kind < 4; ++kind) {
            JobLayer l{"rings", "#000000", false, Recipe{}, {}};
            l.contours = 4;
            l.recipe->setting.hatch_pitch = mm(0.2);
            const int corners = kind % 2 == 0 ? 180 : 4;
            for (int i = 0; i < 12; ++i) {
                auto& ring = l.region.rings.emplace_back();
                const double r = c.even(1.5, 4);
                for (int k = 0; k < corners; ++k)
                    ring.push_back({10.0 * (i % 4) + r * std::cos(2 * std::numbers::pi * k / corners),
                                    10.0 * (i / 4) + r * std::sin(2 * std::numbers::pi * k / corners)});
            }
            const Hatch h = pass_hatch(l, 0).value();
            const double speed = std::exp(c.even(std::log(200), std::log(3000)));
            const double took = driven_s(galvo, h.runs, speed, 4);
            const ScanLoad load = load_of(h, speed, 4);
            const double off = std::abs(time_of(known, {&load, 1}).likely / took - 1);
            within += off <= 0.05 ? 1 : 0;
            worst = std::max(worst, off);
            ++all;
        }
    }
    INFO(fmt::format("within 5 %: {} of {}, worst {:.3f}", within, all, worst));
    CHECK(static_cast<double>(within) >= 0.9 * static_cast<double>(all));
    CHECK(worst < 0.12);
}
