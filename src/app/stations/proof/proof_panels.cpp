// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/proof/proof_panels.h"

#include "app/instruments/swatch.h"
#include "quantity/format.h"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QTextDocument>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr double thumb = 58, words_width = 122, arrow = 24;
constexpr double round_width = thumb + 8 + words_width;
constexpr double list_top = 128, list_row = 28;

/// One decimal below ten, none above: differences are not known better.
QString fixed(double v) {
    return v >= 9.95 ? QString::number(std::lround(v)) : QString::number(v, 'f', 1);
}

void paint_thumb(QPainter& painter, const QRectF& box, const RoundView& r, const Theme& theme) {
    painter.fillRect(box, theme(Role::mat));
    const double w = (box.width() - 6) / static_cast<double>(std::max<std::size_t>(1, r.columns)),
                 h = (box.height() - 6) / static_cast<double>(std::max<std::size_t>(1, r.rows));
    for (std::size_t i = 0; i < r.colours.size(); ++i) {
        const std::size_t row = i / r.columns;
        const QRectF cell(box.left() + 3 + static_cast<double>(i % r.columns) * w,
                          box.top() + 3 + static_cast<double>(row) * h, w - 1, h - 1);
        if (r.colours[i])
            painter.fillRect(cell, to_qcolor(*r.colours[i]));
    }
    if (!r.measured)
        paint_hatch(painter, box.adjusted(3, 3, -3, -3), theme(Role::mat), 5);
}

/// A text that fits into a box when wrapped: whole, or its first sentence, or as many of its words as do.
QString fitting(const QString& text, const QFontMetrics& font, int width, int height) {
    const auto fits = [&](const QString& t) {
        return font.boundingRect(QRect(0, 0, width, 10000), Qt::TextWordWrap, t).height() <= height;
    };
    if (fits(text))
        return text;
    const QString first = text.section(u". "_s, 0, 0);
    if (first != text && fits(first + u'.'))
        return first + u'.';
    QStringList words = text.split(u' ');
    while (words.size() > 1 && !fits(words.join(u' ') + u" …"_s))
        words.removeLast();
    return words.join(u' ') + u" …"_s;
}

void paint_wrapped(QPainter& painter, const QRectF& box, const QString& html, const Theme& theme) {
    QTextDocument doc;
    doc.setDefaultFont(text_font(TextStyle::body));
    doc.setDocumentMargin(0);
    doc.setDefaultStyleSheet(u"body { color: %1; } b { font-weight: 600; }"_s.arg(theme(Role::ink).name()));
    doc.setHtml(u"<body>"_s + html + u"</body>"_s);
    doc.setTextWidth(box.width());
    painter.save();
    painter.translate(box.topLeft());
    painter.setClipRect(QRectF(0, 0, box.width(), box.height()));
    doc.drawContents(&painter);
    painter.restore();
}

} // namespace

RoundStrip::RoundStrip(QWidget* parent) : Instrument(u"round_strip"_s, tr("Rounds"), parent) {
    setFixedHeight(86);
}

void RoundStrip::show_rounds(std::vector<RoundView> rounds) {
    rounds_ = std::move(rounds);
    QStringList spoken;
    for (const RoundView& r : rounds_)
        spoken << r.title + u", "_s + r.axes + u", "_s + r.cost + u", "_s + r.best;
    speak(spoken.join(u"; "_s));
    update();
}

std::size_t RoundStrip::first_shown() const {
    // The newest three fit; older rounds are in the logbook.
    return rounds_.size() > 3 ? rounds_.size() - 3 : 0;
}

double RoundStrip::reason_width() const {
    const auto n = static_cast<double>(rounds_.size() - first_shown());
    return n < 2 ? 0 : std::min(260.0, (width() - n * round_width) / (n - 1) - 2 * arrow);
}

