// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/logbook/entry_detail.h"

#include "app/theme/text.h"

#include "bench/bench_json.h"
#include "proof/reading.h"
#include "quantity/format.h"

#include <algorithm>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

QString q(const std::string& s) {
    return QString::fromStdString(s);
}

QString knob_text(const Recipe& r, Knob k) {
    const KnobTraits& t = traits(k);
    return screen_number(knob_value(r, k), 4) + u" "_s + from_utf8(t.unit);
}

} // namespace

State state_of(Outcome o) {
    switch (o) {
    case Outcome::good:
        return State::ok;
    case Outcome::caution:
        return State::warn;
    case Outcome::bad:
        return State::fail;
    case Outcome::unknown:
        return State::unknown;
    }
    return State::unknown;
}

EntryDetail::EntryDetail(const Logbook* logbook, const Workbench& workbench, QWidget* parent)
    : Instrument(u"entry_detail"_s, parent), logbook_(logbook), workbench_(workbench) {
    clear();
}

void EntryDetail::set_height(double height) {
    height_ = height;
    setMinimumHeight(static_cast<int>(height));
    updateGeometry();
    update();
}

void EntryDetail::clear() {
    one_.reset();
    two_.reset();
    pictures_.clear();
    facts_.clear();
    speak(tr("Entry"), tr("none chosen"));
    set_height(300);
}

void EntryDetail::show_entry(long long id) {
    clear();
    if (logbook_ == nullptr)
        return;
    const auto e = logbook_->entry(id);
    if (!e)
        return;
    one_ = *e;
    picture_names_.clear();
    if (const auto pictures = logbook_->pictures(id))
        for (const EntryPicture& p : *pictures) {
            pictures_.push_back(QImage::fromData(p.png));
            picture_names_.push_back(q(p.name));
        }
    const auto fact = [this](const QString& name, const QString& value) {
        if (!value.trimmed().isEmpty())
            facts_.push_back({name, value});
    };
    if (const auto setup = setup_from_json(e->setup, "")) {
        const Bench& b = setup->bench;
        fact(tr("Bench"), q(b.name) + u", "_s + screen_number(in_watts(b.source.rated_power)) + u" W"_s);
        fact(tr("Lens"),
             q(b.lens().name) + u", "_s +
                 tr("spot %1 µm").arg(screen_number(in_micrometres(waist(b.lens(), b.source.wavelength).spot), 2)));
        fact(tr("Stock"), q(e->metal) + u", "_s + screen_number(in_mm(setup->stock.thickness)) + u" mm, "_s +
                              from_utf8(word(setup->stock.finish)));
        fact(tr("Lot"), q(setup->stock.lot));
        fact(tr("Under it, held by"), q(setup->stock.under_it) + u", "_s + q(setup->stock.held_by));
        fact(tr("Temperature"), screen_number(setup->stock.start_temperature_c) + u" °C"_s);
        const auto& c = setup->focus.confirmed;
        fact(tr("Focus"), (c ? brief_time(q(c->when_utc), workbench_.now()) + u" "_s + q(c->by) : tr("not confirmed")) +
                              tr(", offset %1 mm").arg(screen_number(in_mm(setup->focus.offset))));
    }
    const auto body = [&](const char* key) {
        return e->body.is_object() ? e->body.value(key, nlohmann::json()) : nlohmann::json();
    };
    if (const auto recipe = recipe_from_json(body("recipe"), ""))
        for (const Knob k : all_knobs)
            fact(from_utf8(traits(k).label), knob_text(*recipe, k));
    if (const auto sheet = sheet_from_json(body("sheet"), "")) {
        for (const SheetAxis* axis : {&sheet->across, &sheet->down})
            fact(from_utf8(traits(axis->knob).label),
                 tr("%1 to %2 %3 in %4")
                     .arg(screen_number(axis->values.front(), 4), screen_number(axis->values.back(), 4),
                          from_utf8(traits(axis->knob).unit))
                     .arg(axis->values.size()));
        if (const auto reading = reading_from_json(body("reading"), *sheet, ""))
            fact(tr("Cells"), tr("%1 read, %2 hidden, %3 left out")
                                  .arg(reading->count(CellState::read))
                                  .arg(reading->count(CellState::hidden))
                                  .arg(reading->count(CellState::left_out)));
    }
    if (const auto target = target_from_json(body("target")))
        fact(tr("Target"), q(target->name) + u" ("_s + lab_text(target->lab) + u")"_s);
    if (const auto m = body("measured"); m.is_object() && m.contains("lab"))
        fact(tr("Measured"), tr("L* a* b* %1, ΔE₀₀ %2 to the target")
                                 .arg(lab_text({m["lab"][0], m["lab"][1], m["lab"][2]}),
                                      screen_number(m.value("de00_to_target", 0.0), 2)));
    for (const char* key : {"learned", "evidence"})
        if (const auto v = body(key); v.is_object()) {
            const Evidence known = evidence_from_json(v);
            fact(tr("Growth factor"), known.sheets > 0
                                          ? tr("%1 ± %2 from %3 cells")
                                                .arg(screen_number(known.growth_gain, 2),
                                                     screen_number(known.growth_gain * known.gain_spread_ln, 1))
                                                .arg(known.cells)
                                          : tr("none learned"));
        }
    fact(tr("Program"), q(e->program_version));
    speak(tr("Entry %1").arg(q(e->title)), q(e->summary));
    set_height(90 + (pictures_.empty() ? 0 : 250) + static_cast<double>((facts_.size() + 1) / 2) * 28 + 20);
}

