// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/latest.h"
#include "app/session/ready_job.h"
#include "app/session/workbench.h"
#include "piece/art_size.h"
#include "piece/fill_trial.h"
#include "piece/job_heat.h"
#include "piece/placing.h"
#include "piece/scanner_fit.h"

#include <map>
#include <memory>

namespace finch::app {

/// A drawing as it was read, and what each of its layers covers.
struct ReadPiece {
    std::string file;
    MendedArt drawing;
    std::vector<double> area_mm2;    ///< of the layers
    std::optional<Error> text_fault; ///< why no text is on it, where some were typed
    std::optional<ArtExtent> extent; ///< as its file has it; nothing for an empty page
    ArtSizing sizing;                ///< what was made of that
};
/// Of a drawing, what is read and how it is mended.
struct PieceAsk {
    std::string file;
    double spot_mm = 0; ///< which says what is too narrow
    std::optional<PointMm> blank;
    TypedTexts typed;
    std::vector<DrawnRound> rounds;
    std::vector<PointMm> as_drawn;
    ArtSize size = {};
    bool operator==(const PieceAsk&) const = default;
};

/// A drawing at its size with what is typed on it; where that cannot be, without. Errors: those of read_artwork(),
/// sizing_of() and mended().
[[nodiscard]] Expected<std::shared_ptr<const ReadPiece>> read_piece(const PieceAsk& ask);

/// One layer of the drawing at hand: what the drawing says, what was chosen, and what it takes.
struct PieceLayer {
    std::size_t index = 0; ///< in the drawing
    LayerChoice choice;
    std::string words = {};       ///< of a typed text, on the first piece at hand
    bool taken_elsewhere = false; ///< its recipe, on another bench, lens, metal, finish or lot
    /// None without a recipe, for a guide, while it is worked out, and where it cannot be hatched.
    std::shared_ptr<const LayerWork> work;
    TimeBand time;  ///< of all its passes; nothing without work
    TimeBand other; ///< filled the other way: shape by shape, or line by line
};

/// The heat of a piece in its order of marking, and how it would be in others.
struct PlannedHeat {
    JobHeat heat;
    HeatPlan plan;
    double bows_from_k = 0; ///< mean rise from which the plate, held by its rim, bows; 0: not known
    int parts = 1;          ///< of the tray, that could take turns
};

/// A piece as it lies on the work, and what that takes.
struct PlacedPiece {
    Placed placed;
    PlacedTime time;
};
/// A part with what is typed on it, laid on the work. Errors: those of numbered() and placed().
[[nodiscard]] Expected<Placed> placed_part(const Job& part, const TypedTexts& typed, const PlaceRules& rules);
/// The same with its time. Errors: also those of time_of().
[[nodiscard]] Expected<PlacedPiece> placed_piece(const Job& part, const TypedTexts& typed, const PlaceRules& rules,
                                                 const ScannerKnowledge& scanner, double handling_s);

/// Reads the chosen drawing, and works out what its layers take with their recipes, in the background.
class PieceReader final : public QObject {
    Q_OBJECT
public:
    explicit PieceReader(Workbench& workbench, QObject* parent = nullptr);

    /// From now on somebody looks: the chosen drawing is read, and read again when the choice changes.
    void look();

    /// The drawing; none while it is read, or where it cannot be.
    [[nodiscard]] const ReadPiece* piece() const { return piece_.get(); }
    /// Why there is none, in a sentence; empty while it is read and where none was chosen.
    [[nodiscard]] const QString& reason() const { return reason_; }
    [[nodiscard]] bool running() const { return reading_.running() || working_.running() || exporting_.running(); }
    /// The layers in the order of marking.
    [[nodiscard]] std::vector<PieceLayer> layers() const;

    /// What is known of this bench's scanner.
    [[nodiscard]] const ScannerKnowledge& scanner() const;

    /// What is to be known of the drawing, and of its layers with their recipes.
    [[nodiscard]] std::vector<ArtFinding> findings() const;
    /// Leaves a fault that was mended as it is drawn, or mends one that was left.
    void leave_or_mend(const ArtFinding& finding);
    /// Makes a layer of what lies within a line, of the layer that is given by its place in the order. Returns its
    /// name; empty where no shape lies wholly in it, where it is a text, and of too many.
    std::string draw_round(std::size_t layer, const std::vector<PointMm>& line);
    /// Whether a layer was drawn round by hand; gives it back to the layer that it was taken from.
    [[nodiscard]] bool is_drawn_round(std::size_t layer) const;
    void give_back(std::size_t layer);

