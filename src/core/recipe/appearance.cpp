// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "recipe/appearance.h"

#include "quantity/format.h"

#include <cmath>
#include <fmt/format.h>

namespace finch {
namespace {

Appearance of_film(const Scene& s, const Prediction& p) {
    const ColourBand band = colour_band(p, s.metal, 0);
    Appearance a;
    a.known = true;
    a.lab = p.lab();
    a.haze = p.mark.look.haze;
    a.l_spread = std::hypot(0.5 * (band.thinner.l - band.thicker.l), s.materials.model.join.film_l_spread);
    a.words = p.effect == Effect::dark ? (a.lab.l < 40 ? "dark grey" : "grey") : std::string(colour_name(a.lab));
    a.rests_on = p.evidence.sheets > 0 ? fmt::format("physics and {} sheets on this lot", p.evidence.sheets)
                                       : "physics alone, no reading on this lot";
    return a;
}

Appearance of_bare(const Scene& s, double haze, double spread, std::string words) {
    Appearance a;
    if (s.metal.film == nullptr)
        return a;
    a.known = true;
    a.lab = to_lab(to_xyz(s.metal.film->bare(0)));
    a.haze = haze;
    a.l_spread = spread;
    a.words = std::move(words);
    a.rests_on = "optical constants of the metal; the texture is an estimate, within one class";
    return a;
}

Appearance estimate(const LookEstimate& look, double haze, std::string words) {
    return {true, {look.l, look.a, look.b}, look.spread, haze, std::move(words), look.source};
}

double native_room_l(const Scene& s, double haze, double tilt_deg) {
    const FilmOptics& film = *s.metal.film;
    const double x = s.materials.model.native_oxide_m;
    return room_look(film, x, haze, tilt_deg, s.materials.model.room_light, s.materials.model.room_lamp_deg,
                     film.hemispherical(x))
        .lab.l;
}

/// The lightness told is that over the shares; what the look itself is not known by comes on top.
Appearance over_shares(Appearance a, const Prediction& p) {
    if (!a.known || !p.lightness)
        return a;
    a.lab.l = p.lightness->l;
    a.l_spread = std::hypot(p.lightness->spread, p.film_seen() ? p.share() * a.l_spread : 0);
    if (p.share() < 0.95)
        a.rests_on += "; " + told_words(p.shares);
    return a;
}

Appearance look_of_effect(const Scene& s, const Recipe& recipe, const Prediction& p);

} // namespace

Appearance unmarked(const Scene& s) {
    const LookEstimates& looks = s.materials.model.looks;
    switch (s.stock.coating) {
    case Coating::powder_coat:
    case Coating::paint:
    case Coating::anodised:
        return estimate(looks.coat, 0.8, "coat");
    case Coating::unknown:
    case Coating::none:
    case Coating::nickel:
    case Coating::clear:
    case Coating::polish_residue:
        break;
    case Coating::anodised_natural:
        return {true, {s.materials.model.join.black_l_from, 0, 1}, 5, 0.5, "clear film", "typical of the film"};
    }
    return of_bare(s, s.materials.model.finishes.at(s.stock.finish).haze, 3, "bare metal");
}

Appearance finished(const Scene& s, const Recipe& recipe) {
    Prediction p;
    switch (recipe.process) {
    case Process::strip:
        p.effect = Effect::strips;
        break;
    case Process::bleach:
        p.effect = Effect::bleaches;
        break;
    case Process::compound:
        p.effect = Effect::bonds;
        break;
    default:
        return {};
    }
    return look_of_effect(s, recipe, p);
}

Appearance appearance(const Scene& s, const Recipe& recipe, const Prediction& p) {
    return over_shares(look_of_effect(s, recipe, p), p);
}

namespace {

Appearance look_of_effect(const Scene& s, const Recipe& recipe, const Prediction& p) {
    const LookEstimates& looks = s.materials.model.looks;
    switch (p.effect) {
    case Effect::tint:
    case Effect::colour:
    case Effect::dark:
        return of_film(s, p);
    case Effect::none:
        return of_bare(s, s.materials.model.finishes.at(s.stock.finish).haze, 3, "as it was");
    case Effect::polishes:
        return of_bare(s, 0.12, 4, "bright");
    case Effect::cleans:
        return of_bare(s, s.materials.model.finishes.at(s.stock.finish).haze, 4, "clean, faint");
    case Effect::darkens:
        if (p.lightness)
            return estimate({p.lightness->l, 0, 0, p.lightness->spread, "many short pulses in the film, an estimate"},
                            0.9, "dark in the film");
        break;
    case Effect::frosts:
        return of_bare(s, 0.9, 6, "pale, frosted");
    case Effect::removes:
        if (p.removal && p.removal->dark_floor > 0.5)
            return estimate(looks.dark_floor, 0.95, "dark, powdery floor");
        return of_bare(s, 0.9, 8, "pale floor");
    case Effect::melts:
        return of_bare(s, 0.5, 10, "remelted");
    case Effect::coat_kept:
        return unmarked(s);
    case Effect::bleaches:
        return estimate(looks.bleached, 0.9, "grey-white in the film");
    case Effect::partly_strips:
    case Effect::strips:
        return of_bare(s, s.materials.model.finishes.at(s.stock.finish).haze, 5, "bare metal in the coat");
    case Effect::strips_and_marks:
        return of_bare(s, 0.8, 12, "bare metal, marked");
    case Effect::bonds:
        if (const CompoundConstants* c = s.materials.compounds.compound(recipe.compound))
            return {true,
                    {c->usual_l, 0, 0},
                    c->l_spread,
                    0.95,
                    c->usual_l < 26 ? "black" : "dark grey",
                    c->origins.at("usual_l_star").source};
        break;
    case Effect::no_bond:
    case Effect::under_fused:
    case Effect::over_burns:
    case Effect::blown_off:
    case Effect::through:
    case Effect::not_modelled:
        break;
    }
    return {false, {}, 0, 0.5, std::string(word(p.effect)), "no model gives a look for this"};
}

} // namespace

double contrast_at(const Scene& s, const Prediction& p, const Appearance& mark, double tilt_deg) {
    if (!mark.known)
        return 0;
    const bool coated = s.stock.coating == Coating::powder_coat || s.stock.coating == Coating::paint ||
                        s.stock.coating == Coating::anodised || s.stock.coating == Coating::anodised_natural;
    const double around = coated || s.metal.film == nullptr
                              ? unmarked(s).lab.l
                              : native_room_l(s, s.materials.model.finishes.at(s.stock.finish).haze, tilt_deg);
    if (p.film_seen()) {
        const FilmOptics& film = *s.metal.film;
        const double x = p.mark.oxide.thickness_m;
        const double seen = room_look(film, x, p.mark.look.haze, tilt_deg, s.materials.model.room_light,
                                      s.materials.model.room_lamp_deg, film.hemispherical(x))
                                .lab.l;
        return around - seen;
    }
    const bool metallic = p.effect == Effect::polishes || p.effect == Effect::cleans || p.effect == Effect::frosts ||
                          p.effect == Effect::strips || p.effect == Effect::partly_strips ||
                          p.effect == Effect::strips_and_marks ||
                          (p.effect == Effect::removes && p.removal && p.removal->dark_floor <= 0.5);
    const double seen = metallic && s.metal.film != nullptr ? native_room_l(s, mark.haze, tilt_deg) : mark.lab.l;
    return around - seen;
}

} // namespace finch
