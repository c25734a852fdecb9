// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/proof/tune_view.h"

#include "app/session/text.h"
#include "app/session/words.h"
#include "physics/film.h"
#include "quantity/format.h"
#include "recipe/effort.h"

#include <cmath>
#include <numbers>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

/// Width over which a line's heat grows the film, as the line ripple of the pattern knows it: 1/e2 spot over pi.
double growth_sigma_um(const Prediction& p) {
    return p.mark.pattern.spot_m * 1e6 / (2 * std::numbers::sqrt2) / 2;
}

std::vector<Lab> corner_colours(const Workbench& w, const Prediction& p, double length_um, double left) {
    const FilmOptics& film = *w.metal().film;
    const double sigma = growth_sigma_um(p);
    const double native = w.materials().model.native_oxide_m;
    const double grown = p.mark.oxide.thickness_m * p.mark.oxide.thickness_m - native * native;
    const double bare_haze = w.materials().model.finishes.at(w.draft().setup.stock.finish).haze;
    std::vector<Lab> out;
    constexpr int steps = 64;
    for (int i = 0; i < steps; ++i) {
        const double inside_um = ((i + 0.5) / steps - left) * length_um;
        // Growth adds up over the lines that reach here: a step blurred by the width of one line.
        const double share = 0.5 * std::erfc(-inside_um / (sigma * std::numbers::sqrt2));
        const double x = std::sqrt(native * native + std::max(0.0, grown) * share);
        const double haze = bare_haze + share * (p.mark.look.haze - bare_haze);
        out.push_back(shifted(specular_included(film, x, haze, 0, film.hemispherical(x)), p.mark.look.shift).lab);
    }
    return out;
}

} // namespace

RegimeMapView regime_map_view(const Workbench& w, const TuneWorker& worker) {
    RegimeMapView v;
    v.map = worker.map();
    v.finished = worker.finished();
    v.across_name = from_utf8(traits(worker.across()).label).toLower();
    v.down_name = from_utf8(traits(worker.down()).label).toLower();
    v.removal_wanted = traits(w.draft().recipe.process).removes;
    v.across_unit = screen_unit(worker.across());
    v.down_unit = screen_unit(worker.down());
    if (v.map == nullptr)
        return v;
    const Recipe& r = w.draft().recipe;
    v.x = v.map->across.share(knob_value(r, v.map->across.knob));
    v.y = v.map->down.share(knob_value(r, v.map->down.knob));
    if (const auto& p = w.prediction())
        v.here = from_utf8(word(p->effect));
    for (const Round& round : w.rounds()) {
        if (!round.reading)
            continue;
        for (std::size_t i = 0; i < round.sheet.cells(); ++i) {
            const CellReading& cell = round.reading->cells.at(i);
            if (cell.state != CellState::read || cell.spoiled)
                continue;
            const Recipe tested = cell_recipe(round.sheet, i);
            const double x = v.map->across.share(knob_value(tested, v.map->across.knob));
            const double y = v.map->down.share(knob_value(tested, v.map->down.knob));
            // Only cells that differ in the two axes alone, within a fifth, belong on this map.
            bool same = x > 0 && x < 1 && y > 0 && y < 1;
            for (const Knob k : {Knob::power, Knob::frequency, Knob::pulse_width, Knob::scan_speed, Knob::hatch_pitch})
                if (k != v.map->across.knob && k != v.map->down.knob)
                    same = same && std::abs(std::log(knob_value(tested, k) / knob_value(r, k))) < 0.2;
            if (same)
                v.tested.push_back({x, y, cell.lab});
        }
    }
    return v;
}

SurfaceView surface_view(const Workbench& w, const TuneWorker& worker) {
    SurfaceView v;
    const auto& p = w.prediction();
    if (!p) {
        v.words = QObject::tr("Nothing is predicted.");
        return v;
    }
    const Appearance look = appearance(w.scene(), w.draft().recipe, *p);
    v.tone = look.known ? look.lab : Lab{60, 0, 0};
    if (p->film_seen()) {
        v.corner_um = std::max(100.0, 8 * growth_sigma_um(*p));
        v.corner = corner_colours(w, *p, v.corner_um, 0.3);
        v.words = QObject::tr("Corner of the fill");
        return v;
    }
    v.patch = worker.patch();
    v.words = v.patch != nullptr ? QObject::tr("Half a millimetre, lit from the side")
                                 : QObject::tr("No picture for: %1").arg(from_utf8(word(p->effect)));
    return v;
}

QString surface_sentences(const Workbench& w, const SurfaceView& v) {
    const auto& p = w.prediction();
    if (!p)
        return {};
    QStringList out;
    if (!v.corner.empty()) {
        const double rim = 2.56 * growth_sigma_um(*p);
        out << QObject::tr("The rim runs through its tints over <b>%1 µm</b>.").arg(screen_number(rim, 2));
        out << QObject::tr("<b>Strokes under %1 mm</b> never reach the full tone.").arg(screen_number(rim * 2e-3, 2));
        const double ripple = 100 * p->mark.pattern.line_ripple;
        out << (ripple < 0.01 ? QObject::tr("No line shows.")
                              : QObject::tr("Line ripple %1 %.").arg(screen_number(ripple, 2)));
    } else if (v.patch != nullptr) {
        const PatchReport& r = v.patch->report;
        out << QObject::tr("Sa <b>%1 µm</b>, Sz %2 µm, drawn without debris.")
                   .arg(screen_number(r.sa_um, 2), screen_number(r.sz_um, 2));
        out << (r.anisotropy > 0.6 ? QObject::tr("<b>Grooved</b>: every pass hits the same lines. Turn and shift them.")
                : r.anisotropy > 0.2 ? QObject::tr("A direction still shows.")
                                     : QObject::tr("Even in all directions."));
        if (p->removal && p->depth_um() > 0.05)
            out << QObject::tr("Depth with debris, all passes: <b>%1 µm</b> (%2 to %3).")
                       .arg(screen_number(p->depth_um(), 3),
                            screen_number(p->removal->told_least_um(), p->removal->told_digits()),
                            screen_number(p->removal->told_most_um(), p->removal->told_digits()));
    } else if (p->coating && p->coating->gas) {
        out << QObject::tr("Dose <b>%1×</b> what finishes the coat.")
                   .arg(screen_number(p->coating->gas->dose_j_mm2 / p->coating->gas->finish_j_mm2, 2));
    } else if (p->coating) {
        out << QObject::tr("Coat: fluence <b>%1×</b> its threshold; metal: <b>%2×</b> below its own.")
                   .arg(screen_number(p->coating->pulsed.coat_margin, 2),
                        screen_number(p->coating->pulsed.metal_margin, 2));
        out << QObject::tr("Wanted 1.3 and 1.2.");
    } else if (p->black) {
        out << QObject::tr("Pulses of <b>%1 J/cm²</b>: it darkens from %2, the film breaks from %3.")
                   .arg(screen_number(p->black->fluence_j_cm2, 2), screen_number(p->black->low_j_cm2, 2),
                        screen_number(p->black->high_j_cm2, 2));
    } else if (p->compound) {
        out << QObject::tr("Interface <b>%1 °C</b>, adhesion %2, ladder step %3 of 7.")
                   .arg(screen_number(p->compound->interface_c, 3), screen_number(p->compound->adhesion, 2))
                   .arg(p->compound->level);
    }
    return out.join(u" "_s);
}

} // namespace finch::app
