// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "proof/control_course.h"
#include "record/facts.h"
#include "record/logbook.h"

#include <vector>

namespace finch {

/// A control as the record has it: the same five cells on the same bench and lot, burned again over the days.
struct RecordedControl {
    ProofSheet sheet; ///< the newest
    Setup setup;      ///< of its burning
    std::vector<ControlReading> readings;
    int coarse = 0; ///< sheets whose readings were too coarse to tell
    ControlCourse course;
};

/// The controls among read sheets, whatever else is among them; the one that was read last comes first. Of each sheet
/// the newest reading counts.
[[nodiscard]] std::vector<RecordedControl> controls_among(std::vector<ReadSheet> read);

/// All lot checks of a logbook that pass the filter, as they were read. Errors: those of Logbook; an entry that cannot
/// be read is passed over.
[[nodiscard]] Expected<std::vector<ReadSheet>> lot_checks(const Logbook& logbook, EntryFilter filter);

} // namespace finch