void RoundStrip::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme();
    if (rounds_.empty()) {
        paint_text(painter, QRectF(0, 10, width(), 20),
                   tr("No sheet yet. Plan one: choose a target, two knobs and their ranges."), TextStyle::body,
                   t(Role::ink2));
        return;
    }
    double x = 0;
    for (std::size_t i = first_shown(); i < rounds_.size(); ++i) {
        const RoundView& r = rounds_[i];
        if (r.current)
            painter.fillRect(QRectF(x, 4, 3, 76), t(Role::accent));
        const double name = paint_text(painter, QRectF(x + 8, 4, 90, 18), r.title, TextStyle::head, t(Role::ink));
        paint_text(painter, QRectF(x + 14 + name, 4, 80, 18), r.note, TextStyle::small,
                   r.current ? t(Role::accent_text) : t(Role::ink2));
        if (r.proposed) {
            painter.setPen(QPen(t(Role::rule), 1, Qt::DashLine));
            painter.setBrush(Qt::NoBrush);
            painter.drawRect(QRectF(x + 8.5, 25.5, thumb - 1, 51));
        } else
            paint_thumb(painter, QRectF(x + 8, 25, thumb, 52), r, t);
        const double tx = x + 8 + thumb + 8;
        paint_text(painter, QRectF(tx, 25, words_width - 8, 17), r.axes, TextStyle::small, t(Role::ink2));
        paint_text(painter, QRectF(tx, 42, words_width - 8, 17), r.cost, TextStyle::small, t(Role::ink2));
        paint_text(painter, QRectF(tx, 59, words_width - 8, 17), r.best, TextStyle::small, t(Role::ink));
        x += round_width;
        if (i + 1 < rounds_.size()) {
            const double w = reason_width();
            painter.setPen(QPen(t(Role::ink2), 1.4));
            painter.setRenderHint(QPainter::Antialiasing);
            for (const double ax : {x, x + arrow + w}) {
                painter.drawLine(QPointF(ax + 4, 50), QPointF(ax + 18, 50));
                painter.drawPolyline(QPolygonF{QPointF(ax + 13, 45), QPointF(ax + 18, 50), QPointF(ax + 13, 55)});
            }
            painter.setFont(text_font(TextStyle::small));
            painter.setPen(t(Role::ink));
            painter.drawText(QRectF(x + arrow, 4, w, 80), Qt::TextWordWrap | Qt::AlignVCenter,
                             fitting(r.reason, painter.fontMetrics(), static_cast<int>(w), 80));
            x += w + 2 * arrow;
        }
    }
    paint_hairline(painter, {0, height() - 0.5}, {static_cast<double>(width()), height() - 0.5}, t(Role::hair));
}

void RoundStrip::mousePressEvent(QMouseEvent* event) {
    double x = 0;
    for (std::size_t i = first_shown(); i < rounds_.size(); ++i) {
        if (event->position().x() >= x && event->position().x() < x + round_width && !rounds_[i].proposed)
            Q_EMIT asked(rounds_[i].number);
        x += round_width + reason_width() + 2 * arrow;
    }
}

