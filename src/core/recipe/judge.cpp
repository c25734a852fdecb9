// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "recipe/judge.h"

#include "physics/colour_difference.h"
#include "quantity/format.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace finch {
namespace {

std::string of_verdict(double v, int digits = 2) {
    return format_for_screen(v, digits);
}

bool metal_goes(const Prediction& p) {
    return p.removal && (p.effect == Effect::removes || p.effect == Effect::frosts || p.effect == Effect::through);
}

struct Said {
    Answer answer;
    std::string number, reason;
};

Answer pass_if(bool good) {
    return good ? Answer::passes : Answer::fails;
}

Said unknown(std::string reason) {
    return {Answer::unknown, "not known", std::move(reason)};
}

Said lightness(const Wish& w, const Judged& j) {
    if (!j.look.known)
        return unknown(fmt::format("It {}: no look is predicted.", word(j.prediction.effect)));
    const double l = j.look.lab.l;
    const bool dark = w.kind == WishKind::dark;
    const bool good = dark ? l <= w.value : l >= w.value;
    const double room = dark ? w.value - l : l - w.value;
    std::string why = good ? (room > j.look.l_spread ? "Comes out " + j.look.words + "." : "Just so, within its band.")
                           : "Comes out " + j.look.words + ".";
    return {pass_if(good), fmt::format("L* {:.0f} ± {:.0f}", l, j.look.l_spread), std::move(why)};
}

Said colour(const Wish& w, const Judged& j) {
    if (!j.look.known)
        return unknown("No look is predicted for it.");
    const double de = delta_e00(j.look.lab, w.lab);
    const bool film = j.prediction.film_seen();
    return {pass_if(de <= w.value), fmt::format("ΔE₀₀ {:.1f}", de),
            film ? fmt::format("Film of {} nm, {}.", of_verdict(j.prediction.oxide_nm()), j.look.words)
                 : fmt::format("No film colour: {}.", j.look.words)};
}

Said depth(const Wish& w, const Judged& j) {
    const Prediction& p = j.prediction;
    if (p.compound)
        return {Answer::fails, "0 µm", "A film is added, nothing is cut."};
    if (!p.removal)
        return p.heat_modelled ? Said{Answer::unknown, "not known", "No removal is modelled here."}
                               : Said{Answer::fails, "0 µm", "This beam does not cut bare metal."};
    const double d = p.depth_um();
    const int digits = p.removal->told_digits();
    std::string number =
        d > 0 ? fmt::format("{} µm ({}–{})", of_verdict(d, digits), of_verdict(p.removal->told_least_um(), digits),
                            of_verdict(p.removal->told_most_um(), digits))
              : std::string("0 µm");
    if (d >= w.value && d <= w.high)
        return {Answer::passes, std::move(number), fmt::format("In {} passes.", burned_setting(j.recipe).passes)};
    return {Answer::fails, std::move(number), d < w.value ? "Too shallow." : "Too deep."};
}

Said removed(const Wish& w, const Judged& j) {
    const Prediction& p = j.prediction;
    if (p.compound)
        return {Answer::passes, "0 µm", "A film is added, nothing is taken."};
    if (!p.heat_modelled)
        return unknown("Nothing is predicted for this material.");
    const double d = p.depth_um();
    if (p.coating && !metal_goes(p))
        return {pass_if(p.effect != Effect::strips_and_marks), p.effect == Effect::strips_and_marks ? "metal" : "0 µm",
                p.effect == Effect::strips_and_marks ? "The metal below is reached." : "Only the coat goes."};
    return {pass_if(d < w.value && !metal_goes(p)), fmt::format("{} µm", of_verdict(d)),
            d < w.value && !metal_goes(p) ? "The surface stays." : "Metal goes with every pass."};
}

Said smooth(const Wish& w, const Judged& j) {
    const Prediction& p = j.prediction;
    if (p.compound)
        return {Answer::unknown, "raised film", "A fused film stands on the surface: feel a coupon."};
    if (p.black)
        return {pass_if(p.effect == Effect::darkens || p.effect == Effect::coat_kept), "no step",
                "The mark lies under the film."};
    if (p.coating)
        return {pass_if(p.effect == Effect::bleaches || p.effect == Effect::coat_kept),
                p.effect == Effect::bleaches ? "no step" : "edge of the coat",
                p.effect == Effect::bleaches ? "The film stays whole." : "The edge of the coat can be felt."};
    if (!p.heat_modelled)
        return unknown("Nothing is predicted for this material.");
    const double step = p.depth_um();
    return {pass_if(step <= w.value), fmt::format("step {} µm", of_verdict(step)),
            step <= w.value ? "A fingernail slides over it." : "A fingernail catches on the edge."};
}

Said tilted(const Scene& s, const Wish& w, const Judged& j) {
    if (!j.look.known)
        return unknown("No look is predicted for it.");
    const double delta = std::abs(contrast_at(s, j.prediction, j.look, w.value));
    return {pass_if(delta >= w.high), fmt::format("ΔL* {:.0f}", delta),
            delta >= w.high     ? (j.look.haze > 0.6 ? "Matt, holds when tilted." : "Holds against the metal.")
            : j.look.haze < 0.3 ? "A mirror: it turns with the light."
                                : "Vanishes against its surroundings."};
}

Said detail(const Wish& w, const Judged& j) {
    const Prediction& p = j.prediction;
    const bool crater = metal_goes(p) && p.removal->pass.crater.diameter_um > 0;
    const double width = crater ? p.removal->pass.crater.diameter_um / 1e3 : p.mark.pattern.spot_m * 1e3;
    // Below two and a half widths the counters of small figures close.
    const bool good = width <= 0.4 * w.value;
    std::string why =
        good ? fmt::format("1/{:.0f} of the stroke.", std::max(1.0, w.value / width)) : "Blur closes small loops.";
    if (good && crater)
        why = fmt::format("Crisp, walls lean {:.0f}°.", p.removal->taper_deg);
    return {pass_if(good), fmt::format("{} {:.2f} mm", crater ? "crater" : "spot", width), std::move(why)};
}

Said flat(const Wish& w, const Judged& j) {
    const Prediction& p = j.prediction;
    if (!p.heat_modelled)
        return unknown("No heat of the part is modelled here.");
    const double heat = p.mark.heat.lines_rise + p.mark.heat.passes_rise;
    double index = p.mark.plate.warp;
    if (p.effect == Effect::through)
        return {Answer::fails, "cut through", "The stock is cut through."};
    if (p.removal && p.removal->buckling_rise_k > 0 && metal_goes(p))
        index = std::max(index, p.removal->plate_rise_k / p.removal->buckling_rise_k);
    return {pass_if(index <= w.value), fmt::format("index {}", of_verdict(index)),
            index <= w.value ? fmt::format("Warms by {:.0f} K.", heat)
                             : fmt::format("Warms by {:.0f} K: clamp it, or pause.", heat)};
}

Said lasting(const Scene& s, const Wish& w, const Judged& j) {
    const Durability d = durability(s, j.recipe, j.prediction);
    const double grade = w.kind == WishKind::abrasion ? d.abrasion
                         : w.kind == WishKind::wash   ? 0.5 * (d.abrasion + d.corrosion)
                                                      : d.corrosion;
    const std::string number = fmt::format("class {} ± 1", of_verdict(grade));
    if (grade >= w.value + 1)
        return {Answer::passes, number, d.note};
    if (grade < w.value - 0.5)
        return {Answer::fails, number, d.note};
    return {Answer::unknown, number, "To test: " + d.test + "."};
}

Said coat(const Wish& w, const Judged& j) {
    const Prediction& p = j.prediction;
    if (p.black) {
        const double broken = p.shares[Effect::strips_and_marks];
        return {pass_if(broken < 0.5), fmt::format("{:.0f} % whole", 100 * (1 - broken)),
                broken < 0.5 ? "The film stays whole over the mark." : "The film breaks: bare metal is exposed."};
    }
    if (!p.coating)
        return unknown("There is no modelled coat on this stock.");
    const CoatingOutcome& c = p.coating->pulsed;
    if (w.kind == WishKind::coat_kept) {
        const double kept = p.shares[Effect::bleaches] + p.shares[Effect::coat_kept];
        return {pass_if(kept > 0.5), fmt::format("{:.0f} %", 100 * kept),
                kept > 0.5 ? "The film stays, and keeps protecting." : "The film goes: bare metal is exposed."};
    }
    if (p.coating->gas) {
        const double marked = p.shares[Effect::strips_and_marks];
        return {pass_if(marked < 0.5), fmt::format("{:.0f} % unmarked", 100 * (1 - marked)),
                marked < 0.5 ? "The metal below stays as it was." : "The average heat tints the metal."};
    }
    const bool clean = c.metal_margin >= 1 && c.tint < 1;
    return {pass_if(clean), fmt::format("margin {}", of_verdict(std::min(c.metal_margin, 1 / std::max(c.tint, 1e-9)))),
            clean ? "The metal below stays as it was."
                  : (c.tint >= 1 ? "The average heat tints the metal." : "The pulse marks the metal.")};
}

} // namespace

