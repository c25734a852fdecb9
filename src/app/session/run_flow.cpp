// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/run_flow.h"

#include "app/session/background.h"
#include "app/session/border.h"
#include "app/session/text.h"
#include "document/json_fields.h"
#include "formats/job_export.h"
#include "formats/run_program.h"

#include <algorithm>
#include <QUuid>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr int a_second_ms = 1000, telling_ms = 2000;
constexpr std::size_t most_job_bytes = 8'000'000; // of a job in a journal; a run of a larger one cannot be taken up

} // namespace

RunFlow::RunFlow(Workbench& workbench, Recorder& recorder, JobRunner& runner, SafetyTable safety, Places places,
                 QObject* parent)
    : QObject(parent), workbench_(workbench), recorder_(recorder), runner_(runner), safety_(std::move(safety)),
      journal_(places.folder), look_only_(places.look_only), slice_bytes_(places.slice_bytes) {
    disk_.setMaxThreadCount(1);
    connect_runner();
    connect(&workbench_, &Workbench::changed, this, &RunFlow::refresh_gates);
    connect(&runner_, &JobRunner::opened_or_shut, this, [this] {
        refresh_gates();
        if (runner_.open().value_or(false) && !ending_ && (step_ == Step::running || step_ == Step::held)) {
            reached_in_ = true;
            // The bench stops what it marks; between two programs nobody else would.
            if (step_ == Step::running && run_id_ == 0)
                hold_now_ = true;
        }
        Q_EMIT changed();
    });
    clock_.setInterval(a_second_ms);
    connect(&clock_, &QTimer::timeout, this, &RunFlow::watch);
    if (!look_only_)
        find_left();
}

RunFlow::~RunFlow() {
    ++*alive_;
    if (run_id_ != 0)
        runner_.cancel(run_id_);
    disk_.waitForDone();
    // What happened is written down, also what was waiting for its turn.
    if (writing_ && !unwritten_.empty())
        unwritten_.pop_front();
    for (const auto& [what, then] : unwritten_)
        if (const auto kept =
                guarded("writing down a run", [&, &e = what] { return journal_.append(record_.start.uid, e); });
            !kept)
            break; // in order, or not at all
}

void RunFlow::connect_runner() {
    const auto mine = [this](RequestId id) { return id != 0 && id == run_id_; };
    connect(&runner_, &JobRunner::progressed, this, [this, mine](RequestId id, double share, const QString&, int line) {
        if (!mine(id))
            return;
        share_ = share;
        line_ = std::max(from_line_, line + shift_);
        if (constexpr int often_ms = 100; shown_.isValid() && shown_.elapsed() < often_ms)
            return;
        shown_.start();
        const qint64 now = workbench_.now().toMSecsSinceEpoch();
        if (line_ > told_line_ && std::abs(now - told_ms_) >= telling_ms && portion_) {
            told_ms_ = now;
            told_line_ = line_;
            RunEvent at = event(Event::at);
            at.line = line_;
            write(std::move(at));
        }
        Q_EMIT changed();
    });
    connect(&runner_, &JobRunner::holds, this, [this, mine](RequestId id, int line, const QString& why) {
        if (!mine(id))
            return;
        line_ = std::max(from_line_, line + shift_);
        if (leaving_) {
            runner_.cancel(id);
            if (!hold_now_ && why.isEmpty())
                return; // the run goes on with another part
        }
        hold_now_ = false;
        RunEvent held = event(Event::held);
        held.line = line_;
        held.note = why.toStdString();
        stand_still(why.isEmpty() ? tr("Stopped by hand.") : why);
        write(std::move(held));
    });
    connect(&runner_, &JobRunner::ran, this, [this, mine](RequestId id, const RanJob& found) {
        if (id == frame_id_ && id != 0) {
            frame_id_ = 0;
            frame_waits_ = false;
            answer("frame");
        } else if (mine(id))
            passed(found);
    });
    connect(&runner_, &JobRunner::waits, this, [this](RequestId id, const QString&) {
        if (id == frame_id_ && id != 0) {
            frame_waits_ = true;
            Q_EMIT changed();
        }
    });
    connect(&runner_, &JobRunner::cancelled, this, [this, mine](RequestId id, int line) {
        if (id == frame_id_ && id != 0) {
            frame_id_ = 0;
            frame_waits_ = false;
            Q_EMIT changed();
        } else if (mine(id)) {
            run_id_ = 0;
            line_ = std::max(from_line_, line + shift_);
            if (giving_up_)
                return finish(Event::given_up, given_up_why_);
            if (leaving_)
                return left_part();
            // Nobody here asked for that.
            RunEvent held = event(Event::held);
            held.line = line_;
            held.note = "the bench broke the pass off";
            stand_still(tr("The bench broke the pass off by itself."));
            write(std::move(held));
        }
    });
    connect(&runner_, &JobRunner::failed, this, [this, mine](RequestId id, const Error& error) {
        if (id == frame_id_ && id != 0) {
            frame_id_ = 0;
            frame_waits_ = false;
            workbench_.fail(error);
            Q_EMIT changed();
        } else if (mine(id)) {
            run_id_ = 0;
            leaving_ = false;
            if (giving_up_)
                return finish(Event::given_up, given_up_why_);
            RunEvent fault = event(Event::faulted);
            fault.line = line_;
            fault.note = error.message;
            stand_still(from_utf8(sentence(error)) +
                        tr(" Lines after %1 may be marked already; they would be marked again.").arg(line_));
            write(std::move(fault));
        }
    });
}

