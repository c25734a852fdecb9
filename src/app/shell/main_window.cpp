// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/main_window.h"

#include "app/actions/command_list.h"
#include "app/session/aim_flow.h"
#include "app/shell/bench_line.h"
#include "app/shell/consequences_panel.h"
#include "app/shell/perch.h"
#include "app/shell/status_line.h"
#include "app/stations/aim/aim_station.h"
#include "app/stations/aim/borrow_dialog.h"
#include "app/stations/aim/carry_dialog.h"
#include "app/stations/bench/bench_station.h"
#include "app/stations/logbook/logbook_station.h"
#include "app/stations/proof/proof_station.h"
#include "formats/data_folder.h"

#include <QApplication>
#include <QClipboard>
#include <QCloseEvent>
#include <QDialog>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenuBar>
#include <QPushButton>
#include <QSettings>
#include <QStackedWidget>
#include <QVBoxLayout>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

std::vector<Bench> all_benches(const std::filesystem::path& folder) {
    std::vector<Bench> out;
    for (const std::string& name : data_names(folder, "benches"))
        if (auto bench = load_bench(folder, name))
            out.push_back(std::move(*bench));
    return out;
}

} // namespace

MainWindow::MainWindow(const Parts& parts, QWidget* parent)
    : QMainWindow(parent), parts_(parts), actions_(new ActionRegistry(this)),
      bench_line_(new BenchLine(parts.workbench, parts.link, this)),
      perch_(new Perch({{1, u"anvil"_s, tr("Bench"), {}},
                        {2, u"crosshair"_s, tr("Aim"), {}},
                        {3, u"grid-3x3"_s, tr("Proof"), {}},
                        {7, u"notebook-text"_s, tr("Logbook"), {}}},
                       this)),
      stations_(new QStackedWidget(this)), aims_(new AimFlow(parts.workbench, all_benches(parts.data_folder), this)),
      bench_(new BenchStation(parts.workbench, parts.data_folder, this)),
      aim_(new AimStation(parts.workbench, *aims_, this)),
      proof_(new ProofStation(parts.workbench, parts.flow, *aims_, this)),
      log_(new LogbookStation(parts.workbench, parts.logbook, this)),
      consequences_(new ConsequencesPanel(parts.workbench, this)), status_(new StatusLine(this)) {
    setObjectName(u"main_window"_s);
    setWindowTitle(parts.workshop + u" \u2014 Gilded Finch"_s);
    setMinimumSize(1180, 720);
    auto* page = new QWidget(this);
    auto* column = new QVBoxLayout(page);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(bench_line_);
    auto* row = new QHBoxLayout;
    row->setSpacing(0);
    row->addWidget(perch_);
    stations_->addWidget(bench_);
    stations_->addWidget(aim_);
    stations_->addWidget(proof_);
    stations_->addWidget(log_);
    row->addWidget(stations_, 1);
    row->addWidget(consequences_);
    column->addLayout(row, 1);
    column->addWidget(status_);
    setCentralWidget(page);
    make_actions();
    make_menus();
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
    connect(&parts_.workbench, &Workbench::said, status_, &StatusLine::say);
    connect(&parts_.workbench, &Workbench::changed, this, &MainWindow::refresh_marks);
    connect(&parts_.flow, &ProofFlow::recorded, this, [this](long long id) {
        status_->saved(tr("Saved to logbook %1").arg(parts_.workbench.now().toLocalTime().toString(u"HH:mm"_s)));
        log_->reload();
        load_history();
        Q_UNUSED(id);
    });
    connect(&parts_.flow, &ProofFlow::step_changed, this, [this] { status_->progress(parts_.flow.progress_text()); });
    if (parts_.autosave != nullptr)
        connect(parts_.autosave, &Autosave::saved, this, [this] {
            status_->saved(tr("Draft kept %1").arg(parts_.workbench.now().toLocalTime().toString(u"HH:mm"_s)));
        });
    for (const auto& shown : {std::function<void()>([this] {
             show_station(StationId::proof);
             proof_->show_page(ProofStation::Page::tune);
         })}) {
        connect(log_, &LogbookStation::recipe_taken, this, shown);
        connect(aims_, &AimFlow::taken, this, shown);
    }
    load_history();
    use_theme(u"paper"_s);
    restore_state();
    refresh_marks();
}

MainWindow::~MainWindow() = default;

