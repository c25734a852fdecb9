// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/aim/aim_view.h"

#include "app/session/text.h"
#include "app/session/words.h"
#include "quantity/format.h"

#include <cmath>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

State state_of(Answer a) {
    switch (a) {
    case Answer::passes:
        return State::ok;
    case Answer::fails:
        return State::fail;
    case Answer::unknown:
        return State::unknown;
    }
    return State::unknown;
}

JudgedColumn column_of(const Workbench& w, const Proposal& p, bool best) {
    const Candidate& c = p.candidate();
    JudgedColumn out;
    out.label = QString::fromStdString(p.label);
    out.group = QString::fromStdString(p.school_group);
    out.bench = QString::fromStdString(p.bench);
    out.best = best && c.meets;
    out.tally = u"%1/%2"_s.arg(p.musts_passed + p.wishes_passed).arg(p.musts + p.wishes);
    const QString line = recipe_line(c.recipe);
    out.recipe = line.section(u", "_s, 0, 1);
    out.recipe_more = line.section(u", "_s, 2);
    QStringList others;
    for (const std::string& name : p.as_good)
        others << QString::fromStdString(name);
    const bool elsewhere = p.bench != w.bench().name;
    if (elsewhere)
        out.recipe = others.isEmpty() ? QObject::tr("on bench %1").arg(out.bench)
                                      : QObject::tr("on %1, or %2").arg(out.bench, others.join(u", "_s));
    else if (!others.isEmpty())
        out.recipe = QObject::tr("also: %1").arg(others.join(u", "_s));
    if (elsewhere || !others.isEmpty()) // the first line went to the bench
        out.recipe_more = line.section(u", "_s, 0, 0) + u", "_s + line.section(u", "_s, 2);
    const Appearance around = unmarked(w.scene());
    if (c.look.known)
        out.look = c.look.lab;
    if (around.known)
        out.around = around.lab;
    out.words = QString::fromStdString(c.look.words);
    if (c.look.known)
        out.lightness = u"L* %1"_s.arg(screen_number(c.look.lab.l, 2));
    for (const Verdict& v : c.verdicts)
        out.rows.push_back(
            {state_of(v.answer), v.must, QString::fromStdString(v.number), QString::fromStdString(v.reason)});
    if (c.prediction.effect != Effect::not_modelled) {
        // Half of the bar: what a film may move before one sees it, or a sixth of anything else.
        out.swing = c.spread.total() / (c.spread.in_colour ? 12.0 : 0.33);
        out.swing_text = swing_text(c.spread);
        out.tolerance = QObject::tr("hold focus within %1 mm").arg(screen_number(p.focus_tolerance_mm, 2));
    } else {
        out.swing_text = QObject::tr("unknown");
        out.tolerance = QObject::tr("nothing is predicted here");
    }
    out.rests_on = QString::fromStdString(p.rests_on);
    out.sentence = QString::fromStdString(p.risk.empty() ? p.sentence : p.risk.substr(0, p.risk.find(':')) + ".");
    out.sentence_warns = !c.meets;
    return out;
}

} // namespace

std::vector<JudgedColumn> judged_columns(const Workbench& w, const AimFlow& aims) {
    std::vector<JudgedColumn> out;
    for (const Proposal& p : aims.weighing().proposals)
        if (p.candidate().verdicts.size() == w.draft().aim.wishes.size())
            out.push_back(column_of(w, p, out.empty()));
    return out;
}

std::vector<WishLine> wish_lines(const Aim& aim) {
    std::vector<WishLine> out;
    for (const Wish& wish : aim.wishes)
        out.push_back({from_utf8(traits(wish.kind).label), QString::fromStdString(describe(wish)), wish.must});
    return out;
}

QString aim_facts(const Aim& aim) {
    QStringList parts;
    if (!aim.place.empty())
        parts << QString::fromStdString(aim.place);
    parts << (aim.pieces == 1 ? QObject::tr("one piece") : QObject::tr("%1 pieces").arg(aim.pieces));
    parts << QObject::tr("%1 mm² filled on each").arg(screen_number(aim.fill.area_mm2, 4));
    if (aim.working_part)
        parts << QObject::tr("a working part");
    return parts.join(u", "_s);
}

QString take_text(const Proposal& p, const Workbench& w, bool best) {
    if (p.bench != w.bench().name)
        return QObject::tr("Open %1").arg(QString::fromStdString(p.bench));
    if (p.task.process == Process::creep_up)
        return QObject::tr("Climb on scrap");
    return best && p.candidate().meets ? QObject::tr("Start with this") : QObject::tr("Try on scrap");
}

} // namespace finch::app
