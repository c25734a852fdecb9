// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/main_window.h"

#include "app/actions/command_list.h"
#include "app/session/aim_flow.h"
#include "app/shell/bench_line.h"
#include "app/shell/consequences_panel.h"
#include "app/shell/status_line.h"
#include "app/stations/aim/aim_station.h"
#include "app/stations/aim/borrow_dialog.h"
#include "app/stations/aim/carry_dialog.h"
#include "app/stations/bench/bench_station.h"
#include "app/stations/logbook/logbook_station.h"
#include "app/stations/piece/piece_station.h"
#include "app/stations/proof/proof_station.h"
#include "app/stations/run/run_station.h"

#include <algorithm>
#include <QApplication>
#include <QClipboard>
#include <QCloseEvent>
#include <QDialog>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenuBar>
#include <QMessageBox>
#include <QPushButton>
#include <QSettings>
#include <QStackedWidget>
#include <QVBoxLayout>

namespace finch::app {

using namespace Qt::StringLiterals;

MainWindow::MainWindow(Workshop& workshop, QWidget* parent)
    : QMainWindow(parent), shop_(workshop), workbench_(workshop.workbench()), flow_(workshop.flow()),
      actions_(new ActionRegistry(this)),
      bench_line_(new BenchLine(workbench_, workshop.bench().laser(), workshop.run(), this)),
      stations_(new QStackedWidget(this)), aims_(new AimFlow(workbench_, workshop.benches(), this)),
      bench_(new BenchStation(workbench_, workshop.benches(), this)), aim_(new AimStation(workbench_, *aims_, this)),
      proof_(new ProofStation(workbench_, flow_, *aims_, workshop.controls(), this)),
      piece_(new PieceStation(workbench_, workshop.timer(), this)),
      run_(new RunStation(workbench_, workshop.run(), this)),
      log_(new LogbookStation(workbench_, workshop.desk(), workshop.exchange(), this)),
      consequences_(new ConsequencesPanel(workbench_, this)), status_(new StatusLine(this)) {
    setObjectName(u"main_window"_s);
    setWindowTitle(workshop.name() + (workshop.look_only() ? tr(" (looking only)") : QString()) +
                   u" \u2014 Gilded Finch"_s);
    setMinimumSize(1180, 720);
    make_stations();
    auto* page = new QWidget(this);
    auto* column = new QVBoxLayout(page);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(bench_line_);
    auto* row = new QHBoxLayout;
    row->setSpacing(0);
    row->addWidget(perch_);
    row->addWidget(stations_, 1);
    row->addWidget(consequences_);
    column->addLayout(row, 1);
    column->addWidget(status_);
    setCentralWidget(page);
    make_actions();
    make_menus();
    wire();
    use_theme(u"paper"_s);
    restore_state();
    refresh_marks();
    for (const Error& e : workshop.troubles())
        workbench_.fail(e);
}

void MainWindow::make_stations() {
    const auto focus = [this] {
        return workbench_.focus_state().stale() ? Perch::Mark::unfinished : Perch::Mark::carried;
    };
    const auto aim = [this] {
        return workbench_.draft().aim.wishes.empty() ? Perch::Mark::none : Perch::Mark::carried;
    };
    const auto proof = [this] {
        const Draft& d = workbench_.draft();
        const bool unfinished = workbench_.round() != nullptr && (!d.saved || !(d.saved->setting == d.recipe.setting));
        return unfinished ? Perch::Mark::unfinished : d.saved ? Perch::Mark::carried : Perch::Mark::none;
    };
    const auto piece = [this] {
        const auto layers = piece_->reader().layers();
        const bool settled = !layers.empty() && std::ranges::all_of(layers, [](const PieceLayer& l) {
            return l.choice.guide || (l.choice.recipe && !l.taken_elsewhere);
        });
        return layers.empty() ? Perch::Mark::none : settled ? Perch::Mark::carried : Perch::Mark::unfinished;
    };
    const auto run = [this] {
        const RunFlow::Step step = shop_.run().step();
        return step == RunFlow::Step::none   ? Perch::Mark::none
               : step == RunFlow::Step::over ? Perch::Mark::carried
                                             : Perch::Mark::unfinished;
    };
    table_ = {
        {1,
         u"bench"_s,
         u"anvil"_s,
         tr("Bench"),
         tr("What is in front of you"),
         tr("What is in front of you, each part drawn to scale. Change a value in any unit, for example 1.5 thou or "
            "2*0.8 mm. Nothing is burned while the focus is stale."),
         {{u"column_source"_s, tr("Source"), tr("What the laser can do: power, pulse widths and frequencies.")},
          {u"column_lens"_s, tr("Lens"), tr("Its field, spot and depth of focus.")},
          {u"column_stock"_s, tr("Stock"), tr("Metal, finish, coat and thickness; a lot has its own evidence.")},
          {u"column_focus"_s, tr("Focus"), tr("Confirm it whenever bench, lens, stock or offset changed.")},
          {u"setup_arithmetic"_s, tr("Set-up arithmetic"), tr("Shims, column, field, round parts, offsets.")}},
         bench_,
         true,
         focus},
        {2,
         u"aim"_s,
         u"crosshair"_s,
         tr("Aim"),
         tr("What must come out"),
         tr("Say what must come out, as targets that can be checked. Every process that this bench can do is planned "
            "and judged against each of them."),
         {{u"add_target"_s, tr("Add target"), tr("Dark, a colour, depth, rust, time, cost and more.")},
          {u"wishes"_s, tr("Targets"),
           tr("Click one to edit it, its badge to make it a must or a wish; Delete removes it.")},
          {u"judgement_board"_s, tr("Columns"),
           tr("One process each, best first. A tick passes, a cross fails; unknown counts neither way. Start with one "
              "to tune and prove it.")}},
         aim_,
         true,
         aim},
        {3,
         u"proof"_s,
         u"grid-3x3"_s,
         tr("Proof"),
         tr("Find the setting on scrap"),
         tr("Choose a target, two knobs and their ranges; plan and burn a sheet; read its photograph; choose the best "
            "cell; plan a narrower sheet or save the recipe."),
         {{u"knob_power_percent"_s, tr("Knobs"),
           tr("Type in any unit. Up and down step; Shift ten times, Alt a tenth.")},
          {u"heat_advice"_s, tr("More or less heat"), tr("Which knob to turn, and what else that changes.")},
          {u"regime_map"_s, tr("Map"), tr("What happens over any two knobs: click it to move both.")},
          {u"surface"_s, tr("Surface"), tr("Pulses, lines and metal of this recipe, drawn to scale.")},
          {u"sheet"_s, tr("Sheet"),
           tr("Upper left of a cell is predicted, lower right measured; numbers are colour differences to the target. "
              "Arrow keys move.")},
          {u"plan_preview"_s, tr("Sheet to come"), tr("As it will be burned, with what is expected of each cell.")},
          {u"ranking"_s, tr("Ranking"), tr("Cells by closeness, evenness and time.")},
          {u"focus_chart"_s, tr("Focus ladder"),
           tr("Marks by offset; the needle stands where they mirror each other.")},
          {u"next_act"_s, tr("Next step"), tr("The one thing to do now.")}},
         proof_,
         false,
         proof},
        {4,
         u"piece"_s,
         u"piece"_s,
         tr("Piece"),
         tr("From a drawing to a piece"),
         tr("Open a drawing. What is wrong with it is mended or ringed; each layer gets a recipe or is a guide; its "
            "lines "
            "lie there as they will be marked, and are timed."),
         {{u"open_drawing"_s, tr("Open a drawing"),
           tr("SVG, DXF, or a black and white picture; dropped ones as well.")},
          {u"drawing"_s, tr("Drawing"), tr("In the field of the lens. Click a layer or a ring.")},
          {u"layers"_s, tr("Order of work"),
           tr("Enter takes the recipe at hand, Delete makes a guide, Alt with Up and Down moves.")},
          {u"hatch_lens"_s, tr("Lens"), tr("The real lines of the chosen layer, with the spot.")},
          {u"artwork_findings"_s, tr("Artwork"), tr("What was mended, and what wants a look.")},
          {u"layer_times"_s, tr("Time"), tr("How the layers share it.")}},
         piece_,
         true,
         piece},
        {5,
         u"run"_s,
         u"play"_s,
         tr("Run"),
         tr("Ask, run, watch"),
         tr("What must be so before the beam is on, from this job's own risks; then the run, pass by pass, each "
            "written "
            "down before the next begins. It can be held, gone on with, and taken up again after a fault."),
         {{u"run_view"_s, tr("Bench"),
           tr("Parts as they lie; what is marked is darker. Arrows choose one, Delete sets it aside, Space holds.")},
          {u"gates"_s, tr("Before the start"),
           tr("Up and Down choose, Space ticks or answers. What was moved is asked again.")},
          {u"run_bar"_s, tr("Time"), tr("What is done, and what is to come.")},
          {u"run_events"_s, tr("What happened"), tr("Every pass, hold, fault and look, as it is on the disk.")}},
         run_,
         true,
         run},
        {7,
         u"logbook"_s,
         u"notebook-text"_s,
         tr("Logbook"),
         tr("What was done, and how"),
         tr("Every sheet, reading and recipe with the bench as it was at that moment."),
         {{u"log_words"_s, tr("Filter"), tr("Words that must all be there: metal, lot, recipe, operator.")},
          {u"log_list"_s, tr("Entries"), tr("Choose one to see it whole; choose two to compare.")},
          {u"log_compare"_s, tr("Compare"), tr("Only what differs, the cause first.")},
          {u"log_take"_s, tr("Put on the bench"), tr("Its recipe and set-up become those at hand.")},
          {u"entry_detail"_s, tr("Entry"), tr("What was set, what was measured, its pictures.")},
          {u"export_log"_s, tr("Export"), tr("A folder of plain files that another bench imports.")}},
         log_,
         true,
         {}},
    };
    std::vector<Perch::Station> rail;
    for (const Station& s : table_) {
        rail.push_back({s.number, s.icon, s.title, {}});
        stations_->addWidget(s.page);
    }
    perch_ = new Perch(std::move(rail), this);
}

MainWindow::Station& MainWindow::current_station() {
    return table_.at(static_cast<std::size_t>(stations_->currentIndex()));
}

void MainWindow::wire() {
    connect(perch_, &Perch::asked, this, [this](int i) { show_station(static_cast<StationId>(i)); });
    connect(bench_line_, &BenchLine::asked, this, [this](int chip) {
        show_station(chip == 4 ? StationId::proof : StationId::bench);
        static const std::array names{u"bench"_s, u"lens"_s, u"metal"_s, u"focus_method"_s};
        if (chip < 4)
            if (auto* field = bench_->findChild<QWidget*>(names.at(static_cast<std::size_t>(chip))))
                field->setFocus(Qt::ShortcutFocusReason);
    });
    connect(consequences_, &ConsequencesPanel::fold_asked, this,
            [this] { fold_consequences(!consequences_->folded()); });
    connect(&workbench_, &Workbench::said, status_, &StatusLine::say);
    connect(&workbench_, &Workbench::changed, this, &MainWindow::refresh_marks);
    connect(&piece_->reader(), &PieceReader::changed, this, &MainWindow::refresh_marks);
    connect(&proof_->palette(), &PalettePage::layers_asked, this, [this] {
        show_station(StationId::piece);
        piece_->ask_colours();
    });
    connect(piece_, &PieceStation::run_asked, this, &MainWindow::hand_over);
    connect(&shop_.run(), &RunFlow::changed, this, &MainWindow::refresh_marks);
    const auto clock = [this] { return workbench_.now().toLocalTime().toString(u"HH:mm"_s); };
    connect(&shop_.recorder(), &Recorder::written, this, [this, clock] {
        status_->saved(tr("Saved to logbook %1").arg(clock()));
        log_->reload();
        shop_.history().look_up();
    });
    connect(&shop_.recorder(), &Recorder::delayed, this, [this](const Error& e) { workbench_.fail(e); });
    connect(&flow_, &ProofFlow::step_changed, this, [this] { status_->progress(flow_.progress_text()); });
    connect(&shop_.exchange(), &LogbookExchange::progressed, status_, &StatusLine::progress);
    if (shop_.autosave() != nullptr)
        connect(shop_.autosave(), &Autosave::saved, this,
                [this, clock] { status_->saved(tr("Draft kept %1").arg(clock())); });
    const auto show_tune = [this] {
        show_station(StationId::proof);
        proof_->show_page(ProofStation::Page::tune);
    };
    connect(log_, &LogbookStation::recipe_taken, this, show_tune);
    connect(aims_, &AimFlow::taken, this, show_tune);
}

MainWindow::~MainWindow() = default;

void MainWindow::add(const QString& id, const QString& text, const QString& help, const QKeySequence& keys,
                     const QString& menu, const std::function<void()>& run) {
    actions_->add({id, text, help, keys, menu}, run);
}

void MainWindow::make_actions() {
    Workbench& w = workbench_;
    const QString workshop = tr("Workshop"), edit = tr("Edit"), view = tr("View"), station = tr("Station"),
                  help = tr("Help");
    add(u"workshop.export"_s, tr("Export the sheet…"), tr("Write the shown sheet as SVG, CSV, JSON or PDF"),
        QKeySequence(u"Ctrl+E"_s), workshop, [this] { proof_->ask_export(); });
    add(u"workshop.export_log"_s, tr("Export the logbook…"), tr("Write the entries shown, with pictures"), {}, workshop,
        [this] { log_->ask_export(); });
    add(u"workshop.import_log"_s, tr("Import entries…"), tr("Add the entries of another bench"), {}, workshop,
        [this] { log_->ask_import(); });
    add(u"workshop.quit"_s, tr("Quit"), tr("Close the program; the draft is kept"), QKeySequence::Quit, workshop,
        [this] { close(); });
    add(u"edit.undo"_s, tr("Undo"), tr("Take back the last change"), QKeySequence::Undo, edit,
        [&w] { w.undo_stack().undo(); });
    add(u"edit.redo"_s, tr("Redo"), tr("Make the change again"), QKeySequence::Redo, edit,
        [&w] { w.undo_stack().redo(); });
    add(u"edit.copy_cells"_s, tr("Copy cells as CSV"), tr("Put the cells of the sheet on the clipboard"),
        QKeySequence(u"Ctrl+Shift+C"_s), edit, [this] { QApplication::clipboard()->setText(proof_->table_csv()); });
    add(u"edit.copy_picture"_s, tr("Copy the window as a picture"), tr("Put a picture of the window on the clipboard"),
        {}, edit, [this] { QApplication::clipboard()->setPixmap(grab()); });
    add(u"view.theme"_s, tr("Light or dark surroundings"), tr("Switch between Paper and Workshop"),
        QKeySequence(u"Ctrl+T"_s), view, [this] { use_theme(theme_of(this).dark() ? u"paper"_s : u"workshop"_s); });
    add(u"view.consequences"_s, tr("Fold the consequences"), tr("Hide or show the right-hand panel"),
        QKeySequence(Qt::Key_F9), view, [this] { fold_consequences(!consequences_->folded()); });
    add(u"view.tune"_s, tr("Tune"), tr("Show the knobs, the regime map and the surface"), QKeySequence(u"Alt+1"_s),
        view, [this] {
            show_station(StationId::proof);
            proof_->show_page(ProofStation::Page::tune);
        });
    add(u"view.plan"_s, tr("Plan"), tr("Show the plan of the next sheet"), QKeySequence(u"Alt+2"_s), view, [this] {
        show_station(StationId::proof);
        proof_->show_page(ProofStation::Page::plan);
    });
    add(u"view.sheet"_s, tr("Sheet"), tr("Show the sheet as predicted and measured"), QKeySequence(u"Alt+3"_s), view,
        [this] {
            show_station(StationId::proof);
            proof_->show_page(ProofStation::Page::sheet);
        });
    add(u"view.table"_s, tr("Table of cells"), tr("Show all cells with their numbers"), QKeySequence(u"Alt+4"_s), view,
        [this] {
            show_station(StationId::proof);
            proof_->show_page(ProofStation::Page::table);
        });
    add(u"view.palette"_s, tr("Palette"), tr("Show the colours that this bench makes on this lot"),
        QKeySequence(u"Alt+5"_s), view, [this] {
            show_station(StationId::proof);
            proof_->show_page(ProofStation::Page::palette);
        });
    add(u"view.focus"_s, tr("Focus"), tr("Show where the focus is, by the newest ladder"), QKeySequence(u"Alt+6"_s),
        view, [this] {
            show_station(StationId::proof);
            proof_->show_page(ProofStation::Page::focus);
        });
    add(u"view.lines"_s, tr("Lines of equal pulses or dose"),
        tr("Switch the lines over the sheet between pulses per mm² and dose"), QKeySequence(u"Ctrl+L"_s), view,
        [this] { proof_->switch_lines(); });
    for (std::size_t i = 0; i < table_.size(); ++i)
        add(u"station."_s + table_[i].key, table_[i].title, table_[i].what,
            QKeySequence(u"Ctrl+%1"_s.arg(table_[i].number)), station,
            [this, i] { show_station(static_cast<StationId>(i)); });
    add(u"aim.wear"_s, tr("Wear and rust"), tr("Chart of abrasion against corrosion"), {}, station,
        [this] { aim_->show_wear(); });
    make_recipe_actions();
    make_piece_actions();
    make_run_actions();
    add(u"help.commands"_s, tr("Find a command"), tr("Search everything the program can do"), QKeySequence(u"Ctrl+K"_s),
        help, [this] { show_commands(); });
    add(u"help.station"_s, tr("Help for this station"), tr("What this station is for, and its keys"),
        QKeySequence(Qt::Key_F1), help, [this] { show_help(); });
    QUndoStack& stack = w.undo_stack();
    const auto enable = [this, &stack] {
        (*actions_)[u"edit.undo"_s]->setEnabled(stack.canUndo());
        (*actions_)[u"edit.redo"_s]->setEnabled(stack.canRedo());
        (*actions_)[u"edit.undo"_s]->setText(stack.canUndo() ? tr("Undo %1").arg(stack.undoText()) : tr("Undo"));
        (*actions_)[u"edit.redo"_s]->setText(stack.canRedo() ? tr("Redo %1").arg(stack.redoText()) : tr("Redo"));
    };
    connect(&stack, &QUndoStack::indexChanged, this, enable);
    enable();
}

void MainWindow::make_menus() {
    std::vector<QString> order;
    for (const ActionInfo& info : actions_->infos())
        if (std::find(order.begin(), order.end(), info.menu) == order.end())
            order.push_back(info.menu);
    for (const QString& title : order) {
        QMenu* menu = menuBar()->addMenu(title);
        for (const ActionInfo& info : actions_->infos())
            if (info.menu == title)
                menu->addAction((*actions_)[info.id]);
    }
    auto* corner = new QWidget(menuBar());
    auto* row = new QHBoxLayout(corner);
    row->setContentsMargins(0, 0, 12, 0);
    row->setSpacing(16);
    auto* name = new QLabel(shop_.name(), corner);
    name->setFont(text_font(TextStyle::head));
    auto* find = new QPushButton(tr("Find a command   Ctrl+K"), corner);
    find->setObjectName(u"find_command"_s);
    find->setFlat(true);
    find->setStyleSheet(
        u"QPushButton { border: none; background: transparent; font-weight: 400; min-height: 20px; padding: 0 4px; }"_s);
    auto* who = new QLabel(QString::fromStdString(workbench_.draft().operator_initials), corner);
    who->setFont(text_font(TextStyle::head));
    row->addWidget(name);
    row->addSpacing(40);
    row->addWidget(find);
    row->addWidget(who);
    connect(find, &QPushButton::clicked, this, &MainWindow::show_commands);
    menuBar()->setCornerWidget(corner);
}

void MainWindow::show_station(StationId id) {
    const auto i = static_cast<int>(id);
    stations_->setCurrentIndex(i);
    perch_->set_current(i);
    consequences_->set_folded(current_station().folded);
    if (id == StationId::proof)
        proof_->show_page(workbench_.round() == nullptr ? ProofStation::Page::tune : ProofStation::Page::sheet);
}

void MainWindow::fold_consequences(bool folded) {
    current_station().folded = folded;
    consequences_->set_folded(folded);
}

void MainWindow::show_commands() {
    auto* list = new CommandList(*actions_, this);
    set_theme(list, theme_of(this));
    list->move(mapToGlobal(QPoint((width() - list->width()) / 2, 60)));
    list->show();
    if (auto* words = list->findChild<QWidget*>(u"command_words"_s))
        words->setFocus();
}

void MainWindow::show_help() {
    const Station& station = current_station();
    std::vector<GuidePart> parts = station.parts;
    const auto common = common_parts();
    parts.insert(parts.end(), common.begin(), common.end());
    auto* dialog = new GuideDialog(*centralWidget(), station.title, station.help, parts, this);
    set_theme(dialog, theme_of(this));
    dialog->open();
}

std::vector<GuidePart> MainWindow::guide_parts() const {
    std::vector<GuidePart> all = common_parts();
    for (const Station& station : table_)
        all.insert(all.end(), station.parts.begin(), station.parts.end());
    return all;
}

void MainWindow::refresh_marks() {
    for (std::size_t i = 0; i < table_.size(); ++i)
        if (table_[i].mark)
            perch_->set_mark(static_cast<int>(i), table_[i].mark());
}

void MainWindow::borrow() {
    auto* dialog = new BorrowDialog(workbench_, *aims_, this);
    set_theme(dialog, theme_of(this));
    dialog->open();
}

void MainWindow::carry() {
    auto* dialog = new CarryDialog(workbench_, *aims_, this);
    set_theme(dialog, theme_of(this));
    dialog->open();
}

QString MainWindow::status_text() const {
    return status_->text();
}

void MainWindow::use_theme(const QString& name) {
    set_theme(this, Theme::named(name));
    for (QWidget* w : findChildren<QWidget*>())
        w->update();
}

void MainWindow::restore_state() {
    const QSettings settings;
    if (!restoreGeometry(settings.value(u"window/geometry"_s).toByteArray()))
        resize(1280, 800);
    use_theme(settings.value(u"window/theme"_s, u"paper"_s).toString());
    // A workshop of one's own begins with what is in front of one.
    int shown = static_cast<int>(shop_.demo() ? StationId::proof : StationId::bench);
    for (std::size_t i = 0; i < table_.size(); ++i) {
        table_[i].folded = settings.value(u"folded/"_s + table_[i].key, table_[i].folded).toBool();
        if (settings.value(u"window/shown"_s).toString() == table_[i].key)
            shown = static_cast<int>(i);
    }
    show_station(static_cast<StationId>(shown));
}

void MainWindow::ask_before_closing(const QStringList& lost) {
    auto* dialog = new QMessageBox(QMessageBox::Warning, tr("Close the workshop?"), lost.join(u"\n"_s),
                                   QMessageBox::NoButton, this);
    dialog->setObjectName(u"close_question"_s);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    auto* stay = dialog->addButton(tr("Stay"), QMessageBox::RejectRole);
    stay->setObjectName(u"stay"_s);
    auto* leave = dialog->addButton(tr("Close anyway"), QMessageBox::DestructiveRole);
    leave->setObjectName(u"close_anyway"_s);
    dialog->setDefaultButton(stay);
    set_theme(dialog, theme_of(this));
    connect(dialog, &QMessageBox::buttonClicked, this, [this, leave](QAbstractButton* button) {
        if (button != leave)
            return;
        closing_ = true;
        close();
    });
    dialog->open();
}

void MainWindow::closeEvent(QCloseEvent* event) {
    if (const QStringList lost = shop_.would_be_lost(); !lost.isEmpty() && !closing_) {
        event->ignore();
        ask_before_closing(lost);
        return;
    }
    flow_.cancel();
    shop_.exchange().cancel();
    QSettings settings;
    settings.setValue(u"window/geometry"_s, saveGeometry());
    settings.setValue(u"window/theme"_s, theme_of(this).name());
    settings.setValue(u"window/shown"_s, current_station().key);
    for (const Station& s : table_)
        settings.setValue(u"folded/"_s + s.key, s.folded);
    event->accept();
}

} // namespace finch::app

#include "moc_main_window.cpp"