void MainWindow::make_actions() {
    const auto add = [this](const QString& id, const QString& text, const QString& help, const QKeySequence& keys,
                            const QString& menu, const std::function<void()>& run) {
        return actions_->add({id, text, help, keys, menu}, run);
    };
    Workbench& w = parts_.workbench;
    ProofFlow& flow = parts_.flow;
    const QString workshop = tr("Workshop"), edit = tr("Edit"), view = tr("View"), station = tr("Station"),
                  recipe = tr("Recipe"), help = tr("Help");
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
    add(u"view.lines"_s, tr("Lines of equal pulses or dose"),
        tr("Switch the lines over the sheet between pulses per mm² and dose"), QKeySequence(u"Ctrl+L"_s), view,
        [this] { proof_->switch_lines(); });
    // The numbers are those of the perch, in the order of work; stations that are not built yet keep their places.
    add(u"station.bench"_s, tr("Bench"), tr("What is in front of you"), QKeySequence(u"Ctrl+1"_s), station,
        [this] { show_station(StationId::bench); });
    add(u"station.aim"_s, tr("Aim"), tr("What must come out"), QKeySequence(u"Ctrl+2"_s), station,
        [this] { show_station(StationId::aim); });
    add(u"station.proof"_s, tr("Proof"), tr("Find the setting on scrap"), QKeySequence(u"Ctrl+3"_s), station,
        [this] { show_station(StationId::proof); });
    add(u"station.logbook"_s, tr("Logbook"), tr("What was done, and how"), QKeySequence(u"Ctrl+7"_s), station,
        [this] { show_station(StationId::logbook); });
    add(u"aim.wear"_s, tr("Wear and rust"), tr("Chart of abrasion against corrosion"), {}, station,
        [this] { aim_->show_wear(); });
    add(u"recipe.heat"_s, tr("More or less heat…"), tr("Which knob to turn, with its price"), QKeySequence(u"Ctrl+H"_s),
        recipe, [this] { proof_->tune().show_heat(); });
    add(u"recipe.borrow"_s, tr("Borrow a recipe…"), tr("Paste or import someone else's settings and rescale them"),
        QKeySequence(u"Ctrl+Shift+B"_s), recipe, [this] { borrow(); });
    add(u"recipe.carry"_s, tr("Carry to another bench…"), tr("What this recipe becomes on another bench"),
        QKeySequence(u"Ctrl+Shift+T"_s), recipe, [this] { carry(); });
    add(u"bench.confirm_focus"_s, tr("Confirm focus"), tr("Say that the surface is in focus now"),
        QKeySequence(u"Ctrl+Shift+F"_s), station, [&w] { w.confirm_focus(); });
    add(u"proof.suggest"_s, tr("Suggest a sheet for the target"),
        tr("Set recipe and ranges so that the model expects the target"), QKeySequence(u"Ctrl+G"_s), recipe,
        [&w, &flow] { flow.suggest_opening(w.draft().request.across.knob, w.draft().request.down.knob); });
    add(u"proof.plan"_s, tr("Plan the sheet"), tr("Plan the sheet set on the plan page"), QKeySequence(u"Ctrl+P"_s),
        recipe, [this] {
            show_station(StationId::proof);
            proof_->plan();
        });
    add(u"proof.burn"_s, tr("Burn the sheet"), tr("Burn the shown sheet on the stand-in"), QKeySequence(u"Ctrl+B"_s),
        recipe, [&flow] { flow.burn(); });
    add(u"proof.cancel"_s, tr("Cancel burning"), tr("Stop the stand-in"), QKeySequence(u"Ctrl+."_s), recipe,
        [&flow] { flow.cancel(); });
    add(u"proof.photograph"_s, tr("Photograph the sheet"), tr("Let the stand-in's camera take another photograph"), {},
        recipe, [&flow] { flow.photograph(); });
    add(u"proof.read"_s, tr("Read a photograph…"), tr("Read a photograph of the shown sheet from a file"),
        QKeySequence(u"Ctrl+O"_s), recipe, [this] { proof_->ask_photo_file(); });
    add(u"proof.next"_s, tr("Plan the next sheet"), tr("A narrower sheet round the chosen cell"),
        QKeySequence(u"Ctrl+N"_s), recipe, [&flow] { flow.plan_next(); });
    add(u"recipe.save"_s, tr("Save the recipe…"), tr("Write the recipe with its evidence into the logbook"),
        QKeySequence::Save, recipe, [this] { proof_->ask_save_recipe(); });
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
    auto* name = new QLabel(parts_.workshop, corner);
    name->setFont(text_font(TextStyle::head));
    auto* find = new QPushButton(tr("Find a command   Ctrl+K"), corner);
    find->setObjectName(u"find_command"_s);
    find->setFlat(true);
    find->setStyleSheet(
        u"QPushButton { border: none; background: transparent; font-weight: 400; min-height: 20px; padding: 0 4px; }"_s);
    auto* who = new QLabel(QString::fromStdString(parts_.workbench.draft().operator_initials), corner);
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
    consequences_->set_folded(folded_.at(static_cast<std::size_t>(i)));
    if (id == StationId::proof)
        proof_->show_page(parts_.workbench.draft().round() == nullptr ? ProofStation::Page::tune
                                                                      : ProofStation::Page::sheet);
}

