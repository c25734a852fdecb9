// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/measured_cells.h"

#include "demo_plate.h"
#include "physics/colour_difference.h"
#include "proof/observed.h"
#include "vision/sheet_photo.h"

#include <algorithm>
#include <array>
#include <catch2/catch.hpp>
#include <sstream>

using namespace finch;
using namespace finch::tests;

namespace {

/// How far colours lie from what an instrument would say, and how often within what is stated.
struct Off {
    std::vector<double> de;
    std::size_t held = 0;
    void add(const CellReading& c, const Lab& truth) {
        de.push_back(delta_e00(c.lab, truth));
        held += de.back() <= c.within_de ? 1 : 0;
    }
    [[nodiscard]] double middle() {
        std::ranges::sort(de);
        return de.empty() ? 0 : de[de.size() / 2];
    }
    [[nodiscard]] double coverage() const {
        return 100.0 * static_cast<double>(held) / static_cast<double>(std::max<std::size_t>(1, de.size()));
    }
};

/// Of the cells that nobody measured, before and after: those that look like a measured one, and the others.
struct SetRight {
    Off near_before, near_after, far_before, far_after;
    std::string row() {
        std::ostringstream out;
        const auto one = [&](const char* what, Off& before, Off& after) {
            out << what << " " << before.de.size() << " cells: " << before.middle() << " before, " << after.middle()
                << " after, held " << before.coverage() << " and " << after.coverage() << " % ";
        };
        one("alike", near_before, near_after);
        one("| others", far_before, far_after);
        return out.str();
    }
};

constexpr std::array<std::size_t, 2> instruments_use{1, 3}; ///< cells that are measured

std::array<SetRight, 2> set_right(standin::Grade grade, std::uint64_t photos) {
    const DemoBench demo;
    const ProofSheet sheet = demo.sheet();
    const std::array plates{burned(demo, sheet, standin::draw_world(grade, 300)),
                            burned(demo, sheet, standin::draw_world(grade, 301))};
    std::array<SetRight, 2> all;
    for (std::uint64_t seed = 1; seed <= photos; ++seed) {
        const standin::Plate& plate = plates[seed % 2];
        standin::Shot shot;
        shot.seed = seed;
        shot.white_card = layout(sheet).white_card;
        const auto read = read_sheet_photo(taken(plate, standin::draw_camera(grade, 500 + seed), shot), sheet);
        if (!read)
            continue;
        const SheetReading& before = read->reading;
        std::vector<std::size_t> cells;
        for (std::size_t i = 0; i < sheet.cells(); ++i)
            if (before.cells[i].state == CellState::read && sheet.holds(i))
                cells.push_back(i);
        if (cells.size() < 10)
            continue;
        // Those nearest to some colour, as one measures what may be wanted.
        const Lab wanted = before.cells[cells[(7 * seed) % cells.size()]].lab;
        std::ranges::stable_sort(cells, {}, [&](std::size_t i) { return delta_e00(before.cells[i].lab, wanted); });
        const auto truth = [&](std::size_t i) { return true_colour(plate.find(cell_name(sheet, i))->surface); };
        for (std::size_t use = 0; use < instruments_use.size(); ++use) {
            const std::size_t measured = instruments_use[use];
            SetRight& out = all[use];
            std::vector<CellColour> colours;
            for (std::size_t k = 0; k < measured; ++k)
                colours.push_back({cells[k], truth(cells[k])});
            SheetReading after = before;
            put_colours(after, colours);
            for (std::size_t k = measured; k < cells.size(); ++k) {
                const std::size_t i = cells[k];
                const bool alike = std::ranges::any_of(colours, [&](const CellColour& c) {
                    return delta_e_ab(before.cells[c.cell].lab, before.cells[i].lab) < 12;
                });
                (alike ? out.near_before : out.far_before).add(before.cells[i], truth(i));
                (alike ? out.near_after : out.far_after).add(after.cells[i], truth(i));
            }
        }
    }
    return all;
}

} // namespace

TEST_CASE("measured cells set right what a photograph says of cells like them, within what is stated",
          "[vision][measured]") {
    auto of_honest = set_right(standin::Grade::honest, 8);
    auto of_hard = set_right(standin::Grade::hard, 8);
    for (std::size_t use = 0; use < instruments_use.size(); ++use) {
        SetRight &honest = of_honest[use], &hard = of_hard[use];
        INFO(instruments_use[use] << " measured, honest: " << honest.row() << "\nhard: " << hard.row());
        CHECK(hard.near_after.middle() < 0.6 * hard.near_before.middle());
        CHECK(honest.near_after.middle() < honest.near_before.middle());
        // What says nothing of a colour does not make it worse.
        CHECK(honest.far_after.middle() < 1.1 * honest.far_before.middle());
        CHECK(hard.far_after.middle() < 1.1 * hard.far_before.middle());
        for (const Off* band : {&honest.near_after, &hard.near_after, &honest.far_after, &hard.far_after})
            CHECK(band->coverage() > 88);
    }
}
