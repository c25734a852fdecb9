// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "recipe/aim.h"

#include "document/json_fields.h"
#include "quantity/format.h"

#include <algorithm>
#include <array>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace finch {
namespace {

using json = nlohmann::json;

constexpr std::array wish_table{
    WishTraits{WishKind::dark, "dark", "Dark", "L*", 40, 0, 1, 99},
    WishTraits{WishKind::colour, "colour", "Colour", "ΔE₀₀", 4, 0, 0.1, 50},
    WishTraits{WishKind::bright, "bright", "Bright", "L*", 70, 0, 1, 99},
    WishTraits{WishKind::depth, "depth", "Depth", "µm", 100, 150, 0.1, 5000},
    WishTraits{WishKind::nothing_removed, "nothing-removed", "Nothing removed", "µm", 1, 0, 0.01, 100},
    WishTraits{WishKind::smooth, "smooth", "Smooth to the touch", "µm", 5, 0, 0.1, 100},
    WishTraits{WishKind::corrosion_kept, "corrosion-kept", "Keeps from rust", "class", 3, 0, 0, 4},
    WishTraits{WishKind::abrasion, "abrasion", "Survives rubbing", "class", 3, 0, 0, 4},
    WishTraits{WishKind::salt, "salt", "Survives salt", "class", 3, 0, 0, 4},
    WishTraits{WishKind::wash, "wash", "Survives washing", "class", 2, 0, 0, 4},
    WishTraits{WishKind::viewing_angle, "viewing-angle", "Reads when tilted", "°", 60, 20, 0, 75},
    WishTraits{WishKind::fine_detail, "fine-detail", "Small figures", "mm", 0.25, 0, 0.01, 100},
    WishTraits{WishKind::stays_flat, "stays-flat", "Part stays flat", "index", 0.3, 0, 0.01, 10},
    WishTraits{WishKind::coat_kept, "coat-kept", "Film stays whole", "", 1, 0, 0, 1},
    WishTraits{WishKind::metal_unmarked, "metal-unmarked", "Metal below unmarked", "", 1, 0, 0, 1},
    WishTraits{WishKind::minutes, "minutes", "Time", "min", 5, 0, 0.001, 10000},
    WishTraits{WishKind::cost, "cost", "Cost", "", 4, 0, 0.001, 1e6},
};

std::string of_wish(double v, int digits = 3) {
    return format_for_screen(v, digits);
}

json wish_json(const Wish& w) {
    json out{{"kind", traits(w.kind).key}, {"must", w.must}, {"value", w.value}};
    if (w.high != 0)
        out["high"] = w.high;
    if (w.kind == WishKind::colour)
        out["lab"] = {w.lab.l, w.lab.a, w.lab.b};
    return out;
}

Wish read_wish(JsonFields f) {
    static const std::vector<std::string_view> keys = [] {
        std::vector<std::string_view> out;
        for (const WishTraits& t : wish_table)
            out.push_back(t.key);
        return out;
    }();
    const WishTraits& t = wish_table.at(f.choice("kind", keys));
    Wish w = usual_wish(t.kind, f.flag_or("must", true));
    w.value = f.number_or("value", t.usual, t.low, t.most);
    w.high = f.number_or("high", t.usual_high, -1000, 10000);
    if (t.kind == WishKind::colour) {
        const auto lab = f.numbers("lab", 3, -128, 128);
        if (lab.size() == 3)
            w.lab = {lab[0], lab[1], lab[2]};
    }
    if (t.kind == WishKind::depth && w.high < w.value)
        f.fault("high", "The deepest depth is above the shallowest one.", "Swap the two values.");
    return w;
}

} // namespace

const WishTraits& traits(WishKind kind) {
    return wish_table.at(static_cast<std::size_t>(kind));
}

Wish usual_wish(WishKind kind, bool must) {
    const WishTraits& t = traits(kind);
    return {kind, must, t.usual, t.usual_high, {36, 2, -28}};
}

std::string describe(const Wish& w) {
    switch (w.kind) {
    case WishKind::dark:
        return fmt::format("L* {} or less", of_wish(w.value));
    case WishKind::colour:
        return fmt::format("ΔE₀₀ {} from L* {} a* {} b* {}", of_wish(w.value), of_wish(w.lab.l), of_wish(w.lab.a),
                           of_wish(w.lab.b));
    case WishKind::bright:
        return fmt::format("L* {} or more", of_wish(w.value));
    case WishKind::depth:
        return fmt::format("{} to {} µm", of_wish(w.value), of_wish(w.high));
    case WishKind::nothing_removed:
        return fmt::format("less than {} µm of metal", of_wish(w.value));
    case WishKind::smooth:
        return fmt::format("steps under {} µm", of_wish(w.value));
    case WishKind::corrosion_kept:
    case WishKind::abrasion:
    case WishKind::salt:
    case WishKind::wash: {
        static constexpr std::array words{"any", "a little", "moderate", "good", "the part's own"};
        return fmt::format("class {} of 4, {}", of_wish(w.value, 1),
                           words.at(static_cast<std::size_t>(std::clamp(w.value, 0.0, 4.0))));
    }
    case WishKind::viewing_angle:
        return fmt::format("at {}°, ΔL* {} or more", of_wish(w.value), of_wish(w.high));
    case WishKind::fine_detail:
        return fmt::format("strokes of {} mm", of_wish(w.value));
    case WishKind::stays_flat:
        return fmt::format("warp index {} or less", of_wish(w.value, 2));
    case WishKind::coat_kept:
        return "protection survives";
    case WishKind::metal_unmarked:
        return "no mark under the coat";
    case WishKind::minutes:
        return fmt::format("{} min a piece or less", of_wish(w.value));
    case WishKind::cost:
        return fmt::format("{:.2f} a piece or less", w.value);
    }
    return {};
}

const Wish* Aim::find(WishKind kind) const {
    const auto it = std::find_if(wishes.begin(), wishes.end(), [&](const Wish& w) { return w.kind == kind; });
    return it != wishes.end() ? &*it : nullptr;
}

json to_json(const Aim& a) {
    json wishes = json::array();
    for (const Wish& w : a.wishes)
        wishes.push_back(wish_json(w));
    return {{"format", "finch-aim"},
            {"version", 1},
            {"title", a.title},
            {"place", a.place},
            {"wishes", wishes},
            {"pieces", a.pieces},
            {"line_length_mm", tidy(in_mm(a.fill.line_length))},
            {"area_mm2", a.fill.area_mm2},
            {"working_part", a.working_part},
            {"pigment_l_star", a.pigment_l}};
}

Expected<Aim> aim_from_json(const json& document, const std::string& file) {
    if (const auto version = check_format(document, "finch-aim", 1, file); !version)
        return tl::unexpected(version.error());
    std::vector<Error> faults;
    JsonFields f(document, "", faults);
    Aim a;
    a.title = f.text_or("title", a.title);
    a.place = f.text_or("place", "");
    for (const JsonFields& w : f.list("wishes"))
        a.wishes.push_back(read_wish(w));
    a.pieces = f.whole_or("pieces", 1, 1, 1000000);
    a.fill = {mm(f.number_or("line_length_mm", 10, 0.1, 1000)), f.number_or("area_mm2", 100, 0.01, 1e6)};
    a.working_part = f.flag_or("working_part", false);
    a.pigment_l = f.number_or("pigment_l_star", 30, 0, 100);
    f.nothing_else();
    if (auto fault = first_fault(faults, file))
        return tl::unexpected(*fault);
    return a;
}

} // namespace finch
