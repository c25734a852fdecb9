// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "search/next_cells.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace finch {
namespace {

constexpr std::size_t worlds_drawn = 320, worlds_at_first = 1000;
constexpr double share_on_lines = 0.8; // of the first cells
constexpr double per_damage = 0.10;
constexpr std::size_t least_first = 6, least_later = 6, least_sure = 2;
constexpr double sure_promise = 0.5;
constexpr double colour_variance = 0.7 * 0.7 + 0.6 * 0.6; // of L*, a*, b*, with the film's optics

std::size_t largest(const std::vector<double>& v) {
    return static_cast<std::size_t>(std::max_element(v.begin(), v.end()) - v.begin());
}

/// Whether two recipes differ in speed alone, and in power by a quarter at most.
bool on_one_line(const Setting& a, const Setting& b) {
    constexpr double a_quarter = 0.24; // of ln power
    return a.frequency == b.frequency && a.pulse_width == b.pulse_width && a.hatch_pitch == b.hatch_pitch &&
           a.passes == b.passes && std::abs(std::log(a.power_percent / b.power_percent)) < a_quarter;
}

/// One attempt at a design, at one level of risk.
class Design {
public:
    Design(const Goal& goal, std::span<const Trial> all, const FilmPosterior& known, int round,
           const CellBudget& budget, double risk, std::uint64_t seed)
        : goal_(goal), known_(known), damage_(known.damage()), round_(round), budget_(budget), draws_(seed) {
        const std::vector<double> danger = damage_.chances(all);
        for (std::size_t i = 0; i < all.size(); ++i)
            if (danger[i] < risk)
                kept_.push_back(i);
        left_out_ = kept_.size() < all.size();
        if (kept_.size() < 20) {
            std::vector<std::size_t> order(all.size());
            std::iota(order.begin(), order.end(), std::size_t{0});
            std::ranges::stable_sort(order, {}, [&](std::size_t i) { return danger[i]; });
            order.resize(std::min<std::size_t>(order.size(), 60));
            kept_ = order;
        }
        if (round > 0)
            screen(all, danger);
        else if (!goal.dark)
            keep_lines(all);
        for (const std::size_t i : kept_) {
            trials_.push_back(all[i]);
            danger_.push_back(danger[i]);
            cost_.push_back(cover_per_minute * all[i].seconds / 60 + per_damage * danger[i]);
            on_lines_.push_back(on_one_line(all[i].recipe.setting, all.front().recipe.setting));
        }
    }

    [[nodiscard]] bool more_if_risked() const { return left_out_; }

    NextCells run() {
        NextCells out;
        if (trials_.empty())
            return out;
        const bool lines = round_ == 0 && !goal_.dark;
        const auto worlds = known_.worlds(trials_, lines ? worlds_at_first : worlds_drawn, draws_);
        const auto spoiled = damage_.worlds(trials_, worlds.size(), draws_);
        std::vector<std::vector<double>> miss;
        for (std::size_t w = 0; w < worlds.size(); ++w) {
            std::vector<double> m(trials_.size());
            for (std::size_t i = 0; i < m.size(); ++i)
                m[i] = spoiled[w][i] ? no_mark : goal_.miss(worlds[w][i]);
            miss.push_back(std::move(m));
        }
        std::vector<std::vector<double>> value = miss;
        for (std::vector<double>& world : value) {
            // At first the nearest is looked for that each world can make, which need not be the goal itself.
            const double least = lines ? std::min(*std::ranges::min_element(world), 4 * goal_.within) : 0;
            for (double& v : world)
                v = worth(goal_, v - least);
        }
        std::vector<std::size_t> chosen = within_time(greedy_cover(
            value, cost_, budget_.most, cover_pays, lines ? cover_on_lines(value) : std::vector<std::size_t>()));
        out.for_goal = chosen.size();
        const auto reached = std::ranges::count_if(miss, [&](const std::vector<double>& world) {
            return std::ranges::any_of(chosen, [&](std::size_t k) { return world[k] < met_within * goal_.within; });
        });
        out.promise = static_cast<double>(reached) / static_cast<double>(miss.size());
        const std::size_t want = round_ == 0 ? least_first : out.promise < sure_promise ? least_later : least_sure;
        if (!chosen.empty())
            teach(chosen, std::min(want, budget_.most));
        for (const std::size_t k : chosen) {
            out.cells.push_back(kept_[k]);
            out.expected_damage += danger_[k];
            out.seconds += trials_[k].seconds;
        }
        return out;
    }

private:
    /// Cells side by side through the recipe: nothing tells yet that another one is better, and the goal is narrower
    /// than what is known of where on the lines it lies.
    [[nodiscard]] std::vector<std::size_t> cover_on_lines(const std::vector<std::vector<double>>& value) const {
        std::vector<double> cost = cost_;
        for (std::size_t i = 0; i < cost.size(); ++i)
            if (!on_lines_[i])
                cost[i] = no_mark;
        const auto most = static_cast<std::size_t>(std::lround(share_on_lines * static_cast<double>(budget_.most)));
        return greedy_cover(value, cost, most, cover_pays);
    }

