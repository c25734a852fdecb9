// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/latest.h"
#include "app/session/ready_job.h"
#include "app/session/recorder.h"
#include "app/session/workbench.h"
#include "bench_link/bench_link.h"
#include "record/run_record.h"

#include <deque>
#include <QElapsedTimer>
#include <QThreadPool>
#include <QTimer>

namespace finch::app {

/// A job on the bench: the gates before it, pass by pass with each written down before the next begins, stopped and
/// gone on with, watched, and put into the record. What is on the screen meanwhile changes nothing of it: the job and
/// its set-up are those that were handed over.
class RunFlow final : public QObject {
    Q_OBJECT
public:
    struct Places {
        QString folder; ///< of journals
        bool look_only = false;
        std::size_t slice_bytes = 8'000'000; ///< of a pass that are sent at once
    };
    RunFlow(Workbench& workbench, Recorder& recorder, JobRunner& runner, SafetyTable safety, Places places,
            QObject* parent = nullptr);
    ~RunFlow() override;

    /// none: no job was handed over. asking: its gates are open. hands: somebody moves the part. held: the beam is off,
    /// and nothing happens until somebody says so. left: a run of before, that ended without an end.
    enum class Step { none, asking, running, held, hands, over, left };
    [[nodiscard]] Step step() const { return step_; }
    /// Whether metal is being marked, or will be when somebody says so.
    [[nodiscard]] bool under_way() const {
        return !ending_ && (step_ == Step::running || step_ == Step::held || step_ == Step::hands);
    }
    /// Null without one.
    [[nodiscard]] const ReadyJob* job() const { return job_.get(); }
    [[nodiscard]] const SafetyTable& safety() const { return safety_; }
    /// Journals of before that could not be read; they were laid aside.
    [[nodiscard]] const std::vector<Error>& troubles() const { return troubles_; }

    /// Takes a job over. Refused, and said, while another one is under way.
    void take(std::shared_ptr<const ReadyJob> job);
    /// The same job once more: the next tray. All is asked again.
    void again();
    /// Takes none.
    void put_away();

    // Before the start.
    [[nodiscard]] const std::vector<Gate>& gates() const { return gates_; }
    [[nodiscard]] const std::vector<GateAnswer>& answers() const { return answers_; }
    /// Of a frame: when it was shown. Nothing: it was not, or something was moved since.
    void answer(const std::string& gate, const std::string& choice = {});
    void withdraw(const std::string& gate);
    /// Shows the frame with the pointer; where the part is moved by hand, on to its next place.
    void show_frame();
    [[nodiscard]] bool framing() const { return frame_id_ != 0; }
    [[nodiscard]] bool frame_waits() const { return frame_waits_; }
    /// What keeps the run from beginning. Where nothing is asked, nothing is known, and it does not begin either.
    [[nodiscard]] std::vector<std::string> locked() const;
    /// Begins, or takes up a run that was left, once nothing locks it.
    void start();

    // In the run.
    /// The beam off at the end of the line; or, once it is off, asked again: nothing.
    void hold();
    /// The beam off when the pass ends, or not after all.
    void hold_after_pass(bool hold);
    [[nodiscard]] bool holds_after_pass() const { return hold_after_pass_; }
    /// After a hold, a fault, or hands. Not while the enclosure is open, nor before somebody said what opening it did.
    void go_on();
    /// The enclosure was open while a part lay there: whether that lies as it lay is known to who reached in alone.
    [[nodiscard]] bool reached_in() const { return reached_in_; }
    /// It does, somebody says.
    void lies_still();
    /// Ends it for good; why is kept.
    void give_up(const QString& why);
    /// Somebody is there, and looked.
    void looked(const QString& note = {});
    /// Nothing more is marked on a part, or it is after all.
    void set_aside(int place, const QString& why);
    void bring_back(int place);
    /// Takes up a run that was left: its gates are asked again.
    void take_up();
    /// Of a run that was left: the pass that was under way counts as marked.
    void count_as_done(bool done) { counts_as_done_ = done; }
    [[nodiscard]] bool counts_as_done() const { return counts_as_done_; }

