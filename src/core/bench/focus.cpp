// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/focus.h"

#include <cmath>

namespace finch {
namespace {

bool differ(Length a, Length b) {
    return std::abs(in_micrometres(a - b)) > 0.5;
}

} // namespace

FocusConfirmation confirmation(const Focus& focus, const std::string& bench, const std::string& lens,
                               const Stock& stock, const std::string& by, const std::string& when_utc) {
    return {when_utc,        by,          focus.method, bench,        lens,
            stock.thickness, stock.metal, stock.lot,    focus.offset, focus.head_raised};
}

FocusConfirmation found_by_ladder(const FocusConfirmation& then, Length best, const std::string& by,
                                  const std::string& when_utc) {
    FocusConfirmation now = then;
    now.when_utc = when_utc;
    now.by = by;
    now.method = FocusMethod::ladder;
    now.head_raised = then.head_raised + best;
    now.from_gauge = then.from_gauge + best;
    return now;
}

FocusState focus_state(const Focus& focus, const std::string& bench, const std::string& lens, const Stock& stock) {
    FocusState state;
    if (!focus.confirmed) {
        state.reasons.push_back(StaleReason::never_confirmed);
        return state;
    }
    const FocusConfirmation& was = *focus.confirmed;
    // Two benches may own lenses of one name; the surface of one says nothing about the other.
    if (was.bench != bench)
        state.reasons.push_back(StaleReason::bench_changed);
    if (was.lens != lens)
        state.reasons.push_back(StaleReason::lens_changed);
    if (differ(was.thickness, stock.thickness))
        state.reasons.push_back(StaleReason::thickness_changed);
    if (was.metal != stock.metal || was.lot != stock.lot)
        state.reasons.push_back(StaleReason::stock_changed);
    if (differ(was.offset, focus.offset))
        state.reasons.push_back(StaleReason::offset_changed);
    const Length raised = focus.head_raised - was.head_raised;
    if (differ(raised, mm(0)))
        state.reasons.push_back(StaleReason::head_moved);
    state.surface_error = raised - (stock.thickness - was.thickness) - (focus.offset - was.offset);
    return state;
}

} // namespace finch