    /// Every candidate on the lines, and one of three of the others: that keeps the joint draw small.
    void keep_lines(std::span<const Trial> all) {
        std::erase_if(kept_, [&](std::size_t i) {
            return i % 3 != 0 && !on_one_line(all[i].recipe.setting, all.front().recipe.setting);
        });
    }

    /// Marginal worth keeps the joint draw small: the best, and some of the rest.
    void screen(std::span<const Trial> all, const std::vector<double>& danger) {
        std::vector<double> worths(all.size(), 0.0);
        std::array<double, 9> weight{};
        double sum = 0;
        for (std::size_t z = 0; z < weight.size(); ++z)
            sum += weight[z] = std::exp(-0.5 * std::pow(-2 + 0.5 * static_cast<double>(z), 2));
        const auto modes = known_.modes();
        for (std::size_t m = 0; m < std::max<std::size_t>(modes.size(), 1); ++m) {
            const auto told = known_.told(all, m);
            for (std::size_t i = 0; i < all.size(); ++i)
                for (std::size_t z = 0; z < weight.size(); ++z) {
                    const double ln_nm = told[i].ln_nm + (-2 + 0.5 * static_cast<double>(z)) *
                                                             std::sqrt(std::max(told[i].variance, 1e-8));
                    Lab lab = known_.table().at(std::exp(std::clamp(ln_nm, 0.0, 6.9)), told[i].haze);
                    lab = {lab.l + told[i].shift.l, lab.a + told[i].shift.a, lab.b + told[i].shift.b};
                    worths[i] +=
                        (modes.empty() ? 1 : modes[m].weight) * weight[z] / sum * worth(goal_, goal_.miss(lab));
                }
        }
        std::ranges::stable_sort(kept_, std::greater{}, [&](std::size_t i) {
            return worths[i] * (1 - danger[i]) - cover_per_minute * all[i].seconds / 60;
        });
        constexpr std::size_t best = 140, every = 8;
        std::vector<std::size_t> out(kept_.begin(), kept_.begin() + static_cast<long>(std::min(best, kept_.size())));
        for (std::size_t i = best; i < kept_.size(); i += every)
            out.push_back(kept_[i]);
        kept_ = std::move(out);
    }

    std::vector<std::size_t> within_time(std::vector<std::size_t> chosen) {
        std::vector<std::size_t> out;
        for (const std::size_t k : chosen)
            if (used_s_ + trials_[k].seconds <= budget_.seconds) {
                used_s_ += trials_[k].seconds;
                out.push_back(k);
            }
        return out;
    }

