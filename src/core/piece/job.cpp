// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/job.h"

#include "bench/bench_json.h"
#include "document/json_fields.h"
#include "piece/shapes.h"
#include "quantity/format.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace finch {
namespace {

using nlohmann::json;

constexpr std::size_t most_job_layers = 10'000, most_ring_numbers = 20'000'000, most_places = 1000;

/// To the grid of regions: a nanometre.
double on_grid(double mm) {
    return std::round(mm * 1e6) / 1e6 + 0.0;
}

json rings_json(const Region& region) {
    json out = json::array();
    for (const auto& ring : region.rings) {
        json flat = json::array();
        for (const PointMm& p : ring) {
            flat.push_back(on_grid(p.x));
            flat.push_back(on_grid(p.y));
        }
        out.push_back(std::move(flat));
    }
    return out;
}

/// Pairs of x and y; nothing where one of them is no place.
std::optional<Region> read_rings(const json& list, std::size_t& room) {
    Region out;
    if (!list.is_array())
        return std::nullopt;
    for (const json& flat : list) {
        if (!flat.is_array() || flat.size() < 6 || flat.size() % 2 != 0 || flat.size() > room)
            return std::nullopt;
        room -= flat.size();
        std::vector<PointMm>& ring = out.rings.emplace_back();
        for (std::size_t i = 0; i + 1 < flat.size(); i += 2) {
            if (!flat[i].is_number() || !flat[i + 1].is_number())
                return std::nullopt;
            const PointMm p{flat[i].get<double>(), flat[i + 1].get<double>()};
            if (!(std::abs(p.x) < farthest_mm && std::abs(p.y) < farthest_mm))
                return std::nullopt;
            ring.push_back(p);
        }
    }
    return out;
}

/// Numbers of places.
std::vector<int> whole_numbers(JsonFields& f, const char* key) {
    const json& list = f.raw(key);
    if (list.is_array() && list.size() <= most_places &&
        std::ranges::all_of(list, [](const json& n) { return n.is_number_integer() && n >= 1 && n <= 1'000'000; }))
        return list.get<std::vector<int>>();
    f.fault(key, "This is no list of places.", "Write the numbers of places: [1, 2].");
    return {};
}

} // namespace

Job job_of(std::string name, const Setup& setup, const MendedArt& drawing) {
    Job job{std::move(name), drawing.art.width_mm, drawing.art.height_mm, setup, {}, {}, {}};
    for (std::size_t l = 0; l < drawing.art.layers.size(); ++l)
        job.layers.push_back(
            {drawing.art.layers[l].name, drawing.art.layers[l].colour, false, {}, drawing.regions.at(l)});
    return job;
}

Expected<JobLayer> filled(JobLayer layer, const LayerFill& fill) {
    layer.by_shape = fill.by_shape;
    layer.one_way = fill.one_way;
    layer.contours = fill.contours;
    if (fill.inset_mm <= 0 || layer.region.empty())
        return layer;
    auto inner = inset(layer.region, fill.inset_mm);
    if (!inner)
        return tl::unexpected(inner.error());
    if (inner->empty())
        return failure("fill.nothing_left",
                       fmt::format("Nothing of layer \"{}\" is left {} mm inside of its edges.", layer.name,
                                   format_number(fill.inset_mm)),
                       "Keep less free along them.", {{}, 0, layer.name});
    layer.region = std::move(*inner);
    layer.inset_mm += fill.inset_mm;
    return layer;
}

std::vector<JobPlace> places_of(const Job& job) {
    return job.places.empty() ? std::vector<JobPlace>{{}} : job.places;
}

Expected<void> settled(const Job& job) {
    for (const JobLayer& l : job.layers)
        if (!l.guide && !l.recipe)
            return failure("job.no_recipe", fmt::format("Layer \"{}\" has no recipe.", l.name),
                           "Give it one, or make a guide of it.", {{}, 0, l.name});
    return {};
}

