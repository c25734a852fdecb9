// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/piece_reader.h"
#include "app/session/recorder.h"
#include "piece/piece_cost.h"

namespace finch::app {

/// Puts what is said of work with sprayed films into the record.
class FilmKeeper final : public QObject {
    Q_OBJECT
public:
    FilmKeeper(Workbench& workbench, Recorder& recorder, QObject* parent = nullptr);
};

/// What the piece at hand costs to make, with all that this refers to.
struct CostedPiece {
    Job part;
    double mark_s = 0; ///< of one part
    PieceCost cost;    ///< refers to the materials, and to `part`
};
/// Errors: those of PieceReader::part() and piece_cost(); piece.being_read while its lines are worked out.
[[nodiscard]] Expected<std::shared_ptr<const CostedPiece>> costed_piece(const Workbench& workbench,
                                                                        const PieceReader& reader);

/// The procedure of the pieces at hand, and where it stands.
struct FilmWork {
    std::shared_ptr<const CostedPiece> piece;
    const CompoundConstants* compound = nullptr; ///< with which the pieces are sprayed; once begun, whatever is chosen
    int pieces = 1;
    double coats = 2;
    CompoundPlan plan;
    std::vector<CompoundFact> facts; ///< of these pieces, oldest first; none: not begun
    QDateTime began;                 ///< the first step
    double now_min = 0;              ///< since then
    CompoundStand stand;
    Expected<CompoundOutcome> expected; ///< of the film on this metal with the layer's recipe
    /// Grades of the scratch ladder, where it was done and nothing before it was taken back since.
    [[nodiscard]] std::vector<double> ladder() const;
};
/// Errors: those of costed_piece(); compound.no_film where no layer has one.
[[nodiscard]] Expected<FilmWork> film_work(const Workbench& workbench, const PieceReader& reader);
/// Where it stands at another time.
void move_on(FilmWork& work, const QDateTime& now);

/// Says that a step was done, skipped or not done after all. What is said first begins the work with these pieces.
void say_step(Workbench& workbench, const FilmWork& work, CompoundStage stage, StepEvent::Kind kind,
              const QString& note = {}, std::vector<double> ladder = {});
/// Nothing more is done with these pieces.
void put_away(Workbench& workbench, const FilmWork& work);

} // namespace finch::app
