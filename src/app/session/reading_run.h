// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/recorder.h"
#include "app/session/workbench.h"
#include "bench_link/bench_link.h"

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
    void photograph(int sheet);
    void read_file(const QString& path, int sheet);
    void read_picture(const QByteArray& encoded, const QString& name, int sheet);
    /// Gives up what is under way; what was made a fact of already stays one.
    void cancel();

Q_SIGNALS:
    void changed();

private:
    struct Work;
    struct Result;
    void set(Step step);
    void start(const std::function<Expected<QByteArray>()>& picture, const QString& name, int sheet);
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
};

} // namespace finch::app
