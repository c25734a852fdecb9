// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/round.h"
#include "app/session/state.h"
#include "recipe/check.h"

#include <functional>
#include <memory>
#include <QObject>
#include <QUndoStack>

namespace finch::app {

/// The work at hand: the choices with their undo, the facts, the materials, and the prediction of what is set now.
/// Knows no widget.
class Workbench final : public QObject {
    Q_OBJECT
public:
    using Clock = std::function<QDateTime()>;
    Workbench(Materials materials, Draft draft, Clock clock, QObject* parent = nullptr);

    [[nodiscard]] const Draft& draft() const { return draft_; }
    [[nodiscard]] const Ledger& ledger() const { return ledger_; }
    [[nodiscard]] const Materials& materials() const { return *materials_; }
    [[nodiscard]] std::shared_ptr<const Materials> shared_materials() const { return materials_; }
    /// The metal in front of the operator. One that is not among the materials has its key for a name, and nothing is
    /// predicted for it.
    [[nodiscard]] const Metal& metal() const { return *metal_; }
    [[nodiscard]] const Bench& bench() const { return draft_.setup.bench; }
    [[nodiscard]] Evidence evidence() const { return ledger_.evidence(evidence_key(draft_.setup)); }
    /// Everything that a judgement needs; refers to this workbench's own parts.
    [[nodiscard]] Scene scene() const { return {*materials_, *metal_, bench(), draft_.setup.stock, evidence()}; }
    /// The same as a value, for a worker.
    [[nodiscard]] OwnScene own_scene() const { return {materials_, metal_, draft_.setup, evidence()}; }
    /// The scene in which a sheet was, or is to be, burned, with what is known of that stock now or with other
    /// knowledge.
    [[nodiscard]] OwnScene scene_of(const Round& round) const;
    [[nodiscard]] OwnScene scene_of(const Round& round, const Evidence& knowing) const;

    /// All sheets of the work at hand, and the one that is shown; null if none is.
    [[nodiscard]] const std::vector<Round>& rounds() const;
    [[nodiscard]] const Round* round() const { return round(draft_.shown_sheet); }
    [[nodiscard]] const Round* round(int number) const;
    /// The number that the next sheet gets: one above all that the record and the draft ever gave out.
    [[nodiscard]] int next_sheet() const;
    /// What the record says was the highest number.
    void set_last_recorded_sheet(int number) { last_recorded_ = std::max(last_recorded_, number); }

    /// What is predicted for the recipe set now.
    [[nodiscard]] const Expected<Prediction>& prediction() const;
    [[nodiscard]] const std::vector<Finding>& findings() const;
    /// Forecast of the shown sheet with what is known now; empty if there is none.
    [[nodiscard]] const SheetForecast& forecast() const;
    /// Forecast of the shown sheet with what was known when it was planned.
    [[nodiscard]] const SheetForecast& first_forecast() const;
    /// What went wrong on this stock before, from the logbook.
    void set_history(std::vector<BadTry> tries);
    [[nodiscard]] FocusState focus_state() const;
    [[nodiscard]] QDateTime now() const { return clock_(); }
    [[nodiscard]] std::string now_utc() const { return to_utc_text(now()).toStdString(); }
    /// Now, or just after a time: of two facts the later one counts, also within one second and when the clock was
    /// set back.
    [[nodiscard]] std::string now_after(const std::string& last_utc) const;
    [[nodiscard]] QUndoStack& undo_stack() { return undo_; }

    /// Changes the choices as one undo step. Steps with the same non-empty `merge` key that follow one another within
    /// two seconds become one.
    void change(const QString& text, const QString& merge, const std::function<void(Draft&)>& edit);
    /// Changes that are no decision of the operator (which sheet is shown): not undone.
    void note(const std::function<void(Draft&)>& edit);
    /// Appends facts. Undo does not touch them.
    void add_facts(const std::function<void(Ledger&)>& add);

    void set_knob(Knob knob, double value);
    void confirm_focus();
    /// The head went to where a ladder found the focus.
    void take_focus(const FocusConfirmation& found);
    /// How long scans of the bench at hand took; the last word on its scanner. No undo touches it.
    void take_timed(std::vector<TimedRun> runs);
    /// The sheet of a job was written: the record keeps the job under its code.
    void keep_job(PrintedJob job);
    /// A step of work with a sprayed film, said now and here. No undo touches it.
    void take_film_step(CompoundFact fact);
    /// Something is said of a piece in the scrap bin. No undo touches it.
    void take_scrap(ScrapFact fact);
    void say(const QString& text, State state = State::ok) { Q_EMIT said(text, state); }
    void fail(const Error& error);

Q_SIGNALS:
    void changed();
    void said(const QString& text, finch::app::State state);
    void focus_confirmed();
    void scanner_timed(const finch::TimedScanner& timed);
    void job_printed(const finch::PrintedJob& job);
    void film_step_said(const finch::CompoundFact& fact);
    void scrap_said(const finch::ScrapFact& fact);

private:
    friend class DraftStep;
    void adopt(const Draft& draft);
    void put_facts(Setup& setup) const;
    void confirm(FocusConfirmation now_in_focus);

    std::shared_ptr<const Materials> materials_;
    Draft draft_;
    Ledger ledger_;
    Clock clock_;
    std::shared_ptr<const Metal> metal_;
    QUndoStack undo_;
    std::vector<BadTry> history_;
    int last_recorded_ = 0;
    struct Cache;
    std::shared_ptr<Cache> cache_;
};

} // namespace finch::app
