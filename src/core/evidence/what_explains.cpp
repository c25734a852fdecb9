// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "evidence/what_explains.h"

#include "evidence/learn.h"
#include "recipe/predict.h"
#include "search/draws.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <limits>
#include <nlohmann/json.hpp>
#include <set>

namespace finch {
namespace {

constexpr std::size_t fewest_places = 12, most_explained = 500, fewest_pieces = 3;
constexpr double least_range = 1.25;
constexpr std::array widths{0.05, 0.1, 0.2, 0.4}; ///< of the window, share of the range
constexpr int draws_of_places = 300;

struct ReadPlace {
    std::array<double, 3> lab{};
    std::size_t piece = 0;
    Prediction predicted; ///< by the physics alone
    double speed_mm_s = 0;
};

struct DerivedNumber {
    std::string_view key, name;
    bool modelled;
    double (*of)(const ReadPlace&);
};
constexpr std::array quantities{
    DerivedNumber{"areal_dose_j_mm2", "dose per area", false,
                  [](const ReadPlace& p) { return p.predicted.mark.pattern.areal_dose_j_m2; }},
    DerivedNumber{"pulses_per_mm2", "pulses per area", false,
                  [](const ReadPlace& p) { return p.predicted.mark.pattern.pulses_per_m2; }},
    DerivedNumber{"pulse_energy_j", "pulse energy", false,
                  [](const ReadPlace& p) { return p.predicted.mark.pulse.pulse_energy_j; }},
    DerivedNumber{"peak_power_w", "peak power", false,
                  [](const ReadPlace& p) { return p.predicted.mark.pulse.peak_power_w; }},
    DerivedNumber{"peak_fluence_j_m2", "fluence of a pulse", false,
                  [](const ReadPlace& p) { return p.predicted.mark.pattern.peak_fluence_j_m2; }},
    DerivedNumber{"average_power_w", "power", false,
                  [](const ReadPlace& p) { return p.predicted.mark.pulse.average_power_w; }},
    DerivedNumber{"line_energy_j_mm", "energy along the line", false,
                  [](const ReadPlace& p) { return p.predicted.mark.pulse.average_power_w / p.speed_mm_s; }},
    DerivedNumber{"scan_speed_mm_s", "speed", false, [](const ReadPlace& p) { return p.speed_mm_s; }},
    DerivedNumber{"oxide_nm", "the film of the heat model", true,
                  [](const ReadPlace& p) { return p.predicted.oxide_nm(); }}};

double squared_off(const std::array<double, 3>& a, const std::array<double, 3>& b) {
    double sum = 0;
    for (std::size_t k = 0; k < 3; ++k)
        sum += (a[k] - b[k]) * (a[k] - b[k]);
    return sum;
}

/// Colour at x by a line through the places that may tell it, near ones the more.
std::array<double, 3> told_at(std::span<const ReadPlace> places, const std::vector<double>& x, std::size_t at,
                              double width, bool by_piece) {
    double s0 = 0, s1 = 0, s2 = 0;
    std::array<double, 3> y0{}, y1{};
    for (std::size_t i = 0; i < places.size(); ++i) {
        if (by_piece ? places[i].piece == places[at].piece : i == at)
            continue;
        const double dx = x[i] - x[at], z = dx / width;
        // A trace of all: where nobody is near, the mean of all is what is left.
        const double weight = std::exp(-0.5 * z * z) + 1e-4;
        s0 += weight;
        s1 += weight * dx;
        s2 += weight * dx * dx;
        for (std::size_t k = 0; k < 3; ++k) {
            y0[k] += weight * places[i].lab[k];
            y1[k] += weight * dx * places[i].lab[k];
        }
    }
    const double ridge = 1e-3 * width * width * s0, det = s0 * (s2 + ridge) - s1 * s1;
    std::array<double, 3> out{};
    for (std::size_t k = 0; k < 3; ++k)
        out[k] = ((s2 + ridge) * y0[k] - s1 * y1[k]) / det;
    return out;
}

std::array<double, 3> mean_of_others(std::span<const ReadPlace> places, std::size_t at, bool by_piece) {
    std::array<double, 3> sum{};
    double n = 0;
    for (std::size_t i = 0; i < places.size(); ++i)
        if (by_piece ? places[i].piece != places[at].piece : i != at) {
            for (std::size_t k = 0; k < 3; ++k)
                sum[k] += places[i].lab[k];
            ++n;
        }
    for (double& s : sum)
        s /= n;
    return sum;
}

double share_of(const std::vector<double>& left, const std::vector<double>& all,
                const std::vector<std::size_t>& chosen) {
    double l = 0, a = 0;
    for (const std::size_t i : chosen) {
        l += left[i];
        a += all[i];
    }
    return a > 0 ? 1 - l / a : 0;
}

std::string words_of(const Explanations& e) {
    const auto told = [](const Explaining& q) {
        return fmt::format("{:.0f} % ({:.0f} to {:.0f})", 100 * std::max(0.0, q.share), 100 * std::max(0.0, q.low),
                           100 * std::max(0.0, q.high));
    };
    const Explaining *first = nullptr, *second = nullptr, *model = nullptr;
    std::string fixed;
    for (const Explaining& q : e.quantities)
        if (!q.varied)
            fixed += (fixed.empty() ? "" : ", ") + std::string(q.name);
        else if (q.modelled)
            model = &q;
        else if (first == nullptr)
            first = &q;
        else if (second == nullptr)
            second = &q;
    if (first == nullptr)
        return "The places hardly differ in anything: nothing can be told apart.";
    std::string out = fmt::format(
        "{} places, {}. Alone, {} of what makes their colours differ goes with the {}", e.places,
        e.pieces == 1 ? std::string("one piece") : fmt::format("{} pieces", e.pieces), told(*first), first->name);
    if (second != nullptr)
        out += fmt::format(", {} with the {}; {}", told(*second), second->name,
                           e.surely_first >= 0.9 ? std::string("the first tells more")
                                                 : fmt::format("which of the two tells more is open ({:.0f} in 100)",
                                                               100 * e.surely_first));
    out += ".";
    if (model != nullptr)
        out += fmt::format(" Taken together by the heat model, with nothing learned: {:.0f} %.",
                           100 * std::max(0.0, model->share));
    if (!fixed.empty())
        out += " Hardly varied, and so not judged: " + fixed + ".";
    return out;
}

} // namespace

Expected<Explanations> what_explains(const Materials& materials, const Setup& setup,
                                     std::span<const Observation> observations) {
    const auto metal = materials.find(setup.stock.metal);
    if (!metal)
        return tl::unexpected(metal.error());
    const std::string key = evidence_key(setup);
    std::vector<ReadPlace> places;
    std::vector<std::string> pieces;
    auto newest = newest_of_each(observations);
    if (newest.size() > most_explained)
        std::ranges::stable_sort(newest, std::greater{}, [](const Observation* o) { return o->when_utc; });
    for (const Observation* o : newest) {
        if (!o->colour || o->spoiled || places.size() == most_explained || evidence_key(*o->setup) != key ||
            !traits(o->recipe.process).lasting_colour)
            continue;
        const Scene scene{materials, **metal, o->setup->bench, o->setup->stock};
        const auto p = predict(scene, o->recipe, o->fill, unseen);
        if (!p || !p->heat_modelled || p->oxide_nm() <= 0)
            continue;
        auto at = std::ranges::find(pieces, o->piece);
        if (at == pieces.end())
            at = pieces.insert(pieces.end(), o->piece);
        places.push_back({{o->colour->l, o->colour->a, o->colour->b},
                          static_cast<std::size_t>(at - pieces.begin()),
                          *p,
                          in_mm_per_second(o->recipe.setting.scan_speed)});
    }
    if (places.size() < fewest_places)
        return failure("explain.too_few", fmt::format("Only {} films of this stock were read here.", places.size()),
                       "Twelve are the least: read another sheet.");
    Explanations out;
    out.places = places.size();
    out.pieces = pieces.size();
    const bool by_piece = pieces.size() >= fewest_pieces;
    std::vector<double> all;
    for (std::size_t i = 0; i < places.size(); ++i)
        all.push_back(squared_off(places[i].lab, mean_of_others(places, i, by_piece)));
    std::vector<std::vector<std::size_t>> samples(draws_of_places);
    Draws chance(7);
    for (auto& sample : samples)
        for (std::size_t i = 0; i < places.size(); ++i)
            sample.push_back(chance.below(places.size()));
    std::vector<std::size_t> everyone(places.size());
    for (std::size_t i = 0; i < everyone.size(); ++i)
        everyone[i] = i;
    std::vector<std::pair<Explaining, std::vector<double>>> found; // and its shares over the samples
    for (const DerivedNumber& q : quantities) {
        std::vector<double> x;
        for (const ReadPlace& p : places)
            x.push_back(std::log(std::max(q.of(p), 1e-12)));
        const auto [low, high] = std::ranges::minmax(x);
        Explaining e{q.key, q.name, q.modelled, 0, 0, 0, std::exp(high - low), true};
        e.varied = e.range >= least_range;
        std::vector<double> shares(samples.size(), 0.0);
        if (e.varied) {
            std::vector<double> left;
            double best = std::numeric_limits<double>::lowest();
            for (const double width : widths) {
                std::vector<double> now;
                for (std::size_t i = 0; i < places.size(); ++i)
                    now.push_back(squared_off(places[i].lab, told_at(places, x, i, width * (high - low), by_piece)));
                if (const double share = share_of(now, all, everyone); share > best) {
                    best = share;
                    left = std::move(now);
                }
            }
            e.share = best;
            for (std::size_t s = 0; s < samples.size(); ++s)
                shares[s] = share_of(left, all, samples[s]);
            auto sorted = shares;
            std::ranges::sort(sorted);
            e.low = sorted[sorted.size() / 20];
            e.high = sorted[sorted.size() - 1 - sorted.size() / 20];
        }
        found.emplace_back(e, std::move(shares));
    }
    std::ranges::stable_sort(found, [](const auto& a, const auto& b) {
        return a.first.varied != b.first.varied ? a.first.varied : a.first.share > b.first.share;
    });
    std::vector<const std::vector<double>*> settings;
    for (const auto& [e, shares] : found) {
        out.quantities.push_back(e);
        if (e.varied && !e.modelled)
            settings.push_back(&shares);
    }
    if (settings.size() > 1) {
        double more = 0; // numbers that go together on these places are as good as each other
        for (std::size_t s = 0; s < samples.size(); ++s) {
            const double ahead = (*settings[0])[s] - (*settings[1])[s];
            more += ahead > 1e-9 ? 1 : ahead > -1e-9 ? 0.5 : 0;
        }
        out.surely_first = more / static_cast<double>(samples.size());
    }
    out.words = words_of(out);
    return out;
}

nlohmann::json to_json(const Explanations& e) {
    nlohmann::json list = nlohmann::json::array();
    for (const Explaining& q : e.quantities)
        list.push_back({{"quantity", q.key},
                        {"name", q.name},
                        {"varied", q.varied},
                        {"largest_over_smallest", q.range},
                        {"explains", q.share},
                        {"explains_within", {q.low, q.high}}});
    return {{"places", e.places},
            {"pieces", e.pieces},
            {"quantities", list},
            {"surely_first", e.surely_first},
            {"words", e.words}};
}

} // namespace finch