void EntryDetail::show_comparison(long long a, long long b) {
    clear();
    const auto first = logbook_->entry(a), second = logbook_->entry(b);
    if (!first || !second)
        return;
    one_ = *first;
    two_ = *second;
    const auto load = [this](long long id, std::vector<QImage>& to) {
        to.clear();
        if (const auto pictures = logbook_->pictures(id))
            for (const EntryPicture& p : *pictures)
                if (p.name == "rectified")
                    to.push_back(QImage::fromData(p.png));
    };
    load(a, pictures_);
    load(b, second_pictures_);
    comparison_ = compare(*first, *second);
    speak(tr("What differs between A and B"),
          tr("%1 values differ, %2 are equal").arg(comparison_.differences.size()).arg(comparison_.equal));
    set_height(120 + (pictures_.empty() && second_pictures_.empty() ? 0 : 170) +
               static_cast<double>(comparison_.differences.size()) * 27 + 40);
}

void EntryDetail::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    if (!one_) {
        paint_text(painter, QRectF(0, 14, width(), 24), tr("Choose an entry to see it whole."), TextStyle::section,
                   theme()(Role::ink));
        paint_text(painter, QRectF(0, 42, width(), 20),
                   tr("Sheets, readings and recipes are written here by themselves, with the bench as it was."),
                   TextStyle::body, theme()(Role::ink2));
    } else if (two_)
        paint_two(painter);
    else
        paint_one(painter);
}

void EntryDetail::paint_one(QPainter& painter) {
    const Theme& t = theme();
    const double w = width();
    paint_state(painter, QRectF(0, 8, 22, 22), state_of(one_->outcome), t);
    paint_text(painter, QRectF(32, 4, w - 200, 28), q(one_->title), TextStyle::title, t(Role::ink));
    paint_text(painter, QRectF(w - 180, 8, 180, 20),
               brief_time(q(one_->when_utc), workbench_.now()) + u"  "_s + q(one_->by), TextStyle::value, t(Role::ink2),
               Qt::AlignRight | Qt::AlignVCenter);
    paint_text(painter, QRectF(32, 34, w - 32, 20), q(one_->summary), TextStyle::body, t(Role::ink2));
    double y = 64;
    paint_hairline(painter, {0, y}, {w, y}, t(Role::rule));
    y += 12;
    if (!pictures_.empty()) {
        double x = 0;
        for (std::size_t i = 0; i < pictures_.size() && i < 2; ++i) {
            const QImage& image = pictures_[i];
            if (image.isNull())
                continue;
            const double scale = std::min(215.0 / image.height(), (w / 2 - 12) / image.width());
            const QRectF box(x, y, image.width() * scale, image.height() * scale);
            painter.setRenderHint(QPainter::SmoothPixmapTransform);
            painter.drawImage(box, image.scaled(QSizeF(box.size() * devicePixelRatioF()).toSize(),
                                                Qt::IgnoreAspectRatio, Qt::SmoothTransformation));
            painter.setPen(QPen(t(Role::rule), 1));
            painter.setBrush(Qt::NoBrush);
            painter.drawRect(box);
            paint_text(painter, QRectF(x, y + 217, 300, 16),
                       picture_names_[i] == u"rectified"_s ? tr("squared up, light evened out")
                                                           : tr("photograph as taken"),
                       TextStyle::small, t(Role::ink2));
            x += box.width() + 16;
        }
        y += 250;
    }
    const double half = (w - 24) / 2;
    for (std::size_t i = 0; i < facts_.size(); ++i) {
        const std::size_t rows = (facts_.size() + 1) / 2;
        const double x = i < rows ? 0 : half + 24;
        const double row = y + static_cast<double>(i % rows) * 28;
        paint_text(painter, QRectF(x, row, 120, 26), facts_[i].name, TextStyle::body, t(Role::ink2));
        paint_text(painter, QRectF(x + 122, row, half - 122, 26), facts_[i].value, TextStyle::value_small,
                   t(Role::ink));
        paint_hairline(painter, {x, row + 27}, {x + half, row + 27}, t(Role::hair));
    }
}

