// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/consequences_view.h"

#include "app/instruments/ladder_scales.h"
#include "app/session/text.h"
#include "app/session/words.h"

#include "physics/colour_difference.h"
#include "physics/crew.h"
#include "quantity/format.h"

#include <algorithm>
#include <cmath>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

SwatchView swatch_view(const Workbench& w, const Prediction& p, int tilt_index) {
    SwatchView v;
    v.tilt_index = tilt_index;
    v.valid = p.film_seen() || p.effect == Effect::none;
    v.spread = QObject::tr("%1 % film").arg(std::lround(100 * (std::exp(p.film_spread_ln) - 1)));
    if (!v.valid || w.metal().film == nullptr) {
        const Appearance look = appearance(w.scene(), w.draft().recipe, p);
        v.valid = false;
        v.reason = QString::fromStdString(look.words);
        if (look.known) {
            v.flat = look.lab;
            v.reason += QObject::tr(", L* %1 ± %2").arg(screen_number(look.lab.l, 2), screen_number(look.l_spread, 2));
        }
        return v;
    }
    const std::vector<Lab> tilt = tilted_colours(p, w.metal(), 5.0, tilt_steps);
    std::ranges::copy(tilt, v.tilt.begin());
    const ColourBand band = colour_band(p, w.metal(), 5.0 * tilt_index);
    v.thinner = band.thinner;
    v.middle = band.middle;
    v.thicker = band.thicker;
    return v;
}

/// The widest tilt at which the colour still is within five of the straight view.
int holds_to(const SwatchView& v) {
    int last = 0;
    for (std::size_t i = 0; i < tilt_steps; ++i) {
        if (delta_e00(v.tilt[0], v.tilt[i]) > 5)
            break;
        last = static_cast<int>(5 * i);
    }
    return last;
}

/// Numbers of a coat, a compound or a cut, in the place of what only films have.
void add_process_lines(std::vector<NumberLine>& out, const Prediction& p) {
    if (p.coating && p.coating->gas) {
        const double over = p.coating->gas->dose_j_mm2 / p.coating->gas->finish_j_mm2;
        out.push_back({QObject::tr("Over the finishing dose"),
                       u"× "_s + screen_number(over, 2),
                       {},
                       over >= 1.3 ? State::ok : State::warn,
                       Quantity::areal_dose});
    } else if (p.coating) {
        const CoatingOutcome& c = p.coating->pulsed;
        out.push_back({QObject::tr("Over the coat's threshold"),
                       u"× "_s + screen_number(c.coat_margin, 2),
                       {},
                       c.coat_margin >= wanted_coat_margin ? State::ok : State::warn,
                       Quantity::peak_fluence});
        out.push_back({QObject::tr("Below the metal's"),
                       u"× "_s + screen_number(c.metal_margin, 2),
                       {},
                       c.metal_margin >= wanted_metal_margin ? State::ok : State::warn,
                       Quantity::peak_fluence});
    }
    if (p.black)
        out.push_back({QObject::tr("Film breaks at"), screen_number(p.black->high_j_cm2, 2), u"J/cm²"_s,
                       p.black->fluence_j_cm2 < p.black->high_j_cm2 ? State::ok : State::warn, Quantity::peak_fluence});
    if (p.compound)
        out.push_back({QObject::tr("Interface"), screen_number(p.compound->interface_c, 3), u"°C"_s,
                       p.compound->fate == CompoundFate::bonded ? State::ok : State::warn, Quantity::areal_dose});
    if (p.removal && p.effect == Effect::removes) {
        out.push_back({QObject::tr("Crater"), screen_number(p.removal->pass.crater.diameter_um, 2), u"µm"_s,
                       std::nullopt, Quantity::spot});
        out.push_back({QObject::tr("Walls lean"), screen_number(p.removal->taper_deg, 2), u"°"_s, std::nullopt,
                       Quantity::removed});
        const RunStages& s = p.removal->stages;
        if (p.removal->passes > 1 && s.dark_from)
            out.push_back({QObject::tr("Dark powder from"),
                           QObject::tr("pass %1").arg(*s.dark_from),
                           {},
                           std::nullopt,
                           Quantity::removed});
        if (p.removal->passes > 1 && s.emerges_at)
            out.push_back({QObject::tr("Shape emerges at"),
                           QObject::tr("pass %1").arg(*s.emerges_at),
                           {},
                           std::nullopt,
                           Quantity::removed});
    }
}

