// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "recipe/process.h"

#include <algorithm>

namespace finch {
namespace {

constexpr std::array process_table{
    ProcessTraits{Process::anneal, "anneal", "Anneal", false, true},
    ProcessTraits{Process::colour, "colour", "Colour", false, true},
    ProcessTraits{Process::bright, "bright", "Bright polish", false, false},
    ProcessTraits{Process::frost, "frost", "White frost", true, false},
    ProcessTraits{Process::engrave, "engrave", "Engrave", true, false},
    ProcessTraits{Process::deep_engrave, "deep-engrave", "Deep engrave", true, false},
    ProcessTraits{Process::strip, "strip", "Strip the coat", false, false},
    ProcessTraits{Process::bleach, "bleach", "Bleach the film", false, false},
    ProcessTraits{Process::compound, "compound", "Compound", false, false},
    ProcessTraits{Process::creep_up, "creep-up", "Creep up", false, false},
};

} // namespace

const ProcessTraits& traits(Process process) {
    return process_table.at(static_cast<std::size_t>(process));
}

std::optional<Process> process_from_key(std::string_view key) {
    const auto it =
        std::find_if(process_table.begin(), process_table.end(), [&](const ProcessTraits& t) { return t.key == key; });
    return it != process_table.end() ? std::optional(it->process) : std::nullopt;
}

TransferFamily transfer_family(Process process) {
    switch (process) {
    case Process::anneal:
        return TransferFamily::anneal;
    case Process::colour:
    case Process::creep_up:
        return TransferFamily::colour;
    case Process::bright:
    case Process::frost:
    case Process::engrave:
    case Process::deep_engrave:
        return TransferFamily::engrave;
    case Process::strip:
    case Process::bleach:
        return TransferFamily::strip;
    case Process::compound:
        return TransferFamily::compound;
    }
    return TransferFamily::anneal;
}

} // namespace finch
