// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// Jobs from the command line.
#include "cli/commands.h"
#include "document/json_fields.h"
#include "formats/artwork_file.h"
#include "formats/file_out.h"
#include "formats/job_export.h"
#include "recipe/check.h"
#include "recipe/predict.h"

#include <algorithm>
#include <filesystem>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace finch::cli {

using json = nlohmann::json;

namespace {

Expected<Job> read_job(const Context& context, const std::string& file) {
    const auto text = read_input(context, file);
    if (!text)
        return tl::unexpected(text.error());
    const auto document = parse_json(*text, file);
    return document ? job_from_json(*document, file) : Expected<Job>(tl::unexpected(document.error()));
}

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

json layer_plan(const Scene& scene, const JobLayer& l, const LayerWork& work) {
    const Recipe& r = *l.recipe;
    json cautions = json::array();
    for (const Finding& f : check(r, scene.bench, scene.stock))
        cautions.push_back({{"code", f.code}, {"text", f.message}, {"remedy", f.remedy}});
    json out{{"passes", burned_setting(r).passes},
             {"lines", work.hatch.line_start.size()},
             {"length_mm", work.length_mm},
             {"pass_s", work.pass_s},
             {"seconds", work.total_s},
             {"cost", work.total_s / 3600 * scene.bench.rate_per_hour},
             {"effect", nullptr},
             {"depth_um", nullptr},
             {"cautions", std::move(cautions)}};
    // As a square of the same area: the models know no outline.
    const double area = area_mm2(l.region);
    const auto p = predict(scene, r, {mm(std::clamp(std::sqrt(area), 0.1, 1000.0)), std::clamp(area, 0.01, 1e6)});
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

Expected<json> piece_job(const Context& context, const JobOptions& o) {
    const auto own = load_scene(context, o.bench, o.stock);
    if (!own)
        return tl::unexpected(own.error());
    const auto drawing = read_mended(o.file, {}, {o.close_mm, o.spot_mm});
    if (!drawing)
        return tl::unexpected(drawing.error());
    Job job = job_of(o.name.empty() ? std::filesystem::path(o.file).stem().string() : o.name, own->setup, *drawing);
    for (const std::string& name : o.guides) {
        const auto layers = layers_called(job, name);
        if (!layers)
            return tl::unexpected(layers.error());
        for (JobLayer* l : *layers)
            l->guide = true;
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
    double seconds = 0;
    for (const JobLayer& l : job->layers) {
        json entry{{"name", l.name}, {"guide", l.guide}, {"area_mm2", area_mm2(l.region)}};
        if (!l.guide && l.recipe) {
            const auto work = layer_work(l.region, *l.recipe, {});
            if (!work)
                return tl::unexpected(work.error().in_field(l.name));
            entry.update(layer_plan(scene, l, *work));
            seconds += work->total_s;
        }
        layers.push_back(std::move(entry));
    }
    return json{{"format", "finch-piece-plan"},
                {"version", 1},
                {"name", job->name},
                {"seconds", seconds},
                {"cost", seconds / 3600 * scene.bench.rate_per_hour},
                {"rests_on",
                 "physics, and a scanner as it usually is; loading, cleaning and heat from layer to layer are "
                 "not counted"},
                {"layers", std::move(layers)}};
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
