// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/proof/next_act.h"

#include <algorithm>

namespace finch::app {

NextAct next_act(const Workbench& w, const ProofFlow& flow) {
    if (flow.step() == ProofFlow::Step::burning)
        return NextAct::cancel;
    if (flow.step() != ProofFlow::Step::idle || flow.designing())
        return NextAct::wait;
    const Round* r = w.round();
    if (r == nullptr)
        return NextAct::plan;
    if (r->burned && (r->sheet.wedge || wants_depths(w.draft(), r->sheet)) &&
        (!r->reading ||
         std::ranges::none_of(r->reading->cells, [](const CellReading& c) { return c.depth_um.has_value(); })))
        return NextAct::measure;
    // Measured by hand, and more is wanted: a look at all, or one of each cell that a question was put to.
    if (r->reading && !r->reading->photographed() && !r->sheet.wedge && !wants_depths(w.draft(), r->sheet) &&
        (r->sheet.asks() ? r->reading->count(CellState::hidden) > 0 : !r->reading->shows_colours()))
        return NextAct::photograph;
    if (r->reading)
        return r->sheet.ladder    ? NextAct::see_focus
               : r->sheet.lot     ? NextAct::take_dose
               : r->sheet.offsets ? NextAct::take_offset
               : r->sheet.asks()  ? NextAct::tune
                                  : NextAct::plan_next;
    return r->burned ? NextAct::photograph : NextAct::burn;
}

QString next_act_text(const Workbench& w, NextAct act) {
    switch (act) {
    case NextAct::plan:
        return QObject::tr("Plan sheet");
    case NextAct::burn:
        return QObject::tr("Burn sheet %1").arg(w.round()->sheet.number, 2, 10, QChar(u'0'));
    case NextAct::cancel:
        return QObject::tr("Cancel");
    case NextAct::photograph:
        return QObject::tr("Photograph");
    case NextAct::measure:
        return QObject::tr("Measure depths…");
    case NextAct::plan_next:
        return QObject::tr("Plan sheet %1").arg(w.next_sheet(), 2, 10, QChar(u'0'));
    case NextAct::see_focus:
        return QObject::tr("See the focus");
    case NextAct::take_dose:
        return QObject::tr("Take the dose");
    case NextAct::take_offset:
        return QObject::tr("Take offset");
    case NextAct::tune: // the question is answered; what follows is for the operator
        return QObject::tr("Tune");
    case NextAct::wait:
        return QObject::tr("Working …");
    }
    return {};
}

} // namespace finch::app
