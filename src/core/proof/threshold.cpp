// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/threshold.h"

#include "physics/colour_difference.h"
#include "physics/pulse.h"
#include "recipe/appearance.h"
#include "search/draws.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <map>
#include <nlohmann/json.hpp>
#include <numbers>

namespace finch {
namespace {

constexpr std::size_t fewest_powers = 5, most_powers = 16, fewest_times = 2, most_times = 6, fewest_read = 8;
constexpr double least_ratio = 1.2; ///< of the strongest to the weakest
constexpr double slips = 0.02;      ///< cells that say the other thing for reasons of their own
constexpr double clear_ln = 0.41;   ///< widest interval that is an answer: half as much again
constexpr int grid_places = 241, sharpnesses = 14;

double normal_share(double z) {
    return 0.5 * std::erfc(-z / std::numbers::sqrt2);
}

struct SeenPower {
    double power_ln = 0;
    bool has = false;
};

/// Quantile of weighted values, which are sorted here.
double weighted_quantile(std::vector<std::pair<double, double>>& weighted, double share) {
    std::ranges::sort(weighted);
    double sum = 0;
    for (const auto& [value, weight] : weighted)
        if ((sum += weight) >= share)
            return value;
    return weighted.back().first;
}

Threshold threshold_of(const std::vector<SeenPower>& seen) {
    const auto [weakest, strongest] = std::ranges::minmax(seen, {}, &SeenPower::power_ln);
    const double low = weakest.power_ln, high = strongest.power_ln, room = 0.6 * (high - low);
    std::vector<std::pair<double, double>> middles, tenths; // value and weight
    double most = -1e300;
    std::vector<double> fits;
    for (int m = 0; m < grid_places; ++m)
        for (int s = 0; s < sharpnesses; ++s) {
            const double middle = low - room + (high - low + 2 * room) * m / (grid_places - 1);
            const double sharp = 0.01 * std::pow(35.0, static_cast<double>(s) / (sharpnesses - 1));
            double fit = 0;
            for (const SeenPower& c : seen) {
                const double p = slips + (1 - 2 * slips) * normal_share((c.power_ln - middle) / sharp);
                fit += std::log(c.has ? p : 1 - p);
            }
            middles.emplace_back(middle, 0);
            tenths.emplace_back(middle - 1.2816 * sharp, 0);
            fits.push_back(fit);
            most = std::max(most, fit);
        }
    double sum = 0;
    for (double& f : fits)
        sum += f = std::exp(f - most);
    double below = 0, above = 0;
    for (std::size_t i = 0; i < fits.size(); ++i) {
        const double weight = fits[i] / sum;
        middles[i].second = tenths[i].second = weight;
        below += middles[i].first < low ? weight : 0;
        above += middles[i].first > high ? weight : 0;
    }
    Threshold t;
    const double at = weighted_quantile(middles, 0.5), from = weighted_quantile(middles, 0.05),
                 to = weighted_quantile(middles, 0.95);
    t.percent = std::exp(at);
    t.low = std::exp(from);
    t.high = std::exp(to);
    using Found = Threshold::Found;
    t.found = above > 0.5            ? Found::above
              : below > 0.5          ? Found::below
              : to - from > clear_ln ? Found::unclear
                                     : Found::within;
    const double spared = weighted_quantile(tenths, 0.05);
    // Beyond what was burned nothing is promised.
    t.spared_up_to = spared < low ? 0 : std::exp(std::min(spared, high));
    return t;
}

std::string power_words(double v) {
    return fmt::format("{:.{}f}", v, v < 10 ? 1 : 0);
}

std::string threshold_words(const Threshold& t, std::string_view begins, std::string_view stays, double weakest,
                            double strongest) {
    using Found = Threshold::Found;
    switch (t.found) {
    case Found::within:
        return fmt::format("{} at {} % power ({} to {}): {:.2g} J/cm\u00b2 a pulse, {:.2g} J/mm\u00b2.{}", begins,
                           power_words(t.percent), power_words(t.low), power_words(t.high), t.peak_j_cm2, t.dose_j_mm2,
                           t.spared_up_to > 0
                               ? fmt::format(" Up to {} % nine in ten {}.", power_words(t.spared_up_to), stays)
                               : std::string());
    case Found::below:
        return fmt::format("{} below {} %, the weakest that was burned.", begins, power_words(weakest));
    case Found::above:
        return fmt::format("{} above {} %, the strongest that was burned{}.", begins, power_words(strongest),
                           t.spared_up_to > 0
                               ? fmt::format("; up to {} % nine in ten {}", power_words(t.spared_up_to), stays)
                               : std::string());
    case Found::unclear:
        break;
    }
    return fmt::format("{} somewhere from {} to {} %: cells of one power differ.", begins, power_words(t.low),
                       power_words(t.high));
}

/// Where one sheet more would say most: round what is not settled, what shows before what spoils.
ThresholdRequest next_of(const ThresholdFinding& f, const ThresholdRequest& was) {
    ThresholdRequest next = was;
    using Found = Threshold::Found;
    const Threshold& t = f.spoils.found == Found::within && f.shows.found != Found::within ? f.spoils : f.shows;
    const double ratio = was.high_percent / was.low_percent;
    if (t.found == Found::below) {
        next.high_percent = was.low_percent * 1.3;
        next.low_percent = next.high_percent / ratio;
    } else if (t.found == Found::above) {
        next.low_percent = std::min(was.high_percent / 1.3, 100 / least_ratio);
        next.high_percent = std::min(100.0, next.low_percent * ratio);
    } else {
        const double wide = std::max(1.12, std::sqrt(t.high / t.low));
        next.low_percent = std::min(t.percent / (wide * wide), 100 / least_ratio);
        next.high_percent = std::min(100.0, t.percent * wide * wide);
    }
    return next;
}

} // namespace

Expected<ProofSheet> plan_threshold(const SheetRequest& request, const ThresholdRequest& wanted, const Scene& scene,
                                    const Recipe& labels, std::uint64_t seed) {
    if (!(wanted.low_percent > 0 && wanted.high_percent <= 100 &&
          wanted.high_percent >= least_ratio * wanted.low_percent))
        return failure("threshold.range",
                       fmt::format("From {} to {} % power is no range to search.", power_words(wanted.low_percent),
                                   power_words(wanted.high_percent)),
                       "Take powers above 0 up to 100 %, the strongest at least a fifth above the weakest.");
    if (wanted.powers < fewest_powers || wanted.powers > most_powers || wanted.times < fewest_times ||
        wanted.times > most_times)
        return failure(
            "threshold.powers",
            fmt::format("{} powers, {} times each, say too little or take too much.", wanted.powers, wanted.times),
            "Take 5 to 16 powers, each 2 to 6 times.");
    const Appearance bare = unmarked(scene);
    if (!bare.known)
        return failure("threshold.no_look", "How this stock looks unmarked is not known.",
                       "Choose the metal and coat that lie on the bench.");
    std::vector<Setting> cells;
    for (std::size_t i = 0; i < wanted.powers * wanted.times; ++i) {
        Setting s = request.base.setting;
        const double share = static_cast<double>(i % wanted.powers) / static_cast<double>(wanted.powers - 1);
        s.power_percent = wanted.low_percent * std::pow(wanted.high_percent / wanted.low_percent, share);
        cells.push_back(s);
    }
    Draws chance(seed);
    for (std::size_t i = cells.size(); i > 1; --i)
        std::swap(cells[i - 1], cells[chance.below(i)]);
    auto sheet = plan_free_sheet(request, cells, scene.bench, labels);
    if (sheet)
        sheet->threshold = ThresholdSearch{bare.lab};
    return sheet;
}

Expected<ThresholdFinding> judge_threshold(const ProofSheet& sheet, const SheetReading& reading, const Bench& bench) {
    if (!sheet.threshold || reading.cells.size() != sheet.cells())
        return failure("threshold.none", fmt::format("Sheet {} searches no threshold.", sheet.number),
                       "Plan a threshold sheet.");
    std::vector<SeenPower> shows, spoils;
    std::map<double, ThresholdFinding::Power> powers;
    for (std::size_t i = 0; i < sheet.own.size(); ++i) {
        const CellReading& c = reading.cells[i];
        // What is spoiled is seen by the operator, whatever the camera made of it.
        if (c.state != CellState::read && !c.spoiled)
            continue;
        const double p = sheet.own[i].power_percent;
        // A cell under a mirrored lamp has changed only by more than it may be off.
        const bool changed = c.spoiled || delta_e00(c.lab, sheet.threshold->unmarked) >
                                              std::max(sheet.threshold->visible_de, 1.2 * c.within_de);
        shows.push_back({std::log(p), changed});
        spoils.push_back({std::log(p), c.spoiled});
        ThresholdFinding::Power& at = powers[p];
        at.percent = p;
        ++at.cells;
        at.changed += changed ? 1 : 0;
        at.spoiled += c.spoiled ? 1 : 0;
    }
    if (shows.size() < fewest_read || powers.size() < 2)
        return failure("threshold.too_few", fmt::format("Only {} cells could be read.", shows.size()),
                       "Read the sheet again, or burn it again: eight cells are the least.");
    ThresholdFinding f;
    f.shows = threshold_of(shows);
    f.spoils = threshold_of(spoils);
    for (Threshold* t : {&f.shows, &f.spoils}) {
        Setting s = sheet.base.setting;
        s.power_percent = std::clamp(t->percent, 0.01, 100.0);
        const Pattern at = pattern(pulse_output(bench.source, s), bench.source, bench.lens(), s, cell_fill(sheet), 0);
        t->peak_j_cm2 = at.peak_fluence_j_m2 / 1e4;
        t->dose_j_mm2 = at.areal_dose_j_m2 / 1e6;
    }
    for (const auto& [_, p] : powers)
        f.powers.push_back(p);
    const double weakest = f.powers.front().percent, strongest = f.powers.back().percent;
    f.next = next_of(f, {weakest, strongest, f.powers.size(), sheet.own.size() / f.powers.size()});
    f.words = threshold_words(f.shows, "It begins to show", "stay as they were", weakest, strongest);
    f.words += ' ';
    f.words += std::ranges::any_of(f.powers, [](const auto& p) { return p.spoiled > 0; })
                   ? threshold_words(f.spoils, "Damage begins", "are whole", weakest, strongest)
                   : std::string("No cell is ticked as spoiled.");
    return f;
}

nlohmann::json to_json(const ThresholdFinding& f) {
    const auto one = [](const Threshold& t) {
        static constexpr std::array words{"within", "below", "above", "unclear"};
        nlohmann::json out = {{"found", words.at(static_cast<std::size_t>(t.found))},
                              {"power_percent", t.percent},
                              {"power_percent_within", {t.low, t.high}},
                              {"peak_j_cm2", t.peak_j_cm2},
                              {"dose_j_mm2", t.dose_j_mm2}};
        if (t.spared_up_to > 0)
            out["spared_up_to_percent"] = t.spared_up_to;
        return out;
    };
    nlohmann::json powers = nlohmann::json::array();
    for (const auto& p : f.powers)
        powers.push_back(
            {{"power_percent", p.percent}, {"cells", p.cells}, {"changed", p.changed}, {"spoiled", p.spoiled}});
    return {{"format", "finch-threshold-finding"},
            {"version", 1},
            {"shows", one(f.shows)},
            {"spoils", one(f.spoils)},
            {"powers", powers},
            {"next", {{"from_percent", f.next.low_percent}, {"to_percent", f.next.high_percent}}},
            {"words", f.words}};
}

} // namespace finch