namespace {

HatchRules pass_rules(const JobLayer& layer, int pass) {
    const Recipe& recipe = *layer.recipe;
    const Setting& s = recipe.setting;
    const int turn = recipe.cross_hatch ? pass / 2 : pass; // a crossed pass is two
    return {in_mm(s.hatch_pitch),
            s.hatch_angle_deg + turn * recipe.turn_per_pass_deg + (recipe.cross_hatch && pass % 2 == 1 ? 90 : 0),
            turn * recipe.line_shift_percent / 100, !layer.one_way, layer.by_shape};
}

/// The part of a line that lies in a box; nothing where none does.
std::optional<LineMm> cut(const LineMm& line, const RectMm& box) {
    const double dx = line.to.x - line.from.x, dy = line.to.y - line.from.y;
    double from = 0, to = 1;
    for (const auto& [at, step, low, high] :
         {std::array{line.from.x, dx, box.x, box.x + box.w}, std::array{line.from.y, dy, box.y, box.y + box.h}}) {
        if (step == 0) {
            if (at < low || at > high)
                return std::nullopt;
            continue;
        }
        const double one = (low - at) / step, two = (high - at) / step;
        from = std::max(from, std::min(one, two));
        to = std::min(to, std::max(one, two));
    }
    if (from >= to)
        return std::nullopt;
    return LineMm{{line.from.x + from * dx, line.from.y + from * dy}, {line.from.x + to * dx, line.from.y + to * dy}};
}

void add_contours(std::vector<HatchRun>& to, const Region& region, const std::optional<RectMm>& only) {
    for (const auto& ring : region.rings)
        for (std::size_t i = 0; i < ring.size(); ++i) {
            const LineMm whole{ring[i], ring[(i + 1) % ring.size()]};
            if (const auto run = only ? cut(whole, *only) : std::optional(whole))
                to.push_back(*run);
        }
}

Expected<std::vector<HatchRun>> contours_of(const Region& region, const JobLayer& layer,
                                            const std::optional<RectMm>& only) {
    std::vector<HatchRun> out;
    if (region.empty() || layer.contours == 0)
        return out;
    add_contours(out, region, only);
    for (int round = 1; round < layer.contours; ++round) {
        const auto inner = inset(region, round * in_mm(layer.recipe->setting.hatch_pitch));
        if (!inner)
            return tl::unexpected(inner.error());
        add_contours(out, *inner, only);
    }
    return out;
}

Hatch with_contours(Hatch hatch, std::span<const HatchRun> contours) {
    for (std::size_t i = 0; i < contours.size(); ++i)
        if (i == 0 || contours[i].from != contours[i - 1].to)
            hatch.line_start.push_back(hatch.runs.size() + i);
    hatch.runs.insert(hatch.runs.end(), contours.begin(), contours.end());
    return hatch;
}

/// What these shapes of it cover.
Region part_of(const Region& region, std::span<const std::vector<std::size_t>> shapes) {
    Region out;
    for (const auto& shape : shapes)
        for (const std::size_t ring : shape)
            out.rings.push_back(region.rings.at(ring));
    return out;
}

} // namespace

Expected<std::vector<HatchRun>> contour_runs(const JobLayer& layer) {
    return contours_of(layer.region, layer, {});
}

Expected<Hatch> pass_hatch(const JobLayer& layer, int pass) {
    auto lines = hatch(layer.region, pass_rules(layer, pass));
    if (!lines || layer.contours == 0)
        return lines;
    return contour_runs(layer).map([&](const auto& contours) { return with_contours(std::move(*lines), contours); });
}

Expected<Hatch> pass_hatch(const JobLayer& layer, int pass, std::span<const std::vector<std::size_t>> shapes) {
    auto lines = hatch(layer.region, pass_rules(layer, pass), shapes);
    if (!lines || layer.contours == 0)
        return lines;
    return contours_of(part_of(layer.region, shapes), layer, {}).map([&](const auto& contours) {
        return with_contours(std::move(*lines), contours);
    });
}

bool is_at(const JobLayer& layer, const JobPlace& place) {
    return layer.only_at.empty() || std::ranges::find(layer.only_at, place.number) != layer.only_at.end();
}

Expected<LayerAt> layer_at(const JobLayer& layer, const JobPlace& place) {
    const bool whole = !place.only || !layer.only_at.empty(); // marked whole, nothing meets it
    if (!is_at(layer, place))
        return LayerAt{&layer, {}};
    auto contours = contours_of(layer.region, layer, whole ? std::nullopt : place.only);
    if (!contours)
        return tl::unexpected(contours.error());
    auto region = whole ? Expected<Region>(layer.region) : within(layer.region, *place.only);
    if (!region)
        return tl::unexpected(region.error());
    return LayerAt{&layer, std::move(*region), !whole, std::move(*contours)};
}

Expected<Hatch> pass_hatch(const LayerAt& part, int pass) {
    HatchRules rules = pass_rules(*part.layer, pass);
    if (part.meets)
        rules.anchor_mm = 0.5 * rules.pitch_mm;
    return hatch(part.region, rules).map([&](Hatch lines) { return with_contours(std::move(lines), part.contours); });
}

namespace {

bool in_parts(const Job& job) {
    return std::ranges::any_of(job.places, [](const JobPlace& p) { return p.only.has_value(); });
}

} // namespace

std::vector<PointMm> drawn_at(const Job& job, const JobLayer& layer) {
    if (in_parts(job))
        return std::vector<PointMm>(1);
    std::vector<PointMm> out;
    for (const JobPlace& p : places_of(job))
        if (is_at(layer, p))
            out.push_back(p.by);
    return out;
}

