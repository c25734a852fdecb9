// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "physics/heat.h"
#include "physics/metal.h"
#include "physics/pulse.h"
#include "physics/short_list.h"

#include <array>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace finch {

enum class Regime { too_cold, tint, interference_colour, dark_anneal, surface_melting, ablation };
[[nodiscard]] std::string_view word(Regime regime);

/// Remarks beside a prediction. The first seven warn; the last two only note.
enum class MarkWarning {
    colour_invalid, ///< removed or molten: a colour has no meaning
    scale,          ///< oxide beyond the modelled range
    derated,        ///< below the lowest full-power frequency
    gaps,           ///< pulses or lines too far apart for the averages
    coated,
    no_colour, ///< no interference oxide is modelled for this metal
    cleaning,
    pulse_melt,
    stripes,
    warp,
    burn
};

/// What the part is, as the physics sees it.
struct Workpiece {
    Finish finish = Finish::mill;
    Coating coating = Coating::none;
    Length thickness = mm(2);
    double start_temperature_c = 20;
    double growth_gain = 1; ///< correction learned from readings, 1 = none
};

/// Temperatures in K; rises are differences, `between` and `peak` are absolute.
struct HeatResult {
    double absorptance = 0;
    double pulse_rise = 0, moving_rise = 0, lines_rise = 0, passes_rise = 0;
    double between = 0;     ///< on the axis before a pulse, enthalpy-like
    double linear_peak = 0; ///< unclipped
    double peak = 0;
    double peclet = 0;
    double heat_kept = 1; ///< share of the absorbed power that stays as heat
    bool operator==(const HeatResult&) const = default;
};

struct OxideResult {
    double thickness_m = 0;
    double hot_s = 0; ///< time at the melting point that would grow the same oxide
    bool operator==(const OxideResult&) const = default;
};

struct RemovalResult {
    double ratio = 0; ///< absorbed peak fluence over the boiling threshold
    double per_pulse_m = 0;
    double net_m = 0;
    double index = 0; ///< 1 = engraving
    bool operator==(const RemovalResult&) const = default;
};

inline constexpr std::size_t most_angles = 3;

/// Colours at the viewing angles asked for; angle 0 is always the first.
struct Look {
    double haze = 0;
    Lab shift; ///< learned: of every colour, from the film's optics and the camera
    std::size_t angles = 0;
    std::array<ViewedColour, most_angles> specular_included;
    std::array<ViewedColour, most_angles> room;
    ViewedColour specular_excluded;
    double blackness = 0;
    bool valid = true;
    bool operator==(const Look&) const = default;
};

/// A neighbouring regime and how far it is, in ln units (>= 0).
struct Neighbour {
    Regime regime = Regime::too_cold;
    double distance = 0;
    bool operator==(const Neighbour&) const = default;
};

/// Signed distances in ln units to each threshold; the oxide steps are absent for metals without oxide data.
struct Margins {
    double ablation = 0, surface_melting = 0;
    std::optional<double> tint, interference_colour, dark_anneal;
    bool operator==(const Margins&) const = default;
};

struct PlateRisk {
    double warp = 0; ///< < 0.3 safe, 0.3..1 clamp, > 1 expect movement
    double burn = 0; ///< < 0.5 safe, 0.5..1 caution, > 1 likely
    bool operator==(const PlateRisk&) const = default;
};

/// Everything that the annealing and colour model says about one setting.
struct AnnealResult {
    PulseOutput pulse;
    Pattern pattern;
    HeatResult heat;
    OxideResult oxide;
    RemovalResult removal;
    Look look;
    Regime regime = Regime::too_cold;
    ShortList<Neighbour, 4> neighbours;
    Margins margins;
    double melt_index = 0;
    PlateRisk plate;
    ShortList<MarkWarning, 11> warnings;

    bool operator==(const AnnealResult&) const = default;
};

/// Viewing angles in degrees, 0..80. Angle 0 is put first if it is not there.
struct ViewingAngles {
    std::array<double, most_angles> at{0, 30, 60};
    std::size_t count = 3;
};
/// From straight above alone: a third of the work where nobody asks how the colour tilts.
inline constexpr ViewingAngles straight{{0, 0, 0}, 1};
/// No colour at all: about half of the work where nobody asks for one. The haze is still worked out.
inline constexpr ViewingAngles unseen{{0, 0, 0}, 0};

/// Which input lies outside the range of the model; order of checking as listed.
enum class InputFault {
    not_finite,
    source,
    material,
    optics,
    power,
    frequency,
    pulse_width,
    duty,
    speed,
    hatch,
    passes,
    focus,
    thickness,
    area,
    start_temperature,
    gain,
    angle
};

/// The first input outside the model's range, or nothing.
[[nodiscard]] std::optional<InputFault> input_fault(const Source& source, const Lens& lens, const Setting& setting,
                                                    const Workpiece& part, const Fill& fill);
/// One sentence that says which value is wrong and what the model takes.
[[nodiscard]] Error input_error(InputFault fault);

/// Predicts oxide, colour, regime and risks of one setting. Inputs must be free of faults (assert). No allocation.
/// Source: docs/physics.md.
[[nodiscard]] AnnealResult anneal(const Metal& metal, const ProcessModel& model, const Source& source, const Lens& lens,
                                  const Setting& setting, const Workpiece& part, const Fill& fill,
                                  const ViewingAngles& angles = {});

class Annealing;

/// The film alone, of a setting on a bench that differs a little, at a fraction of the work: what the path and the
/// plate do is worked out once.
class GrowthProbe {
public:
    /// Inputs must be free of faults and outlive this; the metal must grow an oxide.
    GrowthProbe(const Metal& metal, const ProcessModel& model, const Source& source, const Lens& lens,
                const Setting& setting, const Workpiece& part, const Fill& fill);
    ~GrowthProbe();
    GrowthProbe(GrowthProbe&&) noexcept;
    /// OxideResult::hot_s with the absorptance times a factor and the part warmer by so many K.
    [[nodiscard]] double hot_s(double absorbed = 1, double warmer_k = 0);

private:
    std::unique_ptr<Annealing> annealing_;
};

/// What readings have taught of one setting's film.
struct TaughtLook {
    double thickness_m = 0;
    double haze = 0;
    Lab shift;
};
/// The same result with the film as it was learned: look, regime, margins and warnings follow it, heat and plate stay.
/// `physics` must come from the same inputs.
[[nodiscard]] AnnealResult with_film(const AnnealResult& physics, const TaughtLook& film, const Metal& metal,
                                     const ProcessModel& model, const Source& source, const Lens& lens,
                                     const Setting& setting, const Workpiece& part, const Fill& fill,
                                     const ViewingAngles& angles = {});

/// Growth gain that makes the predicted thickness come out as observed; both above the native oxide.
[[nodiscard]] Expected<double> gain_from_thickness(double predicted_m, double observed_m, double gain_used,
                                                   const ProcessModel& model);

} // namespace finch
