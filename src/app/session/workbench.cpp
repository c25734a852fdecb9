// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/workbench.h"

#include "app/session/log.h"
#include "app/session/text.h"

#include <QUndoCommand>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr int merge_window_ms = 2000;

int merge_id(const QString& key) {
    return key.isEmpty() ? -1 : static_cast<int>(qHash(key) & 0x7fffffff);
}

std::shared_ptr<const Metal> metal_of(const Materials& materials, const std::string& key) {
    if (const auto metal = materials.find(key))
        return *metal;
    auto unknown = std::make_shared<Metal>();
    unknown->key = key;
    unknown->name = key;
    return unknown;
}

} // namespace

/// An undo step is the draft before and after: values are small, and nothing can go out of step.
class DraftStep final : public QUndoCommand {
public:
    DraftStep(Workbench& bench, const QString& text, const QString& merge, Draft before, Draft after, QDateTime when)
        : QUndoCommand(text), bench_(bench), id_(merge_id(merge)), before_(std::move(before)), after_(std::move(after)),
          when_(std::move(when)) {}

    void undo() override { bench_.adopt(keep_numbers(before_)); }
    void redo() override { bench_.adopt(keep_numbers(after_)); }
    [[nodiscard]] int id() const override { return id_; }
    bool mergeWith(const QUndoCommand* other) override {
        const auto* next = static_cast<const DraftStep*>(other);
        // A clock that was set back says nothing about how long ago the last step was.
        const qint64 since = when_.msecsTo(next->when_);
        if (since < 0 || since > merge_window_ms)
            return false;
        after_ = next->after_;
        when_ = next->when_;
        return true;
    }

private:
    /// Sheet numbers that were given out are never given out again, or two sheets would carry the same code.
    [[nodiscard]] Draft keep_numbers(Draft draft) const {
        draft.last_sheet = std::max(draft.last_sheet, bench_.draft().last_sheet);
        draft.begun = bench_.draft().begun;
        return draft;
    }

    Workbench& bench_;
    int id_;
    Draft before_, after_;
    QDateTime when_;
};

struct Workbench::Cache {
    std::optional<Expected<Prediction>> prediction;
    std::optional<std::vector<Finding>> findings;
    std::optional<SheetForecast> forecast, first_forecast;
    std::optional<std::vector<Round>> rounds;
};

Workbench::Workbench(Materials materials, Draft draft, Clock clock, QObject* parent)
    : QObject(parent), materials_(std::make_shared<const Materials>(std::move(materials))), clock_(std::move(clock)),
      cache_(std::make_shared<Cache>()) {
    undo_.setUndoLimit(200);
    // As long as the record was not read, the draft's own memory of the focus and the scanner is the best there is.
    if (draft.setup.focus.confirmed)
        ledger_.add(*draft.setup.focus.confirmed);
    if (const Bench& b = draft.setup.bench; !b.scanner.timed.empty())
        ledger_.add(TimedScanner{{}, {}, b.name, b.scanner.timed});
    adopt(draft);
}

void Workbench::adopt(const Draft& draft) {
    draft_ = draft;
    metal_ = metal_of(*materials_, draft_.setup.stock.metal);
    put_facts(draft_.setup);
    *cache_ = {};
    if (const Round* r = round(); draft_.cell && (r == nullptr || *draft_.cell >= r->sheet.cells()))
        draft_.cell.reset();
    Q_EMIT changed();
}

/// What is a fact of the bench at hand is not chosen, nor undone.
void Workbench::put_facts(Setup& setup) const {
    setup.focus.confirmed = ledger_.focus(setup.bench.name);
    if (const TimedScanner* timed = ledger_.timed(setup.bench.name))
        setup.bench.scanner.timed = timed->runs;
}

OwnScene Workbench::scene_of(const Round& r) const {
    return scene_of(r, ledger_.evidence(evidence_key(r.setup)));
}

OwnScene Workbench::scene_of(const Round& r, const Evidence& knowing) const {
    return {materials_, metal_of(*materials_, r.setup.stock.metal), r.setup, knowing};
}

const std::vector<Round>& Workbench::rounds() const {
    if (!cache_->rounds)
        cache_->rounds = rounds_of(draft_, ledger_);
    return *cache_->rounds;
}

const Round* Workbench::round(int number) const {
    for (const Round& r : rounds())
        if (r.sheet.number == number)
            return &r;
    return nullptr;
}

int Workbench::next_sheet() const {
    int last = std::max(draft_.last_sheet, last_recorded_);
    if (!ledger_.sheets().empty())
        last = std::max(last, ledger_.sheets().rbegin()->first);
    return last + 1;
}

const Expected<Prediction>& Workbench::prediction() const {
    if (!cache_->prediction)
        cache_->prediction = predict(scene(), draft_.recipe, draft_.fill);
    return *cache_->prediction;
}

