// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/run_flow.h"
#include "app/session/text.h"
#include "app/session/words.h"
#include "formats/job_export.h"

#include <algorithm>

/// What is asked before a run, what becomes of the answers, and runs of before.
namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

/// Why a sprayed film may not be marked yet, from what was said of it on a bench.
std::optional<std::string> film_drying(const Workbench& workbench, const std::string& bench) {
    bool dry = false, marked = false;
    for (const CompoundFact& f : workbench.ledger().film_work(bench)) {
        const bool so = f.kind != StepEvent::Kind::withdrawn;
        if (f.stage == CompoundStage::dry)
            dry = so;
        if (f.stage == CompoundStage::mark)
            marked = so;
    }
    if (marked)
        return QObject::tr("These pieces are marked already: put them away on the Piece station, in Steps.")
            .toStdString();
    if (!dry)
        return QObject::tr("The look decides. Say so on the Piece station, in Steps, when it is dry.").toStdString();
    return std::nullopt;
}

/// The job of a run that was left, as it was handed over.
Expected<std::shared_ptr<const ReadyJob>>
left_job(const RunStart& start, const std::shared_ptr<const Materials>& materials, const Evidence& knowing) {
    const char* fix = "Give the run up, and hand the piece over again.";
    if (start.job.is_null())
        return failure("run.no_job", "The job of this run was too large to keep.", fix);
    auto job = job_from_json(start.job, "run");
    const auto own = job ? own_scene(materials, job->setup, knowing) : Expected<OwnScene>(tl::unexpected(job.error()));
    if (!own)
        return tl::unexpected(own.error());
    const ScannerKnowledge scanner = fitted(job->setup.bench.scanner);
    auto ready = ready_job({std::move(*job), {}, {}, {}, 0}, {}, own->scene(), scanner, {});
    if (ready && (static_cast<int>((*ready)->plan.size()) != start.portions ||
                  static_cast<int>((*ready)->laid.size()) != start.parts))
        return failure("run.other_plan", "This version of the program would mark the job in other portions.", fix);
    return ready;
}

std::string lies_so(const Setup& s) {
    return evidence_key(s) + '|' + std::to_string(in_mm(s.stock.thickness)) + '|' +
           std::to_string(in_mm(s.focus.head_raised)) + '|' + std::to_string(in_mm(s.focus.offset)) + '|' +
           s.stock.held_by + '|' + s.stock.under_it + '|' + std::to_string(static_cast<int>(s.stock.coating));
}

} // namespace

Circumstances RunFlow::circumstances() const {
    Circumstances out;
    const Setup& now = workbench_.draft().setup;
    const Setup& made = job_->job.setup;
    const FocusState focus = workbench_.focus_state();
    out.focus_confirmed = !focus.stale();
    out.focus_words = focus_headline(workbench_).toStdString();
    if (focus.stale())
        out.focus_words += ": " + reason_words(focus).toStdString() + ".";
    out.as_made_for = evidence_key(made) == evidence_key(now) && made.bench.lens() == now.bench.lens() &&
                      made.stock.metal == now.stock.metal && made.stock.thickness == now.stock.thickness;
    out.lies = job_->findings;
    out.elsewhere = job_->elsewhere;
    out.enclosure_open = runner_.open();
    out.simulated = runner_.simulated();
    if (job_->risks.film)
        out.film_drying = film_drying(workbench_, made.bench.name);
    return out;
}

void RunFlow::refresh_gates() {
    if (step_ != Step::asking || job_ == nullptr)
        return;
    const auto metal = workbench_.materials().find(job_->job.setup.stock.metal);
    if (!metal) {
        gates_.clear();
        return workbench_.fail(metal.error());
    }
    Circumstances now = circumstances();
    if (told_ != now) { // a knob that is turned meanwhile is no matter of this job
        gates_ = gates_of(job_->job, job_->risks, **metal, safety_, now);
        told_ = std::move(now);
    }
    // Whatever was moved may lie, hold or be coated otherwise now.
    const std::string lies = lies_so(workbench_.draft().setup) + (workbench_.focus_state().stale() ? "|stale" : "");
    if (lies != std::exchange(lies_, lies)) {
        stop_framing(); // it was of how things lay before
        const std::size_t before = answers_.size();
        std::erase_if(answers_, [&](const GateAnswer& a) {
            const auto gate = std::ranges::find(gates_, a.key, &Gate::key);
            return gate == gates_.end() || gate->of_the_part;
        });
        if (answers_.size() < before)
            workbench_.say(tr("Something was moved: what was said of the part is asked again."), State::warn);
    }
    Q_EMIT changed();
}

std::vector<std::string> RunFlow::locked() const {
    if (gates_.empty())
        return {tr("It is not known what must be so").toStdString()};
    return locked_by(gates_, answers_);
}

void RunFlow::take(std::shared_ptr<const ReadyJob> job) {
    if (under_way() || step_ == Step::left || (step_ == Step::asking && !record_.start.uid.empty()))
        return workbench_.fail(
            {"run.under_way", "Another run is not over yet.", "Go on with it, or give it up, on the Run station.", {}});
    if (look_only_)
        return workbench_.fail({"workshop.look_only", "This window only looks.", "Run it in the other one.", {}});
    stop_framing();
    record_ = {};
    stand_ = {};
    answers_.clear();
    job_ = std::move(job);
    step_ = Step::asking;
    lies_.clear();
    told_.reset();
    counts_as_done_ = false;
    refresh_gates();
    Q_EMIT changed();
}

