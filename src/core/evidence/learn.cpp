// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "evidence/learn.h"

#include "bench/bench_json.h"
#include "physics/colour_difference.h"
#include "physics/film_table.h"
#include "recipe/predict.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace finch {
namespace {

constexpr std::size_t fewest_colours = 3;
constexpr double likely_ln = 0.6; // of a gain before anything is known
// Median CIEDE2000 that is left after the fit: up to here it says nothing against it, from there on nothing for it.
constexpr double fits_de = 5, misfits_de = 14;

/// A place whose colour is that of a film, with the film that the physics alone predicts.
struct FilmPlace {
    MeasuredPoint at;
    double nm = 0;
    double haze = 0;
    Lab measured;
    double weight = 1;
};

/// Growth goes with the square of the thickness, beyond the film that is there from the start.
double grown_nm(double nm, double gain, double native_nm) {
    return std::sqrt(native_nm * native_nm + gain * (nm * nm - native_nm * native_nm));
}

double median(std::vector<double> values) {
    if (values.empty())
        return 0;
    const auto middle = values.begin() + static_cast<long>(values.size() / 2);
    std::nth_element(values.begin(), middle, values.end());
    return *middle;
}

class FilmFit {
public:
    FilmFit(const Materials& materials, const Metal& metal, std::vector<FilmPlace> places)
        : places_(std::move(places)), colours_(*metal.film), native_nm_(materials.model.native_oxide_m * 1e9) {}

    [[nodiscard]] const std::vector<FilmPlace>& places() const { return places_; }
    [[nodiscard]] double difference(const FilmPlace& p, double gain) const {
        return delta_e00(colours_.at(grown_nm(p.nm, gain, native_nm_), p.haze), p.measured);
    }
    [[nodiscard]] double best_gain() const {
        const double coarse = best(places_, 0.1, 8);
        return best(places_, coarse / 1.04, coarse * 1.04);
    }
    /// ln of the gain that each place asks for by itself, near that of all together.
    [[nodiscard]] std::vector<double> own_ln_gains(double gain) const {
        std::vector<double> own;
        for (const FilmPlace& p : places_) {
            const double coarse = best({p}, gain / 2, gain * 2);
            own.push_back(std::log(best({p}, coarse / 1.012, coarse * 1.012)));
        }
        return own;
    }
    [[nodiscard]] double median_difference(double gain) const {
        std::vector<double> out;
        for (const FilmPlace& p : places_)
            out.push_back(difference(p, gain));
        return median(std::move(out));
    }
    [[nodiscard]] double median_ratio(double before, double after) const {
        std::vector<double> out;
        for (const FilmPlace& p : places_)
            out.push_back(grown_nm(p.nm, after, native_nm_) / grown_nm(p.nm, before, native_nm_));
        return median(std::move(out));
    }

private:
    [[nodiscard]] double cost(const std::vector<FilmPlace>& places, double gain) const {
        double sum = 0, weight = 0;
        for (const FilmPlace& p : places) {
            // Ten and no further, so that a burnt or dirty place does not pull the fit.
            sum += p.weight * std::min(difference(p, gain), 10.0);
            weight += p.weight;
        }
        // Hues come again with the next order of the film: of two gains that fit alike the likelier one is taken.
        const double unlikely = std::log(gain) / likely_ln;
        return sum / weight + 0.25 * unlikely * unlikely;
    }
    [[nodiscard]] double best(const std::vector<FilmPlace>& places, double from, double to) const {
        constexpr int steps = 150;
        double found = 1, lowest = 1e9;
        for (int i = 0; i <= steps; ++i) {
            const double gain = from * std::pow(to / from, static_cast<double>(i) / steps);
            if (const double c = cost(places, gain); c < lowest) {
                lowest = c;
                found = gain;
            }
        }
        return found;
    }

