// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "search/taught_film.h"

#include "recipe/scene.h"

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

namespace finch {
namespace {

using json = nlohmann::json;

constexpr std::size_t most_cells_read = 1000;

std::array<double, 17> numbers(const SeenCell& c) {
    const Trial& t = c.trial;
    return {
        t.g,       t.ga,       t.gaa,   t.gs,    t.gss,   t.gt,      t.native2_nm2,        t.haze, t.heat_ln, t.worn_ln,
        t.tear_ln, t.warmth_k, c.lab.l, c.lab.a, c.lab.b, c.read_sd, c.spoiled ? 1.0 : 0.0};
}

double grown2(double nm, double native2) {
    return std::max(nm * nm - native2, 1e-9);
}

} // namespace

TaughtFilm::TaughtFilm(std::string metal, std::vector<SeenCell> cells, double growth_gain)
    : metal_(std::move(metal)), cells_(std::move(cells)), gain_(growth_gain) {}

TaughtFilm::TaughtFilm(std::string metal, FilmPosterior posterior, double growth_gain)
    : metal_(std::move(metal)), cells_(posterior.cells()), gain_(growth_gain) {
    posterior_.emplace(std::move(posterior));
}

const FilmPosterior& TaughtFilm::posterior(const Metal& metal) const {
    std::call_once(fitted_, [&] {
        if (!posterior_)
            posterior_.emplace(std::make_shared<const FilmTable>(*metal.film), cells_);
        std::vector<DamageSeen> seen;
        for (const SeenCell& c : cells_)
            seen.push_back({c.trial, c.spoiled});
        told_damage_.emplace(seen, told_damage);
    });
    return *posterior_;
}

std::optional<FilmKnowledge::Told> TaughtFilm::told(const Scene& scene, const Recipe& recipe, const Fill& fill,
                                                    const AnnealResult& physics, double share_away,
                                                    double more_growth) const {
    if (scene.metal.key != metal_ || scene.metal.film == nullptr || !scene.metal.oxide)
        return std::nullopt;
    const auto trial = trial_of(scene, recipe, fill, physics, share_away);
    if (!trial)
        return std::nullopt;
    const FilmPosterior& known = posterior(scene.metal);
    Told out;
    out.earlier_ln = told_damage_->earlier(*trial);
    if (known.modes().empty())
        return out;
    const FilmPosterior::Told film = known.told({&*trial, 1}, known.likeliest()).front();
    const double stated = known.stated_ln(*trial, film);
    if (!std::isfinite(film.ln_nm) || !std::isfinite(stated) ||
        !std::isfinite(film.shift.l + film.shift.a + film.shift.b))
        return out; // cells that no bench can have shown
    const double nm = std::exp(film.ln_nm);
    const double more_nm = std::sqrt(trial->native2_nm2 + more_growth * grown2(nm, trial->native2_nm2));
    out.film = TaughtLook{std::min(1e-9 * (more_growth == 1 ? nm : more_nm), scene.materials.model.scale_limit_m),
                          film.haze, film.shift};
    out.spread_ln = stated;
    return out;
}

bool TaughtFilm::same(const FilmKnowledge& other) const {
    const auto* o = dynamic_cast<const TaughtFilm*>(&other);
    return o != nullptr && o->metal_ == metal_ && o->gain_ == gain_ &&
           std::ranges::equal(cells_, o->cells_, [](const SeenCell& a, const SeenCell& b) {
               return a.trial.at == b.trial.at && numbers(a) == numbers(b);
           });
}

json TaughtFilm::document() const {
    json cells = json::array();
    for (const SeenCell& c : cells_)
        cells.push_back({{"grown_ln", c.trial.g},
                         {"by_absorbed", c.trial.ga},
                         {"by_absorbed2", c.trial.gaa},
                         {"by_spot", c.trial.gs},
                         {"by_spot2", c.trial.gss},
                         {"by_k", c.trial.gt},
                         {"native2_nm2", c.trial.native2_nm2},
                         {"at", c.trial.at},
                         {"haze", c.trial.haze},
                         {"heat_ln", c.trial.heat_ln},
                         {"worn_ln", c.trial.worn_ln},
                         {"tear_ln", c.trial.tear_ln},
                         {"warmth_k", c.trial.warmth_k},
                         {"lab", {c.lab.l, c.lab.a, c.lab.b}},
                         {"read_sd", c.read_sd},
                         {"spoiled", c.spoiled}});
    return {{"metal", metal_}, {"growth_gain", gain_}, {"cells", cells}};
}

TaughtFilms taught_films(JsonFields f) {
    std::string metal = f.text("metal");
    const double gain = f.number("growth_gain", 1e-6, 1e6);
    std::vector<SeenCell> cells;
    for (JsonFields c : f.list("cells")) {
        if (cells.size() == most_cells_read) {
            f.fault("cells", "There are more cells than are ever learned from.", "Keep the newest thousand.");
            break;
        }
        SeenCell s;
        s.trial.g = c.number("grown_ln", -100, 100);
        s.trial.ga = c.number("by_absorbed", 0, 25);
        s.trial.gaa = c.number("by_absorbed2", -40, 40);
        s.trial.gs = c.number("by_spot", -40, 10);
        s.trial.gss = c.number("by_spot2", -80, 80);
        s.trial.gt = c.number("by_k", 0, 0.05);
        s.trial.native2_nm2 = c.number("native2_nm2", 0, 1e4);
        if (const auto at = c.numbers("at", 4, -50, 50); at.size() == 4)
            std::ranges::copy(at, s.trial.at.begin());
        s.trial.haze = c.number("haze", 0, 1);
        s.trial.heat_ln = c.number("heat_ln", -50, 50);
        s.trial.tear_ln = c.number("tear_ln", -50, 50);
        // Documents from before it was known say how far pulses tear instead.
        s.trial.worn_ln = c.number_or("worn_ln", s.trial.tear_ln, -50, 50);
        s.trial.warmth_k = c.number("warmth_k", 0, 5000);
        if (const auto lab = c.numbers("lab", 3, -200, 200); lab.size() == 3)
            s.lab = {lab[0], lab[1], lab[2]};
        s.read_sd = c.number("read_sd", 1e-3, 100);
        s.spoiled = c.flag_or("spoiled", false);
        c.nothing_else();
        cells.push_back(std::move(s));
    }
    f.nothing_else();
    return {std::make_shared<const TaughtFilm>(std::move(metal), std::move(cells), gain)};
}

} // namespace finch