void RunFlow::stop_framing() {
    frame_waits_ = false;
    if (const RequestId shown = std::exchange(frame_id_, 0); shown != 0)
        runner_.cancel(shown);
}

void RunFlow::again() {
    if (step_ == Step::over && job_ != nullptr)
        take(job_);
}

void RunFlow::put_away() {
    if (under_way() || step_ == Step::left || (step_ == Step::asking && !record_.start.uid.empty()))
        return;
    stop_framing();
    job_.reset();
    gates_.clear();
    answers_.clear();
    record_ = {};
    stand_ = {};
    step_ = Step::none;
    Q_EMIT changed();
}

void RunFlow::answer(const std::string& gate, const std::string& choice) {
    if (step_ != Step::asking)
        return;
    const auto asked = std::ranges::find(gates_, gate, &Gate::key);
    if (asked == gates_.end())
        return;
    std::erase_if(answers_, [&](const GateAnswer& a) { return a.key == gate; });
    answers_.push_back({gate, choice, workbench_.draft().operator_initials, workbench_.now_utc(), asked->title});
    Q_EMIT changed();
}

void RunFlow::withdraw(const std::string& gate) {
    if (step_ != Step::asking)
        return;
    std::erase_if(answers_, [&](const GateAnswer& a) { return a.key == gate; });
    Q_EMIT changed();
}

void RunFlow::show_frame() {
    if (step_ != Step::asking || job_ == nullptr)
        return;
    if (frame_id_ != 0) {
        if (std::exchange(frame_waits_, false))
            runner_.go_on(frame_id_);
    } else {
        withdraw("frame");
        frame_id_ = runner_.run(job_frame_gcode(job_->job), {});
    }
    Q_EMIT changed();
}

void RunFlow::looked(const QString& note) {
    if (!under_way())
        return;
    RunEvent seen = event(Event::looked);
    seen.note = note.toStdString();
    look_from_now();
    write(std::move(seen));
}

RunPortion RunFlow::paused_portion(std::size_t portion) const {
    RunPortion out = job_->plan.at(portion);
    if (!(out.cools_s > 0))
        return out;
    out.pause_s = out.cools_s;
    for (auto e = record_.events.rbegin(); e != record_.events.rend(); ++e)
        if (e->kind == Event::passed && job_->plan.at(static_cast<std::size_t>(e->portion)).place == out.place) {
            const auto then = QDateTime::fromString(from_utf8(e->when_utc), Qt::ISODate);
            // To the second, as it is written down: the part gets no less than its pause.
            const double ago = static_cast<double>(then.secsTo(workbench_.now())) - 1;
            out.pause_s = std::clamp(out.cools_s - ago, 0.0, out.cools_s);
            break;
        }
    return out;
}

/// Also what was said and is on its way to the disk.
bool RunFlow::said_aside(int place) const {
    for (auto said = unwritten_.rbegin(); said != unwritten_.rend(); ++said)
        if (said->first.place == place &&
            (said->first.kind == Event::set_aside || said->first.kind == Event::brought_back))
            return said->first.kind == Event::set_aside;
    return stand_.aside.contains(place);
}

void RunFlow::set_aside(int place, const QString& why) {
    if (!under_way() || said_aside(place))
        return;
    RunEvent off = event(Event::set_aside);
    off.place = place;
    off.note = why.toStdString();
    write(std::move(off), [this] { leave_part(); });
}

void RunFlow::bring_back(int place) {
    if (!under_way() || !said_aside(place))
        return;
    RunEvent on = event(Event::brought_back);
    on.place = place;
    write(std::move(on), [this] { leave_part(); });
}

void RunFlow::lies_still() {
    if (!reached_in_ || step_ != Step::held)
        return;
    if (runner_.open().value_or(false))
        return workbench_.fail({"run.open", "The enclosure is open.", "Shut it, and look how the part lies.", {}});
    reached_in_ = false;
    RunEvent said = event(Event::answered);
    said.note = "what is left lies as it lay before the enclosure was opened";
    write(std::move(said));
    Q_EMIT changed();
}

void RunFlow::look_from_now() {
    look_by_.reset();
    const bool stays =
        std::ranges::any_of(record_.start.answers, [](const GateAnswer& a) { return a.key == "stays"; }) ||
        std::ranges::any_of(answers_, [](const GateAnswer& a) { return a.key == "stays"; });
    if (stays)
        look_by_ = workbench_.now().addMSecs(std::llround(safety_.look_every_min * 60000));
}

void RunFlow::watch() {
    if (step_ == Step::running && look_by_ && workbench_.now() > *look_by_ && !hold_after_pass_) {
        hold_after_pass_ = true;
        workbench_.say(tr("Nobody looked in time: the beam stops when the pass ends."), State::warn);
    }
    Q_EMIT changed();
}

void RunFlow::take_up() {
    if (step_ != Step::left || taking_up_.running())
        return;
    taking_up_.ask(
        "taking a run up",
        [start = record_.start, materials = workbench_.shared_materials(),
         knowing = workbench_.ledger().evidence(evidence_key(record_.start.setup))] {
            return left_job(start, materials, knowing);
        },
        [this](const Expected<std::shared_ptr<const ReadyJob>>& ready) {
            if (!ready)
                return workbench_.fail(ready.error());
            job_ = *ready;
            answers_.clear();
            lies_.clear();
            told_.reset();
            step_ = Step::asking;
            refresh_gates();
            Q_EMIT changed();
        });
}

} // namespace finch::app
