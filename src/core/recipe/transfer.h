// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "bench/dialog.h"
#include "physics/join_model.h"
#include "physics/removal.h"
#include "quantity/error.h"
#include "recipe/process.h"

#include <array>
#include <limits>
#include <string>
#include <utility>
#include <vector>

namespace finch {

/// A recipe in what reaches the part, whatever bench makes it.
struct MachineSettings {
    double power_w = 10, speed_mm_s = 500, frequency_khz = 50, spot_mm = 0.05, pitch_mm = 0.02;
    double pulse_ns = 100;
    int passes = 1;
    double wavelength_nm = 1064;
    bool operator==(const MachineSettings&) const = default;
};

/// What a source and lens can do.
struct MachineLimits {
    using Span = std::pair<double, double>;
    Span power_w{1, 20}, speed_mm_s{10, 3000}, frequency_khz{1, 200}, spot_mm{0.05, 0.15}, pitch_mm{0.001, 1};
    std::vector<double> pulses_ns{100}; ///< widths to choose from
    double largest_pulse_mj = std::numeric_limits<double>::infinity();
    int most_passes = 10;
    double wavelength_nm = 1064;
};

/// What can stay the same. All but the last three are products of powers of the settings.
enum class Invariant {
    areal_dose,
    pulses_per_mm2,
    fluence,
    heat_per_spot, ///< power / spot
    spot,
    pulse_step, ///< share of the spot
    hatch_step,
    fluence_margin, ///< fluence / sqrt(pulse width)
    peak_irradiance,
    line_energy,
    passes,
    pulse
};
inline constexpr std::size_t invariant_count = 12;
[[nodiscard]] std::string_view key(Invariant invariant);
[[nodiscard]] std::string_view word(Invariant invariant);
/// In this order of importance.
[[nodiscard]] const std::vector<Invariant>& priorities(TransferFamily family);

/// Values of all invariants: J/mm2, 1/mm2, J/mm2, W/mm, mm, shares, .., passes, ns. Errors: setup.not_positive.
[[nodiscard]] Expected<std::array<double, invariant_count>> invariants(const MachineSettings& settings);

/// One line of the report.
struct Kept {
    Invariant invariant = Invariant::areal_dose;
    int priority = 1;
    double ratio = 1; ///< new over old
    bool kept = true;
    std::string effect; ///< what the change does, empty if kept
};
enum class TransferVerdict { equivalent, close, new_proof_needed };
[[nodiscard]] std::string_view word(TransferVerdict verdict);
struct TransferResult {
    MachineSettings settings;
    std::vector<Kept> report;
    std::vector<std::string> clamped; ///< "power_max", "pulse_energy_max" ...
    TransferVerdict verdict = TransferVerdict::equivalent;
    bool wavelength_differs = false;
};
/// Settings held fixed by name: power, speed, freq, spot or pitch.
using FixedSettings = std::vector<std::pair<std::string, double>>;

/// Ordered least squares on logarithms within a box: each priority counts twenty times the next. Errors:
/// setup.not_positive, transfer.limits, transfer.infeasible.
[[nodiscard]] Expected<TransferResult> transfer(const MachineSettings& old, TransferFamily family,
                                                const MachineLimits& limits, double keep = 0.02,
                                                const FixedSettings& fixed = {});

/// One-sided: a lower peak fluence is no fault of an anneal or a compound, a higher one is.
struct FluenceRise {
    double ratio = 1;       ///< after over before
    double limit_j_cm2 = 0; ///< above it one pulse tears the metal, or blows the compound off
    double share_above = 0; ///< share of the outcomes in which it does
    TransferVerdict verdict = TransferVerdict::equivalent;
};
/// Fluences in J/cm2; width and pulses per spot are those after the transfer.
[[nodiscard]] FluenceRise fluence_rise(TransferFamily family, const RemovalConstants& metal, const RemovalModel& model,
                                       const JoinModel& join, double before_j_cm2, double after_j_cm2, double width_ns,
                                       double pulses_per_spot);

/// Closed forms for annealing and colour: equal to transfer() when nothing clamps.
[[nodiscard]] Expected<MachineSettings> transfer_anneal_closed(const MachineSettings& old, const MachineLimits& limits);
[[nodiscard]] Expected<MachineSettings> transfer_colour_closed(const MachineSettings& old, const MachineLimits& limits);

/// What to type into a machine's window, rounded field by field so that later fields absorb earlier rounding.
struct TypedSettings {
    double pitch = 0, frequency = 0, speed = 0, power = 0; ///< in the window's own units
};
struct DialogTransfer {
    TransferResult result; ///< after rounding
    TypedSettings typed;
};
[[nodiscard]] Expected<DialogTransfer> to_dialog(const MachineSettings& old, TransferFamily family,
                                                 const MachineLimits& limits, const MachineDialog& dialog);
/// What typed values mean.
[[nodiscard]] Expected<MachineSettings> from_dialog(const TypedSettings& typed, const MachineDialog& dialog,
                                                    double spot_mm, double pulse_ns, int passes = 1);

} // namespace finch
