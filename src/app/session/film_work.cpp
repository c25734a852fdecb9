// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/film_work.h"

#include "app/session/text.h"
#include "recipe/predict.h"

#include <algorithm>
#include <QUuid>

namespace finch::app {

namespace {

std::string fresh_uid() {
    return QUuid::createUuid().toString(QUuid::WithoutBraces).toStdString();
}

QDateTime time_of(const CompoundFact& fact) {
    return QDateTime::fromString(from_utf8(fact.when_utc), Qt::ISODate);
}

Expected<CompoundOutcome> expected_of(const Workbench& workbench, const Job& part, const Recipe& recipe) {
    const auto own =
        own_scene(workbench.shared_materials(), part.setup, workbench.ledger().evidence(evidence_key(part.setup)));
    if (!own)
        return tl::unexpected(own.error());
    return predict(own->scene(), recipe, {mm(10), 100}).and_then([](const Prediction& p) -> Expected<CompoundOutcome> {
        if (!p.compound)
            return failure("compound.no_film", "Nothing is predicted of this film.", "Choose a product.");
        return *p.compound;
    });
}

double load_s(const Workbench& workbench) {
    return workbench.draft().piece.place.load_s.value_or(workbench.materials().model.effort.handling_s);
}

CompoundFact fact_of(const Workbench& workbench, const FilmWork& work) {
    CompoundFact out;
    out.uid = fresh_uid();
    out.batch = work.facts.empty() ? fresh_uid() : work.facts.front().batch;
    out.compound = work.compound->key;
    out.pieces = work.pieces;
    out.coats = work.coats;
    out.setup = workbench.draft().setup;
    return out;
}

} // namespace

FilmKeeper::FilmKeeper(Workbench& workbench, Recorder& recorder, QObject* parent) : QObject(parent) {
    connect(&workbench, &Workbench::film_step_said, this, [&workbench, &recorder](const CompoundFact& fact) {
        const CompoundTable& table = workbench.materials().compounds;
        const CompoundConstants* product = table.compound(fact.compound);
        if (product == nullptr)
            return;
        recorder.record(entry_of(fact, *product, ladder_score(table, fact.ladder).value_or(LadderScore{}),
                                 workbench.metal().name, FINCH_VERSION),
                        {}, [&workbench](const Expected<void>& kept) {
                            if (!kept)
                                workbench.fail(kept.error());
                        });
    });
}

Expected<std::shared_ptr<const CostedPiece>> costed_piece(const Workbench& workbench, const PieceReader& reader) {
    auto part = reader.part();
    if (!part)
        return tl::unexpected(part.error());
    const PieceChoice& chosen = workbench.draft().piece;
    auto out = std::make_shared<CostedPiece>();
    out->part = std::move(*part);
    std::vector<ScanLoad> loads;
    for (const PieceLayer& l : reader.layers())
        if (l.work != nullptr)
            loads.push_back(l.work->load);
        else if (!l.choice.guide)
            return failure("piece.being_read", "Its lines are still worked out.", "Wait a moment.");
    out->mark_s = time_of(reader.scanner(), loads).likely + paused_s(reader.steps());
    auto cost = piece_cost(workbench.materials(), out->part, out->mark_s, chosen.price, load_s(workbench),
                           chosen.film_together);
    if (!cost)
        return tl::unexpected(cost.error());
    out->cost = std::move(*cost);
    return out;
}

std::vector<double> FilmWork::ladder() const {
    for (std::size_t i = 0; i < plan.steps.size(); ++i)
        if (plan.steps[i].step.stage == CompoundStage::ladder && stand.steps.at(i).state == StepState::done)
            for (auto f = facts.rbegin(); f != facts.rend(); ++f)
                if (f->stage == CompoundStage::ladder && !f->closed)
                    return f->ladder;
    return {};
}

Expected<FilmWork> film_work(const Workbench& workbench, const PieceReader& reader) {
    const auto piece = costed_piece(workbench, reader);
    if (!piece)
        return tl::unexpected(piece.error());
    const PieceCost& cost = (*piece)->cost;
    if (cost.compound == nullptr || cost.recipe == nullptr)
        return failure("compound.no_film", "No layer of this piece is a sprayed film.",
                       "Tune a recipe for a compound, and take it for a layer.");
    FilmWork out{
        *piece, cost.compound, workbench.draft().piece.film_together, cost.recipe->coats, *cost.plan, {}, {}, 0, {},
        {}};
    Recipe recipe = *cost.recipe;
    out.facts = workbench.ledger().film_work(workbench.bench().name);
    if (!out.facts.empty()) {
        // What was sprayed is what lies there, whatever is chosen now.
        const CompoundFact& first = out.facts.front();
        const CompoundConstants* sprayed = workbench.materials().compounds.compound(first.compound);
        if (sprayed != nullptr && (sprayed != out.compound || first.pieces != out.pieces || first.coats != out.coats)) {
            out.compound = sprayed;
            out.pieces = first.pieces;
            out.coats = first.coats;
            recipe.compound = sprayed->key;
            recipe.coats = first.coats;
            Job part = (*piece)->part;
            for (JobLayer& l : part.layers)
                if (l.recipe && l.recipe->process == Process::compound) {
                    l.recipe->compound = sprayed->key;
                    l.recipe->coats = first.coats;
                }
            const auto again = piece_cost(workbench.materials(), part, (*piece)->mark_s, workbench.draft().piece.price,
                                          load_s(workbench), out.pieces);
            if (!again)
                return tl::unexpected(again.error());
            out.plan = *again->plan;
        }
        // The first word is said at the end of a step: the work began that step before it.
        double before = 0;
        for (const StepPlan& s : out.plan.steps) {
            before += s.minutes();
            if (s.step.stage == first.stage)
                break;
        }
        out.began = time_of(first).addMSecs(-std::llround(before * 60000));
    }
    out.expected = expected_of(workbench, (*piece)->part, recipe);
    move_on(out, workbench.now());
    return out;
}

void move_on(FilmWork& work, const QDateTime& now) {
    const auto since = [&](const QDateTime& t) { return static_cast<double>(work.began.msecsTo(t)) / 60000; };
    std::vector<StepEvent> events;
    for (const CompoundFact& f : work.facts)
        events.push_back({f.stage, f.kind, since(time_of(f))});
    work.now_min = work.facts.empty() ? 0 : since(now);
    work.stand = stand_of(work.plan, *work.compound, events, work.now_min);
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
