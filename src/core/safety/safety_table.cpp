// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "safety/safety_table.h"

#include "document/json_fields.h"

#include <nlohmann/json.hpp>

namespace finch {
namespace {

constexpr std::size_t most_choices = 20;

std::map<std::string, std::string> read_texts(JsonFields& from, const char* key) {
    std::map<std::string, std::string> out;
    JsonFields f = from.object(key);
    for (const auto& [name, value] : f.json().items())
        out[name] = f.text(name.c_str());
    return out;
}

} // namespace

Expected<SafetyTable> safety_from_json(const nlohmann::json& document, const std::string& file) {
    if (const auto version = check_format(document, "finch-safety", 1, file); !version)
        return tl::unexpected(version.error());
    std::vector<Error> faults;
    JsonFields f(document, "", faults);
    const auto value = [&](const char* key, double low, double high) {
        JsonFields of = f.object(key);
        if (of.text("source").empty())
            of.fault("source", "A number without a source cannot be argued with.", "Say where it comes from.");
        return of.number("value", low, high);
    };
    SafetyTable out;
    out.deferral = f.text("deferral");
    out.look_every_min = value("look_every_min", 1, 240);
    out.stay_over_min = value("stay_over_min", 0, 1440);
    out.bright_from_share = value("bright_from_share", 0, 1);
    out.thin_mm = value("thin_mm", 0, 100);
    out.creeps_from_passes = static_cast<int>(value("creeps_from_passes", 1, 1e6));
    out.hot_from_k = value("hot_from_k", 0, 1000);
    for (JsonFields& u : f.list("under")) {
        const std::size_t verdict = u.choice("verdict", {"fine", "care", "refused"});
        out.under.push_back({u.text("key"), u.text("words"), u.text("text"), static_cast<GateVerdict>(verdict)});
    }
    if (out.under.empty() || out.under.size() > most_choices)
        f.fault("under", "There are no answers, or too many.", "List 1 to 20 things that may lie under a part.");
    out.fume = read_texts(f, "fume");
    out.coat_fume = read_texts(f, "coat_fume");
    out.film_fume = f.text("film_fume");
    if (const auto fault = first_fault(faults, file))
        return tl::unexpected(*fault);
    return out;
}

} // namespace finch