    /// Fills up with the cells that tell most of the thickness of the first chosen one. Thin coloured films teach, dark
    /// and bare ones do not.
    void teach(std::vector<std::size_t>& chosen, std::size_t want) {
        if (chosen.size() >= want)
            return;
        const std::size_t n = trials_.size(), t = chosen.front();
        std::vector<double> c = known_.covariance(trials_);
        const auto told = known_.told(trials_, known_.modes().empty() ? 0 : known_.likeliest());
        std::vector<double> unread(n); // variance with which a colour tells its thickness
        for (std::size_t i = 0; i < n; ++i) {
            double precision = 0;
            for (const double z : {-1.2, -0.6, 0.0, 0.6, 1.2}) {
                const double u = std::clamp(told[i].ln_nm + z * std::sqrt(std::max(c[i * n + i], 1e-8)), 1.1, 6.9);
                const Lab a = known_.table().at(std::exp(u + 0.02), told[i].haze),
                          b = known_.table().at(std::exp(u - 0.02), told[i].haze);
                precision += 0.2 * std::pow(delta_e_ab(a, b) / 0.04, 2) / colour_variance;
            }
            unread[i] = 1 / std::max(precision, 1e-3);
        }
        const auto seen = [&](std::size_t k) {
            const std::vector<double> row(c.begin() + static_cast<long>(k * n),
                                          c.begin() + static_cast<long>((k + 1) * n));
            const double scale = 1 / (row[k] + unread[k]);
            for (std::size_t i = 0; i < n; ++i)
                for (std::size_t j = 0; j < n; ++j)
                    c[i * n + j] -= row[i] * row[j] * scale;
        };
        for (const std::size_t k : chosen)
            seen(k);
        while (chosen.size() < want) {
            std::vector<double> gain(n);
            for (std::size_t k = 0; k < n; ++k)
                gain[k] = used_s_ + trials_[k].seconds > budget_.seconds
                              ? -9
                              : c[k * n + t] * c[k * n + t] / (std::max(c[k * n + k], 1e-8) + unread[k]) /
                                        std::max(c[t * n + t], 1e-9) -
                                    2 * cost_[k] - 2 * std::max(danger_[k] - 0.05, 0.0);
            for (const std::size_t k : chosen)
                gain[k] = -9;
            const std::size_t k = largest(gain);
            if (gain[k] <= -9)
                return;
            chosen.push_back(k);
            used_s_ += trials_[k].seconds;
            seen(k);
        }
    }

    const Goal& goal_;
    const FilmPosterior& known_;
    const DamagePosterior& damage_;
    int round_;
    const CellBudget& budget_;
    Draws draws_;
    bool left_out_ = false;
    double used_s_ = 0;
    std::vector<std::size_t> kept_;
    std::vector<Trial> trials_;
    std::vector<double> danger_, cost_;
    std::vector<bool> on_lines_;
};

constexpr double read_weight = 1 / (0.7 * 0.7), model_weight = 1 / (0.8 * 0.8);
/// Of a cell that reading and model tell alike.
constexpr double understood_variance = 1 / (read_weight + model_weight) + 0.1;

/// How far all the cells of its photograph may be off together, as a deviation in each direction of CIEDE2000.
double shared_sd(const SeenCell& c) {
    constexpr double own = 0.7;
    return std::sqrt(std::max(0.0, c.read_sd * c.read_sd - own * own));
}

/// Share of colours about `middle` that meet the goal.
double chance_to_meet(const Goal& goal, const Lab& middle, double variance, double shared, Draws& draws) {
    constexpr int tries = 200;
    constexpr double step = 0.2;
    const double sd = std::sqrt(variance);
    // Of strong colours a difference counts less along the chroma, and along the hue: the same CIEDE2000 is more there.
    const double c = chroma(middle), to_a = c > 1 ? middle.a / c : 1, to_b = c > 1 ? middle.b / c : 0;
    const auto per_de = [&](double l, double a, double b) {
        return step /
               std::max(1e-3, delta_e00(middle, {middle.l + step * l, middle.a + step * a, middle.b + step * b}));
    };
    const double per_l = shared * per_de(1, 0, 0), along = shared * per_de(0, to_a, to_b),
                 across = shared * per_de(0, -to_b, to_a);
    int met = 0;
    for (int t = 0; t < tries; ++t) {
        const double l = draws.normal(), a = draws.normal(), b = draws.normal();
        Lab at{middle.l + sd * l, middle.a + sd * a, middle.b + sd * b};
        if (shared > 0) {
            const double lighter = per_l * draws.normal(), fuller = along * draws.normal(),
                         turned = across * draws.normal();
            at = {at.l + lighter, at.a + fuller * to_a - turned * to_b, at.b + fuller * to_b + turned * to_a};
        }
        met += goal.miss(at) < goal.within ? 1 : 0;
    }
    return static_cast<double>(met) / tries;
}

} // namespace