RankingView ranking_view(const Workbench& w, const std::vector<RankedCell>& ranking) {
    RankingView v;
    const Draft& d = w.draft();
    v.target_name = QString::fromStdString(d.target.name);
    v.accept = QObject::tr("accept ΔE₀₀ ≤ %1").arg(screen_number(d.target.accept_de, 2));
    if (!d.target.depth)
        v.target = d.target.lab;
    const Round* r = w.round();
    if (r != nullptr && d.cell) {
        v.chosen_name = QString::fromStdString(cell_name(r->sheet, *d.cell));
        if (r->reading && r->reading->cells[*d.cell].state == CellState::read)
            v.chosen = r->reading->cells[*d.cell].lab;
        else if (const auto& p = w.first_forecast().cells.at(*d.cell).prediction; p && p->mark.look.valid)
            v.chosen = p->lab();
        v.chosen_name += r->reading ? QObject::tr(" measured") : QObject::tr(" predicted");
    }
    if (d.target.depth) {
        v.accept = QObject::tr("accept ± %1").arg(um_text(d.target.depth->within_um));
        v.depth = DepthMark{d.target.depth->um, d.target.depth->within_um, {}, {}};
        if (d.cell && wants_depths(d, r->sheet)) {
            if (r->reading)
                v.depth->measured = r->reading->cells[*d.cell].depth_um;
            if (const auto& p = w.first_forecast().cells.at(*d.cell).prediction; p && p->removal)
                v.depth->predicted = p->depth_um();
            v.chosen_name = QString::fromStdString(cell_name(r->sheet, *d.cell)) +
                            (v.depth->measured ? QObject::tr(" measured") : QObject::tr(" predicted"));
        }
    }
    std::size_t passing = 0;
    for (const RankedCell& c : ranking) {
        v.rows.push_back({c.cell, QString::fromStdString(cell_name(r->sheet, c.cell)), r->reading->cells[c.cell].lab,
                          c.miss, c.unevenness, c.time_s, r->reading->cells[c.cell].depth_um.value_or(0), c.passes,
                          d.cell && *d.cell == c.cell});
        passing += c.passes ? 1 : 0;
    }
    const auto off = [&](const RankingView::Row& row) {
        return v.depth ? um_text(row.off) : screen_number(row.off, 2);
    };
    if (v.rows.empty())
        v.verdict = r == nullptr ? QString()
                    : d.target.depth && !wants_depths(d, r->sheet)
                        ? QObject::tr("The target is a depth, and these cells have none.")
                        : QObject::tr("Cells are ranked once the sheet is measured.");
    else if (passing == 0)
        v.verdict = QObject::tr("<b>No cell passes.</b> The best differs by %1.").arg(off(v.rows.front()));
    else if (passing < v.rows.size())
        v.verdict = QObject::tr("<b>%1 of %2 cells pass.</b> The next differs by %3.")
                        .arg(passing)
                        .arg(v.rows.size())
                        .arg(off(v.rows[passing]));
    else
        v.verdict = QObject::tr("<b>All cells pass.</b>");
    return v;
}

RankingPanel::RankingPanel(QWidget* parent) : Instrument(u"ranking"_s, tr("Cells ranked"), parent) {
    setFocusPolicy(Qt::StrongFocus);
    setFixedWidth(224);
    setMinimumHeight(260);
    setAccessibleName(tr("Cells in the order of their difference"));
}

void RankingPanel::show_view(RankingView view) {
    view_ = std::move(view);
    QStringList spoken;
    for (std::size_t i = 0; i < view_.rows.size() && i < 5; ++i)
        spoken << (view_.depth ? tr("%1, %2 off").arg(view_.rows[i].name, um_text(view_.rows[i].off))
                               : tr("%1 ΔE %2").arg(view_.rows[i].name, screen_number(view_.rows[i].off, 2)));
    speak(tr("Cells ranked against %1").arg(view_.target_name), spoken.join(u"; "_s));
    update();
}

/// The wanted depth beside that of the chosen cell, as grooves.
void RankingPanel::paint_depth_head(QPainter& painter, const QRectF& mat) const {
    const Theme& t = theme();
    const DepthMark& m = *view_.depth;
    const auto shown = m.measured ? m.measured : m.predicted;
    std::vector<Groove> grooves{{m.wanted}};
    if (shown)
        grooves.push_back({shown});
    paint_grooves(painter, mat, m.wanted, m.within, grooves, t);
    paint_text(painter, QRectF(0, 82, 100, 18), tr("wanted %1").arg(um_text(m.wanted)), TextStyle::small, t(Role::ink));
    if (shown)
        paint_text(painter, QRectF(100, 82, width() - 100, 18), u"%1 %2"_s.arg(view_.chosen_name, um_text(*shown)),
                   TextStyle::small, t(Role::ink), Qt::AlignRight | Qt::AlignVCenter);
}

