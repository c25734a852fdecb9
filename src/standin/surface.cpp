// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/surface.h"

#include "standin/chance.h"
#include "standin/cut.h"
#include "standin/scale.h"

#include <algorithm>
#include <cmath>

namespace finch::standin {
namespace {

struct FinishTraits {
    double absorbs, haze;
};
FinishTraits traits_of(Finish finish) {
    switch (finish) {
    case Finish::mirror:
        return {0.82, 0.04};
    case Finish::mill:
        return {1.0, 0.33};
    case Finish::brushed:
        return {1.06, 0.48};
    case Finish::blasted:
        return {1.2, 0.78};
    }
    return {1, 0.3};
}

/// Oxygen reaches the metal only where nothing lies over it.
double growth_under(Coating coating) {
    switch (coating) {
    case Coating::nickel:
        return 0.015;
    case Coating::clear:
    case Coating::powder_coat:
    case Coating::paint:
    case Coating::anodised:
    case Coating::anodised_natural:
        return 0.001;
    case Coating::polish_residue:
        return 0.55;
    case Coating::none:
    case Coating::unknown:
        break;
    }
    return 1;
}

double s_curve(double ratio, double steepness) {
    return 1 / (1 + std::pow(std::max(ratio, 1e-9), -steepness));
}

Expected<const OwnMetal*> metal_of(const Nature& nature, const Stock& stock) {
    const auto it = nature.metals.find(stock.metal);
    if (it == nature.metals.end())
        return failure("standin.unknown_metal", "The simulated bench knows nothing of " + stock.metal + ".",
                       "Put one of its metals on the bench.");
    return &it->second;
}

/// What the bench's own controller accepts. A width counts only where the source can change it.
Expected<void> settable(const Source& source, const Setting& s) {
    const double width = source.kind == SourceKind::variable_pulse_width ? in_nanoseconds(s.pulse_width) : 1;
    struct Row {
        const char* what;
        double value, low, high;
    };
    for (const Row& r : {Row{"power_percent", s.power_percent, 1e-3, 100},
                         {"frequency_khz", in_kilohertz(s.frequency), 0.1, 5000},
                         {"pulse_width_ns", width, 0.1, 1000},
                         {"scan_speed_mm_s", in_mm_per_second(s.scan_speed), 0.1, 20000},
                         {"hatch_pitch_mm", in_mm(s.hatch_pitch), 5e-4, 5},
                         {"passes", static_cast<double>(s.passes), 1, 10000},
                         {"focus_offset_mm", in_mm(s.focus_offset), -60, 60}})
        if (!(r.value >= r.low && r.value <= r.high))
            return failure("standin.out_of_range", std::string("The bench does not take this ") + r.what + ".",
                           "Set it within what the bench can do.", {{}, 0, r.what});
    return {};
}

Surface bare(const World& w, const OwnMetal& m, Finish finish) {
    Surface s;
    s.film_nm = m.oxide ? 3 : 0;
    s.scatters = std::clamp(traits_of(finish).haze + w.haze, 0.0, 1.0);
    s.tilted = [w, m, nm = s.film_nm, haze = s.scatters](double deg) { return film_reflectance(w, m, nm, haze, deg); };
    s.reflects = film_reflectance(w, m, s.film_nm, s.scatters);
    return s;
}

Surface on_metal(const World& w, const OwnMetal& m, const Setup& setup, const Recipe& recipe, const Strike& hit,
                 double patch) {
    const FinishTraits finish = traits_of(setup.stock.finish);
    World here = w;
    here.growth *= growth_under(setup.stock.coating);
    const double thick = in_metres(setup.stock.thickness);
    const Heated h = heated(here, m, finish.absorbs * patch, thick, hit);
    const Cut c = cut(w, m, finish.absorbs * patch, hit, recipe.deep, in_mm(recipe.deep.narrowest));
    Surface s;
    s.film_nm = h.film_nm;
    const double torn_by_cut = s_curve(c.first_um / (0.06 + 3.8e-3 * h.film_nm / hit.passes), 3);
    const double gone = std::clamp(std::max(h.torn, torn_by_cut), 0.0, 1.0);
    s.whole = gone < 0.4 && h.molten < 0.4;
    s.depth_um = std::min(1000 * in_mm(setup.stock.thickness), std::max(h.evaporated_um, c.depth_um) * gone);
    const double base_haze = std::clamp(finish.haze + w.haze, 0.0, 1.0);
    const double rough = 0.8 * (1 - std::exp(-std::pow(h.crowd / 2400, 1.5))) * (1 - std::exp(-h.film_nm / 12));
    const double haze = base_haze + (1 - base_haze) * rough, spoiled = std::max(gone, h.molten);
    s.scatters = haze + (0.9 - haze) * spoiled;
    const Reflectance frosted =
        mixed(scaled(film_reflectance(w, m, 4, 0.9), 0.8), plain_reflectance({0.10, 0.105, 0.11}), c.dark);
    const auto seen = [w, m, nm = h.film_nm, haze, frosted, gone, molten = h.molten](double deg) {
        return mixed(mixed(film_reflectance(w, m, nm, haze, deg), frosted, gone),
                     molten_reflectance(std::min(1.0, nm / 400)), molten * (1 - gone));
    };
    s.reflects = seen(0);
    s.tilted = seen;
    const double ripple = 2 * std::exp(-std::pow(3.1 * hit.across_m / (2 * hit.pitch_m), 2));
    s.texture = 0.006 + 0.05 * spoiled + 0.1 * std::min(1.0, ripple);
    return s;
}

/// A coat under pulses or a steady beam: taken away by volume, or bleached.
Surface on_coat(const World& w, const OwnMetal& m, const OwnCoat& coat, const Setup& setup, const Strike& hit) {
    const double um =
        setup.stock.coating_thickness > mm(0) ? in_micrometres(setup.stock.coating_thickness) : coat.usual_um;
    const double dose = 1e-6 * hit.dose_j_m2();
    const double volume = hit.pulsed ? coat.pulse_j_mm3 : coat.gas_j_mm3;
    const double off = volume > 0 ? s_curve(dose / (w.coat * volume * um * 1e-3), 3) : 0;
    const double bleached = coat.bleach_j_mm2 > 0 ? s_curve(dose / (w.coat * coat.bleach_j_mm2), 2.5) : 0;
    const double seared = hit.pulsed ? s_curve(dose / (6 * w.coat * std::max(volume, 2.0) * um * 1e-3), 3) : 0;
    Surface s;
    const Reflectance pale = plain_reflectance({0.5, 0.51, 0.5});
    s.reflects = mixed(plain_reflectance(coat.look), pale, bleached);
    s.reflects = mixed(s.reflects, bare(w, m, setup.stock.finish).reflects, off);
    s.reflects = mixed(s.reflects, molten_reflectance(0.4), seared);
    s.scatters = 0.8;
    s.texture = 0.012 + 0.05 * seared + 0.03 * off * (1 - off);
    s.whole = seared < 0.4;
    return s;
}

Surface fused(const World& w, const OwnMetal& m, const OwnCompound& compound, const Setup& setup, const Strike& hit) {
    // The layer is as hot as the metal's skin gets while the spot passes.
    const Ground g = ground(w, m, 1.0, in_metres(setup.stock.thickness), 600);
    const double radius = hit.heat_radius_m(), dwell = 2 * radius / hit.speed_m_s;
    const double absorbed = (hit.pulsed ? 0.72 : 0.85) * hit.power_w;
    const double spread = std::sqrt(4 * g.bulk_diffusivity * dwell);
    const double rise = absorbed / (3.1416 * g.conductivity * radius) * std::atan(spread / radius);
    const double reached_c = hit.start_k - 273 + w.coat * rise;
    const double bonds = s_curve(reached_c / compound.fuse_c, 12), burns = s_curve(reached_c / compound.burn_c, 12);
    Surface s;
    const double black = compound.reflects;
    s.reflects = mixed(bare(w, m, setup.stock.finish).reflects, plain_reflectance({black, black, black}), bonds);
    s.reflects = mixed(s.reflects, plain_reflectance({0.07, 0.09, 0.13}), burns);
    s.scatters = 0.9;
    s.texture = 0.02;
    s.whole = burns < 0.5;
    return s;
}

} // namespace

Surface untouched(const World& w, const Nature& nature, const Stock& stock) {
    Surface s;
    const auto coat = nature.coats.find(stock.coating);
    const auto metal = nature.metals.find(stock.metal);
    if (coat != nature.coats.end())
        s.reflects = plain_reflectance(coat->second.look), s.scatters = 0.8;
    else if (metal != nature.metals.end())
        s = bare(w, metal->second, stock.finish);
    else
        s.reflects = plain_reflectance({0.05, 0.05, 0.05});
    return s;
}

Expected<Surface> marked(const World& w, const Nature& nature, const Setup& setup, const Recipe& recipe,
                         const RectMm& area, const Moment& moment) {
    const auto metal = metal_of(nature, setup.stock);
    if (!metal)
        return tl::unexpected(metal.error());
    if (const auto fine = settable(setup.bench.source, recipe.setting); !fine)
        return tl::unexpected(fine.error());
    const Strike hit = strike(w, setup, recipe, area, moment);
    Surface s;
    if (recipe.process == Process::compound) {
        const auto compound = nature.compounds.find(recipe.compound);
        if (compound == nature.compounds.end())
            return failure("standin.unknown_compound", "The simulated bench has no such compound.",
                           "Choose one of the compounds of the list.");
        s = fused(w, **metal, compound->second, setup, hit);
    } else if (const auto coat = nature.coats.find(setup.stock.coating); coat != nature.coats.end())
        s = on_coat(w, **metal, coat->second, setup, hit);
    else if (!hit.pulsed)
        return failure("standin.cannot", "A beam without pulses does nothing to bare metal on this bench.",
                       "Lay a compound on it, or take a pulsed source.");
    else {
        const double patch = 1 + w.patches * 2 * smooth_random(w.seed + 41, moment.x_mm / 8, moment.y_mm / 8);
        s = on_metal(w, **metal, setup, recipe, hit, patch);
    }
    s.spot_mm = 1e3 * (hit.along_m + hit.across_m);
    return s;
}

} // namespace finch::standin
