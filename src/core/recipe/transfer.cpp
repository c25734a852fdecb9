// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "recipe/transfer.h"

#include "physics/shares.h"

#include "bench/positive.h"
#include "recipe/boxed_least_squares.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace finch {
namespace {

constexpr double level_weight = 20;
constexpr double tie_weight = 1e-10;
constexpr std::array variables{"power", "speed", "freq", "spot", "pitch"};

/// Exponents of (power, speed, frequency, spot, pitch), of passes and of the pulse width.
struct Exponents {
    std::array<double, 5> row;
    double passes, pulse;
};

constexpr std::array<Exponents, invariant_count> exponents{{
    {{1, -1, 0, 0, -1}, 1, 0},    // areal dose
    {{0, -1, 1, 0, -1}, 1, 0},    // pulses per mm2
    {{1, 0, -1, -2, 0}, 0, 0},    // fluence
    {{1, 0, 0, -1, 0}, 0, 0},     // heat per spot
    {{0, 0, 0, 1, 0}, 0, 0},      // spot
    {{0, 1, -1, -1, 0}, 0, 0},    // pulse step
    {{0, 0, 0, -1, 1}, 0, 0},     // hatch step
    {{1, 0, -1, -2, 0}, 0, -0.5}, // fluence margin
    {{1, 0, -1, -2, 0}, 0, -1},   // peak irradiance
    {{1, -1, 0, 0, 0}, 0, 0},     // line energy
    {{0, 0, 0, 0, 0}, 1, 0},      // passes
    {{0, 0, 0, 0, 0}, 0, 1},      // pulse
}};

std::array<double, 5> values(const MachineSettings& s) {
    return {s.power_w, s.speed_mm_s, s.frequency_khz, s.spot_mm, s.pitch_mm};
}

struct Box {
    LogSettings low{}, high{};
};

Expected<Box> box_of(const MachineLimits& l, const FixedSettings& fixed) {
    const std::array spans{l.power_w, l.speed_mm_s, l.frequency_khz, l.spot_mm, l.pitch_mm};
    Box box;
    for (std::size_t i = 0; i < 5; ++i) {
        if (!(spans[i].first > 0 && spans[i].second >= spans[i].first))
            return failure("transfer.limits", "A limit of the other bench is below its start.", "Correct that bench.",
                           {{}, 0, variables.at(i)});
        box.low[i] = std::log(static_cast<long double>(spans[i].first));
        box.high[i] = std::log(static_cast<long double>(spans[i].second));
    }
    for (const auto& [name, value] : fixed)
        for (std::size_t i = 0; i < 5; ++i)
            if (name == variables.at(i))
                box.low[i] = box.high[i] = std::log(static_cast<long double>(value));
    return box;
}

struct Attempt {
    LogSettings x{};
    double pulse_ns = 0;
    int passes = 1;
};

/// The cheapest of all pulse widths and pass counts.
std::optional<Attempt> best_attempt(const MachineSettings& old, TransferFamily family, const MachineLimits& limits,
                                    const Box& box, const std::optional<UpperBound>& cap) {
    const auto start = values(old);
    std::array<double, 5> x0{};
    std::transform(start.begin(), start.end(), x0.begin(), [](double v) { return std::log(v); });
    std::optional<Attempt> best;
    long double least = 0;
    for (const double tau : limits.pulses_ns)
        for (int passes = 1; passes <= limits.most_passes; ++passes) {
            std::vector<WishRow> rows;
            long double unavoidable = 0;
            double weight = 1;
            for (const Invariant name : priorities(family)) {
                const Exponents& e = exponents.at(static_cast<std::size_t>(name));
                double target = e.passes * std::log(static_cast<double>(old.passes) / passes) +
                                e.pulse * std::log(old.pulse_ns / tau);
                for (std::size_t i = 0; i < 5; ++i)
                    target += e.row[i] * x0[i];
                if (std::any_of(e.row.begin(), e.row.end(), [](double q) { return q != 0; }))
                    rows.push_back({e.row, target, weight});
                else
                    unavoidable += static_cast<long double>(weight) * weight * target * target;
                weight /= level_weight;
            }
            for (std::size_t i = 0; i < 5; ++i) {
                WishRow stay{{}, x0[i], tie_weight};
                stay.row[i] = 1;
                rows.push_back(stay);
            }
            const auto x = boxed_least_squares(rows, box.low, box.high, cap);
            if (!x)
                return std::nullopt;
            const long double cost = miss(rows, *x) + unavoidable;
            if (!best || cost < least - 1e-19L) {
                best = Attempt{*x, tau, passes};
                least = cost;
            }
        }
    return best;
}

std::string effect_text(TransferFamily family, Invariant invariant, bool more);

} // namespace

