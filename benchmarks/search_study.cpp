// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// How much scrap a search costs: the program's search and the schools of the trade on the same simulated benches, which
// share no formula with it. The numbers of docs/search.md.
#include "formats/data_folder.h"
#include "proof/designed_sheet.h"
#include "proof/layout.h"
#include "recipe/plan.h"
#include "search/burn_order.h"
#include "search/next_cells.h"
#include "standin/instrument.h"
#include "standin/plate.h"

#include <algorithm>
#include <cstdio>
#include <cstdlib>
#include <fmt/format.h>
#include <map>
#include <string>

using namespace finch;
using standin::Grade;

namespace {

constexpr double read_noise = 0.6, photo_bias = 0.6, misread_share = 0.03;
constexpr double cell_w = 5, cell_h = 4;
const Fill cell_fill{mm(cell_w), cell_w* cell_h};

struct Shop {
    Materials materials = load_materials("data").value();
    std::shared_ptr<const standin::Nature> nature =
        std::make_shared<const standin::Nature>(standin::load_nature("data").value());
    Setup setup{load_bench("data", "wren").value(), {}, {}};
    std::shared_ptr<const Metal> metal;
    std::shared_ptr<const FilmTable> table;
    Recipe labels;

    Shop(const char* bench, const char* stock) {
        setup.bench = load_bench("data", bench).value();
        setup.stock = load_stock("data", stock).value();
        metal = materials.find(setup.stock.metal).value();
        table = std::make_shared<const FilmTable>(*metal->film);
        labels = label_recipe(scene()).value();
    }
    /// Four markers and the names, in a dark mark that this metal takes.
    [[nodiscard]] double lettering_s(ProofSheet sheet) const {
        sheet.label_recipe = labels;
        return finch::lettering_s(sheet, scene());
    }
    [[nodiscard]] Scene scene() const { return {materials, *metal, setup.bench, setup.stock}; }
};

struct Burned {
    Lab seen, truth;
    bool spoiled = false;
};

/// A bench that nobody knows, and what it has cost so far.
class HiddenBench {
public:
    HiddenBench(const Shop& shop, Grade grade, std::uint64_t seed)
        : shop_(shop), world_(draw_world(grade, 900 + seed)), chance_(7000 + seed) {}

    /// One cell by itself on a cold plate, told truly: for finding out what can be reached at all.
    [[nodiscard]] Burned alone(const Recipe& r) const {
        standin::Work work(world_, shop_.nature, shop_.setup, 60, 50);
        if (!work.burn({"cell", r, {{10, 10, cell_w, cell_h}}, {}}))
            return {{}, {}, true};
        const auto& s = work.plate().burns.back().surface;
        const auto lab = standin::instrument_lab(s.reflects);
        return {{}, {lab[0], lab[1], lab[2]}, !s.whole};
    }
    /// A sheet, cell by cell in this order, and its photograph.
    std::vector<Burned> sheet(const std::vector<Recipe>& cells, const std::vector<CellPlace>& at) {
        standin::Work work(world_, shop_.nature, shop_.setup, 90, 70);
        const std::array<double, 3> bias{photo_bias * chance_.normal(), 0.7 * photo_bias * chance_.normal(),
                                         0.7 * photo_bias * chance_.normal()};
        std::vector<Burned> out;
        for (std::size_t i = 0; i < cells.size(); ++i) {
            Burned b{{}, {}, true};
            if (work.burn({"cell", cells[i], {{at[i].x_mm + 8, at[i].y_mm + 8, cell_w, cell_h}}, {}})) {
                const auto& s = work.plate().burns.back().surface;
                const auto lab = standin::instrument_lab(s.reflects);
                b.truth = {lab[0], lab[1], lab[2]};
                b.spoiled = !s.whole;
            }
            const double n = read_noise * (b.spoiled ? 3 : 1);
            b.seen = {b.truth.l + bias[0] + n * chance_.normal(), b.truth.a + bias[1] + n * chance_.normal(),
                      b.truth.b + bias[2] + n * chance_.normal()};
            if (chance_.even() < misread_share) {
                const double off = chance_.even(5, 15);
                b.seen = {b.seen.l + off, b.seen.a + 0.3 * off * chance_.normal(),
                          b.seen.b + 0.3 * off * chance_.normal()};
            }
            out.push_back(b);
            damaged += b.spoiled ? 1 : 0;
        }
        marking_s += work.clock_s();
        cells_burned += cells.size();
        ++sheets;
        return out;
    }

