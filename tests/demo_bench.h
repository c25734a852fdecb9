// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "formats/data_folder.h"
#include "proof/sheet.h"

/// The demo bench with a planned sheet, for tests.
namespace finch::tests {

inline const Materials& materials() {
    static const Materials table = load_materials(FINCH_SOURCE "/data").value();
    return table;
}

struct DemoBench {
    Setup setup{
        load_bench(FINCH_SOURCE "/data", "wren").value(), load_stock(FINCH_SOURCE "/data", "sundial-316").value(), {}};
    std::shared_ptr<const Metal> metal = materials().find(setup.stock.metal).value();

    [[nodiscard]] Scene scene(const Evidence& knowing = {}) const {
        return {materials(), *metal, setup.bench, setup.stock, knowing};
    }
    /// A blue recipe in focus.
    [[nodiscard]] static Recipe blue() {
        Recipe r;
        r.name = "noon line";
        r.setting = {13, kilohertz(300), nanoseconds(26), mm_per_second(990), mm(0.0035), 0, 1, mm(0)};
        return r;
    }
    [[nodiscard]] SheetRequest request(int number) const {
        SheetRequest q;
        q.number = number;
        q.aim = "noon line in deep blue";
        q.base = blue();
        q.across = {Knob::scan_speed, 600, 1900, 8, Steps::ratio};
        q.down = {Knob::hatch_pitch, 0.003, 0.007, 6, Steps::ratio};
        return q;
    }
    [[nodiscard]] ProofSheet sheet(int number = 7) const {
        const Recipe labels = label_recipe(scene()).value();
        return plan_sheet(request(number), setup.bench, labels).value();
    }
};

} // namespace finch::tests