std::string_view key(Invariant i) {
    static constexpr std::array<std::string_view, invariant_count> keys{
        "areal_dose", "pulses_per_mm2", "fluence",         "temperature_P_d", "spot",   "pulse_step",
        "hatch_step", "fluence_margin", "peak_irradiance", "line_energy",     "passes", "pulse"};
    return keys.at(static_cast<std::size_t>(i));
}

std::string_view word(Invariant i) {
    static constexpr std::array<std::string_view, invariant_count> words{"areal dose",
                                                                         "pulses per mm²",
                                                                         "peak fluence",
                                                                         "power per spot",
                                                                         "spot",
                                                                         "pulse pitch over spot",
                                                                         "hatch pitch over spot",
                                                                         "fluence over threshold",
                                                                         "peak irradiance",
                                                                         "line energy",
                                                                         "passes",
                                                                         "pulse width"};
    return words.at(static_cast<std::size_t>(i));
}

std::string_view word(TransferVerdict v) {
    switch (v) {
    case TransferVerdict::equivalent:
        return "equivalent";
    case TransferVerdict::close:
        return "close";
    case TransferVerdict::new_proof_needed:
        return "new proof sheet needed";
    }
    return "";
}

const std::vector<Invariant>& priorities(TransferFamily family) {
    using I = Invariant;
    static const std::array<std::vector<Invariant>, 5> table{{
        {I::areal_dose, I::heat_per_spot, I::spot, I::hatch_step, I::pulses_per_mm2, I::passes, I::pulse},
        {I::pulses_per_mm2, I::areal_dose, I::fluence, I::pulse, I::hatch_step, I::spot, I::passes},
        {I::fluence, I::pulse_step, I::hatch_step, I::areal_dose, I::pulse, I::spot, I::passes},
        {I::fluence_margin, I::pulse_step, I::hatch_step, I::areal_dose, I::passes, I::pulse, I::spot},
        {I::heat_per_spot, I::areal_dose, I::hatch_step, I::spot, I::passes, I::pulses_per_mm2, I::pulse},
    }};
    return table.at(static_cast<std::size_t>(family));
}

Expected<std::array<double, invariant_count>> invariants(const MachineSettings& s) {
    if (auto fault = not_positive({{"power", s.power_w},
                                   {"scan speed", s.speed_mm_s},
                                   {"pulse frequency", s.frequency_khz},
                                   {"spot", s.spot_mm},
                                   {"hatch pitch", s.pitch_mm},
                                   {"pulse width", s.pulse_ns},
                                   {"number of passes", static_cast<double>(s.passes)}}))
        return tl::unexpected(*fault);
    const double energy_j = s.power_w / (s.frequency_khz * 1e3);
    const double fluence = 8 * energy_j / (std::numbers::pi * s.spot_mm * s.spot_mm);
    return std::array<double, invariant_count>{s.power_w * s.passes / (s.speed_mm_s * s.pitch_mm),
                                               s.frequency_khz * 1e3 * s.passes / (s.speed_mm_s * s.pitch_mm),
                                               fluence,
                                               s.power_w / s.spot_mm,
                                               s.spot_mm,
                                               s.speed_mm_s / (s.frequency_khz * 1e3 * s.spot_mm),
                                               s.pitch_mm / s.spot_mm,
                                               fluence / std::sqrt(s.pulse_ns),
                                               fluence / s.pulse_ns,
                                               s.power_w / s.speed_mm_s,
                                               static_cast<double>(s.passes),
                                               s.pulse_ns};
}

