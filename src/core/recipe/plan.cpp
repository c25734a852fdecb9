// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "recipe/plan.h"

#include "quantity/format.h"
#include "recipe/bounded_search.h"
#include "recipe/check.h"
#include "recipe/creep_up.h"
#include "recipe/search_space.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>

namespace finch {
namespace {

constexpr int seed_evaluations = 120, scattered_evaluations = 140, goal_evaluations = 140, wish_evaluations = 90,
              robust_evaluations = 30;
constexpr std::size_t robust_starts = 24, crowd_size = 24;
/// A recipe of the search with what is known of it.
struct Point {
    std::vector<double> x;
    double miss = 1e9;
};

tl::unexpected<Error> cancelled() {
    return failure("work.cancelled", "This was cancelled.", "Ask again.");
}

class Planner {
public:
    Planner(const Scene& scene, const Aim& aim, const PlanTask& task, std::stop_token stop)
        : scene_(scene), aim_(aim), space_(scene, aim, task), stop_(std::move(stop)) {}

    Expected<Plan> run(const PlanTask& task);

private:
    /// What a search asks of a try.
    [[nodiscard]] Expected<Prediction> tried(const Recipe& r) const {
        // The searches run on over tries that cost nothing, and are soon through.
        if (stop_.stop_requested())
            return cancelled();
        return predict(scene_, r, aim_.fill, rules(r.process).look_decides ? straight : unseen);
    }
    [[nodiscard]] double miss_at(const std::vector<double>& x) const;
    [[nodiscard]] Point start();
    /// Remembers a point of the coarse look round.
    void look_at(std::vector<Point>& tried, const std::vector<double>& x);
    /// The best point for one wish among those that do the job. Searched from all of them at once, because what
    /// does the job is often several islands and long ridges; `value` is asked of at most `most` of the coarse look.
    template <typename Value>
    [[nodiscard]] std::vector<double> best(std::vector<std::vector<double>> from, int evaluations, Value&& value,
                                           std::size_t most = 1000) const;
    [[nodiscard]] Expected<Candidate> candidate(const std::vector<double>& x) const;