/// The largest share, with what else it may be.
NumberLine outcome_line(const Prediction& p, const ProcessTraits& process) {
    const EffectShare next = p.shares.next();
    NumberLine line;
    line.name = from_utf8(word(p.effect));
    line.name.front() = line.name.front().toUpper();
    if (next.share >= 0.05)
        line.name += QObject::tr(", else %1").arg(from_utf8(word(next.effect)));
    if (p.effect == Effect::not_modelled) {
        line.name = QObject::tr("Not modelled");
        line.why = Quantity::outcome;
        return line;
    }
    line.value = p.share() > 0.995 ? u"> 99"_s : QString::number(std::lround(100 * p.share()));
    line.unit = u"%"_s;
    // A film that melts or is carried away spoils what was meant; so does anything under three in four.
    line.state = p.share() >= 0.75 ? State::ok : State::warn;
    if (process.lasting_colour && !is_film(p.effect) && p.effect != Effect::none)
        line.state = State::fail;
    line.why = Quantity::outcome;
    return line;
}

/// Depth where metal goes; under a film the share in which it does, not a depth that nobody would measure.
NumberLine removal_line(const Prediction& p, bool meant) {
    const auto level = [](double v) { return v >= 1 ? State::fail : v >= 0.5 ? State::warn : State::ok; };
    NumberLine line{QObject::tr("Metal removed"), u"0"_s, u"µm"_s,
                    meant ? std::nullopt : std::optional(level(p.removal_index)), Quantity::removed};
    const RemovalForecast& r = *p.removal;
    if (is_film(p.effect) || p.effect == Effect::melts || p.effect == Effect::none) {
        if (p.share_away >= 0.05) {
            line.name = QObject::tr("Metal goes, %1 %").arg(std::lround(100 * p.share_away));
            line.value = screen_number(r.depth_if_um, 2);
        }
        return line;
    }
    const int digits = r.told_digits();
    line.value = screen_number(r.told_um(), digits);
    if (r.told_most_um() > 0)
        line.value +=
            u" (%1–%2)"_s.arg(screen_number(r.told_least_um(), digits), screen_number(r.told_most_um(), digits));
    return line;
}

std::vector<NumberLine> number_lines(const Prediction& p, const Fill& fill, const ProcessTraits& process) {
    const AnnealResult& m = p.mark;
    const auto level = [](double v, double caution, double bad) {
        return v >= bad ? State::fail : v >= caution ? State::warn : State::ok;
    };
    const QString time = screen_duration(m.pattern.time_s);
    const double rise = m.heat.lines_rise + m.heat.passes_rise;
    const QString warp = m.plate.warp < 0.3 ? QObject::tr("low")
                         : m.plate.warp < 1 ? QObject::tr("clamp it")
                                            : QObject::tr("will move");
    const QString burn = p.burn_index < 0.5 ? QObject::tr("low")
                         : p.burn_index < 1 ? QObject::tr("caution")
                                            : QObject::tr("likely");
    std::vector<NumberLine> out{
        outcome_line(p, process),
        {QObject::tr("Time for %1").arg(area_words(fill)), time.section(u' ', 0, -2), time.section(u' ', -1),
         std::nullopt, Quantity::time},
    };
    if (p.film_seen())
        out.push_back({QObject::tr("Oxide film"),
                       u"%1 ± %2"_s.arg(screen_number(p.oxide_nm(), 2),
                                        screen_number(p.oxide_nm() * (std::exp(p.film_spread_ln) - 1), 2)),
                       u"nm"_s, std::nullopt, Quantity::oxide});
    if (p.removal)
        out.push_back(removal_line(p, process.removes));
    out.insert(out.end(), {
                              {QObject::tr("Part warms by"), screen_number(rise, 2), u"K"_s, level(rise, 120, 300),
                               Quantity::part_rise},
                              {QObject::tr("Risk of warp"), warp, {}, level(m.plate.warp, 0.3, 1), Quantity::warp},
                          });
    // Burning through is worth a line only where it can happen.
    if (p.burn_index >= 0.3)
        out.push_back({QObject::tr("Burn-through"), burn, {}, level(p.burn_index, 0.5, 1), Quantity::burn});
    else if (is_film(p.effect) || p.effect == Effect::melts)
        out.push_back({QObject::tr("Margin to melting"), screen_number(100 * std::max(0.0, 1 - p.melt_index), 2),
                       u"%"_s, level(p.melt_index, 0.85, 1), Quantity::melt_margin});
    if (!p.film_seen())
        add_process_lines(out, p);
    return out;
}

} // namespace