Expected<TransferResult> transfer(const MachineSettings& old, TransferFamily family, const MachineLimits& limits,
                                  double keep, const FixedSettings& fixed) {
    const auto before = invariants(old);
    if (!before)
        return tl::unexpected(before.error());
    const auto box = box_of(limits, fixed);
    if (!box)
        return tl::unexpected(box.error());
    std::optional<UpperBound> cap;
    if (std::isfinite(limits.largest_pulse_mj))
        cap = UpperBound{{1, 0, -1, 0, 0}, std::log(limits.largest_pulse_mj)};
    const auto best = best_attempt(old, family, limits, *box, cap);
    if (!best)
        return failure("transfer.infeasible", "The limits of the other bench contradict each other.",
                       "Check its power, frequency and largest pulse.");
    const auto at = [&](std::size_t i) { return static_cast<double>(std::exp(best->x[i])); };
    TransferResult out;
    out.settings = {at(0), at(1), at(2), at(3), at(4), best->pulse_ns, best->passes, limits.wavelength_nm};
    const auto after = invariants(out.settings).value();
    bool lost = false, badly = false;
    int priority = 0;
    for (const Invariant name : priorities(family)) {
        const auto i = static_cast<std::size_t>(name);
        Kept k{name, ++priority, after.at(i) / before->at(i), true, {}};
        k.kept = std::abs(std::log(k.ratio)) <= std::log1p(keep) + 1e-12;
        if (!k.kept) {
            k.effect = effect_text(family, name, k.ratio > 1);
            lost = true;
            badly = badly || priority <= 2 || (priority <= 4 && std::abs(std::log(k.ratio)) > std::log(1.2));
        }
        out.report.push_back(std::move(k));
    }
    for (std::size_t i = 0; i < 5; ++i) {
        const bool low = best->x[i] - box->low[i] < 1e-7L, high = box->high[i] - best->x[i] < 1e-7L;
        if ((low || high) && box->high[i] > box->low[i])
            out.clamped.push_back(std::string(variables.at(i)) + (low ? "_min" : "_max"));
    }
    if (cap && cap->most - (best->x[0] - best->x[2]) < 1e-7L)
        out.clamped.emplace_back("pulse_energy_max");
    out.wavelength_differs = std::abs(old.wavelength_nm - limits.wavelength_nm) >= 1;
    out.verdict = badly || out.wavelength_differs ? TransferVerdict::new_proof_needed
                  : lost                          ? TransferVerdict::close
                                                  : TransferVerdict::equivalent;
    return out;
}

namespace {

double held_in(double v, const MachineLimits::Span& span) {
    return std::min(std::max(v, span.first), span.second);
}

} // namespace

Expected<MachineSettings> transfer_anneal_closed(const MachineSettings& old, const MachineLimits& l) {
    const auto i = invariants(old);
    if (!i)
        return tl::unexpected(i.error());
    MachineSettings s = old;
    s.wavelength_nm = 1064;
    s.spot_mm = held_in(old.spot_mm, l.spot_mm);
    s.pitch_mm = held_in(old.pitch_mm * s.spot_mm / old.spot_mm, l.pitch_mm);
    s.power_w = held_in(old.power_w * s.spot_mm / old.spot_mm, l.power_w);
    s.speed_mm_s = held_in(s.power_w * old.passes / ((*i)[0] * s.pitch_mm), l.speed_mm_s);
    s.frequency_khz = held_in((*i)[1] * s.speed_mm_s * s.pitch_mm / old.passes / 1e3, l.frequency_khz);
    return s;
}

Expected<MachineSettings> transfer_colour_closed(const MachineSettings& old, const MachineLimits& l) {
    const auto i = invariants(old);
    if (!i)
        return tl::unexpected(i.error());
    const double energy_mj = old.power_w / old.frequency_khz;
    MachineSettings s = old;
    s.wavelength_nm = 1064;
    s.spot_mm = held_in(old.spot_mm, l.spot_mm);
    s.pitch_mm = held_in(old.pitch_mm * s.spot_mm / old.spot_mm, l.pitch_mm);
    s.frequency_khz = held_in(old.frequency_khz, l.frequency_khz);
    s.power_w = held_in(energy_mj * s.frequency_khz, l.power_w);
    s.frequency_khz = held_in(s.power_w / energy_mj, l.frequency_khz);
    s.speed_mm_s = held_in(s.frequency_khz * 1e3 * old.passes / ((*i)[1] * s.pitch_mm), l.speed_mm_s);
    return s;
}

