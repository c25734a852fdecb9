// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/palette.h"

#include "evidence/learn.h"
#include "physics/colour_difference.h"
#include "physics/colour_text.h"
#include "proof/reading.h"
#include "quantity/median.h"
#include "recipe/predict.h"
#include "search/next_cells.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <nlohmann/json.hpp>
#include <tuple>

namespace finch {
namespace {

constexpr double tilt_step_deg = 5, holds_de = 5;
constexpr std::size_t tilt_count = 13;
constexpr std::size_t worlds_drawn = 200;

Lab moved(const Lab& lab, const Lab& by) {
    return {lab.l + by.l, lab.a + by.a, lab.b + by.b};
}

/// All marks of one recipe that were read.
using Marks = std::vector<const Observation*>;

/// Whether two recipes make the same mark, whatever they are called.
bool same_mark(Recipe a, const Recipe& b) {
    a.name = b.name;
    return a == b;
}

/// A setting that was not burned, with all that is known of it; worked out once for all that is wanted.
struct Reachable {
    const FilmPosterior& known;
    std::vector<Trial> trials;
    std::vector<double> danger;
    std::vector<FilmPosterior::Told> told;
    std::vector<std::vector<Lab>> worlds;
};

/// Moves the film's looks at a tilt through those that were read: what is missing is spread evenly between two of them,
/// and is the last one's beyond it. Returns the widest that was read.
double bend_to_looks(std::vector<Lab>& tilt, const Marks& marks) {
    std::map<double, std::vector<Lab>> read; // what is missing, by angle
    for (const Observation* o : marks)
        for (const TiltLook& l : o->tilted) {
            const double at = std::min(l.deg / tilt_step_deg, static_cast<double>(tilt.size() - 1));
            const auto i = std::min(static_cast<std::size_t>(at), tilt.size() - 2);
            const double t = at - static_cast<double>(i);
            const Lab &a = tilt[i], &b = tilt[i + 1], &from = tilt[0], &own = *o->colour;
            // As it changed from what the same piece showed from above.
            read[l.deg].push_back({l.lab.l - own.l + from.l - a.l - t * (b.l - a.l),
                                   l.lab.a - own.a + from.a - a.a - t * (b.a - a.a),
                                   l.lab.b - own.b + from.b - a.b - t * (b.b - a.b)});
        }
    if (read.empty())
        return 0;
    std::vector<std::pair<double, Lab>> missing{{0, {}}};
    for (const auto& [deg, labs] : read) {
        Lab mean;
        const double n = static_cast<double>(labs.size());
        for (const Lab& l : labs)
            mean = moved(mean, {l.l / n, l.a / n, l.b / n});
        missing.emplace_back(deg, mean);
    }
    for (std::size_t i = 1; i < tilt.size(); ++i) {
        const double deg = tilt_step_deg * static_cast<double>(i);
        std::size_t k = 1;
        while (k + 1 < missing.size() && missing[k].first < deg)
            ++k;
        const auto& [low, a] = missing[k - 1];
        const auto& [high, b] = missing[k];
        const double t = std::clamp((deg - low) / (high - low), 0.0, 1.0);
        tilt[i] = moved(tilt[i], {a.l + t * (b.l - a.l), a.a + t * (b.a - a.a), a.b + t * (b.b - a.b)});
    }
    return missing.back().first;
}

PaletteColour colour_of(const Scene& scene, const Marks& marks, double scatter_ln) {
    const Observation& first = *marks.front();
    PaletteColour c;
    c.piece = first.piece;
    c.place = first.place;
    c.recipe = first.recipe;
    c.fill = first.fill;
    c.repeats = static_cast<int>(marks.size());
    std::vector<double> within, apart;
    for (std::size_t i = 0; i < marks.size(); ++i) {
        c.lab = moved(c.lab, *marks[i]->colour);
        within.push_back(marks[i]->colour_within);
        for (std::size_t j = 0; j < i; ++j)
            apart.push_back(delta_e00(*marks[i]->colour, *marks[j]->colour));
    }
    const double n = static_cast<double>(marks.size());
    c.lab = {c.lab.l / n, c.lab.a / n, c.lab.b / n};
    c.within_de = median(std::move(within));
    c.name = std::string(colour_name(c.lab));
    const auto p = predict(scene, c.recipe, c.fill, straight);
    if (p) {
        c.film_nm = p->oxide_nm();
        c.seconds_per_cm2 = c.fill.area_mm2 > 0 ? p->mark.pattern.time_s * 100 / c.fill.area_mm2 : 0;
        const Lab off{c.lab.l - p->lab().l, c.lab.a - p->lab().a, c.lab.b - p->lab().b};
        for (const Lab& t : tilted_colours(*p, scene.metal, tilt_step_deg, tilt_count))
            c.tilt.push_back(moved(t, off));
        c.tilt_read_to = bend_to_looks(c.tilt, marks);
        for (std::size_t i = 0; i < c.tilt.size() && delta_e00(c.tilt[0], c.tilt[i]) <= holds_de; ++i)
            c.holds_deg = static_cast<int>(tilt_step_deg * static_cast<double>(i));
        // Two marks differ by sqrt 2 of the scatter of one.
        const double half = std::exp(scatter_ln / std::sqrt(2.0));
        c.repeat_de = delta_e00(film_colour(*p, scene.metal, 1 / half, 0), film_colour(*p, scene.metal, half, 0));
    }
    if (!apart.empty())
        c.repeat_de = median(std::move(apart));
    return c;
}

std::vector<PathPoint> path_of(const Reachable& all) {
    std::vector<double> haze, l, a, b, reached;
    for (std::size_t i = 0; i < all.told.size(); ++i) {
        haze.push_back(all.told[i].haze);
        l.push_back(all.told[i].shift.l);
        a.push_back(all.told[i].shift.a);
        b.push_back(all.told[i].shift.b);
        if (all.danger[i] < 0.5)
            reached.push_back(all.told[i].ln_nm);
    }
    const auto [least, most] = std::minmax_element(reached.begin(), reached.end());
    const Lab shift{median(std::move(l)), median(std::move(a)), median(std::move(b))};
    const double typical = median(std::move(haze));
    std::vector<PathPoint> out;
    for (double nm = 4; nm <= 300; nm += nm < 60 ? 2 : 4)
        out.push_back({nm, moved(all.known.table().at(nm, typical), shift),
                       !reached.empty() && std::log(nm) >= *least && std::log(nm) <= *most});
    return out;
}

WantedMatch match(const WantedColour& wanted, const std::vector<PaletteColour>& read, const Reachable& all,
                  const PaletteLimits& limits) {
    WantedMatch out{wanted, {}, 0, {}};
    if (const auto nearest = nearest_read(read, wanted.lab))
        std::tie(out.read, out.read_de) = *nearest;
    double best = -1e9;
    for (std::size_t i = 0; i < all.trials.size(); ++i) {
        if (all.danger[i] >= limits.risk)
            continue;
        const FilmPosterior::Told& film = all.told[i];
        const double nm = std::exp(film.ln_nm);
        const Lab lab = moved(all.known.table().at(nm, film.haze), film.shift);
        const double de = delta_e00(lab, wanted.lab);
        double met = 0;
        for (const auto& world : all.worlds)
            met += delta_e00(world[i], wanted.lab) <= limits.de ? 1 : 0;
        const double chance = (1 - all.danger[i]) * met / static_cast<double>(all.worlds.size());
        // What is surest; among what is hopeless the nearest.
        if (const double value = chance - 0.001 * de; value > best) {
            best = value;
            out.between = WantedMatch::Between{all.trials[i].recipe, lab, de, nm, chance};
        }
    }
    return out;
}

} // namespace

std::optional<std::pair<std::size_t, double>> nearest_read(std::span<const PaletteColour> colours, const Lab& lab) {
    std::optional<std::pair<std::size_t, double>> out;
    for (std::size_t i = 0; i < colours.size(); ++i)
        if (const double de = delta_e00(colours[i].lab, lab); !out || de < out->second)
            out = {i, de};
    return out;
}

Expected<WantedColour> wanted_from_text(std::string_view text) {
    for (const Target& t : named_targets())
        if (t.name == text)
            return WantedColour{t.name, t.lab};
    const auto lab = lab_from_text(text);
    if (!lab)
        return tl::unexpected(lab.error());
    return WantedColour{std::string(colour_name(*lab)), *lab};
}

Expected<Palette> palette(const Scene& scene, const FilmPosterior& known, std::span<const Observation> observations,
                          std::span<const WantedColour> wanted, const Recipe& base, const PaletteLimits& limits,
                          int threads) {
    if (scene.metal.film == nullptr || !scene.metal.film->has_oxide() || !scene.metal.oxide)
        return failure("search.no_film", "No film that shows colours is modelled on " + scene.metal.name + ".",
                       "A palette needs a metal that anneals to colours.");
    Palette out;
    const std::string key = evidence_key({scene.bench, scene.stock, {}});
    std::vector<Marks> recipes;
    for (const Observation* o : newest_of_each(observations)) {
        if (!o->colour || evidence_key(*o->setup) != key)
            continue;
        ++out.cells;
        if (o->spoiled) {
            ++out.spoiled;
            continue;
        }
        const auto same =
            std::ranges::find_if(recipes, [&](const Marks& m) { return same_mark(m.front()->recipe, o->recipe); });
        (same != recipes.end() ? *same : recipes.emplace_back()).push_back(o);
    }
    const auto modes = known.modes();
    const double scatter = modes.empty() ? FilmPrior().cell_sds.front() : modes[known.likeliest()].cell_sd;
    for (const Marks& marks : recipes)
        out.colours.push_back(colour_of(scene, marks, scatter));
    std::ranges::stable_sort(out.colours, {}, &PaletteColour::film_nm);
    std::map<std::string, std::size_t> best;
    const auto worth = [&](std::size_t i) { // one degree of tilt is worth a twentieth of a repeat
        return out.colours[i].repeat_de - 0.05 * out.colours[i].holds_deg - 0.1 * (out.colours[i].repeats - 1);
    };
    for (std::size_t i = 0; i < out.colours.size(); ++i)
        if (const auto [it, fresh] = best.try_emplace(out.colours[i].name, i); !fresh && worth(i) < worth(it->second))
            it->second = i;
    for (const auto& [name, i] : best)
        out.named.push_back(i);
    std::ranges::sort(out.named);

    const Fill fill = out.colours.empty() ? Fill{mm(5), 20} : out.colours.front().fill;
    Reachable all{known, trials(scene.knowing({}), candidates(base, scene.bench, false), fill, threads), {}, {}, {}};
    if (all.trials.empty())
        return out;
    all.danger = known.damage().chances(all.trials);
    all.told = known.told(all.trials, known.likeliest());
    out.path = path_of(all);
    if (!wanted.empty()) {
        Draws draws(7 + out.cells);
        all.worlds = known.worlds(all.trials, worlds_drawn, draws);
    }
    for (const WantedColour& w : wanted)
        out.wanted.push_back(match(w, out.colours, all, limits));
    return out;
}

nlohmann::json to_json(const Palette& p) {
    using json = nlohmann::json;
    const auto lab = [](const Lab& c) { return json{c.l, c.a, c.b}; };
    json out{{"format", "finch-palette"}, {"version", 1},          {"cells", p.cells},       {"spoiled", p.spoiled},
             {"colours", json::array()},  {"path", json::array()}, {"wanted", json::array()}};
    for (std::size_t i = 0; i < p.colours.size(); ++i) {
        const PaletteColour& c = p.colours[i];
        json tilt = json::array();
        for (const Lab& t : c.tilt)
            tilt.push_back(lab(t));
        out["colours"].push_back({{"name", c.name},
                                  {"piece", c.piece},
                                  {"place", c.place},
                                  {"lab", lab(c.lab)},
                                  {"within_de00", c.within_de},
                                  {"film_nm", c.film_nm},
                                  {"holds_deg", c.holds_deg},
                                  {"tilt_read_to_deg", c.tilt_read_to},
                                  {"repeat_de00", c.repeat_de},
                                  {"repeats", c.repeats},
                                  {"seconds_per_cm2", c.seconds_per_cm2},
                                  {"tilt", tilt},
                                  {"named", std::ranges::find(p.named, i) != p.named.end()},
                                  {"recipe", to_json(c.recipe)}});
    }
    for (const PathPoint& q : p.path)
        out["path"].push_back({{"nm", q.nm}, {"lab", lab(q.lab)}, {"reached", q.reached}});
    for (const WantedMatch& w : p.wanted) {
        json m{{"name", w.wanted.name}, {"lab", lab(w.wanted.lab)}, {"colour", nullptr}, {"short_de00", nullptr}};
        if (w.read) {
            m["colour"] = *w.read;
            m["short_de00"] = w.read_de;
        }
        if (w.between)
            m["not_burned"] = {{"recipe", to_json(w.between->recipe)},
                               {"lab", lab(w.between->lab)},
                               {"de00", w.between->de},
                               {"film_nm", w.between->film_nm},
                               {"chance", w.between->chance}};
        out["wanted"].push_back(std::move(m));
    }
    return out;
}

} // namespace finch