/// The wanted look beside that of the chosen cell.
void RankingPanel::paint_look_head(QPainter& painter, const QRectF& mat) const {
    const Theme& t = theme();
    const double w = width();
    const QRectF inner = mat.adjusted(8, 8, -8, -8);
    painter.fillRect(inner, to_qcolor(*view_.target));
    if (view_.chosen) {
        painter.fillRect(QRectF(inner.center().x(), inner.top(), inner.width() / 2, inner.height()),
                         to_qcolor(*view_.chosen));
        paint_text(painter, inner.adjusted(6, 0, -6, -2), view_.chosen_name, TextStyle::small, ink_on(*view_.chosen),
                   Qt::AlignRight | Qt::AlignBottom);
    }
    paint_text(painter, inner.adjusted(6, 0, 0, -2), tr("target"), TextStyle::small, ink_on(*view_.target),
               Qt::AlignLeft | Qt::AlignBottom);
    paint_text(painter, QRectF(0, 82, 90, 18), lab_text(*view_.target), TextStyle::value, t(Role::ink));
    paint_text(painter, QRectF(0, 82, w, 18), u"L* a* b*"_s, TextStyle::small, t(Role::ink2), Qt::AlignCenter);
    if (view_.chosen)
        paint_text(painter, QRectF(w - 90, 82, 90, 18), lab_text(*view_.chosen), TextStyle::value, t(Role::ink),
                   Qt::AlignRight | Qt::AlignVCenter);
}

std::size_t RankingPanel::visible_rows() const {
    return static_cast<std::size_t>(std::max(0.0, (height() - list_top - 46) / list_row));
}

