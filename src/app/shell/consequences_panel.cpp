// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/consequences_panel.h"

#include <algorithm>
#include <cmath>
#include <QFrame>
#include <QGuiApplication>
#include <QKeyEvent>
#include <QLabel>
#include <QMouseEvent>
#include <QScreen>
#include <QVBoxLayout>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr int row = 22;
constexpr double pad = 16;
// From top to bottom; all of it fits beside a window of 800 px.
constexpr int ladder_height = 224;
constexpr int stamp_head = 272;
constexpr int look_head = 366;
constexpr int swatch_height = 128, flat_height = 66; ///< with the scale of tilts, and without

} // namespace

NumberList::NumberList(QWidget* parent) : Instrument(u"numbers"_s, tr("Consequences in numbers"), parent) {
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::PointingHandCursor);
}

void NumberList::show_lines(std::vector<NumberLine> lines) {
    lines_ = std::move(lines);
    QStringList spoken;
    for (const NumberLine& l : lines_)
        spoken << l.name + u" "_s + l.value + u" "_s + l.unit;
    speak(spoken.join(u"; "_s));
    setToolTip(tr("Click a number to see why"));
    updateGeometry();
    update();
}

QSize NumberList::sizeHint() const {
    return {240, static_cast<int>(lines_.size()) * row};
}

void NumberList::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme();
    for (std::size_t i = 0; i < lines_.size(); ++i) {
        const NumberLine& l = lines_[i];
        const QRectF r(0, static_cast<double>(i) * row, width(), row);
        paint_hairline(painter, r.topLeft(), r.topRight(), t(Role::hair));
        paint_text(painter, r.adjusted(0, 0, -90, 0), l.name, TextStyle::body, t(Role::ink2));
        paint_value(painter, r.adjusted(90, 0, -24, 0), l.value, l.unit, t, t(Role::ink));
        if (l.state)
            paint_state(painter, QRectF(r.right() - 15, r.center().y() - 7, 14, 14), *l.state, t);
        if (hasFocus() && static_cast<int>(i) == current_) {
            painter.setPen(QPen(t(Role::accent), 2));
            painter.setBrush(Qt::NoBrush);
            painter.drawRoundedRect(r.adjusted(-1, 1, 0, -1), 3, 3);
        }
    }
}

void NumberList::mousePressEvent(QMouseEvent* event) {
    const auto i = static_cast<std::size_t>(std::max(0.0, event->position().y()) / row);
    if (i < lines_.size()) {
        current_ = static_cast<int>(i);
        Q_EMIT asked(lines_[i].why, mapToGlobal(QPoint(0, static_cast<int>(i) * row)));
    }
}

void NumberList::keyPressEvent(QKeyEvent* event) {
    const int last = static_cast<int>(lines_.size()) - 1;
    if (event->key() == Qt::Key_Down || event->key() == Qt::Key_Up) {
        current_ = std::clamp(current_ + (event->key() == Qt::Key_Down ? 1 : -1), 0, std::max(0, last));
        update();
    } else if ((event->key() == Qt::Key_Return || event->key() == Qt::Key_Space) && current_ <= last && last >= 0) {
        Q_EMIT asked(lines_[static_cast<std::size_t>(current_)].why, mapToGlobal(QPoint(0, current_ * row)));
    } else {
        QWidget::keyPressEvent(event);
    }
}