    const Scene& scene_;
    const Aim& aim_;
    SearchSpace space_;
    std::stop_token stop_;
    std::vector<std::vector<double>> good_; ///< points of the coarse look round that do the job
};

double Planner::miss_at(const std::vector<double>& x) const {
    const Recipe r = space_.recipe(x);
    const auto p = tried(r);
    return p ? miss(scene_, aim_, r, *p).size : 1e6;
}

void Planner::look_at(std::vector<Point>& tried, const std::vector<double>& x) {
    tried.push_back({x, miss_at(x)});
    if (tried.back().miss <= 1e-3)
        good_.push_back(x);
}

/// Points that fill a box evenly without lining up (Halton 1960): coordinate i counts in the i-th prime.
std::vector<double> scattered(int index, std::size_t dimensions) {
    static constexpr std::array primes{2, 3, 5, 7, 11, 13, 17, 19};
    std::vector<double> x(dimensions);
    for (std::size_t i = 0; i < dimensions; ++i) {
        const int base = primes.at(i % primes.size());
        double share = 1;
        for (int n = index; n > 0; n /= base)
            x[i] += (share /= base) * (n % base);
    }
    return x;
}

Point Planner::start() {
    std::vector<Point> tried;
    const auto seeds = space_.seeds();
    const std::size_t step = std::max<std::size_t>(1, seeds.size() / seed_evaluations);
    for (std::size_t i = 0; i < seeds.size(); i += step)
        look_at(tried, seeds[i]);
    for (int i = 1; i <= scattered_evaluations; ++i)
        look_at(tried, scattered(i, seeds.front().size()));
    std::stable_sort(tried.begin(), tried.end(), [](const Point& a, const Point& b) { return a.miss < b.miss; });
    Point found = tried.front();
    // Hue repeats with the order of the film, so the nearest start may lead nowhere: try the next ones too.
    const std::size_t starts = space_.hue_repeats() ? 4 : 2;
    for (std::size_t i = 0; i < std::min(starts, tried.size()) && found.miss > 0; ++i) {
        const SearchResult r =
            minimise([this](const std::vector<double>& x) { return miss_at(x); }, tried[i].x, goal_evaluations);
        if (r.value <= 1e-3)
            good_.push_back(r.x);
        if (r.value < found.miss)
            found = {r.x, r.value};
    }
    return found;
}

template <typename Value>
std::vector<double> Planner::best(std::vector<std::vector<double>> from, int evaluations, Value&& value,
                                  std::size_t most) const {
    const auto cost = [&](const std::vector<double>& x) {
        const Recipe r = space_.recipe(x);
        const auto p = tried(r);
        if (!p)
            return 1e6;
        const double off = miss(scene_, aim_, r, *p).size;
        return off > 1e-3 ? 1e3 + 100 * off : value(r, *p);
    };
    const std::size_t step = std::max<std::size_t>(1, good_.size() / most);
    for (std::size_t i = 0; i < good_.size(); i += step)
        from.push_back(good_[i]);
    std::vector<SearchResult> crowd;
    for (std::vector<double>& x : from) {
        const double here = cost(x);
        crowd.push_back({std::move(x), here});
    }
    std::stable_sort(crowd.begin(), crowd.end(),
                     [](const SearchResult& a, const SearchResult& b) { return a.value < b.value; });
    crowd.resize(std::min(crowd.size(), crowd_size));
    const SearchResult found = follow_the_crowd(cost, crowd, 3 * evaluations);
    return minimise(cost, found.x, evaluations, 0.15).x;
}

std::string sensitivity(const DriftModel& drift, const OutcomeSpread& s) {
    const std::string_view worst = s.largest();
    const auto [size, cause] =
        worst == "focus"   ? std::pair(s.focus, fmt::format("focus ±{} mm", format_number(drift.focus_mm, 2)))
        : worst == "power" ? std::pair(s.power, fmt::format("power ±{} %", format_number(100 * drift.power, 2)))
        : worst == "thickness"
            ? std::pair(s.thickness, fmt::format("thickness ±{} %", format_number(100 * drift.thickness, 2)))
            : std::pair(s.lot, std::string("the spread between lots"));
    const char* turns = s.changes_effect ? "; an error of that size can turn it into something else" : "";
    if (s.in_colour)
        return fmt::format("{} moves it by ΔE₀₀ {}{}", cause, format_number(size, 2), turns);
    return fmt::format("{} moves it by {} %{}", cause, format_number(100 * size, 2), turns);
}

Expected<Candidate> Planner::candidate(const std::vector<double>& x) const {
    Candidate c;
    c.recipe = space_.rounded(space_.recipe(x));
    auto p = predict(scene_, c.recipe, aim_.fill);
    if (!p)
        return tl::unexpected(p.error());
    Miss off = miss(scene_, aim_, c.recipe, *p);
    if (off.size > 1e-3) {
        // Round digits may step over an edge that the exact point keeps to; one digit more often does not.
        for (const Recipe& finer : {space_.rounded(space_.recipe(x), 4), space_.recipe(x)}) {
            auto q = predict(scene_, finer, aim_.fill);
            if (!q || miss(scene_, aim_, finer, *q).size >= off.size)
                continue;
            c.recipe = finer;
            p = std::move(q);
            off = miss(scene_, aim_, finer, *p);
            if (off.size <= 1e-3)
                break;
        }
    }
    c.prediction = *p;
    c.look = appearance(scene_, c.recipe, c.prediction);
    c.effort = effort(scene_, c.recipe, c.prediction, aim_.fill);
    c.spread = outcome_spread(scene_, c.recipe, c.prediction, aim_.fill);
    c.verdicts = judge(scene_, aim_, {c.recipe, c.prediction, c.look, c.effort});
    c.margin = safety_margin(c.recipe, c.prediction);
    c.meets = off.size <= 1e-3;
    c.why_not = c.meets ? std::string() : off.why;
    c.sensitivity = sensitivity(scene_.materials.model.drift, c.spread);
    return c;
}

/// A search for one wish may pass by what is best for another: each name goes to the candidate that deserves it, and
/// the fastest comes first.
void settle_names(Plan& plan) {
    const auto give = [&](CandidateKind kind, auto&& better) {
        Candidate* best = nullptr;
        for (Candidate& c : plan.candidates)
            if (c.meets && (best == nullptr || better(c, *best)))
                best = &c;
        if (best == nullptr)
            return;
        for (Candidate& c : plan.candidates)
            std::erase(c.kinds, kind);
        best->kinds.push_back(kind);
    };
    give(CandidateKind::cheapest, [](const auto& a, const auto& b) { return a.effort.cost() < b.effort.cost(); });
    give(CandidateKind::safest, [](const auto& a, const auto& b) {
        return unease(a.margin, a.effort.seconds()) < unease(b.margin, b.effort.seconds());
    });
    give(CandidateKind::most_robust, [](const auto& a, const auto& b) {
        return unsteadiness(a.spread, a.effort.seconds()) < unsteadiness(b.spread, b.effort.seconds());
    });
    give(CandidateKind::fastest, [](const auto& a, const auto& b) { return a.effort.seconds() < b.effort.seconds(); });
    std::erase_if(plan.candidates, [](const Candidate& c) { return c.kinds.empty(); });
    for (Candidate& c : plan.candidates)
        std::sort(c.kinds.begin(), c.kinds.end());
    std::stable_sort(plan.candidates.begin(), plan.candidates.end(),
                     [](const Candidate& a, const Candidate& b) { return a.kinds.front() < b.kinds.front(); });
}

Expected<Plan> Planner::run(const PlanTask& task) {
    const Point found = start();
    Plan out{task, {}};
    const auto take = [&](const std::vector<double>& x, CandidateKind kind) -> std::optional<Error> {
        if (stop_.stop_requested())
            return cancelled().value();
        auto c = candidate(x);
        if (!c)
            return c.error();
        for (Candidate& known : out.candidates)
            if (alike(known.recipe, c->recipe) && known.meets == c->meets) {
                known.kinds.push_back(kind);
                return std::nullopt;
            }
        c->kinds.push_back(kind);
        out.candidates.push_back(std::move(*c));
        return std::nullopt;
    };
    const auto seconds = [&](const Recipe& r, const Prediction& p) {
        return std::log(effort(scene_, r, p, aim_.fill).seconds());
    };
    const auto money = [&](const Recipe& r, const Prediction& p) {
        return std::log(effort(scene_, r, p, aim_.fill).cost() + 1e-9);
    };
    const auto danger = [&](const Recipe& r, const Prediction& p) {
        return unease(safety_margin(r, p), effort(scene_, r, p, aim_.fill).seconds());
    };
    const auto swing = [&](const Recipe& r, const Prediction& p) {
        return unsteadiness(outcome_spread(scene_, r, p, aim_.fill), effort(scene_, r, p, aim_.fill).seconds());
    };
    const bool reached = found.miss <= 1e-3;
    const auto fastest = reached ? best({found.x}, wish_evaluations, seconds) : found.x;
    if (auto fault = take(fastest, CandidateKind::fastest))
        return tl::unexpected(*fault);
    if (!reached)
        return out;
    const auto safest = best({found.x}, wish_evaluations, danger);
    const auto robust = best({found.x, fastest, safest}, robust_evaluations, swing, robust_starts);
    const auto cheapest = task.process == Process::compound ? best({fastest}, wish_evaluations, money) : fastest;
    for (const auto& [x, kind] : {std::pair{&safest, CandidateKind::safest},
                                  {&robust, CandidateKind::most_robust},
                                  {&cheapest, CandidateKind::cheapest}})
        if (auto fault = take(*x, kind))
            return tl::unexpected(*fault);
    settle_names(out);
    return out;
}

} // namespace

double unease(double margin, double seconds) {
    return 0.3 * std::log(seconds) - margin;
}

double unsteadiness(const OutcomeSpread& s, double seconds) {
    // A swing that nobody sees is none; one that may turn into something else is worse than any swing of what it is.
    return (s.total() + (s.in_colour ? 0.5 : 0.02)) * std::pow(seconds, 0.2) + (s.changes_effect ? 1000 : 0);
}

bool alike(const Recipe& a, const Recipe& b) {
    const auto apart = [&](Knob knob, double ratio) {
        const double x = knob_value(a, knob), y = knob_value(b, knob);
        return x > 0 && y > 0 ? std::abs(std::log(x / y)) > std::log(ratio) : x != y;
    };
    if (apart(Knob::pulse_width, 1.1) || std::abs(in_mm(a.setting.focus_offset) - in_mm(b.setting.focus_offset)) > 0.5)
        return false;
    for (const Knob knob : {Knob::power, Knob::frequency, Knob::scan_speed, Knob::hatch_pitch, Knob::passes})
        if (apart(knob, 1.25))
            return false;
    return a.process == b.process && a.compound == b.compound && a.coats == b.coats;
}

std::string_view word(CandidateKind kind) {
    switch (kind) {
    case CandidateKind::fastest:
        return "fastest";
    case CandidateKind::safest:
        return "safest";
    case CandidateKind::most_robust:
        return "most robust";
    case CandidateKind::cheapest:
        return "cheapest";
    }
    return "";
}

std::string label(const PlanTask& task, const Materials& materials) {
    if (task.school != School::single)
        return std::string(rules(task.process, task.school).label);
    if (const CompoundConstants* c = materials.compounds.compound(task.compound))
        return c->name;
    return std::string(traits(task.process).label);
}

Expected<void> possible(const Scene& s, const PlanTask& task) {
    const auto no = [](std::string why, std::string fix) {
        return failure("plan.impossible", std::move(why), std::move(fix));
    };
    const SourceKind source = s.bench.source.kind;
    const ProcessTraits& process = traits(task.process);
    if (process.works_on == WorksOn::anything)
        return {};
    if (process.works_on == WorksOn::compound) {
        const CompoundMetal* m = s.materials.compounds.metal(s.stock.metal);
        const CompoundConstants* c = s.materials.compounds.compound(task.compound);
        if (m == nullptr || c == nullptr)
            return no("Nothing is known of this compound on this material.", "Try a coupon and log it.");
        if (source == SourceKind::blue_diode)
            return no("No compound is modelled under a blue diode.", "Use a gas or a fibre laser.");
        const auto suits = suitability(*c, *m, compound_surface(s.stock.finish, s.stock.coating));
        if (!suits)
            return tl::unexpected(suits.error());
        if (suits->grade == 0)
            return no(std::string(sentence(suits->reasons.front())), "Choose another compound or another process.");
        return {};
    }
    if (s.metal.film == nullptr)
        return no(fmt::format("Nothing is predicted for {}.", s.metal.name), "Creep up on scrap, pass by pass.");
    const CoatConstants* coat = s.materials.coat(s.stock.coating);
    const bool clear_film = s.stock.coating == Coating::anodised_natural;
    if (source == SourceKind::gas && (coat == nullptr || !coat->gas || !process.takes_coat()))
        return no(clear_film ? "A white mark in a clear anodised film is not modelled."
                             : "Bare metal throws the light of a gas laser back.",
                  "Use a compound, or another bench.");
    if (source == SourceKind::blue_diode && task.process != Process::colour)
        return no("A blue diode only tints or colours metal.", "Use a pulsed fibre bench.");
    const bool coated = coat != nullptr || clear_film;
    if (process.takes_coat() && !coated)
        return no("There is no coat on this stock.", "Set the coating on the Bench station.");
    if (process.works_on == WorksOn::dyed_film && s.stock.coating != Coating::anodised)
        return no("Only a dyed anodised film bleaches.", "Strip the coat instead.");
    if ((process.works_on == WorksOn::clear_film) != clear_film && process.takes_coat())
        return no(clear_film ? "Nothing is known of how a clear anodised film comes off."
                             : "Only a clear anodised film darkens.",
                  "Set the coating on the Bench station.");
    if (!process.takes_coat() && coated)
        return no("The stock is coated.", "Strip the coat first.");
    if (process.works_on == WorksOn::oxide) {
        if (!s.metal.oxide)
            return no(fmt::format("No oxide film is known to colour {}.", s.metal.name),
                      "Try frost, engraving or a compound.");
    } else if (!s.metal.removal)
        return no(fmt::format("No removal is modelled for {}.", s.metal.name), "Run a coupon.");
    return {};
}

std::vector<PlanTask> possible_tasks(const Scene& s) {
    std::vector<PlanTask> out;
    const auto offer = [&](const PlanTask& task, bool turns_pulse_width) {
        const bool can_turn = s.bench.source.kind == SourceKind::variable_pulse_width;
        if (possible(s, task) && (can_turn || !turns_pulse_width))
            out.push_back(task);
    };
    for (const Process process : all_processes)
        switch (traits(process).works_on) {
        case WorksOn::anything: // the last resort, below
            break;
        case WorksOn::compound:
            for (const CompoundConstants& c : s.materials.compounds.compounds)
                offer({process, School::single, c.key, {}}, false);
            break;
        case WorksOn::oxide:
        case WorksOn::bare_metal:
        case WorksOn::coat:
        case WorksOn::dyed_film:
        case WorksOn::clear_film:
            for (const SchoolRules& school : rules(process).schools)
                offer({process, school.school, {}, {}}, school.turns_pulse_width);
            break;
        }
    if (out.empty())
        out.push_back({Process::creep_up, School::single, {}, {}});
    return out;
}

Expected<Plan> plan(const Scene& scene, const Aim& aim, const PlanTask& task, std::stop_token stop) {
    if (const auto can = possible(scene, task); !can)
        return tl::unexpected(can.error());
    if (task.process == Process::creep_up || (!scene.bench.source.pulsed() && task.process == Process::colour))
        return plan_by_hand(scene, aim, task);
    return Planner(scene, aim, task, std::move(stop)).run(task);
}

} // namespace finch