Verdict judge(const Scene& s, const Aim&, const Wish& w, const Judged& j) {
    const auto say = [&]() -> Said {
        switch (w.kind) {
        case WishKind::dark:
        case WishKind::bright:
            return lightness(w, j);
        case WishKind::colour:
            return colour(w, j);
        case WishKind::depth:
            return depth(w, j);
        case WishKind::nothing_removed:
            return removed(w, j);
        case WishKind::smooth:
            return smooth(w, j);
        case WishKind::corrosion_kept:
        case WishKind::abrasion:
        case WishKind::salt:
        case WishKind::wash:
            return lasting(s, w, j);
        case WishKind::viewing_angle:
            return tilted(s, w, j);
        case WishKind::fine_detail:
            return detail(w, j);
        case WishKind::stays_flat:
            return flat(w, j);
        case WishKind::coat_kept:
        case WishKind::metal_unmarked:
            return coat(w, j);
        case WishKind::minutes: {
            const double m = j.effort.seconds() / 60;
            return {pass_if(m <= w.value), fmt::format("{} min", of_verdict(m)),
                    j.effort.handling_s > j.effort.mark_s ? "Handling takes most of it."
                                                          : "The beam takes most of it."};
        }
        case WishKind::cost:
            return {pass_if(j.effort.cost() <= w.value), fmt::format("{:.2f}", j.effort.cost()),
                    j.effort.consumable > 0 ? fmt::format("Compound {:.2f} of it.", j.effort.consumable)
                                            : std::string("Bench time only.")};
        }
        return unknown({});
    };
    Said said = say();
    return {w.kind, w.must, said.answer, std::move(said.number), std::move(said.reason)};
}

