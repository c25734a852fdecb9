// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "proof/layout.h"
#include "vision/light_field.h"
#include "vision/squared.h"

#include <array>
#include <memory>
#include <optional>
#include <vector>

namespace finch {

/// What the bare metal round a cell says about the light on it.
struct LocalLight {
    Light factor{1, 1, 1}; ///< on the light of the field, at the middle of the cell
    int good = 0;          ///< strips of four that can be believed
    double apart_ln = 0;   ///< between the brightest and the darkest of them
    double veil = 0;       ///< light that a mirrored lamp may have added, in units of the bare metal's own
    double shade = 0;      ///< share of the light that is missing there against the rest of the sheet
};

/// Strips of bare metal between the cells and at the rim: four to each cell, shared by neighbours. They carry the
/// light of the whole sheet, and each cell is put right by its own.
class BareMetal {
public:
    BareMetal(const Squared& squared, const ProofSheet& sheet, const SheetLayout& at);

    [[nodiscard]] std::size_t seen() const { return seen_; }
    /// Only with some strips seen.
    [[nodiscard]] const LightField& field() const { return *field_; }
    [[nodiscard]] LocalLight round_cell(std::size_t cell) const;

private:
    struct Strip {
        RectMm where;
        std::optional<Light> light; ///< nothing: burned out
    };
    std::size_t add(const Squared& squared, const RectMm& where);

    std::vector<Strip> strips_;
    std::vector<std::array<std::size_t, 4>> of_cell_; ///< left, right, above, below
    std::size_t seen_ = 0;
    std::unique_ptr<LightField> field_;
};

} // namespace finch
