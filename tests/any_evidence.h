// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "any_sheet.h"
#include "search/taught_film.h"

/// Evidence of every shape.
namespace finch::tests::any {

inline MeasuredPoints measured_points() {
    std::vector<MeasuredPoint> out;
    for (int n = *rc::gen::inRange(0, 5); n > 0; --n)
        out.push_back({number(1, 100), number(1, 500), number(1, 1000), number(10, 5000), number(10, 500)});
    return out;
}
inline TaughtFilms taught_films() {
    std::vector<SeenCell> cells;
    for (int n = *rc::gen::inRange(0, 6); n > 0; --n) {
        SeenCell c;
        c.trial.g = number(-5, 15);
        c.trial.ga = number(0, 20);
        c.trial.gs = number(-30, 5);
        c.trial.gt = number(0, 0.04);
        for (double& v : c.trial.at)
            v = number(-3, 3);
        c.trial.haze = number(0, 1);
        c.trial.heat_ln = number(-7, 2);
        c.trial.tear_ln = number(-7, 2);
        c.trial.worn_ln = number(-7, 2);
        c.lab = lab();
        c.read_sd = number(0.5, 3);
        c.spoiled = coin();
        cells.push_back(c);
    }
    return {std::make_shared<const TaughtFilm>(coin() ? "stainless-316" : text(), std::move(cells), number(0.25, 4))};
}
inline Evidence evidence() {
    Evidence e;
    e.growth_gain = number(0.25, 4);
    e.growth_fit_ln = number(0, 1);
    e.film_points = measured_points();
    if (coin())
        e.films = taught_films();
    e.depth_gain = number(0.2, 4);
    e.depth_fit_ln = number(0, 1);
    e.depth_points = measured_points();
    e.coat_gain = number(0.2, 4);
    e.coat_work = number(0.2, 4);
    e.coat_sheets = *rc::gen::inRange(0, 9);
    e.coat_fit_ln = number(0, 1);
    e.coat_points = measured_points();
    e.depth_coupons = *rc::gen::inRange(0, 9);
    e.compound_coupling = number(0.05, 0.9);
    e.compound = coin() ? "ceramic" : "";
    e.power_ladders = *rc::gen::inRange(0, 9);
    e.sheets = *rc::gen::inRange(0, 9);
    e.cells = *rc::gen::inRange(0, 400);
    return e;
}

} // namespace finch::tests::any
