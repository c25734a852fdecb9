// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "quantity/error.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace finch {

/// What a number in a field means. The canonical unit of each kind is the one that values are returned in.
enum class QuantityKind {
    length,      ///< mm
    pitch,       ///< mm between lines; also lines per inch, cm, mm, or percent overlap
    speed,       ///< mm/s
    frequency,   ///< kHz
    power,       ///< W; also percent of a maximum
    duration,    ///< ns
    fluence,     ///< J/mm2
    percent,     ///< 0..100
    angle,       ///< degrees
    temperature, ///< °C
    energy,      ///< mJ
    count,       ///< a whole number
    ratio        ///< a plain number
};

/// How a lone comma or point followed by three digits is read ("1,500").
enum class DecimalSign { automatic, point, comma };

/// What a field knows about the value it expects. Limits are in the canonical unit of the kind.
struct ParseContext {
    std::string default_unit;      ///< taken when none is typed; empty: a unit is required
    std::optional<double> maximum; ///< what 100 % stands for
    std::optional<double> spot_mm; ///< turns a percent overlap into a pitch
    std::optional<double> low;
    std::optional<double> high;
    DecimalSign decimal = DecimalSign::automatic;
};

/// A remark beside a good value.
enum class ParseNote { assumed_unit, assumed_decimal, mil_read_as_thou, dpi_read_as_lines, implausible };

struct ParsedQuantity {
    double value = 0; ///< in the canonical unit of the kind
    std::string unit; ///< the unit that was understood
    std::vector<ParseNote> notes;
};

/// Reads what people type: "0,02 mm", "500 lpi", "1 1/2 thou", "70 %", "20k", "2*0.015".
/// Errors: quantity.empty, not_a_number, no_unit, unknown_unit, ambiguous_unit, ambiguous_decimal, wrong_kind, no_max,
/// no_spot, not_positive, negative, out_of_range. Never NaN, never a silent clamp.
[[nodiscard]] Expected<ParsedQuantity> parse_quantity(std::string_view text, QuantityKind kind,
                                                      const ParseContext& context = {});

/// The unit that values of this kind are returned in, as it is printed ("mm/s").
[[nodiscard]] std::string_view canonical_unit(QuantityKind kind);

/// One plain sentence for a remark.
[[nodiscard]] std::string_view sentence(ParseNote note);

} // namespace finch