PointMm drawn_size(const Job& job) {
    PointMm out{job.width_mm, job.height_mm};
    for (const JobPlace& p : job.places)
        if (p.only)
            out = {std::max(out.x, p.only->x + p.only->w), std::max(out.y, p.only->y + p.only->h)};
    return out;
}

Expected<std::vector<ScanLoad>> loads_of(const Job& job) {
    std::vector<ScanLoad> out;
    std::vector<std::optional<ScanLoad>> whole(job.layers.size()); // the same in every nest
    for (const JobPlace& place : places_of(job))
        for (std::size_t l = 0; l < job.layers.size(); ++l) {
            const JobLayer& layer = job.layers[l];
            if (layer.guide || !layer.recipe || !is_at(layer, place))
                continue;
            if (!whole[l] || place.only || !layer.only_at.empty()) {
                const bool by_steps = !job.steps.empty();
                const auto lines =
                    by_steps ? layer_work(job, layer).map([](LayerWork w) { return std::move(w.hatch); })
                             : layer_at(layer, place).and_then([](const LayerAt& part) { return pass_hatch(part, 0); });
                if (!lines)
                    return tl::unexpected(lines.error().in_field(layer.name));
                whole[l] = load_of(*lines, in_mm_per_second(layer.recipe->setting.scan_speed),
                                   burned_setting(*layer.recipe).passes);
            }
            if (!whole[l]->lines.empty())
                out.push_back(*whole[l]);
        }
    return out;
}

Expected<LayerWork> layer_work(const JobLayer& layer) {
    return pass_hatch(layer, 0).map([&](Hatch lines) {
        LayerWork out{std::move(lines), {}};
        out.load = load_of(out.hatch, in_mm_per_second(layer.recipe->setting.scan_speed),
                           burned_setting(*layer.recipe).passes);
        return out;
    });
}

Expected<LayerWork> layer_work(const Job& job, const JobLayer& layer) {
    if (job.steps.empty() || layer.by_shape)
        return layer_work(layer);
    JobLayer by_shape = layer;
    by_shape.by_shape = true;
    return layer_work(by_shape);
}

Expected<void> steps_complete(const Job& job) {
    const auto wrong = [](std::size_t layer, const char* how) {
        return failure("job.steps",
                       fmt::format("The order of marking is not that of this job: {} of layer {}.", how, layer + 1),
                       "Leave the steps out, or have the order planned again.", {{}, 0, "steps"});
    };
    if (job.steps.empty())
        return {};
    if (in_parts(job) || std::ranges::any_of(job.layers, [](const JobLayer& l) { return !l.only_at.empty(); }))
        return wrong(0, "it is of the whole drawing, which is marked in parts");
    std::vector<std::vector<int>> times(job.layers.size());
    for (std::size_t l = 0; l < job.layers.size(); ++l)
        if (!job.layers[l].guide && job.layers[l].recipe)
            times[l].assign(shapes_of(job.layers[l].region).size(), 0);
    for (const JobStep& s : job.steps) {
        if (s.layer >= times.size() || s.first_shape > times[s.layer].size() ||
            s.shapes > times[s.layer].size() - s.first_shape)
            return wrong(s.layer, "it names a shape that is none");
        for (std::size_t i = 0; i < s.shapes; ++i)
            ++times[s.layer][s.first_shape + i];
    }
    for (std::size_t l = 0; l < times.size(); ++l)
        for (const int n : times[l])
            if (n != 1)
                return wrong(l, n == 0 ? "it leaves out a shape" : "it marks a shape twice");
    return {};
}

json to_json(const Job& job) {
    json layers = json::array();
    for (const JobLayer& l : job.layers) {
        layers.push_back(
            {{"name", l.name}, {"colour", l.colour}, {"guide", l.guide}, {"rings_mm", rings_json(l.region)}});
        if (l.recipe)
            layers.back()["recipe"] = to_json(*l.recipe);
        if (l.by_shape)
            layers.back()["by_shape"] = true;
        if (!l.only_at.empty())
            layers.back()["only_at"] = l.only_at;
        if (l.one_way)
            layers.back()["one_way"] = true;
        if (l.contours > 0)
            layers.back()["contours"] = l.contours;
        if (l.inset_mm > 0)
            layers.back()["inset_mm"] = l.inset_mm;
        if (!l.words.empty())
            layers.back()["words"] = l.words;
    }
    const bool newer =
        job.in_turn ||
        std::ranges::any_of(job.layers,
                            [](const JobLayer& l) {
                                return !l.only_at.empty() || l.one_way || l.contours > 0 || l.inset_mm > 0 ||
                                       !l.words.empty();
                            }) ||
        std::ranges::any_of(job.places, [](const JobPlace& p) { return p.only || p.axis_deg || p.by_hand; });
    json out{{"format", "finch-job"},
             {"version", newer ? 2 : 1},
             {"name", job.name},
             {"width_mm", on_grid(job.width_mm)},
             {"height_mm", on_grid(job.height_mm)},
             {"setup", to_json(job.setup)},
             {"layers", layers}};
    if (!job.steps.empty())
        out["steps"] = to_json(job.steps);
    if (job.in_turn)
        out["in_turn"] = true;
    for (const JobPlace& p : job.places) {
        json place{{"number", p.number}, {"by_mm", {on_grid(p.by.x), on_grid(p.by.y)}}};
        if (p.only)
            place["only_mm"] = {on_grid(p.only->x), on_grid(p.only->y), on_grid(p.only->w), on_grid(p.only->h)};
        if (p.axis_deg)
            place["axis_deg"] = on_grid(*p.axis_deg);
        if (p.by_hand)
            place["by_hand"] = true;
        out["places"].push_back(std::move(place));
    }
    return out;
}

