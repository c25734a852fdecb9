// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/logbook/logbook_station.h"

#include "bench/bench_json.h"
#include "document/json_fields.h"
#include "formats/data_folder.h"
#include "formats/sheet_export.h"
#include "proof/reading.h"
#include "quantity/format.h"

#include <QButtonGroup>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QListView>
#include <QPushButton>
#include <QScrollArea>
#include <algorithm>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

State state_of(Outcome o) {
    switch (o) {
    case Outcome::good: return State::ok;
    case Outcome::caution: return State::warn;
    case Outcome::bad: return State::fail;
    case Outcome::unknown: return State::unknown;
    }
    return State::unknown;
}

QString q(const std::string& s) {
    return QString::fromStdString(s);
}

QString knob_text(const Recipe& r, Knob k) {
    const KnobTraits& t = traits(k);
    return screen_number(knob_value(r, k), 4) + u" "_s + QString::fromUtf8(t.unit.data(), static_cast<qsizetype>(t.unit.size()));
}

} // namespace

void EntryDelegate::paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const {
    const auto* model = qobject_cast<const EntryModel*>(index.model());
    const Entry* e = model != nullptr ? model->entry(index) : nullptr;
    if (e == nullptr)
        return;
    const Theme& t = theme_of(option.widget);
    const QRectF r(option.rect);
    const bool selected = option.state & QStyle::State_Selected;
    if (selected || e->id == a || e->id == b) {
        painter->fillRect(r, t(Role::raised));
        painter->fillRect(QRectF(r.left(), r.top() + 1, 3, r.height() - 2), t(Role::accent));
    }
    paint_hairline(*painter, r.bottomLeft(), r.bottomRight(), t(Role::hair));
    paint_text(*painter, QRectF(r.left() + 12, r.top() + 8, 56, 17), brief_time(q(e->when_utc), workbench_.now()), TextStyle::value_small, t(Role::ink2));
    paint_text(*painter, QRectF(r.left() + 12, r.top() + 25, 56, 17), q(e->by), TextStyle::value_small, t(Role::ink3));
    paint_state(*painter, QRectF(r.left() + 72, r.top() + 17, 16, 16), state_of(e->outcome), t);
    const double x = r.left() + 100, right = r.right() - 12;
    const double lot = text_width(q(e->lot), TextStyle::value_small);
    paint_text(*painter, QRectF(right - lot, r.top() + 8, lot + 1, 17), q(e->lot), TextStyle::value_small, t(Role::ink2));
    paint_text(*painter, QRectF(x, r.top() + 7, right - lot - x - 8, 18), q(e->title), TextStyle::head, t(Role::ink));
    paint_text(*painter, QRectF(x, r.top() + 25, right - x - 30, 17), q(e->summary), TextStyle::small, t(Role::ink2));
    if (e->id == a || e->id == b) {
        painter->setRenderHint(QPainter::Antialiasing);
        painter->setPen(QPen(t(Role::ink), 1.5));
        painter->setBrush(Qt::NoBrush);
        painter->drawEllipse(QPointF(right - 9, r.top() + 34), 9, 9);
        paint_text(*painter, QRectF(right - 18, r.top() + 25, 18, 18), e->id == a ? u"A"_s : u"B"_s, TextStyle::head, t(Role::ink), Qt::AlignCenter);
    }
}

