// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// How much scrap a search costs: the program's search and the schools of the trade on the same simulated benches, which
// share no formula with it. The numbers of docs/search.md.
#include "hidden_bench.h"
#include "proof/designed_sheet.h"
#include "recipe/plan.h"

#include <algorithm>
#include <cstdio>
#include <cstdlib>
#include <fmt/format.h>
#include <numeric>
#include <string>

using namespace finch;
using namespace finch::study;
using standin::Grade;

namespace {

struct Result {
    bool met = false, believed = false, gave_up = false;
    double miss = no_mark;
    std::vector<double> promises;
    std::vector<bool> hits;
    int later = 0, inside = 0; ///< readings after the first round, and those in their stated 90 % band
};

/// Those three of the last sheet that look nearest; what the photograph says of the others changes with them.
void measure_nearest(HiddenBench& bench, const Goal& goal, std::vector<Burned> last, std::vector<SeenCell>& seen) {
    std::vector<std::size_t> nearest;
    for (std::size_t i = 0; i < last.size(); ++i)
        if (!last[i].spoiled) // one that the photograph tells badly is measured like any other
            nearest.push_back(i);
    std::ranges::stable_sort(nearest, {}, [&](std::size_t i) { return goal.miss(last[i].seen); });
    nearest.resize(std::min<std::size_t>(nearest.size(), 3));
    const std::size_t first = seen.size() - last.size();
    last = bench.measured(std::move(last), nearest);
    for (std::size_t i = 0; i < last.size(); ++i) {
        seen[first + i].lab = last[i].seen;
        seen[first + i].read_sd = last[i].read_sd;
    }
}

double true_miss(const Goal& goal, const Burned& b) {
    return b.spoiled ? no_mark : goal.miss(b.truth);
}

/// When a search ends: as the schools do, when the cell it picks is truly good; when it believes so itself; or that,
/// with the nearest cells of each sheet measured by instrument where no cell so photographed can be believed.
enum class Stop { truth, own, measured };

/// The program's search. The operator ticks what is visibly spoiled, as the schools' operators see it.
Result search(const Shop& shop, HiddenBench& bench, const Goal& goal, const std::vector<Trial>& all, int seed,
              Stop stop) {
    Result r;
    std::vector<SeenCell> seen;
    std::vector<Burned> burned;
    int weak = 0;
    for (int round = 0; round < 8; ++round) {
        const FilmPosterior known(shop.table, seen);
        const CellBudget budget{static_cast<std::size_t>(round == 0  ? DesignLimits().cells
                                                         : round > 2 ? 12
                                                                     : later_films)};
        const NextCells next =
            next_cells(goal, all, known, round, budget, static_cast<std::uint64_t>(seed * 100 + round));
        weak = round > 0 && next.promise < no_promise ? weak + 1 : 0;
        if (weak == 2) {
            r.gave_up = true;
            break;
        }
        const auto grid = cell_grid(next.cells.size());
        std::vector<CellPlace> places;
        std::vector<Recipe> recipes;
        std::vector<CellHeat> heats;
        std::vector<Trial> trials;
        const auto order = burn_order(grid);
        for (std::size_t i = 0; i < next.cells.size(); ++i) {
            const Trial& t = all[next.cells[i]];
            places.push_back(grid[order[i]]);
            recipes.push_back(t.recipe);
            heats.push_back({t.absorbed_w, t.seconds});
            trials.push_back(t);
        }
        const auto out = bench.sheet(recipes, places, heats);
        bench.take_frame(recipes.size());
        r.promises.push_back(next.promise);
        bool hit = false;
        for (std::size_t i = 0; i < out.size(); ++i) {
            trials[i].warmth_k = out[i].warmth_k;
            SeenCell c{trials[i], out[i].seen, out[i].read_sd, out[i].spoiled};
            if (round > 0)
                if (const auto z = known.surprise(c)) {
                    ++r.later;
                    r.inside += std::abs(*z) < 1.6449 ? 1 : 0;
                }
            hit = hit || true_miss(goal, out[i]) < goal.within;
            seen.push_back(std::move(c));
            burned.push_back(out[i]);
        }
        r.hits.push_back(hit);
        const auto most_believed = [&] {
            const auto belief = beliefs(FilmPosterior(shop.table, seen), goal, static_cast<std::uint64_t>(seed));
            const auto k = static_cast<std::size_t>(std::max_element(belief.begin(), belief.end()) - belief.begin());
            r.believed = belief[k] >= believed;
            return k;
        };
        std::size_t k = most_believed();
        if (stop == Stop::measured && !r.believed && most_believable(seen[k], goal) < believed) {
            measure_nearest(bench, goal, out, seen);
            k = most_believed();
        }
        r.miss = true_miss(goal, burned[k]);
        if (stop == Stop::truth ? r.miss < goal.within : r.believed)
            break;
    }
    r.met = r.miss < goal.within;
    return r;
}

/// Schools choose by the reading alone; what is visibly spoiled is not chosen.
std::pair<std::size_t, double> burn_grid(HiddenBench& bench, const std::vector<Recipe>& cells, std::size_t columns,
                                         const Goal& goal) {
    std::vector<CellPlace> at;
    for (std::size_t i = 0; i < cells.size(); ++i)
        at.push_back({6.0 * static_cast<double>(i % columns), 5.0 * static_cast<double>(i / columns)});
    const auto out = bench.sheet(cells, at, {});
    ProofSheet map;
    map.across.values.resize(columns);
    map.down.values.resize(cells.size() / columns);
    bench.take_plate(map);
    std::size_t best = 0;
    double least = 1e9;
    for (std::size_t i = 0; i < out.size(); ++i)
        if (const double m = out[i].spoiled || out[i].read_sd >= unread_sd ? 999 : goal.miss(out[i].seen); m < least) {
            least = m;
            best = i;
        }
    return {best, true_miss(goal, out[best])};
}

Recipe times(const Shop& shop, const Recipe& r, Knob knob, double factor) {
    const KnobLimits l = knob_limits(shop.setup.bench, knob);
    return with_knob(r, knob, std::clamp(knob_value(r, knob) * factor, l.low, l.high));
}

/// Eight by eight of speed and frequency, centred on the best and halved; after three sheets with other powers.
Result broad(const Shop& shop, HiddenBench& bench, const Goal& goal, const Recipe& base) {
    Result r;
    for (const double power : {1.0, 1.5, 1 / 1.5}) {
        Recipe centre = times(shop, base, Knob::power, power);
        double speeds = std::log(4), frequencies = std::log(2.83);
        for (int i = 0; i < 3 && bench.sheets < 6; ++i) {
            std::vector<Recipe> cells;
            for (int a = 0; a < 8; ++a)
                for (int b = 0; b < 8; ++b)
                    cells.push_back(times(shop,
                                          times(shop, centre, Knob::scan_speed, std::exp(speeds * (2 * a / 7.0 - 1))),
                                          Knob::frequency, std::exp(frequencies * (2 * b / 7.0 - 1))));
            const auto [k, miss] = burn_grid(bench, cells, 8, goal);
            r.miss = miss;
            if (r.met = miss < goal.within; r.met)
                return r;
            centre = cells[k];
            speeds /= 2;
            frequencies /= 2;
        }
    }
    return r;
}

/// One knob at a time in ten steps: speed, frequency, power, pitch, then again with half the range.
Result ladder(const Shop& shop, HiddenBench& bench, const Goal& goal, const Recipe& base) {
    constexpr std::array<std::pair<Knob, double>, 4> rungs{
        {{Knob::scan_speed, 4}, {Knob::frequency, 2.83}, {Knob::power, 1.5}, {Knob::hatch_pitch, 2}}};
    Result r;
    Recipe centre = base;
    for (int i = 0; i < 12; ++i) {
        const auto [knob, span] = rungs[static_cast<std::size_t>(i % 4)];
        const double reach = std::log(span) / (1 << (i / 4));
        std::vector<Recipe> cells;
        for (int k = 0; k < 10; ++k)
            cells.push_back(times(shop, centre, knob, std::exp(reach * (2 * k / 9.0 - 1))));
        const auto [best, miss] = burn_grid(bench, cells, 10, goal);
        r.miss = miss;
        if (r.met = miss < goal.within; r.met)
            return r;
        centre = cells[best];
    }
    return r;
}

struct Wanted {
    const char* name;
    Lab lab;
    bool dark;
};
constexpr std::array wanted{Wanted{"straw", {72, 1, 16}, false}, Wanted{"gold", {50, 9, 36}, false},
                            Wanted{"deep blue", {35, 3, -33}, false}, Wanted{"dark", {36, 0, 0}, true}};

/// Of a colour the nearest that this bench can make round the base: what cannot be reached tells nothing.
Goal reachable(const HiddenBench& bench, const Shop& shop, const Wanted& w, const Recipe& base) {
    Goal goal{w.lab, w.dark, 2};
    if (w.dark)
        return goal;
    double least = 1e9;
    for (const double power : {0.8, 1.0, 1.25})
        for (int i = 0; i <= 40; ++i) {
            const Burned b = bench.alone(
                times(shop, times(shop, base, Knob::power, power), Knob::scan_speed, std::exp(-1.5 + 3.0 * i / 40)));
            if (const double d = delta_e00(b.truth, w.lab); !b.spoiled && d < least) {
                least = d;
                goal.lab = b.truth;
            }
        }
    return goal;
}

Recipe planned(const Shop& shop, const Wanted& w) {
    Aim aim;
    Wish wish = usual_wish(w.dark ? WishKind::dark : WishKind::colour);
    wish.lab = w.lab;
    if (w.dark)
        wish.value = w.lab.l;
    aim.wishes = {wish};
    aim.fill = one_cell;
    const auto found =
        plan(shop.scene(), aim, {w.dark ? Process::anneal : Process::colour, School::single, {}, {}}).value();
    // Where a mark may spoil the metal one begins with the safest recipe.
    for (const Candidate& c : found.candidates)
        if (std::ranges::find(c.kinds, CandidateKind::safest) != c.kinds.end())
            return c.recipe;
    return found.candidates.front().recipe;
}

/// What the program begins from when the operator has the middle of every knob in hand.
Recipe blind(const Shop& shop, const Wanted& w) {
    SheetRequest request;
    request.base.process = w.dark ? Process::anneal : Process::colour;
    for (const Knob k : {Knob::power, Knob::frequency, Knob::pulse_width, Knob::scan_speed, Knob::hatch_pitch}) {
        const KnobLimits l = knob_limits(shop.setup.bench, k);
        request.base = with_knob(request.base, k, std::sqrt(std::max(l.low, 1e-3 * l.high) * l.high));
    }
    const Target target{w.name, w.lab, w.dark, 2};
    return design_next(shop.scene(), shop.setup, target, request, {}, {}, 2).value().sheet.base;
}

double median(std::vector<double> v, double at = 0.5) {
    if (v.empty())
        return 0;
    std::sort(v.begin(), v.end());
    return v[static_cast<std::size_t>(at * static_cast<double>(v.size() - 1) + 0.5)];
}

/// Whether what comes later falls into its stated 90 % band: after one sheet, on every bench alike (those that need a
/// second sheet are not the ordinary ones), near its cells and anywhere among the candidates. By the photograph, and by
/// the film that is really there, which no photograph tells.
struct Held {
    int all = 0, inside = 0;
    void add(double deviations) {
        ++all;
        inside += std::abs(deviations) < 1.6449 ? 1 : 0;
    }
    [[nodiscard]] std::string words() const {
        return fmt::format("{}/{} ({:.0f} %)", inside, all, 100.0 * inside / std::max(all, 1));
    }
};
struct BandTally {
    Held near_reading, far_reading, near_film, far_film;
};
void tally_bands(const Shop& shop, HiddenBench& bench, const Goal& goal, const std::vector<Trial>& all, int seed,
                 BandTally& out) {
    std::vector<Burned> burned;
    const auto burn = [&](const std::vector<std::size_t>& cells) {
        const auto places = cell_grid(cells.size());
        std::vector<Recipe> recipes;
        std::vector<CellHeat> heats;
        std::vector<SeenCell> seen;
        for (const std::size_t k : cells) {
            recipes.push_back(all[k].recipe);
            heats.push_back({all[k].absorbed_w, all[k].seconds});
            seen.push_back({all[k], {}, 0.7, false});
        }
        burned = bench.sheet(recipes, places, heats);
        for (std::size_t i = 0; i < cells.size(); ++i) {
            seen[i].trial.warmth_k = burned[i].warmth_k;
            seen[i].lab = burned[i].seen;
            seen[i].read_sd = burned[i].read_sd;
            seen[i].spoiled = burned[i].spoiled;
        }
        return seen;
    };
    const auto first = burn(next_cells(goal, all, FilmPosterior(shop.table, {}), 0, {DesignLimits().cells},
                                       static_cast<std::uint64_t>(seed))
                                .cells);
    const FilmPosterior known(shop.table, first);
    Draws draws(static_cast<std::uint64_t>(seed + 5000));
    std::vector<std::size_t> any;
    for (int i = 0; i < 16; ++i)
        any.push_back(static_cast<std::size_t>(draws.even() * static_cast<double>(all.size())));
    const auto later = burn(any);
    for (std::size_t i = 0; i < later.size(); ++i) {
        const SeenCell& c = later[i];
        const bool close =
            std::ranges::any_of(first, [&](const SeenCell& f) { return likeness(f.trial, c.trial) > 0.7; });
        if (const auto z = known.surprise(c))
            (close ? out.near_reading : out.far_reading).add(*z);
        const auto film = known.told({&c.trial, 1}, known.likeliest()).front();
        if (!c.spoiled && film.ln_nm > std::log(10.0))
            (close ? out.near_film : out.far_film)
                .add((std::log(burned[i].film_nm) - film.ln_nm) / known.stated_ln(c.trial, film));
    }
}

struct Row {
    std::vector<double> sheets, cells, minutes, plate;
    double damaged = 0;
    int all = 0, met = 0, within_four = 0, first = 0, believed = 0, believed_right = 0, gave_up = 0, later = 0,
        inside = 0;
    double promise = 0;
    int promises = 0, hits = 0, unread = 0, hidden = 0, by_instrument = 0;
    [[nodiscard]] double sheets_burned() const { return std::accumulate(sheets.begin(), sheets.end(), 0.0); }
    [[nodiscard]] double cells_burned() const { return std::accumulate(cells.begin(), cells.end(), 0.0); }
    void add(const Result& r, const HiddenBench& b) {
        ++all;
        met += r.met ? 1 : 0;
        within_four += r.met && b.sheets <= 4 ? 1 : 0;
        first += r.met && b.sheets == 1 ? 1 : 0;
        believed += r.believed ? 1 : 0;
        believed_right += r.believed && r.met ? 1 : 0;
        gave_up += r.gave_up ? 1 : 0;
        later += r.later;
        inside += r.inside;
        for (std::size_t i = 0; i < r.hits.size(); ++i) {
            promise += r.promises[i];
            hits += r.hits[i] ? 1 : 0;
            ++promises;
        }
        sheets.push_back(b.sheets);
        cells.push_back(static_cast<double>(b.cells_burned));
        minutes.push_back(b.marking_s / 60);
        plate.push_back(b.plate_cm2);
        damaged += b.damaged;
        unread += b.unread_photos;
        hidden += b.hidden_cells;
        by_instrument += b.by_instrument;
    }
    void print(const std::string& what) const {
        fmt::print("| {} | {}/{} | {} | {:.0f} ({:.0f}..{:.0f}) | {:.0f} ({:.0f}..{:.0f}) | {:.1f} | {:.1f} | {:.1f} |",
                   what, within_four, all, first, median(sheets), median(sheets, 0.25), median(sheets, 0.75),
                   median(cells), median(cells, 0.25), median(cells, 0.75), damaged / all, median(minutes),
                   median(plate));
        if (promises > 0)
            fmt::print(" {:.2f} / {:.2f} | {}/{} |", promise / promises, static_cast<double>(hits) / promises, inside,
                       later);
        else
            fmt::print(" | |");
        if (believed > 0)
            fmt::print(" {} of {}", believed_right, believed);
        fmt::print(" | {}\n", gave_up > 0 ? std::to_string(gave_up) + " |" : "|");
        std::fflush(stdout);
    }
};

struct Task {
    int benches = 50, seed = 1;
    std::string bench = "wren", stock = "sundial-316", goal;
    Eyes eyes = Eyes::numbers;
};

void compare(Grade grade, const Task& task) {
    const Shop shop(task.bench.c_str(), task.stock.c_str());
    for (const Wanted& w : wanted) {
        if (!task.goal.empty() && task.goal != w.name)
            continue;
        const Recipe base = planned(shop, w);
        const auto all = trials(shop.scene(), candidates(base, shop.setup.bench, w.dark), one_cell, 2);
        // Blind: nobody knows a recipe, only the metal's name; the program begins from one of its own, and is asked for
        // what this bench can make round that one.
        const Recipe unknown = blind(shop, w);
        const auto from_nothing = trials(shop.scene(), candidates(unknown, shop.setup.bench, w.dark), one_cell, 2);
        Row own, alone, helped, wide, rungs, from_blind;
        BandTally bands;
        for (int s = task.seed; s < task.seed + task.benches; ++s) {
            const auto fresh = [&] { return HiddenBench(shop, grade, static_cast<std::uint64_t>(s), task.eyes); };
            const Goal goal = reachable(fresh(), shop, w, base);
            HiddenBench a = fresh(), b = fresh(), c = fresh(), d = fresh(), e = fresh(), f = fresh();
            tally_bands(shop, e, goal, all, s, bands);
            own.add(search(shop, a, goal, all, s, Stop::truth), a);
            alone.add(search(shop, b, goal, all, s, Stop::own), b);
            if (HiddenBench g = fresh(); task.eyes != Eyes::numbers)
                helped.add(search(shop, g, goal, all, s, Stop::measured), g);
            wide.add(broad(shop, c, goal, base), c);
            rungs.add(ladder(shop, d, goal, base), d);
            from_blind.add(search(shop, f, reachable(f, shop, w, unknown), from_nothing, s, Stop::truth), f);
        }
        const std::string name = fmt::format("{}, {}, {}", standin::word(grade), task.stock, w.name);
        own.print(name + " | search");
        fmt::print("| {} | bands after one sheet | readings: near {}, far {}; film: near {}, far {} |\n", name,
                   bands.near_reading.words(), bands.far_reading.words(), bands.near_film.words(),
                   bands.far_film.words());
        alone.print(name + " | search, own stop");
        if (helped.all > 0)
            helped.print(fmt::format("{} | search, own stop, {:.1f} cells measured", name,
                                     static_cast<double>(helped.by_instrument) / helped.all));
        from_blind.print(name + " | search, blind start");
        wide.print(name + " | broad 8 x 8, halved");
        rungs.print(name + " | ladder of ten");
        if (task.eyes != Eyes::numbers)
            fmt::print("| {} | photographs that could not be read: {} of {}; cells that could not: {} of {} |\n", name,
                       own.unread + alone.unread, own.sheets_burned() + alone.sheets_burned(),
                       own.hidden + alone.hidden, own.cells_burned() + alone.cells_burned());
    }
}

} // namespace

int main(int argc, char** argv) {
    Task task;
    for (int i = 1; i + 1 < argc; i += 2) {
        const std::string option = argv[i], value = argv[i + 1];
        if (option == "--benches")
            task.benches = std::atoi(argv[i + 1]);
        else if (option == "--seed")
            task.seed = std::atoi(argv[i + 1]);
        else if (option == "--bench")
            task.bench = value;
        else if (option == "--stock")
            task.stock = value;
        else if (option == "--goal")
            task.goal = value;
        else if (option == "--eyes" && value == "photographs")
            task.eyes = Eyes::photographs;
        else if (option == "--eyes" && value == "chart")
            task.eyes = Eyes::set_right;
        else
            return fmt::print(stderr, "usage: [--benches K] [--seed N] [--bench KEY] [--stock KEY] [--goal NAME] "
                                      "[--eyes photographs|chart]\n"),
                   2;
    }
    fmt::print("| bench, stock, goal | method | met in 4 | first | sheets | cells | damaged | minutes | plate cm2 | "
               "promise / hit "
               "| in band "
               "| believed | gave up |\n|-|-|-|-|-|-|-|-|-|-|-|-|-|\n");
    for (const Grade grade : {Grade::honest, Grade::hard})
        compare(grade, task);
}
