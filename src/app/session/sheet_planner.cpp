// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/sheet_planner.h"

#include "app/session/scrap_keeper.h"
#include "app/session/text.h"
#include "proof/first_sheet.h"

#include <fmt/format.h>
#include <random>

namespace finch::app {

using namespace Qt::StringLiterals;

SheetPlanner::SheetPlanner(Workbench& workbench, QObject* parent)
    : QObject(parent), workbench_(workbench), designer_(workbench) {
    connect(&designer_, &CellDesigner::designed, this, [this](DesignedSheet designed) {
        designed.sheet.number = workbench_.next_sheet();
        designed.sheet = placed(std::move(designed.sheet), fresh_);
        add({designed.sheet, workbench_.draft().setup, designed.reason, {}, 0, workbench_.evidence()},
            [&](Draft& d) { d.recipe.process = designed.sheet.base.process; });
        QString said = QString::fromStdString(designed.reason);
        if (designed.sheet.on_old_plate())
            said += tr(" They go to the bare places of sheet %1, which must not have been moved.")
                        .arg(designed.sheet.plate_number());
        workbench_.say(said, designed.out_of_reach ? State::warn : State::ok);
    });
}

/// On the frame that lies there, or on a frame of its own with room for up to three more rounds.
ProofSheet SheetPlanner::placed(ProofSheet sheet, bool fresh) const {
    const auto open = fresh ? std::nullopt : open_frame(workbench_.draft(), workbench_.ledger());
    if (open)
        if (auto on = on_frame_of(sheet, open->begun, open->next))
            return std::move(*on);
    auto framed = with_frame(sheet, workbench_.bench());
    return framed ? std::move(*framed) : std::move(sheet); // a small field: a sheet for each round
}

void SheetPlanner::design(bool fresh) {
    if (designer_.running())
        return;
    const Draft& d = workbench_.draft();
    if (!d.target.depth && !traits(d.recipe.process).lasting_colour)
        return workbench_.say(tr("Only films have a colour to search for. Take a recipe for a dark or coloured mark "
                                 "first, or a depth for "
                                 "the target."),
                              State::warn);
    auto open = fresh ? std::nullopt : open_frame(workbench_.draft(), workbench_.ledger());
    // A round that is cut down to the last bare places promises less than it costs to look at.
    if (open && open->bare() < (d.target.depth ? later_depths : later_films))
        open.reset();
    fresh_ = !open;
    designer_.start(open);
    workbench_.say(tr("Designing the cells for %1 …").arg(QString::fromStdString(workbench_.draft().target.name)));
}

void SheetPlanner::suggest_opening(Knob across, Knob down) {
    const Draft& d = workbench_.draft();
    if (d.target.depth || !traits(d.recipe.process).lasting_colour) {
        // Only films have a colour to search for; everything else is searched round the planned recipe.
        const SheetRequest first = first_sheet(d.recipe, d.school, workbench_.bench());
        workbench_.change(tr("suggested sheet"), {}, [&](Draft& draft) {
            draft.request.across = first.across;
            draft.request.down = first.down;
        });
        return workbench_.say(tr("A sheet round the planned recipe, over the two knobs that decide for it."));
    }
    const auto opening = opening_sheet(d.target, d.recipe, across, down, workbench_.scene());
    if (!opening)
        return workbench_.fail(opening.error());
    workbench_.change(tr("suggested sheet"), {}, [&](Draft& draft) {
        const Length w = draft.request.cell_width, h = draft.request.cell_height, gap = draft.request.gap;
        draft.request = opening->request;
        draft.request.cell_width = w;
        draft.request.cell_height = h;
        draft.request.gap = gap;
        draft.recipe = opening->request.base;
        draft.recipe.process = draft.target.darker_is_better ? Process::anneal : Process::colour;
    });
    workbench_.say(QString::fromStdString(opening->reason));
}

void SheetPlanner::add(PlannedSheet planned, const std::function<void(Draft&)>& also) {
    // What is in the scrap bin comes before fresh stock.
    if (const auto fit =
            fit_in_bin(planned.sheet, bin_with_plans(workbench_.draft(), workbench_.ledger()), planned.setup.stock)) {
        planned.sheet = fit->sheet;
        planned.scrap = fit->place;
    }
    workbench_.change(tr("plan sheet %1").arg(planned.sheet.number), {}, [&](Draft& d) {
        d.planned.push_back(planned);
        d.shown_sheet = planned.sheet.number;
        d.last_sheet = std::max(d.last_sheet, planned.sheet.number);
        d.cell.reset();
        if (also)
            also(d);
    });
}

void SheetPlanner::plan(bool leave_out_hopeless) {
    const Draft& d = workbench_.draft();
    // Letters that anneal are safe on bare metal; coats and compounds are lettered with the recipe itself.
    const bool film = traits(d.recipe.process).lasting_colour;
    const Expected<Recipe> labels = film ? label_recipe(workbench_.scene()) : Expected<Recipe>(d.recipe);
    if (!labels)
        return workbench_.fail(labels.error());
    SheetRequest request = d.request;
    request.number = workbench_.next_sheet();
    request.base = d.recipe;
    if (request.aim.empty())
        request.aim = d.target.name;
    auto sheet = plan_sheet(request, workbench_.bench(), *labels);
    if (!sheet)
        return workbench_.fail(sheet.error());
    if (leave_out_hopeless)
        *sheet = without_hopeless(*sheet, finch::forecast(*sheet, workbench_.scene()));
    add({*sheet, d.setup, {}, {}, 0, workbench_.evidence()});
    const auto& scrap = workbench_.draft().planned.back().scrap;
    workbench_.say(scrap ? tr("Sheet %1 is planned, on scrap %2.").arg(request.number).arg(from_utf8(scrap->piece))
                         : tr("Sheet %1 is planned. Burn it on scrap of the same lot.").arg(request.number));
}

void SheetPlanner::plan_cells(const Recipe& base, const std::vector<Setting>& cells, const std::string& aim,
                              const std::string& reason) {
    const Draft& d = workbench_.draft();
    const auto labels = label_recipe(workbench_.scene());
    if (!labels)
        return workbench_.fail(labels.error());
    SheetRequest request = d.request;
    request.number = workbench_.next_sheet();
    request.aim = aim;
    request.base = base;
    request.base.process = Process::colour;
    if (const auto open = open_frame(d, workbench_.ledger())) {
        request.cell_width = open->begun.cell_width;
        request.cell_height = open->begun.cell_height;
        request.gap = open->begun.gap;
    }
    const auto sheet = plan_free_sheet(request, cells, workbench_.bench(), *labels);
    if (!sheet)
        return workbench_.fail(sheet.error());
    add({placed(*sheet, false), d.setup, reason, {}, 0, workbench_.evidence()},
        [&](Draft& draft) { draft.recipe.process = Process::colour; });
    workbench_.say(QString::fromStdString(reason));
}

void SheetPlanner::plan_opening(const OpeningPlan& plan) {
    ProofSheet sheet = plan.sheet;
    sheet.number = workbench_.next_sheet();
    if (sheet.free())
        sheet = placed(std::move(sheet), false);
    const std::string reason =
        plan.key == "designed"
            ? plan.idea
            : fmt::format("{}: at least {:.0f} % that one of {} cells meets {}. {}", plan.name,
                          100 * std::min(plan.promise, 0.99), plan.cells, workbench_.draft().target.name, plan.idea);
    const Recipe base = sheet.base;
    const int number = sheet.number;
    add({std::move(sheet), workbench_.draft().setup, reason, {}, 0, workbench_.evidence()}, [&](Draft& d) {
        if (!d.target.depth)
            d.recipe.process = base.process;
    });
    workbench_.say(tr("Sheet %1 is planned: %2.").arg(number).arg(q(plan.name)));
}

/// Changes a sheet that is planned and not burned, at the chosen cell.
void SheetPlanner::edit_planned(const QString& what, const std::function<void(PlannedSheet&, std::size_t)>& edit) {
    const Draft& d = workbench_.draft();
    const Round* r = workbench_.round();
    if (r == nullptr || !d.cell || *d.cell >= r->sheet.cells() || !r->sheet.holds(*d.cell))
        return workbench_.say(tr("Choose a cell of the sheet first."), State::warn);
    if (r->burned)
        return workbench_.say(tr("This sheet is burned: what lies on the plate is not changed any more."), State::warn);
    if (r->sheet.asks())
        return workbench_.say(tr("This sheet asks one question, which its cells belong to."), State::warn);
    const int number = r->sheet.number;
    const std::size_t cell = *d.cell;
    workbench_.change(what.arg(q(cell_name(r->sheet, cell))), {}, [&](Draft& draft) {
        for (PlannedSheet& p : draft.planned)
            if (p.sheet.number == number) {
                edit(p, cell);
                // What it promised was of the cells as they were planned.
                constexpr std::string_view changed = " Changed by hand since.";
                if (!p.reason.empty() && !p.reason.ends_with(changed))
                    p.reason += changed;
            }
    });
}

void SheetPlanner::set_cell() {
    const Round* r = workbench_.round();
    if (r != nullptr && !r->sheet.free())
        return workbench_.say(
            tr("The cells of this sheet are told by its two axes. Design cells to set each by itself."), State::warn);
    for (const Finding& f : workbench_.findings())
        if (f.severity == Severity::blocking)
            return workbench_.say(q(f.message + " " + f.remedy), State::fail);
    const Recipe& recipe = workbench_.draft().recipe;
    const Setting setting = recipe.setting;
    if (r != nullptr) {
        Recipe sheets = r->sheet.base;
        sheets.setting = setting;
        sheets.name = recipe.name;
        if (!(sheets == recipe))
            workbench_.say(tr("Process, turn and shift per pass and what is done between passes stay the sheet's: they "
                              "hold for all its cells."),
                           State::warn);
    }
    edit_planned(tr("set cell %1"),
                 [&](PlannedSheet& p, std::size_t cell) { p.sheet.own[cell - p.sheet.first_own()] = setting; });
}

void SheetPlanner::leave_out_cell() {
    edit_planned(tr("leave out cell %1"), [](PlannedSheet& p, std::size_t cell) {
        p.sheet.left_out.resize(p.sheet.cells(), false);
        p.sheet.left_out[cell] = !p.sheet.left_out[cell];
    });
}

void SheetPlanner::set_rests(double below_k) {
    const Round* r = workbench_.round();
    if (r == nullptr || r->burned || r->sheet.rest_below_k == below_k)
        return;
    const int number = r->sheet.number;
    workbench_.change(below_k > 0 ? tr("rests between cells") : tr("no rests between cells"), {}, [&](Draft& draft) {
        for (PlannedSheet& p : draft.planned)
            if (p.sheet.number == number)
                p.sheet.rest_below_k = below_k;
    });
}

bool SheetPlanner::ask(const Recipe& base, const std::string& aim, const Plan& plan, const QString& said) {
    const Draft& d = workbench_.draft();
    const bool film = traits(base.process).lasting_colour;
    const Expected<Recipe> labels = film ? label_recipe(workbench_.scene()) : Expected<Recipe>(base);
    SheetRequest request = d.request;
    request.number = workbench_.next_sheet();
    request.aim = aim;
    request.base = base;
    const auto sheet = labels ? plan(request, *labels) : tl::unexpected(labels.error());
    if (!sheet) {
        workbench_.fail(sheet.error());
        return false;
    }
    add({*sheet, d.setup, {}, {}, 0, workbench_.evidence()});
    workbench_.say(tr("Sheet %1 is planned: %2").arg(request.number).arg(said));
    return true;
}

bool SheetPlanner::plan_comparison(const ComparisonRequest& comparison, const std::string& aim) {
    // Drawn anew for each sheet, and kept with it: nobody chooses which comes first.
    return ask(
        comparison.first, aim,
        [&](const SheetRequest& request, const Recipe& labels) {
            return finch::plan_comparison(request, comparison, workbench_.bench(), labels, std::random_device()());
        },
        tr("%1, in %2 pairs.").arg(q(aim)).arg(comparison.pairs));
}

bool SheetPlanner::plan_ladder(const LadderRequest& ladder) {
    const Draft& d = workbench_.draft();
    return ask(
        d.recipe, "focus of " + workbench_.bench().lens().name,
        [&](const SheetRequest& request, const Recipe& labels) {
            // By the number of the sheet: another each time, and the same when it is undone and planned again.
            return plan_focus_ladder(request, ladder, workbench_.bench(), labels,
                                     static_cast<std::uint64_t>(request.number));
        },
        tr("marks at %1 focus offsets. Burn it on scrap of the same thickness.").arg(ladder.steps));
}

bool SheetPlanner::plan_lot_check(const LotCheck& check) {
    const Draft& d = workbench_.draft();
    const std::string lot = d.setup.stock.lot.empty() ? "this lot" : "lot " + d.setup.stock.lot;
    return ask(
        d.recipe, lot + ": " + (d.recipe.name.empty() ? std::string("the recipe") : d.recipe.name),
        [&](const SheetRequest& request, const Recipe& labels) {
            return finch::plan_lot_check(request, check, workbench_.bench(), labels);
        },
        tr("five cells of the recipe, with up to 9 % less and more power, on this lot."));
}

bool SheetPlanner::plan_control(const ProofSheet& earlier) {
    const std::string& name = earlier.base.name;
    return ask(
        earlier.base, "control: " + (name.empty() ? std::string("the recipe") : name),
        [&](const SheetRequest& request, const Recipe& labels) {
            return finch::plan_lot_check(request, *earlier.lot, workbench_.bench(), labels);
        },
        tr("today's control, on the plate of this lot that is kept for it."));
}

bool SheetPlanner::plan_threshold(const ThresholdRequest& threshold) {
    const Draft& d = workbench_.draft();
    return ask(
        d.recipe, "threshold of " + (d.recipe.name.empty() ? std::string("the recipe") : d.recipe.name),
        [&](const SheetRequest& request, const Recipe& labels) {
            // By the number of the sheet: another each time, and the same when it is undone and planned again.
            return finch::plan_threshold(request, threshold, workbench_.scene(), labels,
                                         static_cast<std::uint64_t>(request.number));
        },
        tr("%1 powers, %2 times each, mixed.").arg(threshold.powers).arg(threshold.times));
}

bool SheetPlanner::plan_offsets(const OffsetRequest& offsets) {
    const Draft& d = workbench_.draft();
    return ask(
        d.recipe, "in focus or out of it, for " + d.target.name,
        [&](const SheetRequest& request, const Recipe& labels) {
            return finch::plan_offsets(request, offsets, workbench_.scene(), labels);
        },
        tr("one film at up to %1 focus offsets. Burn it on scrap of the same thickness.").arg(offsets.offsets));
}

bool SheetPlanner::plan_wedge(const WedgeRequest& wedge) {
    const Draft& d = workbench_.draft();
    return ask(
        d.recipe, "depth of " + (d.recipe.name.empty() ? std::string("the recipe") : d.recipe.name),
        [&](const SheetRequest& request, const Recipe& labels) {
            return finch::plan_wedge(request, wedge, workbench_.scene(), labels,
                                     static_cast<std::uint64_t>(request.number));
        },
        tr("%1 steps of up to %2 passes. Measure their depths when it is burned.")
            .arg(wedge.steps)
            .arg(wedge.most_passes));
}

bool SheetPlanner::plan_field() {
    const Draft& d = workbench_.draft();
    return ask(
        d.recipe, "over the field: " + (d.recipe.name.empty() ? std::string("the recipe") : d.recipe.name),
        [&](const SheetRequest& request, const Recipe& labels) {
            return plan_field_sheet(request, workbench_.bench(), labels, static_cast<std::uint64_t>(request.number));
        },
        tr("49 cells over the field, with less and more dose."));
}

void SheetPlanner::plan_next() {
    const Draft& d = workbench_.draft();
    const Round* r = workbench_.round();
    const auto ranked = ranking();
    if (r == nullptr || !r->reading || (ranked.empty() && !r->sheet.free()))
        return workbench_.say(tr("Read this sheet first: the next one follows from what it shows."), State::warn);
    if (r->sheet.asks())
        return workbench_.say(tr("This sheet asked one question, and it is answered. Design cells or plan a sheet for "
                                 "the target."),
                              State::warn);
    if (r->sheet.free() || d.target.depth)
        return design();
    const std::size_t cell = middle_cell(*r->reading, d.cell, ranked);
    auto next = next_sheet(r->sheet, *r->reading, d.target, cell, workbench_.scene());
    if (!next)
        return workbench_.fail(next.error());
    next->request.number = workbench_.next_sheet();
    const auto sheet = plan_sheet(next->request, workbench_.bench(), r->sheet.label_recipe);
    if (!sheet)
        return workbench_.fail(sheet.error());
    const ProofSheet trimmed = without_hopeless(*sheet, finch::forecast(*sheet, workbench_.scene()));
    add({trimmed, d.setup, next->reason, next->hoped_de, next->hoped_spread, workbench_.evidence()}, [&](Draft& draft) {
        draft.request = next->request;
        draft.recipe = next->request.base;
    });
    workbench_.say(QString::fromStdString(next->reason));
}

void SheetPlanner::choose_cell(std::size_t cell) {
    const Round* r = workbench_.round();
    if (r == nullptr || cell >= r->sheet.cells() || !r->sheet.holds(cell))
        return; // a bare place, or another round's, has no setting of this sheet
    const Recipe chosen = cell_recipe(r->sheet, cell);
    const bool ladder = r->sheet.ladder;
    workbench_.change(tr("choose cell %1").arg(QString::fromStdString(cell_name(r->sheet, cell))), u"cell"_s,
                      [&](Draft& d) {
                          d.cell = cell;
                          if (ladder)
                              return; // out of focus on purpose: no recipe to go on with
                          const std::string name = d.recipe.name;
                          d.recipe = chosen;
                          d.recipe.name = name;
                      });
}

void SheetPlanner::show_sheet(int number) {
    if (workbench_.round(number) == nullptr)
        return;
    workbench_.note([&](Draft& d) {
        d.shown_sheet = number;
        d.cell.reset();
    });
}

std::vector<RankedCell> SheetPlanner::ranking() const {
    const Round* r = workbench_.round();
    if (r == nullptr || !r->reading)
        return {};
    return rank(*r->reading, workbench_.draft().target, workbench_.forecast());
}

} // namespace finch::app

#include "moc_sheet_planner.cpp"
