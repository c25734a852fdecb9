// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <boost/units/quantity.hpp>
#include <boost/units/systems/si/energy.hpp>
#include <boost/units/systems/si/frequency.hpp>
#include <boost/units/systems/si/length.hpp>
#include <boost/units/systems/si/power.hpp>
#include <boost/units/systems/si/time.hpp>
#include <boost/units/systems/si/velocity.hpp>

/// Typed quantities. A value is made with a function that names its unit (`mm(2.6)`) and read with one that names the
/// unit wanted (`in_mm(thickness)`), so that no bare number has a unit known only to its author.
namespace finch {

namespace si = boost::units::si;
using Length = boost::units::quantity<si::length>;
using Time = boost::units::quantity<si::time>;
using Frequency = boost::units::quantity<si::frequency>;
using Power = boost::units::quantity<si::power>;
using Energy = boost::units::quantity<si::energy>;
using Speed = boost::units::quantity<si::velocity>;

[[nodiscard]] constexpr Length metres(double v) {
    return Length::from_value(v);
}
[[nodiscard]] constexpr Length mm(double v) {
    return Length::from_value(v * 1e-3);
}
[[nodiscard]] constexpr Length micrometres(double v) {
    return Length::from_value(v * 1e-6);
}
[[nodiscard]] constexpr Length nanometres(double v) {
    return Length::from_value(v * 1e-9);
}
[[nodiscard]] constexpr Time seconds(double v) {
    return Time::from_value(v);
}
[[nodiscard]] constexpr Time nanoseconds(double v) {
    return Time::from_value(v * 1e-9);
}
[[nodiscard]] constexpr Frequency kilohertz(double v) {
    return Frequency::from_value(v * 1e3);
}
[[nodiscard]] constexpr Power watts(double v) {
    return Power::from_value(v);
}
[[nodiscard]] constexpr Power kilowatts(double v) {
    return Power::from_value(v * 1e3);
}
[[nodiscard]] constexpr Energy millijoules(double v) {
    return Energy::from_value(v * 1e-3);
}
[[nodiscard]] constexpr Speed mm_per_second(double v) {
    return Speed::from_value(v * 1e-3);
}

[[nodiscard]] constexpr double in_metres(Length v) {
    return v.value();
}
[[nodiscard]] constexpr double in_mm(Length v) {
    return v.value() * 1e3;
}
[[nodiscard]] constexpr double in_micrometres(Length v) {
    return v.value() * 1e6;
}
[[nodiscard]] constexpr double in_nanometres(Length v) {
    return v.value() * 1e9;
}
[[nodiscard]] constexpr double in_seconds(Time v) {
    return v.value();
}
[[nodiscard]] constexpr double in_nanoseconds(Time v) {
    return v.value() * 1e9;
}
[[nodiscard]] constexpr double in_kilohertz(Frequency v) {
    return v.value() * 1e-3;
}
[[nodiscard]] constexpr double in_hertz(Frequency v) {
    return v.value();
}
[[nodiscard]] constexpr double in_watts(Power v) {
    return v.value();
}
[[nodiscard]] constexpr double in_kilowatts(Power v) {
    return v.value() * 1e-3;
}
[[nodiscard]] constexpr double in_millijoules(Energy v) {
    return v.value() * 1e3;
}
[[nodiscard]] constexpr double in_joules(Energy v) {
    return v.value();
}
[[nodiscard]] constexpr double in_mm_per_second(Speed v) {
    return v.value() * 1e3;
}

} // namespace finch