    /// Chooses a drawing, as one step that can be undone. Of another file's layers nothing was chosen yet.
    void open(const QString& file);
    /// Reads the file again: it was changed where it was drawn.
    void read_again();
    /// The recipe that is being tuned becomes that of a layer, given by its place in the order.
    void take_recipe(std::size_t layer);
    /// Each of these layers gets a recipe of its own, as one step that can be undone.
    void take_recipes(const std::map<std::size_t, Recipe>& recipes);
    void set_guide(std::size_t layer, bool guide);
    /// Whether a layer is filled one connected shape after the other, or line by line over all of them.
    void set_by_shape(std::size_t layer, bool by_shape);
    /// How a layer is filled, and its recipe where that turns, shifts or crosses the lines otherwise.
    void set_fill(std::size_t layer, const LayerFill& fill, const std::optional<Recipe>& recipe);
    /// What a layer with a recipe would be, filled so; answered once, unless asked again.
    void try_fill(std::size_t layer, const LayerFill& fill, const Recipe& recipe, int passes_shown,
                  std::function<void(const Expected<FillTrial>&)> answer);
    /// What is typed on the drawing, and the size of the page where there is no file; one step that can be undone.
    /// Those that are called otherwise now, by their old names, keep their recipes.
    void set_texts(const TypedTexts& typed, const std::optional<PointMm>& blank,
                   const std::vector<std::pair<std::string, std::string>>& renamed = {});
    /// How large the drawing becomes. What was drawn round, left as drawn and typed goes with it; letters keep their
    /// height.
    void set_size(const ArtSize& size);
    /// The drawing at that size, with what would be wrong with it; answered once, unless asked again.
    void try_size(const ArtSize& size, std::function<void(const Expected<std::shared_ptr<const ReadPiece>>&)> answer);
    /// Why the texts are not on the drawing; nothing where they are.
    [[nodiscard]] const std::optional<Error>& text_fault() const { return text_fault_; }
    /// How warm its order of marking finds each part, and what would be cooler; answered once, unless asked again.
    void plan_heat(std::function<void(const Expected<PlannedHeat>&)> answer);
    /// An order for the heat's sake; none: layer by layer. It lasts until a layer is changed.
    void take_steps(std::vector<JobStep> steps);
    /// The order at hand, where it is of this drawing.
    [[nodiscard]] std::vector<JobStep> steps() const;
    /// The drawing with its recipes as a job of one part, as it is drawn. Errors: piece.no_drawing, job.no_recipe.
    [[nodiscard]] Expected<Job> part() const;
    /// How it would lie by these rules; answered once, unless asked again.
    void try_place(const PlaceRules& rules, std::function<void(const Expected<PlacedPiece>&)> answer);
    /// It lies so from now on, as one step that can be undone.
    void take_place(const PlaceRules& rules);
    /// As it lies on the work by the rules at hand; nothing while that is worked out, or where it is as drawn.
    [[nodiscard]] const PlacedPiece* laid() const { return laid_ ? &*laid_ : nullptr; }
    /// Why it cannot lie so; empty where it can.
    [[nodiscard]] const QString& laid_reason() const { return laid_reason_; }
    /// Makes of it, as it lies, what a bench runs; answered once, unless asked again. Errors: those of part(), of
    /// placed_part() and of ready_job().
    void make_ready(std::function<void(const Expected<std::shared_ptr<const ReadyJob>>&)> answer);
    /// Writes it in the background, in the form that the ending of the file says: json, svg, dxf, gcode, csv, or
    /// frame.gcode for the frame alone.
    void export_to(const QString& path);
    /// Marks it earlier (-1) or later (+1). Returns its new place.
    std::size_t move(std::size_t layer, int by);

Q_SIGNALS:
    void changed();

private:
    /// What was worked out, by layer of the drawing and recipe; that of recipes not in use is dropped.
    struct Done {
        std::size_t index;
        Recipe recipe;
        LayerFill fill;
        std::shared_ptr<const LayerWork> work;
        ScanLoad other;                  ///< the same filled the other way
        std::vector<ArtFinding> closing; ///< where its walls meet too early
        std::string on;                  ///< evidence key of the set-up that this is for
    };

    void want();
    void want_work();
    void want_laid();
    void keep_work(Done done);
    void change_layers(const QString& text, const std::vector<LayerChoice>& all);
    void change_layer(std::size_t layer, const QString& text, const std::function<void(LayerChoice&)>& edit);
    [[nodiscard]] std::vector<LayerChoice> order() const;

    Workbench& workbench_;
    bool looked_at_ = false;
    Latest reading_, working_, exporting_, heating_, trying_, laying_, filling_, handing_, sizing_;
    struct Laid {
        PieceChoice choice;
        Setup setup;
        std::shared_ptr<const ReadPiece> piece;
        bool operator==(const Laid&) const = default;
    };
    std::optional<Laid> laid_of_;
    std::optional<PlacedPiece> laid_;
    QString laid_reason_;
    std::optional<PieceAsk> asked_;
    std::shared_ptr<const ReadPiece> piece_;
    QString reason_;
    std::optional<Error> text_fault_;
    std::vector<Done> done_;
    mutable std::shared_ptr<const ReadPiece> stepped_; ///< of which it was looked whether the steps fit
    mutable PieceChoice stepped_by_;
    mutable bool steps_fit_ = false;
    mutable std::vector<TimedRun> fitted_to_; ///< timed runs that `scanner_` is of
    mutable std::optional<ScannerKnowledge> scanner_;
};

} // namespace finch::app
