// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "demo_bench.h"
#include "search/film_posterior.h"

#include <catch2/catch.hpp>
#include <cmath>

using namespace finch;
using namespace finch::tests;

namespace {

/// Titanium at many speeds, from the film that air leaves to several orders.
struct Ladder {
    Bench bench = load_bench(FINCH_SOURCE "/data", "wren").value();
    Stock stock = load_stock(FINCH_SOURCE "/data", "setting-circle-titanium").value();
    std::shared_ptr<const Metal> metal = materials().find(stock.metal).value();
    std::shared_ptr<const FilmTable> table = std::make_shared<const FilmTable>(*metal->film);
    std::vector<Trial> all;

    Ladder() {
        std::vector<Recipe> recipes;
        for (int i = 0; i < 60; ++i) {
            Recipe r = DemoBench::blue();
            r.setting.power_percent = 4;
            r.setting.scan_speed = mm_per_second(60 * std::pow(1.095, i));
            recipes.push_back(r);
        }
        all = trials({materials(), *metal, bench, stock, {}}, recipes, {mm(5), 20});
    }
    [[nodiscard]] static double truth(const Trial& t) { return t.told(FilmPrior().mean).ln_nm; }
    /// One in so many of the trials whose film is this thick.
    [[nodiscard]] std::vector<Trial> between(double nm, double most_nm, std::size_t every) const {
        std::vector<Trial> out;
        std::size_t k = 0;
        for (const Trial& t : all)
            if (const double x = std::exp(truth(t)); x >= nm && x < most_nm && k++ % every == 0)
                out.push_back(t);
        return out;
    }
};

} // namespace

TEST_CASE("a camera that is off does not pass for a film where the colour hardly goes with the thickness", "[search]") {
    const Ladder ladder;
    std::vector<Trial> burned = ladder.between(0, 12, 2);
    for (const Trial& t : ladder.between(12, 24, 3))
        burned.push_back(t);
    const std::vector<Trial> later = ladder.between(45, 160, 2);
    REQUIRE(burned.size() >= 8);
    REQUIRE(later.size() >= 4);
    int held = 0, tried = 0;
    for (const double off : {-0.9, -0.45, 0.0, 0.45, 0.9}) {
        std::vector<SeenCell> seen;
        for (const Trial& t : burned) {
            const Lab film = ladder.table->at(std::exp(Ladder::truth(t)), t.haze);
            seen.push_back({t, {film.l - 0.5 * off, film.a + 0.3 * off, film.b + off}});
        }
        const FilmPosterior known(ladder.table, seen);
        const auto film = known.told(later, known.likeliest()), bare = known.told(burned, known.likeliest());
        for (std::size_t i = 0; i < later.size(); ++i) {
            const double sd = known.stated_ln(later[i], film[i]);
            CAPTURE(off, std::exp(Ladder::truth(later[i])), std::exp(film[i].ln_nm), sd);
            CHECK(std::abs(film[i].ln_nm - Ladder::truth(later[i])) < 1.645 * sd);
            CHECK(sd < 0.5); // and not because nothing is claimed
        }
        for (std::size_t i = 0; i < burned.size(); ++i) {
            ++tried;
            held += std::abs(bare[i].ln_nm - Ladder::truth(burned[i])) < 1.645 * known.stated_ln(burned[i], bare[i])
                        ? 1
                        : 0;
        }
    }
    CHECK(held >= 0.85 * tried);
}

TEST_CASE("a later reading is held against its band over all orders, and by no window", "[search]") {
    const Ladder ladder;
    std::vector<SeenCell> seen;
    for (const Trial& t : ladder.between(12, 60, 3))
        seen.push_back({t, ladder.table->at(std::exp(Ladder::truth(t)), t.haze)});
    const FilmPosterior known(ladder.table, seen);
    const Trial t = ladder.between(30, 60, 2).front();
    const auto film = known.told({&t, 1}, known.likeliest()).front();
    const double sd = known.stated_ln(t, film);
    // Of a film that is so many deviations thicker or thinner than told it finds about as many, with its sign, and no
    // film of any thickness makes nonsense of it.
    double before = -1e9;
    for (const double away : {-6.0, -3.0, -1.0, 0.0, 1.0, 3.0, 6.0}) {
        const Lab lab = ladder.table->at(std::exp(film.ln_nm + away * sd), film.haze);
        const auto z = known.surprise({t, {lab.l + film.shift.l, lab.a + film.shift.a, lab.b + film.shift.b}, 0.63});
        REQUIRE(z);
        CAPTURE(away, *z);
        CHECK(*z > before - 0.1);
        CHECK(std::abs(*z) <= std::abs(away) + 0.2);
        if (std::abs(away) >= 1 && std::abs(away) <= 3)
            CHECK(*z / away > 0.5);
        before = *z;
    }
    CHECK_FALSE(known.surprise({t, film.shift, 0.7, true}));
    CHECK_FALSE(known.surprise({t, film.shift, unread_sd}));
}
