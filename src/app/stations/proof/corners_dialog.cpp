// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/proof/corners_dialog.h"

#include "app/theme/theme.h"

#include <algorithm>
#include <cmath>
#include <QDialogButtonBox>
#include <QKeyEvent>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <QVBoxLayout>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr double ring = 11;
constexpr int loupe = 150;

const std::array<const char*, 4>& corner_names() {
    static const std::array<const char*, 4> names{QT_TRANSLATE_NOOP("finch::app::CornerPlacer", "upper left"),
                                                  QT_TRANSLATE_NOOP("finch::app::CornerPlacer", "upper right"),
                                                  QT_TRANSLATE_NOOP("finch::app::CornerPlacer", "lower right"),
                                                  QT_TRANSLATE_NOOP("finch::app::CornerPlacer", "lower left")};
    return names;
}

} // namespace

CornerPlacer::CornerPlacer(QImage photo, QWidget* parent) : QWidget(parent), photo_(std::move(photo)) {
    setObjectName(u"corners"_s);
    setAccessibleName(tr("Corners of the sheet in the photograph"));
    setFocusPolicy(Qt::StrongFocus);
    setMinimumSize(420, 300);
    const double w = photo_.width(), h = photo_.height();
    corners_ = {PointMm{0.25 * w, 0.25 * h}, {0.75 * w, 0.25 * h}, {0.75 * w, 0.75 * h}, {0.25 * w, 0.75 * h}};
}

void CornerPlacer::choose(std::size_t corner) {
    chosen_ = corner % 4;
    update();
}

void CornerPlacer::place(std::size_t corner, const PointMm& at) {
    corners_.at(corner) = {std::clamp(at.x, 0.0, photo_.width() - 1.0), std::clamp(at.y, 0.0, photo_.height() - 1.0)};
    choose(corner);
}

QRectF CornerPlacer::frame() const {
    const QSizeF fit = QSizeF(photo_.size()).scaled(size(), Qt::KeepAspectRatio);
    return {0.5 * (width() - fit.width()), 0.5 * (height() - fit.height()), fit.width(), fit.height()};
}

QPointF CornerPlacer::on_screen(const PointMm& p) const {
    const QRectF f = frame();
    return {f.x() + p.x / photo_.width() * f.width(), f.y() + p.y / photo_.height() * f.height()};
}

void CornerPlacer::paint_loupe(QPainter& painter) const {
    const Theme& t = theme_of(this);
    const PointMm& p = corners_.at(chosen_);
    const double part = 0.06 * std::max(photo_.width(), photo_.height());
    // In the corner that is farthest from every ring, so that it hides none.
    QRectF box;
    double farthest = -1;
    for (const double x : {8.0, width() - loupe - 8.0})
        for (const double y : {8.0, height() - loupe - 8.0}) {
            const QRectF here(x, y, loupe, loupe);
            double nearest = 1e9;
            for (const PointMm& c : corners_)
                nearest = std::min(nearest, QLineF(here.center(), on_screen(c)).length());
            if (nearest > farthest) {
                farthest = nearest;
                box = here;
            }
        }
    painter.drawImage(box, photo_, QRectF(p.x - part / 2, p.y - part / 2, part, part));
    painter.setPen(QPen(t(Role::accent), 1.5));
    painter.drawRect(box);
    painter.drawLine(QPointF(box.center().x(), box.top()), QPointF(box.center().x(), box.bottom()));
    painter.drawLine(QPointF(box.left(), box.center().y()), QPointF(box.right(), box.center().y()));
}

void CornerPlacer::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
    const Theme& t = theme_of(this);
    painter.fillRect(rect(), t(Role::surface));
    painter.drawImage(frame(), photo_);
    QPolygonF outline;
    for (const PointMm& p : corners_)
        outline << on_screen(p);
    painter.setPen(QPen(t(Role::accent), 1.5, Qt::DashLine));
    painter.drawPolygon(outline);
    for (std::size_t i = 0; i < 4; ++i) {
        const QPointF at = on_screen(corners_[i]);
        painter.setPen(QPen(i == chosen_ ? t(Role::accent) : t(Role::surface), i == chosen_ ? 3 : 2));
        painter.drawEllipse(at, ring, ring);
        painter.drawPoint(at);
        const QString name = tr(corner_names()[i]);
        QRectF plate(QPointF(), QSizeF(painter.fontMetrics().horizontalAdvance(name) + 10, 20));
        plate.moveCenter(at + QPointF(i == 0 || i == 3 ? -plate.width() / 2 - ring : plate.width() / 2 + ring,
                                      i < 2 ? -ring - 10 : ring + 10));
        painter.fillRect(plate, t(Role::surface));
        painter.setPen(t(Role::ink));
        painter.drawText(plate, Qt::AlignCenter, name);
    }
    paint_loupe(painter);
}

void CornerPlacer::mousePressEvent(QMouseEvent* event) {
    std::size_t nearest = 0;
    double best = 1e9;
    for (std::size_t i = 0; i < 4; ++i)
        if (const double d = QLineF(on_screen(corners_[i]), event->position()).length(); d < best) {
            best = d;
            nearest = i;
        }
    choose(nearest);
    mouseMoveEvent(event);
}

void CornerPlacer::mouseMoveEvent(QMouseEvent* event) {
    const QRectF f = frame();
    place(chosen_, {(event->position().x() - f.x()) / f.width() * photo_.width(),
                    (event->position().y() - f.y()) / f.height() * photo_.height()});
}

void CornerPlacer::keyPressEvent(QKeyEvent* event) {
    const double step = event->modifiers().testFlag(Qt::ShiftModifier) ? 20 : 2;
    PointMm p = corners_.at(chosen_);
    switch (event->key()) {
    case Qt::Key_Left:
        p.x -= step;
        break;
    case Qt::Key_Right:
        p.x += step;
        break;
    case Qt::Key_Up:
        p.y -= step;
        break;
    case Qt::Key_Down:
        p.y += step;
        break;
    case Qt::Key_Space:
        return choose(chosen_ + 1);
    default:
        return QWidget::keyPressEvent(event);
    }
    place(chosen_, p);
}

CornersDialog::CornersDialog(const QImage& photo, const QString& trouble, QWidget* parent) : QDialog(parent) {
    setObjectName(u"corners_dialog"_s);
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("Where is the sheet?"));
    resize(900, 720);
    auto* rows = new QVBoxLayout(this);
    auto* text = new QLabel(
        tr("%1\nDrag the rings to the outer corners of the four square marks: upper left is the one above row 1. Arrow "
           "keys move the chosen ring, with Shift faster; Space takes the next.")
            .arg(trouble),
        this);
    text->setWordWrap(true);
    rows->addWidget(text);
    placer_ = new CornerPlacer(photo, this);
    rows->addWidget(placer_, 1);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel, this);
    buttons->button(QDialogButtonBox::Ok)->setText(tr("Read the sheet here"));
    buttons->button(QDialogButtonBox::Ok)->setObjectName(u"corners_ok"_s);
    buttons->button(QDialogButtonBox::Ok)->setProperty("primary", true);
    rows->addWidget(buttons);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(buttons, &QDialogButtonBox::accepted, this, [this] {
        Q_EMIT placed(placer_->corners());
        accept();
    });
    placer_->setFocus();
}

} // namespace finch::app

#include "moc_corners_dialog.cpp"