void RunFlow::stand_still(const QString& why) {
    step_ = Step::held;
    why_ = why;
    workbench_.say(tr("The beam is off: %1").arg(why), State::warn);
    Q_EMIT changed();
}

bool RunFlow::at_hand_of(int portion) const {
    const auto i = static_cast<std::size_t>(portion);
    return i < job_->plan.size() && !stand_.passed.at(i) &&
           !stand_.aside.contains(places_of(job_->job).at(job_->plan[i].place).number);
}

std::optional<std::size_t> RunFlow::at_hand() const {
    if (portion_)
        return portion_;
    if (job_ == nullptr || stand_.passed.size() != job_->plan.size())
        return std::nullopt;
    const auto places = places_of(job_->job);
    for (std::size_t i = 0; i < job_->plan.size(); ++i)
        if (!stand_.passed[i] && !stand_.aside.contains(places.at(job_->plan[i].place).number))
            return i;
    return std::nullopt;
}

void RunFlow::start() {
    if ((step_ != Step::asking) || job_ == nullptr || look_only_)
        return;
    refresh_gates();
    if (const auto locked = this->locked(); !locked.empty())
        return workbench_.fail({"run.locked",
                                "The start is locked: " + locked.front() + ".",
                                "Answer what is open on the Run station first.",
                                {}});
    if (record_.start.uid.empty()) {
        RunStart begun;
        begun.uid = QUuid::createUuid().toString(QUuid::WithoutBraces).toStdString();
        begun.when_utc = workbench_.now_utc();
        begun.by = workbench_.draft().operator_initials;
        begun.name = job_->job.name;
        begun.code = job_->code;
        begun.setup = job_->job.setup;
        begun.portions = static_cast<int>(job_->plan.size());
        begun.parts = static_cast<int>(places_of(job_->job).size());
        begun.answers = answers_;
        record_ = {begun, {}};
        slices_s_ = slices_mm_ = slices_beside_mm_ = 0;
        hold_now_ = hold_after_pass_ = hands_done_ = reached_in_ = leaving_ = false;
        stand_ = stand_of(record_);
        step_ = Step::running;
        look_from_now();
        clock_.start();
        disk_.start([this, gone = alive_, at = alive_->load(), journal = journal_, begun, job = job_]() mutable {
            auto done = guarded("beginning a run", [&] {
                auto document = to_json(job->job);
                if (json_text(document).size() < most_job_bytes)
                    begun.job = std::move(document);
                return journal.begin(begun);
            });
            QMetaObject::invokeMethod(
                qApp,
                [this, gone, at, done = std::move(done), begun] {
                    if (*gone != at)
                        return;
                    if (!done) {
                        record_ = {};
                        step_ = Step::asking;
                        clock_.stop();
                        look_by_.reset();
                        workbench_.fail(done.error());
                        Q_EMIT changed();
                        return;
                    }
                    record_.start = begun;
                    next();
                },
                Qt::QueuedConnection);
        });
    } else {
        // One that was left: what is answered now is part of it.
        for (const GateAnswer& a : answers_) {
            RunEvent said = event(Event::answered);
            said.when_utc = a.when_utc;
            said.by = a.by;
            said.note = a.asked + (a.choice.empty() ? "" : ": " + a.choice);
            write(std::move(said));
        }
        step_ = Step::running;
        look_from_now();
        clock_.start();
        if (counts_as_done_ && stand_.under_way) {
            RunEvent done = event(Event::passed);
            done.portion = *stand_.under_way;
            done.note = "taken for marked when the run was taken up";
            write(std::move(done), [this] { next(); });
        } else if (stand_.under_way && at_hand_of(*stand_.under_way))
            send(static_cast<std::size_t>(*stand_.under_way), stand_.line);
        else
            next();
    }
    Q_EMIT changed();
}

