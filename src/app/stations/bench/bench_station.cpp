// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/bench/bench_station.h"

#include "app/stations/bench/setup_page.h"
#include "app/theme/label.h"

#include "app/session/text.h"

#include "app/session/words.h"
#include "bench/bench_json.h"
#include "proof/layout.h"
#include "quantity/format.h"

#include <algorithm>
#include <cmath>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QShowEvent>
#include <QStackedWidget>
#include <QStyle>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

/// What the column that is not drawn takes; the four others share the rest. At 1280 they are 254 wide.
constexpr int reach_width = 168;
constexpr int row_height = 33;

} // namespace

BenchStation::BenchStation(Workbench& workbench, std::vector<Bench> benches, QWidget* parent)
    : QWidget(parent), workbench_(workbench), benches_(std::move(benches)), columns_(new QWidget(this)),
      banner_(new QWidget(this)) {
    setObjectName(u"station_bench"_s);
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(0);
    build_banner();
    box->addWidget(banner_);
    auto* across = new QHBoxLayout(columns_);
    across->setContentsMargins(0, 0, 0, 0);
    across->setSpacing(0);
    pages_ = new QStackedWidget(this);
    pages_->addWidget(columns_);
    pages_->addWidget(new SetupPage(workbench_, this));
    box->addWidget(pages_, 1);
    for (const auto& metal : workbench_.materials().metals)
        metal_keys_ << QString::fromStdString(metal->key);
    build_source();
    build_lens();
    build_stock();
    build_focus();
    build_reach();
    across->addStretch(1);
    connect(&workbench_, &Workbench::changed, this, &BenchStation::refresh);
    refresh();
}

void BenchStation::build_banner() {
    banner_->setObjectName(u"focus_banner"_s);
    banner_->setFixedHeight(64);
    auto* row = new QHBoxLayout(banner_);
    row->setContentsMargins(60, 0, 16, 0);
    auto* texts = new QVBoxLayout;
    texts->setSpacing(0);
    banner_title_ = text_label({}, TextStyle::section, banner_);
    banner_text_ = text_label({}, TextStyle::body, banner_);
    banner_title_->setObjectName(u"focus_title"_s);
    texts->addStretch();
    texts->addWidget(banner_title_);
    texts->addWidget(banner_text_);
    texts->addStretch();
    row->addLayout(texts, 1);
    head_moved_ = new QPushButton(banner_);
    head_moved_->setObjectName(u"head_raised"_s);
    head_moved_->setAccessibleName(tr("Head was moved to make up for the thickness"));
    confirm_ = new QPushButton(tr("Confirm focus"), banner_);
    confirm_->setObjectName(u"confirm_focus"_s);
    confirm_->setProperty("primary", true);
    confirm_->setToolTip(tr("Say that the surface is in focus now (Ctrl+Shift+F)"));
    auto* arithmetic = new QPushButton(tr("Set-up arithmetic"), banner_);
    arithmetic->setObjectName(u"setup_arithmetic"_s);
    arithmetic->setCheckable(true);
    arithmetic->setToolTip(tr("Spot, shims, column, field, level, round and tapered parts"));
    connect(arithmetic, &QPushButton::toggled, this, [this](bool on) { pages_->setCurrentIndex(on ? 1 : 0); });
    row->addWidget(arithmetic);
    row->addWidget(head_moved_);
    row->addWidget(confirm_);
    connect(confirm_, &QPushButton::clicked, &workbench_, &Workbench::confirm_focus);
    connect(head_moved_, &QPushButton::clicked, this, [this] {
        const Length off = workbench_.focus_state().surface_error;
        change(tr("head moved"), [off](Setup& s) { s.focus.head_raised -= off; });
    });
}

