// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/instruments/judgement_board.h"

#include <algorithm>
#include <cmath>
#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QToolTip>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr double inset = 12;

QString elided(const QString& text, TextStyle style, double width) {
    return QFontMetricsF(text_font(style)).elidedText(text, Qt::ElideRight, width);
}

/// The mark with four strokes of what surrounds it, on the neutral mat.
void paint_look(QPainter& painter, const QRectF& box, const JudgedColumn& c, const Theme& t) {
    painter.fillRect(box, t(Role::mat));
    const QRectF inner = box.adjusted(4, 4, -4, -4);
    if (!c.look) {
        paint_text(painter, inner, QObject::tr("no look predicted"), TextStyle::small, ink_on({50, 0, 0}),
                   Qt::AlignCenter);
        return;
    }
    painter.fillRect(inner, to_qcolor(*c.look));
    const QColor around = c.around ? to_qcolor(*c.around) : t(Role::mat);
    for (int i = 0; i < 4; ++i)
        painter.fillRect(
            QRectF(inner.left() + inner.width() * (0.36 + 0.16 * i), inner.top(), 5 + 2 * i, inner.height()), around);
}

void paint_swing(QPainter& painter, const QRectF& box, const JudgedColumn& c, const Theme& t) {
    const QRectF bar(box.left(), box.center().y() - 5, 96, 10);
    painter.fillRect(bar, t(Role::sunken));
    if (c.swing)
        painter.fillRect(QRectF(bar.left(), bar.top(), bar.width() * std::clamp(*c.swing, 0.0, 1.0), bar.height()),
                         t(Role::ink2));
    paint_hairline(painter, {bar.center().x(), bar.top() - 3}, {bar.center().x(), bar.bottom() + 3}, t(Role::ink));
    paint_text(painter, QRectF(bar.right() + 6, box.top(), box.right() - bar.right() - 6, box.height()), c.swing_text,
               c.swing ? TextStyle::value_small : TextStyle::small, c.swing ? t(Role::ink) : t(Role::ink2),
               Qt::AlignRight | Qt::AlignVCenter);
}

} // namespace

void paint_column(QPainter& painter, const QRectF& box, const JudgedColumn& c, const Theme& t) {
    using M = BoardMeasures;
    const double left = box.left() + inset, width = box.width() - 2 * inset;
    if (c.best)
        painter.fillRect(QRectF(box.left(), box.top(), box.width(), 4), t(Role::accent));
    double y = box.top() + 28;
    const double tally_width = text_width(c.tally, TextStyle::value_bold) + 4;
    paint_text(painter, QRectF(left, y, width - tally_width, 20), elided(c.label, TextStyle::head, width - tally_width),
               TextStyle::head, t(Role::ink));
    paint_text(painter, QRectF(left, y, width, 20), c.tally, TextStyle::value_bold,
               c.best ? t(Role::accent_text) : t(Role::ink2), Qt::AlignRight | Qt::AlignVCenter);
    y += 20;
    paint_text(painter, QRectF(left, y, width, 16), elided(c.recipe, TextStyle::small, width), TextStyle::small,
               t(Role::ink2));
    paint_text(painter, QRectF(left, y + 15, width, 16), elided(c.recipe_more, TextStyle::small, width),
               TextStyle::small, t(Role::ink2));
    y += 34;
    paint_look(painter, QRectF(left, y, width, 44), c, t);
    y += 46;
    const double light_width = text_width(c.lightness, TextStyle::value_small) + 6;
    paint_text(painter, QRectF(left, y, width - light_width, 20), elided(c.words, TextStyle::body, width - light_width),
               TextStyle::body, t(Role::ink));
    paint_text(painter, QRectF(left, y, width, 20), c.lightness, TextStyle::value_small, t(Role::ink),
               Qt::AlignRight | Qt::AlignVCenter);
    y = box.top() + M::head;
    for (const JudgedColumn::Row& r : c.rows) {
        paint_hairline(painter, {box.left(), y + 0.5}, {box.right(), y + 0.5}, t(Role::hair));
        if (r.state == State::fail)
            painter.fillRect(QRectF(box.left() + 1, y + 1, 3, M::row - 1), r.must ? t(Role::danger) : t(Role::hatch));
        paint_state(painter, QRectF(left, y + 5, 16, 16), r.state, t);
        const QColor ink = r.state == State::fail && r.must ? t(Role::danger)
                           : r.state == State::unknown      ? t(Role::ink2)
                                                            : t(Role::ink);
        paint_text(painter, QRectF(left + 24, y + 3, width - 24, 20), elided(r.number, TextStyle::value, width - 24),
                   TextStyle::value, ink);
        paint_text(painter, QRectF(left, y + 22, width, 16), elided(r.reason, TextStyle::small, width),
                   TextStyle::small, t(Role::ink2));
        y += M::row;
    }
    paint_hairline(painter, {box.left(), y + 0.5}, {box.right(), y + 0.5}, t(Role::rule));
    paint_swing(painter, QRectF(left, y + 5, width, 18), c, t);
    paint_text(painter, QRectF(left, y + 23, width, 16), elided(c.tolerance, TextStyle::small, width), TextStyle::small,
               t(Role::ink2));
    paint_text(painter, QRectF(left, y + 41, width, 16), elided(c.rests_on, TextStyle::small, width), TextStyle::small,
               t(Role::ink2));
    paint_paragraph(painter, QRectF(left, y + 58, width, 34), c.sentence, TextStyle::small,
                    c.sentence_warns ? t(Role::danger) : t(Role::ink));
    paint_hairline(painter, {box.right() - 0.5, box.top()}, {box.right() - 0.5, box.bottom()}, t(Role::hair));
}

