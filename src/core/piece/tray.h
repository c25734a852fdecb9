// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "piece/job.h"
#include "piece/place_rules.h"

namespace finch {

/// The part in every nest, in the order of the shortest way: every second row backward. The page becomes the tray's.
/// Errors: tray.size (1 to 1000 nests), tray.overlap (parts lie in each other), tray.field (the tray does not lie in
/// the field of the lens), tray.offset (no such nest, or further than a pitch), tray.outline (no such layer).
[[nodiscard]] Expected<Job> in_tray(const Job& part, const Tray& tray);

/// What is cut to hold the parts, as layers without recipes: the tray, pockets that are wider than the part by
/// `clearance_mm` all round, two holes for pins in corners across, and the numbers of the nests. The part is as wide as
/// the outline that was chosen, else as the largest that is drawn. Errors: those of in_tray(), and of inset();
/// tray.numbers (no room for them).
[[nodiscard]] Expected<Job> jig_of(const Job& part, const Tray& tray, double clearance_mm, double pin_mm = 3);

/// How many parts to load so that, with this confidence, so many come out good although each is spoiled with this
/// chance: the smallest number by the binomial distribution. Valid: wanted 1 to 100 000, spoiled 0 to 0.9.
[[nodiscard]] int parts_to_load(int wanted, double spoiled, double confidence = 0.95);

/// A batch in trays: how many, and how long with one tray that is emptied and filled between, or with two that are
/// changed while the other is marked.
struct Batch {
    int load = 0, trays = 0, on_last = 0; ///< parts in all, and on the last tray
    double one_tray_s = 0, two_trays_s = 0;
};
/// `mark_s` and `handle_s` of one part.
[[nodiscard]] Batch batch_of(int load, int nests, double mark_s, double handle_s);

} // namespace finch
