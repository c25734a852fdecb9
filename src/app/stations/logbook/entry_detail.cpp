// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/logbook/entry_detail.h"

#include "app/session/text.h"

#include "bench/bench_json.h"
#include "document/json_fields.h"
#include "evidence/evidence_json.h"
#include "proof/reading.h"
#include "quantity/format.h"
#include "record/run_record.h"

#include <algorithm>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr qsizetype most_events = 200; // of a run that are listed

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

EntryDetail::EntryDetail(LogbookDesk& desk, const Workbench& workbench, QWidget* parent)
    : Instrument(u"entry_detail"_s, tr("Entry"), parent), desk_(desk), workbench_(workbench) {
    clear();
    connect(&workbench_, &Workbench::changed, this, [this] {
        if (one_ && !two_ && isVisible())
            judge_repeatable(); // what differs from the bench of now
    });
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
    picture_names_.clear();
    second_pictures_.clear();
    facts_.clear();
    repeatable_.clear();
    ++turn_;
    speak(tr("Entry"), tr("none chosen"));
    set_height(300);
}

Expected<EntryDetail::Loaded> EntryDetail::load(Logbook& book, long long id) {
    constexpr int largest_px = 1400;
    auto entry = book.entry(id);
    if (!entry)
        return tl::unexpected(entry.error());
    Loaded out{std::move(*entry), {}, 0, 0};
    if (out.entry.kind == EntryKind::recipe) {
        EntryFilter same;
        same.kind = EntryKind::recipe;
        same.bench = out.entry.bench;
        same.metal = out.entry.metal;
        same.limit = 1000;
        const auto all = book.list(same);
        if (!all)
            return tl::unexpected(all.error());
        for (const Entry& e : *all)
            if (e.title == out.entry.title) {
                ++out.versions;
                out.version += e.id <= id ? 1 : 0;
            }
    }
    const auto pictures = book.pictures(id);
    if (!pictures)
        return tl::unexpected(pictures.error());
    for (const EntryPicture& p : *pictures) {
        QImage image = QImage::fromData(p.bytes);
        if (image.width() > largest_px)
            image = image.scaledToWidth(largest_px, Qt::SmoothTransformation);
        out.pictures.emplace_back(q(p.name), std::move(image));
    }
    return out;
}

void EntryDetail::show_entry(long long id) {
    const int turn = ++turn_;
    desk_.ask(
        this, [id](Logbook& book) { return load(book, id); },
        [this, turn](const Expected<Loaded>& loaded) {
            if (turn != turn_)
                return;
            clear();
            if (loaded)
                show_loaded(*loaded);
            else
                Q_EMIT failed(loaded.error());
            Q_EMIT shown();
        });
}

void EntryDetail::fact(const QString& name, const QString& value) {
    if (!value.trimmed().isEmpty())
        facts_.push_back({name, value});
}

void EntryDetail::show_loaded(const Loaded& loaded) {
    one_ = loaded.entry;
    for (const auto& [name, image] : loaded.pictures) {
        pictures_.push_back(image);
        picture_names_.push_back(name);
    }
    if (loaded.versions > 1)
        fact(tr("Version"), tr("%1 of %2 of this name").arg(loaded.version).arg(loaded.versions));
    add_setup(*one_);
    add_body(*one_);
    fact(tr("Program"), q(one_->program_version));
    speak(tr("Entry %1").arg(q(one_->title)), q(one_->summary));
    const std::size_t rows_of_two = (facts_.size() + 1) / 2;
    facts_height_ = 76 + (pictures_.empty() ? 0 : 250) + static_cast<double>(rows_of_two) * 28 + 20;
    judge_repeatable();
}

