// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "evidence/learn.h"

#include "bench/bench_json.h"
#include "evidence/coat_evidence.h"
#include "evidence/film_evidence.h"
#include "physics/colour_difference.h"
#include "quantity/median.h"
#include "recipe/predict.h"
#include "search/taught_film.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace finch {
namespace {

constexpr std::size_t fewest_colours = 3;
// Median CIEDE2000 that is left after the fit: from here on no film that the model knows shows these colours.
constexpr double misfits_de = 14;

/// One gain that says most of what the cells taught, and how well it is known.
struct Summary {
    double gain = 1, fit_ln = 0;
    std::size_t films = 0; ///< cells thick enough to show a colour
};
Summary summary(const FilmPosterior& known, const std::vector<Trial>& trials) {
    std::vector<double> ln, sd;
    Summary out;
    const auto told = known.told(trials, known.likeliest());
    for (std::size_t i = 0; i < trials.size(); ++i) {
        constexpr double shows_nm = 12; // thinner ones are told from bare metal by no camera
        if (std::exp(told[i].ln_nm) < shows_nm)
            continue;
        ++out.films;
        const auto grown_ln = [&](double ln_nm) {
            return std::log(std::max(std::exp(2 * ln_nm) - trials[i].native2_nm2, 1e-3));
        };
        ln.push_back(grown_ln(told[i].ln_nm) - grown_ln(trials[i].told({}).ln_nm));
        sd.push_back(2 * std::sqrt(told[i].variance)); // growth goes with the square of the thickness
    }
    out.gain = std::clamp(std::exp(median(std::move(ln))), 0.05, 20.0);
    out.fit_ln = median(std::move(sd));
    return out;
}

void learn_films(Evidence& out, const Materials& materials, std::span<const Observation> observations,
                 const std::vector<const Observation*>& places) {
    if (places.empty())
        return;
    const Setup& setup = *places.front()->setup;
    const auto known = film_posterior(materials, setup, observations);
    if (!known)
        return; // no film of this metal shows a colour
    std::vector<Trial> used;
    std::vector<double> left;
    const auto fitted = known->fitted();
    for (std::size_t i = 0; i < fitted.size(); ++i)
        if (fitted[i]) {
            used.push_back(known->cells()[i].trial);
            left.push_back(delta_e00(*fitted[i], known->cells()[i].lab));
        }
    std::set<std::string> pieces;
    for (const Observation* o : places)
        if ((o->colour || o->spoiled) && evidence_key(*o->setup) == evidence_key(setup))
            pieces.insert(o->piece);
    const Summary s = used.empty() ? Summary() : summary(*known, used);
    if (s.films >= fewest_colours && median(left) <= misfits_de) {
        out.growth_gain = s.gain;
        out.growth_fit_ln = s.fit_ln;
        out.films = {std::make_shared<const TaughtFilm>(setup.stock.metal, *known, s.gain)};
        out.sheets = static_cast<int>(pieces.size());
        out.cells = static_cast<int>(used.size());
    } else if (std::ranges::any_of(known->cells(), &SeenCell::spoiled)) {
        std::vector<SeenCell> of_damage = known->cells();
        for (SeenCell& c : of_damage)
            c.read_sd = unread_sd;
        out.films = {std::make_shared<const TaughtFilm>(setup.stock.metal, std::move(of_damage), 1.0)};
        out.sheets = static_cast<int>(pieces.size());
    }
}

/// Settings far enough from each other to tell: a band knows no finer distance.
MeasuredPoints thinned(const std::vector<MeasuredPoint>& points, const std::array<double, 5>& slopes) {
    constexpr double apart = 0.005;
    std::vector<MeasuredPoint> out;
    for (const MeasuredPoint& p : points)
        if (out.empty() || distance_spread(out, p, slopes) > apart)
            out.push_back(p);
    return out;
}

/// The gain with which the removal model gives a depth; walls and debris make it less than proportional.
double gain_of_depth(Scene scene, const Observation& o, double predicted_um) {
    const double want = std::log(*o.depth_um);
    double gain = std::clamp(*o.depth_um / predicted_um, 0.05, 20.0), last = 1, last_ln = std::log(predicted_um);
    for (int i = 0; i < 20; ++i) {
        scene.evidence.depth_gain = gain;
        const auto p = predict(scene, o.recipe, o.fill, unseen);
        if (!p || !p->removal || !(p->removal->depth_if_um > 0))
            break;
        const double ln = std::log(p->removal->depth_if_um);
        const double slope = std::log(gain / last) != 0 ? (ln - last_ln) / std::log(gain / last) : 1;
        if (std::abs(want - ln) < 1e-10)
            break;
        last = gain;
        last_ln = ln;
        // Near the whole stock depth no longer answers: a slope of a fifth keeps the step finite.
        gain = std::clamp(gain * std::exp((want - ln) / std::clamp(slope, 0.2, 2.0)), 0.05, 20.0);
    }
    return gain;
}

/// How far the depth of another setting like these may lie from the gain: by what coupons of one bench differ beyond
/// what the gauge brings in, from this bench's own and from what is usual (as if one had said it: a scaled inverse
/// chi-square), and by what so few leave unknown of their middle. `gauge`: mean variance of ln(depth) of the readings.
double depth_error(const std::vector<std::pair<double, double>>& ratios, double gauge, const SpreadModel& spread) {
    constexpr double usual = 1;
    const double n = static_cast<double>(ratios.size());
    double mean = 0, square = 0;
    for (const auto& [ratio, weight] : ratios)
        mean += ratio / n;
    for (const auto& [ratio, weight] : ratios)
        square += (ratio - mean) * (ratio - mean);
    const double own = std::max(0.0, square - (n - 1) * gauge);
    const double variance = (usual * spread.depth_repeat * spread.depth_repeat + own) / (usual + n - 1);
    return std::sqrt(variance + (variance + gauge) / n);
}

void learn_depth(Evidence& evidence, const Materials& materials, const std::vector<const Observation*>& observations) {
    std::vector<std::pair<double, double>> ratios; // ln of measured over predicted, weight
    std::set<std::string> pieces;
    std::vector<MeasuredPoint> points;
    double gauge = 0; // sum of the variances of ln(depth) that the gauge brings in
    for (const Observation* o : observations) {
        if (!o->depth_um || !(*o->depth_um > 0))
            continue;
        const auto metal = materials.find(o->setup->stock.metal);
        if (!metal || evidence_key(*o->setup) != evidence_key(*observations.front()->setup))
            continue;
        const auto p = predict({materials, **metal, o->setup->bench, o->setup->stock}, o->recipe, o->fill);
        // Metal went, whatever share was expected to lose some.
        if (!p || !p->removal || !(p->removal->depth_if_um > 0.1))
            continue;
        points.push_back(measured_point(p->mark));
        const double read = std::pow(o->depth_spread_um / *o->depth_um, 2);
        gauge += read;
        ratios.emplace_back(std::log(gain_of_depth({materials, **metal, o->setup->bench, o->setup->stock}, *o,
                                                   p->removal->depth_if_um)),
                            1 / (1 + read));
        pieces.insert(o->piece);
    }
    if (ratios.empty())
        return;
    std::sort(ratios.begin(), ratios.end());
    double half = 0, sum = 0;
    for (const auto& [ratio, weight] : ratios)
        half += weight / 2;
    for (const auto& [ratio, weight] : ratios)
        if ((sum += weight) >= half) {
            evidence.depth_gain = std::clamp(std::exp(ratio), 0.05, 20.0);
            break;
        }
    evidence.depth_fit_ln = depth_error(ratios, gauge / static_cast<double>(ratios.size()), materials.model.spread);
    evidence.depth_points = thinned(points, materials.model.join.depth_slopes);
    evidence.depth_coupons = static_cast<int>(pieces.size());
}

} // namespace

