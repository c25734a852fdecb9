// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/piece/film_words.h"

#include "app/session/text.h"

#include <algorithm>
#include <cmath>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

QString minutes_words(double minutes) {
    return screen_duration(60 * std::max(0.0, minutes));
}

FilmStepsPicture::Span::Kind shown(StepSpan::Kind kind) {
    using To = FilmStepsPicture::Span::Kind;
    return kind == StepSpan::Kind::hands ? To::hands : kind == StepSpan::Kind::wait ? To::wait : To::beam;
}

} // namespace

QString money(double value) {
    return QString::number(value, 'f', 2);
}

FilmStepsPicture film_picture(const FilmWork& work) {
    FilmStepsPicture out;
    out.begun = !work.facts.empty();
    out.began = work.began.toLocalTime();
    out.now_min = work.now_min;
    for (std::size_t i = 0; i < work.plan.steps.size(); ++i) {
        const StepPlan& s = work.plan.steps[i];
        const LivedStep& lived = work.stand.steps.at(i);
        FilmStepsPicture::Step row;
        row.title = from_utf8(s.step.title);
        row.text = from_utf8(s.step.text);
        row.caution = from_utf8(s.step.caution);
        row.from_min = lived.from_min;
        row.to_min = lived.to_min;
        switch (lived.state) {
        case StepState::done:
            row.stand = FilmStepsPicture::Stand::done;
            break;
        case StepState::skipped:
            row.stand = FilmStepsPicture::Stand::skipped;
            break;
        case StepState::now:
            row.stand = FilmStepsPicture::Stand::now;
            break;
        case StepState::later:
            row.stand = FilmStepsPicture::Stand::later;
            break;
        }
        row.minutes =
            lived.state == StepState::done || lived.state == StepState::skipped
                ? minutes_words(lived.to_min - lived.from_min)
            : lived.state == StepState::now && out.begun
                ? QObject::tr("%1 of %2").arg(minutes_words(work.now_min - lived.from_min), minutes_words(s.minutes()))
                : minutes_words(s.minutes());
        for (const StepSpan& span : s.spans)
            row.spans.push_back({shown(span.kind), span.minutes});
        if (s.step.stage == CompoundStage::dry)
            row.range = {lived.from_min + s.step.wait_least_min, lived.from_min + s.step.wait_most_min};
        out.steps.push_back(std::move(row));
    }
    return out;
}

FilmWords film_words(const FilmWork& work) {
    const CompoundStand& s = work.stand;
    if (work.facts.empty())
        return {QObject::tr("%1 together: %2, of which your hands have %3 and the beam %4.")
                    .arg(work.pieces)
                    .arg(minutes_words(work.plan.minutes()), minutes_words(work.plan.minutes(StepSpan::Kind::hands)),
                         minutes_words(work.plan.minutes(StepSpan::Kind::beam))),
                State::ok};
    if (s.unwashed_min && s.wash_left_min && *s.wash_left_min < 0)
        return {QObject::tr("Marked %1 ago. %2")
                    .arg(minutes_words(*s.unwashed_min),
                         from_utf8(sentence(wash_advice(*work.compound, WashAgent::alcohol, *s.unwashed_min)))),
                State::fail};
    if (s.unwashed_min && s.wash_left_min && *s.wash_left_min < 120)
        return {QObject::tr("Wash within %1: then the rest of the film sets.").arg(minutes_words(*s.wash_left_min)),
                State::warn};
    if (s.drying_min) {
        const auto& dry = std::ranges::find(work.plan.steps, CompoundStage::dry, [](const StepPlan& p) {
                              return p.step.stage;
                          })->step;
        const QString words = QObject::tr("Drying for %1; usual is %2, from %3 to %4.")
                                  .arg(minutes_words(*s.drying_min), minutes_words(dry.wait_min),
                                       minutes_words(dry.wait_least_min), minutes_words(dry.wait_most_min));
        return *s.drying_min < dry.wait_least_min
                   ? FilmWords{words + QObject::tr(" Too early for any coat."), State::fail}
                   : FilmWords{words + QObject::tr(" The look decides, not the clock."), State::warn};
    }
    if (!s.now)
        return {QObject::tr("All steps are done. Put the pieces away, and the next ones begin anew."), State::ok};
    const double left = s.steps.back().to_min - work.now_min;
    return {QObject::tr("%1 together, %2 to go.").arg(work.pieces).arg(minutes_words(left)), State::ok};
}

std::vector<FindingRowView> wash_rows(const FilmWork& work) {
    std::vector<FindingRowView> out;
    for (const auto& [agent, name] : {std::pair{WashAgent::water, QObject::tr("Water")},
                                      {WashAgent::alcohol, QObject::tr("Alcohol")},
                                      {WashAgent::pumice, QObject::tr("Pumice cleaner")}}) {
        const WashAdvice advice = wash_advice(*work.compound, agent, work.stand.unwashed_min.value_or(0));
        FindingRowView row;
        row.text = name + u": "_s + from_utf8(sentence(advice));
        row.state = advice == WashAdvice::good        ? State::ok
                    : advice == WashAdvice::use_water ? State::unknown
                                                      : State::fail;
        row.placed = advice == WashAdvice::good;
        out.push_back(std::move(row));
    }
    return out;
}

std::vector<PartsBar::Part> cost_parts(const CompoundPlan& plan) {
    return {{plan.can, 3, QObject::tr("can"), money(plan.can)},
            {plan.wash, 0, QObject::tr("wash"), money(plan.wash)},
            {plan.bench, 1, QObject::tr("bench"), money(plan.bench)},
            {plan.hands, 4, QObject::tr("hands"), money(plan.hands)}};
}

} // namespace finch::app
