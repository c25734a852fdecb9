// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "vision/light_field.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <random>

using namespace finch;

namespace {

constexpr double width = 90, height = 70;

/// A lamp to one side: a smooth fall of the light, another in each channel.
double lamp(double x, double y, int channel) {
    const double u = x / width - 0.3, v = y / height - 0.6;
    return (0.5 + 0.1 * channel) * std::exp(-0.6 * u + 0.2 * v - 0.5 * u * u - 0.15 * u * v + 0.1 * v * v * v);
}

struct Spoiled {
    const char* what;
    double share;    ///< of the samples
    double factor;   ///< on their light
    bool in_a_place; ///< together, as glare and shadows are
    double off;      ///< largest error that is allowed then, as a share
};

std::vector<BareSample> samples(const Spoiled& spoiled, unsigned seed) {
    std::mt19937 dice(seed);
    std::normal_distribution<double> noise(0, 0.01);
    std::uniform_real_distribution<double> chance(0, 1);
    std::vector<BareSample> out;
    const double side = std::sqrt(spoiled.share);
    for (double x = 2; x < width; x += 3)
        for (double y = 2; y < height; y += 3) {
            BareSample s{x, y, {}};
            const bool hit =
                spoiled.in_a_place ? x > (1 - side) * width && y > (1 - side) * height : chance(dice) < spoiled.share;
            for (int c = 0; c < 3; ++c)
                s.light[static_cast<std::size_t>(c)] =
                    lamp(x, y, c) * std::exp(noise(dice)) * (hit ? spoiled.factor : 1);
            out.push_back(s);
        }
    return out;
}

} // namespace

TEST_CASE("the light over a sheet is found under glare, shadow and stray marks", "[vision][light]") {
    const std::vector<Spoiled> rows{
        {"clean metal", 0, 1, false, 0.015},
        {"a fifth of the samples on burned marks", 0.2, 0.4, false, 0.03},
        {"a fifth of them glinting", 0.2, 2.5, false, 0.03},
        {"a patch of glare in a corner", 0.08, 2.2, true, 0.12},
        {"the shadow of a hand in a corner", 0.08, 0.45, true, 0.12},
    };
    for (const Spoiled& row : rows)
        for (unsigned seed = 1; seed <= 5; ++seed) {
            INFO(row.what << ", seed " << seed);
            const LightField field(samples(row, seed), width, height);
            const double clear = row.in_a_place ? 1 - std::sqrt(row.share) - 0.05 : 1;
            for (double x = 5; x < clear * width - 5; x += 8)
                for (double y = 5; y < clear * height - 5; y += 8)
                    for (int c = 0; c < 3; ++c) {
                        const double found = field.at(x, y)[static_cast<std::size_t>(c)];
                        CHECK(std::abs(found / lamp(x, y, c) - 1) < row.off);
                    }
        }
}

TEST_CASE("metal that departs from the light is told, whether it glares or lies in shadow", "[vision][light]") {
    for (const double factor : {2.2, 1.4, 0.65, 0.4}) {
        INFO("light times " << factor);
        const LightField field(samples({"", 0.06, factor, true, 0}, 3), width, height);
        CHECK(field.departure(0.95 * width, 0.95 * height, 6) > 0.13);
        CHECK(field.departure(0.2 * width, 0.3 * height, 6) < 0.05);
    }
    // The range is that of the lamp, not that of the glare.
    const LightField field(samples({"", 0.06, 3, true, 0}, 4), width, height);
    double least = 1e9, most = 0;
    for (double x = 2; x < width; x += 3)
        for (double y = 2; y < height; y += 3) {
            least = std::min(least, lamp(x, y, 1));
            most = std::max(most, lamp(x, y, 1));
        }
    CHECK(field.range() == Approx(most / least).epsilon(0.15));
}

TEST_CASE("a sheet with hardly any bare metal to see still has a light that is finite", "[vision][light]") {
    for (const std::size_t count : {0U, 1U, 3U, 9U, 11U}) {
        std::vector<BareSample> few = samples({"", 0, 1, false, 0}, 1);
        few.resize(count);
        const LightField field(few, width, height);
        for (const double x : {0.0, width / 2, width})
            for (const double light : field.at(x, height / 2)) {
                INFO(count << " samples");
                CHECK(std::isfinite(light));
                CHECK(light > 0);
            }
    }
}
