// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/cell_designer.h"
#include "app/session/workbench.h"
#include "proof/comparison.h"
#include "proof/depth_wedge.h"
#include "proof/field_sheet.h"
#include "proof/focus_ladder.h"
#include "proof/lot_check.h"
#include "proof/offset_series.h"
#include "proof/opening_plans.h"
#include "proof/threshold.h"

namespace finch::app {

/// Plans sheets and chooses among their cells: choices only, each an undo step.
class SheetPlanner final : public QObject {
    Q_OBJECT
public:
    explicit SheetPlanner(Workbench& workbench, QObject* parent = nullptr);

    /// An opening for the target: sets recipe and both axes of the plan.
    void suggest_opening(Knob across, Knob down);
    /// Plans the sheet asked for in the draft and shows it; hopeless cells are left out if asked for.
    void plan(bool leave_out_hopeless);
    /// Designs free cells for the target and plans them as a sheet; the first ones or, after readings, the next.
    /// They go to the bare places of the frame on the bench, unless a fresh piece is asked for.
    void design(bool fresh = false);
    /// Plans free cells of these settings of a recipe, on the frame that lies there or a fresh one.
    void plan_cells(const Recipe& base, const std::vector<Setting>& cells, const std::string& aim,
                    const std::string& reason);
    /// One of the ways to begin, as it was compared with the others.
    void plan_opening(const OpeningPlan& plan);
    /// Writes the recipe as it is set now into a free cell of a sheet that is not burned yet.
    void set_cell();
    /// Leaves the chosen cell of such a sheet out, or takes it in again.
    void leave_out_cell();
    /// Rests before cells of the shown sheet, until less than that is left of the earlier ones' heat; 0: none.
    void set_rests(double below_k);
    /// Plans a sheet that asks one question; false, and said why, where it cannot be. Two recipes in pairs:
    bool plan_comparison(const ComparisonRequest& comparison, const std::string& aim);
    /// Marks at many focus offsets, of the recipe set now.
    bool plan_ladder(const LadderRequest& ladder);
    /// Five cells of the recipe set now, with less and more dose.
    bool plan_lot_check(const LotCheck& check);
    /// The five cells of an earlier lot check once more, of its recipe, whatever recipe is in hand.
    bool plan_control(const ProofSheet& earlier);
    bool plan_threshold(const ThresholdRequest& threshold);
    bool plan_offsets(const OffsetRequest& offsets);
    bool plan_wedge(const WedgeRequest& wedge);
    /// The recipe set now all over the field, with less and more dose.
    bool plan_field();
    [[nodiscard]] CellDesigner& designer() { return designer_; }
    [[nodiscard]] bool designing() const { return designer_.running(); }
    /// The next sheet: of free cells after free cells, else a narrower one round the chosen cell.
    void plan_next();
    void choose_cell(std::size_t cell);
    void show_sheet(int number);
    /// Ranked cells of the shown sheet, empty without a reading.
    [[nodiscard]] std::vector<RankedCell> ranking() const;

private:
    void add(PlannedSheet planned, const std::function<void(Draft&)>& also = {});
    void edit_planned(const QString& what, const std::function<void(PlannedSheet&, std::size_t cell)>& edit);
    using Plan = std::function<Expected<ProofSheet>(const SheetRequest& request, const Recipe& labels)>;
    bool ask(const Recipe& base, const std::string& aim, const Plan& plan, const QString& said);
    [[nodiscard]] ProofSheet placed(ProofSheet sheet, bool fresh) const;

    Workbench& workbench_;
    CellDesigner designer_;
    bool fresh_ = false;
};

} // namespace finch::app
