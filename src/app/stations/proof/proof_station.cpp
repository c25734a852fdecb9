// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/proof/proof_station.h"

#include "app/stations/proof/cell_table.h"
#include "app/stations/proof/corners_dialog.h"
#include "app/theme/label.h"
#include "document/json_fields.h"
#include "formats/file_out.h"
#include "formats/folders.h"
#include "formats/sheet_export.h"
#include "quantity/format.h"
#include "vision/fiducials.h"

#include <nlohmann/json.hpp>
#include <QButtonGroup>
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QInputDialog>
#include <QLabel>
#include <QMimeData>
#include <QProgressBar>
#include <QPushButton>
#include <QStackedWidget>
#include <QTableView>

namespace finch::app {

using namespace Qt::StringLiterals;

ProofStation::ProofStation(Workbench& workbench, ProofFlow& flow, AimFlow& aims, ControlKeeper& controls,
                           QWidget* parent)
    : QWidget(parent), workbench_(workbench), flow_(flow), controls_(controls), pages_(new QStackedWidget(this)),
      tune_(new TunePage(workbench, aims, this)), plan_(new PlanPage(workbench, flow, this)),
      palette_(new PalettePage(workbench, flow, this)), focus_(new FocusPage(workbench, flow, this)) {
    setObjectName(u"station_proof"_s);
    setAcceptDrops(true);
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(16, 8, 16, 8);
    box->setSpacing(6);
    box->addWidget(make_header());
    progress_ = new QProgressBar(this);
    progress_->setObjectName(u"burn_progress"_s);
    progress_->setTextVisible(false);
    progress_->setRange(0, 1000);
    progress_->setAccessibleName(tr("Progress"));
    QSizePolicy keep = progress_->sizePolicy();
    keep.setRetainSizeWhenHidden(true);
    progress_->setSizePolicy(keep);
    box->addWidget(progress_);
    pages_->addWidget(tune_);
    pages_->addWidget(plan_);
    pages_->addWidget(make_sheet_page());
    table_ = new QTableView(this);
    table_->setObjectName(u"cell_table"_s);
    table_->setAccessibleName(tr("Cells as a table"));
    model_ = new CellTable(workbench_, table_);
    table_->setModel(model_);
    table_->verticalHeader()->hide();
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    pages_->addWidget(table_);
    pages_->addWidget(palette_);
    pages_->addWidget(focus_);
    box->addWidget(pages_, 1);
    plan_soon_.setSingleShot(true);
    plan_soon_.setInterval(10);
    connect(&plan_soon_, &QTimer::timeout, this, [this] {
        tune_->refresh();
        plan_->refresh();
    });
    connect(plan_, &PlanPage::plan_asked, this, &ProofStation::plan);
    connect(plan_, &PlanPage::design_asked, this, &ProofStation::design);
    connect(plan_, &PlanPage::openings_asked, this, &ProofStation::ask_openings);
    connect(&flow_, &ProofFlow::sheet_designed, this, [this] { show_page(Page::sheet); });
    connect(palette_, &PalettePage::chosen_changed, this, &ProofStation::refresh_act);
    connect(palette_, &PalettePage::gaps_planned, this, [this] { show_page(Page::sheet); });
    connect(focus_, &FocusPage::finding_changed, this, &ProofStation::refresh_act);
    connect(focus_, &FocusPage::ladder_planned, this, [this] { show_page(Page::sheet); });
    connect(plan_, &PlanPage::save_asked, this, &ProofStation::ask_save_recipe);
    connect(&workbench_, &Workbench::changed, this, &ProofStation::refresh);
    connect(&flow_, &ProofFlow::step_changed, this, &ProofStation::refresh_step);
    show_page(workbench_.rounds().empty() ? Page::tune : Page::sheet);
    refresh_step();
}

QWidget* ProofStation::make_header() {
    auto* header = new QWidget(this);
    auto* row = new QHBoxLayout(header);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(8);
    title_ = new QLabel(header);
    title_->setFont(text_font(TextStyle::title));
    title_->setObjectName(u"proof_title"_s);
    subtitle_ = new ElidedLabel(u"proof_subtitle"_s, TextStyle::body, Role::ink2, header);
    subtitle_->setMinimumHeight(20);
    row->addWidget(title_);
    row->addSpacing(6);
    row->addWidget(subtitle_, 1);
    auto* group = new QButtonGroup(this);
    auto* segment = new QHBoxLayout;
    segment->setSpacing(0);
    for (const auto& [text, name] :
         {std::pair{tr("Tune"), u"page_tune"_s}, std::pair{tr("Plan"), u"page_plan"_s},
          std::pair{tr("Sheet"), u"page_sheet"_s}, std::pair{tr("Table"), u"page_table"_s},
          std::pair{tr("Palette"), u"page_palette"_s}, std::pair{tr("Focus"), u"page_focus"_s}}) {
        auto* b = new QPushButton(text, header);
        b->setObjectName(name);
        b->setProperty("segment", true);
        b->setCheckable(true);
        b->setFixedWidth(QFontMetrics(b->font()).horizontalAdvance(text) + 24);
        group->addButton(b, static_cast<int>(segments_.size()));
        segments_.push_back(b);
        segment->addWidget(b);
    }
    row->addLayout(segment);
    connect(group, &QButtonGroup::idClicked, this, [this](int id) { show_page(static_cast<Page>(id)); });
    export_ = new QPushButton(tr("Export…"), header);
    export_->setObjectName(u"export_sheet"_s);
    read_ = new QPushButton(tr("Read…"), header);
    read_->setToolTip(tr("Read photographs of the sheet"));
    read_->setObjectName(u"read_photo"_s);
    save_ = new QPushButton(tr("Save…"), header);
    save_->setToolTip(tr("Save the recipe with its evidence"));
    save_->setObjectName(u"save_from_sheet"_s);
    act_ = new QPushButton(header);
    act_->setObjectName(u"next_act"_s);
    act_->setProperty("primary", true);
    act_->setMinimumWidth(120);
    for (QPushButton* b : {export_, read_, save_, act_})
        row->addWidget(b);
    connect(save_, &QPushButton::clicked, this, &ProofStation::ask_save_recipe);
    connect(export_, &QPushButton::clicked, this, &ProofStation::ask_export);
    connect(read_, &QPushButton::clicked, this, &ProofStation::ask_photo_file);
    connect(&flow_, &ProofFlow::sheet_not_found, this, &ProofStation::ask_corners);
    connect(act_, &QPushButton::clicked, this, &ProofStation::act);
    return header;
}

QWidget* ProofStation::make_sheet_page() {
    auto* page = new QWidget(this);
    auto* box = new QVBoxLayout(page);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(8);
    rounds_ = new RoundStrip(page);
    box->addWidget(rounds_);
    scrap_ = plain_label({}, TextStyle::body, page);
    scrap_->setObjectName(u"scrap_line"_s);
    box->addWidget(scrap_);
    sheet_ = new SheetWidget(u"sheet"_s, page);
    ranking_ = new RankingPanel(page);
    detail_ = new CellPanel(page);
    connect(detail_, &CellPanel::spoiled_ticked, this, &ProofStation::tick_spoiled);
    connect(detail_, &CellPanel::depth_typed, this, &ProofStation::type_depth);
    time_ = new TimePanel(page);
    detail_->setFixedHeight(146);
    time_->setFixedHeight(146);
    time_->setFixedWidth(224);
    auto* upper = new QHBoxLayout;
    upper->setSpacing(16);
    upper->addWidget(sheet_, 1);
    upper->addWidget(ranking_);
    compare_ = new ComparePanel(page);
    upper->addWidget(compare_);
    lot_ = new LotPanel(page);
    upper->addWidget(lot_);
    answer_ = new AnswerPanel(page);
    upper->addWidget(answer_);
    connect(&controls_, &ControlKeeper::changed, this, &ProofStation::refresh);
    box->addLayout(upper, 1);
    auto* lower = new QHBoxLayout;
    lower->setSpacing(16);
    lower->addWidget(detail_, 1);
    lower->addWidget(time_);
    box->addLayout(lower);
    connect(rounds_, &RoundStrip::asked, &flow_, &ProofFlow::show_sheet);
    connect(sheet_, &SheetWidget::chosen, &flow_, &ProofFlow::choose_cell);
    connect(ranking_, &RankingPanel::asked, &flow_, &ProofFlow::choose_cell);
    return page;
}

void ProofStation::show_page(Page page) {
    pages_->setCurrentIndex(static_cast<int>(page));
    segments_[static_cast<std::size_t>(page)]->setChecked(true);
    refresh();
}

void ProofStation::switch_lines() {
    lines_ = lines_ == LevelKind::pulses_per_mm2 ? LevelKind::areal_dose_j_mm2 : LevelKind::pulses_per_mm2;
    refresh();
}

void ProofStation::refresh() {
    const Draft& d = workbench_.draft();
    const Round* r = workbench_.round();
    const bool planning = pages_->currentIndex() <= static_cast<int>(Page::plan);
    const bool palette = pages_->currentWidget() == palette_, focus = pages_->currentWidget() == focus_;
    if (focus) {
        const Round* ladder = focus_->ladder();
        title_->setText(ladder != nullptr ? tr("Focus ladder %1").arg(ladder->sheet.number, 2, 10, QChar(u'0'))
                                          : tr("Focus"));
        subtitle_->set_text(focus_->subtitle());
    } else if (palette) {
        title_->setText(tr("Palette"));
        subtitle_->set_text(tr("what this bench reaches on lot %1").arg(q(d.setup.stock.lot)));
    } else if (planning || r == nullptr) {
        const QString name = d.recipe.name.empty() ? tr("New recipe") : QString::fromStdString(d.recipe.name);
        title_->setText(QFontMetricsF(title_->font()).elidedText(name, Qt::ElideRight, 330));
        title_->setToolTip(name);
        subtitle_->set_text(tr("for %1").arg(QString::fromStdString(d.target.name)));
    } else {
        title_->setText(tr("Proof sheet %1").arg(r->sheet.number, 2, 10, QChar(u'0')));
        subtitle_->set_text(QString::fromStdString(r->sheet.aim));
    }
    export_->setEnabled(r != nullptr);
    read_->setEnabled(r != nullptr && flow_.step() == ProofFlow::Step::idle);
    refresh_act();
    const bool tuning = pages_->currentIndex() == static_cast<int>(Page::tune);
    save_->setVisible(tuning || palette || (!planning && !focus && d.cell.has_value()));
    for (QPushButton* b : {export_, read_})
        b->setVisible(!planning && !palette && !focus);
    if (planning) {
        // The consequences are painted first; the nine rows follow a blink later, once for several moves.
        plan_soon_.start();
    } else if (pages_->currentIndex() == static_cast<int>(Page::sheet)) {
        const auto ranked = flow_.ranking();
        rounds_->show_rounds(round_views(workbench_));
        sheet_->show_view(sheet_view(workbench_, ranked, lines_));
        show_scrap(r);
        show_answer(r, ranked);
        detail_->show_detail(cell_detail(workbench_), r == nullptr ? tr("Plan a sheet first.")
                                                                   : tr("Click a cell, or move with the arrow keys."));
        time_->show_times(workbench_);
    } else if (palette) {
        palette_->refresh();
    } else if (focus) {
        focus_->refresh();
    } else {
        static_cast<CellTable*>(model_)->reload();
    }
}

NextAct ProofStation::act_now() const {
    const bool planning = pages_->currentIndex() <= static_cast<int>(Page::plan);
    return planning && flow_.step() == ProofFlow::Step::idle ? NextAct::plan : next_act(workbench_, flow_);
}

ProofStation::Taking ProofStation::taking() const {
    if (flow_.step() != ProofFlow::Step::idle) // a sheet that burns meanwhile can be cancelled from every page
        return Taking::nothing;
    if (pages_->currentWidget() == palette_)
        return Taking::colour;
    // A ladder that is not read yet is burned and photographed from its page as well.
    const Round* ladder = focus_->ladder();
    const bool open = ladder != nullptr && ladder == workbench_.round() && !ladder->reading;
    return pages_->currentWidget() == focus_ && !open ? Taking::focus : Taking::nothing;
}

void ProofStation::refresh_act() {
    const NextAct act = act_now();
    const Taking take = taking();
    act_->setText(take == Taking::colour  ? tr("Take these values")
                  : take == Taking::focus ? focus_->take_text()
                                          : next_act_text(workbench_, act));
    act_->setEnabled(take == Taking::colour  ? palette_->can_take()
                     : take == Taking::focus ? focus_->can_take()
                                             : act != NextAct::wait);
    act_->setVisible(take != Taking::nothing || pages_->currentIndex() != static_cast<int>(Page::plan) ||
                     act != NextAct::plan);
}

void ProofStation::refresh_step() {
    const ProofFlow::Step step = flow_.step();
    progress_->setVisible(step != ProofFlow::Step::idle);
    if (step == ProofFlow::Step::burning) {
        progress_->setRange(0, 1000);
        progress_->setValue(static_cast<int>(1000 * flow_.progress()));
    } else
        progress_->setRange(0, 0);
    refresh();
}

void ProofStation::design() {
    flow_.design();
}

void ProofStation::tick_spoiled(bool spoiled) {
    if (const auto cell = workbench_.draft().cell)
        flow_.tick_spoiled(*cell, spoiled);
}

void ProofStation::type_depth(const QString& text) {
    const auto cell = workbench_.draft().cell;
    if (!cell)
        return;
    if (text.isEmpty())
        return flow_.note_depth(*cell, std::nullopt, 0);
    const auto depth = depth_from_text(text.toStdString());
    if (!depth) {
        refresh(); // shows again what is kept
        return workbench_.fail(depth.error());
    }
    flow_.note_depth(*cell, depth->um, depth->within_um);
}

void ProofStation::toggle_spoiled() {
    const Round* r = workbench_.round();
    const auto cell = workbench_.draft().cell;
    if (r == nullptr || !r->reading || !cell || *cell >= r->reading->cells.size())
        return workbench_.say(tr("Choose a cell that was read."), State::warn);
    tick_spoiled(!r->reading->cells[*cell].spoiled);
}

void ProofStation::plan() {
    const auto before = workbench_.rounds().size();
    flow_.plan(plan_->leave_out_hopeless());
    if (workbench_.rounds().size() > before)
        show_page(Page::sheet);
}

void ProofStation::act() {
    if (const Taking take = taking(); take != Taking::nothing)
        return take == Taking::colour ? palette_->take() : focus_->take();
    switch (act_now()) {
    case NextAct::plan:
        plan();
        break;
    case NextAct::burn:
        flow_.burn();
        break;
    case NextAct::cancel:
        flow_.cancel();
        break;
    case NextAct::photograph:
        flow_.photograph();
        break;
    case NextAct::measure:
        ask_depths();
        break;
    case NextAct::plan_next:
        flow_.plan_next();
        break;
    case NextAct::see_focus:
        show_page(Page::focus);
        break;
    case NextAct::take_dose:
        take_dose();
        break;
    case NextAct::take_offset:
        take_offset();
        break;
    case NextAct::tune:
        show_page(Page::tune);
        break;
    case NextAct::wait:
        break;
    }
}

void ProofStation::ask_save_recipe() {
    auto* dialog = new QInputDialog(this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setObjectName(u"recipe_name"_s);
    dialog->setWindowTitle(tr("Save recipe"));
    dialog->setLabelText(tr("Name of the recipe"));
    const Draft& d = workbench_.draft();
    dialog->setTextValue(d.recipe.name.empty() ? QString::fromStdString(d.target.name) + u" on "_s +
                                                     QString::fromStdString(workbench_.metal().name)
                                               : QString::fromStdString(d.recipe.name));
    connect(dialog, &QInputDialog::textValueSelected, &flow_, &ProofFlow::save_recipe);
    dialog->open();
}

void ProofStation::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme_of(this);
    painter.fillRect(rect(), t(Role::surface));
    paint_hairline(painter, {16, 52.5}, {width() - 16.0, 52.5}, t(Role::hair));
}

} // namespace finch::app

#include "moc_proof_station.cpp"