ConsequencesView consequences_view(const Workbench& w, int tilt_index) {
    ConsequencesView v;
    const auto& p = w.prediction();
    if (!p) {
        v.fault = QString::fromStdString(sentence(p.error()));
        return v;
    }
    v.computed = true;
    const Draft& d = w.draft();
    v.subject = w.round() != nullptr && d.cell
                    ? QObject::tr("cell %1").arg(QString::fromStdString(cell_name(w.round()->sheet, *d.cell)))
                : d.recipe.name.empty() ? QObject::tr("this recipe")
                                        : QString::fromStdString(d.recipe.name);
    const Scene scene = w.scene().knowing(p->evidence);
    const Recipe* saved = d.saved ? &*d.saved : nullptr;
    // Each is a score of predictions, and a knob is being turned: both at once.
    Crew(2).run(2, [&](int which) {
        if (which == 0)
            v.dose = dose_ladder(scene, d.recipe, d.fill, *p, saved);
        else
            v.fluence = fluence_ladder(scene, d.recipe, d.fill, *p, saved);
    });
    const Pattern& pattern = p->mark.pattern;
    v.stamp = {pattern.spot_m * 1e6, pattern.pulse_pitch_m * 1e6, in_micrometres(d.recipe.setting.hatch_pitch)};
    v.overlap = QObject::tr("%1 % along, %2 % across")
                    .arg(std::lround(100 * pattern.pulse_overlap))
                    .arg(std::lround(100 * pattern.line_overlap));
    v.swatch = swatch_view(w, *p, tilt_index);
    if (v.swatch.valid)
        v.look = QObject::tr("%1, holds to %2°").arg(from_utf8(colour_name(v.swatch.tilt[0]))).arg(holds_to(v.swatch));
    v.numbers = number_lines(*p, d.fill, traits(d.recipe.process));
    // What the fit leaves and what the model leaves are two things.
    const double model = p->film_seen() && p->evidence.sheets > 0
                             ? std::sqrt(std::max(0.0, p->film_spread_ln * p->film_spread_ln -
                                                           std::pow(0.5 * p->evidence.growth_fit_ln, 2)))
                             : 0;
    const int pieces = p->evidence.depth_coupons;
    const ProvenBy proof = traits(d.recipe.process).proven_by;
    const int searched = proof == ProvenBy::thresholds      ? p->evidence.coat_sheets
                         : proof == ProvenBy::power_ladders ? p->evidence.ladders_under(d.recipe.compound)
                                                            : 0;
    v.rests_on = proof == ProvenBy::thresholds || proof == ProvenBy::power_ladders
                     ? searched == 0   ? QObject::tr("physics alone")
                       : searched == 1 ? QObject::tr("physics and 1 threshold sheet")
                                       : QObject::tr("physics and %1 threshold sheets").arg(searched)
                 : !traits(d.recipe.process).lasting_colour && pieces > 0
                     ? pieces == 1 ? QObject::tr("physics and depths of 1 piece")
                                   : QObject::tr("physics and depths of %1 pieces").arg(pieces)
                 : p->evidence.sheets == 0 ? QObject::tr("physics alone")
                 : model > 0               ? QObject::tr("%1 cells: fit ±%2 %, model ±%3 %")
                                   .arg(p->evidence.cells)
                                   .arg(std::lround(50 * p->evidence.growth_fit_ln))
                                   .arg(std::lround(100 * model))
                             : QObject::tr("physics and %1 cells of this lot").arg(p->evidence.cells);
    return v;
}

} // namespace finch::app
