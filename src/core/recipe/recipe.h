// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "bench/setting.h"
#include "bench/setup.h"
#include "quantity/error.h"
#include "quantity/parse.h"
#include "recipe/process.h"

#include <array>
#include <nlohmann/json_fwd.hpp>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace finch {

/// What is done between the passes of deep work.
struct DeepSteps {
    int clean_every = 0; ///< a cleaning pass after so many passes; 0 = never
    int focus_every = 0; ///< focus lowered after so many passes; 0 = never
    Length focus_step = mm(0);
    Length narrowest = mm(10); ///< width of the cut area
    bool operator==(const DeepSteps&) const = default;
};

/// All knobs of one mark.
struct Recipe {
    std::string name;
    Setting setting;
    double turn_per_pass_deg = 0;
    bool cross_hatch = false; ///< each pass a second time at a right angle
    Process process = Process::anneal;
    double line_shift_percent = 0; ///< of the hatch pitch, by which the lines move per pass
    DeepSteps deep;
    std::string compound; ///< key in data/materials, for compound work
    double coats = 2;

    bool operator==(const Recipe&) const = default;
};

/// The setting that the physics sees: a cross-hatched pass counts twice.
[[nodiscard]] Setting burned_setting(const Recipe& recipe);

enum class Knob {
    power,
    frequency,
    pulse_width,
    scan_speed,
    hatch_pitch,
    hatch_angle,
    turn_per_pass,
    line_shift,
    passes,
    focus_offset
};
inline constexpr std::array all_knobs{Knob::power,       Knob::frequency,   Knob::pulse_width,   Knob::scan_speed,
                                      Knob::hatch_pitch, Knob::hatch_angle, Knob::turn_per_pass, Knob::line_shift,
                                      Knob::passes,      Knob::focus_offset};

inline constexpr int most_passes = 10000;

/// What this bench can set. `low` may be above what makes sense; it is never above `high`.
struct KnobLimits {
    double low = 0, high = 0;
    bool operator==(const KnobLimits&) const = default;
};

/// Everything that is fixed about a knob: what a new knob adds beside its physics. Values of a knob are plain numbers
/// in `unit`, the same unit in every file and field.
struct KnobTraits {
    Knob knob = Knob::power;
    std::string_view key;    ///< in files, with the unit: "hatch_pitch_mm"
    std::string_view label;  ///< "Hatch pitch"
    std::string_view brief;  ///< "pitch", where there is little room
    std::string_view stroke; ///< "H", where it is burned
    std::string_view unit;   ///< "mm"
    QuantityKind kind = QuantityKind::count;

    std::string_view screen_unit = {};     ///< where it reads better than `unit`: "µm"
    double screen_factor = 1;              ///< from `unit` to that
    bool by_ratio = false;                 ///< equal ratios look even to a person, rather than equal steps
    bool positive = true;                  ///< never zero
    bool whole = false;                    ///< counts
    bool periodic = false;                 ///< an angle, which no bench limits
    bool on_axes = true;                   ///< of sheets and maps
    bool label_if_zero = true;             ///< named on a burned sheet even when it is zero
    double step = 0.02;                    ///< of an arrow key; a share of the value if by_ratio
    std::optional<double> probe = {};      ///< the change whose effect is shown; nothing: ten percent
    double low = 0, high = 0;              ///< of files
    std::optional<double> usual = {};      ///< in files that leave it out; nothing: they may not
    std::string_view more = {}, less = {}; ///< {0} percent, {1} from, {2} to

    double (*get)(const Recipe&) = nullptr;
    void (*set)(Recipe&, double) = nullptr;
    KnobLimits (*limits)(const Bench&) = nullptr;

    /// Whether a range round a value is spread in equal ratios.
    [[nodiscard]] bool spreads_by_ratio() const { return positive && !whole; }
};
[[nodiscard]] const KnobTraits& traits(Knob knob);
/// Those that a sheet or a map can vary, in a way that a photograph can tell.
[[nodiscard]] const std::vector<Knob>& axis_knobs();
/// Errors: recipe.unknown_knob.
[[nodiscard]] Expected<Knob> knob_from_key(std::string_view key);

[[nodiscard]] double knob_value(const Recipe& recipe, Knob knob);
/// The recipe with one knob moved. Passes are rounded to a whole number of at least 1.
[[nodiscard]] Recipe with_knob(Recipe recipe, Knob knob, double value);
[[nodiscard]] KnobLimits knob_limits(const Bench& bench, Knob knob);

/// One arrow-key step from a value, in the knob's unit.
[[nodiscard]] double knob_step(Knob knob, double value);

/// Reads a `finch-recipe` document.
[[nodiscard]] Expected<Recipe> recipe_from_json(const nlohmann::json& document, const std::string& file);
[[nodiscard]] Expected<Recipe> recipe_from_text(std::string_view text, const std::string& file);
[[nodiscard]] nlohmann::json to_json(const Recipe& recipe);

/// Reads a `finch-fill` document ({"line_length_mm": ..., "area_mm2": ...}).
[[nodiscard]] Expected<Fill> fill_from_text(std::string_view text, const std::string& file);

} // namespace finch
