// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/answer.h"

#include "proof/comparison.h"
#include "proof/focus_ladder.h"
#include "proof/lot_check.h"

namespace finch {
namespace {

template <typename Finding>
std::string said(const Expected<Finding>& finding) {
    return finding ? finding->words : finding.error().message + " " + finding.error().fix;
}

} // namespace

std::optional<std::string> answer(const ProofSheet& sheet, const SheetReading& reading, const Bench& bench,
                                  double accept_de) {
    if (sheet.paired)
        return said(judge_comparison(sheet, reading));
    if (sheet.ladder)
        return said(judge_ladder(sheet, reading, bench, accept_de));
    if (sheet.lot)
        return said(judge_lot_check(sheet, reading));
    return std::nullopt;
}

} // namespace finch
