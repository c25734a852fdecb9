// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/opening_finder.h"

#include "app/session/cell_designer.h"
#include "app/session/text.h"
#include "evidence/learn.h"

namespace finch::app {

OpeningFinder::OpeningFinder(Workbench& workbench, QObject* parent) : QObject(parent), workbench_(workbench) {}

OpeningFinder::Asked OpeningFinder::now() const {
    const Draft& d = workbench_.draft();
    return {d.setup, d.recipe, d.target, design_request(d), workbench_.evidence()};
}

bool OpeningFinder::up_to_date() const {
    return !running() && asked_ && *asked_ == now();
}

void OpeningFinder::start() {
    asked_ = now();
    plans_.clear();
    reason_.clear();
    struct Work {
        OwnScene scene;
        Asked asked;
        std::vector<Observation> seen;
    };
    const Knowledge* known = workbench_.ledger().knowledge(evidence_key(asked_->setup));
    const auto work = std::make_shared<const Work>(
        Work{workbench_.own_scene(), *asked_, known != nullptr ? known->observations : std::vector<Observation>()});
    work_.ask(
        "comparing ways to begin",
        [work] {
            return opening_plans(work->scene.scene(), work->scene.setup, work->asked.target, work->asked.request,
                                 work->seen, {}, threads_for_work());
        },
        [this](const Expected<std::vector<OpeningPlan>>& result) {
            if (result)
                plans_ = *result;
            else
                reason_ = from_utf8(result.error().message + " " + result.error().fix);
            Q_EMIT changed();
        });
    Q_EMIT changed();
}

} // namespace finch::app

#include "moc_opening_finder.cpp"
