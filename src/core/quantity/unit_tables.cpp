// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "quantity/unit_tables.h"

#include <numbers>

namespace finch {

const UnitTable& unit_table(QuantityKind kind) {
    static const UnitTable length{{"mm", 1},   {"um", 1e-3}, {"nm", 1e-6},    {"cm", 10},
                                  {"m", 1000}, {"in", 25.4}, {"thou", 0.0254}};
    static const UnitTable speed{{"mm/s", 1},           {"cm/s", 10},   {"m/s", 1000},        {"mm/min", 1.0 / 60},
                                 {"m/min", 1000. / 60}, {"in/s", 25.4}, {"in/min", 25.4 / 60}};
    static const UnitTable frequency{{"Hz", 1e-3}, {"kHz", 1}, {"MHz", 1000}};
    static const UnitTable power{{"W", 1}, {"mW", 1e-3}, {"kW", 1000}};
    static const UnitTable duration{{"ns", 1}, {"ps", 1e-3}, {"fs", 1e-6}, {"us", 1000}, {"ms", 1e6}, {"s", 1e9}};
    static const UnitTable fluence{{"J/mm2", 1}, {"J/cm2", 0.01}, {"mJ/cm2", 1e-5}, {"mJ/mm2", 1e-3}};
    static const UnitTable percent{{"%", 1}};
    static const UnitTable angle{{"deg", 1}, {"rad", 180 / std::numbers::pi}};
    static const UnitTable temperature{{"degC", 1}, {"degF", 1}, {"K", 1}};
    static const UnitTable energy{{"mJ", 1}, {"uJ", 1e-3}, {"J", 1000}};
    static const UnitTable count{{"x", 1}};
    switch (kind) {
    case QuantityKind::length:
    case QuantityKind::pitch:
        return length;
    case QuantityKind::speed:
        return speed;
    case QuantityKind::frequency:
        return frequency;
    case QuantityKind::power:
        return power;
    case QuantityKind::duration:
        return duration;
    case QuantityKind::fluence:
        return fluence;
    case QuantityKind::percent:
        return percent;
    case QuantityKind::angle:
        return angle;
    case QuantityKind::temperature:
        return temperature;
    case QuantityKind::energy:
        return energy;
    case QuantityKind::count:
    case QuantityKind::ratio:
        return count;
    }
    return length;
}

const UnitTable& line_table() {
    static const UnitTable lines{{"lpi", 1 / 25.4}, {"dpi", 1 / 25.4}, {"l/cm", 0.1}, {"l/mm", 1.0}};
    return lines;
}

} // namespace finch
