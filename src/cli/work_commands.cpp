// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// Planning, judging, carrying and setting up from the command line.
#include "bench/bench_json.h"
#include "bench/field.h"
#include "cli/commands.h"
#include "document/json_fields.h"
#include "recipe/borrowed.h"
#include "recipe/carry.h"
#include "recipe/check.h"
#include "recipe/plan.h"

#include <cmath>
#include <nlohmann/json.hpp>

namespace finch::cli {

using json = nlohmann::json;

namespace {

const char* answer_word(Answer a) {
    return a == Answer::passes ? "passes" : a == Answer::fails ? "fails" : "unknown";
}

json look_json(const Appearance& a) {
    if (!a.known)
        return {{"known", false}, {"words", a.words}};
    return {{"known", true},
            {"words", a.words},
            {"lab", {a.lab.l, a.lab.a, a.lab.b}},
            {"l_star_spread", a.l_spread},
            {"rests_on", a.rests_on}};
}

json effort_json(const Effort& e) {
    return {{"mark_s", e.mark_s},         {"cleaning_s", e.cleaning_s}, {"focus_s", e.focus_s},
            {"handling_s", e.handling_s}, {"total_s", e.seconds()},     {"cost", e.cost()}};
}

json verdicts_json(const Aim& aim, const std::vector<Verdict>& verdicts) {
    json out = json::array();
    for (std::size_t i = 0; i < verdicts.size(); ++i)
        out.push_back({{"kind", traits(verdicts[i].kind).key},
                       {"asks", describe(aim.wishes.at(i))},
                       {"must", verdicts[i].must},
                       {"answer", answer_word(verdicts[i].answer)},
                       {"number", verdicts[i].number},
                       {"reason", verdicts[i].reason}});
    return out;
}

Expected<Recipe> read_recipe(const Context& context, const std::string& file) {
    const auto text = read_input(context, file);
    return text ? recipe_from_text(*text, file) : Expected<Recipe>(tl::unexpected(text.error()));
}

/// An aim without wishes where no file is named.
Expected<Aim> read_aim(const Context& context, const std::string& file) {
    if (file.empty())
        return Aim{};
    const auto text = read_input(context, file);
    if (!text)
        return tl::unexpected(text.error());
    const auto document = parse_json(*text, file);
    return document ? aim_from_json(*document, file) : Expected<Aim>(tl::unexpected(document.error()));
}

} // namespace

Expected<json> aim_judge(const Context& context, const AimOptions& o) {
    const auto own = load_scene(context, o.bench, o.stock);
    if (!own)
        return tl::unexpected(own.error());
    const auto aim = read_aim(context, o.aim);
    if (!aim)
        return tl::unexpected(aim.error());
    const auto recipe = read_recipe(context, o.recipe);
    if (!recipe)
        return tl::unexpected(recipe.error());
    const Scene scene = own->scene();
    const auto p = finch::predict(scene, *recipe, aim->fill);
    if (!p)
        return tl::unexpected(p.error());
    const Appearance look = appearance(scene, *recipe, *p);
    const Effort work = effort(scene, *recipe, *p, aim->fill);
    return json{{"format", "finch-judgement"},
                {"version", 1},
                {"outcome", told_words(p->shares)},
                {"look", look_json(look)},
                {"effort", effort_json(work)},
                {"verdicts", verdicts_json(*aim, judge(scene, *aim, {*recipe, *p, look, work}))},
                {"risk", working_part_risk(scene, *aim, *recipe, *p)},
                {"challenges", challenges(scene, *aim)}};
}

Expected<json> plan(const Context& context, const AimOptions& o) {
    const auto own = load_scene(context, o.bench, o.stock);
    if (!own)
        return tl::unexpected(own.error());
    const auto aim = read_aim(context, o.aim);
    if (!aim)
        return tl::unexpected(aim.error());
    const Scene scene = own->scene();
    std::vector<PlanTask> tasks = possible_tasks(scene);
    if (!o.process.empty()) {
        const auto process = process_from_key(o.process);
        if (!process)
            return failure("use.process", "No process has the key \"" + o.process + "\".",
                           "Use anneal, colour, bright, frost, engrave, deep-engrave, strip, bleach, film-dark, "
                           "compound or creep-up.");
        std::erase_if(tasks, [&](const PlanTask& t) { return t.process != *process; });
        if (tasks.empty()) {
            const auto can = possible(scene, {*process, School::single, {}, {}});
            return can ? failure("plan.impossible", "This bench cannot do that to this stock.", "Choose another.")
                       : tl::unexpected(can.error());
        }
    }
    json plans = json::array();
    for (const PlanTask& task : tasks) {
        const auto planned = finch::plan(scene, *aim, task);
        if (!planned)
            return tl::unexpected(planned.error());
        json candidates = json::array();
        for (const Candidate& c : planned->candidates) {
            json kinds = json::array();
            for (const CandidateKind k : c.kinds)
                kinds.push_back(word(k));
            candidates.push_back({{"kinds", kinds},
                                  {"recipe", to_json(c.recipe)},
                                  {"meets", c.meets},
                                  {"why_not", c.why_not},
                                  {"outcome", told_words(c.prediction.shares)},
                                  {"look", look_json(c.look)},
                                  {"effort", effort_json(c.effort)},
                                  {"margin", c.margin},
                                  {"sensitivity", c.sensitivity},
                                  {"verdicts", verdicts_json(*aim, c.verdicts)}});
        }
        plans.push_back({{"process", traits(task.process).key},
                         {"label", label(task, scene.materials)},
                         {"candidates", candidates}});
    }
    return json{{"format", "finch-plan"}, {"version", 1}, {"plans", plans}};
}

namespace {

json kept_json(const TransferResult& r) {
    json out = json::array();
    for (const Kept& k : r.report)
        out.push_back({{"what", word(k.invariant)}, {"ratio", k.ratio}, {"kept", k.kept}, {"effect", k.effect}});
    return out;
}

} // namespace

Expected<json> carry(const Context& context, const CarryOptions& o) {
    const auto own = load_scene(context, o.bench, o.stock);
    if (!own)
        return tl::unexpected(own.error());
    const auto to = load_bench(context.data, o.to);
    if (!to)
        return tl::unexpected(to.error());
    const auto recipe = read_recipe(context, o.recipe);
    if (!recipe)
        return tl::unexpected(recipe.error());
    auto carried = finch::carry(own->setup.bench, *recipe, *to);
    if (!carried)
        return tl::unexpected(carried.error());
    const auto outcome = carried_outcome(own->scene(), *recipe, *to, *carried, {});
    if (!outcome)
        return tl::unexpected(outcome.error());
    const TypedSettings& t = carried->typed.typed;
    return json{
        {"format", "finch-carried"},
        {"version", 1},
        {"recipe", to_json(carried->recipe)},
        {"type_there", {{"power", t.power}, {"frequency", t.frequency}, {"speed", t.speed}, {"pitch", t.pitch}}},
        {"kept", kept_json(carried->result)},
        {"fluence_ratio", outcome->fluence.ratio},
        {"here", told_words(outcome->before.shares)},
        {"there", told_words(outcome->after.shares)},
        {"verdict", word(outcome->verdict)},
        {"reasons", outcome->reasons},
        {"cannot_run_as_it_is", cannot_run(*to, *recipe)}};
}

Expected<json> borrow(const Context& context, const BorrowOptions& o) {
    const auto own = load_scene(context, o.bench, o.stock);
    if (!own)
        return tl::unexpected(own.error());
    const auto process = process_from_key(o.process);
    if (!process)
        return failure("use.process", "No process has the key \"" + o.process + "\".", "Use engrave, colour, ...");
    const auto text = read_input(context, o.text);
    if (!text)
        return tl::unexpected(text.error());
    const auto borrowed = borrowed_from_text(*text, *context.materials);
    if (!borrowed)
        return tl::unexpected(borrowed.error());
    const Scene scene = own->scene();
    const Match fits = match(*borrowed, scene);
    const auto start = rescaled(*borrowed, scene, *process);
    if (!start)
        return tl::unexpected(start.error());
    const auto p = finch::predict(scene, start->recipe, {});
    return json{{"format", "finch-borrowed"},
                {"version", 1},
                {"score", fits.score},
                {"missing", fits.missing},
                {"differs", fits.differs},
                {"confidence", fits.confidence},
                {"not_understood", borrowed->not_understood},
                {"assumed", start->assumed},
                {"recipe", to_json(start->recipe)},
                {"outcome", p ? json(told_words(p->shares)) : json(nullptr)}};
}

Expected<json> stage(const Context& context, const PredictOptions& o) {
    const auto own = load_scene(context, o.bench, o.stock);
    if (!own)
        return tl::unexpected(own.error());
    const auto recipe = read_recipe(context, o.recipe);
    if (!recipe)
        return tl::unexpected(recipe.error());
    const Scene scene = own->scene();
    json passes = json::array();
    std::optional<Prediction> last;
    const int all = recipe->setting.passes;
    // Pass 1, 2, 5, 10, 20 .. and the last.
    std::vector<int> at;
    for (int decade = 1; decade <= all; decade *= 10)
        for (const int lead : {1, 2, 5})
            if (lead * decade < all)
                at.push_back(lead * decade);
    at.push_back(all);
    for (const int n : at) {
        Recipe part = *recipe;
        part.setting.passes = n;
        auto p = finch::predict(scene, part, {}, straight);
        if (!p)
            return tl::unexpected(p.error());
        if (!p->removal)
            return failure("stage.no_removal", "Nothing is removed here, so a run has no stages.",
                           "Use a recipe that cuts bare metal under a pulsed source.");
        passes.push_back({{"pass", n},
                          {"depth_um", p->depth_um()},
                          {"depth_least_um", p->removal->told_least_um()},
                          {"depth_most_um", p->removal->told_most_um()},
                          {"floor", word(p->removal->floor)},
                          {"burn_index", p->burn_index},
                          {"outcome", told_words(p->shares)}});
        last = std::move(*p);
    }
    const auto pass = [](const std::optional<int>& n) { return n ? json(*n) : json(nullptr); };
    const RunStages& s = last->removal->stages;
    return json{{"format", "finch-stages"},
                {"version", 1},
                {"dark_from_pass", pass(s.dark_from)},
                {"emerges_at_pass", pass(s.emerges_at)},
                {"clear_at_pass", pass(s.clear_at)},
                {"passes", passes}};
}

Expected<json> setup(const Context& context, const SetupOptions& o) {
    const auto own = load_scene(context, o.bench, o.stock);
    if (!own)
        return tl::unexpected(own.error());
    const Bench& bench = own->setup.bench;
    json lenses = json::array();
    for (const Lens& lens : bench.lenses) {
        const BeamWaist beam = waist(lens, bench.source.wavelength);
        json one{{"name", lens.name},
                 {"focal_length_mm", in_mm(lens.focal_length)},
                 {"spot_um", in_micrometres(beam.spot)},
                 {"rayleigh_mm", in_mm(beam.rayleigh)},
                 {"focus_within_mm_for_ten_percent", in_mm(depth_for_growth(beam, 1.1))},
                 {"spot_at_offset_um", in_micrometres(spot_at(beam, mm(o.offset_mm)))},
                 {"field_mm", in_mm(lens.field)}};
        if (o.wanted_spot_um > 0)
            one["raise_for_spot_mm"] =
                o.wanted_spot_um >= in_micrometres(beam.spot)
                    ? json(in_mm(depth_for_growth(beam, o.wanted_spot_um / in_micrometres(beam.spot))))
                    : json(nullptr);
        if (o.part_mm.size() == 2) {
            const auto fit = rectangle_in_field(o.part_mm[0], o.part_mm[1], in_mm(lens.field));
            one["part_fits"] = fit ? json(fit->fits) : json(nullptr);
        }
        lenses.push_back(one);
    }
    return json{{"format", "finch-setup-arithmetic"}, {"version", 1}, {"bench", bench.name}, {"lenses", lenses}};
}

} // namespace finch::cli