void RankingPanel::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme();
    const double w = width();
    paint_text(painter, QRectF(0, 0, 130, 20), tr("Target: %1").arg(view_.target_name), TextStyle::head, t(Role::ink));
    paint_text(painter, QRectF(100, 0, w - 100, 20), view_.accept, TextStyle::small, t(Role::ink2),
               Qt::AlignRight | Qt::AlignVCenter);
    const QRectF mat(0, 24, w, 56);
    painter.fillRect(mat, t(Role::mat));
    if (view_.depth)
        paint_depth_head(painter, mat);
    else if (view_.target)
        paint_look_head(painter, mat);
    const double depth_shift = view_.depth ? -34 : 0; // deep cells take minutes, which need room
    paint_text(painter, QRectF(0, 107, 40, 18), tr("Cell"), TextStyle::small, t(Role::ink2));
    paint_text(painter, QRectF(depth_shift + 68, 107, 54, 18), view_.depth ? tr("off, µm") : u"ΔE₀₀"_s,
               TextStyle::small, t(Role::ink2), Qt::AlignRight | Qt::AlignVCenter);
    paint_text(painter, QRectF(depth_shift + 130, 107, 50, 18), view_.depth ? tr("depth") : tr("uneven"),
               TextStyle::small, t(Role::ink2), Qt::AlignRight | Qt::AlignVCenter);
    paint_text(painter, QRectF(w - 44, 107, 44, 18), tr("time"), TextStyle::small, t(Role::ink2),
               Qt::AlignRight | Qt::AlignVCenter);
    const std::size_t shown = std::min(view_.rows.size(), visible_rows());
    const double time_width = view_.depth ? 66 : 46;
    bool cut = false;
    for (std::size_t i = 0; i < shown; ++i) {
        const auto& r = view_.rows[i];
        const QRectF box(0, list_top + static_cast<double>(i) * list_row, w, list_row);
        if (r.current) {
            painter.fillRect(box, t(Role::raised));
            painter.fillRect(QRectF(0, box.top() + 2, 3, box.height() - 4), t(Role::accent));
        }
        // A dashed line where the passing cells end.
        if (!r.passes && !cut && i > 0) {
            painter.setPen(QPen(t(Role::ink), 1, Qt::DashLine));
            painter.drawLine(box.topLeft(), box.topRight());
            cut = true;
        } else
            paint_hairline(painter, box.topLeft(), box.topRight(), t(Role::hair));
        paint_text(painter, QRectF(6, box.top(), 30, list_row), r.name, TextStyle::value_bold, t(Role::ink));
        if (view_.depth)
            paint_depth_rule(painter, QRectF(38, box.top() + 3, 8, list_row - 6),
                             {view_.depth->wanted, view_.depth->within, {}, r.um}, t);
        else
            paint_patch(painter, QRectF(38, box.top() + 5, 34, 18), to_qcolor(r.lab), t, 2);
        paint_text(painter, QRectF(depth_shift + 74, box.top(), 44, list_row), fixed(r.off), TextStyle::value_bold,
                   t(Role::ink), Qt::AlignRight | Qt::AlignVCenter);
        if (r.passes)
            paint_state(painter, QRectF(depth_shift + 122, box.center().y() - 6, 12, 12), State::ok, t);
        paint_text(painter, QRectF(depth_shift + 130, box.top(), 50, list_row), fixed(view_.depth ? r.um : r.uneven),
                   TextStyle::value, t(Role::ink), Qt::AlignRight | Qt::AlignVCenter);
        paint_text(painter, QRectF(w - time_width, box.top(), time_width, list_row),
                   r.time_s < 10 ? QString::number(r.time_s, 'f', 1) + u" s"_s : screen_duration(r.time_s),
                   TextStyle::value, t(Role::ink), Qt::AlignRight | Qt::AlignVCenter);
    }
    const double foot = list_top + static_cast<double>(shown) * list_row;
    paint_hairline(painter, {0, foot}, {w, foot}, t(Role::hair));
    paint_wrapped(painter, QRectF(0, foot + 6, w, 40), view_.verdict, t);
    if (hasFocus()) {
        painter.setPen(QPen(t(Role::accent), 2));
        painter.setBrush(Qt::NoBrush);
        painter.drawRoundedRect(QRectF(1, 104, w - 2, foot - 103), 3, 3);
    }
}

void RankingPanel::mousePressEvent(QMouseEvent* event) {
    const auto i = static_cast<std::ptrdiff_t>(std::floor((event->position().y() - list_top) / list_row));
    if (i >= 0 && i < static_cast<std::ptrdiff_t>(std::min(view_.rows.size(), visible_rows())))
        Q_EMIT asked(view_.rows[static_cast<std::size_t>(i)].cell);
}

void RankingPanel::keyPressEvent(QKeyEvent* event) {
    const int step = event->key() == Qt::Key_Down ? 1 : event->key() == Qt::Key_Up ? -1 : 0;
    if (step == 0 || view_.rows.empty())
        return QWidget::keyPressEvent(event);
    int at = 0;
    for (std::size_t i = 0; i < view_.rows.size(); ++i)
        if (view_.rows[i].current)
            at = static_cast<int>(i);
    at = std::clamp(at + step, 0, static_cast<int>(view_.rows.size()) - 1);
    Q_EMIT asked(view_.rows[static_cast<std::size_t>(at)].cell);
}

CellPanel::CellPanel(QWidget* parent)
    : Instrument(QStringLiteral("cell_detail"), tr("Chosen cell"), parent),
      spoiled_(new QCheckBox(tr("spoiled"), this)), depth_(new QLineEdit(this)) {
    setMinimumHeight(132);
    spoiled_->setObjectName(u"spoiled"_s);
    spoiled_->setToolTip(tr("Molten, torn or flaked: its colour is no film's. It never wins, and teaches where this "
                            "bench spoils metal."));
    spoiled_->setVisible(false);
    connect(spoiled_, &QCheckBox::clicked, this, &CellPanel::spoiled_ticked);
    depth_->setObjectName(u"cell_depth"_s);
    depth_->setPlaceholderText(tr("depth, µm"));
    depth_->setAccessibleName(tr("Measured depth, in µm"));
    depth_->setToolTip(tr("What the gauge says: 120, 0.12 mm or 120 ± 5. Predictions on this lot then rest on it."));
    depth_->setVisible(false);
    connect(depth_, &QLineEdit::editingFinished, this, [this] {
        if (depth_->isModified()) {
            depth_->setModified(false);
            Q_EMIT depth_typed(depth_->text().trimmed());
        }
    });
}

