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
enum class Process { anneal, colour, bright, frost, engrave, deep_engrave, strip, bleach, compound, creep_up };
inline constexpr std::array all_processes{Process::anneal,   Process::colour,       Process::bright, Process::frost,
                                          Process::engrave,  Process::deep_engrave, Process::strip,  Process::bleach,
                                          Process::compound, Process::creep_up};

/// What is fixed about a process.
struct ProcessTraits {
    Process process;
    std::string_view key;   ///< in files: "deep-engrave"
    std::string_view label; ///< "Deep engrave"
    bool removes;           ///< metal, as its purpose
    bool lasting_colour;    ///< the look is a film of oxide
};
[[nodiscard]] const ProcessTraits& traits(Process process);
[[nodiscard]] std::optional<Process> process_from_key(std::string_view key);

/// A family of rules of what must stay the same when a recipe moves to another bench.
enum class TransferFamily { anneal, colour, engrave, strip, compound };
[[nodiscard]] TransferFamily transfer_family(Process process);

} // namespace finch
