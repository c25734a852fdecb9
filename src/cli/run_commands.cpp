// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/piece_commands.h"
#include "document/json_fields.h"
#include "formats/data_folder.h"
#include "formats/job_export.h"
#include "formats/run_program.h"
#include "piece/part_way.h"
#include "safety/gates.h"

#include <nlohmann/json.hpp>

namespace finch::cli {

using json = nlohmann::json;

namespace {

std::string_view word(GateVerdict verdict) {
    return verdict == GateVerdict::fine ? "fine" : verdict == GateVerdict::care ? "care" : "refused";
}

/// A job with the passes of its run, and what they are predicted in.
struct Planned {
    Job job;
    OwnScene own;
    std::vector<RunPortion> plan;
};
Expected<Planned> planned(const Context& context, const std::string& file) {
    auto job = read_job(context, file);
    auto own = job ? own_scene(context.materials, job->setup, {}) : Expected<OwnScene>(tl::unexpected(job.error()));
    if (!own)
        return tl::unexpected(own.error());
    return run_plan(*job, fitted(job->setup.bench.scanner)).map([&](std::vector<RunPortion> plan) {
        return Planned{std::move(*job), std::move(*own), std::move(plan)};
    });
}

} // namespace

Expected<json> piece_gates(const Context& context, const JobOptions& o) {
    const auto run = planned(context, o.file);
    const auto table = run ? load_safety(context.data) : Expected<SafetyTable>(tl::unexpected(run.error()));
    if (!table)
        return tl::unexpected(table.error());
    // What stands at the bench is not known here: the focus is the job's own, the enclosure is asked about.
    Circumstances now;
    const Setup& s = run->job.setup;
    now.focus_confirmed =
        s.focus.confirmed && !focus_state(s.focus, s.bench.name, s.bench.lens().name, s.stock).stale();
    now.focus_words = now.focus_confirmed ? "Confirmed when the job was made" : "The job was made without.";
    const JobRisks risks = risks_of(run->job, run->plan, run->own.scene());
    const auto all = gates_of(run->job, risks, *run->own.metal, *table, now);
    json gates = json::array();
    for (const Gate& g : all) {
        static constexpr std::array kinds{"known", "tick", "choice", "initials", "frame"};
        json gate{{"key", g.key},
                  {"kind", kinds.at(static_cast<std::size_t>(g.kind))},
                  {"title", g.title},
                  {"why", g.why},
                  {"of_the_part", g.of_the_part}};
        if (g.kind == GateKind::known)
            gate["verdict"] = word(g.known);
        for (const UnderChoice& c : g.choices)
            gate["choices"].push_back({{"key", c.key}, {"words", c.words}, {"verdict", word(c.verdict)}});
        gates.push_back(std::move(gate));
    }
    return json{{"format", "finch-gates"},         {"version", 1},
                {"name", run->job.name},           {"seconds", risks.lasts_s},
                {"removed_mm3", risks.volume_mm3}, {"gates", std::move(gates)},
                {"deferral", table->deferral}};
}

Expected<json> piece_passes(const Context& context, const JobOptions& o) {
    const auto run = planned(context, o.file);
    if (!run)
        return tl::unexpected(run.error());
    const auto places = places_of(run->job);
    json passes = json::array();
    for (const RunPortion& p : run->plan) {
        json pass{{"place", places.at(p.place).number},
                  {"layer", run->job.layers.at(p.layer).name},
                  {"pass", p.pass + 1},
                  {"of", p.passes},
                  {"seconds", p.likely_s},
                  {"moved_by_hand", p.moved_by_hand}};
        if (p.shapes > 0)
            pass["shapes"] = {p.first_shape + 1, p.first_shape + p.shapes};
        passes.push_back(std::move(pass));
    }
    json out{{"format", "finch-run-plan"}, {"version", 1}, {"name", run->job.name}, {"passes", std::move(passes)}};
    if (o.pass == 0)
        return out;
    if (o.pass > static_cast<int>(run->plan.size()))
        return failure("run.pass", "The job has no such pass.", "Ask for one of those that are listed without --pass.",
                       {{}, 0, "pass"});
    const RunPortion& p = run->plan[static_cast<std::size_t>(o.pass - 1)];
    const auto program =
        portion_gcode(run->job, p).and_then([&](const std::string& gcode) { return left_after(gcode, o.after); });
    if (!program)
        return tl::unexpected(program.error());
    json one = out["passes"][static_cast<std::size_t>(o.pass - 1)];
    one["gcode"] = program->gcode;
    one["line_shift"] = program->shift;
    if (const auto look = part_way(run->own.scene(), run->job.layers.at(p.layer), p.pass + 1))
        one["should_look"] = {{"look", look->look},
                              {"l", look->l ? json(*look->l) : json()},
                              {"l_spread", look->l_spread ? json(*look->l_spread) : json()},
                              {"depth_um", look->depth_um},
                              {"depth_least_um", look->least_um},
                              {"depth_most_um", look->most_um},
                              {"stage", look->stage}};
    out["passes"] = json::array({std::move(one)});
    return out;
}

} // namespace finch::cli