std::vector<Verdict> judge(const Scene& scene, const Aim& aim, const Judged& of) {
    std::vector<Verdict> out;
    for (const Wish& w : aim.wishes)
        out.push_back(judge(scene, aim, w, of));
    return out;
}

Durability durability(const Scene& s, const Recipe& recipe, const Prediction& p) {
    // What really happens decides, not what was meant.
    std::string_view what = traits(recipe.process).key;
    switch (p.effect) {
    case Effect::dark:
        what = "anneal";
        break;
    case Effect::tint:
    case Effect::colour:
        what = "colour";
        break;
    case Effect::polishes:
    case Effect::cleans:
        what = "bright";
        break;
    case Effect::frosts:
        what = "frost";
        break;
    case Effect::removes:
    case Effect::through:
        what = p.depth_um() > 40 ? "deep-engrave" : "engrave";
        break;
    case Effect::strips:
    case Effect::partly_strips:
    case Effect::strips_and_marks:
        what = "strip";
        break;
    case Effect::darkens:
        what = "film-dark";
        break;
    case Effect::bleaches:
        what = "bleach";
        break;
    case Effect::bonds:
        what = "compound";
        break;
    case Effect::none:
    case Effect::melts:
    case Effect::coat_kept:
    case Effect::no_bond:
    case Effect::under_fused:
    case Effect::over_burns:
    case Effect::blown_off:
    case Effect::not_modelled:
        break;
    }
    return s.materials.durability(what, s.metal.key);
}

std::vector<std::string> challenges(const Scene& s, const Aim& aim) {
    std::vector<std::string> out;
    const bool bare = s.stock.coating == Coating::none || s.stock.coating == Coating::unknown;
    const Metal& m = s.metal;
    if (aim.find(WishKind::colour) != nullptr && m.film != nullptr && !m.oxide)
        out.push_back(fmt::format("Colour on {} is unlikely: no coloured oxide film is known to grow on it.", m.name));
    if (aim.find(WishKind::dark) != nullptr && m.film != nullptr && !m.oxide && bare)
        out.push_back(fmt::format("Black on bare {} is unlikely: nothing dark grows on it. A dark powdery floor or a "
                                  "compound comes nearest.",
                                  m.name));
    const Wish* depth = aim.find(WishKind::depth);
    const Wish* minutes = aim.find(WishKind::minutes);
    if (depth != nullptr && minutes != nullptr && m.removal && s.bench.source.pulsed()) {
        const Energy limit = pulse_energy_limit(s.bench.source, s.bench.source.pulse_width_max);
        const BestFrequency best = best_frequency(
            *m.removal, s.materials.model.removal, s.bench.source.rated_power,
            std::min(s.bench.source.pulse_width_max, nanoseconds(500)), limit,
            waist(s.bench.lens(), s.bench.source.wavelength), {mm_per_second(900), mm(0.035)},
            std::max(5.0, in_kilohertz(s.bench.source.frequency_min)), in_kilohertz(s.bench.source.frequency_max));
        const double volume = depth->value * 1e-3 * aim.fill.area_mm2;
        const double least = volume / best.rate_mm3_min;
        if (least > minutes->value)
            out.push_back(fmt::format("{} mm deep over {} mm² in {} min is unlikely: {} mm³ at this bench's best {} "
                                      "mm³/min take {} min.",
                                      of_verdict(depth->value * 1e-3), of_verdict(aim.fill.area_mm2, 3),
                                      of_verdict(minutes->value), of_verdict(volume), of_verdict(best.rate_mm3_min),
                                      of_verdict(least)));
    }
    if (aim.find(WishKind::depth) != nullptr && aim.find(WishKind::nothing_removed) != nullptr)
        out.emplace_back("Depth and nothing removed cannot both come true.");
    if (aim.find(WishKind::dark) != nullptr && aim.find(WishKind::bright) != nullptr)
        out.emplace_back("Dark and bright cannot both come true.");
    return out;
}

std::string working_part_risk(const Scene&, const Aim& aim, const Recipe&, const Prediction& p) {
    if (!aim.working_part || !metal_goes(p))
        return {};
    return fmt::format("A working part loses {} µm here: balance shifts, the edge raises stress, and cut skin rusts "
                       "first. An anneal leaves it whole.",
                       of_verdict(p.depth_um()));
}

} // namespace finch
