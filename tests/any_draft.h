// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "any_evidence.h"
#include "app/session/draft.h"

namespace finch::tests::any {

inline app::Draft draft() {
    app::Draft d;
    d.setup = setup();
    d.recipe = recipe();
    if (coin())
        d.saved = recipe();
    d.fill = {mm(number(1, 100)), number(1, 5000)};
    d.aim = aim();
    d.school = static_cast<School>(*rc::gen::inRange(0, 5));
    d.target = target();
    d.request.aim = text();
    d.request.across = {Knob::scan_speed, number(1, 500), number(600, 2000), *rc::gen::inRange(1, 20), Steps::ratio};
    d.request.down = {Knob::focus_offset, number(-3, 0), number(0.1, 3), *rc::gen::inRange(1, 20), Steps::linear};
    d.request.cell_width = mm(number(1, 20));
    d.request.gap = mm(number(0.4, 5));
    for (int i = *rc::gen::inRange(0, 3); i > 0; --i) {
        app::PlannedSheet p{sheet(), setup(), text(), {}, number(0, 9), evidence()};
        if (coin())
            p.hoped_de = number(0, 30);
        d.planned.push_back(p);
    }
    d.first_sheet = *rc::gen::inRange(1, 9);
    d.last_sheet = *rc::gen::inRange(0, 900);
    d.shown_sheet = *rc::gen::inRange(0, 900);
    if (coin())
        d.cell = *rc::gen::inRange<std::size_t>(0, 40);
    d.operator_initials = text();
    if (coin())
        d.camera = camera();
    if (coin()) {
        d.piece.file = text();
        if (coin()) {
            d.piece.relief = finch::app::ReliefChoice{};
            ReliefRules& r = d.piece.relief->rules;
            r.width_mm = number(1, 100), r.depth_um = number(1, 1000), r.levels.layers = *rc::gen::inRange(1, 4096);
            r.levels.black = number(0, 0.4), r.levels.white = number(0.5, 1), r.levels.gamma = number(0.2, 4);
            r.levels.invert = coin(), r.crop_to_rim = coin(), r.follow = coin(), r.levels.sharpen = number(0, 2);
            r.clean_every = *rc::gen::inRange(0, 9), r.buff_min = number(0, 30), r.follow_most_mm = number(0, 10);
            if (coin())
                d.piece.relief->recipe = recipe(), d.piece.relief->taken_on = text();
        }
        if (coin()) {
            PlaceRules& p = d.piece.place;
            p.holding = static_cast<Holding>(*rc::gen::inRange(0, 4));
            p.turn_deg = number(-90, 90), p.mirrored = coin(), p.shift = {number(-9, 9), number(-9, 9)};
            p.tray = {*rc::gen::inRange(1, 9),   *rc::gen::inRange(1, 9), number(1, 90), number(1, 90), number(0, 9),
                      {{1, {number(-1, 1), 0}}}, *rc::gen::inRange(0, 9), text()};
            p.way_up_seen = coin();
            p.tiles = {number(0, 9), number(0, 9), number(0, 99)};
            p.round = {number(1, 90), number(1, 90), number(1, 90), number(0, 90), coin(), *rc::gen::inRange(0, 90),
                       number(0, 9)};
            p.wanted = *rc::gen::inRange(0, 99), p.spoiled = number(0, 0.5);
            if (coin())
                p.load_s = number(0, 99);
        }
        if (coin())
            d.piece.steps = {{0, 2, 3, number(0, 90)}, {1, 0, 1, 0}};
        if (coin())
            d.piece.price = {number(0, 99), number(0, 99), number(0, 99), *rc::gen::inRange(0, 9),
                             number(0, 99), number(0, 99), number(0, 1),  number(0, 0.9),
                             number(0, 9),  {3, 1, 99}};
        if (coin())
            d.piece.price.after_min = number(0, 99);
        if (coin())
            d.piece.against =
                finch::app::KeptRoute{text(),
                                      {number(0, 99), number(0, 99), number(0, 99), number(0, 99), number(0, 99),
                                       *rc::gen::inRange(1, 9), number(0, 99), number(0, 99), *rc::gen::inRange(0, 9),
                                       number(0, 99), number(0, 99), number(0, 1), number(0, 99)},
                                      number(0, 0.5)};
        if (coin())
            d.piece.blank = finch::PointMm{number(1, 90), number(1, 90)};
        for (int i = *rc::gen::inRange(0, 3); i-- > 0;)
            d.piece.typed.texts.push_back({"text " + std::to_string(i),
                                           text(),
                                           text(),
                                           coin(),
                                           number(0.1, 90),
                                           {number(-9, 9), number(-9, 9)},
                                           static_cast<finch::TextEnd>(i),
                                           number(-90, 90),
                                           number(-90, 90),
                                           coin()});
        if (coin())
            d.piece.rounds = {{text(), text(), text(), {{0, number(-9, 9)}, {number(-9, 9), 2}, {1, 1}}}};
        if (coin())
            d.piece.as_drawn = {{number(-9, 9), number(-9, 9)}, {1, 2}};
        d.piece.place.tray.in_turn = coin();
        d.piece.size = finch::plain({static_cast<finch::SizeBy>(*rc::gen::inRange(0, 5)), number(0.01, 90),
                                     number(1, 900), number(1, 900), number(0, 9)});
        if (coin())
            d.piece.typed.series = {*rc::gen::inRange(0, 99),
                                    *rc::gen::inRange(-9, 9),
                                    *rc::gen::inRange(1, 9),
                                    {3, 4, 9},
                                    std::make_shared<const finch::PieceTable>(
                                        finch::PieceTable{text(), {"one", "two"}, {{text(), text()}, {"", text()}}})};
        d.piece.film_together = *rc::gen::inRange(1, 99);
        for (int i = *rc::gen::inRange(0, 4); i > 0; --i) {
            d.piece.layers.push_back(
                {text(), text(), coin(), {}, {}, {coin(), coin(), number(0, 5), *rc::gen::inRange(0, 20)}});
            if (coin())
                d.piece.layers.back() = {text(), text(), coin(), recipe(), text(), {coin(), false, 0, 0}};
        }
    }
    return d;
}

} // namespace finch::tests::any
