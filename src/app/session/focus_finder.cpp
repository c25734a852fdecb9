// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/focus_finder.h"

#include "app/session/text.h"
#include "app/session/words.h"

#include <algorithm>
#include <cmath>

namespace finch::app {

FocusFinder::FocusFinder(Workbench& workbench, QObject* parent) : QObject(parent), workbench_(workbench) {}

const Round* FocusFinder::ladder() const {
    if (const Round* r = workbench_.round(); r != nullptr && r->sheet.ladder)
        return r;
    const Round* newest = nullptr;
    for (const Round& r : workbench_.rounds())
        if (r.sheet.ladder && r.setup.bench.name == workbench_.bench().name &&
            (newest == nullptr || r.reading || !newest->reading))
            newest = &r;
    return newest;
}

void FocusFinder::want() {
    const Round* r = ladder();
    if (r == nullptr || !r->reading) {
        work_.give_up();
        asked_.reset();
        finding_.reset();
        reason_.clear();
        return;
    }
    auto asked = std::make_shared<const Asked>(
        Asked{r->sheet, *r->reading, r->setup.bench, workbench_.draft().target.accept_de});
    if (asked_ && *asked_ == *asked)
        return;
    // A finding of another sheet must not stand under this one's name.
    if (!asked_ || asked_->sheet.number != asked->sheet.number)
        finding_.reset();
    asked_ = asked;
    work_.ask(
        "judging a focus ladder",
        [asked] { return judge_ladder(asked->sheet, asked->reading, asked->bench, asked->accept_de); },
        [this](const Expected<LadderFinding>& result) {
            finding_ = result ? std::optional(*result) : std::nullopt;
            reason_ = result ? QString() : from_utf8(result.error().message + " " + result.error().fix);
            Q_EMIT changed();
        });
    Q_EMIT changed();
}

QString FocusFinder::held_back() const {
    const Round* r = ladder();
    if (r == nullptr || !r->reading)
        return tr("Burn and read a ladder first.");
    // Not of an older reading, nor of another ladder that was looked at before.
    if (!finding_ || running() || asked_->sheet.number != r->sheet.number)
        return running() || reason_.isEmpty() ? tr("Working …") : reason_; // or it was not asked for yet
    if (finding_->verdict != LadderVerdict::found)
        return from_utf8(finding_->words);
    if (!r->setup.focus.confirmed)
        return tr("The ladder was burned without a confirmed focus: nothing says where its zero was.");
    // What the ladder found holds for the bench, lens and surface that it was burned with.
    const Setup& s = workbench_.draft().setup;
    Focus then = s.focus;
    then.confirmed = r->setup.focus.confirmed;
    FocusState moved = focus_state(then, s.bench.name, s.bench.lens().name, s.stock);
    std::erase_if(moved.reasons,
                  [](StaleReason why) { return why == StaleReason::head_moved || why == StaleReason::offset_changed; });
    if (moved.stale())
        return tr("Burned before: %1. Burn a ladder as it is now.").arg(reason_words(moved));
    return {};
}

FocusConfirmation FocusFinder::confirmed() const {
    const double best = finding_->fit.best_mm.value;
    return found_by_ladder(*ladder()->setup.focus.confirmed, mm(std::round(100 * best) / 100),
                           workbench_.draft().operator_initials, workbench_.now_utc());
}

bool FocusFinder::taken() const {
    const auto& is = workbench_.draft().setup.focus.confirmed;
    if (!is || is->method != FocusMethod::ladder || workbench_.focus_state().stale() || !held_back().isEmpty())
        return false;
    const FocusConfirmation would = confirmed();
    return std::abs(in_mm(is->from_gauge - would.from_gauge)) < 0.005 &&
           std::abs(in_mm(is->head_raised - would.head_raised)) < 0.005;
}

void FocusFinder::take() {
    if (const QString why = held_back(); !why.isEmpty())
        return workbench_.say(why, State::warn);
    workbench_.take_focus(confirmed());
}

} // namespace finch::app

#include "moc_focus_finder.cpp"
