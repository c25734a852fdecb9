// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "recipe/weigh.h"

#include "physics/crew.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <mutex>

namespace finch {
namespace {

int answered(const Candidate& c, Answer answer, bool must) {
    return static_cast<int>(std::count_if(c.verdicts.begin(), c.verdicts.end(),
                                          [=](const Verdict& v) { return v.must == must && v.answer == answer; }));
}

/// Over the columns of one process that practitioners do in several ways.
std::string group_of(const PlanTask& task) {
    return rules(task.process).schools.size() > 1 && task.school != School::single
               ? fmt::format("{}: the two schools", traits(task.process).label)
               : std::string();
}

std::string lower_first(std::string s) {
    if (!s.empty())
        s[0] = static_cast<char>(std::tolower(static_cast<unsigned char>(s[0])));
    return s;
}

/// The verdict in one sentence: what it fails, musts first, or that it fails nothing.
std::string sentence_of(const Candidate& c) {
    if (!c.meets)
        return c.why_not;
    std::string musts, wishes;
    for (const Verdict& v : c.verdicts) {
        if (v.answer != Answer::fails)
            continue;
        std::string& to = v.must ? musts : wishes;
        to += (to.empty() ? "" : ", ") + lower_first(std::string(traits(v.kind).label));
    }
    if (!musts.empty())
        return fmt::format("Misses what must be: {}.", musts);
    if (!wishes.empty())
        return fmt::format("Passes every must; misses {}.", wishes);
    const bool doubt =
        std::any_of(c.verdicts.begin(), c.verdicts.end(), [](const Verdict& v) { return v.answer == Answer::unknown; });
    return doubt ? "Fails nothing; some answers need a test." : "Passes everything asked for.";
}

std::string counted(int n, const char* one) {
    return fmt::format("{} {}{}", n, one, n == 1 ? "" : "s");
}

std::string evidence_words(const Evidence& e, const Recipe& recipe) {
    switch (traits(recipe.process).proven_by) {
    case ProvenBy::power_ladders:
        return e.ladders_under(recipe.compound) > 0 ? counted(e.ladders_under(recipe.compound), "power ladder")
                                                    : "estimates, no power ladder";
    case ProvenBy::thresholds:
        return e.coat_sheets > 0 ? "physics and " + counted(e.coat_sheets, "threshold sheet")
                                 : "physics, no threshold sheet";
    case ProvenBy::depth_coupons:
        return e.depth_coupons > 0 ? fmt::format("{} depth coupons", e.depth_coupons) : "physics, no depth coupon";
    case ProvenBy::sheets:
        break;
    }
    return e.sheets > 0 ? fmt::format("physics and {} sheets", e.sheets) : "physics only";
}

/// How well a proposal answers: musts failed, then in doubt, then wishes failed, then passed; steady before fragile.
auto order(const Proposal& p) {
    const Candidate& c = p.candidate();
    return std::tuple(!c.meets, answered(c, Answer::fails, true), answered(c, Answer::unknown, true),
                      answered(c, Answer::fails, false), -p.musts_passed - p.wishes_passed, c.spread.changes_effect,
                      c.effort.seconds());
}

std::string headline_of(const Weighing& w, const Aim& aim) {
    if (w.proposals.empty())
        return "Nothing on this bench marks this stock.";
    if (aim.wishes.empty())
        return "Say what must come out: every process is then judged against it.";
    const Proposal& best = w.proposals.front();
    const Candidate& c = best.candidate();
    const std::string name = best.school_group.empty()
                                 ? best.label
                                 : fmt::format("{} {}", traits(best.task.process).label, lower_first(best.label));
    if (c.meets && answered(c, Answer::fails, true) == 0 && answered(c, Answer::fails, false) == 0)
        return fmt::format("{} fails nothing that was asked for.", name);
    if (c.meets && answered(c, Answer::fails, true) == 0)
        return fmt::format("No process passes everything. {} keeps every must.", name);
    return fmt::format("No process keeps every must. {} comes nearest.", name);
}

} // namespace

Expected<Proposal> propose(const Scene& s, const Aim& aim, const PlanTask& task, const std::stop_token& stop) {
    auto planned = plan(s, aim, task, stop);
    if (!planned)
        return tl::unexpected(planned.error());
    Proposal p;
    p.task = task;
    p.bench = s.bench.name;
    p.label = label(task, s.materials);
    p.school_group = group_of(task);
    p.plan = std::move(*planned);
    const auto better = [](const Candidate& a, const Candidate& b) {
        const auto rank = [](const Candidate& c) {
            return std::tuple(!c.meets, answered(c, Answer::fails, true), answered(c, Answer::fails, false),
                              c.spread.changes_effect, c.spread.total());
        };
        return rank(a) < rank(b);
    };
    p.chosen = static_cast<std::size_t>(std::min_element(p.plan.candidates.begin(), p.plan.candidates.end(), better) -
                                        p.plan.candidates.begin());
    const Candidate& c = p.candidate();
    p.musts_passed = answered(c, Answer::passes, true);
    p.wishes_passed = answered(c, Answer::passes, false);
    for (const Wish& w : aim.wishes)
        ++(w.must ? p.musts : p.wishes);
    p.sentence = sentence_of(c);
    p.risk = working_part_risk(s, aim, c.recipe, c.prediction);
    if (c.prediction.heat_modelled)
        p.focus_tolerance_mm = focus_tolerance_mm(s, c.recipe, c.prediction, aim.fill, c.spread.in_colour ? 4 : 0.15);
    p.durability = durability(s, c.recipe, c.prediction);
    p.rests_on = evidence_words(s.evidence, c.recipe);
    return p;
}

namespace {

/// Whether two proposals come to the same work: no knob differs by more than a fifth.
bool twins(const Proposal& a, const Proposal& b) {
    const bool cuts = traits(a.task.process).removes && traits(b.task.process).removes && a.bench == b.bench;
    const bool same_compound = a.task.process == Process::compound && b.task.process == Process::compound &&
                               a.task.compound == b.task.compound;
    if (same_compound)
        return true;
    if (!cuts)
        return false;
    for (const Knob knob :
         {Knob::power, Knob::frequency, Knob::pulse_width, Knob::scan_speed, Knob::hatch_pitch, Knob::passes}) {
        const double x = knob_value(a.candidate().recipe, knob), y = knob_value(b.candidate().recipe, knob);
        if (!(x > 0 && y > 0) || std::abs(std::log(x / y)) > std::log(1.2))
            return false;
    }
    return true;
}

/// Keeps the better of two twins, or the one of the bench one stands at if it fails no more, and lets it say where the
/// other went.
void fold_twins(std::vector<Proposal>& proposals, const std::string& own_bench) {
    for (std::size_t i = 0; i < proposals.size(); ++i) {
        for (std::size_t j = i + 1; j < proposals.size();) {
            if (!twins(proposals[i], proposals[j])) {
                ++j;
                continue;
            }
            Proposal& twin = proposals[j];
            if (twin.bench == own_bench && proposals[i].bench != own_bench &&
                twin.candidate().meets >= proposals[i].candidate().meets &&
                twin.musts_passed >= proposals[i].musts_passed && twin.wishes_passed >= proposals[i].wishes_passed) {
                twin.as_good = std::move(proposals[i].as_good);
                std::swap(proposals[i], twin);
            }
            proposals[i].as_good.push_back(twin.bench == proposals[i].bench ? twin.label : twin.bench);
            proposals.erase(proposals.begin() + static_cast<std::ptrdiff_t>(j));
        }
    }
}

/// Best first; schools of one process side by side, where the better of them stands.
void put_in_order(Weighing& out, const Aim& aim, const std::string& own_bench) {
    std::stable_sort(out.proposals.begin(), out.proposals.end(),
                     [](const Proposal& a, const Proposal& b) { return order(a) < order(b); });
    fold_twins(out.proposals, own_bench);
    for (std::size_t i = 0; i < out.proposals.size(); ++i) {
        const std::string& group = out.proposals[i].school_group;
        if (group.empty() || (i > 0 && out.proposals[i - 1].school_group == group))
            continue;
        const auto mate = std::find_if(out.proposals.begin() + static_cast<std::ptrdiff_t>(i) + 1, out.proposals.end(),
                                       [&](const Proposal& p) { return p.school_group == group; });
        if (mate != out.proposals.end())
            std::rotate(out.proposals.begin() + static_cast<std::ptrdiff_t>(i) + 1, mate, mate + 1);
    }
    out.headline = headline_of(out, aim);
}

} // namespace

namespace {

/// Ways that are weighed one after the other, because one needs what came out of another.
struct WeighingJob {
    const Bench* bench;
    std::vector<PlanTask> tasks;
    std::vector<Proposal> found = {};
};

std::vector<WeighingJob> weighing_jobs(const Scene& s, const std::vector<Bench>& others) {
    std::vector<WeighingJob> jobs;
    for (const PlanTask& task : possible_tasks(s)) {
        // The schools of annealing are compared at one dose: that of the first.
        if (task.school == School::out_of_focus && !jobs.empty())
            jobs.back().tasks.push_back(task);
        else
            jobs.push_back({&s.bench, {task}});
    }
    for (const Bench& bench : others)
        if (bench.name != s.bench.name)
            for (const PlanTask& task : possible_tasks({s.materials, s.metal, bench, s.stock, {}}))
                if (traits(task.process).works_on == WorksOn::compound)
                    jobs.push_back({&bench, {task}});
    return jobs;
}

} // namespace

Weighing weigh(const Scene& s, const Aim& aim, const std::vector<Bench>& others, int threads, const WeighingSeen& seen,
               const std::stop_token& stop) {
    Weighing out;
    for (const Process process : all_processes) {
        PlanTask task;
        task.process = process;
        if (traits(process).works_on == WorksOn::compound && !s.materials.compounds.compounds.empty())
            task.compound = s.materials.compounds.compounds.front().key;
        if (const auto can = possible(s, task); !can)
            out.impossible.emplace_back(traits(process).label, can.error().message);
    }
    out.challenges = challenges(s, aim);
    std::vector<WeighingJob> jobs = weighing_jobs(s, others);
    std::mutex shared; // over what was found, and over showing it
    const auto put_together = [&] {
        Weighing all = out;
        for (const WeighingJob& job : jobs)
            all.proposals.insert(all.proposals.end(), job.found.begin(), job.found.end());
        put_in_order(all, aim, s.bench.name);
        return all;
    };
    Crew(threads).run(static_cast<int>(jobs.size()), [&](int i) {
        WeighingJob& job = jobs[static_cast<std::size_t>(i)];
        const bool own = job.bench == &s.bench;
        const Scene there{s.materials, s.metal, *job.bench, s.stock, own ? s.evidence : Evidence{}};
        std::optional<double> dose;
        for (PlanTask task : job.tasks) {
            if (stop.stop_requested())
                return;
            task.dose_j_mm2 = dose;
            auto p = propose(there, aim, task, stop);
            if (!p)
                continue;
            if (task.school == School::in_focus)
                dose = p->candidate().prediction.mark.pattern.areal_dose_j_m2 / 1e6;
            const std::lock_guard lock(shared);
            // Asked only here, under the lock: one who was told to stop while another showed what it found adds
            // nothing, so what is given back is what was shown.
            if (stop.stop_requested())
                return;
            job.found.push_back(std::move(*p));
            if (seen)
                seen(put_together());
        }
    });
    return put_together();
}

} // namespace finch
