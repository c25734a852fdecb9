// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/aim_flow.h"

#include "app/session/background.h"
#include "app/session/border.h"
#include "proof/first_sheet.h"
#include "quantity/scan.h"

#include <QCoreApplication>
#include <QPointer>

namespace finch::app {

using namespace Qt::StringLiterals;

AimFlow::AimFlow(Workbench& workbench, std::vector<Bench> benches, QObject* parent)
    : QObject(parent), workbench_(workbench), benches_(std::move(benches)) {
    soon_.setSingleShot(true);
    soon_.setInterval(120);
    connect(&soon_, &QTimer::timeout, this, &AimFlow::start_weighing);
    alternatives_soon_.setSingleShot(true);
    alternatives_soon_.setInterval(400);
    connect(&alternatives_soon_, &QTimer::timeout, this, &AimFlow::start_alternatives);
    connect(&alternatives_watcher_, &QFutureWatcherBase::finished, this, [this] {
        // Told to stop, it has only a part: what was shown stays until the newer question is answered.
        if (!alternatives_stop_.stop_requested()) {
            alternatives_ = *alternatives_watcher_.result();
            Q_EMIT alternatives_found();
        }
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

AimFlow::~AimFlow() {
    weighing_stop_.request_stop();
    alternatives_stop_.request_stop();
}

bool AimFlow::up_to_date() const {
    return !busy_ && weighed_for_ && ask_of_aim() == *weighed_for_;
}

void AimFlow::weigh_soon() {
    // What is weighed for an older question goes on until it is known that the newer one will stand.
    if (!weighed_for_ || !(ask_of_aim() == *weighed_for_))
        soon_.start();
}

void AimFlow::start_weighing() {
    const Asked asked = ask_of_aim();
    if (weighed_for_ && asked == *weighed_for_)
        return;
    busy_ = true;
    weighed_for_ = asked;
    weighing_stop_.request_stop();
    weighing_stop_ = {};
    const std::stop_token stop = weighing_stop_.get_token();
    const QPointer<AimFlow> self(this);
    const auto show = [self, stop](const Weighing& weighing, bool done) {
        QMetaObject::invokeMethod(
            qApp,
            [self, stop, done, shown = std::make_shared<const Weighing>(weighing)] {
                if (self == nullptr || stop.stop_requested())
                    return;
                // Old columns stay until as many new ones are there.
                if (done || shown->proposals.size() >= self->weighing_.proposals.size())
                    self->weighing_ = *shown;
                self->busy_ = !done;
                Q_EMIT self->weighed();
            },
            Qt::QueuedConnection);
    };
    // Copies: the operator may go on working meanwhile.
    const auto work = [asked, show, stop, materials = workbench_.shared_materials(), benches = benches_] {
        const auto own = own_scene(materials, asked.setup, asked.evidence);
        if (!own)
            return show({}, true);
        const auto done = guarded("weighing processes", [&] {
            return weigh(
                own->scene(), asked.aim, benches, threads_for_work(),
                [&](const Weighing& so_far) { show(so_far, false); }, stop);
        });
        show(done ? *done : Weighing{}, true);
    };
    [[maybe_unused]] const auto running = run_in_background(work);
    Q_EMIT weighed();
}

void AimFlow::find_alternatives_soon() {
    if (found_for_ && ask() == *found_for_)
        return;
    if (alternatives_watcher_.isRunning()) {
        // Its end asks again. Not answered, so that going back to that question is not taken for having its answer.
        found_for_.reset();
        alternatives_stop_.request_stop();
    } else
        alternatives_soon_.start();
}

void AimFlow::start_alternatives() {
    if (alternatives_watcher_.isRunning())
        return;
    const Asked asked = ask();
    found_for_ = asked;
    alternatives_stop_ = {};
    alternatives_watcher_.setFuture(
        run_in_background([asked, materials = workbench_.shared_materials(), stop = alternatives_stop_.get_token()] {
            auto out = std::make_shared<std::vector<Alternative>>();
            const auto own = own_scene(materials, asked.setup, asked.evidence);
            if (!own)
                return out;
            const Scene scene = own->scene();
            for (const PlanTask& task : possible_tasks(scene)) {
                if (stop.stop_requested())
                    break;
                if (task.process != asked.process || task.compound != asked.compound)
                    continue;
                if (auto found = plan(scene, asked.aim, task, stop))
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

#include "moc_aim_flow.cpp"
