// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/piece_commands.h"
#include "formats/file_out.h"
#include "formats/job_export.h"
#include "formats/typed_art.h"
#include "piece/offset_text.h"
#include "piece/piece_cost.h"
#include "piece/scanner_fit.h"
#include "piece/tray.h"
#include "quantity/scan.h"

#include <filesystem>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace finch::cli {

using json = nlohmann::json;

Expected<json> piece_tray(const Context& context, const TrayOptions& o) {
    const auto part = read_job(context, o.file);
    if (!part)
        return tl::unexpected(part.error());
    Tray tray{o.columns, o.rows, o.pitch_x_mm, o.pitch_y_mm, o.margin_mm, {}, o.filled, o.outline, o.in_turn};
    for (const std::string& text : o.offsets) {
        const auto offsets = offsets_from_text(text);
        if (!offsets)
            return tl::unexpected(offsets.error());
        tray.offsets.insert(tray.offsets.end(), offsets->begin(), offsets->end());
    }
    const auto typed = read_texts(context, o.typed);
    if (!typed)
        return tl::unexpected(typed.error());
    PlaceRules rules;
    rules.holding = Holding::tray;
    rules.tray = tray;
    const auto with_texts = numbered(*part, *typed, rules);
    if (!with_texts)
        return tl::unexpected(with_texts.error().in_file(o.typed.texts));
    const auto job = in_tray(with_texts->job, with_texts->rules.tray);
    if (!job)
        return tl::unexpected(job.error());
    if (!o.jig.empty()) {
        const auto jig = jig_of(*part, tray, o.clearance_mm);
        if (!jig)
            return tl::unexpected(jig.error());
        const auto text = job_text(*jig, std::filesystem::path(o.jig).extension() == ".dxf" ? std::string("dxf")
                                                                                            : std::string("svg"));
        if (!text)
            return tl::unexpected(text.error());
        if (const auto written = write_file(QString::fromStdString(o.jig), *text); !written)
            return tl::unexpected(written.error());
    }
    return to_json(*job);
}

Expected<json> piece_place(const Context& context, const PlaceOptions& o) {
    const auto part = read_job(context, o.file);
    if (!part)
        return tl::unexpected(part.error());
    if (!part->places.empty())
        return failure("place.again", "This job is laid out already.", "Take the job of one part.",
                       {o.file, 0, "places"});
    PlaceRules rules = o.rules;
    rules.holding = o.tiles ? Holding::tiles : o.round ? Holding::round : Holding::as_drawn;
    if (o.shift.size() == 2)
        rules.shift = {o.shift[0], o.shift[1]};
    auto laid = placed(*part, rules);
    if (!laid)
        return tl::unexpected(laid.error());
    if (o.job)
        return to_json(laid->job);
    const auto time =
        time_of(fitted(part->setup.bench.scanner), *laid, rules, context.materials->model.effort.handling_s);
    if (!time)
        return tl::unexpected(time.error());
    json out{{"format", "finch-placed"},           {"version", 1},
             {"places", laid->job.places.size()},  {"size_mm", {laid->job.width_mm, laid->job.height_mm}},
             {"seconds", time->marking.likely},    {"seconds_low", time->marking.low},
             {"seconds_high", time->marking.high}, {"moving_s", time->moving_s},
             {"findings", json::array()},          {"job", to_json(laid->job)}};
    for (const Finding& f : laid->findings)
        out["findings"].push_back({{"code", f.code}, {"text", f.message}, {"remedy", f.remedy}});
    if (laid->round) {
        const RoundPlan& r = *laid->round;
        out["round"] = {
            {"diameter_mm", r.diameter_mm},       {"wrap_mm", r.wrap_mm},   {"stretch", r.stretch},
            {"half_angle_deg", r.half_angle_deg}, {"taper_mm", r.taper_mm}, {"half_depth_mm", r.half_depth_mm},
            {"steps_per_turn", r.steps_per_turn}, {"taken", r.taken},       {"choices", json::array()}};
        for (const StripChoice& c : r.choices)
            out["round"]["choices"].push_back({{"strips", c.strips},
                                               {"steps_each", c.steps_each},
                                               {"lines_each", c.lines_each},
                                               {"pitch_mm", c.pitch_mm},
                                               {"strip_deg", c.strip_deg},
                                               {"sag_mm", c.sag_mm},
                                               {"room_mm", c.room_mm},
                                               {"in_focus", c.in_focus},
                                               {"seams_cut", c.seams_cut}});
    }
    return out;
}

Expected<json> piece_batch(const Context& context, const TrayOptions& o) {
    const auto job = read_job(context, o.file);
    if (!job)
        return tl::unexpected(job.error());
    const auto time = part_mark_s(*job, fitted(job->setup.bench.scanner));
    if (!time)
        return tl::unexpected(time.error());
    const double mark_s = *time;
    const double handle_s = context.materials->model.effort.handling_s;
    const int nests = static_cast<int>(places_of(*job).size());
    const Batch b = batch_of(parts_to_load(o.wanted, o.spoiled), nests, mark_s, handle_s);
    const double rate = job->setup.bench.rate_per_hour / 3600;
    return json{{"format", "finch-batch-plan"},
                {"version", 1},
                {"wanted", o.wanted},
                {"load", b.load},
                {"nests", nests},
                {"trays", b.trays},
                {"on_last", b.on_last},
                {"mark_s", mark_s},
                {"handle_s", handle_s},
                {"one_tray_s", b.one_tray_s},
                {"two_trays_s", b.two_trays_s},
                {"cost_one_tray", rate * b.one_tray_s},
                {"cost_two_trays", rate * b.two_trays_s},
                {"rests_on",
                 fmt::format("{:.4g} % spoiled, 95 % sure of enough; loading and unloading a part takes an estimated "
                             "{:.4g} s",
                             100 * o.spoiled, handle_s)}};
}

} // namespace finch::cli
