// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/logbook/logbook_station.h"

#include "app/session/text.h"
#include "recipe/recipe.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <QButtonGroup>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QListView>
#include <QPushButton>
#include <QScrollArea>

namespace finch::app {

using namespace Qt::StringLiterals;

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
    paint_text(*painter, QRectF(r.left() + 12, r.top() + 8, 56, 17), brief_time(q(e->when_utc), workbench_.now()),
               TextStyle::value_small, t(Role::ink2));
    paint_text(*painter, QRectF(r.left() + 12, r.top() + 25, 56, 17), q(e->by), TextStyle::value_small, t(Role::ink3));
    paint_state(*painter, QRectF(r.left() + 72, r.top() + 17, 16, 16), state_of(e->outcome), t);
    const double x = r.left() + 100, right = r.right() - 12;
    const double lot = text_width(q(e->lot), TextStyle::value_small);
    paint_text(*painter, QRectF(right - lot, r.top() + 8, lot + 1, 17), q(e->lot), TextStyle::value_small,
               t(Role::ink2));
    paint_text(*painter, QRectF(x, r.top() + 7, right - lot - x - 8, 18), q(e->title), TextStyle::head, t(Role::ink));
    paint_text(*painter, QRectF(x, r.top() + 25, right - x - 30, 17), q(e->summary), TextStyle::small, t(Role::ink2));
    if (e->id == a || e->id == b) {
        painter->setRenderHint(QPainter::Antialiasing);
        painter->setPen(QPen(t(Role::ink), 1.5));
        painter->setBrush(Qt::NoBrush);
        painter->drawEllipse(QPointF(right - 9, r.top() + 34), 9, 9);
        paint_text(*painter, QRectF(right - 18, r.top() + 25, 18, 18), e->id == a ? u"A"_s : u"B"_s, TextStyle::head,
                   t(Role::ink), Qt::AlignCenter);
    }
}

LogbookStation::LogbookStation(Workbench& workbench, LogbookDesk& desk, LogbookExchange& exchange, QWidget* parent)
    : QWidget(parent), workbench_(workbench), desk_(desk), exchange_(exchange), model_(new EntryModel(desk, this)),
      delegate_(new EntryDelegate(workbench, this)), list_(new QListView(this)), words_(new QLineEdit(this)),
      count_(new QLabel(this)), hint_(new QLabel(this)), compare_(new QPushButton(tr("Compare with…"), this)),
      take_(new QPushButton(tr("Put on the bench"), this)), detail_(new EntryDetail(desk, workbench, this)) {
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
    for (const auto& [text, name] :
         {std::pair{tr("All"), u"log_all"_s}, std::pair{tr("Sheets"), u"log_sheets"_s},
          std::pair{tr("Readings"), u"log_readings"_s}, std::pair{tr("Recipes"), u"log_recipes"_s},
          std::pair{tr("Bench"), u"log_bench"_s}}) {
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
    connect(model_, &EntryModel::loaded, this, &LogbookStation::model_loaded);
    connect(detail_, &EntryDetail::failed, &workbench_, &Workbench::fail);
    connect(&exchange_, &LogbookExchange::exported, this,
            [this](const QString& path) { workbench_.say(tr("Written to %1.").arg(path)); });
    connect(&exchange_, &LogbookExchange::imported, this, [this](int added) {
        reload();
        workbench_.say(tr("%1 entries added; those already here were left alone.").arg(added));
    });
    connect(&exchange_, &LogbookExchange::failed, &workbench_, &Workbench::fail);
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
    if (const Entry* e = model_->entry(list_->currentIndex()); e != nullptr && wanted_ == 0)
        wanted_ = e->id;
    refilter();
}

void LogbookStation::refilter() {
    model_->set_filter(filter());
}

void LogbookStation::model_loaded() {
    count_->setText(u"  "_s + (model_->total() == 1 ? tr("1 entry") : tr("%1 entries").arg(model_->total())));
    const QModelIndex again = model_->index_of(wanted_);
    wanted_ = 0;
    list_->setCurrentIndex(again.isValid() ? again : model_->index(0));
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
    wanted_ = id;
    refilter();
}

void LogbookStation::take_recipe() {
    const Entry* head = model_->entry(list_->currentIndex());
    if (head == nullptr)
        return;
    desk_.ask(
        this, [id = head->id](Logbook& book) { return book.entry(id); },
        [this](const Expected<Entry>& entry) {
            if (entry)
                put_on_bench(*entry);
            else
                workbench_.fail(entry.error());
        });
}

void LogbookStation::put_on_bench(const Entry& e) {
    const auto recipe = recipe_from_json(e.body.value("recipe", nlohmann::json()), "");
    if (!recipe)
        return workbench_.fail(recipe.error());
    const bool same_lot = e.lot == workbench_.draft().setup.stock.lot && e.metal == workbench_.metal().name &&
                          e.bench == workbench_.bench().name;
    workbench_.change(tr("take recipe"), {}, [&](Draft& d) {
        d.recipe = *recipe;
        d.saved = *recipe;
        d.cell.reset();
    });
    if (same_lot)
        workbench_.say(tr("Recipe \u201c%1\u201d is on the bench.").arg(q(recipe->name)));
    else
        workbench_.say(
            tr("Recipe \u201c%1\u201d is on the bench, but it was proved on %2, %3, lot %4: burn a small sheet first.")
                .arg(q(recipe->name), q(e.bench), q(e.metal), q(e.lot)),
            State::warn);
    Q_EMIT recipe_taken(*recipe);
}

void LogbookStation::ask_export() {
    auto* dialog = new QFileDialog(this, tr("Export the entries shown"), {},
                                   tr("Folder of entries with their pictures (*);;Read cells, CSV (*.csv)"));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setAcceptMode(QFileDialog::AcceptSave);
    connect(dialog, &QFileDialog::filterSelected, dialog, [dialog](const QString& chosen) {
        dialog->setDefaultSuffix(chosen.contains(u"csv"_s) ? u"csv"_s : QString());
    });
    connect(dialog, &QFileDialog::fileSelected, this, &LogbookStation::export_to);
    dialog->open();
}

void LogbookStation::export_to(const QString& path) {
    exchange_.export_to(path, filter());
}

void LogbookStation::ask_import() {
    auto* dialog =
        new QFileDialog(this, tr("Import entries of another bench"), {}, tr("Exported entries (entries.jsonl *.json)"));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setFileMode(QFileDialog::ExistingFile);
    connect(dialog, &QFileDialog::fileSelected, this, &LogbookStation::import_from);
    dialog->open();
}

void LogbookStation::import_from(const QString& path) {
    exchange_.import_from(path);
}

void LogbookStation::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme_of(this);
    painter.fillRect(rect(), t(Role::surface));
    paint_hairline(painter, {435.5, 0}, {435.5, static_cast<double>(height())}, t(Role::rule));
}

} // namespace finch::app

#include "moc_logbook_station.cpp"
