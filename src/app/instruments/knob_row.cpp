// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/instruments/knob_row.h"

#include "app/session/text.h"
#include "recipe/check.h"

#include "quantity/format.h"

#include <algorithm>
#include <cmath>
#include <QKeyEvent>
#include <QLineEdit>
#include <QMouseEvent>
#include <QPainterPath>
#include <QStyle>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

double position(const KnobView& v, double value) {
    const double t = v.log_scale ? std::log(std::max(value, v.low) / v.low) / std::log(v.high / v.low)
                                 : (value - v.low) / (v.high - v.low);
    return std::clamp(t, 0.0, 1.0);
}

double value_at(const KnobView& v, double t) {
    t = std::clamp(t, 0.0, 1.0);
    return v.log_scale ? v.low * std::pow(v.high / v.low, t) : v.low + t * (v.high - v.low);
}

void paint_effect_arrow(QPainter& painter, const QRectF& box, const KnobView& v, const Theme& theme) {
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(theme(Role::ink), 2, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    const QPointF c = box.center();
    if (!(std::abs(v.delta_l) >= 0.5)) {
        painter.drawLine(c - QPointF(5, 0), c + QPointF(5, 0));
        return;
    }
    const double half = std::clamp(4 + std::abs(v.delta_l) * 0.7, 5.0, box.height() / 2 - 4);
    const double dir = v.delta_l > 0 ? -1 : 1; // lighter points up
    const QPointF tip = c + QPointF(0, dir * half), tail = c - QPointF(0, dir * half);
    painter.drawLine(tail, tip);
    painter.drawPolyline(QPolygonF{tip + QPointF(-4, -dir * 4.5), tip, tip + QPointF(4, -dir * 4.5)});
}

} // namespace

void paint_knob_track(QPainter& painter, const QRectF& box, const KnobView& v, const Theme& theme) {
    const double y = std::round(box.center().y()) + 0.5;
    const auto x_of = [&](double value) { return box.left() + position(v, value) * box.width(); };
    paint_hairline(painter, {box.left(), y}, {box.right(), y}, theme(Role::tick));
    const auto tick = [&](double at, double length) {
        paint_hairline(painter, {x_of(at), y}, {x_of(at), y + length}, theme(Role::tick));
    };
    if (v.log_scale) {
        for (double decade = std::pow(10, std::floor(std::log10(v.low))); decade <= v.high; decade *= 10)
            for (const int n : {1, 2, 5})
                if (n * decade >= v.low * 0.999 && n * decade <= v.high * 1.001)
                    tick(n * decade, n == 1 ? 7 : 4);
    } else {
        for (int i = 0; i <= 10; ++i)
            tick(v.low + (v.high - v.low) * i / 10, i % 5 == 0 ? 7 : 4);
    }
    for (const double end : {0.0, 1.0}) {
        const double x = end > 0 ? box.right() : box.left();
        painter.fillRect(QRectF(x - 1, y - 6, 2, 12), theme(Role::ink));
    }
    const QFont small = text_font(TextStyle::value_small);
    painter.setFont(small);
    paint_text(painter, QRectF(box.left() - 4, y + 7, 60, 14), screen_number(v.low), TextStyle::value_small,
               theme(Role::ink3), Qt::AlignLeft | Qt::AlignTop);
    paint_text(painter, QRectF(box.right() - 56, y + 7, 60, 14), screen_number(v.high), TextStyle::value_small,
               theme(Role::ink3), Qt::AlignRight | Qt::AlignTop);
    if (v.keeps) {
        const double a = x_of(v.keeps->first), b = std::max(x_of(v.keeps->second), a + 4);
        painter.fillRect(QRectF(a, y - 13, b - a, 4), theme(Role::ink));
    }
    if (v.saved)
        paint_pointer(painter, {x_of(*v.saved), y}, 8, 0, theme(Role::surface), theme(Role::ink));
    paint_pointer(painter, {x_of(v.value), y}, 9, 0, v.enabled ? theme(Role::accent) : theme(Role::sunken),
                  theme(Role::ink));
}

KnobRow::KnobRow(Knob knob, QWidget* parent)
    : Instrument(u"knob_"_s + from_utf8(traits(knob).key), from_utf8(traits(knob).label), parent),
      field_(new QLineEdit(this)) {
    view_.knob = knob;
    field_->setObjectName(u"field_"_s + from_utf8(traits(knob).key));
    field_->setAccessibleName(from_utf8(traits(knob).label));
    field_->setProperty("mono", true);
    field_->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    field_->installEventFilter(this);
    setMinimumHeight(44);
    connect(field_, &QLineEdit::editingFinished, this, &KnobRow::commit);
}

void KnobRow::set_context(std::optional<double> maximum, std::optional<double> spot_mm) {
    maximum_ = maximum;
    spot_mm_ = spot_mm;
}

void KnobRow::show_view(const KnobView& view) {
    view_ = view;
    const KnobTraits& t = traits(view.knob);
    const QString unit = t.unit == "deg" ? u"\u00b0"_s : from_utf8(t.unit);
    if (!field_->hasFocus() || !field_->isModified()) {
        field_->setText(QString::fromStdString(format_number(view.value, 5)) +
                        (unit.isEmpty() || unit == u"\u00b0"_s ? unit : u" "_s + unit));
        field_->setModified(false);
        if (field_->property("wrong").toBool()) {
            field_->setProperty("wrong", false);
            field_->style()->polish(field_);
        }
    }
    field_->setEnabled(view.enabled);
    const QString text =
        tr("%1 %2, %3; %4 makes it %5").arg(screen_number(view.value, 4), unit, view.derived, view.change, view.effect);
    speak(text);
    field_->setAccessibleDescription(text);
    update();
}