    /// Takes a sheet's place on the plate: of the free places of the frame that was begun, or of a new one.
    void take_frame(std::size_t cells) {
        if (free_places_ < cells) {
            ProofSheet sheet;
            sheet.own.resize(cells);
            sheet = with_frame(std::move(sheet), shop_.setup.bench).value();
            free_places_ = sheet.cells();
            take_plate(sheet);
        }
        free_places_ -= cells;
    }
    void take_plate(const ProofSheet& sheet) {
        const SheetLayout at = layout(sheet);
        plate_cm2 += at.width_mm * at.height_mm / 100;
        marking_s += shop_.lettering_s(sheet);
    }

    double marking_s = 0, plate_cm2 = 0;
    std::size_t cells_burned = 0;
    int damaged = 0, sheets = 0;

private:
    const Shop& shop_;
    standin::World world_;
    Draws chance_;
    std::size_t free_places_ = 0;
};

struct Result {
    bool met = false, believed = false, gave_up = false;
    double miss = no_mark;
    std::vector<double> promises;
    std::vector<bool> hits;
    int later = 0, inside = 0; ///< readings after the first round, and those in their stated 90 % band
};

double true_miss(const Goal& goal, const Burned& b) {
    return b.spoiled ? no_mark : goal.miss(b.truth);
}

/// The program's search. With an oracle it ends as the schools do, when the cell it picks is truly good; without, when
/// it believes so itself. The operator ticks what is visibly spoiled, as the schools' operators see it.
Result search(const Shop& shop, HiddenBench& bench, const Goal& goal, const std::vector<Trial>& all, int seed,
              bool oracle) {
    Result r;
    std::vector<SeenCell> seen;
    std::vector<Burned> burned;
    int weak = 0;
    for (int round = 0; round < 8; ++round) {
        const FilmPosterior known(shop.table, seen);
        const CellBudget budget{static_cast<std::size_t>(round == 0 || round > 2 ? 12 : 6)};
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
        const auto warmth = expected_warmth(*shop.metal, shop.setup.stock.thickness, places, heats);
        const auto out = bench.sheet(recipes, places);
        bench.take_frame(recipes.size());
        r.promises.push_back(next.promise);
        bool hit = false;
        for (std::size_t i = 0; i < out.size(); ++i) {
            trials[i].warmth_k = warmth[i];
            SeenCell c{trials[i], out[i].seen, 0.7, out[i].spoiled};
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
        const auto belief = beliefs(FilmPosterior(shop.table, seen), goal, static_cast<std::uint64_t>(seed));
        const auto k = static_cast<std::size_t>(std::max_element(belief.begin(), belief.end()) - belief.begin());
        r.miss = true_miss(goal, burned[k]);
        r.believed = belief[k] >= believed;
        if (oracle ? r.miss < goal.within : r.believed)
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
    const auto out = bench.sheet(cells, at);
    ProofSheet map;
    map.across.values.resize(columns);
    map.down.values.resize(cells.size() / columns);
    bench.take_plate(map);
    std::size_t best = 0;
    double least = 1e9;
    for (std::size_t i = 0; i < out.size(); ++i)
        if (const double m = out[i].spoiled ? 999 : goal.miss(out[i].seen); m < least) {
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
    aim.fill = cell_fill;
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

/// Whether readings fall into their stated 90 % band: after one sheet, on every bench alike (those that need a second
/// sheet are not the ordinary ones), near its cells and anywhere among the candidates.
struct BandTally {
    int near = 0, near_in = 0, far = 0, far_in = 0;
};
void tally_bands(const Shop& shop, HiddenBench& bench, const Goal& goal, const std::vector<Trial>& all, int seed,
                 BandTally& out) {
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
        const auto warmth = expected_warmth(*shop.metal, shop.setup.stock.thickness, places, heats);
        const auto burned = bench.sheet(recipes, places);
        for (std::size_t i = 0; i < cells.size(); ++i) {
            seen[i].trial.warmth_k = warmth[i];
            seen[i].lab = burned[i].seen;
            seen[i].spoiled = burned[i].spoiled;
        }
        return seen;
    };
    const auto first =
        burn(next_cells(goal, all, FilmPosterior(shop.table, {}), 0, {}, static_cast<std::uint64_t>(seed)).cells);
    const FilmPosterior known(shop.table, first);
    Draws draws(static_cast<std::uint64_t>(seed + 5000));
    std::vector<std::size_t> any;
    for (int i = 0; i < 16; ++i)
        any.push_back(static_cast<std::size_t>(draws.even() * static_cast<double>(all.size())));
    for (const SeenCell& c : burn(any))
        if (const auto z = known.surprise(c)) {
            const bool close =
                std::ranges::any_of(first, [&](const SeenCell& f) { return likeness(f.trial, c.trial) > 0.7; });
            (close ? out.near : out.far) += 1;
            (close ? out.near_in : out.far_in) += std::abs(*z) < 1.6449 ? 1 : 0;
        }
}

struct Row {
    std::vector<double> sheets, cells, minutes, plate;
    double damaged = 0;
    int all = 0, met = 0, within_four = 0, first = 0, believed = 0, believed_right = 0, gave_up = 0, later = 0,
        inside = 0;
    double promise = 0;
    int promises = 0, hits = 0;
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

void study(Grade grade, int benches, int first_seed, const char* bench_key, const char* stock,
           const std::string& only) {
    const Shop shop(bench_key, stock);
    for (const Wanted& w : wanted) {
        if (!only.empty() && only != w.name)
            continue;
        const Recipe base = planned(shop, w);
        const auto all = trials(shop.scene(), candidates(base, shop.setup.bench, w.dark), cell_fill, 2);
        // Blind: nobody knows a recipe, only the metal's name; the program begins from one of its own.
        const Recipe unknown = blind(shop, w);
        const auto from_nothing = trials(shop.scene(), candidates(unknown, shop.setup.bench, w.dark), cell_fill, 2);
        Row own, alone, wide, rungs, from_blind;
        BandTally bands;
        for (int s = first_seed; s < first_seed + benches; ++s) {
            const auto seed = static_cast<std::uint64_t>(s);
            const Goal goal = reachable(HiddenBench(shop, grade, seed), shop, w, base);
            HiddenBench a(shop, grade, seed), b(shop, grade, seed), c(shop, grade, seed), d(shop, grade, seed);
            HiddenBench e(shop, grade, seed), f(shop, grade, seed);
            tally_bands(shop, e, goal, all, s, bands);
            own.add(search(shop, a, goal, all, s, true), a);
            alone.add(search(shop, b, goal, all, s, false), b);
            wide.add(broad(shop, c, goal, base), c);
            rungs.add(ladder(shop, d, goal, base), d);
            from_blind.add(search(shop, f, goal, from_nothing, s, true), f);
        }
        const std::string name = fmt::format("{}, {}, {}", standin::word(grade), stock, w.name);
        own.print(name + " | search");
        fmt::print("| {} | bands after one sheet | near {}/{} ({:.0f} %), far {}/{} ({:.0f} %) |\n", name,
                   bands.near_in, bands.near, 100.0 * bands.near_in / std::max(bands.near, 1), bands.far_in, bands.far,
                   100.0 * bands.far_in / std::max(bands.far, 1));
        alone.print(name + " | search, own stop");
        from_blind.print(name + " | search, blind start");
        wide.print(name + " | broad 8 x 8, halved");
        rungs.print(name + " | ladder of ten");
    }
}

} // namespace

int main(int argc, char** argv) {
    int benches = 50, seed = 1;
    std::string bench = "wren", stock = "sundial-316", goal;
    for (int i = 1; i + 1 < argc; i += 2) {
        const std::string option = argv[i], value = argv[i + 1];
        if (option == "--benches")
            benches = std::atoi(argv[i + 1]);
        else if (option == "--seed")
            seed = std::atoi(argv[i + 1]);
        else if (option == "--bench")
            bench = value;
        else if (option == "--stock")
            stock = value;
        else if (option == "--goal")
            goal = value;
        else
            return fmt::print(stderr, "usage: [--benches K] [--seed N] [--bench KEY] [--stock KEY] [--goal NAME]\n"), 2;
    }
    fmt::print("| bench, stock, goal | method | met in 4 | first | sheets | cells | damaged | minutes | plate cm2 | "
               "promise / hit "
               "| in band "
               "| believed | gave up |\n|-|-|-|-|-|-|-|-|-|-|-|-|-|\n");
    for (const Grade grade : {Grade::honest, Grade::hard})
        study(grade, benches, seed, bench.c_str(), stock.c_str(), goal);
}