void show_explanation(QWidget* parent, const Explanation& e, const QPoint& global) {
    auto* frame = new QFrame(parent, Qt::Popup);
    frame->setObjectName(u"why"_s);
    frame->setAttribute(Qt::WA_DeleteOnClose);
    const Theme& t = theme_of(parent);
    frame->setStyleSheet(
        u"QFrame#why { background: %1; border: 1px solid %2; border-radius: 4px; } QLabel { background: transparent; color: %3; }"_s
            .arg(t(Role::raised).name(), t(Role::rule).name(), t(Role::ink).name()));
    auto* box = new QVBoxLayout(frame);
    box->setContentsMargins(14, 10, 14, 12);
    box->setSpacing(4);
    const auto line = [&](const QString& name, const std::string& text, bool mono, const QColor& colour) {
        if (text.empty())
            return;
        auto* label = new QLabel(QString::fromStdString(text), frame);
        label->setObjectName(name);
        label->setWordWrap(true);
        label->setFont(text_font(mono ? TextStyle::value_small : TextStyle::body));
        QPalette p = label->palette();
        p.setColor(QPalette::WindowText, colour);
        label->setPalette(p);
        label->setFixedWidth(300);
        box->addWidget(label);
    };
    auto* head = new QLabel(QString::fromStdString(e.name + "   " + e.result), frame);
    head->setFont(text_font(TextStyle::section));
    head->setObjectName(u"why_head"_s);
    box->addWidget(head);
    line(u"why_formula"_s, e.formula, false, t(Role::ink));
    line(u"why_values"_s, e.put_in, true, t(Role::ink2));
    line(u"why_rests"_s, e.rests_on.empty() ? std::string() : "Rests on: " + e.rests_on, false, t(Role::ink2));
    frame->setAccessibleName(QString::fromStdString(e.name));
    frame->adjustSize();
    const QRect screen = parent->screen()->availableGeometry();
    QPoint at = global - QPoint(frame->width() + 8, 20);
    at.setX(std::clamp(at.x(), screen.left(), std::max(screen.left(), screen.right() - frame->width())));
    at.setY(std::clamp(at.y(), screen.top(), std::max(screen.top(), screen.bottom() - frame->height())));
    frame->move(at);
    frame->show();
}

ConsequencesPanel::ConsequencesPanel(Workbench& workbench, QWidget* parent)
    : QWidget(parent), workbench_(workbench), dose_(new Ladder(u"ladder_dose"_s, this)),
      fluence_(new Ladder(u"ladder_fluence"_s, this)), stamp_(new PulseStamp(u"pulse_stamp"_s, this)),
      swatch_(new Swatch(u"swatch"_s, this)), numbers_(new NumberList(this)) {
    setObjectName(u"consequences"_s);
    setAccessibleName(tr("Consequences"));
    connect(dose_, &Ladder::moved, this, [this](double dose) {
        // The dose follows the scan speed: slower is more.
        const double now = view_.dose.value;
        const KnobLimits limits = knob_limits(workbench_.bench(), Knob::scan_speed);
        const double speed = in_mm_per_second(workbench_.draft().recipe.setting.scan_speed) * now / dose;
        workbench_.set_knob(Knob::scan_speed, std::clamp(friendly(speed, 0.004 * speed), limits.low, limits.high));
    });
    connect(fluence_, &Ladder::moved, this, [this](double fluence) {
        const double power = workbench_.draft().recipe.setting.power_percent * fluence / view_.fluence.value;
        workbench_.set_knob(Knob::power, std::clamp(friendly(power, 0.004 * power), 1.0, 100.0));
    });
    connect(swatch_, &Swatch::tilted, this, [this](int index) {
        tilt_ = index;
        refresh();
    });
    connect(numbers_, &NumberList::asked, this, &ConsequencesPanel::explain_quantity);
    connect(dose_, &Ladder::asked, this,
            [this] { explain_quantity(Quantity::areal_dose, dose_->mapToGlobal(QPoint(0, 0))); });
    connect(fluence_, &Ladder::asked, this,
            [this] { explain_quantity(Quantity::peak_fluence, fluence_->mapToGlobal(QPoint(0, 0))); });
    connect(stamp_, &PulseStamp::asked, this,
            [this] { explain_quantity(Quantity::overlap, stamp_->mapToGlobal(QPoint(0, 0))); });
    connect(&workbench_, &Workbench::changed, this, &ConsequencesPanel::refresh);
    set_folded(false);
}

void ConsequencesPanel::set_folded(bool folded) {
    folded_ = folded;
    setFixedWidth(folded ? 24 : 272);
    for (QWidget* w : std::initializer_list<QWidget*>{dose_, fluence_, stamp_, swatch_, numbers_})
        w->setVisible(!folded);
    refresh();
}

void ConsequencesPanel::refresh() {
    if (folded_)
        return update();
    view_ = consequences_view(workbench_, tilt_);
    for (QWidget* w : std::initializer_list<QWidget*>{dose_, fluence_, stamp_, swatch_, numbers_})
        w->setVisible(view_.computed);
    if (view_.computed) {
        dose_->show_view(view_.dose);
        fluence_->show_view(view_.fluence);
        stamp_->show_view(view_.stamp);
        swatch_->show_view(view_.swatch);
        numbers_->show_lines(view_.numbers);
    }
    arrange();
    update();
}

int ConsequencesPanel::numbers_top() const {
    return look_head + 26 + (view_.swatch.valid ? swatch_height : flat_height);
}

