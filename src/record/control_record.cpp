// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "record/control_record.h"

#include "record/every_entry.h"

#include "evidence/learn.h"

#include <algorithm>
#include <map>

namespace finch {

std::vector<RecordedControl> controls_among(std::vector<ReadSheet> read) {
    std::erase_if(read, [](const ReadSheet& r) { return !r.sheet.lot; });
    std::ranges::stable_sort(read, {}, &ReadSheet::when_utc);
    // By where it was burned as well: a record that two benches share has each number twice.
    std::map<std::pair<std::string, int>, const ReadSheet*> newest;
    for (const ReadSheet& r : read)
        newest[{evidence_key(r.setup), r.sheet.number}] = &r;
    std::vector<RecordedControl> out;
    for (const auto& [where, r] : newest) {
        auto at = std::ranges::find_if(out, [&](const RecordedControl& c) {
            return same_control(c.sheet, r->sheet) && evidence_key(c.setup) == where.first;
        });
        if (at == out.end())
            at = out.insert(out.end(), RecordedControl{});
        at->sheet = r->sheet;
        at->setup = r->setup;
        if (auto reading = control_reading(r->sheet, r->reading, r->when_utc))
            at->readings.push_back(std::move(*reading));
        else
            ++at->coarse;
    }
    for (RecordedControl& c : out)
        c.course = control_course(c.readings);
    std::ranges::stable_sort(out, std::ranges::greater(), [](const RecordedControl& c) { return c.sheet.number; });
    return out;
}

Expected<std::vector<ReadSheet>> lot_checks(const Logbook& logbook, EntryFilter filter) {
    filter.kind = EntryKind::reading;
    std::vector<ReadSheet> out;
    const auto looked = every_entry(logbook, filter, [&](const Entry& entry) {
        if (auto read = read_sheet(entry); read && read->sheet.lot)
            out.push_back(std::move(*read));
    });
    if (!looked)
        return tl::unexpected(looked.error());
    return out;
}

} // namespace finch
