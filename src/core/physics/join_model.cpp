// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "physics/join_model.h"

#include "physics/constants_reader.h"

#include <nlohmann/json.hpp>

namespace finch {
namespace {

struct JoinConstant {
    const char* key;
    double JoinModel::*value;
    double low, high;
};
constexpr JoinConstant join_constants[]{JoinConstant{"boil_spread", &JoinModel::boil_spread, 0.01, 3},
                                        {"torn_spread", &JoinModel::torn_spread, 0.01, 3},
                                        {"heat_spread", &JoinModel::heat_spread, 0.01, 3},
                                        {"melt_spread", &JoinModel::melt_spread, 0.01, 3},
                                        {"dark_spread", &JoinModel::dark_spread, 0.01, 3},
                                        {"frost_spread", &JoinModel::frost_spread, 0.01, 3},
                                        {"seen_from", &JoinModel::seen_from, 0.01, 5},
                                        {"seen_spread", &JoinModel::seen_spread, 0.01, 3},
                                        {"merge_from", &JoinModel::merge_from, 0, 1},
                                        {"merge_spread", &JoinModel::merge_spread, 0.01, 3},
                                        {"frost_apart", &JoinModel::frost_apart, 0.01, 5},
                                        {"frost_merged", &JoinModel::frost_merged, 0.01, 5},
                                        {"tarnish_spread", &JoinModel::tarnish_spread, 0.01, 3},
                                        {"lift_clear_nm", &JoinModel::lift_clear_nm, 0, 1e5},
                                        {"recast_short", &JoinModel::recast_short, 0, 0.95},
                                        {"recast_long", &JoinModel::recast_long, 0, 0.95},
                                        {"recast_width_ns", &JoinModel::recast_width_ns, 1, 1000},
                                        {"recast_decay", &JoinModel::recast_decay, 0.1, 100},
                                        {"recast_pass", &JoinModel::recast_pass, 0, 0.95},
                                        {"recast_pulses", &JoinModel::recast_pulses, 1, 1e5},
                                        {"groove", &JoinModel::groove, 0, 100},
                                        {"width_low_ns", &JoinModel::width_low_ns, 0.1, 100},
                                        {"width_high_ns", &JoinModel::width_high_ns, 100, 10000},
                                        {"clamped_spread", &JoinModel::clamped_spread, 0, 5},
                                        {"vapour_spread", &JoinModel::vapour_spread, 0.01, 5},
                                        {"plate_share", &JoinModel::plate_share, 0.05, 1},
                                        {"film_l_spread", &JoinModel::film_l_spread, 0, 50},
                                        {"polished_spread", &JoinModel::polished_spread, 0, 50},
                                        {"pale_floor_spread", &JoinModel::pale_floor_spread, 0, 50},
                                        {"gain_floor", &JoinModel::gain_floor, 0.001, 2},
                                        {"gain_alone", &JoinModel::gain_alone, 0.001, 2},
                                        {"coat_spread", &JoinModel::coat_spread, 0.01, 3},
                                        {"mark_spread", &JoinModel::mark_spread, 0.01, 3},
                                        {"done_spread", &JoinModel::done_spread, 0.01, 3},
                                        {"tint_spread", &JoinModel::tint_spread, 0.01, 3},
                                        {"gas_spread", &JoinModel::gas_spread, 0.01, 3},
                                        {"gas_metal", &JoinModel::gas_metal, 0, 1},
                                        {"gas_bleach", &JoinModel::gas_bleach, 0.1, 1000},
                                        {"black_low_j_cm2", &JoinModel::black_low_j_cm2, 0.001, 1000},
                                        {"black_high_j_cm2", &JoinModel::black_high_j_cm2, 0.001, 1000},
                                        {"black_width_power", &JoinModel::black_width_power, 0, 2},
                                        {"black_spread", &JoinModel::black_spread, 0.01, 3},
                                        {"black_width_ns", &JoinModel::black_width_ns, 0.1, 1000},
                                        {"black_width_spread", &JoinModel::black_width_spread, 0.01, 3},
                                        {"black_pulses", &JoinModel::black_pulses, 1, 1e6},
                                        {"black_pulses_spread", &JoinModel::black_pulses_spread, 0.01, 3},
                                        {"black_l_from", &JoinModel::black_l_from, 0, 100},
                                        {"black_l_drop", &JoinModel::black_l_drop, 0, 100},
                                        {"powder_j_cm2", &JoinModel::powder_j_cm2, 0.001, 1000},
                                        {"powder_width_power", &JoinModel::powder_width_power, 0, 2},
                                        {"powder_incubation", &JoinModel::powder_incubation, 0.5, 1},
                                        {"powder_spread", &JoinModel::powder_spread, 0.01, 3},
                                        {"fluence_free", &JoinModel::fluence_free, 1, 10},
                                        {"fluence_close", &JoinModel::fluence_close, 1, 100}};

constexpr std::array slope_names{"power", "width", "frequency", "speed", "spot"};

} // namespace

JoinModel read_join_model(ConstantsReader& constants) {
    JoinModel m;
    for (const JoinConstant& c : join_constants)
        m.*c.value = constants(c.key, c.low, c.high);
    for (const auto& [what, slopes] :
         {std::pair{"film", &m.film_slopes}, {"depth", &m.depth_slopes}, {"coat", &m.coat_slopes}})
        for (std::size_t i = 0; i < slopes->size(); ++i)
            slopes->at(i) = constants((std::string(what) + "_slope_" + slope_names.at(i)).c_str(), 0, 10);
    return m;
}

} // namespace finch