EntryDetail::EntryDetail(const Logbook* logbook, const Workbench& workbench, QWidget* parent) : Instrument(u"entry_detail"_s, parent), logbook_(logbook), workbench_(workbench) {
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
        fact(tr("Lens"), q(b.lens().name) + u", "_s + tr("spot %1 µm").arg(screen_number(in_micrometres(waist(b.lens(), b.source.wavelength).spot), 2)));
        fact(tr("Stock"), q(e->metal) + u", "_s + screen_number(in_mm(setup->stock.thickness)) + u" mm, "_s + QString::fromUtf8(word(setup->stock.finish).data(), static_cast<qsizetype>(word(setup->stock.finish).size())));
        fact(tr("Lot"), q(setup->stock.lot));
        fact(tr("Under it, held by"), q(setup->stock.under_it) + u", "_s + q(setup->stock.held_by));
        fact(tr("Temperature"), screen_number(setup->stock.start_temperature_c) + u" °C"_s);
        const auto& c = setup->focus.confirmed;
        fact(tr("Focus"), (c ? brief_time(q(c->when_utc), workbench_.now()) + u" "_s + q(c->by) : tr("not confirmed")) + tr(", offset %1 mm").arg(screen_number(in_mm(setup->focus.offset))));
    }
    const auto body = [&](const char* key) { return e->body.is_object() ? e->body.value(key, nlohmann::json()) : nlohmann::json(); };
    if (const auto recipe = recipe_from_json(body("recipe"), ""))
        for (const Knob k : all_knobs)
            fact(QString::fromUtf8(traits(k).label.data(), static_cast<qsizetype>(traits(k).label.size())), knob_text(*recipe, k));
    if (const auto sheet = sheet_from_json(body("sheet"), "")) {
        for (const SheetAxis* axis : {&sheet->across, &sheet->down})
            fact(QString::fromUtf8(traits(axis->knob).label.data(), static_cast<qsizetype>(traits(axis->knob).label.size())),
                 tr("%1 to %2 %3 in %4").arg(screen_number(axis->values.front(), 4), screen_number(axis->values.back(), 4), QString::fromUtf8(traits(axis->knob).unit.data(), static_cast<qsizetype>(traits(axis->knob).unit.size()))).arg(axis->values.size()));
        if (const auto reading = reading_from_json(body("reading"), *sheet, ""))
            fact(tr("Cells"), tr("%1 read, %2 hidden, %3 left out").arg(reading->count(CellState::read)).arg(reading->count(CellState::hidden)).arg(reading->count(CellState::left_out)));
    }
    if (const auto target = target_from_json(body("target")))
        fact(tr("Target"), q(target->name) + u" ("_s + lab_text(target->lab) + u")"_s);
    if (const auto m = body("measured"); m.is_object() && m.contains("lab"))
        fact(tr("Measured"), tr("L* a* b* %1, ΔE₀₀ %2 to the target").arg(lab_text({m["lab"][0], m["lab"][1], m["lab"][2]}), screen_number(m.value("de00_to_target", 0.0), 2)));
    for (const char* key : {"learned", "evidence"})
        if (const auto v = body(key); v.is_object()) {
            const Evidence known = evidence_from_json(v);
            fact(tr("Growth factor"), known.sheets > 0 ? tr("%1 ± %2 from %3 cells").arg(screen_number(known.growth_gain, 2), screen_number(known.growth_gain * known.gain_spread_ln, 1)).arg(known.cells) : tr("none learned"));
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
    speak(tr("What differs between A and B"), tr("%1 values differ, %2 are equal").arg(comparison_.differences.size()).arg(comparison_.equal));
    set_height(120 + (pictures_.empty() && second_pictures_.empty() ? 0 : 170) + static_cast<double>(comparison_.differences.size()) * 27 + 40);
}

void EntryDetail::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    if (!one_) {
        paint_text(painter, QRectF(0, 14, width(), 24), tr("Choose an entry to see it whole."), TextStyle::section, theme()(Role::ink));
        paint_text(painter, QRectF(0, 42, width(), 20), tr("Sheets, readings and recipes are written here by themselves, with the bench as it was."), TextStyle::body, theme()(Role::ink2));
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
    paint_text(painter, QRectF(w - 180, 8, 180, 20), brief_time(q(one_->when_utc), workbench_.now()) + u"  "_s + q(one_->by), TextStyle::value, t(Role::ink2), Qt::AlignRight | Qt::AlignVCenter);
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
            painter.drawImage(box, image.scaled(QSizeF(box.size() * devicePixelRatioF()).toSize(), Qt::IgnoreAspectRatio, Qt::SmoothTransformation));
            painter.setPen(QPen(t(Role::rule), 1));
            painter.setBrush(Qt::NoBrush);
            painter.drawRect(box);
            paint_text(painter, QRectF(x, y + 217, 300, 16), picture_names_[i] == u"rectified"_s ? tr("squared up, light evened out") : tr("photograph as taken"), TextStyle::small, t(Role::ink2));
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
        paint_text(painter, QRectF(x + 122, row, half - 122, 26), facts_[i].value, TextStyle::value_small, t(Role::ink));
        paint_hairline(painter, {x, row + 27}, {x + half, row + 27}, t(Role::hair));
    }
}

