// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/ledger.h"

#include "record/scrap_record.h"

#include <algorithm>
#include <tuple>

namespace finch::app {

void Ledger::add(const BurnedSheet& burned) {
    auto [it, fresh] = sheets_.try_emplace(burned.sheet.number, Sheet{burned, std::nullopt, {}});
    // A number is given once; the same fact may come from the record and from here.
    if (!fresh && it->second.burned.when_utc <= burned.when_utc && it->second.burned.uid != burned.uid)
        it->second = {burned, std::nullopt, {}};
}

void Ledger::add(const ReadSheet& read, const Agreement& agreement) {
    const auto it = sheets_.find(read.sheet.number);
    if (it == sheets_.end())
        return;
    auto& held = it->second.read;
    if (!held || std::tie(held->when_utc, held->uid) <= std::tie(read.when_utc, read.uid)) {
        held = read;
        it->second.agreement = agreement;
    }
}

void Ledger::add(const FocusConfirmation& focus) {
    auto [it, fresh] = focus_.try_emplace(focus.bench, focus);
    if (!fresh && it->second.when_utc <= focus.when_utc)
        it->second = focus;
}

void Ledger::add(const TimedScanner& timed) {
    auto [it, fresh] = timed_.try_emplace(timed.bench, timed);
    if (!fresh && it->second.when_utc <= timed.when_utc)
        it->second = timed;
}

void Ledger::add(const CompoundFact& fact) {
    const auto order = [](const CompoundFact& f) { return std::tie(f.when_utc, f.uid); };
    const auto at = std::ranges::lower_bound(films_, order(fact), {}, order);
    if (at == films_.end() || at->uid != fact.uid)
        films_.insert(at, fact);
}

void Ledger::add(std::vector<ScrapFact> facts) {
    std::set<std::string> known;
    for (const ScrapFact& f : scraps_)
        known.insert(f.uid);
    for (ScrapFact& f : facts)
        if (known.insert(f.uid).second)
            scraps_.push_back(std::move(f));
    std::ranges::sort(scraps_, {}, [](const ScrapFact& f) { return std::tie(f.when_utc, f.uid); });
    bin_ = scrap_bin(scraps_);
    for (const ScrapFact& f : scraps_)
        if (f.kind == ScrapFact::Kind::used && f.mark.sheet > 0)
            laid_[f.mark.sheet] = {f.piece, f.mark.face, f.mark.where.x, f.mark.where.y, f.mark.turned};
}

std::optional<ScrapPlace> Ledger::scrap_place(int sheet) const {
    const auto it = laid_.find(sheet);
    return it != laid_.end() ? std::optional(it->second) : std::nullopt;
}

std::set<std::string> Ledger::film_benches() const {
    std::set<std::string> out;
    for (const CompoundFact& f : films_)
        out.insert(f.setup.bench.name);
    return out;
}

std::vector<CompoundFact> Ledger::film_work(const std::string& bench) const {
    std::vector<CompoundFact> out;
    for (const CompoundFact& f : films_)
        if (f.setup.bench.name == bench) {
            if (!out.empty() && out.back().batch != f.batch)
                out.clear();
            out.push_back(f);
        }
    if (!out.empty() && out.back().closed)
        out.clear();
    return out;
}

void Ledger::add(const CameraFact& fact) {
    CameraFact& last = cameras_.try_emplace(fact.colours.camera, fact).first->second;
    if (std::tie(last.when_utc, last.uid) < std::tie(fact.when_utc, fact.uid))
        last = fact;
}

void Ledger::know(const std::string& key, Knowledge knowledge) {
    knowledge_[key] = std::move(knowledge);
}

const Ledger::Sheet* Ledger::sheet(int number) const {
    const auto it = sheets_.find(number);
    return it != sheets_.end() ? &it->second : nullptr;
}

std::optional<FocusConfirmation> Ledger::focus(const std::string& bench) const {
    const auto it = focus_.find(bench);
    return it != focus_.end() ? std::optional(it->second) : std::nullopt;
}

const TimedScanner* Ledger::timed(const std::string& bench) const {
    const auto it = timed_.find(bench);
    return it != timed_.end() ? &it->second : nullptr;
}

const Knowledge* Ledger::knowledge(const std::string& key) const {
    const auto it = knowledge_.find(key);
    return it != knowledge_.end() ? &it->second : nullptr;
}

Evidence Ledger::evidence(const std::string& key) const {
    const Knowledge* k = knowledge(key);
    return k != nullptr ? k->evidence : Evidence{};
}

std::vector<Observation> merged(std::vector<Observation> a, const std::vector<Observation>& b) {
    a.insert(a.end(), b.begin(), b.end());
    const auto id = [](const Observation& o) { return std::tie(o.source, o.piece, o.place); };
    std::sort(a.begin(), a.end(), [&](const Observation& x, const Observation& y) { return id(x) < id(y); });
    a.erase(std::unique(a.begin(), a.end(), [&](const Observation& x, const Observation& y) { return id(x) == id(y); }),
            a.end());
    return a;
}

} // namespace finch::app
