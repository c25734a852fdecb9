// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "record/scrap_record.h"

#include "record/every_entry.h"

#include <algorithm>
#include <map>
#include <set>

namespace finch {

Expected<std::vector<ScrapFact>> scrap_facts(const Logbook& logbook) {
    EntryFilter filter;
    filter.kind = EntryKind::bench;
    filter.words = scrap_bin_title;
    std::vector<ScrapFact> out;
    const auto looked = every_entry(logbook, filter, [&](const Entry& entry) {
        if (auto fact = scrap_fact(entry))
            out.push_back(std::move(*fact));
    });
    if (!looked)
        return tl::unexpected(looked.error());
    return out;
}

std::vector<ScrapPiece> scrap_bin(std::span<const ScrapFact> facts) {
    std::vector<const ScrapFact*> in_turn; // each has a whole set-up: they are not copied
    for (const ScrapFact& f : facts)
        in_turn.push_back(&f);
    std::ranges::sort(in_turn, {}, [](const ScrapFact* f) { return std::tie(f->when_utc, f->uid); });
    std::map<std::string, ScrapPiece> pieces;
    std::set<std::string> gone, told;
    for (const ScrapFact* f : in_turn)
        if (f->kind == ScrapFact::Kind::found && told.insert(f->uid).second)
            pieces.try_emplace(f->piece, ScrapPiece{f->piece, f->setup.stock, f->width_mm, f->height_mm, f->note, {}});
    for (const ScrapFact* f : in_turn) {
        if (f->kind == ScrapFact::Kind::gone)
            gone.insert(f->piece);
        if (f->kind == ScrapFact::Kind::used && told.insert(f->uid).second)
            if (const auto at = pieces.find(f->piece); at != pieces.end() && at->second.marks.size() < scrap_most_marks)
                at->second.marks.push_back(f->mark);
    }
    std::vector<ScrapPiece> out;
    for (auto& [name, piece] : pieces)
        if (!gone.contains(name))
            out.push_back(std::move(piece));
    std::ranges::stable_sort(out, {}, [](const ScrapPiece& p) { return p.name.size(); }); // S2 before S10
    return out;
}

} // namespace finch
