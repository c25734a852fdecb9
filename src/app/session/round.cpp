// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/round.h"

#include <QLocale>
#include <QTimeZone>

namespace finch::app {

using namespace Qt::StringLiterals;

std::vector<Round> rounds_of(const Draft& draft, const Ledger& ledger) {
    std::map<int, Round> by_number;
    for (const PlannedSheet& p : draft.planned)
        by_number[p.sheet.number] = {p.sheet, p.setup, p.reason, p.hoped_de, p.hoped_spread, p.before, false,
                                     {},      {},      {},       {},         p.scrap};
    for (auto it = ledger.sheets().lower_bound(draft.first_sheet); it != ledger.sheets().end(); ++it) {
        const BurnedSheet& b = it->second.burned;
        Round r{b.sheet, b.setup, b.reason, b.hoped_de, b.hoped_spread, b.known_before, true, {}, it->second.agreement,
                b.uid,   {}};
        if (it->second.read) {
            r.reading = it->second.read->reading;
            r.reading_uid = it->second.read->uid;
        }
        // Where it was burned is what was said when it was; the plan may lie elsewhere by now.
        r.scrap = ledger.scrap_place(it->first);
        by_number[it->first] = std::move(r);
    }
    std::vector<Round> out;
    for (auto& [number, round] : by_number)
        out.push_back(std::move(round));
    return out;
}

std::optional<int> plate_on_bench(const Ledger& ledger) {
    const BurnedSheet* last = nullptr;
    for (const auto& [number, sheet] : ledger.sheets())
        if (last == nullptr || sheet.burned.when_utc >= last->when_utc) // of one second the later number
            last = &sheet.burned;
    return last != nullptr ? std::optional(last->sheet.plate_number()) : std::nullopt;
}

std::optional<OpenFrame> open_frame(const Draft& draft, const Ledger& ledger) {
    const auto number = plate_on_bench(ledger);
    const Ledger::Sheet* first = number ? ledger.sheet(*number) : nullptr;
    if (first == nullptr || !first->burned.sheet.frame)
        return std::nullopt;
    const Setup& then = first->burned.setup;
    if (evidence_key(then) != evidence_key(draft.setup) || !(then.stock == draft.setup.stock))
        return std::nullopt;
    OpenFrame out{first->burned.sheet, 0};
    if (const auto begun = draft.begun.find(*number); begun != draft.begun.end())
        out.next = begun->second;
    const auto taken = [&](const ProofSheet& s) {
        if (s.frame && s.frame->number == *number)
            out.next = std::max(out.next, s.first_own() + s.own.size());
    };
    for (const PlannedSheet& p : draft.planned)
        taken(p.sheet);
    for (const auto& [key, sheet] : ledger.sheets())
        taken(sheet.burned.sheet);
    return out.next < out.begun.cells() ? std::optional(std::move(out)) : std::nullopt;
}

QString brief_time(const QString& utc, const QDateTime& now) {
    const QDateTime t = QDateTime::fromString(utc, Qt::ISODate).toTimeZone(now.timeZone());
    if (!t.isValid())
        return {};
    return t.date() == now.date() ? t.toString(u"HH:mm"_s) : QLocale(QLocale::English).toString(t.date(), u"d MMM"_s);
}

QString to_utc_text(const QDateTime& time) {
    return time.toUTC().toString(Qt::ISODate);
}

} // namespace finch::app
