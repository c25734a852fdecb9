// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// Jobs from the command line.
#include "bench/bench_json.h"
#include "cli/piece_commands.h"
#include "document/json_fields.h"
#include "formats/artwork_file.h"
#include "formats/file_out.h"
#include "formats/job_export.h"
#include "formats/typed_art.h"
#include "piece/fill_check.h"
#include "piece/job_heat.h"
#include "piece/marking_order.h"
#include "piece/scanner_fit.h"
#include "quantity/scan.h"
#include "quantity/stopwatch_text.h"
#include "recipe/check.h"

#include <algorithm>
#include <filesystem>
#include <fmt/format.h>
#include <functional>
#include <nlohmann/json.hpp>

namespace finch::cli {

using json = nlohmann::json;

namespace {

/// The layers of this name or colour; none is an error.
Expected<std::vector<JobLayer*>> layers_called(Job& job, const std::string& name) {
    std::vector<JobLayer*> out;
    std::string all;
    for (JobLayer& l : job.layers) {
        if (l.name == name || l.colour == name)
            out.push_back(&l);
        all += (all.empty() ? "" : ", ") + l.name;
    }
    if (out.empty())
        return failure("piece.no_layer", fmt::format("The drawing has no layer \"{}\".", name), "It has: " + all + ".",
                       {{}, 0, "layer"});
    return out;
}

/// "LAYER=NUMBER" for each of the layers that are called so.
Expected<void> give_numbers(Job& job, const std::vector<std::string>& given, double most,
                            const std::function<Expected<void>(JobLayer&, double)>& give) {
    for (const std::string& one : given) {
        const std::size_t at = one.rfind('=');
        const auto number = at == std::string::npos ? std::nullopt : plain_number(std::string_view(one).substr(at + 1));
        if (!number || *number < 0 || *number > most)
            return failure("use.arguments", fmt::format("\"{}\" is no layer with a number.", one),
                           fmt::format("Write LAYER=NUMBER, from 0 to {:g}.", most));
        const auto layers = layers_called(job, one.substr(0, at));
        if (!layers)
            return tl::unexpected(layers.error());
        for (JobLayer* l : *layers)
            if (const auto done = give(*l, *number); !done)
                return done;
    }
    return {};
}

json layer_plan(const Scene& scene, const ScannerKnowledge& scanner, const JobLayer& l, const LayerWork& work) {
    const Recipe& r = *l.recipe;
    json cautions = json::array();
    for (const Finding& f : check(r, scene.bench, scene.stock))
        cautions.push_back({{"code", f.code}, {"text", f.message}, {"remedy", f.remedy}});
    const TimeBand time = time_of(scanner, {&work.load, 1});
    const TimeParts parts = time_parts(scanner.timing, work.load);
    json out{{"passes", work.load.passes},
             {"lines", work.hatch.line_start.size()},
             {"length_mm", marked_mm(work.load)},
             {"pass_s", time.likely / work.load.passes},
             {"seconds", time.likely},
             {"seconds_low", time.low},
             {"seconds_high", time.high},
             {"seconds_of",
              {{"marking", parts.marking},
               {"turning", parts.turning},
               {"jumping", parts.jumping},
               {"settling", parts.settling},
               {"passes", parts.passes}}},
             {"cost", time.likely / 3600 * scene.bench.rate_per_hour},
             {"effect", nullptr},
             {"depth_um", nullptr},
             {"cautions", std::move(cautions)}};
    const auto p = predict_layer(scene, l);
    if (!p)
        out["why_nothing_is_predicted"] = p.error().message;
    else {
        out["effect"] = word(p->effect);
        if (p->removal)
            out["depth_um"] = p->depth_um();
    }
    return out;
}

} // namespace

Expected<Job> read_job(const Context& context, const std::string& file) {
    const auto text = read_input(context, file);
    if (!text)
        return tl::unexpected(text.error());
    const auto document = parse_json(*text, file);
    return document ? job_from_json(*document, file) : Expected<Job>(tl::unexpected(document.error()));
}

Expected<TypedTexts> read_texts(const Context& context, const TextOptions& o) {
    TypedTexts out;
    if (!o.texts.empty()) {
        const auto text = read_input(context, o.texts);
        const auto document = text ? parse_json(*text, o.texts) : Expected<json>(tl::unexpected(text.error()));
        auto read =
            document ? texts_from_json(*document, o.texts) : Expected<TypedTexts>(tl::unexpected(document.error()));
        if (!read)
            return read;
        out = std::move(*read);
    }
    if (!o.rows.empty()) {
        const auto text = read_input(context, o.rows);
        auto table = text ? piece_table(*text, o.rows) : Expected<PieceTable>(tl::unexpected(text.error()));
        if (!table)
            return tl::unexpected(table.error());
        out.series.table = std::make_shared<const PieceTable>(std::move(*table));
    }
    if (!o.pieces.empty()) {
        auto pieces = pieces_from_text(o.pieces);
        if (!pieces)
            return tl::unexpected(pieces.error());
        out.series.pieces = std::move(*pieces);
    }
    return out;
}

Expected<json> piece_job(const Context& context, const JobOptions& o) {
    const auto own = load_scene(context, o.bench, o.stock);
    if (!own)
        return tl::unexpected(own.error());
    const auto typed = read_texts(context, o.typed);
    if (!typed)
        return tl::unexpected(typed.error());
    if (o.file.empty() == o.blank.empty())
        return failure("use.arguments", "A job is of a drawing, or of an empty page.",
                       "Name a file, or give --blank-mm WIDTH HEIGHT.");
    auto art = o.file.empty() ? Expected<Artwork>(blank_page(o.blank.at(0), o.blank.at(1))) : read_artwork(o.file);
    if (art && !o.file.empty())
        art = sized(std::move(*art), o.size).map_error([&](const Error& e) { return e.in_file(o.file); });
    if (!art)
        return tl::unexpected(art.error());
    const int first = typed->series.pieces.empty() ? 1 : typed->series.pieces.front();
    if (const auto added = add_texts(*art, *typed, first); !added)
        return tl::unexpected(added.error().in_file(o.typed.texts));
    const auto drawing = mended(std::move(*art), {o.close_mm, o.spot_mm});
    if (!drawing)
        return tl::unexpected(drawing.error().in_file(o.file));
    Job job = job_of(o.name.empty() ? std::filesystem::path(o.file).stem().string() : o.name, own->setup, *drawing);
    if (o.file.empty())
        job.layers.front().guide = true; // the edge of the page
    for (const TypedText& t : typed->texts)
        for (JobLayer& l : job.layers)
            if (l.name == t.name && l.colour == typed_colour)
                l.words = words_on(t, typed->series, first).value_or("");
    for (const auto& [names, mark] :
         {std::pair{&o.by_shape, &JobLayer::by_shape}, {&o.guides, &JobLayer::guide}, {&o.one_way, &JobLayer::one_way}})
        for (const std::string& name : *names) {
            const auto layers = layers_called(job, name);
            if (!layers)
                return tl::unexpected(layers.error());
            for (JobLayer* l : *layers)
                l->*mark = true;
        }
    for (const std::string& given : o.recipes) {
        const std::size_t at = given.rfind('=');
        if (at == std::string::npos || at == 0)
            return failure("use.arguments", fmt::format("\"{}\" is no layer with a recipe.", given),
                           "Write LAYER=FILE.");
        const auto layers = layers_called(job, given.substr(0, at));
        if (!layers)
            return tl::unexpected(layers.error());
        const std::string file = given.substr(at + 1);
        const auto text = read_input(context, file);
        const auto recipe = text ? recipe_from_text(*text, file) : Expected<Recipe>(tl::unexpected(text.error()));
        if (!recipe)
            return tl::unexpected(recipe.error());
        for (JobLayer* l : *layers)
            l->recipe = *recipe;
    }
    if (const auto done = give_numbers(job, o.contours, most_contours,
                                       [](JobLayer& l, double times) -> Expected<void> {
                                           l.contours = static_cast<int>(times);
                                           return {};
                                       });
        !done)
        return tl::unexpected(done.error());
    if (const auto done = give_numbers(job, o.insets, most_inset_mm,
                                       [](JobLayer& l, double mm) {
                                           const LayerFill fill{l.by_shape, l.one_way, mm, l.contours};
                                           return filled(l, fill).map([&](const JobLayer& so) { l = so; });
                                       });
        !done)
        return tl::unexpected(done.error());
    if (const auto ready = settled(job); !ready)
        return tl::unexpected(ready.error());
    return to_json(job);
}

Expected<json> piece_plan(const Context& context, const JobOptions& o) {
    const auto job = read_job(context, o.file);
    if (!job)
        return tl::unexpected(job.error());
    const auto own = own_scene(context.materials, job->setup, {});
    if (!own)
        return tl::unexpected(own.error());
    const Scene scene = own->scene();
    json layers = json::array();
    const ScannerKnowledge scanner = fitted(scene.bench.scanner);
    for (const JobLayer& l : job->layers) {
        json entry{{"name", l.name}, {"guide", l.guide}, {"area_mm2", area_mm2(l.region)}};
        if (!l.words.empty())
            entry["words"] = l.words;
        if (!l.only_at.empty())
            entry["only_at"] = l.only_at;
        if (!l.guide && l.recipe) {
            const auto work = layer_work(*job, l);
            if (!work)
                return tl::unexpected(work.error().in_field(l.name));
            entry.update(layer_plan(scene, scanner, l, *work));
        }
        layers.push_back(std::move(entry));
    }
    const auto loads = loads_of(*job);
    if (!loads)
        return tl::unexpected(loads.error());
    TimeBand time = time_of(scanner, *loads);
    const std::size_t parts = places_of(*job).size();
    for (double* s : {&time.likely, &time.low, &time.high})
        *s += static_cast<double>(parts) * paused_s(job->steps);
    return json{
        {"format", "finch-piece-plan"},
        {"version", 1},
        {"name", job->name},
        {"parts", parts},
        {"seconds", time.likely},
        {"seconds_low", time.low},
        {"seconds_high", time.high},
        {"cost", time.likely / 3600 * scene.bench.rate_per_hour},
        {"rests_on", (scanner.runs == 0 ? std::string("physics, and a scanner as it usually is")
                                        : fmt::format("physics, and {} timed runs of this scanner", scanner.runs)) +
                         "; loading, cleaning and heat from layer to layer are not counted"},
        {"layers", std::move(layers)}};
}

namespace {

json order_json(const HeatOrder& o) {
    return {{"peak_k", o.peak_k},
            {"plate_k", o.plate_k},
            {"seconds", o.seconds},
            {"paused_s", o.paused_s()},
            {"preheat_k", o.preheat_k}};
}

} // namespace

Expected<json> piece_heat(const Context& context, const HeatOptions& o) {
    auto job = read_job(context, o.file);
    if (!job)
        return tl::unexpected(job.error());
    const auto own = own_scene(context.materials, job->setup, {});
    if (!own)
        return tl::unexpected(own.error());
    const Scene scene = own->scene();
    const auto heat = job_heat(*job, scene, fitted(scene.bench.scanner).timing);
    if (!heat)
        return tl::unexpected(heat.error().in_file(o.file));
    HeatRules rules;
    rules.clamped_loss = scene.materials.model.clamped_loss;
    rules.parts = marked_in_turn(*job) ? static_cast<int>(job->places.size()) : 1;
    const HeatPlan plan = heat_plan(heat->plate, heat->tasks, rules);
    if (o.take) {
        job->steps = plan.help == HeatPlan::Help::none_needed ? std::vector<JobStep>() : steps_of(*heat, plan.best());
        return to_json(*job);
    }
    json steps = json::array();
    for (const JobStep& s : steps_of(*heat, plan.best()))
        steps.push_back({{"layer", job->layers.at(s.layer).name},
                         {"first_shape", s.first_shape},
                         {"shapes", s.shapes},
                         {"pause_s", s.pause_s}});
    json out{{"format", "finch-heat-plan"},
             {"version", 1},
             {"help", word(plan.help)},
             {"plain", order_json(plan.plain)},
             {"cooler", order_json(plan.cooler)},
             {"paused", order_json(plan.paused)},
             {"clamped", order_json(plan.clamped)},
             {"loss_w_m2k", heat->plate.loss_w_m2k},
             {"steps", std::move(steps)},
             {"rests_on",
              "a plate warm alike through its thickness within the box of the drawing; the share of the beam "
              "that stays in it is a model's, the loss an estimate of the trade"}};
    if (plan.in_turn)
        out["in_turn"] = order_json(*plan.in_turn);
    return out;
}

Expected<json> piece_scanner(const Context& context, const ScannerOptions& o) {
    auto bench = load_bench(context.data, o.bench);
    if (!bench)
        return tl::unexpected(bench.error());
    const auto patterns = timing_patterns(in_mm(bench->lens().field), in_mm_per_second(bench->scanner.speed_max));
    const auto called = [&](const std::string& name) -> Expected<const TimingPattern*> {
        std::string all;
        for (const TimingPattern& p : patterns) {
            if (p.name == name)
                return &p;
            all += (all.empty() ? "" : ", ") + p.name;
        }
        return failure("scanner.no_scan", fmt::format("There is no scan \"{}\".", name), "There are: " + all + ".");
    };
    for (const std::string& given : o.took) {
        const std::size_t at = given.find('=');
        const auto scan = called(given.substr(0, at));
        if (!scan)
            return tl::unexpected(scan.error());
        const auto took = seconds_from_text(at == std::string::npos ? "" : given.substr(at + 1));
        if (!took)
            return tl::unexpected(took.error().in_field((*scan)->name));
        bench->scanner.timed =
            with_runs(bench->scanner.timed,
                      {{(*scan)->name, {}, load_of((*scan)->hatch, (*scan)->speed_mm_s, (*scan)->passes), *took}});
    }
    if (!o.scan.empty()) {
        const auto scan = called(o.scan);
        if (!scan)
            return tl::unexpected(scan.error());
        const TimingPattern& p = **scan;
        const std::string text = scan_gcode(p.name, p.hatch.runs, load_of(p.hatch, p.speed_mm_s, p.passes));
        if (const auto written = write_file(QString::fromStdString(o.out), text); !written)
            return tl::unexpected(written.error());
    }
    const ScannerKnowledge k = fitted(bench->scanner);
    json scans = json::array();
    for (const TimingPattern& p : patterns) {
        const ScanLoad load = load_of(p.hatch, p.speed_mm_s, p.passes);
        const TimeBand band = time_of(k, {&load, 1});
        scans.push_back(
            {{"name", p.name}, {"seconds", band.likely}, {"seconds_low", band.low}, {"seconds_high", band.high}});
    }
    const ScannerTiming& t = k.timing;
    return json{{"format", "finch-scanner"},
                {"version", 1},
                {"bench", bench->name},
                {"rests_on", k.runs == 0 ? std::string("a scanner as it usually is")
                                         : fmt::format("{} timed runs of this scanner", k.runs)},
                {"jump_mm_s", t.jump_mm_s},
                {"jump_acceleration_mm_s2", t.acceleration_mm_s2},
                {"line_acceleration_mm_s2", t.line_acceleration_mm_s2},
                {"settle_us", t.settle_us},
                {"settle_us_per_mm", t.settle_us_per_mm},
                {"laser_delays_us", t.on_us + t.off_us},
                {"pass_s", t.pass_s},
                {"scans", std::move(scans)},
                {"scanner", to_json(*bench)["scanner"]}};
}

Expected<json> piece_export(const Context& context, const JobOptions& o) {
    const auto job = read_job(context, o.file);
    if (!job)
        return tl::unexpected(job.error());
    const auto text = job_text(*job, o.to);
    if (!text)
        return tl::unexpected(text.error().in_file(o.file));
    if (const auto written = write_file(QString::fromStdString(o.out), *text); !written)
        return tl::unexpected(written.error());
    return json{{"written", o.out}, {"bytes", text->size()}};
}

} // namespace finch::cli
