// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/world.h"

#include "standin/chance.h"

#include <array>

namespace finch::standin {
namespace {

constexpr std::array<std::string_view, 3> words{"friendly", "honest", "hard"};

void draw_metal(World& w, Chance& chance, double far) {
    w.absorptance = chance.factor(0.06 * far);
    w.conductivity = chance.factor(0.04 * far);
    w.capacity = chance.factor(0.04 * far);
    w.fusion = chance.factor(0.06 * far);
    w.boiling = chance.factor(0.02 * far);
    w.growth = chance.factor(0.22 * far);
    w.activation = chance.factor(0.03 * far);
    w.ceiling = chance.factor(0.25 * far);
    w.oxide_index = chance.factor(0.015 * far);
    w.oxide_absorbs = chance.factor(0.10 * far);
    w.film_spread = chance.factor(0.20 * far);
    w.haze = chance.bell(0.03 * far);
    w.melts_at = chance.factor(0.06 * far);
    w.tears_at = chance.factor(0.20 * far);
    w.cut = chance.factor(0.20 * far);
    w.cut_at = chance.factor(0.15 * far);
    w.cut_wall = chance.factor(0.20 * far);
    w.coat = chance.factor(0.25 * far);
}

void draw_form(World& w, Chance& chance, double far) {
    w.crowding = chance.even(0.8, 1.3);
    w.straight_nm = chance.even(0, 12 * far);
    w.film_absorbs = chance.even(0.04, 0.16) * far;
    w.film_scale_nm = chance.even(40, 120);
    w.vapour_lost = chance.even(0.15, 0.45);
    w.edge = chance.even(0.9, 1.0 + 0.2 * far);
    w.ring = chance.even(0, 0.12 * far);
    w.ellipse = chance.factor(0.025 * far);
    w.quality_rise = chance.even(0, 0.04 * far);
    w.astigmatism_mm = chance.even(0, 0.25 * far);
    w.field_power = chance.even(0.005, 0.02) * far;
    w.field_focus_mm = chance.even(-0.2, 0.2) * far;
    w.warm_up = chance.even(0.003, 0.012) * far;
    w.warm_up_s = chance.even(60, 240);
    w.ageing = chance.even(0, 0.02) * far;
    w.scatter = chance.even(0.01, 0.02) * far;
    w.patches = chance.even(0.004, 0.012) * far;
    w.neighbours = chance.even(0.15, 0.3) * far;
}

} // namespace

std::string_view word(Grade grade) {
    return words.at(static_cast<std::size_t>(grade));
}

std::optional<Grade> grade_from_word(std::string_view text) {
    for (std::size_t i = 0; i < words.size(); ++i)
        if (words[i] == text)
            return static_cast<Grade>(i);
    return std::nullopt;
}

World draw_world(Grade grade, std::uint64_t seed) {
    World w;
    w.grade = grade;
    w.seed = seed;
    if (seed == 0)
        return w;
    Chance chance{seed * 3 + static_cast<std::uint64_t>(grade)};
    const double far = grade == Grade::friendly ? 0.5 : grade == Grade::honest ? 1 : 1.4;
    draw_metal(w, chance, far);
    w.power = chance.factor(0.025 * far);
    w.spot = chance.factor(0.03 * far);
    w.focus_mm = chance.bell(0.15 * far);
    if (grade != Grade::friendly) {
        draw_form(w, chance, far);
        // Drawn last, so that benches are otherwise as they were.
        w.tilt_x_mm = chance.bell(0.2 * far);
        w.tilt_y_mm = chance.bell(0.2 * far);
    }
    return w;
}

} // namespace finch::standin