Expected<Job> job_from_json(const json& document, const std::string& file) {
    if (const auto version = check_format(document, "finch-job", job_format_version, file); !version)
        return tl::unexpected(version.error());
    std::vector<Error> faults;
    JsonFields f(document, "", faults);
    Job job;
    job.name = f.text("name");
    job.width_mm = f.number("width_mm", 0, farthest_mm);
    job.height_mm = f.number("height_mm", 0, farthest_mm);
    const auto within = [](Error e, const std::string& part) {
        e.place.field = part + (e.place.field.empty() ? "" : "." + e.place.field);
        return e;
    };
    if (auto setup = setup_from_json(f.raw("setup"), ""))
        job.setup = std::move(*setup);
    else
        faults.push_back(within(setup.error(), "setup"));
    std::size_t room = most_ring_numbers;
    for (JsonFields& l : f.list("layers")) {
        if (job.layers.size() == most_job_layers) {
            f.fault("layers", "There are more than 10000 layers.", "Join those that are marked alike.");
            break;
        }
        JobLayer layer{
            l.text("name"), l.text("colour"), l.flag_or("guide", false), {}, {}, l.flag_or("by_shape", false), {}};
        if (l.has("only_at"))
            layer.only_at = whole_numbers(l, "only_at");
        layer.one_way = l.flag_or("one_way", false);
        layer.contours = l.whole_or("contours", 0, 0, most_contours);
        layer.inset_mm = l.number_or("inset_mm", 0, 0, most_inset_mm);
        layer.words = l.text_or("words", "");
        if (l.has("recipe")) {
            if (auto recipe = recipe_from_json(l.raw("recipe"), ""))
                layer.recipe = std::move(*recipe);
            else
                faults.push_back(within(recipe.error(), fmt::format("layers[{}].recipe", job.layers.size())));
        }
        if (auto region = read_rings(l.raw("rings_mm"), room))
            layer.region = std::move(*region);
        else
            l.fault("rings_mm", "This is no list of rings.",
                    "Each ring is a list of x and y in turn, three places or more.");
        job.layers.push_back(std::move(layer));
    }
    if (f.has("steps"))
        job.steps = read_steps(f, "steps");
    job.in_turn = f.flag_or("in_turn", false);
    if (f.has("places"))
        for (JsonFields& p : f.list("places")) {
            if (job.places.size() == most_places) {
                f.fault("places", "There are more than 1000 places.", "Make it several trays.");
                break;
            }
            const int number = p.whole("number", 1, 1'000'000);
            const std::vector<double> by = p.numbers("by_mm", 2, -farthest_mm, farthest_mm);
            if (by.size() != 2)
                continue;
            JobPlace place{number, {by[0], by[1]}};
            if (p.has("only_mm")) {
                const std::vector<double> only = p.numbers("only_mm", 4, -farthest_mm, farthest_mm);
                if (only.size() == 4 && (only[2] <= 0 || only[3] <= 0))
                    p.fault("only_mm", "This is no box.", "It is x, y, width and height in mm.");
                else if (only.size() == 4)
                    place.only = {only[0], only[1], only[2], only[3]};
            }
            place.axis_deg = p.optional_number("axis_deg", -36000, 36000);
            place.by_hand = p.flag_or("by_hand", false);
            job.places.push_back(place);
        }
    for (std::size_t l = 0; l < job.layers.size(); ++l)
        for (const int number : job.layers[l].only_at)
            if (std::ranges::none_of(job.places, [&](const JobPlace& p) { return p.number == number; }))
                f.fault("layers", fmt::format("Layer {} belongs to place {}, which is none.", l + 1, number),
                        "Give the numbers of places in only_at.");
    if (auto fault = first_fault(faults, file))
        return tl::unexpected(*fault);
    if (const auto whole = steps_complete(job); !whole)
        return tl::unexpected(whole.error().in_file(file));
    return job;
}

} // namespace finch