void EntryDetail::judge_repeatable() {
    repeatable_.clear();
    const auto add = [this](const QString& heading, const QStringList& lines) {
        if (lines.isEmpty())
            return;
        repeatable_.emplace_back(true, heading);
        for (const QString& line : lines)
            repeatable_.emplace_back(false, line);
    };
    if (const auto run = run_record(*one_)) {
        const auto clock = [](const std::string& when) {
            return QDateTime::fromString(q(when), Qt::ISODate).toLocalTime().toString(u"HH:mm"_s);
        };
        QStringList asked, happened;
        for (const GateAnswer& a : run->start.answers)
            asked << tr("%1: %2 %3 %4")
                         .arg(a.asked.empty() ? q(a.key) : q(a.asked), q(a.choice), q(a.by), clock(a.when_utc))
                         .simplified();
        for (const RunEvent& e : run->events)
            if (happened.size() < most_events)
                happened << clock(e.when_utc) + u"  "_s + q(told(e));
        add(tr("Said before the start"), asked);
        add(tr("What happened"), happened);
    } else if (one_->kind != EntryKind::bench) {
        const Repeatability r = repeatability(*one_, workbench_.draft().setup);
        QStringList different, recorded, proven;
        for (const Difference& d : r.different)
            different << tr("%1, %2: %3, now %4").arg(q(d.group), q(d.field), q(d.a), q(d.b));
        for (const std::string& s : r.never_recorded)
            recorded << q(s);
        for (const std::string& s : r.never_proven)
            proven << q(s);
        if (r.clear())
            add(tr("Can it be repeated?"),
                {one_->kind == EntryKind::recipe
                     ? tr("All that is asked for was recorded, it was repeated, and the bench is as it was.")
                     : tr("All that is asked for was recorded, and the bench is as it was.")});
        add(tr("Different on the bench now"), different);
        add(tr("Never recorded"), recorded);
        add(tr("Never proven"), proven);
    }
    set_height(facts_height_ + static_cast<double>(repeatable_.size()) * 24 + 24);
}

void EntryDetail::paint_repeatable(QPainter& painter, double y) {
    const Theme& t = theme();
    for (const auto& [heading, text] : repeatable_) {
        if (heading)
            y += 6;
        paint_text(painter, QRectF(heading ? 0 : 14, y, width() - 14.0, 22), text,
                   heading ? TextStyle::head : TextStyle::body, t(Role::ink));
        if (!heading)
            paint_text(painter, QRectF(0, y, 14, 22), u"\u2013"_s, TextStyle::body, t(Role::ink2));
        y += 22;
    }
}

void EntryDetail::add_setup(const Entry& e) {
    const auto setup = setup_from_json(e.setup, "");
    if (!setup)
        return;
    const Bench& b = setup->bench;
    const Stock& stock = setup->stock;
    fact(tr("Bench"), q(b.name) + u", "_s + screen_number(in_watts(b.source.rated_power)) + u" W"_s);
    fact(tr("Lens"),
         q(b.lens().name) + u", "_s +
             tr("spot %1 µm").arg(screen_number(in_micrometres(waist(b.lens(), b.source.wavelength).spot), 2)));
    fact(tr("Stock"),
         q(e.metal) + u", "_s + screen_number(in_mm(stock.thickness)) + u" mm, "_s + from_utf8(word(stock.finish)));
    fact(tr("Lot"), q(stock.lot));
    QStringList held;
    for (const std::string* part : {&stock.under_it, &stock.held_by})
        if (!part->empty())
            held << q(*part);
    fact(tr("Under it, held by"), held.join(u", "_s));
    fact(tr("Temperature"), screen_number(stock.start_temperature_c) + u" °C"_s);
    const auto& c = setup->focus.confirmed;
    fact(tr("Focus"), (c ? brief_time(q(c->when_utc), workbench_.now()) + u" "_s + q(c->by) : tr("not confirmed")) +
                          tr(", offset %1 mm").arg(screen_number(in_mm(setup->focus.offset))));
}

