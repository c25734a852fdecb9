// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/check_list.h"
#include "app/instruments/run_view.h"
#include "app/session/run_flow.h"

/// What is shown of a run, from plain values.
namespace finch::app {

/// A row for each gate, with the gate that it is of; headings have none.
struct GateRows {
    std::vector<CheckRow> rows;
    std::vector<const Gate*> of;
};
[[nodiscard]] GateRows gate_rows(const RunFlow& run);
/// "Start is locked by two answers: ...", or that it may begin.
[[nodiscard]] QString lock_words(const RunFlow& run);

/// What happened, newest first.
[[nodiscard]] std::vector<CheckRow> event_rows(const RunFlow& run);

/// The bench with its parts. Outlines are made once: they are as large as the drawing.
[[nodiscard]] RunPicture run_outlines(const ReadyJob& job);
void show_stand(RunPicture& picture, const RunFlow& run);
[[nodiscard]] RunBarPicture run_bar(const RunFlow& run, const QDateTime& now);

/// Title and line under it.
[[nodiscard]] QString run_title(const RunFlow& run);
[[nodiscard]] QString run_under(const RunFlow& run);
/// What the layer at hand should look like now.
[[nodiscard]] QString look_words(const RunFlow& run, const Workbench& workbench);
[[nodiscard]] QString attendance_words(const RunFlow& run, const QDateTime& now);
/// How a run ended.
[[nodiscard]] QString end_words(const RunFlow& run);
/// What is done to the parts by hand once all is marked; empty before.
[[nodiscard]] QString after_words(const RunFlow& run, const Materials& materials);

} // namespace finch::app