    std::vector<FilmPlace> places_;
    FilmTable colours_;
    double native_nm_;
};

/// Colours that say something about the film: thinner ones look bare, thicker ones are pale beyond telling.
std::optional<FilmPlace> film_place(const Scene& scene, const Observation& o) {
    if (!o.colour || o.spoiled)
        return std::nullopt;
    const auto p = predict(scene, o.recipe, o.fill, straight);
    if (!p || p->shares.film() + p->shares[Effect::none] < 0.3 || p->oxide_nm() < 6 || p->oxide_nm() > 600)
        return std::nullopt;
    return FilmPlace{measured_point(p->mark), p->oxide_nm(), p->mark.look.haze, *o.colour,
                     std::clamp(2 / std::max(o.colour_within, 0.5), 0.05, 1.0)};
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

struct Read {
    std::shared_ptr<const Metal> metal;
    std::vector<FilmPlace> films;
    std::set<std::string> film_pieces;
};

Read films_of(const Materials& materials, const std::vector<const Observation*>& observations) {
    Read out;
    if (observations.empty())
        return out;
    const std::string key = evidence_key(*observations.front()->setup);
    const auto metal = materials.find(observations.front()->setup->stock.metal);
    if (!metal || (*metal)->film == nullptr || !(*metal)->film->has_oxide())
        return out;
    out.metal = *metal;
    for (const Observation* o : observations) {
        if (evidence_key(*o->setup) != key)
            continue;
        if (const auto place = film_place({materials, **metal, o->setup->bench, o->setup->stock}, *o)) {
            out.films.push_back(*place);
            out.film_pieces.insert(o->piece);
        }
    }
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

void learn_depth(Evidence& evidence, const Materials& materials, const std::vector<const Observation*>& observations) {
    std::vector<std::pair<double, double>> ratios; // ln of measured over predicted, weight
    std::set<std::string> pieces;
    std::vector<MeasuredPoint> points;
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
        ratios.emplace_back(std::log(gain_of_depth({materials, **metal, o->setup->bench, o->setup->stock}, *o,
                                                   p->removal->depth_if_um)),
                            1 / (1 + std::pow(o->depth_spread_um / *o->depth_um, 2)));
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
    std::vector<double> ln;
    for (const auto& [ratio, weight] : ratios)
        ln.push_back(ratio);
    evidence.depth_fit_ln = gain_error(std::move(ln), materials.model.join);
    evidence.depth_points = thinned(points, materials.model.join.depth_slopes);
    evidence.depth_coupons = static_cast<int>(pieces.size());
}

} // namespace

std::string evidence_key(const Setup& s) {
    return s.bench.name + " / " + s.bench.lens().name + " / " + s.stock.metal + " / " +
           std::string(word(s.stock.finish)) + " / " + s.stock.lot;
}

Evidence learn(const Materials& materials, std::span<const Observation> observations) {
    Evidence out;
    const auto places = newest_of_each(observations);
    Read read = films_of(materials, places);
    if (read.films.size() >= fewest_colours) {
        const FilmFit fit(materials, *read.metal, std::move(read.films));
        const double gain = fit.best_gain();
        const double left = fit.median_difference(gain);
        if (left > misfits_de) {
            learn_depth(out, materials, places); // no film that the model knows shows these colours
            return out;
        }
        out.growth_gain = gain;
        out.growth_fit_ln =
            std::hypot(gain_error(fit.own_ln_gains(gain), materials.model.join), 0.1 * std::max(0.0, left - fits_de));
        std::vector<MeasuredPoint> points;
        for (const FilmPlace& place : fit.places())
            points.push_back(place.at);
        out.film_points = thinned(points, materials.model.join.film_slopes);
        out.sheets = static_cast<int>(read.film_pieces.size());
        out.cells = static_cast<int>(fit.places().size());
    }
    learn_depth(out, materials, places);
    return out;
}

Agreement agreement(const Materials& materials, std::span<const Observation> observations, const Evidence& before,
                    const Evidence& after) {
    Read read = films_of(materials, newest_of_each(observations));
    Agreement out;
    if (read.films.size() < fewest_colours)
        return out;
    const FilmFit fit(materials, *read.metal, std::move(read.films));
    out.cells = fit.places().size();
    out.thickness_ratio = fit.median_ratio(before.growth_gain, after.growth_gain);
    out.before_de = fit.median_difference(before.growth_gain);
    out.after_de = fit.median_difference(after.growth_gain);
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