void RunFlow::next() {
    if (step_ != Step::running || sending_)
        return;
    if (!unwritten_.empty()) {
        // What was said meanwhile counts before it is decided what comes next: a part that is set aside or brought
        // back.
        auto& then = unwritten_.back().second;
        then = [this, before = std::move(then)] {
            if (before)
                before();
            next();
        };
        return;
    }
    portion_.reset();
    share_ = 0;
    const auto to_come = at_hand();
    if (!to_come)
        return finish(Event::ended);
    line_ = stand_.line_of(static_cast<int>(*to_come));
    if (held_now(*to_come))
        return;
    if (std::exchange(hold_after_pass_, false)) {
        RunEvent held = event(Event::held);
        held.portion = static_cast<int>(*to_come);
        held.note = "at the end of a pass";
        stand_still(look_by_ && workbench_.now() > *look_by_ ? tr("Nobody looked in time.")
                                                             : tr("Stopped at the end of the pass."));
        return write(std::move(held));
    }
    if (job_->plan[*to_come].moved_by_hand && !std::exchange(hands_done_, false)) {
        step_ = Step::hands;
        const JobPlace place = places_of(job_->job).at(job_->plan[*to_come].place);
        why_ = tr("Move the part to %1 %2.").arg(place_word(place)).arg(place.number);
        workbench_.say(why_, State::warn);
        Q_EMIT changed();
        return;
    }
    send(*to_come, line_);
}

void RunFlow::send(std::size_t portion, int line) {
    portion_ = portion;
    if (!at_hand_of(static_cast<int>(portion)))
        return left_part();
    from_line_ = line_ = told_line_ = line;
    share_ = 0;
    sending_ = true;
    RunEvent sent = event(Event::sent);
    sent.line = line;
    write(std::move(sent), [this, portion, line] {
        [[maybe_unused]] const auto running =
            run_in_background([this, gone = alive_, at = alive_->load(), job = job_, portion, line, most = slice_bytes_,
                               now = paused_portion(portion)] {
                bool all = true;
                int ends = 0;
                auto program = guarded("writing a pass", [&] {
                    return portion_gcode(job->job, now)
                        .and_then([&](const std::string& whole) { return left_after(whole, line); })
                        .map([&](LeftProgram left) {
                            const ProgramSlice slice = first_slice(left.gcode, most);
                            all = slice.whole;
                            ends = slice.lines + left.shift;
                            left.gcode.resize(slice.gcode.size());
                            return left;
                        });
                });
                QMetaObject::invokeMethod(
                    qApp,
                    [this, gone, at, job, portion, all, ends, program = std::move(program)] {
                        if (*gone != at)
                            return;
                        sending_ = false;
                        if (giving_up_)
                            return finish(Event::given_up, given_up_why_);
                        if (!program) {
                            stand_still(from_utf8(sentence(program.error())));
                            return;
                        }
                        // Held meanwhile: it is sent when somebody says so.
                        if (step_ != Step::running || held_now(portion))
                            return;
                        if (!at_hand_of(static_cast<int>(portion)))
                            return left_part();
                        shift_ = program->shift;
                        slice_ends_ = all ? 0 : ends;
                        run_id_ = runner_.run(program->gcode, {job->laid.at(job->plan[portion].place)});
                    },
                    Qt::QueuedConnection);
            });
    });
}

void RunFlow::leave_part() {
    if (step_ == Step::hands) { // asked again, of the part that is at hand now
        step_ = Step::running;
        return next();
    }
    if (!portion_ || sending_ || at_hand_of(static_cast<int>(*portion_)))
        return;
    if (run_id_ == 0)
        return left_part();
    leaving_ = true;
    step_ == Step::held ? runner_.cancel(run_id_) : runner_.hold(run_id_);
}

void RunFlow::left_part() {
    RunEvent left = event(Event::left);
    left.line = line_;
    leaving_ = false;
    portion_.reset();
    share_ = slices_s_ = slices_mm_ = slices_beside_mm_ = 0;
    slice_ends_ = 0;
    write(std::move(left), [this] { next(); });
    Q_EMIT changed();
}