namespace {

struct Shown {
    double typed = 0, realised = 0;
};

Expected<Shown> show(double value, const std::optional<double>& maximum, double step, const PercentTable& table = {}) {
    if (maximum || !table.empty()) {
        const auto percent = to_percent(value, maximum.value_or(0), table, step);
        if (!percent)
            return tl::unexpected(percent.error());
        const auto back = from_percent(percent->percent, maximum.value_or(0), table);
        return back ? Expected<Shown>(Shown{percent->percent, *back}) : tl::unexpected(back.error());
    }
    const double typed = step > 0 ? std::max(step, std::floor(value / step + 0.5) * step) : value;
    return Shown{typed, typed};
}

Expected<double> typed_pitch(double pitch_mm, const MachineDialog& d) {
    if (d.pitch_list.empty()) {
        const auto entry = convert(pitch_mm, "mm", d.pitch_unit);
        if (!entry)
            return entry;
        return std::max(d.pitch_step, std::floor(*entry / d.pitch_step + 0.5) * d.pitch_step);
    }
    double best = d.pitch_list.front(), least = 1e300;
    for (const double entry : d.pitch_list) {
        const auto in_mm = convert(entry, d.pitch_unit, "mm");
        if (!in_mm)
            return in_mm;
        if (const double off = std::abs(std::log(*in_mm / pitch_mm)); off < least) {
            least = off;
            best = entry;
        }
    }
    return best;
}

std::string effect_text(TransferFamily family, Invariant invariant, bool more) {
    using F = TransferFamily;
    using I = Invariant;
    struct Row {
        F family;
        I invariant;
        const char* more;
        const char* less;
    };
    static const std::array rows{
        Row{F::anneal, I::areal_dose,
            "darker, warmer part; may go past black to a grey, rougher scale and lose corrosion resistance",
            "paler, brownish mark; oxide too thin"},
        Row{F::anneal, I::heat_per_spot, "surface may melt: shine, relief, loss of the flat anneal look",
            "oxide hardly grows however long the dose; pale"},
        Row{F::anneal, I::spot, "softer edges, small text fills in", "melting at the same power; visible lines"},
        Row{F::anneal, I::hatch_step, "visible lines in the mark", "slower, hotter between lines"},
        Row{F::anneal, I::pulses_per_mm2, "more even heating, little change",
            "stronger single pulses: risk of pitting"},
        Row{F::colour, I::pulses_per_mm2, "hue moves up the order (thicker oxide)",
            "hue moves down the order (thinner oxide)"},
        Row{F::colour, I::areal_dose, "hue up the order, then grey", "hue down the order; straw instead of blue"},
        Row{F::colour, I::fluence, "melting and ripples: dull, grey colour",
            "thin oxide per pulse: hue down, may stay bare metal"},
        Row{F::colour, I::pulse, "deeper heating per pulse: hue shift, less saturation; new proof sheet needed",
            "shallower heating per pulse: hue shift, more risk of ablation; new proof sheet needed"},
        Row{F::engrave, I::fluence, "more melt and burr per pulse, rougher floor",
            "less removal per pulse; below threshold: no engraving, only melt"},
        Row{F::engrave, I::pulse_step, "separated craters, rough wall", "heat build-up, recast, darker floor"},
        Row{F::engrave, I::hatch_step, "ridges between lines", "slower; deeper per pass"},
        Row{F::engrave, I::areal_dose, "deeper than before", "shallower than before: add passes"},
        Row{F::strip, I::fluence_margin, "base metal may be marked under the coating",
            "coating remains as islands or a haze"},
        Row{F::strip, I::pulse_step, "scallops of coating left between pulses", "coating chars, heat in the base"},
        Row{F::strip, I::hatch_step, "stripes of coating left", "slower; more heat"},
        Row{F::strip, I::areal_dose, "hotter; watch yellowing edges", "second pass may be needed"},
        Row{F::compound, I::heat_per_spot, "compound burns off, brown edge", "under-fused, washes off"},
        Row{F::compound, I::areal_dose, "over-burnt risk", "under-fused, poor adhesion"},
        Row{F::compound, I::hatch_step, "lines visible, gaps", "slower"},
    };
    for (const Row& r : rows)
        if (r.family == family && r.invariant == invariant)
            return more ? r.more : r.less;
    return "small change expected; check on a proof";
}

} // namespace

