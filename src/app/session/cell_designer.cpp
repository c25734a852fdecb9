// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/cell_designer.h"

#include "evidence/learn.h"

namespace finch::app {

SheetRequest design_request(const Draft& d) {
    SheetRequest request = d.request;
    request.base = d.recipe;
    if (!d.target.depth)
        request.base.process = d.target.darker_is_better ? Process::anneal : Process::colour;
    if (request.aim.empty())
        request.aim = d.target.name;
    return request;
}

CellDesigner::CellDesigner(Workbench& workbench, QObject* parent) : QObject(parent), workbench_(workbench) {}

void CellDesigner::start(const std::optional<OpenFrame>& frame) {
    const Draft& d = workbench_.draft();
    const Knowledge* known = workbench_.ledger().knowledge(evidence_key(d.setup));
    SheetRequest request = design_request(d);
    DesignLimits limits;
    if (frame) {
        request.cell_width = frame->begun.cell_width;
        request.cell_height = frame->begun.cell_height;
        request.gap = frame->begun.gap;
        limits.cells = std::min(later_films, frame->bare()); // whether the first was read yet or not
    }
    struct Work {
        OwnScene scene;
        Target target;
        SheetRequest request;
        DesignLimits limits;
        std::vector<Observation> seen;
    };
    const auto work =
        std::make_shared<const Work>(Work{workbench_.own_scene(), d.target, request, limits,
                                          known != nullptr ? known->observations : std::vector<Observation>()});
    work_.ask(
        "designing cells",
        [work]() -> Expected<DesignedSheet> {
            return design_next(work->scene.scene(), work->scene.setup, work->target, work->request, work->seen,
                               work->limits, threads_for_work());
        },
        [this, work](const Expected<DesignedSheet>& result) { finish(work->scene.setup, result); });
    Q_EMIT changed();
}

void CellDesigner::cancel() {
    if (!running())
        return;
    work_.give_up();
    Q_EMIT changed();
}

void CellDesigner::finish(const Setup& setup, const Expected<DesignedSheet>& result) {
    Q_EMIT changed();
    if (!result)
        return workbench_.fail(result.error());
    // Cells for another metal or lens than lies there now would be burned on the wrong thing.
    if (evidence_key(setup) != evidence_key(workbench_.draft().setup))
        return workbench_.say(tr("The set-up changed while the cells were designed. Design them again."), State::warn);
    Q_EMIT designed(*result);
}

} // namespace finch::app

#include "moc_cell_designer.cpp"