QRectF KnobRow::track() const {
    return {width() - 198.0, 0.0, 98.0, 34.0};
}

void KnobRow::resizeEvent(QResizeEvent*) {
    field_->setGeometry(width() - 300, (height() - 30) / 2, 92, 30);
}

void KnobRow::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme();
    const double name_width = width() - 300.0 - 6;
    paint_text(painter, QRectF(0, 3, name_width, 20), from_utf8(traits(view_.knob).label), TextStyle::head,
               view_.enabled ? t(Role::ink) : t(Role::ink3));
    paint_text(painter, QRectF(0, 22, name_width, 18), view_.derived, TextStyle::small, t(Role::ink2));
    paint_knob_track(painter, track(), view_, t);
    paint_effect_arrow(painter, QRectF(width() - 96.0, 2, 20, 40), view_, t);
    paint_text(painter, QRectF(width() - 76.0, 3, 76, 18), view_.change, TextStyle::value_small, t(Role::ink),
               Qt::AlignRight | Qt::AlignVCenter);
    paint_text(painter, QRectF(width() - 76.0, 21, 76, 18), view_.effect, TextStyle::small, t(Role::ink2),
               Qt::AlignRight | Qt::AlignVCenter);
    paint_hairline(painter, {0, height() - 0.5}, {static_cast<double>(width()), height() - 0.5}, t(Role::hair));
}

void KnobRow::move_to(double value) {
    // The rows are refreshed a blink later; a second key within it must step from here, not from the old value.
    view_.value = value;
    update();
    Q_EMIT moved(value);
}

void KnobRow::drag(double x) {
    if (!view_.enabled)
        return;
    const QRectF r = track();
    const double v = value_at(view_, (x - r.left()) / r.width());
    // A drag lands on round numbers: the arrow-key step at this place.
    const double grain = knob_step(view_.knob, v);
    move_to(std::clamp(std::round(v / grain) * grain, view_.low, view_.high));
}

void KnobRow::mousePressEvent(QMouseEvent* event) {
    if (track().adjusted(-6, 0, 6, 10).contains(event->position()))
        drag(event->position().x());
}

void KnobRow::mouseMoveEvent(QMouseEvent* event) {
    if (event->buttons() & Qt::LeftButton)
        drag(event->position().x());
}

void KnobRow::mouseDoubleClickEvent(QMouseEvent* event) {
    if (view_.saved && track().adjusted(-6, 0, 6, 10).contains(event->position()))
        move_to(*view_.saved);
}

void KnobRow::step(int direction, Qt::KeyboardModifiers modifiers) {
    const double size = knob_step(view_.knob, view_.value) * (modifiers & Qt::ShiftModifier ? 10
                                                              : modifiers & Qt::AltModifier ? 0.1
                                                                                            : 1);
    const double whole = traits(view_.knob).whole ? std::max(1.0, std::round(size)) : size;
    move_to(std::clamp(view_.value + direction * whole, view_.low, view_.high));
}

bool KnobRow::eventFilter(QObject* watched, QEvent* event) {
    if (watched == field_ && event->type() == QEvent::KeyPress) {
        const auto* key = static_cast<QKeyEvent*>(event);
        if (key->key() == Qt::Key_Up || key->key() == Qt::Key_Down) {
            field_->setModified(false);
            step(key->key() == Qt::Key_Up ? 1 : -1, key->modifiers());
            return true;
        }
        if (key->key() == Qt::Key_Escape) {
            field_->setModified(false);
            show_view(view_);
            field_->selectAll();
            return true;
        }
    }
    return QWidget::eventFilter(watched, event);
}

void KnobRow::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Up || event->key() == Qt::Key_Down)
        step(event->key() == Qt::Key_Up ? 1 : -1, event->modifiers());
    else
        QWidget::keyPressEvent(event);
}

void KnobRow::commit() {
    if (!field_->isModified())
        return;
    const KnobTraits& t = traits(view_.knob);
    ParseContext context;
    context.default_unit = std::string(t.unit);
    context.low = view_.low;
    context.high = view_.high;
    context.maximum = maximum_;
    context.spot_mm = spot_mm_;
    // A power may be typed in watts: the source's rated power turns it into percent.
    const std::string text = field_->text().toStdString();
    auto parsed = parse_quantity(text, t.kind, context);
    if (!parsed && view_.knob == Knob::power && maximum_) {
        ParseContext watts;
        watts.maximum = maximum_;
        if (const auto w = parse_quantity(text, QuantityKind::power, watts); w && w->value <= *maximum_) {
            parsed = *w;
            parsed->value = 100 * w->value / *maximum_;
        }
    }
    const bool wrong = !parsed;
    if (field_->property("wrong").toBool() != wrong) {
        field_->setProperty("wrong", wrong);
        field_->style()->polish(field_);
    }
    if (wrong) {
        const QString why = QString::fromStdString(sentence(parsed.error()));
        field_->setToolTip(why);
        Q_EMIT complained(from_utf8(t.label) + u": "_s + why);
        return;
    }
    field_->setToolTip({});
    field_->setModified(false);
    if (const auto doubt = slip(view_.knob, view_.value, parsed->value))
        Q_EMIT warned(QString::fromStdString(doubt->message + " " + doubt->remedy));
    move_to(parsed->value);
}

} // namespace finch::app

#include "moc_knob_row.cpp"