JudgementBoard::JudgementBoard(const QString& name, QWidget* parent)
    : Instrument(name, tr("Processes judged"), parent) {
    speak(tr("nothing weighed yet"));
}

void JudgementBoard::show_columns(std::vector<JudgedColumn> columns) {
    columns_ = std::move(columns);
    QStringList words;
    for (const JudgedColumn& c : columns_)
        words << tr("%1, %2: %3").arg(c.label, c.tally, c.sentence);
    speak(words.join(u" "_s));
    setFixedSize(sizeHint());
    update();
}

QSize JudgementBoard::sizeHint() const {
    return {BoardMeasures::column * std::max(1, static_cast<int>(columns_.size())),
            BoardMeasures::height(columns_.empty() ? 0 : columns_.front().rows.size())};
}

void JudgementBoard::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme();
    for (std::size_t i = 0; i < columns_.size(); ++i) {
        const QRectF box(static_cast<double>(i) * BoardMeasures::column, 0, BoardMeasures::column, height());
        paint_column(painter, box, columns_[i], t);
        const QString& group = columns_[i].group;
        if (!group.isEmpty() && i + 1 < columns_.size() && columns_[i + 1].group == group) {
            const double from = box.left() + 10, to = box.right() + BoardMeasures::column - 10, y = 16.5;
            paint_hairline(painter, {from, y}, {to, y}, t(Role::ink));
            paint_hairline(painter, {from, y}, {from, y + 7}, t(Role::ink));
            paint_hairline(painter, {to, y}, {to, y + 7}, t(Role::ink));
            const double w = text_width(group, TextStyle::head) + 12;
            const QRectF tag((from + to - w) / 2, y - 9, w, 18);
            painter.fillRect(tag, t(Role::surface));
            paint_text(painter, tag, group, TextStyle::head, t(Role::ink), Qt::AlignCenter);
        }
    }
}

bool JudgementBoard::event(QEvent* event) {
    if (event->type() != QEvent::ToolTip)
        return Instrument::event(event);
    const auto* help = static_cast<QHelpEvent*>(event);
    const auto column = static_cast<std::size_t>(std::max(0, help->pos().x() / BoardMeasures::column));
    if (column >= columns_.size())
        return true;
    const JudgedColumn& c = columns_[column];
    const int row = (help->pos().y() - BoardMeasures::head) / BoardMeasures::row;
    QString text = c.label + u": "_s + c.recipe + u", "_s + c.recipe_more + u". "_s + c.sentence;
    if (help->pos().y() >= BoardMeasures::head && row < static_cast<int>(c.rows.size()))
        text = c.rows[static_cast<std::size_t>(row)].number + u". "_s + c.rows[static_cast<std::size_t>(row)].reason;
    QToolTip::showText(help->globalPos(), text, this);
    return true;
}

