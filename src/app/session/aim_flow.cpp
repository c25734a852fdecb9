// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/aim_flow.h"

#include "app/session/background.h"
#include "proof/first_sheet.h"
#include "quantity/scan.h"

namespace finch::app {

using namespace Qt::StringLiterals;

AimFlow::AimFlow(Workbench& workbench, std::vector<Bench> benches, QObject* parent)
    : QObject(parent), workbench_(workbench), benches_(std::move(benches)) {
    soon_.setSingleShot(true);
    soon_.setInterval(150);
    connect(&soon_, &QTimer::timeout, this, &AimFlow::start_weighing);
    alternatives_soon_.setSingleShot(true);
    alternatives_soon_.setInterval(400);
    connect(&alternatives_soon_, &QTimer::timeout, this, &AimFlow::start_alternatives);
    connect(&watcher_, &QFutureWatcherBase::finished, this, [this] {
        weighing_ = *watcher_.result();
        busy_ = false;
        Q_EMIT weighed();
        weigh_soon(); // the aim may have moved on meanwhile
    });
    connect(&alternatives_watcher_, &QFutureWatcherBase::finished, this, [this] {
        alternatives_ = *alternatives_watcher_.result();
        Q_EMIT alternatives_found();
        find_alternatives_soon();
    });
}

AimFlow::Asked AimFlow::ask() const {
    const Draft& d = workbench_.draft();
    return {d.aim, d.setup, workbench_.evidence(), d.recipe.process, d.school, d.recipe.compound};
}

AimFlow::Asked AimFlow::ask_of_aim() const {
    Asked asked = ask();
    // What the recipe at hand is does not change what the aim deserves.
    asked.process = Process::anneal;
    asked.school = School::single;
    asked.compound.clear();
    return asked;
}

bool AimFlow::up_to_date() const {
    return !busy_ && weighed_for_ && ask_of_aim() == *weighed_for_;
}

void AimFlow::weigh_soon() {
    if (!busy_ && !up_to_date())
        soon_.start();
}

void AimFlow::start_weighing() {
    if (busy_)
        return;
    busy_ = true;
    const Asked asked = ask_of_aim();
    weighed_for_ = asked;
    // Copies: the operator may go on working meanwhile.
    watcher_.setFuture(run_in_background([asked, materials = workbench_.materials(), benches = benches_] {
        const auto metal = materials.find(asked.setup.stock.metal);
        if (!metal)
            return std::make_shared<Weighing>();
        const Scene scene{materials, **metal, asked.setup.bench, asked.setup.stock, asked.evidence};
        return std::make_shared<Weighing>(weigh(scene, asked.aim, benches));
    }));
    Q_EMIT weighed();
}

void AimFlow::find_alternatives_soon() {
    if (!alternatives_watcher_.isRunning() && (!found_for_ || !(ask() == *found_for_)))
        alternatives_soon_.start();
}

void AimFlow::start_alternatives() {
    if (alternatives_watcher_.isRunning())
        return;
    const Asked asked = ask();
    found_for_ = asked;
    alternatives_watcher_.setFuture(run_in_background([asked, materials = workbench_.materials()] {
        auto out = std::make_shared<std::vector<Alternative>>();
        const auto metal = materials.find(asked.setup.stock.metal);
        if (!metal)
            return out;
        const Scene scene{materials, **metal, asked.setup.bench, asked.setup.stock, asked.evidence};
        for (const PlanTask& task : possible_tasks(scene)) {
            if (task.process != asked.process || task.compound != asked.compound)
                continue;
            if (auto found = plan(scene, asked.aim, task))
                for (Candidate& c : found->candidates)
                    if (c.meets)
                        out->push_back({task, std::move(c)});
        }
        return out;
    }));
}

void AimFlow::edit(const QString& text, const QString& merge, const std::function<void(Aim&)>& edit) {
    workbench_.change(text, merge, [&](Draft& d) { edit(d.aim); });
    weigh_soon();
}

void AimFlow::take(const Proposal& proposal, const Candidate& candidate) {
    workbench_.change(tr("take %1").arg(QString::fromStdString(proposal.label).toLower()), {}, [&](Draft& d) {
        for (const Bench& bench : benches_)
            if (bench.name == proposal.bench && d.setup.bench.name != proposal.bench)
                d.setup.bench = bench;
        d.recipe = candidate.recipe;
        d.recipe.name = d.aim.title + ", " + std::string(traits(candidate.recipe.process).label);
        d.school = proposal.task.school;
        d.fill = d.aim.fill;
        d.target = sheet_target(d.aim, candidate);
        const std::string aim = d.recipe.name;
        const SheetRequest first = first_sheet(candidate.recipe, proposal.task.school, d.setup.bench);
        d.request.across = first.across;
        d.request.down = first.down;
        d.request.aim = shortened(aim, 60);
        d.shown_sheet = 0;
        d.cell.reset();
    });
    Q_EMIT taken();
}

void AimFlow::take_alternative(std::size_t index) {
    if (index >= alternatives_.size())
        return;
    const Alternative& taken = alternatives_[index];
    take_recipe(taken.candidate.recipe, tr("another way to the same mark"), taken.task.school);
}

void AimFlow::take_recipe(const Recipe& recipe, const QString& why, std::optional<School> school) {
    workbench_.change(why, {}, [&](Draft& d) {
        d.school = school.value_or(d.school);
        const std::string name = recipe.name.empty() ? d.recipe.name : recipe.name;
        d.recipe = recipe;
        d.recipe.name = name;
        const SheetRequest first = first_sheet(recipe, d.school, d.setup.bench);
        d.request.across = first.across;
        d.request.down = first.down;
    });
}

} // namespace finch::app
