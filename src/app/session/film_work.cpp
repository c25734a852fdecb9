// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/film_work.h"

#include "app/session/text.h"
#include "recipe/predict.h"

#include <algorithm>
#include <QUuid>

namespace finch::app {

namespace {

constexpr int a_second = 1000;
constexpr double hurry_min = 5, day_min = 24 * 60; // before a film sets; pieces that were left lying are not called for

std::string fresh_uid() {
    return QUuid::createUuid().toString(QUuid::WithoutBraces).toStdString();
}

QDateTime time_of(const CompoundFact& fact) {
    return QDateTime::fromString(from_utf8(fact.when_utc), Qt::ISODate);
}

Expected<CompoundOutcome> expected_of(const Workbench& workbench, const FilmWork& work) {
    Setup setup = workbench.draft().setup;
    setup.stock = work.stock;
    const auto own = own_scene(workbench.shared_materials(), setup, workbench.ledger().evidence(evidence_key(setup)));
    if (!own)
        return tl::unexpected(own.error());
    return predict(own->scene(), work.recipe, {mm(10), 100})
        .and_then([](const Prediction& p) -> Expected<CompoundOutcome> {
            if (!p.compound)
                return failure("compound.no_film", "Nothing is predicted of this film.", "Choose a product.");
            return *p.compound;
        });
}

/// What was sprayed is what lies there, whatever is chosen now.
Expected<void> take_begun(const Workbench& workbench, FilmWork& work) {
    const CompoundFact& first = work.facts.front();
    work.pieces = first.pieces;
    work.stock = first.setup.stock;
    work.recipe.compound = first.recipe.compound;
    work.recipe.coats = first.recipe.coats;
    Job part = work.piece->part;
    for (JobLayer& l : part.layers)
        if (l.recipe && l.recipe->process == Process::compound) {
            l.recipe->compound = work.recipe.compound;
            l.recipe->coats = work.recipe.coats;
        }
    const auto cost = piece_cost(workbench.materials(), part, work.piece->mark_s, workbench.draft().piece.price,
                                 work.piece->handle_s, work.pieces);
    if (!cost)
        return tl::unexpected(cost.error());
    work.compound = cost->compound;
    work.plan = *cost->plan;
    return {};
}

CompoundFact fact_of(const Workbench& workbench, const FilmWork& work) {
    CompoundFact out;
    out.uid = fresh_uid();
    out.batch = work.facts.empty() ? fresh_uid() : work.facts.front().batch;
    out.pieces = work.pieces;
    out.recipe = work.recipe;
    out.setup = workbench.draft().setup;
    out.setup.stock = work.stock;
    return out;
}

} // namespace

FilmKeeper::FilmKeeper(Workbench& workbench, Recorder& recorder, QObject* parent)
    : QObject(parent), workbench_(workbench) {
    connect(&workbench, &Workbench::film_step_said, this, [&workbench, &recorder](const CompoundFact& fact) {
        const CompoundTable& table = workbench.materials().compounds;
        const CompoundConstants* product = table.compound(fact.recipe.compound);
        if (product == nullptr)
            return;
        const auto metal = workbench.materials().find(fact.setup.stock.metal);
        recorder.record(entry_of(fact, *product, ladder_score(table, fact.ladder).value_or(LadderScore{}),
                                 metal ? (*metal)->name : fact.setup.stock.metal, FINCH_VERSION),
                        {}, [&workbench](const Expected<void>& kept) {
                            if (!kept)
                                workbench.fail(kept.error());
                        });
    });
    clock_.setInterval(a_second);
    connect(&clock_, &QTimer::timeout, this, &FilmKeeper::watch);
    connect(&workbench, &Workbench::changed, this, &FilmKeeper::watch);
    watch();
}

void FilmKeeper::watch() {
    bool any = false;
    for (const std::string& bench : workbench_.ledger().film_benches())
        if (const auto facts = workbench_.ledger().film_work(bench); !facts.empty()) {
            any = true;
            remind(facts);
        }
    if (any != clock_.isActive())
        any ? clock_.start() : clock_.stop();
}

void FilmKeeper::remind(const std::vector<CompoundFact>& facts) {
    const CompoundFact& first = facts.front();
    const CompoundConstants* product = workbench_.materials().compounds.compound(first.recipe.compound);
    const auto plan = product != nullptr
                          ? compound_plan(*product, {.pieces = first.pieces, .coats = first.recipe.coats})
                          : Expected<CompoundPlan>(failure("compound.unknown", "The product is gone.", ""));
    if (!plan)
        return;
    const CompoundStand stand = film_times(facts, *plan, *product, workbench_.now()).stand;
    // Told once each, and again after it was taken back; saying it may bring the next call.
    Told& told = told_[first.batch];
    const bool dry = stand.drying_min && *stand.drying_min < day_min &&
                     *stand.drying_min >= plan->steps.at(*stand.now).step.wait_min;
    const bool wash = stand.wash_left_min && *stand.wash_left_min < hurry_min && *stand.unwashed_min < day_min;
    const Told before = std::exchange(told, Told{dry, wash});
    if (dry && !before.dry)
        workbench_.say(tr("%1: the coat has dried for %2, look whether it is %3.")
                           .arg(from_utf8(first.setup.bench.name), screen_duration(60 * *stand.drying_min),
                                from_utf8(plan->steps.at(*stand.now).step.look)));
    if (wash && !before.wash)
        workbench_.say(*stand.wash_left_min > 0
                           ? tr("%1: wash now, the rest of the film sets in %2.")
                                 .arg(from_utf8(first.setup.bench.name), screen_duration(60 * *stand.wash_left_min))
                           : tr("%1: the rest of the film has set; Steps say what takes it off.")
                                 .arg(from_utf8(first.setup.bench.name)),
                       State::warn);
}

FilmTimes film_times(const std::vector<CompoundFact>& facts, const CompoundPlan& plan,
                     const CompoundConstants& compound, const QDateTime& now) {
    FilmTimes out;
    std::vector<StepEvent> events;
    if (!facts.empty()) {
        // The first word is said at the end of a step: the work began that step before it.
        double before = 0;
        for (const StepPlan& s : plan.steps) {
            before += s.minutes();
            if (s.step.stage == facts.front().stage)
                break;
        }
        out.began = time_of(facts.front()).addMSecs(-std::llround(before * 60000));
        const auto since = [&](const QDateTime& t) { return static_cast<double>(out.began.msecsTo(t)) / 60000; };
        for (const CompoundFact& f : facts)
            events.push_back({f.stage, f.kind, since(time_of(f))});
        out.now_min = since(now);
    }
    out.stand = stand_of(plan, compound, events, out.now_min);
    return out;
}

std::vector<double> FilmWork::ladder() const {
    for (std::size_t i = 0; i < plan.steps.size(); ++i)
        if (plan.steps[i].step.stage == CompoundStage::ladder && stand.steps.at(i).state == StepState::done)
            for (auto f = facts.rbegin(); f != facts.rend(); ++f)
                if (f->stage == CompoundStage::ladder)
                    return f->ladder;
    return {};
}

Expected<FilmWork> film_work(const Workbench& workbench, const PieceReader& reader) {
    const auto piece = costed_piece(workbench, reader, workbench.draft().piece.price);
    if (!piece)
        return tl::unexpected(piece.error());
    const PieceCost& cost = (*piece)->cost;
    if (cost.compound == nullptr || cost.recipe == nullptr)
        return failure("compound.no_film", "No layer of this piece is a sprayed film.",
                       "Tune a recipe for a compound, and take it for a layer.");
    FilmWork out;
    out.piece = *piece;
    out.compound = cost.compound;
    out.pieces = workbench.draft().piece.film_together;
    out.recipe = *cost.recipe;
    out.stock = workbench.draft().setup.stock;
    out.plan = *cost.plan;
    out.facts = workbench.ledger().film_work(workbench.bench().name);
    if (!out.facts.empty())
        if (const auto begun = take_begun(workbench, out); !begun)
            return tl::unexpected(begun.error());
    static_cast<FilmTimes&>(out) = film_times(out.facts, out.plan, *out.compound, workbench.now());
    if (out.stand.marked)
        for (const CompoundFact& f : out.facts) // the last word
            if (f.stage == CompoundStage::mark && f.kind == StepEvent::Kind::done)
                out.recipe = f.recipe;
    out.expected = expected_of(workbench, out);
    return out;
}

void say_step(Workbench& workbench, const FilmWork& work, CompoundStage stage, StepEvent::Kind kind,
              const QString& note, std::vector<double> ladder) {
    CompoundFact fact = fact_of(workbench, work);
    fact.stage = stage;
    fact.kind = kind;
    fact.note = note.toStdString();
    fact.ladder = std::move(ladder);
    workbench.take_film_step(std::move(fact));
}

void put_away(Workbench& workbench, const FilmWork& work) {
    if (work.facts.empty())
        return;
    CompoundFact fact = fact_of(workbench, work);
    fact.stage = work.facts.back().stage;
    fact.closed = true;
    workbench.take_film_step(std::move(fact));
}

} // namespace finch::app

#include "moc_film_work.cpp"