BenchStation::Column BenchStation::make_column(const QString& title, const QString& object_name, int drawing_height) {
    Column c;
    c.page = new QWidget(columns_);
    c.page->setObjectName(object_name);
    const bool narrow = drawing_height == 0;
    if (narrow)
        c.page->setMinimumWidth(150);
    auto* box = new QVBoxLayout(c.page);
    box->setContentsMargins(16, 8, 16, 8);
    box->setSpacing(4);
    auto* head = new QHBoxLayout;
    head->addWidget(text_label(title, TextStyle::section, c.page));
    head->addStretch();
    c.meta = text_label({}, TextStyle::small, c.page);
    head->addWidget(c.meta);
    box->addLayout(head);
    if (!narrow) {
        c.drawing = new Drawing(object_name + u"_drawing"_s, title, c.page);
        c.drawing->setMinimumHeight(drawing_height - 60);
        box->addWidget(c.drawing, 1);
    }
    c.rows = new QGridLayout;
    c.rows->setContentsMargins(0, 0, 0, 0);
    c.rows->setHorizontalSpacing(6);
    c.rows->setVerticalSpacing(0);
    c.rows->setColumnStretch(0, 1);
    // The same nine rows in every column, so that the eye can run across.
    for (int row = 0; !narrow && row < 9; ++row)
        c.rows->setRowMinimumHeight(row, row_height);
    box->addLayout(c.rows);
    if (narrow)
        box->addStretch(1);
    static_cast<QHBoxLayout*>(columns_->layout())->addWidget(c.page, narrow ? 1 : 0);
    return c;
}

void BenchStation::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    const int share = std::max(200, (width() - reach_width) / 4);
    for (const Column* c : {&source_, &lens_, &stock_, &focus_}) {
        c->page->setFixedWidth(share);
        // A drawing grows with its column, and never so tall that it stands in emptiness.
        c->drawing->setMaximumHeight(share * 5 / 4);
    }
}

void BenchStation::change(const QString& what, const std::function<void(Setup&)>& edit) {
    if (!showing_)
        workbench_.change(what, u"setup/"_s + what, [&](Draft& d) { edit(d.setup); });
}

void BenchStation::add_number(Column& c, const QString& text, const QString& name, QuantityKind kind,
                              ParseContext context, std::function<double(const Setup&)> read,
                              std::function<void(Setup&, double)> write) {
    auto* field = new EditField(name, text, kind, context, c.page);
    field->setFixedWidth(c.field_width);
    auto* l = text_label(text, TextStyle::body, c.page);
    l->setBuddy(field);
    c.rows->addWidget(l, c.next, 0);
    c.rows->addWidget(field, c.next++, 1, Qt::AlignRight);
    connect(field, &EditField::entered, this,
            [this, text, write](double v) { change(text.toLower(), [&](Setup& s) { write(s, v); }); });
    connect(field, &EditField::complained, this, [this](const QString& why) { workbench_.say(why, State::fail); });
    bound_.push_back({[field, read](const Setup& s) { field->show_value(read(s)); }});
}

QComboBox* BenchStation::add_choice(Column& c, const QString& text, const QString& name, const QStringList& words,
                                    std::function<int(const Setup&)> read, std::function<void(Setup&, int)> write) {
    auto* combo = new QComboBox(c.page);
    combo->setObjectName(name);
    combo->setAccessibleName(text);
    combo->addItems(words);
    combo->setFixedWidth(c.field_width);
    auto* l = text_label(text, TextStyle::body, c.page);
    l->setBuddy(combo);
    c.rows->addWidget(l, c.next, 0);
    c.rows->addWidget(combo, c.next++, 1, Qt::AlignRight);
    connect(combo, &QComboBox::activated, this,
            [this, text, write](int i) { change(text.toLower(), [&](Setup& s) { write(s, i); }); });
    bound_.push_back({[combo, read](const Setup& s) { combo->setCurrentIndex(read(s)); }});
    return combo;
}

void BenchStation::add_text(Column& c, const QString& text, const QString& name,
                            std::function<std::string(const Setup&)> read,
                            std::function<void(Setup&, const std::string&)> write) {
    auto* field = new QLineEdit(c.page);
    field->setObjectName(name);
    field->setAccessibleName(text);
    field->setMaxLength(80);
    field->setFixedWidth(c.field_width);
    auto* l = text_label(text, TextStyle::body, c.page);
    l->setBuddy(field);
    c.rows->addWidget(l, c.next, 0);
    c.rows->addWidget(field, c.next++, 1, Qt::AlignRight);
    connect(field, &QLineEdit::editingFinished, this, [this, field, text, write] {
        if (field->isModified())
            change(text.toLower(), [&](Setup& s) { write(s, field->text().toStdString()); });
        field->setModified(false);
    });
    bound_.push_back({[field, read](const Setup& s) {
        if (!(field->hasFocus() && field->isModified())) {
            field->setText(QString::fromStdString(read(s)));
            field->setCursorPosition(0);
        }
    }});
}

