// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "bench/setting.h"
#include "physics/colour.h"
#include "quantity/error.h"
#include "recipe/process.h"

#include <nlohmann/json_fwd.hpp>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace finch {

/// What can be wished of a mark.
enum class WishKind {
    dark,            ///< L* at most `value`
    colour,          ///< within `value` CIEDE2000 of `lab`
    bright,          ///< L* at least `value`
    depth,           ///< `value` to `high` um
    nothing_removed, ///< under a micrometre
    smooth,          ///< a fingernail slides over it
    corrosion_kept,  ///< class `value` of 4 at least
    abrasion,        ///< class `value` of 4 at least
    salt,            ///< hours of salt, as a class
    wash,            ///< wash cycles, as a class
    viewing_angle,   ///< contrast of `high` L* or more at a tilt of `value` degrees
    fine_detail,     ///< strokes of `value` mm
    stays_flat,      ///< warp index at most `value`
    coat_kept,       ///< the film below stays whole
    metal_unmarked,  ///< the metal below a coat stays as it was
    minutes,         ///< a piece, at most
    cost             ///< a piece, at most
};
inline constexpr std::size_t wish_kind_count = 17;

/// What is fixed about a kind of wish.
struct WishTraits {
    WishKind kind;
    std::string_view key, label;
    std::string_view unit;
    double usual, usual_high; ///< values that a new wish starts with
    double low, most;         ///< of `value`
};
[[nodiscard]] const WishTraits& traits(WishKind kind);

struct Wish {
    WishKind kind = WishKind::dark;
    bool must = true;
    double value = 40, high = 0;
    Lab lab{36, 2, -28}; ///< of a colour
    bool operator==(const Wish&) const = default;
};
[[nodiscard]] Wish usual_wish(WishKind kind, bool must = true);
/// "L* 40 or less", "72 h of salt" ...
[[nodiscard]] std::string describe(const Wish& wish);

/// What must come out.
struct Aim {
    std::string title = "Untitled mark";
    std::string place; ///< where the piece lives: "near the sea"
    std::vector<Wish> wishes;
    int pieces = 1;
    Fill fill{mm(10), 100};    ///< filled on each piece
    bool working_part = false; ///< balance, stress or corrosion of the part matter
    double pigment_l = 30;     ///< of a non-metal: darkness of what is in it
    bool operator==(const Aim&) const = default;

    [[nodiscard]] const Wish* find(WishKind kind) const;
};

[[nodiscard]] nlohmann::json to_json(const Aim& aim);
/// Reads a `finch-aim` document.
[[nodiscard]] Expected<Aim> aim_from_json(const nlohmann::json& document, const std::string& file);

} // namespace finch