void EntryDetail::paint_two(QPainter& painter) {
    const Theme& t = theme();
    const double w = width();
    paint_text(painter, QRectF(0, 4, w, 28), tr("What differs between A and B"), TextStyle::title, t(Role::ink));
    paint_text(painter, QRectF(0, 34, w, 20), tr("only what differs; %1 equal values are hidden").arg(comparison_.equal), TextStyle::body, t(Role::ink2));
    const double ax = w * 0.36, bx = w * 0.68;
    double y = 64;
    paint_text(painter, QRectF(ax, y, bx - ax - 8, 20), tr("A  %1").arg(q(one_->title)), TextStyle::head, t(Role::ink));
    paint_text(painter, QRectF(bx, y, w - bx, 20), tr("B  %1").arg(q(two_->title)), TextStyle::head, t(Role::ink));
    paint_text(painter, QRectF(ax, y + 18, bx - ax - 8, 18), brief_time(q(one_->when_utc), workbench_.now()) + u", "_s + q(one_->by), TextStyle::small, t(Role::ink2));
    paint_text(painter, QRectF(bx, y + 18, w - bx, 18), brief_time(q(two_->when_utc), workbench_.now()) + u", "_s + q(two_->by), TextStyle::small, t(Role::ink2));
    y += 42;
    if (!pictures_.empty() || !second_pictures_.empty()) {
        painter.setRenderHint(QPainter::SmoothPixmapTransform);
        for (const auto& [pictures, x, room] : {std::tuple{&pictures_, ax, bx - ax - 12}, std::tuple{&second_pictures_, bx, w - bx}})
            if (!pictures->empty() && !pictures->front().isNull()) {
                const QImage& image = pictures->front();
                const double scale = std::min(156.0 / image.height(), room / image.width());
                const QSizeF size(image.width() * scale, image.height() * scale);
                painter.drawImage(QRectF(QPointF(x, y), size), image.scaled(QSizeF(size * devicePixelRatioF()).toSize(), Qt::IgnoreAspectRatio, Qt::SmoothTransformation));
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

LogbookStation::LogbookStation(Workbench& workbench, Logbook* logbook, QWidget* parent)
    : QWidget(parent), workbench_(workbench), logbook_(logbook), model_(new EntryModel(logbook, this)), delegate_(new EntryDelegate(workbench, this)),
      list_(new QListView(this)), words_(new QLineEdit(this)), count_(new QLabel(this)), hint_(new QLabel(this)), compare_(new QPushButton(tr("Compare with…"), this)),
      take_(new QPushButton(tr("Put on the bench"), this)), detail_(new EntryDetail(logbook, workbench, this)) {
    setObjectName(u"station_logbook"_s);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(16, 8, 16, 8);
    row->setSpacing(24);
    auto* left = new QVBoxLayout;
    left->setSpacing(10);
    auto* head = new QHBoxLayout;
    auto* title = new QLabel(tr("Logbook"), this);
    title->setFont(text_font(TextStyle::title));
    auto* import_button = new QPushButton(tr("Import…"), this);
    import_button->setObjectName(u"import_log"_s);
    auto* export_button = new QPushButton(tr("Export…"), this);
    export_button->setObjectName(u"export_log"_s);
    head->addWidget(title);
    head->addWidget(count_, 1);
    head->addWidget(import_button);
    head->addWidget(export_button);
    left->addLayout(head);
    words_->setObjectName(u"log_words"_s);
    words_->setAccessibleName(tr("Filter the logbook"));
    words_->setPlaceholderText(tr("lot, recipe, metal, operator, words"));
    words_->setClearButtonEnabled(true);
    words_->setMinimumHeight(34);
    left->addWidget(words_);
    auto* group = new QButtonGroup(this);
    auto* segment = new QHBoxLayout;
    segment->setSpacing(0);
    for (const auto& [text, name] : {std::pair{tr("All"), u"log_all"_s}, std::pair{tr("Sheets"), u"log_sheets"_s}, std::pair{tr("Readings"), u"log_readings"_s}, std::pair{tr("Recipes"), u"log_recipes"_s}, std::pair{tr("Bench"), u"log_bench"_s}}) {
        auto* b = new QPushButton(text, this);
        b->setObjectName(name);
        b->setProperty("segment", true);
        b->setCheckable(true);
        group->addButton(b, static_cast<int>(kinds_.size()));
        kinds_.push_back(b);
        segment->addWidget(b, 1);
    }
    kinds_.front()->setChecked(true);
    left->addLayout(segment);
    list_->setObjectName(u"log_list"_s);
    list_->setAccessibleName(tr("Entries"));
    list_->setModel(model_);
    list_->setItemDelegate(delegate_);
    list_->setFixedWidth(408);
    list_->setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    left->addWidget(list_, 1);
    row->addLayout(left);
    auto* right = new QVBoxLayout;
    right->setSpacing(8);
    auto* scroll = new QScrollArea(this);
    scroll->setWidgetResizable(true);
    scroll->setWidget(detail_);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->viewport()->setAutoFillBackground(false);
    detail_->setAutoFillBackground(false);
    right->addWidget(scroll, 1);
    auto* foot = new QHBoxLayout;
    hint_->setWordWrap(true);
    compare_->setObjectName(u"log_compare"_s);
    take_->setObjectName(u"log_take"_s);
    take_->setProperty("primary", true);
    foot->addWidget(hint_, 1);
    foot->addWidget(compare_);
    foot->addWidget(take_);
    right->addLayout(foot);
    row->addLayout(right, 1);
    connect(words_, &QLineEdit::textChanged, this, &LogbookStation::refilter);
    connect(group, &QButtonGroup::idClicked, this, &LogbookStation::refilter);
    connect(list_->selectionModel(), &QItemSelectionModel::currentChanged, this, &LogbookStation::selection_changed);
    connect(export_button, &QPushButton::clicked, this, &LogbookStation::ask_export);
    connect(import_button, &QPushButton::clicked, this, &LogbookStation::ask_import);
    connect(model_, &EntryModel::failed, &workbench_, &Workbench::fail);
    connect(compare_, &QPushButton::clicked, this, [this] {
        const Entry* e = model_->entry(list_->currentIndex());
        pinned_ = pinned_ != 0 || e == nullptr ? 0 : e->id;
        selection_changed();
    });
    connect(take_, &QPushButton::clicked, this, &LogbookStation::take_recipe);
    reload();
}

EntryFilter LogbookStation::filter() const {
    EntryFilter f;
    f.words = words_->text().toStdString();
    for (std::size_t i = 1; i < kinds_.size(); ++i)
        if (kinds_[i]->isChecked())
            f.kind = static_cast<EntryKind>(i - 1);
    return f;
}

void LogbookStation::reload() {
    const Entry* e = model_->entry(list_->currentIndex());
    const long long current = e != nullptr ? e->id : 0;
    refilter();
    const QModelIndex again = model_->index_of(current);
    list_->setCurrentIndex(again.isValid() ? again : model_->index(0));
}

void LogbookStation::refilter() {
    model_->set_filter(filter());
    if (logbook_ != nullptr)
        if (const auto n = logbook_->count(filter()))
            count_->setText(u"  "_s + (*n == 1 ? tr("1 entry") : tr("%1 entries").arg(*n)));
    selection_changed();
}

void LogbookStation::selection_changed() {
    const Entry* e = model_->entry(list_->currentIndex());
    const bool two = pinned_ != 0 && e != nullptr && e->id != pinned_;
    delegate_->a = pinned_;
    delegate_->b = two ? e->id : 0;
    compare_->setText(pinned_ != 0 ? tr("End comparison") : tr("Compare with…"));
    compare_->setEnabled(e != nullptr);
    take_->setVisible(!two && e != nullptr && e->kind == EntryKind::recipe);
    hint_->setText(pinned_ != 0 && !two ? tr("Now choose the other entry in the list.") : QString());
    if (two)
        detail_->show_comparison(pinned_, e->id);
    else if (e != nullptr)
        detail_->show_entry(e->id);
    else
        detail_->clear();
    list_->viewport()->update();
}

void LogbookStation::show_entry(long long id) {
    reload();
    const QModelIndex index = model_->index_of(id);
    if (index.isValid())
        list_->setCurrentIndex(index);
}

void LogbookStation::take_recipe() {
    const Entry* head = model_->entry(list_->currentIndex());
    if (head == nullptr)
        return;
    const auto e = logbook_->entry(head->id);
    const auto recipe = e ? recipe_from_json(e->body.value("recipe", nlohmann::json()), "") : Expected<Recipe>(tl::unexpected(e.error()));
    if (!recipe)
        return workbench_.fail(recipe.error());
    const bool same_lot = e->lot == workbench_.draft().setup.stock.lot && e->metal == workbench_.metal().name && e->bench == workbench_.bench().name;
    workbench_.change(tr("take recipe"), {}, [&](Draft& d) {
        d.recipe = *recipe;
        d.saved = *recipe;
        d.cell.reset();
    });
    if (same_lot)
        workbench_.say(tr("Recipe \u201c%1\u201d is on the bench.").arg(q(recipe->name)));
    else
        workbench_.say(tr("Recipe \u201c%1\u201d is on the bench, but it was proved on %2, %3, lot %4: burn a small sheet first.").arg(q(recipe->name), q(e->bench), q(e->metal), q(e->lot)), State::warn);
    Q_EMIT recipe_taken(*recipe);
}

void LogbookStation::ask_export() {
    auto* dialog = new QFileDialog(this, tr("Export the entries shown"), {}, tr("Entries with pictures, JSON (*.json);;Read cells, CSV (*.csv)"));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setAcceptMode(QFileDialog::AcceptSave);
    dialog->setDefaultSuffix(u"json"_s);
    connect(dialog, &QFileDialog::fileSelected, this, &LogbookStation::export_to);
    dialog->open();
}

void LogbookStation::export_to(const QString& path) {
    if (logbook_ == nullptr)
        return;
    EntryFilter f = filter();
    f.limit = 1000000;
    Expected<std::string> text = std::string();
    if (path.endsWith(u".csv"_s, Qt::CaseInsensitive))
        text = export_cells_csv(*logbook_, f);
    else
        text = logbook_->export_json(f, true).map([](const nlohmann::json& j) { return j.dump(1) + "\n"; });
    if (!text)
        return workbench_.fail(text.error());
    const auto written = write_file(path, *text);
    written ? workbench_.say(tr("Written to %1.").arg(path)) : workbench_.fail(written.error());
}

void LogbookStation::ask_import() {
    auto* dialog = new QFileDialog(this, tr("Import entries of another bench"), {}, tr("Logbook entries (*.json)"));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setFileMode(QFileDialog::ExistingFile);
    connect(dialog, &QFileDialog::fileSelected, this, &LogbookStation::import_from);
    dialog->open();
}

void LogbookStation::import_from(const QString& path) {
    if (logbook_ == nullptr)
        return;
    const auto text = read_text_file(path.toStdString());
    const auto document = text ? parse_json(*text, path.toStdString()) : Expected<nlohmann::json>(tl::unexpected(text.error()));
    const auto added = document ? logbook_->import_json(*document, path.toStdString()) : Expected<int>(tl::unexpected(document.error()));
    if (!added)
        return workbench_.fail(added.error());
    reload();
    workbench_.say(tr("%1 entries added; those already here were left alone.").arg(*added));
}

void LogbookStation::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme_of(this);
    painter.fillRect(rect(), t(Role::surface));
    paint_hairline(painter, {435.5, 0}, {435.5, static_cast<double>(height())}, t(Role::rule));
}

} // namespace finch::app
