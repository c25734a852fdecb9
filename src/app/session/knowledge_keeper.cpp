// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/knowledge_keeper.h"

#include "bench/bench_json.h"
#include "record/scrap_record.h"

#include <QTimer>

namespace finch::app {
namespace {

/// The newest readings of one stock say all that matters; a bench with more has other troubles.
constexpr int most_readings = 400;
constexpr int most_burned = 200;
/// The strip shows three sheets: how well older ones agreed with their prediction is not worth a fit each.
constexpr std::size_t most_agreements = 12;

struct Work {
    std::vector<BurnedSheet> burned;
    std::vector<std::pair<ReadSheet, Agreement>> read;
    std::vector<FocusConfirmation> focus;
    std::vector<TimedScanner> timed;
    std::vector<CompoundFact> films;
    std::vector<ScrapFact> scraps;
    std::vector<CameraFact> cameras;
};

Expected<Work> load(Logbook& book, int first_sheet, const Materials& materials) {
    Work out;
    EntryFilter filter;
    filter.limit = most_burned;
    filter.sheet_from = std::max(1, first_sheet);
    for (const EntryKind kind : {EntryKind::sheet, EntryKind::reading}) {
        filter.kind = kind;
        const auto heads = book.list(filter);
        if (!heads)
            return tl::unexpected(heads.error());
        for (const Entry& head : *heads) {
            const auto entry = book.entry(head.id);
            if (!entry)
                continue; // one that cannot be read is said when it is looked at
            if (kind == EntryKind::sheet) {
                if (auto burned = burned_sheet(*entry))
                    out.burned.push_back(std::move(*burned));
            } else if (auto read = read_sheet(*entry)) {
                const auto places = observed(*read);
                const auto burned = std::find_if(out.burned.begin(), out.burned.end(), [&](const BurnedSheet& b) {
                    return b.sheet.number == read->sheet.number;
                });
                const Evidence before = burned != out.burned.end() ? burned->known_before : Evidence{};
                // The newest come first.
                const Agreement agreed = out.read.size() < most_agreements
                                             ? agreement(materials, places, before, learn(materials, places))
                                             : Agreement();
                out.read.emplace_back(std::move(*read), agreed);
            }
        }
    }
    auto scraps = scrap_facts(book);
    if (!scraps)
        return tl::unexpected(scraps.error());
    out.scraps = std::move(*scraps);
    EntryFilter bench;
    bench.kind = EntryKind::bench;
    // Times are taken seldom, and a bench that was timed long ago is timed still.
    for (const auto& [title, most] : {std::pair<std::string_view, int>{"Focus confirmed", 20},
                                      {scanner_timed_title, 200},
                                      {compound_work_title, 60},
                                      {camera_set_right_title, 60}}) {
        bench.words = title;
        bench.limit = most;
        const auto heads = book.list(bench);
        if (!heads)
            return tl::unexpected(heads.error());
        for (const Entry& head : *heads) {
            const auto entry = book.entry(head.id);
            if (!entry)
                continue;
            if (auto timed = timed_scanner(*entry))
                out.timed.push_back(std::move(*timed));
            else if (auto film = compound_fact(*entry))
                out.films.push_back(std::move(*film));
            else if (auto camera = camera_fact(*entry))
                out.cameras.push_back(std::move(*camera));
            else if (auto focus = focus_confirmation(*entry))
                out.focus.push_back(std::move(*focus));
        }
    }
    return out;
}

Expected<std::vector<Observation>> measured_before(Logbook& book, const Setup& setup, const std::string& metal) {
    EntryFilter filter;
    filter.kind = EntryKind::reading;
    filter.bench = setup.bench.name;
    filter.metal = metal;
    filter.lot = setup.stock.lot;
    filter.limit = most_readings;
    const auto heads = book.list(filter);
    if (!heads)
        return tl::unexpected(heads.error());
    std::vector<Observation> out;
    const std::string key = evidence_key(setup);
    for (const Entry& head : *heads)
        if (const auto entry = book.entry(head.id))
            if (const auto read = read_sheet(*entry); read && evidence_key(read->setup) == key) {
                auto places = observed(*read);
                out.insert(out.end(), std::make_move_iterator(places.begin()), std::make_move_iterator(places.end()));
            }
    return out;
}

} // namespace

KnowledgeKeeper::KnowledgeKeeper(Workbench& workbench, LogbookDesk& desk, QObject* parent)
    : QObject(parent), workbench_(workbench), desk_(desk) {
    connect(&workbench_, &Workbench::changed, this, &KnowledgeKeeper::look_up);
    load_work();
    look_up();
}

void KnowledgeKeeper::load_work() {
    asked_.insert("work");
    desk_.ask(
        this,
        [first = workbench_.draft().first_sheet, materials = workbench_.shared_materials()](Logbook& book) {
            return load(book, first, *materials);
        },
        [this](const Expected<Work>& work) {
            asked_.erase("work");
            if (work)
                workbench_.add_facts([&](Ledger& ledger) {
                    for (const BurnedSheet& b : work->burned)
                        ledger.add(b);
                    for (const auto& [read, agreed] : work->read)
                        ledger.add(read, agreed);
                    for (const FocusConfirmation& f : work->focus)
                        ledger.add(f);
                    for (const TimedScanner& t : work->timed)
                        ledger.add(t);
                    for (const CompoundFact& f : work->films)
                        ledger.add(f);
                    for (const CameraFact& c : work->cameras)
                        ledger.add(c);
                    ledger.add(work->scraps);
                });
            Q_EMIT learned();
        });
}

void KnowledgeKeeper::look_up() {
    const Setup& setup = workbench_.draft().setup;
    const std::string key = evidence_key(setup);
    const Knowledge* known = workbench_.ledger().knowledge(key);
    if ((known != nullptr && known->complete) || !asked_.insert(key).second)
        return;
    const std::vector<Observation> here = known != nullptr ? known->observations : std::vector<Observation>();
    desk_.ask(
        this,
        [setup, metal = workbench_.metal().name, here,
         materials = workbench_.shared_materials()](Logbook& book) -> Expected<Knowledge> {
            auto found = measured_before(book, setup, metal);
            if (!found)
                return tl::unexpected(found.error());
            Knowledge all{merged(std::move(*found), here), {}, true};
            all.evidence = learn(*materials, all.observations);
            return all;
        },
        [this, key, seen = here.size()](Expected<Knowledge>& all) {
            asked_.erase(key);
            if (!all)
                return; // asked again with the next change; the recorder says what is wrong with the logbook
            const Knowledge* now = workbench_.ledger().knowledge(key);
            // Something was read meanwhile: what it taught is folded in again, from the start.
            if (now != nullptr && now->observations.size() != seen) {
                QTimer::singleShot(0, this, &KnowledgeKeeper::look_up);
                return;
            }
            workbench_.add_facts([&](Ledger& ledger) { ledger.know(key, std::move(*all)); });
            Q_EMIT learned();
        });
}

} // namespace finch::app

#include "moc_knowledge_keeper.cpp"
