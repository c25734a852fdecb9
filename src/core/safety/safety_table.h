// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "quantity/error.h"

#include <map>
#include <nlohmann/json_fwd.hpp>
#include <string>
#include <vector>

namespace finch {

/// How an answer is taken: the run may go on, may go on with care, or is refused.
enum class GateVerdict { fine, care, refused };

/// What may lie under a part.
struct UnderChoice {
    std::string key, words, text;
    GateVerdict verdict = GateVerdict::fine;
    bool operator==(const UnderChoice&) const = default;
};

/// What the questions before a run rest on; data/safety.json, which a shop puts its own rules in.
struct SafetyTable {
    std::string deferral; ///< who comes first
    double look_every_min = 15;
    double stay_over_min = 2;      ///< longer runs ask who stays
    double bright_from_share = .6; ///< of the beam that a bare surface returns, from which it is asked about
    double thin_mm = 0.6;
    int creeps_from_passes = 20;
    double hot_from_k = 25;
    std::vector<UnderChoice> under;
    std::map<std::string, std::string> fume, coat_fume; ///< by metal, and by coat
    std::string film_fume;
};
/// Errors: document.* with the field.
[[nodiscard]] Expected<SafetyTable> safety_from_json(const nlohmann::json& document, const std::string& file);

} // namespace finch
