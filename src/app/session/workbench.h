// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/draft.h"
#include "app/theme/state.h"
#include "recipe/check.h"

#include <functional>
#include <memory>
#include <QDateTime>
#include <QObject>
#include <QUndoStack>

namespace finch::app {

/// The work at hand: the draft with its undo, the materials, and the prediction of what is set now. Knows no widget.
class Workbench final : public QObject {
    Q_OBJECT
public:
    using Clock = std::function<QDateTime()>;
    Workbench(Materials materials, Draft draft, Clock clock, QObject* parent = nullptr);

    [[nodiscard]] const Draft& draft() const { return draft_; }
    [[nodiscard]] const Materials& materials() const { return materials_; }
    [[nodiscard]] const Metal& metal() const { return *metal_; }
    [[nodiscard]] const Bench& bench() const { return draft_.setup.bench; }
    [[nodiscard]] Evidence evidence() const;
    /// Everything that a judgement needs; refers to this workbench's own parts.
    [[nodiscard]] Scene scene() const { return {materials_, *metal_, bench(), draft_.setup.stock, evidence()}; }
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
    [[nodiscard]] QUndoStack& undo_stack() { return undo_; }

    /// Changes the draft as one undo step. Steps with the same non-empty `merge` key that follow one another within two
    /// seconds become one.
    void change(const QString& text, const QString& merge, const std::function<void(Draft&)>& edit);
    /// Changes that are no decision of the operator (which sheet is shown, entries written): not undone.
    void note(const std::function<void(Draft&)>& edit);

    void set_knob(Knob knob, double value);
    void confirm_focus();
    void say(const QString& text, State state = State::ok) { Q_EMIT said(text, state); }
    void fail(const Error& error);

Q_SIGNALS:
    void changed();
    void said(const QString& text, finch::app::State state);
    void focus_confirmed();

private:
    friend class DraftStep;
    void adopt(const Draft& draft);

    Materials materials_;
    Draft draft_;
    Clock clock_;
    std::shared_ptr<const Metal> metal_;
    QUndoStack undo_;
    std::vector<BadTry> history_;
    struct Cache;
    std::shared_ptr<Cache> cache_;
};

/// "14:05" for today, "23 Nov" within a year.
[[nodiscard]] QString brief_time(const QString& utc, const QDateTime& now);
[[nodiscard]] QString to_utc_text(const QDateTime& time);

} // namespace finch::app