void BenchStation::add_fact(Column& c, const QString& text, const QString& name,
                            std::function<QString(const Workbench&)> read, bool warns) {
    auto* l = text_label(text, TextStyle::body, c.page);
    auto* value = text_label({}, TextStyle::value, c.page);
    value->setObjectName(name);
    value->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    c.rows->addWidget(l, c.next, 0);
    c.rows->addWidget(value, c.next++, 1, Qt::AlignRight);
    bound_.push_back({[this, l, value, read, warns](const Setup&) {
        value->setText(read(workbench_));
        value->setAccessibleName(l->text() + u" "_s + value->text());
        const QString state = warns && workbench_.focus_state().stale() ? u"warn"_s : QString();
        for (QLabel* part : {l, value})
            if (part->property("state").toString() != state) {
                part->setProperty("state", state);
                part->style()->polish(part);
            }
    }});
}

void BenchStation::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refresh();
}

void BenchStation::refresh() {
    // Hidden it costs time with every knob move and shows nothing.
    if (!isVisible())
        return;
    showing_ = true;
    const Setup& s = workbench_.draft().setup;
    QStringList lenses;
    for (const Lens& l : s.bench.lenses)
        lenses << QString::fromStdString(l.name);
    QStringList present;
    for (int i = 0; i < lens_choice_->count(); ++i)
        present << lens_choice_->itemText(i);
    if (present != lenses) {
        lens_choice_->clear();
        lens_choice_->addItems(lenses);
    }
    for (const Bound& b : bound_)
        b.show(s);
    source_.meta->setText((s.bench.source.kind == SourceKind::variable_pulse_width ? tr("variable width, %1 h run")
                                                                                   : tr("fixed width, %1 h run"))
                              .arg(screen_number(s.bench.source.hours_run, 5)));
    lens_.meta->setText(s.bench.lens().correction_set.empty()
                            ? QString()
                            : tr("correction set %1").arg(QString::fromStdString(s.bench.lens().correction_set)));
    const bool fixed = s.bench.source.kind == SourceKind::fixed_pulse_width;
    if (auto* longest = findChild<QLineEdit*>(u"pulse_to"_s))
        longest->setEnabled(!fixed);
    refresh_drawings();
    refresh_banner();
    showing_ = false;
}

void BenchStation::refresh_drawings() {
    const Draft& d = workbench_.draft();
    const Setup& s = d.setup;
    const SourceView source{s.bench.source, d.recipe.setting};
    source_.drawing->show_drawing(
        [source](QPainter& p, const QRectF& r, const Theme& t) { paint_source(p, r, source, t); },
        tr("Pulse energy over frequency; the recipe gives %1 mJ")
            .arg(screen_number(pulse_output(source.source, source.setting).pulse_energy_j * 1e3)));
    FieldView field{in_mm(s.bench.lens().field), 0, 0, longest_part(s.bench.lens().field, mm(12)), 12};
    if (const Round* r = workbench_.round()) {
        const SheetLayout at = finch::layout(r->sheet);
        field.sheet_w_mm = at.width_mm;
        field.sheet_h_mm = at.height_mm;
    }
    lens_.drawing->show_drawing([field](QPainter& p, const QRectF& r, const Theme& t) { paint_field(p, r, field, t); },
                                tr("Field of %1 mm with the longest bar that fits, turned by %2°")
                                    .arg(screen_number(field.field_mm), screen_number(field.longest.turn_deg)));
    const FocusState focus = workbench_.focus_state();
    const StockSideView side{in_mm(s.bench.lens().working_distance), in_mm(s.stock.thickness),
                             in_mm(focus.surface_error), QString::fromStdString(s.stock.under_it)};
    stock_.drawing->show_drawing(
        [side](QPainter& p, const QRectF& r, const Theme& t) { paint_stock_side(p, r, side, t); },
        tr("Head, beam and stock from the side"));
    const BeamWaist beam = waist(s.bench.lens(), s.bench.source.wavelength);
    const CausticView caustic{beam,
                              in_mm(s.focus.offset),
                              in_mm(focus.surface_error),
                              in_mm(depth_for_growth(beam, 1.05)),
                              s.focus.confirmed
                                  ? brief_time(QString::fromStdString(s.focus.confirmed->when_utc), workbench_.now())
                                  : QString(),
                              focus.stale()};
    focus_.drawing->show_drawing(
        [caustic](QPainter& p, const QRectF& r, const Theme& t) { paint_caustic(p, r, caustic, t); },
        tr("Beam waist of %1 µm, surface %2 mm from where it was confirmed")
            .arg(screen_number(in_micrometres(beam.spot)), screen_number(caustic.surface_error_mm)));
}