void ConsequencesPanel::arrange() {
    const int left = static_cast<int>(pad);
    const int inner = width() - 2 * left;
    dose_->setGeometry(left, 40, 116, ladder_height);
    fluence_->setGeometry(left + inner - 116, 40, 116, ladder_height);
    stamp_->setGeometry(left, stamp_head + 24, inner, 62);
    swatch_->setGeometry(left, look_head + 24, inner, view_.swatch.valid ? swatch_height : flat_height);
    numbers_->setGeometry(left, numbers_top(), inner, numbers_->sizeHint().height());
}

void ConsequencesPanel::resizeEvent(QResizeEvent*) {
    arrange();
}

void ConsequencesPanel::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme_of(this);
    painter.fillRect(rect(), folded_ ? t(Role::window) : t(Role::surface));
    paint_hairline(painter, {0.5, 0}, {0.5, static_cast<double>(height())}, t(Role::rule));
    if (folded_) {
        painter.drawPixmap(4, 10, icon_pixmap(u"chevron-left"_s, t(Role::ink2), 16, devicePixelRatioF()));
        painter.save();
        painter.translate(4, 130);
        painter.rotate(-90);
        paint_text(painter, QRectF(0, 0, 100, 16), tr("Consequences"), TextStyle::small, t(Role::ink2),
                   Qt::AlignLeft | Qt::AlignVCenter);
        paint_text(painter, QRectF(-40, 0, 30, 16), u"F9"_s, TextStyle::value_small, t(Role::ink3),
                   Qt::AlignLeft | Qt::AlignVCenter);
        painter.restore();
        return;
    }
    const double right = width() - pad;
    const auto head = [&](double y, const QString& left_text, const QString& right_text) {
        paint_text(painter, QRectF(pad, y, 150, 20), left_text, TextStyle::head, t(Role::ink));
        paint_text(painter, QRectF(pad + 90, y, right - pad - 90, 20), right_text, TextStyle::small, t(Role::ink2),
                   Qt::AlignRight | Qt::AlignVCenter);
    };
    head(10, tr("Consequences"), {});
    paint_text(painter, QRectF(pad + 110, 10, right - pad - 132, 20), view_.subject, TextStyle::small, t(Role::ink2),
               Qt::AlignRight | Qt::AlignVCenter);
    painter.drawPixmap(static_cast<int>(right - 16), 12,
                       icon_pixmap(u"chevron-right"_s, t(Role::ink2), 16, devicePixelRatioF()));
    paint_hairline(painter, {pad, 34.5}, {right, 34.5}, t(Role::rule));
    if (!view_.computed) {
        paint_state(painter, QRectF(pad, 52, 18, 18), State::fail, t);
        painter.setFont(text_font(TextStyle::body));
        painter.setPen(t(Role::ink));
        painter.drawText(QRectF(pad, 78, right - pad, 200), Qt::TextWordWrap, view_.fault);
        return;
    }
    paint_hairline(painter, {pad, stamp_head - 4.5}, {right, stamp_head - 4.5}, t(Role::hair));
    head(stamp_head, tr("Pulse stamp"), view_.overlap);
    paint_hairline(painter, {pad, look_head - 4.5}, {right, look_head - 4.5}, t(Role::hair));
    head(look_head, tr("Look at %1° tilt").arg(5 * tilt_), view_.look);
    const double foot = numbers_top() + numbers_->sizeHint().height() + 3;
    if (foot + 16 < height())
        paint_text(painter, QRectF(pad, foot, right - pad, 16), tr("Rests on %1").arg(view_.rests_on), TextStyle::small,
                   t(Role::ink3));
}

void ConsequencesPanel::mousePressEvent(QMouseEvent* event) {
    if (folded_ || event->position().y() < 34)
        Q_EMIT fold_asked();
    else if (std::abs(event->position().y() - (look_head + 10)) < 14)
        explain_quantity(Quantity::colour, mapToGlobal(QPoint(0, look_head)));
}

void ConsequencesPanel::explain_quantity(Quantity quantity, const QPoint& global) {
    const auto& p = workbench_.prediction();
    if (!p)
        return;
    const Draft& d = workbench_.draft();
    show_explanation(this, explain(quantity, workbench_.scene(), d.recipe, d.fill, *p), global);
}

} // namespace finch::app

#include "moc_consequences_panel.cpp"
