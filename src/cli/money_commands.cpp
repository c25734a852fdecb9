// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// Film work and money from the command line.
#include "cli/piece_commands.h"
#include "piece/piece_cost.h"
#include "recipe/predict.h"

#include <algorithm>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace finch::cli {

using json = nlohmann::json;

namespace {

/// A job's cost, which refers to the job.
struct Costed {
    Job job;
    PieceCost cost;
};

Expected<std::unique_ptr<Costed>> costed(const Context& context, const std::string& file, const PriceRules& price,
                                         int together) {
    auto job = read_job(context, file);
    if (!job)
        return tl::unexpected(job.error());
    auto out = std::make_unique<Costed>();
    out->job = std::move(*job);
    const auto mark_s = part_mark_s(out->job, fitted(out->job.setup.bench.scanner));
    if (!mark_s)
        return tl::unexpected(mark_s.error().in_file(file));
    auto cost =
        piece_cost(*context.materials, out->job, *mark_s, price, context.materials->model.effort.handling_s, together);
    if (!cost)
        return tl::unexpected(cost.error().in_file(file));
    out->cost = std::move(*cost);
    return out;
}

json cost_json(const JobCost& c) {
    return {{"started", c.started}, {"bench", c.machine}, {"hands", c.hands}, {"material", c.material},
            {"once", c.one_off},    {"total", c.total},   {"unit", c.unit},   {"each_more", c.per_piece}};
}

} // namespace

Expected<json> piece_steps(const Context& context, const MoneyOptions& o) {
    const auto piece = costed(context, o.file, o.price, o.together);
    if (!piece)
        return tl::unexpected(piece.error());
    const PieceCost& cost = (*piece)->cost;
    if (!cost.plan)
        return failure("compound.no_film", "No layer of this job is a sprayed film.",
                       "Give a layer a recipe of the process compound.", {o.file, 0, "layers"});
    const CompoundPlan& plan = *cost.plan;
    json steps = json::array();
    double at = 0;
    for (const StepPlan& s : plan.steps) {
        json step{{"stage", key(s.step.stage)},
                  {"title", s.step.title},
                  {"text", s.step.text},
                  {"from_min", at},
                  {"hands_min", s.minutes(StepSpan::Kind::hands)},
                  {"wait_min", s.minutes(StepSpan::Kind::wait)},
                  {"beam_min", s.minutes(StepSpan::Kind::beam)}};
        if (!s.step.caution.empty())
            step["caution"] = s.step.caution;
        if (!s.step.look.empty()) {
            step["look"] = s.step.look;
            step["from_to_min"] = {s.step.wait_least_min, s.step.wait_most_min};
        }
        at += s.minutes();
        steps.push_back(std::move(step));
    }
    json out{
        {"format", "finch-film-plan"},
        {"version", 1},
        {"compound", cost.compound->key},
        {"pieces", o.together},
        {"coats", cost.recipe->coats},
        {"film_g_m2", plan.film_g_m2},
        {"minutes", plan.minutes()},
        {"hands_min", plan.minutes(StepSpan::Kind::hands)},
        {"beam_min", plan.minutes(StepSpan::Kind::beam)},
        {"pieces_per_can", plan.spray.marks_per_can},
        {"cost_of_a_piece",
         {{"can", plan.can}, {"wash", plan.wash}, {"bench", plan.bench}, {"hands", plan.hands}, {"sum", plan.cost()}}},
        {"rests_on", "minutes of hands as the table of compounds has them, marking as the scanner is known"},
        {"steps", std::move(steps)}};
    if (cost.compound->wash_within_min > 0)
        out["wash_within_min"] = cost.compound->wash_within_min;
    return out;
}

Expected<json> piece_price(const Context& context, const MoneyOptions& o) {
    const auto piece = costed(context, o.file, o.price, o.together);
    if (!piece)
        return tl::unexpected(piece.error());
    const CostRules& rules = (*piece)->cost.rules;
    const auto batch = batch_cost(rules, o.wanted, o.spoiled);
    if (!batch)
        return tl::unexpected(batch.error());
    const auto tiers = price_list(o.price.tiers, o.price.margin, o.price.step, [&](int n) -> Expected<double> {
        return batch_cost(rules, n, o.spoiled).map([](const JobCost& c) { return c.unit; });
    });
    if (!tiers)
        return tl::unexpected(tiers.error());
    json list = json::array();
    for (const PriceTier& t : *tiers)
        list.push_back({{"pieces", t.pieces},
                        {"unit_cost", t.unit_cost},
                        {"unit_price", t.unit_price},
                        {"total", t.total},
                        {"cheaper_from", t.cheaper_from}});
    json out{
        {"format", "finch-price"},
        {"version", 1},
        {"route", (*piece)->cost.route},
        {"wanted", o.wanted},
        {"mark_s", rules.mark_s},
        {"cost", cost_json(*batch)},
        {"unit_price", price_of(batch->unit, o.price.margin, o.price.step)},
        {"tiers", std::move(list)},
        {"rests_on", fmt::format("{:.4g} % spoiled and 95 % sure of enough; handling is an estimate of the trade; "
                                 "bench and hands at the rates given; moves between tiles or strips are not counted",
                                 100 * o.spoiled)}};
    if (const AfterWork& after = (*piece)->cost.after; !after.words.empty())
        out["after"] = {{"minutes", after.minutes}, {"words", after.words}};
    if (!o.against.empty()) {
        const auto other = costed(context, o.against, o.price, o.together);
        if (!other)
            return tl::unexpected(other.error());
        const auto both = routes_against(rules, o.spoiled, (*other)->cost.rules, o.spoiled, o.wanted);
        if (!both)
            return tl::unexpected(both.error());
        const auto name = [&](bool first) { return first ? (*piece)->cost.route : (*other)->cost.route; };
        out["against"] = {{"route", (*other)->cost.route},
                          {"cost", cost_json(both->second)},
                          {"same_at_pieces", both->crossing.pieces ? json(*both->crossing.pieces) : json(nullptr)},
                          {"cheaper_below", name(both->crossing.first_below)},
                          {"cheaper_above", name(both->crossing.first_above)}};
    }
    return out;
}

} // namespace finch::cli