void CellPanel::resizeEvent(QResizeEvent* event) {
    Instrument::resizeEvent(event);
    const QSize s = spoiled_->sizeHint();
    spoiled_->setGeometry(width() - s.width() - 4, 4, s.width(), s.height());
    depth_->setGeometry(width() - s.width() - 132, 2, 118, 28);
}

void CellPanel::show_detail(std::optional<CellDetail> detail, const QString& hint) {
    // What was typed and not yet entered is of the cell that was shown.
    const bool another = !detail_ || !detail || detail_->sheet != detail->sheet || detail_->cell != detail->cell;
    detail_ = std::move(detail);
    spoiled_->setVisible(detail_ && detail_->measured);
    spoiled_->setChecked(detail_ && detail_->spoiled);
    depth_->setVisible(detail_ && detail_->takes_depth);
    if (another || !depth_->hasFocus() || !depth_->isModified())
        depth_->setText(detail_ ? detail_->depth : QString());
    hint_ = hint;
    speak(detail_ ? detail_->title + u", "_s + detail_->settings : hint);
    update();
}

void CellPanel::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme();
    paint_hairline(painter, {0, 0.5}, {static_cast<double>(width()), 0.5}, t(Role::hair));
    if (!detail_) {
        paint_text(painter, QRectF(0, 8, width(), 20), tr("No cell chosen"), TextStyle::section, t(Role::ink));
        paint_text(painter, QRectF(0, 32, width(), 20), hint_, TextStyle::body, t(Role::ink2));
        return;
    }
    const double name = paint_text(painter, QRectF(0, 6, 120, 22), detail_->title, TextStyle::section, t(Role::ink));
    const QRectF told(name + 14, 7,
                      width() - name - 14 - (detail_->measured ? spoiled_->width() + 12 : 0) -
                          (detail_->takes_depth ? depth_->width() + 16 : 0),
                      20);
    paint_text(painter, told, detail_->settings, TextStyle::small, t(Role::ink2));
    const QRectF mat(0, 32, 206, 64);
    painter.fillRect(mat, t(Role::mat));
    const double w = (mat.width() - 16) / 3;
    if (const auto& m = detail_->mark)
        paint_grooves(painter, mat, m->wanted, m->within, {{m->predicted}, {m->measured}, {m->wanted}}, t);
    const std::array<std::optional<Lab>, 3> patches{detail_->predicted, detail_->measured, detail_->target};
    const std::array<QString, 3> names{tr("predicted"), tr("measured"), tr("target")};
    const std::array<QString, 3> notes{detail_->predicted_note, detail_->measured_note, detail_->target_note};
    for (std::size_t i = 0; i < 3; ++i) {
        const QRectF box(mat.left() + 8 + static_cast<double>(i) * w, mat.top() + 8, w, mat.height() - 16);
        if (detail_->mark) {
            // the grooves say it
        } else if (patches[i])
            painter.fillRect(box, to_qcolor(*patches[i]));
        else
            paint_hatch(painter, box, t(Role::tag_ground), 6);
        paint_text(painter, QRectF(box.left(), mat.bottom() + 3, w, 16), names[i], TextStyle::small, t(Role::ink2),
                   Qt::AlignCenter);
        paint_text(painter, QRectF(box.left(), mat.bottom() + 18, w, 16), notes[i],
                   i < 2 ? TextStyle::value_bold : TextStyle::small, t(Role::ink), Qt::AlignCenter);
    }
    paint_wrapped(painter, QRectF(226, 32, width() - 230, height() - 34), detail_->sentences.join(u"<br>"_s), t);
}