    /// What happened so far, as far as it is on the disk.
    [[nodiscard]] const RunRecord& record() const { return record_; }
    [[nodiscard]] const RunStand& stand() const { return stand_; }
    /// Portion at hand: under way, or next; nothing when all is done.
    [[nodiscard]] std::optional<std::size_t> at_hand() const;
    /// How far that is, 0 to 1.
    [[nodiscard]] double share() const { return share_; }
    [[nodiscard]] int line() const { return line_; }
    /// Why the beam is off.
    [[nodiscard]] const QString& why() const { return why_; }
    /// When somebody has to look next; nothing where nobody stays.
    [[nodiscard]] std::optional<QDateTime> look_by() const { return look_by_; }
    /// Seconds that the rest takes, from how long the passes took that were marked.
    [[nodiscard]] double left_s() const;
    [[nodiscard]] std::optional<bool> enclosure_open() const { return runner_.open(); }

Q_SIGNALS:
    void changed();

private:
    using Event = RunEvent::Kind;
    void refresh_gates();
    void watch();
    void connect_runner();
    [[nodiscard]] Circumstances circumstances() const;
    [[nodiscard]] RunEvent event(Event kind) const;
    /// Puts events on the disk, in order, and goes on after each; what cannot be put there holds the run.
    void write(RunEvent event, std::function<void()> then = {});
    void write_next();
    void next();
    void send(std::size_t portion, int line);
    /// A portion with the pause that is left of it now: of parts in turn, by when the part was marked last.
    [[nodiscard]] RunPortion paused_portion(std::size_t portion) const;
    void stand_still(const QString& why);
    void passed(const RanJob& found);
    [[nodiscard]] bool held_now(std::size_t portion);
    /// The beam leaves a part that was set aside, at the end of the line; what is marked of the pass is remembered.
    void leave_part();
    [[nodiscard]] bool said_aside(int place) const;
    void left_part();
    /// Whether a portion is still to be marked.
    [[nodiscard]] bool at_hand_of(int portion) const;
    void stop_framing();
    void finish(Event kind, const QString& why = {});
    /// It is over: an entry of the logbook, and no journal any more.
    void keep(const RunRecord& run, bool say);
    void find_left();
    void look_from_now();

    Workbench& workbench_;
    Recorder& recorder_;
    JobRunner& runner_;
    SafetyTable safety_;
    RunJournal journal_;
    bool look_only_;
    std::size_t slice_bytes_;
    QThreadPool disk_; ///< one thread: in order
    std::shared_ptr<std::atomic<int>> alive_ = std::make_shared<std::atomic<int>>(0);

    Step step_ = Step::none;
    std::shared_ptr<const ReadyJob> job_;
    std::vector<Gate> gates_;
    std::vector<GateAnswer> answers_;
    std::string lies_;                  ///< what the answers of the part hold for
    std::optional<Circumstances> told_; ///< that the gates are of
    Latest taking_up_;
    RequestId frame_id_ = 0;
    bool frame_waits_ = false;

    RunRecord record_;
    RunStand stand_;
    std::optional<std::size_t> portion_; ///< under way
    RequestId run_id_ = 0;               ///< 0: nothing is at the bench
    int shift_ = 0, from_line_ = 0, line_ = 0, told_line_ = 0;
    double share_ = 0;
    bool hold_now_ = false; ///< asked, and not answered yet
    bool hold_after_pass_ = false, hands_done_ = false, giving_up_ = false, counts_as_done_ = false, sending_ = false;
    bool reached_in_ = false;
    bool leaving_ = false; ///< the bench was asked to stop, so that its part is left
    bool ending_ = false;  ///< its last word is on its way to the disk
    QString why_, given_up_why_;
    std::deque<std::pair<RunEvent, std::function<void()>>> unwritten_;
    bool writing_ = false;
    QTimer clock_;
    qint64 told_ms_ = 0;
    QElapsedTimer shown_;                                        ///< since progress was last shown
    int slice_ends_ = 0;                                         ///< line after which a pass goes on in another program
    double slices_s_ = 0, slices_mm_ = 0, slices_beside_mm_ = 0; ///< of the pass, before that program
    std::optional<QDateTime> look_by_;
    std::vector<Error> troubles_;
};

} // namespace finch::app
