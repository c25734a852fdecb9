// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/piece_money.h"
#include "app/session/recorder.h"

#include <map>
#include <QTimer>

namespace finch::app {

/// Puts what is said of work with sprayed films into the record; tells, wherever the operator is and whatever is on the
/// bench by then, when a coat should be dry and when one is about to set.
class FilmKeeper final : public QObject {
    Q_OBJECT
public:
    FilmKeeper(Workbench& workbench, Recorder& recorder, QObject* parent = nullptr);

private:
    void watch();
    void remind(const std::vector<CompoundFact>& facts);
    struct Told {
        bool dry = false, wash = false;
    };
    Workbench& workbench_;
    QTimer clock_;
    std::map<std::string, Told> told_; ///< by the pieces
};

/// When pieces are at what.
struct FilmTimes {
    QDateTime began;    ///< the first step
    double now_min = 0; ///< since then
    CompoundStand stand;
};
[[nodiscard]] FilmTimes film_times(const std::vector<CompoundFact>& facts, const CompoundPlan& plan,
                                   const CompoundConstants& compound, const QDateTime& now);

/// The procedure of the pieces at hand, and where it stands.
struct FilmWork : FilmTimes {
    std::shared_ptr<const CostedPiece> piece;
    const CompoundConstants* compound = nullptr;
    int pieces = 1;
    /// Of the film: as it is chosen; once they are sprayed with their product and coats, once marked as they were.
    Recipe recipe;
    Stock stock; ///< that they are of, whatever lies on the bench by now
    CompoundPlan plan;
    std::vector<CompoundFact> facts;    ///< of these pieces, oldest first; none: not begun
    Expected<CompoundOutcome> expected; ///< of that recipe on that stock
    /// Grades of the scratch ladder, where it was done and nothing before it was taken back since.
    [[nodiscard]] std::vector<double> ladder() const;
};
/// Errors: those of costed_piece(); compound.no_film where no layer has one.
[[nodiscard]] Expected<FilmWork> film_work(const Workbench& workbench, const PieceReader& reader);

/// Says that a step was done, skipped or not done after all. What is said first begins the work with these pieces.
void say_step(Workbench& workbench, const FilmWork& work, CompoundStage stage, StepEvent::Kind kind,
              const QString& note = {}, std::vector<double> ladder = {});
/// Nothing more is done with these pieces.
void put_away(Workbench& workbench, const FilmWork& work);

} // namespace finch::app
