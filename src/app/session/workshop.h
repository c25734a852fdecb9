// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/autosave.h"
#include "app/session/camera_setter.h"
#include "app/session/control_keeper.h"
#include "app/session/film_work.h"
#include "app/session/history_keeper.h"
#include "app/session/job_keeper.h"
#include "app/session/knowledge_keeper.h"
#include "app/session/logbook_exchange.h"
#include "app/session/proof_flow.h"
#include "app/session/run_flow.h"
#include "app/session/scanner_timer.h"
#include "app/session/scrap_keeper.h"
#include "bench_link/local_bench.h"
#include "formats/data_folder.h"

#include <memory>
#include <QLockFile>

namespace finch::app {

/// A workshop's folder with all that works on it: the draft, the record with its outbox, the bench, the flows.
/// Everything that a window shows and a test drives is put together here, once.
class Workshop {
public:
    struct Options {
        QString folder;
        QString name; ///< of the workshop, for people
        DataFolders data;
        bool demo = false;
        bool look_only = false; ///< nothing is written, burned or locked
        LocalBench::Options bench;
        Workbench::Clock clock = [] { return QDateTime::currentDateTime(); };
    };
    /// Errors: those of the data folders; workshop.in_use when another window works on the folder.
    [[nodiscard]] static Expected<std::unique_ptr<Workshop>> open(const Options& options);
    ~Workshop();
    Workshop(const Workshop&) = delete;
    Workshop& operator=(const Workshop&) = delete;

    [[nodiscard]] const QString& name() const { return options_.name; }
    [[nodiscard]] const QString& folder() const { return options_.folder; }
    [[nodiscard]] bool demo() const { return options_.demo; }
    [[nodiscard]] bool look_only() const { return options_.look_only; }
    [[nodiscard]] const std::vector<Bench>& benches() const { return benches_; }
    /// What was wrong at the start and survived; to be shown.
    [[nodiscard]] const std::vector<Error>& troubles() const { return troubles_; }

    [[nodiscard]] Workbench& workbench() { return *workbench_; }
    [[nodiscard]] Recorder& recorder() { return *recorder_; }
    [[nodiscard]] LogbookDesk& desk() { return *desk_; }
    [[nodiscard]] LocalBench& bench() { return *bench_; }
    [[nodiscard]] ProofFlow& flow() { return *flow_; }
    [[nodiscard]] ScannerTimer& timer() { return *timer_; }
    [[nodiscard]] CameraSetter& eyes() { return *eyes_; }
    [[nodiscard]] RunFlow& run() { return *run_; }
    [[nodiscard]] Autosave* autosave() { return autosave_.get(); } ///< null when only looking
    [[nodiscard]] KnowledgeKeeper& knowledge() { return *knowledge_; }
    [[nodiscard]] HistoryKeeper& history() { return *history_; }
    [[nodiscard]] ControlKeeper& controls() { return *controls_; }
    [[nodiscard]] LogbookExchange& exchange() { return *exchange_; }

    /// What closing now would lose, in words; empty if nothing.
    [[nodiscard]] QStringList would_be_lost();

private:
    explicit Workshop(Options options) : options_(std::move(options)) {}
    [[nodiscard]] Expected<void> start();
    [[nodiscard]] Draft opening_draft(const Draft& fresh);
    void read_numbers();

    Options options_;
    std::vector<Bench> benches_;
    std::vector<Error> troubles_;
    std::unique_ptr<QLockFile> lock_;
    std::unique_ptr<Workbench> workbench_;
    std::unique_ptr<Recorder> recorder_;
    std::unique_ptr<LogbookDesk> desk_;
    std::unique_ptr<LocalBench> bench_;
    std::unique_ptr<ProofFlow> flow_;
    std::unique_ptr<ScannerTimer> timer_;
    std::unique_ptr<JobKeeper> jobs_;
    std::unique_ptr<RunFlow> run_;
    std::unique_ptr<FilmKeeper> films_;
    std::unique_ptr<ScrapKeeper> scrap_;
    std::unique_ptr<CameraSetter> eyes_;
    std::unique_ptr<Autosave> autosave_;
    std::unique_ptr<KnowledgeKeeper> knowledge_;
    std::unique_ptr<HistoryKeeper> history_;
    std::unique_ptr<ControlKeeper> controls_;
    std::unique_ptr<LogbookExchange> exchange_;
};

} // namespace finch::app