std::string evidence_key(const Setup& s) {
    const bool bare = s.stock.coating == Coating::none || s.stock.coating == Coating::unknown;
    return s.bench.name + " / " + s.bench.lens().name + " / " + s.stock.metal + " / " +
           std::string(word(s.stock.finish)) + " / " + s.stock.lot +
           (bare ? std::string() : " / " + std::string(word(s.stock.coating)));
}

Evidence learn(const Materials& materials, std::span<const Observation> observations) {
    Evidence out;
    const auto places = newest_of_each(observations);
    learn_films(out, materials, observations, places);
    learn_depth(out, materials, places);
    if (const auto coat = taught_coat(materials, places)) {
        (coat->of_work ? out.coat_work : out.coat_gain) = coat->factor;
        out.coat_fit_ln = coat->fit_ln;
        out.coat_points = thinned(coat->points, materials.model.join.coat_slopes);
        out.coat_sheets = coat->pieces;
    }
    if (const auto coupling = taught_coupling(materials, places)) {
        out.compound_coupling = coupling->factor;
        out.compound = coupling->compound;
        out.power_ladders = coupling->pieces;
    }
    return out;
}

Agreement agreement(const Materials& materials, std::span<const Observation> observations, const Evidence& before,
                    const Evidence& after) {
    const auto places = newest_of_each(observations);
    Agreement out;
    const auto metal = places.empty() ? Expected<std::shared_ptr<const Metal>>(nullptr)
                                      : materials.find(places.front()->setup->stock.metal);
    if (!metal || *metal == nullptr || (*metal)->film == nullptr || !(*metal)->film->has_oxide())
        return out;
    std::vector<double> ratios, before_de, after_de;
    for (const Observation* o : places) {
        if (!o->colour || o->spoiled || evidence_key(*o->setup) != evidence_key(*places.front()->setup))
            continue;
        const Scene scene{materials, **metal, o->setup->bench, o->setup->stock};
        const auto then = predict(scene.knowing(before), o->recipe, o->fill, straight);
        const auto now = predict(scene.knowing(after), o->recipe, o->fill, straight);
        // Thinner films look bare, thicker ones are pale beyond telling.
        if (!then || !now || now->shares.film() + now->shares[Effect::none] < 0.3 || now->oxide_nm() < 6 ||
            now->oxide_nm() > 600)
            continue;
        ratios.push_back(now->oxide_nm() / then->oxide_nm());
        before_de.push_back(delta_e00(then->lab(), *o->colour));
        after_de.push_back(delta_e00(now->lab(), *o->colour));
    }
    if (ratios.size() < fewest_colours)
        return out;
    out.cells = ratios.size();
    out.thickness_ratio = median(std::move(ratios));
    out.before_de = median(std::move(before_de));
    out.after_de = median(std::move(after_de));
    return out;
}

double thickness_from_colour(const Metal& metal, const Lab& lab, double haze, double near_nm) {
    if (metal.film == nullptr || !metal.film->has_oxide())
        return 0;
    double best = near_nm, lowest = 1e9;
    for (int i = -60; i <= 60; ++i) {
        const double nm = near_nm * std::exp(0.01 * i);
        const double x = nm * 1e-9;
        const double de = delta_e00(specular_included(*metal.film, x, haze, 0, metal.film->hemispherical(x)).lab, lab);
        if (de < lowest) {
            lowest = de;
            best = nm;
        }
    }
    return best;
}

} // namespace finch
