// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "demo_bench.h"
#include "formats/picture_file.h"
#include "proof/layout.h"
#include "proof/reading.h"
#include "standin/camera_file.h"
#include "standin/instrument.h"
#include "vision/fiducials.h"

#include <random>

/// What the stand-in makes of the demo bench's sheets, for tests.
namespace finch::tests {

inline const std::shared_ptr<const standin::Nature>& nature() {
    static const auto table =
        std::make_shared<const standin::Nature>(standin::load_nature(FINCH_SOURCE "/data").value());
    return table;
}

/// What a colour instrument reads of a place of the plate.
inline Lab true_colour(const standin::Reflectance& reflects) {
    const auto lab = standin::instrument_lab(reflects);
    return {lab[0], lab[1], lab[2]};
}
inline Lab true_colour(const standin::Surface& surface) {
    return true_colour(surface.reflects);
}

/// The photograph as the program gets it: through its file.
inline Picture taken(const standin::Plate& plate, const standin::CameraBody& body, const standin::Shot& shot) {
    return picture_from_bytes(standin::encoded(standin::photograph(plate, body, shot)), "photo").value();
}

[[nodiscard]] inline standin::Plate burned(const DemoBench& demo, const ProofSheet& sheet,
                                           const standin::World& world) {
    const SheetLayout at = layout(sheet);
    return standin::burn_all(world, nature(), demo.setup, tool_steps(sheet, at, fiducial_modules(at)), at.width_mm,
                             at.height_mm)
        .value();
}

/// What a colour instrument reads of the cells, with some noise.
inline SheetReading read_by_instrument(const ProofSheet& sheet, const standin::Plate& plate, unsigned seed,
                                       double noise) {
    std::mt19937 dice(seed);
    std::normal_distribution<> normal(0, noise);
    SheetReading out;
    out.sheet_number = sheet.number;
    out.cells.resize(sheet.cells());
    for (std::size_t i = 0; i < sheet.cells(); ++i)
        if (const standin::Burn* b = plate.find(cell_name(sheet, i))) {
            const Lab l = true_colour(b->surface);
            out.cells[i] = {CellState::read, {l.l + normal(dice), l.a + normal(dice), l.b + normal(dice)}, 1, 1};
        }
    return out;
}

/// The cells alone, without markers and letters.
inline standin::Plate cells_of(const DemoBench& demo, const ProofSheet& sheet, const standin::World& world) {
    const SheetLayout at = layout(sheet);
    std::vector<ToolStep> steps = tool_steps(sheet, at, {});
    std::erase_if(steps, [](const ToolStep& s) { return s.name == "fiducial" || s.name == "label"; });
    return standin::burn_all(world, nature(), demo.setup, steps, at.width_mm, at.height_mm).value();
}

} // namespace finch::tests
