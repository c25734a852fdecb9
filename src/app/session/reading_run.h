// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/recorder.h"
#include "app/session/workbench.h"
#include "bench_link/bench_link.h"
#include "document/picture.h"
#include "proof/colour_list.h"
#include "proof/depth_list.h"
#include "proof/gloss_list.h"
#include "proof/scratch_list.h"
#include "proof/tool_step.h"

namespace finch::app {

/// Photographs a sheet, or takes a picture of it from a file, reads it in a worker, learns from all that is known of
/// that stock, and makes a fact of it. A reading belongs to its sheet by its number, whatever is shown or on the bench
/// by then.
class ReadingRun final : public QObject {
    Q_OBJECT
public:
    ReadingRun(Workbench& workbench, Recorder& recorder, Camera& camera, QObject* parent = nullptr);
    ~ReadingRun() override;

    enum class Step { idle, photographing, reading, keeping };
    [[nodiscard]] Step step() const { return step_; }
    [[nodiscard]] QString progress_text() const;
    /// Tilted by `tilt_deg`, what is seen becomes part of the reading from above.
    void photograph(int sheet, double tilt_deg = 0);
    /// The same from a file.
    void read_tilted(const QString& path, int sheet, double tilt_deg);
    /// Several photographs of the sheet, turned between them, are read as one.
    void read_files(const QStringList& paths, int sheet);
    /// The last photograph that could not be read, with the outer corners of its markers put by hand (pixels).
    void read_again(const std::array<PointMm, 4>& corners_px);
    void read_picture(const QByteArray& encoded, const QString& name, int sheet);
    /// A cell of a read sheet is spoiled, or is not: a newer reading of the same photograph, which takes the older's
    /// place. What it teaches is learned anew.
    void tick_spoiled(int sheet, std::size_t cell, bool spoiled);
    /// The operator measured how deep a cell is, or takes the word back (nothing).
    void note_depth(int sheet, std::size_t cell, std::optional<double> depth_um, double within_um);
    /// The same of many cells, and the best of them is chosen. A sheet that was not photographed is read by it.
    void note_depths(int sheet, const std::vector<CellDepth>& depths);
    /// Colours that an instrument measured: they count before the photograph's, and how far that lay from them is said.
    void note_colours(int sheet, const std::vector<CellColour>& colours);
    /// How much of the scratch ladder cells survived.
    void note_scratches(int sheet, const std::vector<CellScratch>& scratches);
    void note_gloss(int sheet, const std::vector<CellGloss>& gloss);
    /// Gives up what is under way; what was made a fact of already stays one.
    void cancel();

Q_SIGNALS:
    void changed();
    /// The sheet was not found in a photograph; an operator can see where it is.
    void sheet_not_found(const finch::Picture& picture, const finch::Error& error);

private:
    struct Source {
        std::function<Expected<QByteArray>()> picture;
        std::string name;
    };
    struct Work;
    struct Result;
    void set(Step step);
    void start(std::vector<Source> sources, int sheet, double tilt_deg = 0,
               const std::optional<std::array<PointMm, 4>>& corners_px = {});
    [[nodiscard]] bool can_tilt(int sheet);
    [[nodiscard]] static Expected<std::shared_ptr<Result>> read(const Work& work, Picture& unseen);
    /// What a reading teaches, with all that was known.
    static void learn_from(const Work& work, Result& result);
    void note_cell(int sheet, std::size_t cell, const std::function<QString(CellReading&)>& edit);
    /// A newer reading; `choose` the best cell of it.
    void note(int sheet, const std::function<QString(SheetReading&)>& edit, bool choose = false);
    void give_up(const Work& work, const Picture& unseen, const Error& error);
    void keep(const std::shared_ptr<Result>& result);
    void adopt(const Result& result);
    [[nodiscard]] BurnedSheet burned_elsewhere(const Round& round);

    Workbench& workbench_;
    Recorder& recorder_;
    Camera& camera_;
    Step step_ = Step::idle;
    std::shared_ptr<std::atomic<int>> turn_; ///< a worker of an older turn is of no interest any more
    RequestId shot_ = 0;
    int shots_ = 0;
    int sheet_ = 0;
    double tilt_deg_ = 0; ///< of the photograph that is being taken
    struct NotFound {
        Source source;
        int sheet = 0;
        double tilt_deg = 0;
    };
    std::optional<NotFound> not_found_;
};

} // namespace finch::app
