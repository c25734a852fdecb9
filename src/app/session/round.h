// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/draft.h"
#include "app/session/ledger.h"

#include <QDateTime>
#include <QString>

namespace finch::app {

/// One proof sheet of the work at hand as it stands: the plan, and what the ledger knows of it.
struct Round {
    ProofSheet sheet;
    Setup setup; ///< of the burning; of the plan as long as it is not burned
    std::string reason;
    std::optional<double> hoped_de;
    double hoped_spread = 0;
    Evidence before; ///< what was known when it was planned
    bool burned = false;
    std::optional<SheetReading> reading;
    Agreement agreement;
    std::string burned_uid, reading_uid;
    /// Where it lies on a piece of the scrap bin; none: on fresh stock, or on the plate of an earlier round.
    std::optional<ScrapPlace> scrap = {};
};

/// All sheets of the work at hand in the order of their numbers. A sheet that was burned is one of them, whether its
/// plan was taken back or not.
[[nodiscard]] std::vector<Round> rounds_of(const Draft& draft, const Ledger& ledger);

/// The frame on the bench that still has bare places.
struct OpenFrame {
    ProofSheet begun;     ///< the sheet whose markers it carries
    std::size_t next = 0; ///< first bare place
    [[nodiscard]] std::size_t bare() const { return begun.cells() - next; }
};
/// Number of the markers on the piece that was burned last; nothing: no piece lies there, as far as is known.
[[nodiscard]] std::optional<int> plate_on_bench(const Ledger& ledger);
/// Nothing where the piece that was burned last has no frame, is full, or belongs to another bench, lens or stock.
[[nodiscard]] std::optional<OpenFrame> open_frame(const Draft& draft, const Ledger& ledger);

/// Whether a sheet is to be measured with a gauge: a depth is wanted, its cells have one, and it asks nothing else.
[[nodiscard]] inline bool wants_depths(const Draft& draft, const ProofSheet& sheet) {
    return draft.target.depth && traits(sheet.base.process).proven_by == ProvenBy::depth_coupons && !sheet.asks();
}

/// "14:05" for today, "23 Nov" within a year.
[[nodiscard]] QString brief_time(const QString& utc, const QDateTime& now);
[[nodiscard]] QString to_utc_text(const QDateTime& time);

} // namespace finch::app
