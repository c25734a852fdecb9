// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/words.h"

#include "app/session/text.h"
#include "bench/bench_json.h"

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

QString ago(const QDateTime& then, const QDateTime& now) {
    const qint64 minutes = then.secsTo(now) / 60;
    if (minutes < 1)
        return QObject::tr("just now");
    if (minutes < 100)
        return QObject::tr("%1 min ago").arg(minutes);
    return then.date() == now.date() ? QObject::tr("at %1").arg(then.toLocalTime().toString(u"HH:mm"_s))
                                     : QObject::tr("%1 days ago").arg(std::max<qint64>(1, then.daysTo(now)));
}

} // namespace

QString recipe_line(const Recipe& r) {
    const Setting& s = r.setting;
    QString text =
        QObject::tr("%1 %, %2 kHz, %3 mm/s × %4 µm")
            .arg(screen_number(s.power_percent, 3), screen_number(in_kilohertz(s.frequency), 3),
                 screen_number(in_mm_per_second(s.scan_speed), 3), screen_number(in_micrometres(s.hatch_pitch), 2));
    if (s.passes > 1)
        text += QObject::tr(", %1 passes").arg(s.passes);
    if (std::abs(in_mm(s.focus_offset)) > 1e-6)
        text += u", "_s + (s.focus_offset > mm(0) ? u"+"_s : QString()) + screen_number(in_mm(s.focus_offset), 2) +
                u" mm"_s;
    return text;
}

QString swing_text(const OutcomeSpread& s) {
    return s.in_colour ? u"ΔE "_s + screen_number(s.total(), 2) : screen_number(100 * s.total(), 2) + u" %"_s;
}

QString area_words(const Fill& fill) {
    return fill.area_mm2 < 100 ? screen_number(fill.area_mm2, 2) + u" mm²"_s
                               : screen_number(fill.area_mm2 / 100, 2) + u" cm²"_s;
}

QString screen_unit(Knob knob) {
    return from_utf8(traits(knob).screen_unit);
}

QString reason_words(const FocusState& state) {
    if (state.reasons.empty())
        return {};
    switch (state.reasons.front()) {
    case StaleReason::never_confirmed:
        return QObject::tr("not confirmed yet");
    case StaleReason::bench_changed:
        return QObject::tr("confirmed on another bench");
    case StaleReason::lens_changed:
        return QObject::tr("lens changed");
    case StaleReason::thickness_changed:
    case StaleReason::stock_changed:
        return QObject::tr("stock changed");
    case StaleReason::offset_changed:
        return QObject::tr("offset changed");
    case StaleReason::head_moved:
        return QObject::tr("head moved");
    }
    return {};
}

QString stock_words(const Stock& s) {
    return from_utf8(word(s.finish)) + QObject::tr(" finish") +
           (s.lot.empty() ? QString() : QObject::tr(", lot %1").arg(QString::fromStdString(s.lot)));
}

QString focus_headline(const Workbench& w) {
    const Focus& f = w.draft().setup.focus;
    const FocusState state = w.focus_state();
    if (!f.confirmed)
        return QObject::tr("Focus not confirmed");
    if (!state.stale())
        return QObject::tr("Confirmed %1")
            .arg(ago(QDateTime::fromString(QString::fromStdString(f.confirmed->when_utc), Qt::ISODate), w.now()));
    const QString since = brief_time(QString::fromStdString(f.changed_utc), w.now());
    return since.isEmpty() ? QObject::tr("Focus is stale") : QObject::tr("Stale since %1").arg(since);
}

} // namespace finch::app
