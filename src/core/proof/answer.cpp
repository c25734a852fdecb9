// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/answer.h"

#include "proof/comparison.h"
#include "proof/depth_wedge.h"
#include "proof/field_sheet.h"
#include "proof/focus_ladder.h"
#include "proof/lot_check.h"
#include "proof/offset_series.h"
#include "proof/threshold.h"

namespace finch {
namespace {

template <typename Finding>
std::string said(const Expected<Finding>& finding) {
    return finding ? finding->words : finding.error().message + " " + finding.error().fix;
}

} // namespace

std::optional<std::string> answer(const ProofSheet& sheet, const SheetReading& reading, const Scene& scene,
                                  const Target& target) {
    if (sheet.paired)
        return said(judge_comparison(sheet, reading));
    if (sheet.ladder)
        return said(judge_ladder(sheet, reading, scene.bench, target.accept_de));
    if (sheet.lot)
        return said(judge_lot_check(sheet, reading));
    if (sheet.threshold)
        return said(judge_threshold(sheet, reading, scene.bench));
    if (sheet.offsets)
        return said(judge_offsets(sheet, reading, scene, target));
    if (sheet.wedge)
        return said(judge_wedge(sheet, reading, scene, target.depth));
    if (sheet.field)
        return said(judge_field(sheet, reading, target.accept_de));
    return std::nullopt;
}

Target held_against(const ProofSheet& sheet, const SheetReading* reading, const Target& target) {
    if (sheet.lot)
        return {"expected", sheet.lot->expected, false, sheet.lot->accept_de};
    if (sheet.threshold)
        return {"unmarked", unmarked_of(sheet, reading), false, sheet.threshold->visible_de};
    return target;
}

} // namespace finch