Expected<DialogTransfer> to_dialog(const MachineSettings& old, TransferFamily family, const MachineLimits& limits,
                                   const MachineDialog& d) {
    DialogTransfer out;
    FixedSettings fixed;
    const auto settings = [&]() -> Expected<MachineSettings> {
        const auto r = transfer(old, family, limits, 0.02, fixed);
        return r ? Expected<MachineSettings>(r->settings) : tl::unexpected(r.error());
    };
    auto now = settings();
    if (!now)
        return tl::unexpected(now.error());
    const auto pitch = typed_pitch(now->pitch_mm, d);
    if (!pitch)
        return tl::unexpected(pitch.error());
    out.typed.pitch = *pitch;
    fixed.emplace_back("pitch", convert(*pitch, d.pitch_unit, "mm").value_or(now->pitch_mm));
    struct Field {
        const char* name;
        double MachineSettings::*value;
        const std::optional<double>& maximum;
        double step;
        double TypedSettings::*typed;
        const PercentTable& table;
    };
    static const PercentTable none;
    for (const Field& f :
         {Field{"freq", &MachineSettings::frequency_khz, d.frequency_max_khz, d.frequency_step,
                &TypedSettings::frequency, none},
          Field{"speed", &MachineSettings::speed_mm_s, d.speed_max_mm_s, d.speed_step, &TypedSettings::speed, none},
          Field{"power", &MachineSettings::power_w, d.power_max_w, d.power_step, &TypedSettings::power,
                d.power_table}}) {
        now = settings();
        if (!now)
            return tl::unexpected(now.error());
        const auto shown = show((*now).*f.value, f.maximum, f.step, f.table);
        if (!shown)
            return tl::unexpected(shown.error());
        out.typed.*f.typed = shown->typed;
        fixed.emplace_back(f.name, shown->realised);
    }
    auto result = transfer(old, family, limits, 0.03, fixed);
    if (!result)
        return tl::unexpected(result.error());
    out.result = std::move(*result);
    return out;
}

Expected<MachineSettings> from_dialog(const TypedSettings& t, const MachineDialog& d, double spot_mm, double pulse_ns,
                                      int passes) {
    const auto meant = [](double v, const std::optional<double>& maximum,
                          const PercentTable& table = {}) -> Expected<double> {
        return maximum || !table.empty() ? from_percent(v, maximum.value_or(0), table) : Expected<double>(v);
    };
    const auto power = meant(t.power, d.power_max_w, d.power_table);
    const auto speed = meant(t.speed, d.speed_max_mm_s);
    const auto frequency = meant(t.frequency, d.frequency_max_khz);
    const auto pitch = convert(t.pitch, d.pitch_unit, "mm");
    for (const auto* v : {&power, &speed, &frequency, &pitch})
        if (!*v)
            return tl::unexpected(v->error());
    return MachineSettings{*power, *speed, *frequency, spot_mm, *pitch, pulse_ns, passes, 1064};
}

FluenceRise fluence_rise(TransferFamily family, const RemovalConstants& metal, const RemovalModel& model,
                         const JoinModel& join, double before, double after, double width_ns, double pulses) {
    const bool compound = family == TransferFamily::compound;
    FluenceRise out;
    out.ratio = after / before;
    if (compound)
        out.limit_j_cm2 = incubated_threshold(join.powder_j_cm2 * std::pow(width_ns / 100, join.powder_width_power),
                                              join.powder_incubation, pulses, model);
    else
        out.limit_j_cm2 =
            metal.threshold_j_cm2 * std::sqrt(std::clamp(width_ns, join.width_low_ns, join.width_high_ns) / 100);
    out.share_above = share_over(after, out.limit_j_cm2, compound ? join.powder_spread : join.boil_spread);
    // A setting that cuts is meant to; below a sixth the pulses stay below the limit by a standard deviation.
    const bool soft = compound || family == TransferFamily::anneal;
    if (!soft || out.ratio <= join.fluence_free)
        out.verdict = TransferVerdict::equivalent;
    else if (out.share_above > 0.5 || (out.ratio > join.fluence_close && out.share_above > 0.16))
        out.verdict = TransferVerdict::new_proof_needed;
    else
        out.verdict = TransferVerdict::close;
    return out;
}

} // namespace finch
