// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/commands.h"

#include "document/json_fields.h"
#include "formats/data_folder.h"
#include "formats/file_out.h"
#include "formats/sheet_export.h"
#include "proof/comparison.h"
#include "proof/depth_wedge.h"
#include "proof/field_sheet.h"
#include "proof/focus_ladder.h"
#include "proof/layout.h"
#include "proof/lot_check.h"
#include "proof/offset_series.h"
#include "proof/threshold.h"
#include "vision/fiducials.h"

#include <algorithm>
#include <array>
#include <nlohmann/json.hpp>

namespace finch::cli {

using json = nlohmann::json;

// Sheets that answer one question: planned without --sheet, judged with it and its reading.

Expected<SheetReading> load_reading(const std::string& file, const ProofSheet& sheet) {
    const auto text = read_text_file(file);
    auto document = text ? parse_json(*text, file) : tl::unexpected(text.error());
    if (!document)
        return tl::unexpected(document.error());
    // Without what `proof read` says beside it.
    if (document->is_object())
        for (const char* beside : {"learned", "ranking"})
            document->erase(beside);
    return reading_from_json(*document, sheet, file);
}

namespace {

Expected<Recipe> load_recipe(const Context& context, const std::string& file) {
    const auto text = read_input(context, file);
    return text ? recipe_from_text(*text, file) : tl::unexpected(text.error());
}

/// The sheet as a document, also written as SVG where that is asked for.
Expected<json> given_out(const Expected<ProofSheet>& sheet, const std::string& svg) {
    if (!sheet)
        return tl::unexpected(sheet.error());
    if (!svg.empty())
        if (const auto written =
                write_file(QString::fromStdString(svg), sheet_svg(*sheet, fiducial_modules(layout(*sheet))));
            !written)
            return tl::unexpected(written.error());
    return to_json(*sheet);
}

struct Asked {
    ProofSheet sheet;
    SheetReading reading;
};
Expected<Asked> read_question(const Context& context, const QuestionOptions& o) {
    auto sheet = load_sheet(context, o.sheet);
    auto reading = sheet ? load_reading(o.reading, *sheet) : tl::unexpected(sheet.error());
    if (!reading)
        return tl::unexpected(reading.error());
    return Asked{std::move(*sheet), std::move(*reading)};
}

bool to_be_judged(const QuestionOptions& o) {
    return !o.sheet.empty() || !o.reading.empty();
}

SheetRequest request_of(const QuestionOptions& o, const Recipe& base) {
    SheetRequest request;
    request.number = o.number;
    request.aim = o.aim;
    request.base = base;
    return request;
}

/// Letters that anneal are safe on bare metal; other marks are lettered with the recipe itself.
Expected<Recipe> letters(const Scene& scene, const Recipe& recipe) {
    return traits(recipe.process).lasting_colour ? label_recipe(scene) : Expected<Recipe>(recipe);
}

/// A sheet that asks: of the recipe that is given, with letters that suit it. `plan` gets the request and the letters.
template <typename Plan>
Expected<json> planned(const Context& context, const QuestionOptions& o, const OwnScene& loaded, Plan plan) {
    const auto recipe = load_recipe(context, o.recipe);
    const auto labels = recipe ? letters(loaded.scene(), *recipe) : recipe;
    if (!labels)
        return tl::unexpected(labels.error());
    return given_out(plan(request_of(o, *recipe), *labels), o.svg);
}

json lab_json(const Lab& lab) {
    return {lab.l, lab.a, lab.b};
}

Expected<json> judged_comparison(const Context& context, const CompareOptions& o) {
    const auto asked = read_question(context, o);
    const auto v = asked ? judge_comparison(asked->sheet, asked->reading) : tl::unexpected(asked.error());
    if (!v)
        return tl::unexpected(v.error());
    static constexpr std::array findings{"matters", "differs", "does not matter", "cannot tell"};
    json pairs = json::array();
    for (const auto& [first, second] : v->readings)
        pairs.push_back({first, second});
    return json{{"format", "finch-verdict"},
                {"version", 1},
                {"measure", word(asked->sheet.paired->measure)},
                {"matters_from", asked->sheet.paired->matters},
                {"pairs", pairs},
                {"difference", v->difference},
                {"interval_95", {v->low, v->high}},
                {"shown_nine_in_ten", v->shown},
                {"finding", findings.at(static_cast<std::size_t>(v->finding))},
                {"words", v->words}};
}

} // namespace

Expected<json> proof_compare(const Context& context, const CompareOptions& o) {
    if (to_be_judged(o))
        return judged_comparison(context, o);
    const auto loaded = load_scene(context, o.bench, o.stock);
    const auto first = loaded ? load_recipe(context, o.recipe) : tl::unexpected(loaded.error());
    const auto second = first ? load_recipe(context, o.with) : first;
    const auto labels = second ? label_recipe(loaded->scene()) : second;
    if (!labels)
        return tl::unexpected(labels.error());
    const auto measure = static_cast<Measure>(std::ranges::find(measure_keys, o.measure) - measure_keys.begin());
    return given_out(plan_comparison(request_of(o, *first), {*first, *second, o.pairs, measure, o.matters},
                                     loaded->setup.bench, *labels, o.seed),
                     o.svg);
}

Expected<json> proof_focus_ladder(const Context& context, const LadderOptions& o) {
    const auto loaded = load_scene(context, o.bench, o.stock);
    if (!loaded)
        return tl::unexpected(loaded.error());
    if (to_be_judged(o)) {
        const auto asked = read_question(context, o);
        const auto found = asked ? judge_ladder(asked->sheet, asked->reading, loaded->setup.bench, o.accept_de)
                                 : tl::unexpected(asked.error());
        if (!found)
            return tl::unexpected(found.error());
        return to_json(*found, asked->sheet);
    }
    return planned(context, o, *loaded, [&](const SheetRequest& request, const Recipe& labels) {
        return plan_focus_ladder(request, {mm(o.reach_mm), mm(o.about_mm), o.steps, o.over_field}, loaded->setup.bench,
                                 labels, o.seed);
    });
}

Expected<json> proof_threshold(const Context& context, const ThresholdOptions& o) {
    const auto loaded = load_scene(context, o.bench, o.stock);
    if (!loaded)
        return tl::unexpected(loaded.error());
    if (to_be_judged(o)) {
        const auto asked = read_question(context, o);
        const auto found =
            asked ? judge_threshold(asked->sheet, asked->reading, loaded->setup.bench) : tl::unexpected(asked.error());
        return found ? Expected<json>(to_json(*found)) : tl::unexpected(found.error());
    }
    return planned(context, o, *loaded, [&](const SheetRequest& request, const Recipe& labels) {
        return plan_threshold(request, {o.from_percent, o.to_percent, o.powers, o.times}, loaded->scene(), labels,
                              o.seed);
    });
}

Expected<json> proof_offsets(const Context& context, const OffsetOptions& o) {
    const auto loaded = load_scene(context, o.bench, o.stock);
    if (!loaded)
        return tl::unexpected(loaded.error());
    if (to_be_judged(o)) {
        const auto asked = read_question(context, o);
        auto target = asked ? target_by_name(o.target) : tl::unexpected(asked.error());
        if (!target)
            return tl::unexpected(target.error());
        target->accept_de = o.within;
        const auto found = judge_offsets(asked->sheet, asked->reading, loaded->scene(), *target);
        return found ? Expected<json>(to_json(*found, asked->sheet)) : tl::unexpected(found.error());
    }
    return planned(context, o, *loaded, [&](const SheetRequest& request, const Recipe& labels) {
        return plan_offsets(request, {mm(o.reach_mm), o.offsets}, loaded->scene(), labels);
    });
}

Expected<json> proof_field(const Context& context, const FieldOptions& o) {
    const auto loaded = load_scene(context, o.bench, o.stock);
    if (!loaded)
        return tl::unexpected(loaded.error());
    if (to_be_judged(o)) {
        const auto asked = read_question(context, o);
        const auto found = asked ? judge_field(asked->sheet, asked->reading, o.within) : tl::unexpected(asked.error());
        return found ? Expected<json>(to_json(*found, asked->sheet)) : tl::unexpected(found.error());
    }
    return planned(context, o, *loaded, [&](const SheetRequest& request, const Recipe& labels) {
        return plan_field_sheet(request, loaded->setup.bench, labels, o.seed);
    });
}

Expected<json> proof_wedge(const Context& context, const WedgeOptions& o) {
    const auto loaded = load_scene(context, o.bench, o.stock);
    if (!loaded)
        return tl::unexpected(loaded.error());
    if (to_be_judged(o)) {
        const auto asked = read_question(context, o);
        if (!asked)
            return tl::unexpected(asked.error());
        std::optional<WantedDepth> wanted;
        if (!o.depth.empty()) {
            const auto depth = wanted_depth_from_text(o.depth);
            if (!depth)
                return tl::unexpected(depth.error());
            wanted = *depth;
        }
        const auto found = judge_wedge(asked->sheet, asked->reading, loaded->scene(), wanted);
        return found ? Expected<json>(to_json(*found)) : tl::unexpected(found.error());
    }
    return planned(context, o, *loaded, [&](const SheetRequest& request, const Recipe& labels) {
        return plan_wedge(request, {o.passes, o.steps, o.times}, loaded->scene(), labels, o.seed);
    });
}

Expected<json> proof_lot_check(const Context& context, const LotOptions& o) {
    const auto loaded = load_scene(context, o.bench, o.stock);
    if (!loaded)
        return tl::unexpected(loaded.error());
    if (to_be_judged(o)) {
        const auto asked = read_question(context, o);
        const auto found = asked ? judge_lot_check(asked->sheet, asked->reading) : tl::unexpected(asked.error());
        if (!found)
            return tl::unexpected(found.error());
        static constexpr std::array verdicts{"same", "dose", "different", "unsure"};
        json path = json::array();
        for (const auto& [dose, lab] : found->path)
            path.push_back({{"dose_factor", dose}, {"lab", lab_json(lab)}});
        return json{{"format", "finch-lot-finding"},
                    {"version", 1},
                    {"expected", lab_json(asked->sheet.lot->expected)},
                    {"accept_de", asked->sheet.lot->accept_de},
                    {"finding", verdicts.at(static_cast<std::size_t>(found->verdict))},
                    {"as_it_is_de", found->as_it_is_de},
                    {"best_dose_factor", found->best_dose},
                    {"best_dose_factor_within", {found->best_dose_low, found->best_dose_high}},
                    {"best_de", found->best_de},
                    {"readings_within_de", found->within_de},
                    {"corrected", to_json(found->corrected)},
                    {"path", path},
                    {"words", found->words}};
    }
    if (o.expected.size() != 3)
        return failure("lot.expected", "What the recipe looked like where it was proven is missing.",
                       "Give its reading: --expected L* a* b*.");
    return planned(context, o, *loaded, [&](const SheetRequest& request, const Recipe& labels) {
        return plan_lot_check(request, {{o.expected[0], o.expected[1], o.expected[2]}, o.accept_de},
                              loaded->setup.bench, labels);
    });
}

} // namespace finch::cli