void TimePanel::show_times(const Workbench& w) {
    seconds_.clear();
    const Round* r = w.round();
    columns_ = r != nullptr ? r->sheet.columns() : 0;
    chosen_ = w.draft().cell;
    if (r != nullptr) {
        const SheetForecast& f = w.first_forecast();
        std::size_t slowest = 0;
        for (std::size_t i = 0; i < r->sheet.cells(); ++i) {
            const bool out = i < r->sheet.left_out.size() && r->sheet.left_out[i];
            seconds_.push_back(out ? 0 : f.cells[i].time_s);
            if (seconds_[i] > seconds_[slowest])
                slowest = i;
        }
        total_ = tr("sheet %1").arg(screen_duration(f.total_s));
        slowest_ = tr("%1 slowest, %2")
                       .arg(screen_duration(seconds_[slowest]), QString::fromStdString(cell_name(r->sheet, slowest)));
        chosen_text_ =
            chosen_ && *chosen_ < seconds_.size()
                ? tr("%1 chosen, %2")
                      .arg(screen_duration(seconds_[*chosen_]), QString::fromStdString(cell_name(r->sheet, *chosen_)))
                : QString();
        std::vector<double> sorted = seconds_;
        std::sort(sorted.rbegin(), sorted.rend());
        const double half = std::accumulate(sorted.begin(), sorted.end(), 0.0) / 2;
        double sum = 0;
        std::size_t n = 0;
        while (n < sorted.size() && sum < half)
            sum += sorted[n++];
        share_ = f.rests_s > 0 ? tr("%1 of it rests").arg(screen_duration(f.rests_s))
                 : n == 1      ? tr("1 cell takes half")
                               : tr("%1 cells take half").arg(n);
    }
    speak(total_ + u", "_s + slowest_);
    update();
}

void TimePanel::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme();
    paint_hairline(painter, {0, 0.5}, {static_cast<double>(width()), 0.5}, t(Role::hair));
    paint_text(painter, QRectF(0, 6, 110, 22), tr("Time per cell"), TextStyle::head, t(Role::ink));
    if (seconds_.empty())
        return;
    paint_text(painter, QRectF(90, 6, width() - 90, 22), total_, TextStyle::small, t(Role::ink2),
               Qt::AlignRight | Qt::AlignVCenter);
    const double room = 112;
    const std::size_t whole_rows = seconds_.size() / std::max<std::size_t>(1, columns_);
    const auto rows = static_cast<double>(whole_rows);
    const double w = room / static_cast<double>(columns_), h = std::min(22.0, (height() - 38) / rows);
    const double most = *std::max_element(seconds_.begin(), seconds_.end());
    for (std::size_t i = 0; i < seconds_.size(); ++i) {
        const double bar = most > 0 ? (h - 3) * seconds_[i] / most : 0;
        const std::size_t row = i / columns_;
        const double x = static_cast<double>(i % columns_) * w, y = 32 + (static_cast<double>(row) + 1) * h - 2;
        painter.fillRect(QRectF(x, y - std::max(1.0, bar), w - 2, std::max(1.0, bar)),
                         chosen_ && *chosen_ == i ? t(Role::accent) : t(Role::ink2));
    }
    double y = 32;
    for (const QString& line : {slowest_, chosen_text_, share_}) {
        painter.setFont(text_font(TextStyle::small));
        painter.setPen(t(Role::ink));
        painter.drawText(QRectF(room + 8, y, width() - room - 8, 34), Qt::TextWordWrap | Qt::AlignTop, line);
        y += 34;
    }
}

} // namespace finch::app

#include "moc_proof_panels.cpp"
