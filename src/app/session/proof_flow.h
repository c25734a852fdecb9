// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/burn_run.h"
#include "app/session/gauge_reader.h"
#include "app/session/reading_run.h"
#include "app/session/recipe_keeper.h"
#include "app/session/sheet_planner.h"

namespace finch::app {

/// The proof loop: plan, burn, photograph, read, choose, save. Each job is done by a part of its own; this says which
/// may follow which, and what is under way.
class ProofFlow final : public QObject {
    Q_OBJECT
public:
    ProofFlow(Workbench& workbench, Recorder& recorder, BenchLink& link, Camera& camera, Gauge& gauge,
              QObject* parent = nullptr);

    enum class Step { idle, burning, photographing, reading };
    [[nodiscard]] Step step() const;
    [[nodiscard]] double progress() const { return burn_.progress(); }
    [[nodiscard]] QString progress_text() const;

    void suggest_opening(Knob across, Knob down) { planner_.suggest_opening(across, down); }
    void plan(bool leave_out_hopeless) { planner_.plan(leave_out_hopeless); }
    void plan_next() { planner_.plan_next(); }
    /// Free cells for the target, designed from all that was read here.
    void design(bool fresh = false) { planner_.design(fresh); }
    bool plan_comparison(const ComparisonRequest& comparison, const QString& aim) {
        return planner_.plan_comparison(comparison, aim.toStdString());
    }
    bool plan_ladder(const LadderRequest& ladder) { return planner_.plan_ladder(ladder); }
    bool plan_lot_check(const LotCheck& check) { return planner_.plan_lot_check(check); }
    bool plan_control(const ProofSheet& earlier) { return planner_.plan_control(earlier); }
    bool plan_threshold(const ThresholdRequest& threshold) { return planner_.plan_threshold(threshold); }
    bool plan_offsets(const OffsetRequest& offsets) { return planner_.plan_offsets(offsets); }
    bool plan_wedge(const WedgeRequest& wedge) { return planner_.plan_wedge(wedge); }
    bool plan_field() { return planner_.plan_field(); }
    void plan_cells(const Recipe& base, const std::vector<Setting>& cells, const std::string& aim,
                    const std::string& reason) {
        planner_.plan_cells(base, cells, aim, reason);
    }
    void plan_opening(const OpeningPlan& plan) { planner_.plan_opening(plan); }
    /// Changes of a sheet that is not burned yet, at the chosen cell.
    void set_cell() {
        if (free_to(tr("A change of the sheet")))
            planner_.set_cell();
    }
    void leave_out_cell() {
        if (free_to(tr("A change of the sheet")))
            planner_.leave_out_cell();
    }
    void set_rests(double below_k) {
        if (free_to(tr("A change of the sheet")))
            planner_.set_rests(below_k);
    }
    [[nodiscard]] bool designing() const { return planner_.designing(); }
    /// The operator's word on a cell of the shown sheet: molten, torn or flaked, or not.
    void tick_spoiled(std::size_t cell, bool spoiled);
    /// The operator measured how deep a cell of the shown sheet is; nothing takes the word back.
    void note_depth(std::size_t cell, std::optional<double> depth_um, double within_um);
    /// Depths that were typed, imported or read by the gauge of the bench; the sheet need not be photographed.
    void note_depths(int sheet, const std::vector<CellDepth>& depths);
    /// Colours that an instrument measured; the sheet need not be photographed.
    void note_colours(int sheet, const std::vector<CellColour>& colours);
    void note_scratches(int sheet, const std::vector<CellScratch>& scratches);
    void note_gloss(int sheet, const std::vector<CellGloss>& gloss);
    /// Asks the gauge of the bench, which answers through gauge().measured.
    void ask_gauge(int sheet);
    [[nodiscard]] GaugeReader& gauge() { return gauge_; }
    void choose_cell(std::size_t cell) { planner_.choose_cell(cell); }
    void show_sheet(int number) { planner_.show_sheet(number); }
    [[nodiscard]] std::vector<RankedCell> ranking() const { return planner_.ranking(); }

    void burn();
    /// Stops what is under way, whatever it is.
    void cancel();
    /// Photographs the shown sheet.
    void photograph();
    /// Photographs a sheet that was read from above, tilted by an angle; or takes a picture of it so from a file.
    void photograph_tilted(int sheet, double tilt_deg);
    void read_tilted(const QString& path, int sheet, double tilt_deg);
    void read_files(const QStringList& paths);
    void read_file(const QString& path) { read_files({path}); }
    /// The photograph in which the sheet was not found, with its corners put by hand.
    void read_again(const std::array<PointMm, 4>& corners_px);
    void read_picture(const QByteArray& encoded, const QString& name);
    void save_recipe(const QString& name) { keeper_.save(name); }
    [[nodiscard]] Recorder& recorder() { return recorder_; }

Q_SIGNALS:
    void step_changed();
    /// Free cells were designed, planned and are shown.
    void sheet_designed();
    void sheet_not_found(const finch::Picture& picture, const finch::Error& error);

private:
    [[nodiscard]] bool free_to(const QString& what);
    void record_focus();

    Workbench& workbench_;
    Recorder& recorder_;
    SheetPlanner planner_;
    BurnRun burn_;
    ReadingRun reading_;
    GaugeReader gauge_;
    RecipeKeeper keeper_;
};

} // namespace finch::app
