// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <array>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace finch {

/// What a recipe is meant to do.
enum class Process {
    anneal,
    colour,
    bright,
    frost,
    engrave,
    deep_engrave,
    strip,
    bleach,
    compound,
    creep_up,
    film_dark
};
inline constexpr std::array all_processes{Process::anneal,   Process::colour,       Process::bright,   Process::frost,
                                          Process::engrave,  Process::deep_engrave, Process::strip,    Process::bleach,
                                          Process::compound, Process::creep_up,     Process::film_dark};

/// A family of rules of what must stay the same when a recipe moves to another bench.
enum class TransferFamily { anneal, colour, engrave, strip, compound };
/// What must be there for a process to work on.
enum class WorksOn { oxide, bare_metal, coat, dyed_film, clear_film, compound, anything };
/// What measurement turns its prediction into knowledge.
enum class ProvenBy { sheets, depth_coupons, thresholds, power_ladders };

/// What is fixed about a process. How it is planned stands in process_rules.h.
struct ProcessTraits {
    Process process;
    std::string_view key;   ///< in files: "deep-engrave"
    std::string_view label; ///< "Deep engrave"
    bool removes;           ///< metal, as its purpose
    bool lasting_colour;    ///< the look is a film of oxide
    WorksOn works_on;
    ProvenBy proven_by;
    TransferFamily family;

    /// A coat is what it works on, not what is in its way.
    [[nodiscard]] bool takes_coat() const {
        return works_on == WorksOn::coat || works_on == WorksOn::dyed_film || works_on == WorksOn::clear_film;
    }
};
[[nodiscard]] const ProcessTraits& traits(Process process);
[[nodiscard]] std::optional<Process> process_from_key(std::string_view key);

} // namespace finch
