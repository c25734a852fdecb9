// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "any_document.h"
#include "proof/reading.h"

/// Proof sheets of every shape that the program can hold, and what was read of them.
namespace finch::tests::any {

inline ProofSheet sheet() {
    ProofSheet s;
    s.number = *rc::gen::inRange(0, highest_sheet_number + 1);
    s.aim = text();
    s.base = recipe();
    s.label_recipe = recipe();
    const auto axis = [](Knob knob) {
        SheetAxis a{knob, {}, coin() ? Steps::ratio : Steps::linear};
        for (int i = *rc::gen::inRange(1, 7); i > 0; --i)
            a.values.push_back(number(1, 100));
        return a;
    };
    s.across = axis(Knob::scan_speed);
    s.down = axis(Knob::power);
    s.cell_width = mm(number(1, 10));
    s.cell_height = mm(number(1, 10));
    s.gap = mm(number(0.5, 3));
    if (coin()) {
        s.own_columns = static_cast<std::size_t>(*rc::gen::inRange(1, 27));
        for (int i = *rc::gen::inRange(1, 30); i > 0; --i)
            s.own.push_back(recipe().setting);
    }
    if (s.free() && coin()) {
        const auto first = static_cast<std::size_t>(*rc::gen::inRange(0, 20));
        s.frame = SheetFrame{*rc::gen::inRange(0, 99), first, (first + s.own.size() - 1) / s.own_columns + 1};
    }
    if (s.free() && !s.frame && s.own.size() % 2 == 0 && coin()) {
        s.own_columns = s.own.size() / 2;
        s.paired = PairedCells{static_cast<Measure>(*rc::gen::inRange(0, 4)), number(0, 20), {}};
        for (std::size_t i = s.own.size(); i > 0; --i)
            s.paired->order.push_back(i - 1);
    }
    if (s.free() && !s.frame && !s.paired && coin()) {
        const int question = *rc::gen::inRange(0, 6);
        s.ladder = question == 0;
        s.offsets = question == 1;
        s.wedge = question == 4;
        s.field = question == 5;
        if (question == 2)
            s.threshold = ThresholdSearch{lab(), number(0.5, 9), coin() ? std::optional(lab()) : std::nullopt};
        if (question == 3)
            s.lot = LotCheck{lab(), number(0.5, 9)};
    }
    for (std::size_t i = 0; i < s.cells(); ++i)
        s.left_out.push_back(*rc::gen::inRange(0, 5) == 0 || !s.holds(i));
    s.close = s.free() && coin();
    s.rest_below_k = coin() ? number(0, most_rest_below_k) : 0;
    if (coin())
        for (std::size_t i = s.cells(); i > 0; --i)
            if (!s.left_out[i - 1])
                s.turns.push_back({i - 1, coin() ? number(0, 120) : 0});
    return s;
}

inline CameraColour camera() {
    CameraColour c;
    c.camera = text();
    c.when_utc = text();
    c.curve = number(0.5, 2);
    for (double& m : c.matrix)
        m = number(-2, 2);
    c.residual_de = number(0, 9);
    c.places = *rc::gen::inRange(6, 99);
    return c;
}

inline SheetReading reading(const ProofSheet& of) {
    SheetReading r;
    r.sheet_number = of.number;
    r.photo = text();
    r.photos = *rc::gen::inRange(0, 9);
    r.camera = coin() ? std::optional(camera()) : std::nullopt;
    r.markers = *rc::gen::inRange(0, 5);
    r.edge_mm = number(0, 1);
    r.light_range = number(1, 3);
    r.ground = coin() ? std::optional(lab()) : std::nullopt;
    r.ground_photographed = r.ground && coin() ? std::optional(lab()) : std::nullopt;
    for (std::size_t i = 0; i < of.cells(); ++i) {
        CellReading c;
        if (coin()) {
            c.depth_um = number(0, 900);
            c.depth_within_um = number(0, 30);
        }
        c.state = static_cast<CellState>(*rc::gen::inRange(0, 3));
        if (c.state == CellState::read)
            c = {CellState::read, lab(), number(0, 5), number(0, 40), coin(), {}, 0, coin()};
        if (c.state == CellState::read && coin())
            c.photographed = {lab(), number(0, 40)};
        c.scratch_steps = coin() ? std::optional(*rc::gen::inRange(0, 8)) : std::nullopt;
        r.cells.push_back(c);
    }
    return r;
}

} // namespace finch::tests::any
