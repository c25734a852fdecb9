// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "recipe/process.h"

#include <algorithm>

namespace finch {
namespace {

constexpr std::array process_table = [] {
    using enum WorksOn;
    using enum ProvenBy;
    using Family = TransferFamily;
    return std::array{
        ProcessTraits{Process::anneal, "anneal", "Anneal", false, true, oxide, sheets, Family::anneal},
        ProcessTraits{Process::colour, "colour", "Colour", false, true, oxide, sheets, Family::colour},
        ProcessTraits{Process::bright, "bright", "Bright polish", false, false, bare_metal, sheets, Family::engrave},
        ProcessTraits{Process::frost, "frost", "White frost", true, false, bare_metal, depth_coupons, Family::engrave},
        ProcessTraits{Process::engrave, "engrave", "Engrave", true, false, bare_metal, depth_coupons, Family::engrave},
        ProcessTraits{Process::deep_engrave, "deep-engrave", "Deep engrave", true, false, bare_metal, depth_coupons,
                      Family::engrave},
        ProcessTraits{Process::strip, "strip", "Strip the coat", false, false, coat, thresholds, Family::strip},
        ProcessTraits{Process::bleach, "bleach", "Bleach the film", false, false, dyed_film, thresholds, Family::strip},
        ProcessTraits{Process::compound, "compound", "Compound", false, false, compound, power_ladders,
                      Family::compound},
        ProcessTraits{Process::creep_up, "creep-up", "Creep up", false, false, anything, sheets, Family::colour},
        ProcessTraits{Process::film_dark, "film-dark", "Dark in the film", false, false, clear_film, sheets,
                      Family::strip},
    };
}();

} // namespace

const ProcessTraits& traits(Process process) {
    return process_table.at(static_cast<std::size_t>(process));
}

std::optional<Process> process_from_key(std::string_view key) {
    const auto it =
        std::find_if(process_table.begin(), process_table.end(), [&](const ProcessTraits& t) { return t.key == key; });
    return it != process_table.end() ? std::optional(it->process) : std::nullopt;
}

} // namespace finch
