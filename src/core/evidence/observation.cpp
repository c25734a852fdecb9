// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "evidence/observation.h"

#include <map>
#include <tuple>

namespace finch {

std::vector<const Observation*> newest_of_each(std::span<const Observation> observations) {
    std::map<std::pair<std::string, std::string>, const Observation*> places;
    for (const Observation& o : observations) {
        const Observation*& kept = places[{o.piece, o.place}];
        if (kept == nullptr || std::tie(kept->when_utc, kept->source) < std::tie(o.when_utc, o.source))
            kept = &o;
    }
    std::vector<const Observation*> out;
    for (const auto& [key, o] : places)
        if (o->counts)
            out.push_back(o);
    return out;
}

} // namespace finch
