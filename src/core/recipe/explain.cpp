// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "recipe/explain.h"

#include "quantity/format.h"

#include <cmath>
#include <fmt/format.h>

namespace finch {
namespace {

/// Of a coat or a compound: the sheets that searched its threshold, not those that were read for films.
std::string outcome_rests_on(const Evidence& e, const Recipe& recipe) {
    const ProvenBy proof = traits(recipe.process).proven_by;
    if (proof != ProvenBy::thresholds && proof != ProvenBy::power_ladders)
        return rests_on_words(e);
    const int sheets = proof == ProvenBy::thresholds ? e.coat_sheets : e.ladders_under(recipe.compound);
    return sheets == 0 ? "physics alone, no threshold sheet of it"
                       : fmt::format("physics and {} threshold sheet{}", sheets, sheets == 1 ? "" : "s");
}

std::string put_in(double v, int digits = 3) {
    return format_number(v, digits);
}

std::string origin(const std::map<std::string, ConstantOrigin>& origins, const char* key) {
    const auto it = origins.find(key);
    return it != origins.end() ? fmt::format("{} (\u00b1 {})", it->second.source, it->second.uncertainty)
                               : std::string();
}

/// All that an explanation may draw on.
struct Context {
    const Prediction& p;
    const Metal& metal;
    const ProcessModel& model;
    const Bench& bench;
    const Stock& stock;
    const Recipe& recipe;
    const Fill& fill;
};

Explanation beam_and_pulse(Quantity q, const Context& c) {
    const AnnealResult& m = c.p.mark;
    const Setting& s = c.recipe.setting;
    const Lens& lens = c.bench.lens();
    switch (q) {
    case Quantity::spot:
        return {"Spot diameter", put_in(m.pattern.spot_m * 1e6) + " um",
                "4 M2 wavelength F / (pi D), widened by the focus offset over the Rayleigh length",
                fmt::format("M2 {}, F {} mm, D {} mm, offset {} mm, Rayleigh length {} mm",
                            put_in(effective_m2(lens, c.bench.source.wavelength)), put_in(in_mm(lens.focal_length)),
                            put_in(in_mm(lens.beam_at_lens)), put_in(in_mm(s.focus_offset)),
                            put_in(m.pattern.rayleigh_m * 1e3)),
                lens.measured_spot ? "the measured spot of this lens"
                                   : "Gaussian beam optics and the lens data; the spot was not measured"};
    case Quantity::pulse_energy:
        return {"Pulse energy", put_in(m.pulse.pulse_energy_j * 1e3) + " mJ", "power / pulse frequency",
                fmt::format("{} W / {} kHz", put_in(m.pulse.average_power_w), put_in(in_kilohertz(s.frequency))),
                "the rated power; a power meter would settle it"};
    case Quantity::peak_power:
        return {"Peak power", put_in(m.pulse.peak_power_w / 1e3) + " kW", "pulse energy / pulse width",
                fmt::format("{} mJ / {} ns", put_in(m.pulse.pulse_energy_j * 1e3), put_in(m.pulse.pulse_width_s * 1e9)),
                "a flat pulse for a variable source, a rounded one for a fixed source"};
    case Quantity::peak_fluence:
        return {"Peak fluence", put_in(m.pattern.peak_fluence_j_m2 / 1e4) + " J/cm2", "2 pulse energy / (pi radius2)",
                fmt::format("2 x {} mJ / (pi x ({} um)2)", put_in(m.pulse.pulse_energy_j * 1e3),
                            put_in(m.pattern.spot_radius_m * 1e6)),
                "a Gaussian beam"};
    case Quantity::pulses_per_area:
        return {"Pulses per mm2", put_in(m.pattern.pulses_per_m2 / 1e6),
                "frequency / (scan speed x hatch pitch) x passes",
                fmt::format("{} kHz / ({} mm/s x {} mm) x {}", put_in(in_kilohertz(s.frequency)),
                            put_in(in_mm_per_second(s.scan_speed), 4), put_in(in_mm(s.hatch_pitch)),
                            burned_setting(c.recipe).passes),
                "arithmetic"};
    case Quantity::areal_dose:
        return {"Areal dose", put_in(m.pattern.areal_dose_j_m2 / 1e6) + " J/mm2",
                "power / (scan speed x hatch pitch) x passes",
                fmt::format("{} W / ({} mm/s x {} mm) x {}", put_in(m.pulse.average_power_w),
                            put_in(in_mm_per_second(s.scan_speed), 4), put_in(in_mm(s.hatch_pitch)),
                            burned_setting(c.recipe).passes),
                "arithmetic, on the rated power"};
    default:
        return {"Overlap",
                fmt::format("{} % along, {} % across", put_in(100 * m.pattern.pulse_overlap),
                            put_in(100 * m.pattern.line_overlap)),
                "1 - pitch / spot",
                fmt::format("pulses {} um, lines {} um apart on a spot of {} um", put_in(m.pattern.pulse_pitch_m * 1e6),
                            put_in(in_micrometres(s.hatch_pitch)), put_in(m.pattern.spot_m * 1e6)),
                "arithmetic"};
    }
}

Explanation film_and_look(Quantity q, const Context& c) {
    const AnnealResult& m = c.p.mark;
    if (q == Quantity::oxide)
        return {"Oxide film",
                fmt::format("{} nm \u00b1 {} %", put_in(c.p.oxide_nm(), 2),
                            put_in(100 * (std::exp(c.p.film_spread_ln) - 1), 2)),
                "square root of native film2 + growth constant x hot time",
                fmt::format("hot time {} us at melting point, peak {} K, {} K between pulses, growth factor {}",
                            put_in(m.oxide.hot_s * 1e6), put_in(m.heat.peak, 4), put_in(m.heat.between, 4),
                            put_in(c.p.evidence.growth_gain)),
                rests_on_words(c.p.evidence) +
                    "; growth constant: " + origin(c.metal.origins, "growth_prefactor_m2_s")};
    if (q == Quantity::haze)
        return {"Haze", put_in(m.look.haze, 2), "finish, roughened by many pulses per spot and by removal",
                fmt::format("{} pulses per spot", put_in(m.pattern.pulses_per_spot)),
                origin(c.model.origins, "haze_pulses_per_spot")};
    const Lab& lab = c.p.lab();
    return {"Colour",
            m.look.valid ? fmt::format("L* {} a* {} b* {}", put_in(lab.l, 3), put_in(lab.a, 2), put_in(lab.b, 2))
                         : std::string("none"),
            "light that an oxide film on the metal reflects, seen by the standard observer",
            fmt::format("film {} nm, haze {}", put_in(c.p.oxide_nm(), 2), put_in(m.look.haze, 2)),
            rests_on_words(c.p.evidence) + "; optical constants are estimates, run a test card"};
}

Explanation outcome_shares(const Context& c) {
    const Prediction& p = c.p;
    if (p.effect == Effect::not_modelled)
        return {"Outcome", "not modelled", "", std::string(p.reason), ""};
    std::string put = fmt::format("film or threshold within a factor of {} either way", put_in(std::exp(p.band_ln), 3));
    if (p.removal)
        put =
            fmt::format("film {} nm, melt index {}, craters {} times their threshold, {} % of the old surface carried "
                        "away",
                        put_in(p.oxide_nm(), 2), put_in(p.melt_index, 2), put_in(p.removal->pass.over_single, 2),
                        put_in(100 * p.share_away, 2));
    return {"Outcome", told_words(p.shares),
            "share of workpieces, benches and lots, within what is uncertain, that show each effect", put,
            outcome_rests_on(p.evidence, c.recipe) + "; borders are estimates, each with its spread in the data"};
}

Explanation part(Quantity q, const Context& c) {
    const AnnealResult& m = c.p.mark;
    switch (q) {
    case Quantity::time:
        return {"Time", format_duration(m.pattern.time_s), "lines x (line length / scan speed + turn-round) x passes",
                fmt::format("{} lines of {} mm, turn-round {} ms", m.pattern.lines, put_in(m.pattern.line_m * 1e3),
                            put_in(c.model.turn_s * 1e3)),
                origin(c.model.origins, "turn_ms")};
    case Quantity::removed:
        if (!c.p.removal)
            return {"Metal removed", "-", "craters of all pulses, less what freezes in place", "",
                    std::string(c.p.reason)};
        return {
            "Metal removed",
            fmt::format("{} um ({} to {})", put_in(c.p.depth_um(), c.p.removal->told_digits()),
                        put_in(c.p.removal->told_least_um(), c.p.removal->told_digits()),
                        put_in(c.p.removal->told_most_um(), c.p.removal->told_digits())),
            "share in which metal goes x depth of all craters, less recast, debris, walls and focus left behind",
            fmt::format("{} % of the outcomes lose metal, {} um if they do; {} um in the first pass; shielded fluence "
                        "{} times the single-pulse threshold",
                        put_in(100 * c.p.share_away, 2), put_in(c.p.removal->depth_if_um, 2),
                        put_in(c.p.removal->first_um, 2), put_in(c.p.removal->pass.over_single, 2)),
            fmt::format("{}; a factor of {} either way: {}",
                        c.p.evidence.depth_coupons > 0
                            ? fmt::format("physics and {} depth coupons", c.p.evidence.depth_coupons)
                            : std::string("physics alone, no depth coupon"),
                        put_in(std::exp(c.p.removal->spread_ln), 3), origin(c.metal.origins, "penetration_um"))};
    case Quantity::part_rise:
        return {"Part warms by", put_in(m.heat.lines_rise + m.heat.passes_rise, 2) + " K",
                "heat left by all earlier lines and passes in a plate of this thickness",
                fmt::format("{} K by lines, {} K by passes, {} mm plate", put_in(m.heat.lines_rise),
                            put_in(m.heat.passes_rise), put_in(in_mm(c.stock.thickness))),
                "conduction in a plate, \u00b1 20 %"};
    case Quantity::warp:
        return {"Warp index", put_in(m.plate.warp, 2), "warming / buckling limit + bow / 0.1 mm",
                fmt::format("{} mm plate, fill {} mm2", put_in(in_mm(c.stock.thickness)), put_in(c.fill.area_mm2)),
                "plate theory, within a factor 2: below 0.3 safe, above 1 expect movement"};
    case Quantity::burn:
        return {"Burn-through index", put_in(c.p.burn_index, 2),
                "upper end of the depth / three quarters of the stock + heat in what is left",
                fmt::format("{} mm plate", put_in(in_mm(c.stock.thickness))),
                "within a factor 2: below 0.5 low, above 1 likely"};
    default:
        return {"Margin to melting", fmt::format("{} %", put_in(100 * (1 - c.p.melt_index), 2)),
                "1 - rise between pulses / rise to the end of melting",
                fmt::format("{} K between pulses, melting at {} K", put_in(m.heat.between, 4),
                            put_in(c.metal.melting_k, 4)),
                origin(c.metal.origins, "absorptance")};
    }
}

} // namespace

std::string rests_on_words(const Evidence& e) {
    if (e.sheets == 0)
        return "physics alone, no reading on this lot";
    return fmt::format("physics and {} {}, {} cells on this lot", e.sheets, e.sheets == 1 ? "sheet" : "sheets",
                       e.cells);
}

Explanation explain(Quantity q, const Scene& scene, const Recipe& recipe, const Fill& fill,
                    const Prediction& prediction) {
    const Context c{prediction, scene.metal, scene.materials.model, scene.bench, scene.stock, recipe, fill};
    switch (q) {
    case Quantity::outcome:
        return outcome_shares(c);
    case Quantity::spot:
    case Quantity::pulse_energy:
    case Quantity::peak_power:
    case Quantity::peak_fluence:
    case Quantity::pulses_per_area:
    case Quantity::areal_dose:
    case Quantity::overlap:
        return beam_and_pulse(q, c);
    case Quantity::oxide:
    case Quantity::colour:
    case Quantity::haze:
        return film_and_look(q, c);
    case Quantity::time:
    case Quantity::removed:
    case Quantity::part_rise:
    case Quantity::warp:
    case Quantity::burn:
    case Quantity::melt_margin:
        return part(q, c);
    }
    return {};
}

} // namespace finch