void BenchStation::refresh_banner() {
    const FocusState state = workbench_.focus_state();
    const Focus& f = workbench_.draft().setup.focus;
    const double off = in_mm(state.surface_error);
    const bool known = f.confirmed.has_value();
    const bool moved = known && std::abs(off) > 0.005;
    head_moved_->setVisible(moved);
    head_moved_->setText(off < 0 ? tr("Head raised %1 mm").arg(screen_number(-off, 2))
                                 : tr("Head lowered %1 mm").arg(screen_number(off, 2)));
    confirm_->setText(state.stale() ? tr("Confirm focus") : tr("Confirm again"));
    if (confirm_->property("primary").toBool() != state.stale()) {
        confirm_->setProperty("primary", state.stale());
        confirm_->style()->polish(confirm_);
    }
    if (!known) {
        banner_title_->setText(tr("Focus has not been confirmed on this bench."));
        banner_text_->setText(
            tr("Set it by %1, then confirm. Nothing is burned before.").arg(from_utf8(word(f.method))));
    } else if (!state.stale()) {
        banner_title_->setText(tr("Focus %1.").arg(focus_headline(workbench_).toLower()));
        banner_text_->setText(tr("By %1, offset %2 mm, on %3 mm %4.")
                                  .arg(from_utf8(word(f.confirmed->method)), screen_number(in_mm(f.confirmed->offset)),
                                       screen_number(in_mm(f.confirmed->thickness)),
                                       QString::fromStdString(workbench_.metal().name)));
    } else {
        const BeamWaist beam = waist(workbench_.bench().lens(), workbench_.bench().source.wavelength);
        const double wanted = in_micrometres(spot_at(beam, f.offset)),
                     now = in_micrometres(spot_at(beam, f.offset + state.surface_error));
        banner_title_->setText(
            moved ? tr("Focus is stale: the surface now sits %1 mm %2 the lens.")
                        .arg(screen_number(std::abs(off), 2), off < 0 ? tr("nearer") : tr("farther from"))
                  : tr("Focus is stale: something it rests on has changed."));
        banner_text_->setText(tr("Confirmed on %1 mm stock. Spot %2 µm instead of %3, peak fluence %4 %.")
                                  .arg(screen_number(in_mm(f.confirmed->thickness)), screen_number(now, 2),
                                       screen_number(wanted, 2),
                                       screen_number(100 * (wanted * wanted / (now * now) - 1), 2)));
    }
    banner_->setAccessibleName(banner_title_->text());
    update();
}

void BenchStation::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme_of(this);
    painter.fillRect(rect(), t(Role::surface));
    const bool stale = workbench_.focus_state().stale();
    const QRectF bar(0, 0, width(), banner_->height());
    if (stale) {
        painter.fillRect(bar, t(Role::raised));
        painter.fillRect(QRectF(0, 0, 6, bar.height()), t(Role::warn));
    }
    paint_state(painter, QRectF(18, 19, 27, 27), stale ? State::warn : State::ok, t);
    paint_hairline(painter, {0, bar.bottom() - 0.5}, {static_cast<double>(width()), bar.bottom() - 0.5}, t(Role::rule));
    for (const Column* c : {&source_, &lens_, &stock_, &focus_}) {
        if (pages_->currentIndex() != 0)
            break;
        const double x = c->page->geometry().right() + 0.5;
        paint_hairline(painter, {x, bar.bottom()}, {x, static_cast<double>(height())}, t(Role::hair));
    }
}

} // namespace finch::app

#include "moc_bench_station.cpp"
