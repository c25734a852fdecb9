// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/consequences_view.h"

#include "app/instruments/ladder_scales.h"
#include "app/session/text.h"
#include "app/session/words.h"

#include "physics/colour_difference.h"
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
    v.spread = QObject::tr("%1 % film").arg(std::lround(100 * p.oxide_spread));
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
    const FilmOptics& film = *w.metal().film;
    const double x = p.mark.oxide.thickness_m;
    const Spectrum hemi = film.hemispherical(x);
    for (std::size_t i = 0; i < tilt_steps; ++i)
        v.tilt[i] = specular_included(film, x, p.mark.look.haze, 5.0 * static_cast<double>(i), hemi).lab;
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
    if (p.coating) {
        out.push_back({QObject::tr("Over the coat's threshold"),
                       u"× "_s + screen_number(p.coating->coat_margin, 2),
                       {},
                       p.coating->coat_margin >= 1.3 ? State::ok : State::warn,
                       Quantity::peak_fluence});
        out.push_back({QObject::tr("Below the metal's"),
                       u"× "_s + screen_number(p.coating->metal_margin, 2),
                       {},
                       p.coating->metal_margin >= 1.2 ? State::ok : State::warn,
                       Quantity::peak_fluence});
    }
    if (p.compound)
        out.push_back({QObject::tr("Interface"), screen_number(p.compound->interface_c, 3), u"°C"_s,
                       p.compound->fate == CompoundFate::bonded ? State::ok : State::warn, Quantity::areal_dose});
    if (p.removal && p.effect == Effect::removes) {
        out.push_back({QObject::tr("Crater"), screen_number(p.removal->pass.crater.diameter_um, 2), u"µm"_s,
                       std::nullopt, Quantity::spot});
        out.push_back({QObject::tr("Walls lean"), screen_number(p.removal->taper_deg, 2), u"°"_s, std::nullopt,
                       Quantity::removed});
    }
}

std::vector<NumberLine> number_lines(const Prediction& p, const Fill& fill, bool meant) {
    const AnnealResult& m = p.mark;
    const auto level = [](double v, double caution, double bad) {
        return v >= bad ? State::fail : v >= caution ? State::warn : State::ok;
    };
    const QString time = QString::fromStdString(format_duration(m.pattern.time_s));
    const double rise = m.heat.lines_rise + m.heat.passes_rise;
    const QString warp = m.plate.warp < 0.3 ? QObject::tr("low")
                         : m.plate.warp < 1 ? QObject::tr("clamp it")
                                            : QObject::tr("will move");
    const QString burn = m.plate.burn < 0.5 ? QObject::tr("low")
                         : m.plate.burn < 1 ? QObject::tr("caution")
                                            : QObject::tr("likely");
    std::vector<NumberLine> out{
        {QObject::tr("Time for %1").arg(area_words(fill)), time.section(u' ', 0, -2), time.section(u' ', -1),
         std::nullopt, Quantity::time},
        {QObject::tr("Oxide film"), screen_number(p.oxide_nm(), 2), u"nm"_s, std::nullopt, Quantity::oxide},
        {QObject::tr("Metal removed"), screen_number(p.removal ? p.depth_um() : m.removal.net_m * 1e6, 2), u"µm"_s,
         meant ? std::nullopt : std::optional(level(p.removal_index, 0.5, 1)), Quantity::removed},
        {QObject::tr("Part warms by"), screen_number(rise, 2), u"K"_s, level(rise, 120, 300), Quantity::part_rise},
        {QObject::tr("Risk of warp"), warp, {}, level(m.plate.warp, 0.3, 1), Quantity::warp},
    };
    const bool film = p.film_seen() || (p.effect == Effect::none && p.heat_modelled);
    if (!film) {
        out.erase(out.begin() + 1); // no oxide film is what one sees
        add_process_lines(out, p);
        return out;
    }
    // Burning through is worth a line only where it can happen.
    if (m.plate.burn >= 0.3)
        out.push_back({QObject::tr("Burn-through"), burn, {}, level(m.plate.burn, 0.5, 1), Quantity::burn});
    else
        out.push_back({QObject::tr("Margin to melting"), screen_number(100 * std::max(0.0, 1 - m.melt_index), 2),
                       u"%"_s, level(m.melt_index, 0.85, 1), Quantity::melt_margin});
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
    v.dose = dose_ladder(scene, d.recipe, d.fill, *p, saved);
    v.fluence = fluence_ladder(scene, d.fill, *p, saved);
    const Pattern& pattern = p->mark.pattern;
    v.stamp = {pattern.spot_m * 1e6, pattern.pulse_pitch_m * 1e6, in_micrometres(d.recipe.setting.hatch_pitch)};
    v.overlap = QObject::tr("%1 % along, %2 % across")
                    .arg(std::lround(100 * pattern.pulse_overlap))
                    .arg(std::lround(100 * pattern.line_overlap));
    v.swatch = swatch_view(w, *p, tilt_index);
    if (v.swatch.valid)
        v.look = QObject::tr("%1, holds to %2°").arg(from_utf8(colour_name(v.swatch.tilt[0]))).arg(holds_to(v.swatch));
    v.numbers = number_lines(*p, d.fill, traits(d.recipe.process).removes);
    v.regime = from_utf8(word(p->effect));
    v.rests_on = p->evidence.sheets == 0 ? QObject::tr("physics alone")
                                         : QObject::tr("physics and %1 cells of this lot").arg(p->evidence.cells);
    return v;
}

} // namespace finch::app