std::vector<Recipe> candidates(const Recipe& base, const Bench& bench, bool dark, std::uint64_t seed) {
    struct Range {
        Knob knob;
        double low, high;
    };
    const std::array<Range, 4> near{{{Knob::power, -0.35, 0.35},
                                     {Knob::frequency, -0.35, 0.35},
                                     {Knob::pulse_width, -0.35, 0.35},
                                     {Knob::hatch_pitch, -0.35, 0.35}}};
    const std::array<Range, 4> gentle{{{Knob::power, -0.75, 0.25},
                                       {Knob::frequency, -1.5, 0.6},
                                       {Knob::pulse_width, -1.2, 0.1},
                                       {Knob::hatch_pitch, -1.4, 0.3}}};
    constexpr std::array powers{1.0, 1.25, 0.8, 1.55, 0.64};
    constexpr double slower = 1.9, faster = 1.4;
    const int lines = dark ? 19 : 9, steps = dark ? 34 : 60;
    const auto times = [&](const Recipe& r, Knob knob, double factor) {
        const KnobLimits limits = knob_limits(bench, knob);
        // Three digits: what a person can set and read back.
        const double wanted = std::clamp(knob_value(r, knob) * factor, limits.low, limits.high);
        const double digit = std::pow(10, std::floor(std::log10(std::max(wanted, 1e-9))) - 2);
        return with_knob(r, knob, std::clamp(std::round(wanted / digit) * digit, limits.low, limits.high));
    };
    const bool turns_width = bench.source.kind == SourceKind::variable_pulse_width;
    Draws draws(seed);
    std::vector<Recipe> out;
    for (int k = 0; k < lines; ++k) {
        Recipe line = base;
        if (k < static_cast<int>(powers.size()))
            line = times(line, Knob::power, powers[static_cast<std::size_t>(k)]);
        else
            for (const Range& r : dark ? gentle : near)
                if (const double by = draws.even(r.low, r.high); r.knob != Knob::pulse_width || turns_width)
                    line = times(line, r.knob, std::exp(by));
        for (int i = 0; i < steps; ++i)
            out.push_back(times(line, Knob::scan_speed, std::exp(-slower + (slower + faster) * i / (steps - 1))));
    }
    return out;
}

double worth(const Goal& goal, double miss) {
    const double near = met_within * goal.within;
    // The tail makes the search go nearer where nothing is near yet; without it it goes for cheap, useless cells.
    return miss < near ? 1 : 0.25 / (1 + std::pow((miss - near) / (1.5 * goal.within), 2));
}

std::vector<std::size_t> greedy_cover(const std::vector<std::vector<double>>& value, std::span<const double> cost,
                                      std::size_t most, double pay_from, std::vector<std::size_t> chosen) {
    std::vector<double> best(value.size(), 0.0);
    for (std::size_t w = 0; w < value.size(); ++w)
        for (const std::size_t k : chosen)
            best[w] = std::max(best[w], value[w][k]);
    while (chosen.size() < std::min(most, cost.size())) {
        std::vector<double> gain(cost.size(), 0.0);
        for (std::size_t w = 0; w < value.size(); ++w)
            for (std::size_t k = 0; k < gain.size(); ++k)
                gain[k] += std::max(value[w][k] - best[w], 0.0);
        for (std::size_t k = 0; k < gain.size(); ++k)
            gain[k] = gain[k] / static_cast<double>(value.size()) - cost[k];
        for (const std::size_t k : chosen)
            gain[k] = -9;
        const std::size_t k = largest(gain);
        if (gain[k] < pay_from && !chosen.empty())
            break;
        chosen.push_back(k);
        for (std::size_t w = 0; w < value.size(); ++w)
            best[w] = std::max(best[w], value[w][k]);
    }
    return chosen;
}