WishList::WishList(const QString& name, QWidget* parent) : Instrument(name, tr("Targets"), parent) {
    setFocusPolicy(Qt::StrongFocus);
    tell();
    setToolTip(tr("Click a row to edit it, its badge to switch between must and wish; Delete removes it"));
}

void WishList::show_lines(std::vector<WishLine> lines) {
    lines_ = std::move(lines);
    current_ = std::clamp(current_, 0, std::max(0, static_cast<int>(lines_.size()) - 1));
    setFixedHeight(sizeHint().height());
    tell();
    update();
}

QSize WishList::sizeHint() const {
    return {228, BoardMeasures::row * static_cast<int>(lines_.size()) + 1};
}

void WishList::tell() {
    if (lines_.empty())
        return speak(tr("none yet"));
    const WishLine& l = lines_[static_cast<std::size_t>(current_)];
    speak(tr("%1, %2, %3").arg(l.name, l.what, l.must ? tr("must") : tr("wish")));
}

void WishList::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme();
    for (std::size_t i = 0; i < lines_.size(); ++i) {
        const double y = static_cast<double>(i) * BoardMeasures::row;
        if (hasFocus() && static_cast<int>(i) == current_)
            painter.fillRect(QRectF(0, y + 1, width(), BoardMeasures::row - 1), t(Role::raised));
        paint_hairline(painter, {0, y + 0.5}, {static_cast<double>(width()), y + 0.5}, t(Role::hair));
        paint_text(painter, QRectF(2, y + 3, width() - 60.0, 20), lines_[i].name, TextStyle::head, t(Role::ink));
        paint_text(painter, QRectF(2, y + 21, width() - 56.0, 16),
                   elided(lines_[i].what, TextStyle::small, width() - 56.0), TextStyle::small, t(Role::ink2));
        const QRectF badge(width() - 50.0, y + 9, 42, 20);
        if (lines_[i].must) {
            painter.setPen(QPen(t(Role::ink), 1.2));
            painter.setBrush(Qt::NoBrush);
            painter.setRenderHint(QPainter::Antialiasing);
            painter.drawRoundedRect(badge, 3, 3);
            painter.setRenderHint(QPainter::Antialiasing, false);
        }
        paint_text(painter, badge, lines_[i].must ? tr("must") : tr("wish"),
                   lines_[i].must ? TextStyle::head : TextStyle::small, lines_[i].must ? t(Role::ink) : t(Role::ink2),
                   Qt::AlignCenter);
        if (hasFocus() && static_cast<int>(i) == current_)
            painter.fillRect(QRectF(-1, y + 1, 3, BoardMeasures::row - 1), t(Role::accent));
    }
}

void WishList::mousePressEvent(QMouseEvent* event) {
    const int row = static_cast<int>(event->position().y()) / BoardMeasures::row;
    if (row < 0 || row >= static_cast<int>(lines_.size()))
        return;
    current_ = row;
    tell();
    update();
    if (event->position().x() > width() - 56)
        Q_EMIT toggled(row);
    else
        Q_EMIT edit_asked(row);
}

void WishList::keyPressEvent(QKeyEvent* event) {
    if (lines_.empty())
        return Instrument::keyPressEvent(event);
    switch (event->key()) {
    case Qt::Key_Up:
        current_ = std::max(0, current_ - 1);
        break;
    case Qt::Key_Down:
        current_ = std::min(static_cast<int>(lines_.size()) - 1, current_ + 1);
        break;
    case Qt::Key_Space:
        Q_EMIT toggled(current_);
        break;
    case Qt::Key_Return:
    case Qt::Key_Enter:
        Q_EMIT edit_asked(current_);
        break;
    case Qt::Key_Delete:
        Q_EMIT remove_asked(current_);
        break;
    default:
        return Instrument::keyPressEvent(event);
    }
    tell();
    update();
}

WearChart::WearChart(const QString& name, QWidget* parent) : Instrument(name, tr("Wear against rust"), parent) {
    setMinimumSize(320, 260);
}

