// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "record/repeatable.h"

#include "bench/bench_json.h"
#include "document/json_fields.h"
#include "quantity/format.h"

#include <fmt/format.h>

namespace finch {
namespace {

void look_at_setup(const Setup& s, std::vector<std::string>& missing) {
    if (s.stock.lot.empty())
        missing.emplace_back("The lot of the stock: another lot takes up heat and grows films otherwise.");
    if (!s.focus.confirmed)
        missing.emplace_back("The focus: nobody confirmed it.");
    else if (focus_state(s.focus, s.bench.name, s.bench.lens().name, s.stock).stale())
        missing.emplace_back("The focus: something it rests on had changed since it was confirmed.");
    if (s.stock.coating == Coating::unknown)
        missing.emplace_back("Whether the surface was bare: nobody checked for a coat.");
    if (s.stock.under_it.empty() && s.stock.held_by.empty())
        missing.emplace_back("What held the part and what lay under it: heat leaves through both.");
    if (!(s.bench.source.hours_run > 0))
        missing.emplace_back("How many hours the source had run: its power falls with age.");
}

/// Whether no colour of a reading is a camera's alone.
bool all_by_instrument(const nlohmann::json& reading) {
    const auto cells = reading.find("cells");
    return cells != reading.end() && cells->is_array() && std::ranges::none_of(*cells, [](const nlohmann::json& c) {
               return c.is_object() && c.value("state", nlohmann::json()) == "read" &&
                      c.value("by_instrument", nlohmann::json()) != true && !c.contains("photographed");
           });
}

void look_at_result(const Entry& e, std::vector<std::string>& unproven) {
    if (e.kind == EntryKind::reading) {
        const auto reading = e.body.find("reading");
        std::vector<Error> faults;
        if (reading != e.body.end() && reading->is_object())
            if (JsonFields f(*reading, "reading", faults);
                f.whole_or("photos", 1, 0, 1000) > 0 && !f.has("camera") && !all_by_instrument(*reading))
                unproven.emplace_back("The camera's colours were taken as it gave them.");
    }
    if (e.kind != EntryKind::recipe)
        return;
    const auto measured = e.body.find("measured");
    if (measured == e.body.end() || !measured->is_object()) {
        unproven.emplace_back("No cell with these values was measured on this set-up.");
        return;
    }
    std::vector<Error> faults;
    JsonFields f(*measured, "measured", faults);
    constexpr double wide_de = 3; // plain side by side
    if (const double within = f.number_or("within_de00", 0, 0, 1000); within > wide_de)
        unproven.push_back(fmt::format("The colour was read no nearer than {} CIEDE2000.", format_number(within, 2)));
    const int cells = f.whole_or("repeats", 0, 0, 1000000), sheets = f.whole_or("repeat_sheets", 0, 0, 1000000);
    if (cells < 2)
        unproven.emplace_back("It was marked once: whether it comes again was never tried.");
    else if (sheets < 2)
        unproven.emplace_back("It was repeated on one sheet only: whether it comes again another day was never tried.");
}

} // namespace

Repeatability repeatability(const Entry& then, const Setup& now) {
    Repeatability out;
    const auto setup = setup_from_json(then.setup, "");
    if (!setup)
        out.never_recorded.emplace_back("The set-up: bench, lens, stock and focus.");
    else {
        look_at_setup(*setup, out.never_recorded);
        Entry today = then;
        today.setup = to_json(now);
        for (Difference& d : compare(then, today).differences)
            // When and by whom the focus was confirmed does not change a mark.
            if (d.field != "confirmed at" && d.field != "confirmed by" && d.field != "changed" && d.field != "origin")
                out.different.push_back(std::move(d));
    }
    if (then.by.empty())
        out.never_recorded.emplace_back("Who did it.");
    look_at_result(then, out.never_proven);
    return out;
}

nlohmann::json to_json(const Repeatability& r) {
    nlohmann::json different = nlohmann::json::array();
    for (const Difference& d : r.different)
        different.push_back({{"group", d.group}, {"field", d.field}, {"then", d.a}, {"now", d.b}});
    return {{"format", "finch-repeatability"},
            {"version", 1},
            {"never_recorded", r.never_recorded},
            {"never_proven", r.never_proven},
            {"different", std::move(different)}};
}

} // namespace finch