const std::vector<Finding>& Workbench::findings() const {
    if (!cache_->findings) {
        cache_->findings = check(draft_.recipe, bench(), draft_.setup.stock);
        if (const auto& p = prediction())
            for (const ModelFinding f : p->findings)
                cache_->findings->push_back(finding_of(f));
        if (!materials_->find(draft_.setup.stock.metal))
            cache_->findings->push_back({"stock.unknown_metal", Severity::warning, std::nullopt,
                                         "Nothing is known of the metal \"" + draft_.setup.stock.metal + "\".",
                                         "Choose another metal on Bench, or bring its file back."});
        if (auto bad = bad_history(draft_.recipe, history_))
            cache_->findings->push_back(std::move(*bad));
    }
    return *cache_->findings;
}

const SheetForecast& Workbench::forecast() const {
    if (!cache_->forecast)
        cache_->forecast =
            round() != nullptr ? finch::forecast(round()->sheet, scene_of(*round()).scene()) : SheetForecast{};
    return *cache_->forecast;
}

const SheetForecast& Workbench::first_forecast() const {
    if (!cache_->first_forecast) {
        const Round* r = round();
        cache_->first_forecast =
            r != nullptr ? finch::forecast(r->sheet, scene_of(*r, r->before).scene()) : SheetForecast{};
    }
    return *cache_->first_forecast;
}

void Workbench::set_history(std::vector<BadTry> tries) {
    history_ = std::move(tries);
    cache_->findings.reset();
    Q_EMIT changed();
}

FocusState Workbench::focus_state() const {
    return finch::focus_state(draft_.setup.focus, bench().name, bench().lens().name, draft_.setup.stock);
}

void Workbench::change(const QString& text, const QString& merge, const std::function<void(Draft&)>& edit) {
    Draft after = draft_;
    edit(after);
    put_facts(after.setup);
    if (after == draft_)
        return;
    const bool was_fresh = !focus_state().stale();
    const Setup& s = after.setup;
    if (was_fresh && finch::focus_state(s.focus, s.bench.name, s.bench.lens().name, s.stock).stale())
        after.setup.focus.changed_utc = now_utc();
    undo_.push(new DraftStep(*this, text, merge, draft_, after, now()));
}

void Workbench::note(const std::function<void(Draft&)>& edit) {
    Draft after = draft_;
    edit(after);
    if (!(after == draft_))
        adopt(after);
}

void Workbench::add_facts(const std::function<void(Ledger&)>& add) {
    add(ledger_);
    adopt(Draft(draft_));
}

void Workbench::set_knob(Knob knob, double value) {
    const QString label = from_utf8(traits(knob).label);
    change(label.toLower(), u"knob/"_s + label, [&](Draft& d) { d.recipe = with_knob(d.recipe, knob, value); });
}

std::string Workbench::now_after(const std::string& last_utc) const {
    const std::string now = now_utc();
    if (last_utc < now)
        return now;
    const auto last = QDateTime::fromString(QString::fromStdString(last_utc), Qt::ISODate);
    return last.isValid() ? to_utc_text(last.addSecs(1)).toStdString() : now;
}

void Workbench::confirm_focus() {
    const Setup& s = draft_.setup;
    confirm(confirmation(s.focus, s.bench.name, s.bench.lens().name, s.stock, draft_.operator_initials, now_utc()));
}

void Workbench::take_focus(const FocusConfirmation& found) {
    change(tr("head moved to the best focus"), {}, [&](Draft& d) {
        d.setup.focus.head_raised = found.head_raised;
        d.setup.focus.offset = found.offset;
    });
    confirm(found);
}

void Workbench::confirm(FocusConfirmation now_in_focus) {
    if (const auto last = ledger_.focus(now_in_focus.bench))
        now_in_focus.when_utc = now_after(last->when_utc);
    add_facts([&](Ledger& ledger) { ledger.add(now_in_focus); });
    Q_EMIT focus_confirmed();
}

void Workbench::take_timed(std::vector<TimedRun> runs) {
    const TimedScanner* last = ledger_.timed(bench().name);
    const TimedScanner now{last != nullptr ? now_after(last->when_utc) : now_utc(), draft_.operator_initials,
                           bench().name, std::move(runs)};
    add_facts([&](Ledger& ledger) { ledger.add(now); });
    Q_EMIT scanner_timed(now);
}

void Workbench::keep_job(PrintedJob job) {
    job.when_utc = now_utc();
    job.by = draft_.operator_initials;
    Q_EMIT job_printed(job);
}

void Workbench::take_film_step(CompoundFact fact) {
    const std::string before = ledger_.last_film_step();
    fact.when_utc = before.empty() ? now_utc() : now_after(before);
    fact.by = draft_.operator_initials;
    add_facts([&](Ledger& ledger) { ledger.add(fact); });
    Q_EMIT film_step_said(fact);
}

void Workbench::take_scrap(ScrapFact fact) {
    const auto& said = ledger_.scrap_facts();
    fact.when_utc = said.empty() ? now_utc() : now_after(said.back().when_utc);
    fact.by = draft_.operator_initials;
    add_facts([&](Ledger& ledger) { ledger.add(std::vector{fact}); });
    Q_EMIT scrap_said(fact);
}

void Workbench::fail(const Error& error) {
    log_error(error);
    Q_EMIT said(QString::fromStdString(sentence(error)), State::fail);
}

} // namespace finch::app

#include "moc_workbench.cpp"