void WearChart::show_points(std::vector<WearPoint> points, double need_abrasion, double need_corrosion) {
    points_.clear();
    QStringList seen;
    for (WearPoint& p : points) {
        if (seen.contains(p.name))
            continue;
        seen << p.name;
        const auto same = std::find_if(points_.begin(), points_.end(), [&](const WearPoint& q) {
            return q.abrasion == p.abrasion && q.corrosion == p.corrosion;
        });
        if (same == points_.end())
            points_.push_back(std::move(p));
        else
            same->name += u"\n"_s + p.name;
    }
    need_abrasion_ = need_abrasion;
    need_corrosion_ = need_corrosion;
    QStringList words;
    for (const WearPoint& p : points_)
        words << tr("%1: wear %2, rust %3")
                     .arg(QString(p.name).replace(u'\n', u", "_s), screen_number(p.abrasion, 2),
                          screen_number(p.corrosion, 2));
    speak(words.join(u"; "_s));
    update();
}

void WearChart::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme();
    const QRectF f = QRectF(rect()).adjusted(44, 8, -12, -40);
    painter.fillRect(f, t(Role::field));
    const auto at = [&](double x, double y) {
        return QPointF(f.left() + (x + 0.3) / 4.6 * f.width(), f.bottom() - (y + 0.3) / 4.6 * f.height());
    };
    for (int i = 0; i <= 4; ++i) {
        paint_hairline(painter, at(i, -0.3), at(i, 4.3), t(Role::hair));
        paint_hairline(painter, at(-0.3, i), at(4.3, i), t(Role::hair));
        paint_text(painter, QRectF(at(i, -0.3).x() - 20, f.bottom() + 4, 40, 16), QString::number(i),
                   TextStyle::value_small, t(Role::ink2), Qt::AlignCenter);
        paint_text(painter, QRectF(f.left() - 24, at(0, i).y() - 8, 18, 16), QString::number(i), TextStyle::value_small,
                   t(Role::ink2), Qt::AlignRight | Qt::AlignVCenter);
    }
    // What is asked for: the corner that answers both.
    if (need_abrasion_ > 0 || need_corrosion_ > 0) {
        const QRectF good(at(need_abrasion_, 4.3), at(4.3, need_corrosion_));
        paint_hatch(painter, good, t(Role::hatch), 9);
        paint_text(painter, good.adjusted(6, 4, -4, -4), tr("asked for"), TextStyle::small, t(Role::ink2),
                   Qt::AlignRight | Qt::AlignTop);
    }
    painter.setRenderHint(QPainter::Antialiasing);
    for (const WearPoint& p : points_) {
        const QPointF c = at(p.abrasion, p.corrosion);
        painter.setPen(QPen(t(Role::tick), 1, Qt::DashLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawEllipse(c, f.width() / 4.6 * 0.5, f.height() / 4.6 * 0.5);
        painter.setPen(QPen(t(Role::ink), 1.5));
        painter.setBrush(t(Role::accent));
        painter.drawEllipse(c, 5, 5);
    }
    // Names last, above their dots and off each other: a list of names hangs from each.
    std::vector<QRectF> taken;
    for (const WearPoint& p : points_) {
        const QPointF c = at(p.abrasion, p.corrosion);
        const QStringList names = p.name.split(u'\n');
        const double high = 15.0 * static_cast<double>(names.size());
        double wide = 0;
        for (const QString& name : names)
            wide = std::max(wide, text_width(name, TextStyle::small));
        QRectF box(std::min(c.x() - 6, f.right() - wide - 6), c.y() + 9, wide + 4, high);
        while (std::any_of(taken.begin(), taken.end(), [&](const QRectF& o) { return o.intersects(box); }))
            box.translate(0, -(high + 24));
        taken.push_back(box);
        for (int i = 0; i < names.size(); ++i)
            paint_text(painter, QRectF(box.left(), box.top() + 15.0 * i, wide + 4, 15), names[i], TextStyle::small,
                       t(Role::ink));
    }
    painter.setRenderHint(QPainter::Antialiasing, false);
    paint_text(painter, QRectF(f.left(), f.bottom() + 20, f.width(), 18), tr("stands rubbing, class"), TextStyle::small,
               t(Role::ink2), Qt::AlignCenter);
    painter.save();
    painter.translate(12, f.center().y());
    painter.rotate(-90);
    paint_text(painter, QRectF(-100, -9, 200, 18), tr("keeps from rust, class"), TextStyle::small, t(Role::ink2),
               Qt::AlignCenter);
    painter.restore();
}

} // namespace finch::app

#include "moc_judgement_board.cpp"
