// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/bench_line.h"

#include "app/session/text.h"
#include "app/session/words.h"

#include "bench/bench_json.h"
#include "quantity/format.h"

#include <cmath>
#include <QMouseEvent>
#include <QTimer>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr double name_width = 72;
/// What the link at the right takes at least.
constexpr double link_width = 192;

} // namespace

BenchLine::BenchLine(Workbench& workbench, const BenchLink& link, const RunFlow& run, QWidget* parent)
    : Instrument(u"bench_line"_s, tr("Bench line"), parent), workbench_(workbench), link_(link), run_(run) {
    setFixedHeight(56);
    setCursor(Qt::PointingHandCursor);
    connect(&workbench_, &Workbench::changed, this, &BenchLine::refresh);
    connect(&link_, &BenchLink::state_changed, this, &BenchLine::refresh);
    connect(&run_, &RunFlow::changed, this, &BenchLine::refresh);
    auto* minute = new QTimer(this);
    minute->setInterval(20000);
    connect(minute, &QTimer::timeout, this, &BenchLine::refresh);
    minute->start();
    refresh();
}

void BenchLine::refresh() {
    const Setup& s = workbench_.draft().setup;
    const Source& source = s.bench.source;
    const Lens& lens = s.bench.lens();
    const FocusState focus = workbench_.focus_state();
    const bool variable = source.kind == SourceKind::variable_pulse_width;
    const QString widths = variable ? tr("%1\u2013%2 ns")
                                          .arg(screen_number(in_nanoseconds(source.pulse_width_min)),
                                               screen_number(in_nanoseconds(source.pulse_width_max)))
                                    : tr("%1 ns").arg(screen_number(in_nanoseconds(source.pulse_width_min)));
    const FocusMethod by = s.focus.confirmed ? s.focus.confirmed->method : s.focus.method;
    QString second = tr("offset %1 mm, by %2").arg(QString::number(in_mm(s.focus.offset), 'f', 1), from_utf8(word(by)));
    if (focus.stale() && s.focus.confirmed) {
        second = reason_words(focus);
        if (std::abs(in_mm(focus.surface_error)) > 0.005)
            second += tr(", %1 mm off").arg(screen_number(std::abs(in_mm(focus.surface_error)), 2));
    }
    QString bench = tr("not started"), first = link_.name();
    first[0] = first[0].toUpper();
    std::optional<State> state = State::unknown;
    switch (link_.state()) {
    case BenchLink::State::absent:
        bench = tr("starts when needed");
        break;
    case BenchLink::State::starting:
        bench = tr("starting");
        break;
    case BenchLink::State::ready:
        bench = tr("ready");
        state = State::ok;
        break;
    case BenchLink::State::burning:
        bench = tr("burning");
        state = State::warn;
        break;
    }
    // Whatever station is shown, whether the beam is on stands here.
    if (run_.under_way()) {
        const bool on = run_.step() == RunFlow::Step::running;
        bench = on ? tr("marking, %1 of %2 done").arg(run_.stand().done()).arg(run_.record().start.portions)
                   : tr("a run stands, beam off");
        state = State::warn;
    }
    chips_ = {
        {u"zap"_s,
         tr("%1 · %2 W %3")
             .arg(QString::fromStdString(s.bench.name), screen_number(in_watts(source.rated_power)),
                  variable ? tr("variable") : tr("fixed")),
         tr("%1, %2\u2013%3 kHz")
             .arg(widths, screen_number(in_kilohertz(source.frequency_min)),
                  screen_number(in_kilohertz(source.frequency_max), 4)),
         std::nullopt, false},
        {u"scan"_s,
         tr("%1 · spot %2 µm")
             .arg(QString::fromStdString(lens.name),
                  screen_number(in_micrometres(waist(lens, source.wavelength).spot), 2)),
         tr("field %1 × %1 mm").arg(screen_number(in_mm(lens.field))), std::nullopt, false},
        {u"layers"_s,
         tr("%1 · %2 mm").arg(QString::fromStdString(workbench_.metal().name), screen_number(in_mm(s.stock.thickness))),
         stock_words(s.stock), s.stock.coating == Coating::unknown ? std::optional(State::unknown) : std::nullopt,
         false},
        {u"move-vertical"_s, focus_headline(workbench_), second, focus.stale() ? State::warn : State::ok,
         focus.stale()},
        {QString(), first, bench, state, false}};
    QStringList spoken;
    for (const Chip& c : chips_)
        spoken << c.first + u", "_s + c.second;
    speak(spoken.join(u"; "_s));
    update();
}

QRectF BenchLine::chip_box(int i) const {
    // The four chips share what is left; at 1280 they are 254 wide, as the columns of Bench below them.
    const double share = std::floor((width() - name_width - link_width) / 4.0);
    if (i < 4)
        return {name_width + i * share, 0, share, static_cast<double>(height())};
    return {name_width + 4 * share, 0, width() - name_width - 4 * share, static_cast<double>(height())};
}

void BenchLine::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme();
    painter.fillRect(rect(), t(Role::surface));
    paint_text(painter, QRectF(12, 10, name_width, 18), tr("Gilded"), TextStyle::head, t(Role::ink));
    paint_text(painter, QRectF(12, 28, name_width, 18), tr("Finch"), TextStyle::head, t(Role::accent_text));
    for (std::size_t i = 0; i < chips_.size(); ++i) {
        const Chip& c = chips_[i];
        const QRectF r = chip_box(static_cast<int>(i));
        if (c.stale) {
            painter.fillRect(r, t(Role::raised));
            painter.fillRect(QRectF(r.left(), 0, r.width(), 4), t(Role::warn));
            painter.fillRect(QRectF(r.left(), r.bottom() - 4, r.width(), 4), t(Role::warn));
        }
        paint_hairline(painter, {r.left() + 0.5, 9}, {r.left() + 0.5, r.bottom() - 9}, t(Role::hair));
        double x = r.left() + 14;
        if (!c.icon.isEmpty()) {
            painter.drawPixmap(QPointF(x, 17),
                               icon_pixmap(c.icon, c.stale ? t(Role::warn) : t(Role::ink2), 22, devicePixelRatioF()));
            x += 34;
        } else if (c.state) {
            paint_state(painter, QRectF(x - 4, 22, 13, 13), *c.state, t);
            x += 18;
        }
        const double room = r.right() - x - (c.state && !c.icon.isEmpty() ? 34 : 6);
        paint_text(painter, QRectF(x, 10, room, 18), c.first, TextStyle::head, c.stale ? t(Role::warn) : t(Role::ink));
        paint_text(painter, QRectF(x, 28, room, 17), c.second, TextStyle::small, t(Role::ink2));
        if (c.state && !c.icon.isEmpty())
            paint_state(painter, QRectF(r.right() - 33, 18, 20, 20), *c.state, t);
    }
    paint_hairline(painter, {0, height() - 0.5}, {static_cast<double>(width()), height() - 0.5}, t(Role::rule));
}

void BenchLine::mousePressEvent(QMouseEvent* event) {
    for (int i = 0; i < static_cast<int>(chips_.size()); ++i)
        if (chip_box(i).contains(event->position()))
            Q_EMIT asked(i);
}

} // namespace finch::app

#include "moc_bench_line.cpp"
