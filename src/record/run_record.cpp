// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "record/run_record.h"

#include "bench/bench_json.h"
#include "document/json_fields.h"
#include "quantity/format.h"
#include "quantity/scan.h"

#include <algorithm>
#include <fmt/format.h>

namespace finch {
namespace {

using json = nlohmann::json;

constexpr int most_portions = 10'000'000, most_lines = 2'000'000'000;
const std::vector<std::string_view> event_words{"sent",   "at",        "passed",       "held",    "went_on",
                                                "looked", "set_aside", "brought_back", "faulted", "answered",
                                                "ended",  "given_up",  "left"};

GateAnswer read_answer(JsonFields& f) {
    return {f.text("key"), f.text_or("choice", ""), f.text_or("by", ""), f.text("when_utc"), f.text_or("asked", "")};
}

RunStart read_start(JsonFields& f, const Expected<Setup>& setup, std::vector<Error>& faults) {
    RunStart out;
    out.uid = f.text("uid");
    out.when_utc = f.text("when_utc");
    out.by = f.text_or("by", "");
    out.name = f.text_or("name", "");
    out.code = f.text_or("code", "");
    out.portions = f.whole("portions", 1, most_portions);
    out.parts = f.whole("parts", 1, most_portions);
    if (setup)
        out.setup = *setup;
    else
        faults.push_back(setup.error());
    for (JsonFields& a : f.list("answers"))
        out.answers.push_back(read_answer(a));
    if (f.has("job"))
        out.job = f.raw("job");
    return out;
}

/// Without how far each pass was on its way, and passes that followed each other as one.
std::vector<RunEvent> shortened_events(const std::vector<RunEvent>& events) {
    std::vector<RunEvent> out;
    for (const RunEvent& e : events) {
        if (e.kind == RunEvent::Kind::at || e.kind == RunEvent::Kind::sent)
            continue;
        if (e.kind == RunEvent::Kind::passed && e.note.empty() && !out.empty() &&
            out.back().kind == RunEvent::Kind::passed && out.back().note.empty() &&
            out.back().portion + out.back().count == e.portion) {
            RunEvent& before = out.back();
            before.count += e.count;
            before.when_utc = e.when_utc;
            before.time_s += e.time_s;
            before.marked_mm += e.marked_mm;
            before.beside_mm += e.beside_mm;
        } else
            out.push_back(e);
    }
    return out;
}

} // namespace

std::string_view word(RunEvent::Kind kind) {
    return event_words.at(static_cast<std::size_t>(kind));
}

std::string told(const RunEvent& e) {
    using Kind = RunEvent::Kind;
    switch (e.kind) {
    case Kind::sent:
    case Kind::at:
        return {};
    case Kind::passed:
        return (e.count == 1 ? fmt::format("Pass {} of the run marked", e.portion + 1)
                             : fmt::format("Passes {} to {} of the run marked", e.portion + 1, e.portion + e.count)) +
               (e.note.empty() ? "" : ", " + e.note);
    case Kind::held:
        return "Beam off: " + (e.note.empty() ? "stopped by hand" : e.note);
    case Kind::went_on:
        return e.note.empty() ? "Went on" : "Done: " + e.note;
    case Kind::looked:
        return e.by + " looked. " + e.note;
    case Kind::set_aside:
        return fmt::format("{} set aside: {}", e.place, e.note);
    case Kind::brought_back:
        return fmt::format("{} brought back", e.place);
    case Kind::faulted:
        return "Fault: " + e.note;
    case Kind::answered:
        return fmt::format("{} said: {}", e.by, e.note);
    case Kind::ended:
        return "All is marked";
    case Kind::given_up:
        return "Given up: " + e.note;
    case Kind::left:
        return fmt::format("Its pass was left after line {}", e.line);
    }
    return {};
}

int RunStand::done() const {
    return static_cast<int>(std::ranges::count(passed, true));
}

int RunStand::line_of(int portion) const {
    if (under_way == portion)
        return line;
    const auto at = left.find(portion);
    return at == left.end() ? 0 : at->second;
}

RunStand stand_of(const RunRecord& run) {
    RunStand out;
    out.passed.assign(static_cast<std::size_t>(std::max(run.start.portions, 0)), false);
    for (const RunEvent& e : run.events)
        follow(out, e);
    return out;
}

void follow(RunStand& stand, const RunEvent& e) {
    using Kind = RunEvent::Kind;
    switch (e.kind) {
    case Kind::sent:
        stand.left.erase(e.portion);
        stand.under_way = e.portion;
        stand.line = e.line;
        stand.line_told = false; // from here on it may be anywhere
        break;
    case Kind::at:
    case Kind::held:
    case Kind::faulted:
        if (stand.under_way == e.portion) {
            stand.line = std::max(stand.line, e.line);
            stand.line_told = e.kind == Kind::held;
        }
        break;
    case Kind::went_on:
        stand.line_told = false;
        break;
    case Kind::passed:
        for (auto i = static_cast<std::size_t>(e.portion), n = i + static_cast<std::size_t>(e.count);
             i < std::min(n, stand.passed.size()); ++i) {
            stand.passed[i] = true;
            stand.left.erase(static_cast<int>(i));
        }
        stand.under_way.reset();
        stand.time_s += e.time_s;
        stand.marked_mm += e.marked_mm;
        stand.beside_mm += e.beside_mm;
        break;
    case Kind::left:
        stand.left[e.portion] = e.line;
        stand.under_way.reset();
        break;
    case Kind::set_aside:
        stand.aside.insert(e.place);
        break;
    case Kind::brought_back:
        stand.aside.erase(e.place);
        break;
    case Kind::ended:
    case Kind::given_up:
        stand.over = true;
        break;
    case Kind::looked:
    case Kind::answered:
        break;
    }
}

json to_json(const RunStart& s) {
    json answers = json::array();
    for (const GateAnswer& a : s.answers)
        answers.push_back(
            {{"key", a.key}, {"choice", a.choice}, {"by", a.by}, {"when_utc", a.when_utc}, {"asked", a.asked}});
    json out{{"format", "finch-run"},
             {"version", 1},
             {"uid", s.uid},
             {"when_utc", s.when_utc},
             {"by", s.by},
             {"name", s.name},
             {"code", s.code},
             {"portions", s.portions},
             {"parts", s.parts},
             {"setup", to_json(s.setup)},
             {"answers", std::move(answers)}};
    if (!s.job.is_null())
        out["job"] = s.job;
    return out;
}

json to_json(const RunEvent& e) {
    json out{{"event", word(e.kind)}, {"when_utc", e.when_utc}};
    if (!e.by.empty())
        out["by"] = e.by;
    if (!e.note.empty())
        out["note"] = e.note;
    for (const auto& [key, value] : {std::pair{"portion", e.portion}, {"line", e.line}, {"place", e.place}})
        if (value != 0)
            out[key] = value;
    if (e.count != 1)
        out["count"] = e.count;
    for (const auto& [key, value] :
         {std::pair{"time_s", e.time_s}, {"marked_mm", e.marked_mm}, {"beside_mm", e.beside_mm}})
        if (value != 0)
            out[key] = tidy(value);
    return out;
}

Expected<RunStart> run_start(const json& document, const std::string& file) {
    if (const auto version = check_format(document, "finch-run", 1, file); !version)
        return tl::unexpected(version.error());
    std::vector<Error> faults;
    JsonFields f(document, "", faults);
    const auto setup = setup_from_json(f.raw("setup"), file);
    RunStart out = read_start(f, setup, faults);
    if (const auto fault = first_fault(faults, file))
        return tl::unexpected(*fault);
    return out;
}

Expected<RunEvent> run_event(const json& document, const std::string& file) {
    std::vector<Error> faults;
    JsonFields f(document, "", faults);
    RunEvent out;
    out.kind = static_cast<RunEvent::Kind>(f.choice("event", event_words));
    out.when_utc = f.text("when_utc");
    out.by = f.text_or("by", "");
    out.note = f.text_or("note", "");
    out.portion = f.whole_or("portion", 0, 0, most_portions);
    out.line = f.whole_or("line", 0, 0, most_lines);
    out.place = f.whole_or("place", 0, 0, most_portions);
    out.count = f.whole_or("count", 1, 1, most_portions);
    out.time_s = f.number_or("time_s", 0, 0, 1e9);
    out.marked_mm = f.number_or("marked_mm", 0, 0, 1e12);
    out.beside_mm = f.number_or("beside_mm", 0, 0, 1e12);
    if (const auto fault = first_fault(faults, file))
        return tl::unexpected(*fault);
    return out;
}

Entry entry_of(const RunRecord& run, const std::string& metal, const std::string& program) {
    const RunStart& s = run.start;
    const RunStand stand = stand_of(run);
    Entry e;
    e.kind = EntryKind::bench;
    e.uid = s.uid;
    e.when_utc = s.when_utc;
    e.by = s.by;
    e.bench = s.setup.bench.name;
    e.metal = metal;
    e.lot = s.setup.stock.lot;
    e.setup = to_json(s.setup);
    e.program_version = program;
    e.title = "Run of " + (s.name.empty() ? "a job" : shortened(s.name, 80));
    const bool whole = !run.events.empty() && run.events.back().kind == RunEvent::Kind::ended;
    const auto holds = std::ranges::count(run.events, RunEvent::Kind::held, &RunEvent::kind);
    e.summary = fmt::format("{}, {} of {} passes in {}{}{}", s.code, stand.done(), s.portions,
                            format_duration(stand.time_s), holds > 0 ? fmt::format(", stopped {} times", holds) : "",
                            stand.aside.empty() ? "" : fmt::format(", parts set aside: {}", stand.aside.size()));
    if (!whole && !run.events.empty())
        e.summary += ", given up: " + shortened(run.events.back().note, 200);
    if (stand.beside_mm > 0.01)
        e.summary += fmt::format(", {} mm marked beside the parts", format_number(stand.beside_mm, 2));
    e.outcome = !whole                                           ? Outcome::bad
                : stand.aside.empty() && stand.beside_mm <= 0.01 ? Outcome::good
                                                                 : Outcome::caution;
    json events = json::array();
    for (const RunEvent& r : shortened_events(run.events))
        events.push_back(to_json(r));
    json start = to_json(s);
    // The set-up stands beside it.
    start.erase("setup");
    e.body = {{"format", "finch-run-record"}, {"version", 1}, {"run", std::move(start)}, {"events", std::move(events)}};
    return e;
}

Expected<RunRecord> run_record(const Entry& e) {
    const std::string file = "entry " + std::to_string(e.id);
    if (const auto version = check_format(e.body, "finch-run-record", 1, file); !version)
        return tl::unexpected(version.error());
    std::vector<Error> faults;
    JsonFields f(e.body, "", faults);
    RunRecord out;
    JsonFields run = f.object("run");
    const auto setup = setup_from_json(e.setup, file);
    out.start = read_start(run, setup, faults);
    for (const JsonFields& event : f.list("events")) {
        auto read = run_event(event.json(), file);
        if (!read)
            return tl::unexpected(read.error());
        out.events.push_back(std::move(*read));
    }
    if (const auto fault = first_fault(faults, file))
        return tl::unexpected(*fault);
    return out;
}

} // namespace finch