void RunFlow::passed(const RanJob& found) {
    run_id_ = 0;
    leaving_ = false;
    slices_s_ += found.time_s;
    slices_beside_mm_ += found.beside_mm;
    for (const MarkedPart& p : found.parts)
        slices_mm_ += p.marked_mm;
    if (const int ends = std::exchange(slice_ends_, 0); ends > 0) {
        line_ = ends;
        RunEvent at = event(Event::at);
        at.line = line_;
        return write(std::move(at), [this] {
            if (step_ == Step::running && portion_ && !sending_ && !held_now(*portion_))
                send(*portion_, line_);
        });
    }
    RunEvent done = event(Event::passed);
    done.time_s = std::exchange(slices_s_, 0);
    done.beside_mm = std::exchange(slices_beside_mm_, 0);
    done.marked_mm = std::exchange(slices_mm_, 0);
    // Whatever was asked while its last line was marked.
    const bool held = step_ == Step::held;
    write(std::move(done), [this] { next(); });
    if (held)
        portion_.reset();
}

void RunFlow::hold() {
    if (step_ != Step::running || ending_)
        return;
    hold_now_ = true;
    if (run_id_ != 0)
        runner_.hold(run_id_);
    Q_EMIT changed();
}

/// A hold that crossed the end of what was at the bench.
bool RunFlow::held_now(std::size_t portion) {
    if (!std::exchange(hold_now_, false))
        return false;
    RunEvent held = event(Event::held);
    held.portion = static_cast<int>(portion);
    held.line = line_;
    if (reached_in_)
        held.note = "the enclosure was opened";
    stand_still(reached_in_ ? tr("The enclosure was opened.") : tr("Stopped by hand."));
    write(std::move(held));
    return true;
}

void RunFlow::hold_after_pass(bool hold) {
    if (step_ == Step::running)
        hold_after_pass_ = hold;
    Q_EMIT changed();
}

void RunFlow::go_on() {
    if (step_ == Step::hands && !ending_) {
        hands_done_ = true;
        step_ = Step::running;
        RunEvent moved = event(Event::went_on);
        moved.note = why_.toStdString();
        return write(std::move(moved), [this] { next(); });
    }
    if (step_ != Step::held)
        return;
    if (runner_.open().value_or(false))
        return workbench_.fail({"run.open", "The enclosure is open.", "Shut it before the run goes on.", {}});
    if (reached_in_)
        return workbench_.fail({"run.reached_in",
                                "The enclosure was open since the beam went off.",
                                "Set aside what was moved, and say that the rest lies as it lay (Shift+F7).",
                                {}});
    why_.clear();
    hold_now_ = false; // what it asked is so: the beam is off
    step_ = Step::running;
    look_from_now();
    const RequestId stands = run_id_;
    write(event(Event::went_on), [this, stands] {
        if (step_ != Step::running)
            return;
        if (stands != 0 && stands == run_id_)
            runner_.go_on(run_id_);
        else if (portion_ && !sending_)
            send(*portion_, line_);
        else
            next();
    });
    Q_EMIT changed();
}

void RunFlow::give_up(const QString& why) {
    if (ending_)
        return;
    if (step_ == Step::left || step_ == Step::asking) {
        if (!record_.start.uid.empty())
            finish(Event::given_up, why);
        return;
    }
    if (!under_way() || giving_up_)
        return;
    giving_up_ = true;
    given_up_why_ = why;
    if (run_id_ != 0)
        runner_.cancel(run_id_);
    else if (!sending_)
        finish(Event::given_up, why);
    Q_EMIT changed();
}

double RunFlow::left_s() const {
    if (job_ == nullptr)
        return 0;
    double likely_done = 0, to_come = 0;
    const auto places = places_of(job_->job);
    for (std::size_t i = 0; i < job_->plan.size(); ++i) {
        const bool done = i < stand_.passed.size() && stand_.passed[i];
        if (done)
            likely_done += job_->plan[i].likely_s;
        else if (!stand_.aside.contains(places.at(job_->plan[i].place).number))
            to_come += job_->plan[i].likely_s * (portion_ == i ? 1 - share_ : 1);
    }
    // A bench that takes longer than was thought goes on doing so.
    return to_come * (likely_done > 0 && stand_.time_s > 0 ? stand_.time_s / likely_done : 1);
}

} // namespace finch::app

#include "moc_run_flow.cpp"
