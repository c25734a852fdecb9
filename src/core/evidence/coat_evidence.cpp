// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "evidence/coat_evidence.h"

#include "evidence/learn.h"
#include "evidence/onset.h"
#include "recipe/predict.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <set>

namespace finch {
namespace {

constexpr std::size_t fewest_told = 8;
constexpr double widest_ln = 1.2; ///< an interval that says less than the model alone teaches nothing

/// Chance that the coat is still there and as dark as it was, or that the compound is washed off; how firmly it holds
/// is not seen.
double not_done(const Prediction& p) {
    using enum Effect;
    if (p.compound)
        return p.compound->position < 0 ? 1 : 0;
    return p.shares[none] + p.shares[coat_kept] + p.shares[partly_strips];
}

/// One number of what was learned that says how easily a coat goes or a compound bonds.
struct Dial {
    double low, high;
    bool eases; ///< more of it makes that likelier
    std::function<void(Evidence&, double)> turn;
};

/// ln of the value of the dial at which a mark is done as likely as not, by halving; nothing where none in its range
/// is.
std::optional<double> even_ln(Scene scene, const Observation& o, const Dial& dial) {
    const auto stays = [&](double ln) -> std::optional<bool> {
        dial.turn(scene.evidence, std::exp(ln));
        const auto p = predict(scene, o.recipe, o.fill, unseen);
        return p ? std::optional(not_done(*p) > 0.5) : std::nullopt;
    };
    double low = std::log(dial.low), high = std::log(dial.high);
    const auto at_low = stays(low), at_high = stays(high);
    if (!at_low || !at_high || *at_low == *at_high)
        return std::nullopt;
    constexpr double fine_ln = 0.002;
    while (high - low > fine_ln) {
        const double middle = 0.5 * (low + high);
        const auto at = stays(middle);
        if (!at)
            return std::nullopt;
        (*at == *at_low ? low : high) = middle;
    }
    return 0.5 * (low + high);
}

std::optional<TaughtFactor> taught(const Materials& materials, const std::vector<const Observation*>& told,
                                   const Dial& dial) {
    if (told.size() < fewest_told)
        return std::nullopt;
    TaughtFactor out;
    std::vector<SeenAlong> seen;
    std::set<std::string> pieces;
    std::vector<std::pair<const Observation*, std::optional<double>>> worked_out; // cells are burned several times each
    for (const Observation* o : told) {
        const auto metal = materials.find(o->setup->stock.metal);
        if (!metal)
            return std::nullopt;
        const Scene scene{materials, **metal, o->setup->bench, o->setup->stock};
        auto known = std::ranges::find_if(
            worked_out, [&](const auto& w) { return w.first->recipe == o->recipe && *w.first->setup == *o->setup; });
        if (known == worked_out.end()) {
            worked_out.emplace_back(o, even_ln(scene, *o, dial));
            known = std::prev(worked_out.end());
            if (known->second)
                if (const auto p = predict(scene, o->recipe, o->fill, unseen))
                    out.points.push_back(measured_point(p->mark));
        }
        if (!known->second)
            continue;
        seen.push_back({dial.eases ? -*known->second : *known->second, *o->done});
        pieces.insert(o->piece);
    }
    if (seen.size() < fewest_told)
        return std::nullopt;
    const Onset onset = onset_of(seen, widest_ln);
    if (onset.found != Onset::Found::within)
        return std::nullopt;
    out.factor = std::clamp(std::exp(dial.eases ? -onset.at : onset.at), dial.low, dial.high);
    out.fit_ln = (onset.high - onset.low) / (2 * 1.645);
    out.pieces = static_cast<int>(pieces.size());
    return out;
}

std::vector<const Observation*> that_tell(const std::vector<const Observation*>& places, Process process) {
    std::vector<const Observation*> out;
    for (const Observation* o : places)
        if (o->done && o->recipe.process == process && evidence_key(*o->setup) == evidence_key(*places.front()->setup))
            out.push_back(o);
    return out;
}

} // namespace

std::optional<TaughtFactor> taught_coat(const Materials& materials, const std::vector<const Observation*>& places) {
    if (places.empty() || materials.coat(places.front()->setup->stock.coating) == nullptr)
        return std::nullopt;
    const auto stripped = that_tell(places, Process::strip), bleached = that_tell(places, Process::bleach);
    const auto& told = stripped.size() >= bleached.size() ? stripped : bleached;
    // A gas laser takes a coat off by its volume; pulses go through it a little above their threshold.
    const bool of_work = &told == &stripped && places.front()->setup->bench.source.kind == SourceKind::gas;
    auto out = of_work ? taught(materials, told, {0.1, 10, false, [](Evidence& e, double w) { e.coat_work = w; }})
                       : taught(materials, told, {0.05, 20, false, [](Evidence& e, double g) { e.coat_gain = g; }});
    if (out)
        out->of_work = of_work;
    return out;
}

std::optional<TaughtFactor> taught_coupling(const Materials& materials, const std::vector<const Observation*>& places) {
    auto told = that_tell(places, Process::compound);
    if (told.empty())
        return std::nullopt;
    const std::string newest = (*std::ranges::max_element(told, {}, [](const Observation* o) {
                                   return std::pair(o->when_utc, o->source);
                               }))->recipe.compound;
    std::erase_if(told, [&](const Observation* o) { return o->recipe.compound != newest; });
    auto out = taught(materials, told, {0.002, 8, true, [](Evidence& e, double c) { e.compound_coupling = c; }});
    if (out)
        out->compound = newest;
    return out;
}

} // namespace finch