void EntryDetail::paint_two(QPainter& painter) {
    const Theme& t = theme();
    const double w = width();
    paint_text(painter, QRectF(0, 4, w, 28), tr("What differs between A and B"), TextStyle::title, t(Role::ink));
    paint_text(painter, QRectF(0, 34, w, 20),
               tr("only what differs; %1 equal values are hidden").arg(comparison_.equal), TextStyle::body,
               t(Role::ink2));
    const double ax = w * 0.36, bx = w * 0.68;
    double y = 64;
    paint_text(painter, QRectF(ax, y, bx - ax - 8, 20), tr("A  %1").arg(q(one_->title)), TextStyle::head, t(Role::ink));
    paint_text(painter, QRectF(bx, y, w - bx, 20), tr("B  %1").arg(q(two_->title)), TextStyle::head, t(Role::ink));
    paint_text(painter, QRectF(ax, y + 18, bx - ax - 8, 18),
               brief_time(q(one_->when_utc), workbench_.now()) + u", "_s + q(one_->by), TextStyle::small,
               t(Role::ink2));
    paint_text(painter, QRectF(bx, y + 18, w - bx, 18),
               brief_time(q(two_->when_utc), workbench_.now()) + u", "_s + q(two_->by), TextStyle::small,
               t(Role::ink2));
    y += 42;
    if (!pictures_.empty() || !second_pictures_.empty()) {
        painter.setRenderHint(QPainter::SmoothPixmapTransform);
        for (const auto& [pictures, x, room] :
             {std::tuple{&pictures_, ax, bx - ax - 12}, std::tuple{&second_pictures_, bx, w - bx}})
            if (!pictures->empty() && !pictures->front().isNull()) {
                const QImage& image = pictures->front();
                const double scale = std::min(156.0 / image.height(), room / image.width());
                const QSizeF size(image.width() * scale, image.height() * scale);
                painter.drawImage(QRectF(QPointF(x, y), size),
                                  image.scaled(QSizeF(size * devicePixelRatioF()).toSize(), Qt::IgnoreAspectRatio,
                                               Qt::SmoothTransformation));
            }
        y += 166;
    }
    paint_hairline(painter, {0, y}, {w, y}, t(Role::rule));
    for (const Difference& d : comparison_.differences) {
        paint_text(painter, QRectF(0, y + 3, ax - 8, 22), q(d.field), TextStyle::head, t(Role::ink));
        paint_text(painter, QRectF(ax, y + 3, bx - ax - 8, 22), q(d.a), TextStyle::value_small, t(Role::ink));
        paint_text(painter, QRectF(bx, y + 3, w - bx, 22), q(d.b), TextStyle::value_small, t(Role::ink));
        y += 27;
        paint_hairline(painter, {0, y}, {w, y}, t(Role::hair));
    }
    if (comparison_.differences.empty())
        paint_text(painter, QRectF(0, y + 6, w, 22), tr("Nothing differs."), TextStyle::body, t(Role::ink2));
}

} // namespace finch::app
