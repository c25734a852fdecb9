// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "record/scrap_record.h"

#include <algorithm>
#include <map>
#include <set>

namespace finch {

Expected<std::vector<ScrapFact>> scrap_facts(const Logbook& logbook) {
    EntryFilter filter;
    filter.kind = EntryKind::bench;
    filter.words = scrap_bin_title;
    filter.limit = 500;
    std::vector<ScrapFact> out;
    for (;;) {
        const auto heads = logbook.list(filter);
        if (!heads)
            return tl::unexpected(heads.error());
        for (const Entry& head : *heads)
            if (const auto entry = logbook.entry(head.id))
                if (auto fact = scrap_fact(*entry))
                    out.push_back(std::move(*fact));
        if (heads->size() < static_cast<std::size_t>(filter.limit))
            return out;
        filter.before_id = heads->back().id;
    }
}

std::vector<ScrapPiece> scrap_bin(std::vector<ScrapFact> facts) {
    std::ranges::sort(facts, {}, [](const ScrapFact& f) { return std::tie(f.when_utc, f.uid); });
    std::map<std::string, ScrapPiece> pieces;
    std::set<std::string> gone, told;
    for (const ScrapFact& f : facts)
        if (f.kind == ScrapFact::Kind::found && told.insert(f.uid).second)
            pieces.try_emplace(f.piece, ScrapPiece{f.piece, f.setup.stock, f.width_mm, f.height_mm, f.note, {}});
    for (const ScrapFact& f : facts) {
        if (f.kind == ScrapFact::Kind::gone)
            gone.insert(f.piece);
        if (f.kind == ScrapFact::Kind::used && told.insert(f.uid).second)
            if (const auto at = pieces.find(f.piece); at != pieces.end() && at->second.marks.size() < scrap_most_marks)
                at->second.marks.push_back(f.mark);
    }
    std::vector<ScrapPiece> out;
    for (auto& [name, piece] : pieces)
        if (!gone.contains(name))
            out.push_back(std::move(piece));
    std::ranges::stable_sort(out, {}, [](const ScrapPiece& p) { return p.name.size(); }); // S2 before S10
    return out;
}

} // namespace finch