void MainWindow::fold_consequences(bool folded) {
    folded_.at(static_cast<std::size_t>(stations_->currentIndex())) = folded;
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
    static const std::array texts{
        tr("<h3>Bench</h3><p>What is in front of you: source, lens, stock and focus, each drawn to scale. Change a "
           "value in any unit, for example 1.5 thou or 2*0.8 mm.</p><p>Confirm the focus whenever lens, stock or "
           "offset changed. Nothing is burned while it is stale.</p>"),
        tr("<h3>Aim</h3><p>Say what must come out, as targets that can be checked. Every process that this bench can "
           "do is planned and judged against each of them; unknown counts neither way. Take a column to tune and prove "
           "it.</p><p>Click a target to edit it, its badge to make it a must or a wish; Delete removes it.</p>"),
        tr("<h3>Proof</h3><p>Tune shows what happens over any two knobs: click the map to move both. Then find the "
           "setting on scrap: choose a target, two knobs and their ranges; plan and burn a "
           "sheet; read its photograph; choose the best cell; plan a narrower sheet or save the recipe.</p><p>Upper "
           "left of a cell is predicted, lower right is measured. Numbers are colour differences to the target. Arrow "
           "keys move between cells and step knobs; Shift steps ten times, Alt a tenth.</p>"),
        tr("<h3>Logbook</h3><p>Every sheet, reading and recipe with the bench as it was. Type to filter, choose an "
           "entry to see it whole, compare two to see only what differs.</p>")};
    auto* dialog = new QDialog(this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setObjectName(u"help"_s);
    dialog->setWindowTitle(tr("Help"));
    set_theme(dialog, theme_of(this));
    auto* box = new QVBoxLayout(dialog);
    auto* label = new QLabel(texts.at(static_cast<std::size_t>(stations_->currentIndex())) +
                                 tr("<p>An open laser beam blinds and burns. This program informs and never certifies: "
                                    "follow the maker's manual, the data sheets, your laser safety officer and your "
                                    "local codes; when they differ from it, they win.</p>"),
                             dialog);
    label->setWordWrap(true);
    label->setMinimumWidth(420);
    box->addWidget(label);
    auto* close_button = new QPushButton(tr("Close"), dialog);
    box->addWidget(close_button, 0, Qt::AlignRight);
    connect(close_button, &QPushButton::clicked, dialog, &QDialog::close);
    dialog->open();
}

void MainWindow::refresh_marks() {
    const Draft& d = parts_.workbench.draft();
    perch_->set_mark(0, parts_.workbench.focus_state().stale() ? Perch::Mark::unfinished : Perch::Mark::carried);
    const bool unfinished = d.round() != nullptr && (!d.saved || !(d.saved->setting == d.recipe.setting));
    perch_->set_mark(1, d.aim.wishes.empty() ? Perch::Mark::none : Perch::Mark::carried);
    perch_->set_mark(2, unfinished ? Perch::Mark::unfinished : d.saved ? Perch::Mark::carried : Perch::Mark::none);
}

void MainWindow::load_history() {
    if (parts_.logbook == nullptr)
        return;
    const Stock& stock = parts_.workbench.draft().setup.stock;
    EntryFilter filter;
    filter.kind = EntryKind::recipe;
    filter.words = stock.lot;
    std::vector<BadTry> tries;
    const auto entries = parts_.logbook->list(filter);
    if (!entries)
        return;
    for (const Entry& e : *entries) {
        if (e.outcome != Outcome::bad && e.outcome != Outcome::caution)
            continue;
        const auto whole = parts_.logbook->entry(e.id);
        if (!whole || !whole->body.contains("recipe"))
            continue;
        if (const auto recipe = recipe_from_json(whole->body.at("recipe"), "logbook"))
            tries.push_back({*recipe, e.title + ", " + e.summary});
    }
    parts_.workbench.set_history(std::move(tries));
}

void MainWindow::borrow() {
    auto* dialog = new BorrowDialog(parts_.workbench, *aims_, this);
    set_theme(dialog, theme_of(this));
    dialog->open();
}

void MainWindow::carry() {
    auto* dialog = new CarryDialog(parts_.workbench, *aims_, this);
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
    const QVariantList folded = settings.value(u"window/folded"_s).toList();
    for (std::size_t i = 0; i < folded_.size() && i < static_cast<std::size_t>(folded.size()); ++i)
        folded_[i] = folded[static_cast<qsizetype>(i)].toBool();
    show_station(static_cast<StationId>(std::clamp(settings.value(u"window/station"_s, 2).toInt(), 0, 3)));
}

void MainWindow::closeEvent(QCloseEvent* event) {
    if (parts_.autosave != nullptr)
        parts_.autosave->flush();
    QSettings settings;
    settings.setValue(u"window/geometry"_s, saveGeometry());
    settings.setValue(u"window/theme"_s, theme_of(this).name());
    settings.setValue(u"window/station"_s, stations_->currentIndex());
    settings.setValue(u"window/folded"_s, QVariantList{folded_[0], folded_[1], folded_[2], folded_[3]});
    event->accept();
}

} // namespace finch::app
