// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "record/facts.h"

#include "bench/bench_json.h"
#include "document/json_fields.h"
#include "evidence/evidence_json.h"
#include "quantity/format.h"
#include "quantity/scan.h"
#include "recipe/predict.h"

#include <algorithm>
#include <cctype>
#include <fmt/format.h>

namespace finch {
namespace {

using json = nlohmann::json;

std::string axes_words(const ProofSheet& sheet) {
    if (sheet.free())
        return std::string(kind_word(sheet));
    std::string a(traits(sheet.across.knob).label), b(traits(sheet.down.knob).label);
    for (std::string* s : {&a, &b})
        std::transform(s->begin(), s->end(), s->begin(), [](unsigned char c) { return std::tolower(c); });
    return a + " × " + b;
}

Entry blank(EntryKind kind, const Setup& setup, const std::string& metal, const std::string& program) {
    Entry e;
    e.kind = kind;
    e.bench = setup.bench.name;
    e.metal = metal;
    e.lot = setup.stock.lot;
    e.setup = to_json(setup);
    e.program_version = program;
    return e;
}

template <typename T>
std::optional<T> take(Expected<T> value, std::vector<Error>& faults) {
    if (value)
        return std::move(*value);
    faults.push_back(value.error());
    return std::nullopt;
}

} // namespace

Entry entry_of(const BurnedSheet& s, const std::string& metal, const std::string& program) {
    Entry e = blank(EntryKind::sheet, s.setup, metal, program);
    e.uid = s.uid;
    e.when_utc = s.when_utc;
    e.by = s.by;
    e.sheet = s.sheet.number;
    e.title = fmt::format("Sheet {:02}, {}", s.sheet.number, axes_words(s.sheet));
    const auto burned =
        s.sheet.cells() - static_cast<std::size_t>(std::count(s.sheet.left_out.begin(), s.sheet.left_out.end(), true));
    // A question is asked of its own aim, whatever colour was looked for then.
    const std::string& what = s.sheet.asks() && !s.sheet.aim.empty() ? s.sheet.aim : s.target.name;
    e.summary = s.burned_s > 0 ? fmt::format("{} cells burned in {}, for {}", burned, format_duration(s.burned_s), what)
                               : fmt::format("{} cells, burned elsewhere, for {}", burned, what);
    e.body = {{"format", "finch-sheet-record"},
              {"version", 1},
              {"sheet", to_json(s.sheet)},
              {"target", to_json(s.target)},
              {"known_before", evidence_document(s.known_before)},
              {"reason", s.reason},
              {"burned_s", s.burned_s}};
    if (s.hoped_de) {
        e.body["hoped_de00"] = *s.hoped_de;
        e.body["hoped_spread"] = s.hoped_spread;
    }
    return e;
}

Entry entry_of(const ReadSheet& r, const std::string& summary, Outcome outcome, const std::string& metal,
               const std::string& program) {
    Entry e = blank(EntryKind::reading, r.setup, metal, program);
    e.uid = r.uid;
    e.when_utc = r.when_utc;
    e.by = r.by;
    e.sheet = r.sheet.number;
    e.parent_uid = r.burned_uid;
    e.title = fmt::format("Sheet {:02}, reading", r.sheet.number);
    e.summary = summary;
    e.outcome = outcome;
    e.body = {{"format", "finch-reading-record"},
              {"version", 1},
              {"sheet", to_json(r.sheet)},
              {"reading", to_json(r.reading, r.sheet)},
              {"target", to_json(r.target)}};
    return e;
}

Entry entry_of(const FocusConfirmation& f, const Setup& setup, const std::string& uid, const std::string& metal,
               const std::string& program) {
    Entry e = blank(EntryKind::bench, setup, metal, program);
    e.uid = uid;
    e.when_utc = f.when_utc;
    e.by = f.by;
    e.title = fmt::format("Focus confirmed, {}", f.lens);
    e.summary = fmt::format("by {}, offset {} mm on {} mm stock", word(f.method), format_number(in_mm(f.offset)),
                            format_number(in_mm(f.thickness)));
    e.outcome = Outcome::good;
    e.body = {{"format", "finch-focus"}, {"version", 1}};
    return e;
}

Entry entry_of(const TimedScanner& timed, Setup setup, const std::string& uid, const std::string& metal,
               const std::string& program) {
    setup.bench.scanner.timed = timed.runs;
    Entry e = blank(EntryKind::bench, setup, metal, program);
    e.uid = uid;
    e.when_utc = timed.when_utc;
    e.by = timed.by;
    e.title = scanner_timed_title;
    e.summary = timed.runs.empty() ? "its timed runs are forgotten" : fmt::format("{} runs", timed.runs.size());
    for (const TimedRun& r : timed.runs)
        e.summary += fmt::format(", {} {}", shortened(r.name, 40), format_duration(r.took_s));
    e.outcome = Outcome::good;
    e.body = {{"format", "finch-timed-runs"}, {"version", 1}};
    return e;
}

Entry entry_of(const PrintedJob& job, const std::string& uid, const std::string& metal, const std::string& program) {
    Entry e = blank(EntryKind::bench, job.setup, metal, program);
    e.uid = uid;
    e.when_utc = job.when_utc;
    e.by = job.by;
    e.title = fmt::format("Job sheet {}", job.code);
    e.summary = job.name.empty() ? "a job" : shortened(job.name, 80);
    e.outcome = Outcome::unknown;
    e.body = {{"format", "finch-job-record"}, {"version", 1}, {"code", job.code}, {"job", job.job}};
    return e;
}

Entry entry_of(const CompoundFact& f, const CompoundConstants& product, const LadderScore& score,
               const std::string& metal, const std::string& program) {
    Entry e = blank(EntryKind::bench, f.setup, metal, program);
    e.uid = f.uid;
    e.when_utc = f.when_utc;
    e.by = f.by;
    const auto step = std::ranges::find(product.steps, f.stage, &CompoundStep::stage);
    const std::string title = step != product.steps.end() ? step->title : std::string(key(f.stage));
    e.title = f.closed ? fmt::format("{}, {}: put away", compound_work_title, product.name)
                       : fmt::format("{}, {}: {} {}", compound_work_title, product.name, title, key(f.kind));
    e.summary = fmt::format("{} {}{}{}", f.pieces, f.pieces == 1 ? "piece" : "pieces", f.note.empty() ? "" : ", ",
                            shortened(f.note, 200));
    if (!f.ladder.empty()) {
        e.summary += fmt::format(", survives {}, score {:.0f} of 100", score.survives, score.score);
        // Whether it takes on this metal at all; what it must stand is the piece's own matter.
        e.outcome = score.level > 0 ? Outcome::good : Outcome::bad;
    } else if (f.kind == StepEvent::Kind::skipped)
        e.outcome = Outcome::caution;
    e.body = {{"format", "finch-film-work"},
              {"version", 1},
              {"batch", f.batch},
              {"pieces", f.pieces},
              {"recipe", to_json(f.recipe)},
              {"stage", key(f.stage)},
              {"kind", key(f.kind)},
              {"closed", f.closed},
              {"note", f.note},
              {"ladder", f.ladder}};
    return e;
}

namespace {

constexpr std::array scrap_kinds{"found", "used", "gone"};

json rect_json(const RectMm& r) {
    return {tidy(r.x), tidy(r.y), tidy(r.w), tidy(r.h)};
}

} // namespace

Entry entry_of(const ScrapFact& f, const std::string& metal, const std::string& program) {
    Entry e = blank(EntryKind::bench, f.setup, metal, program);
    e.uid = f.uid;
    e.when_utc = f.when_utc;
    e.by = f.by;
    e.title = fmt::format("{}, {}: {}", scrap_bin_title, f.piece,
                          f.kind == ScrapFact::Kind::used   ? "used"
                          : f.kind == ScrapFact::Kind::gone ? "taken out"
                                                            : "put in");
    e.body = {{"format", "finch-scrap"},
              {"version", 1},
              {"piece", f.piece},
              {"kind", scrap_kinds.at(static_cast<std::size_t>(f.kind))},
              {"note", f.note}};
    if (f.kind == ScrapFact::Kind::found) {
        e.body["size_mm"] = {tidy(f.width_mm), tidy(f.height_mm)};
        e.summary = fmt::format("{} x {} mm", format_number(f.width_mm, 4), format_number(f.height_mm, 4));
    }
    if (f.kind == ScrapFact::Kind::used) {
        e.sheet = f.mark.sheet;
        e.body["face"] = scrap_faces.at(f.mark.face);
        e.body["where_mm"] = rect_json(f.mark.where);
        e.body["what"] = f.mark.what;
        e.body["sheet"] = f.mark.sheet;
        e.body["turned"] = f.mark.turned;
        e.summary = fmt::format("{}, face {}, {} x {} mm", shortened(f.mark.what, 80), scrap_faces.at(f.mark.face),
                                format_number(f.mark.where.w, 4), format_number(f.mark.where.h, 4));
    }
    if (!f.note.empty())
        e.summary += (e.summary.empty() ? "" : ", ") + shortened(f.note, 200);
    return e;
}

Entry entry_of(const CameraFact& f, const std::string& metal, const std::string& program) {
    Entry e = blank(EntryKind::bench, f.setup, metal, program);
    e.uid = f.uid;
    e.when_utc = f.when_utc;
    e.by = f.by;
    e.title = fmt::format("{}, {}", camera_set_right_title, shortened(f.colours.camera, 80));
    e.summary = fmt::format("by {}, {} places, {} CIEDE2000 left", f.shown, f.colours.places,
                            format_number(f.colours.residual_de, 2));
    e.outcome = Outcome::good;
    json places = json::array();
    for (const ColourPair& p : f.places)
        places.push_back({{"place", p.place},
                          {"seen", {tidy(p.seen[0]), tidy(p.seen[1]), tidy(p.seen[2])}},
                          {"measured_lab", {tidy(p.measured.l), tidy(p.measured.a), tidy(p.measured.b)}}});
    e.body = {{"format", "finch-camera-record"},
              {"version", 1},
              {"camera", to_json(f.colours)},
              {"shown", f.shown},
              {"places", std::move(places)}};
    return e;
}

Expected<BurnedSheet> burned_sheet(const Entry& e) {
    const std::string file = "entry " + std::to_string(e.id);
    if (const auto version = check_format(e.body, "finch-sheet-record", 1, file); !version)
        return tl::unexpected(version.error());
    std::vector<Error> faults;
    JsonFields f(e.body, "", faults);
    const auto sheet = take(sheet_from_json(f.raw("sheet"), file), faults);
    const auto setup = take(setup_from_json(e.setup, file), faults);
    const auto target = take(target_from_json(f.raw("target")), faults);
    const auto known = f.has("known_before") ? take(evidence_from_json(f.raw("known_before"), file), faults)
                                             : std::optional(Evidence{});
    BurnedSheet out;
    out.reason = f.text_or("reason", "");
    out.hoped_de = f.optional_number("hoped_de00", 0, 1000);
    out.hoped_spread = f.number_or("hoped_spread", 0, 0, 1000);
    out.burned_s = f.number_or("burned_s", 0, 0, 1e9);
    if (auto fault = first_fault(faults, file))
        return tl::unexpected(*fault);
    out.uid = e.uid;
    out.when_utc = e.when_utc;
    out.by = e.by;
    out.sheet = *sheet;
    out.setup = *setup;
    out.target = *target;
    out.known_before = *known;
    return out;
}

Expected<ReadSheet> read_sheet(const Entry& e) {
    const std::string file = "entry " + std::to_string(e.id);
    if (const auto version = check_format(e.body, "finch-reading-record", 1, file); !version)
        return tl::unexpected(version.error());
    std::vector<Error> faults;
    JsonFields f(e.body, "", faults);
    const auto sheet = take(sheet_from_json(f.raw("sheet"), file), faults);
    const auto setup = take(setup_from_json(e.setup, file), faults);
    const auto target = take(target_from_json(f.raw("target")), faults);
    if (auto fault = first_fault(faults, file))
        return tl::unexpected(*fault);
    const auto reading = reading_from_json(f.raw("reading"), *sheet, file);
    if (!reading)
        return tl::unexpected(reading.error());
    return ReadSheet{e.uid, e.when_utc, e.by, e.parent_uid, *sheet, *setup, *target, *reading};
}

Expected<FocusConfirmation> focus_confirmation(const Entry& e) {
    const auto setup = setup_from_json(e.setup, "entry " + std::to_string(e.id));
    if (!setup)
        return tl::unexpected(setup.error());
    if (e.kind != EntryKind::bench || !setup->focus.confirmed)
        return failure("record.no_focus", "This entry confirms no focus.", "Choose another entry.");
    return *setup->focus.confirmed;
}

Expected<TimedScanner> timed_scanner(const Entry& e) {
    const std::string file = "entry " + std::to_string(e.id);
    if (const auto version = check_format(e.body, "finch-timed-runs", 1, file); !version)
        return tl::unexpected(version.error());
    return setup_from_json(e.setup, file).map([&](const Setup& setup) {
        return TimedScanner{e.when_utc, e.by, setup.bench.name, setup.bench.scanner.timed};
    });
}

Expected<CompoundFact> compound_fact(const Entry& e) {
    const std::string file = "entry " + std::to_string(e.id);
    if (const auto version = check_format(e.body, "finch-film-work", 1, file); !version)
        return tl::unexpected(version.error());
    std::vector<Error> faults;
    JsonFields f(e.body, "", faults);
    CompoundFact out;
    out.batch = f.text("batch");
    out.pieces = f.whole("pieces", 1, 1000);
    const std::string stage = f.text("stage");
    if (const auto known = compound_stage(stage))
        out.stage = *known;
    else
        f.fault("stage", "There is no such step.", "Use a step of the table of compounds.");
    out.kind = static_cast<StepEvent::Kind>(f.choice("kind", {"done", "skipped", "withdrawn"}));
    out.closed = f.flag_or("closed", false);
    out.note = f.text_or("note", "");
    for (const auto& g : f.has("ladder") ? f.raw("ladder") : nlohmann::json::array())
        if (out.ladder.size() < 20 && g.is_number())
            out.ladder.push_back(g.get<double>());
    const auto recipe = take(recipe_from_json(f.raw("recipe"), file), faults);
    const auto setup = take(setup_from_json(e.setup, file), faults);
    if (auto fault = first_fault(faults, file))
        return tl::unexpected(*fault);
    out.uid = e.uid;
    out.when_utc = e.when_utc;
    out.by = e.by;
    out.recipe = *recipe;
    out.setup = *setup;
    return out;
}

Expected<ScrapFact> scrap_fact(const Entry& e) {
    const std::string file = "entry " + std::to_string(e.id);
    if (const auto version = check_format(e.body, "finch-scrap", 1, file); !version)
        return tl::unexpected(version.error());
    std::vector<Error> faults;
    JsonFields f(e.body, "", faults);
    ScrapFact out;
    out.piece = f.text("piece");
    if (out.piece.empty())
        f.fault("piece", "The piece has no name.", "Write the name that is on it, for example S3.");
    out.kind = static_cast<ScrapFact::Kind>(f.choice("kind", {scrap_kinds.begin(), scrap_kinds.end()}));
    out.note = f.text_or("note", "");
    if (out.kind == ScrapFact::Kind::found) {
        const auto size = f.numbers("size_mm", 2, scrap_least_mm, scrap_most_mm);
        if (size.size() == 2) {
            out.width_mm = size[0];
            out.height_mm = size[1];
        }
    }
    if (out.kind == ScrapFact::Kind::used) {
        out.mark.face = static_cast<std::size_t>(f.choice("face", {scrap_faces.begin(), scrap_faces.end()}));
        out.mark.what = f.text("what");
        out.mark.sheet = f.whole("sheet", 0, highest_sheet_number);
        out.mark.turned = f.flag_or("turned", false);
        const auto at = f.numbers("where_mm", 4, -scrap_most_mm, scrap_most_mm);
        if (at.size() == 4)
            out.mark.where = {at[0], at[1], at[2], at[3]};
        if (at.size() == 4 && !(at[2] > 0 && at[3] > 0))
            f.fault("where_mm", "What is used has no size.",
                    "Write x, y, width and height in mm, the last two over 0.");
    }
    const auto setup = take(setup_from_json(e.setup, file), faults);
    if (auto fault = first_fault(faults, file))
        return tl::unexpected(*fault);
    out.uid = e.uid;
    out.when_utc = e.when_utc;
    out.by = e.by;
    out.setup = *setup;
    return out;
}

Expected<CameraFact> camera_fact(const Entry& e) {
    const std::string file = "entry " + std::to_string(e.id);
    if (const auto version = check_format(e.body, "finch-camera-record", 1, file); !version)
        return tl::unexpected(version.error());
    std::vector<Error> faults;
    JsonFields f(e.body, "", faults);
    CameraFact out;
    const auto colours = take(camera_colour_from_json(f.raw("camera"), file), faults);
    const auto setup = take(setup_from_json(e.setup, file), faults);
    out.shown = f.text_or("shown", "");
    for (JsonFields& p : f.list("places")) {
        const auto seen = p.numbers("seen", 3, -10, 10), lab = p.numbers("measured_lab", 3, -200, 200);
        if (seen.size() == 3 && lab.size() == 3)
            out.places.push_back({{seen[0], seen[1], seen[2]}, {lab[0], lab[1], lab[2]}, p.text_or("place", "")});
    }
    if (auto fault = first_fault(faults, file))
        return tl::unexpected(*fault);
    out.uid = e.uid;
    out.when_utc = e.when_utc;
    out.by = e.by;
    out.colours = *colours;
    out.setup = *setup;
    return out;
}

std::vector<Observation> observed(const ReadSheet& read) {
    return observed(read.sheet, read.reading, std::make_shared<const Setup>(read.setup), read.when_utc, read.uid);
}

} // namespace finch