NextCells next_cells(const Goal& goal, std::span<const Trial> candidates, const FilmPosterior& known, int round,
                     const CellBudget& budget, std::uint64_t seed) {
    // A spoiled cell is worth a twentieth of the promise: more risk is taken only where it buys more than that.
    constexpr double per_spoiled = 0.05;
    const auto balance = [](const NextCells& n) { return n.promise - per_spoiled * n.expected_damage; };
    NextCells best;
    for (const double risk : {budget.risk, std::max(budget.risk, 0.5), std::max(budget.risk, 0.8)}) {
        Design design(goal, candidates, known, round, budget, risk, seed);
        NextCells next = design.run();
        next.risk = risk;
        if (best.cells.empty() || balance(next) > balance(best))
            best = std::move(next);
        if (!design.more_if_risked() || best.promise > 0.9)
            break;
    }
    return best;
}

CellsChance chance_of(const Goal& goal, std::span<const Trial> cells, const FilmPosterior& known, std::uint64_t seed) {
    CellsChance out;
    if (cells.empty())
        return out;
    Draws draws(seed);
    const auto worlds = known.worlds(cells, worlds_drawn, draws);
    const auto spoiled = known.damage().worlds(cells, worlds.size(), draws);
    std::size_t reached = 0;
    for (std::size_t w = 0; w < worlds.size(); ++w)
        for (std::size_t i = 0; i < cells.size(); ++i)
            if (!spoiled[w][i] && goal.miss(worlds[w][i]) < met_within * goal.within) {
                ++reached;
                break;
            }
    out.promise = static_cast<double>(reached) / static_cast<double>(std::max<std::size_t>(worlds.size(), 1));
    for (const double danger : known.damage().chances(cells))
        out.expected_damage += danger;
    return out;
}

std::vector<double> beliefs(const FilmPosterior& known, const Goal& goal, std::uint64_t seed) {
    constexpr double misread_gap = 4;
    Draws draws(seed);
    const auto fitted = known.fitted();
    std::vector<double> out;
    for (std::size_t i = 0; i < known.cells().size(); ++i) {
        const SeenCell& c = known.cells()[i];
        if (c.spoiled || c.read_sd >= unread_sd) {
            out.push_back(-1);
            continue;
        }
        Lab middle = c.lab;
        double variance = 0.7 * 0.7;
        if (fitted[i]) {
            const Lab& f = *fitted[i];
            const double gap = delta_e_ab(c.lab, f);
            if (gap * gap > misread_gap * misread_gap * (0.7 * 0.7 + 0.8 * 0.8)) {
                variance = 25;
            } else {
                const auto blend = [&](double Lab::*part) {
                    return (read_weight * c.lab.*part + model_weight * f.*part) / (read_weight + model_weight);
                };
                middle = {blend(&Lab::l), blend(&Lab::a), blend(&Lab::b)};
                variance = understood_variance;
            }
        }
        // Of two that are believed alike the nearer one.
        out.push_back(chance_to_meet(goal, middle, variance, shared_sd(c), draws) - 1e-3 * goal.miss(middle));
    }
    return out;
}

double most_believable(const SeenCell& cell, const Goal& goal) {
    if (goal.dark)
        return 1;
    Draws draws(1);
    return chance_to_meet(goal, goal.lab, understood_variance, shared_sd(cell), draws);
}

} // namespace finch
