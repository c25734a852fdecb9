// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/guide.h"

#include "app/theme/label.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr double badge = 22;

void paint_badge(QPainter& painter, QPointF middle, int number, const Theme& theme) {
    const QRectF disc(middle.x() - badge / 2, middle.y() - badge / 2, badge, badge);
    painter.setPen(QPen(theme(Role::surface), 2));
    painter.setBrush(theme(Role::ink));
    painter.drawEllipse(disc);
    paint_text(painter, disc, QString::number(number), TextStyle::value_bold, theme(Role::surface), Qt::AlignCenter);
}

/// A number as it stands on the picture.
class Badge final : public Instrument {
public:
    Badge(int number, QWidget* parent)
        : Instrument(u"guide_%1"_s.arg(number), QString::number(number), parent), number_(number) {
        setFixedSize(26, 26);
    }

protected:
    void paintEvent(QPaintEvent*) override {
        QPainter painter(this);
        painter.setRenderHint(QPainter::Antialiasing);
        paint_badge(painter, QRectF(rect()).center(), number_, theme());
    }

private:
    int number_;
};

} // namespace

GuidePicture::GuidePicture(const QPixmap& picture, std::vector<Ring> rings, QWidget* parent)
    : Instrument(u"guide_picture"_s, QObject::tr("Picture of this station"), parent), picture_(picture),
      rings_(std::move(rings)) {
    setMinimumSize(560, 350);
    QStringList names;
    for (const Ring& ring : rings_)
        names << ring.name;
    speak(names.join(u", "_s));
}

void GuidePicture::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
    const QSizeF size = picture_.deviceIndependentSize();
    const double scale = std::min(width() / size.width(), height() / size.height());
    const QRectF place(0, 0, size.width() * scale, size.height() * scale);
    painter.drawPixmap(place, picture_, QRectF(picture_.rect()));
    painter.setPen(QPen(theme()(Role::hair), 1));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(place.adjusted(0.5, 0.5, -0.5, -0.5));
    int number = 1;
    for (const Ring& ring : rings_) {
        const QRectF box(ring.box.topLeft() * scale, ring.box.size() * scale);
        painter.setPen(QPen(theme()(Role::accent), 2));
        painter.setBrush(Qt::NoBrush);
        painter.drawRoundedRect(box.adjusted(1, 1, -1, -1), 4, 4);
        // On the ring's upper right corner, where the least is written, and never beyond the picture's edge.
        const QPointF corner(std::min(box.right() - 4, place.right() - badge / 2 - 1),
                             std::max(box.top(), badge / 2 + 1));
        paint_badge(painter, corner, number++, theme());
    }
}

GuideDialog::GuideDialog(QWidget& shown, const QString& title, const QString& what_for,
                         const std::vector<GuidePart>& parts, QWidget* parent)
    : QDialog(parent) {
    setAttribute(Qt::WA_DeleteOnClose);
    setObjectName(u"help"_s);
    setWindowTitle(QObject::tr("Help: %1").arg(title));
    std::vector<GuidePicture::Ring> rings;
    std::vector<GuidePart> seen;
    for (const GuidePart& part : parts) {
        const auto* widget = shown.findChild<QWidget*>(part.object);
        if (widget == nullptr || !widget->isVisibleTo(&shown))
            continue;
        const QRect box = QRect(widget->mapTo(&shown, QPoint()), widget->size()).intersected(shown.rect());
        if (box.width() < 8 || box.height() < 8)
            continue;
        rings.push_back({QRectF(box), part.name});
        seen.push_back(part);
    }
    auto* box = new QVBoxLayout(this);
    auto* row = new QHBoxLayout;
    row->setSpacing(18);
    row->addWidget(new GuidePicture(shown.grab(), rings, this), 1);
    auto* list = new QVBoxLayout;
    list->setSpacing(6);
    list->addWidget(text_label(title, TextStyle::section, this));
    auto* purpose = text_label(what_for, TextStyle::body, this);
    purpose->setWordWrap(true);
    list->addWidget(purpose);
    list->addSpacing(4);
    for (std::size_t i = 0; i < seen.size(); ++i) {
        auto* line = new QHBoxLayout;
        line->setSpacing(8);
        line->addWidget(new Badge(static_cast<int>(i) + 1, this), 0, Qt::AlignTop);
        auto* words = new QLabel(
            strong(u"<b>%1.</b> %2"_s.arg(seen[i].name.toHtmlEscaped(), seen[i].words.toHtmlEscaped())), this);
        words->setWordWrap(true);
        words->setMinimumWidth(300);
        line->addWidget(words, 1);
        list->addLayout(line);
    }
    list->addStretch(1);
    row->addLayout(list);
    box->addLayout(row, 1);
    auto* caution = text_label(
        QObject::tr("An open laser beam blinds and burns. This program informs and never certifies: follow the maker's "
                    "manual, the data sheets, your laser safety officer and your local codes; when they differ from "
                    "it, they win."),
        TextStyle::small, this);
    caution->setWordWrap(true);
    auto* foot = new QHBoxLayout;
    foot->addWidget(caution, 1);
    auto* shut = new QPushButton(QObject::tr("Close"), this);
    foot->addWidget(shut, 0, Qt::AlignBottom);
    box->addLayout(foot);
    QObject::connect(shut, &QPushButton::clicked, this, &QDialog::close);
    resize(1160, 580);
}

std::vector<GuidePart> common_parts() {
    return {
        {u"bench_line"_s, QObject::tr("Bench line"),
         QObject::tr("Source, lens, stock, focus and link. Click one to change it; a warning stands where something "
                     "is stale.")},
        {u"consequences"_s, QObject::tr("Consequences"),
         QObject::tr("What the recipe at hand does, and what that rests on. Click a number to see why; drag a "
                     "needle to solve for a knob. F9 folds it.")},
        {u"status"_s, QObject::tr("Last word"),
         QObject::tr("What was just done, or what is wrong and how to mend it; right, what is kept on the disk.")}};
}

} // namespace finch::app
