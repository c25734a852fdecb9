// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "demo_bench.h"
#include "formats/picture_file.h"
#include "proof/layout.h"
#include "standin/camera_file.h"
#include "standin/instrument.h"
#include "vision/fiducials.h"

/// What the stand-in makes of the demo bench's sheets, for tests.
namespace finch::tests {

inline const std::shared_ptr<const standin::Nature>& nature() {
    static const auto table =
        std::make_shared<const standin::Nature>(standin::load_nature(FINCH_SOURCE "/data").value());
    return table;
}

/// What a colour instrument reads of a place of the plate.
inline Lab true_colour(const standin::Surface& surface) {
    const auto lab = standin::instrument_lab(surface.reflects);
    return {lab[0], lab[1], lab[2]};
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

} // namespace finch::tests