void EntryDetail::add_body(const Entry& e) {
    const auto body = [&](const char* key) { return e.body.value(key, nlohmann::json()); };
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
            fact(tr("Cells"), !reading->photographed()
                                  ? tr("%1 measured by hand, %2 left out")
                                        .arg(std::ranges::count_if(reading->cells,
                                                                   [](const CellReading& c) {
                                                                       return c.depth_um.has_value() || c.by_instrument;
                                                                   }))
                                        .arg(left_out_of(*sheet, *reading))
                                  : tr("%1 read, %2 hidden, %3 left out")
                                        .arg(reading->count(CellState::read))
                                        .arg(reading->count(CellState::hidden))
                                        .arg(left_out_of(*sheet, *reading)));
    }
    if (const auto target = target_from_json(body("target")))
        fact(tr("Target"),
             q(target->name) + (target->depth ? tr(" ± %1 µm").arg(screen_number(target->depth->within_um, 3))
                                              : u" ("_s + lab_text(target->lab) + u")"_s));
    if (const nlohmann::json measured = body("measured"); measured.is_object()) {
        std::vector<Error> faults;
        JsonFields f(measured, "", faults);
        if (f.has("depth_um"))
            fact(tr("Measured"), tr("%1 ± %2 µm deep")
                                     .arg(screen_number(f.number("depth_um", 0, 1e6), 4),
                                          screen_number(f.number_or("within_um", 0, 0, 1e6), 2)));
        else if (f.has("lab")) {
            const auto lab = f.numbers("lab", 3, -200, 200);
            const double de = f.number_or("de00_to_target", 0, 0, 1000);
            if (faults.empty())
                fact(tr("Measured"), tr("L* a* b* %1, ΔE₀₀ %2 to the target")
                                         .arg(lab_text({lab[0], lab[1], lab[2]}), screen_number(de, 2)));
        }
        if (const int cells = f.whole_or("repeats", 0, 0, 1000000); cells > 1) {
            const bool deep = f.has("repeat_spread_um");
            const double spread = f.number_or(deep ? "repeat_spread_um" : "repeat_spread_de00", 0, 0, 1e6);
            fact(tr("Repeats"), tr("%1 cells on %2 sheets, apart by %3 %4")
                                    .arg(cells)
                                    .arg(f.whole_or("repeat_sheets", 1, 0, 1000000))
                                    .arg(screen_number(spread, 2), deep ? u"µm"_s : u"ΔE₀₀"_s));
        }
    }
    for (const char* key : {"learned", "evidence"})
        if (const auto known = evidence_from_json(body(key), ""))
            fact(tr("Growth factor"), known->sheets > 0
                                          ? tr("%1 ± %2 from %3 cells")
                                                .arg(screen_number(known->growth_gain, 2),
                                                     screen_number(known->growth_gain * known->growth_fit_ln, 1))
                                                .arg(known->cells)
                                          : tr("none learned"));
}

void EntryDetail::show_comparison(long long a, long long b) {
    using Pair = std::pair<Loaded, Loaded>;
    const int turn = ++turn_;
    desk_.ask(
        this,
        [a, b](Logbook& book) -> Expected<Pair> {
            auto first = load(book, a), second = load(book, b);
            if (!first || !second)
                return tl::unexpected(!first ? first.error() : second.error());
            return Pair{std::move(*first), std::move(*second)};
        },
        [this, turn](const Expected<Pair>& pair) {
            if (turn != turn_)
                return;
            clear();
            if (!pair) {
                Q_EMIT failed(pair.error());
                return;
            }
            one_ = pair->first.entry;
            two_ = pair->second.entry;
            for (const auto& [from, to] : {std::pair{&pair->first, &pictures_}, {&pair->second, &second_pictures_}})
                for (const auto& [name, image] : from->pictures)
                    if (name == u"rectified"_s)
                        to->push_back(image);
            comparison_ = compare(*one_, *two_);
            speak(tr("What differs between A and B"),
                  tr("%1 values differ, %2 are equal").arg(comparison_.differences.size()).arg(comparison_.equal));
            set_height(120 + (pictures_.empty() && second_pictures_.empty() ? 0 : 170) +
                       static_cast<double>(comparison_.differences.size()) * 27 + 40);
            Q_EMIT shown();
        });
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
    paint_repeatable(painter, facts_height_ + 4);
}

void EntryDetail::paint_two(QPainter& painter) {
    constexpr double group_width = 76;
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
    std::string group;
    for (const Difference& d : comparison_.differences) {
        if (d.group != group)
            paint_text(painter, QRectF(0, y + 3, group_width - 6, 22), q(d.group), TextStyle::small, t(Role::ink2));
        group = d.group;
        paint_text(painter, QRectF(group_width, y + 3, ax - 8 - group_width, 22), q(d.field), TextStyle::head,
                   t(Role::ink));
        paint_text(painter, QRectF(ax, y + 3, bx - ax - 8, 22), q(d.a), TextStyle::value_small, t(Role::ink));
        paint_text(painter, QRectF(bx, y + 3, w - bx, 22), q(d.b), TextStyle::value_small, t(Role::ink));
        y += 27;
        paint_hairline(painter, {0, y}, {w, y}, t(Role::hair));
    }
    if (comparison_.differences.empty())
        paint_text(painter, QRectF(0, y + 6, w, 22), tr("Nothing differs."), TextStyle::body, t(Role::ink2));
}

} // namespace finch::app

#include "moc_entry_detail.cpp"
