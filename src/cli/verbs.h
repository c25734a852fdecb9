// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "cli/piece_commands.h"

#include <CLI/CLI.hpp>
#include <nlohmann/json.hpp>
#include <vector>

/// What the program can be asked, as a table: its arguments and who answers.
namespace finch::cli {

struct Options {
    PredictOptions predict;
    AimOptions aim;
    CarryOptions carry;
    BorrowOptions borrow;
    SetupOptions setup;
    PlanOptions plan;
    BurnOptions burn;
    ReadOptions read;
    DepthOptions depth;
    SearchOptions search;
    CompareOptions compare;
    LadderOptions ladder;
    LotOptions lot;
    ThresholdOptions threshold;
    OffsetOptions offsets;
    WedgeOptions wedge;
    FieldOptions field;
    CameraOptions camera;
    LogOptions log;
    PieceOptions piece;
    ReliefOptions relief;
    JobOptions job;
    ScannerOptions scanner;
    HeatOptions heat;
    TrayOptions tray;
    MoneyOptions money;
    PlaceOptions place;
};

/// Adds a bench and stock, by name or file.
template <typename O>
void add_scene(CLI::App& app, O& o) {
    app.add_option("--bench", o.bench, "Bench file or name")->capture_default_str();
    app.add_option("--stock", o.stock, "Stock file or name")->capture_default_str();
}

/// One thing the program can do: adding one is one entry here and one command.
struct Verb {
    const char* group; ///< empty: a command of its own
    const char* name;
    const char* help;
    void (*options)(::CLI::App&, Options&);
    Expected<nlohmann::json> (*run)(const Context&, const Options&);
};

/// Drawings, height maps and jobs.
[[nodiscard]] std::vector<Verb> piece_verbs();

} // namespace finch::cli
