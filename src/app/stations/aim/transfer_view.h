// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/change_bars.h"
#include "recipe/borrowed.h"
#include "recipe/carry.h"

namespace finch::app {

/// How a recipe that came from elsewhere is drawn: what is set, what reaches the part, and one verdict.

/// Settings there beside those here, in what reaches the part, with what is typed into that machine's window.
[[nodiscard]] ChangeBarsView settings_view(const MachineSettings& from, const QString& from_name,
                                           const MachineSettings& to, const QString& to_name,
                                           const QStringList& typed = {});
/// What was said beside what it becomes here; what was never said has no bar.
[[nodiscard]] ChangeBarsView borrowed_view(const Borrowed& told, const MachineSettings& here);
/// What is kept and what changes, the most important first, with what that does.
[[nodiscard]] ChangeBarsView kept_view(const TransferResult& result);

struct VerdictWords {
    State state = State::ok;
    QString text;
};
/// One verdict, with what stands in its way.
[[nodiscard]] VerdictWords verdict_words(const TransferResult& result);
/// The same with what is predicted on both benches, which weighs more.
[[nodiscard]] VerdictWords verdict_words(const TransferResult& result, const CarriedOutcome& outcome);

} // namespace finch::app
