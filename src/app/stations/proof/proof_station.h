// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/answer_panel.h"
#include "app/instruments/elided_label.h"
#include "app/session/control_keeper.h"
#include "app/stations/proof/compare_panel.h"
#include "app/stations/proof/focus_page.h"
#include "app/stations/proof/lot_panel.h"
#include "app/stations/proof/next_act.h"
#include "app/stations/proof/palette_page.h"
#include "app/stations/proof/plan_page.h"
#include "app/stations/proof/proof_panels.h"
#include "app/stations/proof/tune_page.h"

class QAbstractTableModel;
class QLabel;
class QProgressBar;
class QStackedWidget;
class QTableView;

namespace finch::app {

/// Finds a setting on scrap: the knobs, the plan, the sheet as predicted and measured, and its table.
class ProofStation final : public QWidget {
    Q_OBJECT
public:
    ProofStation(Workbench& workbench, ProofFlow& flow, AimFlow& aims, ControlKeeper& controls,
                 QWidget* parent = nullptr);
    enum class Page { tune, plan, sheet, table, palette, focus };
    void show_page(Page page);
    /// Free cells for the target; shown as a sheet when they are designed.
    void design();
    /// The chosen cell is spoiled, or is not.
    void tick_spoiled(bool spoiled);
    void toggle_spoiled();
    /// The depth of the chosen cell, as it was typed; nothing takes it back.
    void type_depth(const QString& text);
    /// Plans the sheet set on the plan page and shows it.
    void plan();
    /// Does what the primary button says now.
    void act();
    /// Lines of equal pulses or of equal dose.
    void switch_lines();
    void ask_photo_file();
    /// Where the sheet lies in a photograph in which it was not found.
    void ask_corners(const finch::Picture& photo, const finch::Error& error);
    void ask_export();
    void ask_save_recipe();
    /// Two recipes in pairs: settled in a dialog, planned and shown.
    void ask_compare();
    /// The ways to begin for the target, side by side.
    void ask_openings();
    /// How deep the cells of the shown sheet are.
    void ask_depths();
    /// What colour an instrument measured of the cells of the shown sheet.
    void ask_colours();
    /// How much of the scratch ladder the cells survived.
    void ask_scratches();
    /// What a gloss meter read of the cells.
    void ask_gloss();
    /// How the cells of the shown sheet look at one tilt after the other.
    void ask_tilt();
    /// The recipe on the lot that lies there, in five cells.
    void ask_lot_check();
    /// From which power on the stock changes, and is spoiled.
    void ask_threshold();
    /// Whether a film is better made in focus or out of it.
    void ask_offsets();
    /// The recipe all over the field: planned and shown.
    void plan_field();
    /// How the depth grows with the passes.
    void ask_wedge();
    /// How warm one cell finds the plate from the others, and rests against it.
    void ask_rests();
    /// Which number of the settings the colours follow.
    void ask_explain();
    /// The pieces of scrap, and on which of them the shown sheet is burned.
    void ask_scrap();
    /// The control of this bench over the days.
    void ask_control();
    /// Writes the shown sheet; the ending of the path decides how.
    void export_to(const QString& path);
    [[nodiscard]] QString table_csv() const;
    [[nodiscard]] TunePage& tune() { return *tune_; }
    [[nodiscard]] PalettePage& palette() { return *palette_; }
    [[nodiscard]] FocusPage& focus() { return *focus_; }

protected:
    void paintEvent(QPaintEvent*) override;
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;

private:
    QWidget* make_header();
    QWidget* make_sheet_page();
    void refresh();
    void refresh_step();
    void refresh_act();
    [[nodiscard]] NextAct act_now() const;
    /// What the primary button takes from the page that is shown, where it takes something.
    enum class Taking { nothing, colour, focus };
    [[nodiscard]] Taking taking() const;
    void take_dose();
    void take_offset();
    void ask_with(QDialog* dialog);
    /// Where the sheet is to be burned on a piece of scrap.
    void show_scrap(const Round* round);
    /// Beside the sheet: what it answers, or how its cells rank.
    void show_answer(const Round* round, const std::vector<RankedCell>& ranked);

    Workbench& workbench_;
    ProofFlow& flow_;
    ControlKeeper& controls_;
    QLabel* title_ = nullptr;
    ElidedLabel* subtitle_ = nullptr;
    std::vector<QPushButton*> segments_;
    QPushButton* export_ = nullptr;
    QPushButton* read_ = nullptr;
    QPushButton* save_ = nullptr;
    QPushButton* act_ = nullptr;
    QProgressBar* progress_ = nullptr;
    QStackedWidget* pages_;
    TunePage* tune_;
    PlanPage* plan_;
    PalettePage* palette_;
    FocusPage* focus_;
    RoundStrip* rounds_ = nullptr;
    QLabel* scrap_ = nullptr;
    SheetWidget* sheet_ = nullptr;
    RankingPanel* ranking_ = nullptr;
    ComparePanel* compare_ = nullptr;
    LotPanel* lot_ = nullptr;
    AnswerPanel* answer_ = nullptr;
    CellPanel* detail_ = nullptr;
    TimePanel* time_ = nullptr;
    QTableView* table_ = nullptr;
    QTimer plan_soon_;
    LevelKind lines_ = LevelKind::pulses_per_mm2;
    QAbstractTableModel* model_ = nullptr;
};

} // namespace finch::app
