// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "quantity/error.h"

#include <functional>
#include <nlohmann/json_fwd.hpp>
#include <optional>
#include <vector>

namespace finch {

class JsonFields;

/// What a batch of pieces is costed from. Money in the shop's currency, shares 0 to 1.
struct CostRules {
    double machine_rate_h = 0;  ///< of the bench while it marks
    double operator_rate_h = 0; ///< of hands
    double mark_s = 0, handling_s = 0;
    double batch_s = 0; ///< hands that are needed once for all pieces that are handled together
    int together = 1;   ///< pieces that are
    double setup_min = 0, proof_min = 0;
    int proof_blanks = 0;
    double blank = 0, consumable = 0; ///< of a piece
    double attend = 0;                ///< share of the marking in which an operator is paid as well
    double fixed = 0;
    bool operator==(const CostRules&) const = default;
};
/// A batch: `one_off` is the part of `total` that is there however many pieces are made.
struct JobCost {
    int started = 0;
    double machine = 0, hands = 0, material = 0, one_off = 0, total = 0;
    double unit = 0, one_off_per_part = 0; ///< of a good piece
    /// What one piece more adds.
    double per_piece = 0;
};
/// Cost of so many good pieces when so many are started: bench and hands while marking, handling, setting up and
/// proving, and the blanks of all of them, the proofs' too. Errors: cost.pieces, cost.share, setup.negative.
[[nodiscard]] Expected<JobCost> job_cost(const CostRules& rules, int wanted, int started);

/// The margin is a share of the price; rounded up to the step (0 = not). Valid: cost and step >= 0, margin 0 to 0.99.
[[nodiscard]] double price_of(double cost, double margin, double step);

/// One row of a price list.
struct PriceTier {
    int pieces = 0;
    double unit_cost = 0;
    double unit_price = 0;   ///< never higher than that of fewer pieces
    double total = 0;        ///< at `unit_price`
    double cheaper_from = 0; ///< so many of the tier before cost as much as this tier
};
/// Errors: those of `unit_cost`.
[[nodiscard]] Expected<std::vector<PriceTier>> price_list(std::vector<int> pieces, double margin, double step,
                                                          const std::function<Expected<double>(int)>& unit_cost);

/// What a price rests on besides the work itself; a choice of the shop.
struct PriceRules {
    double operator_rate_h = 0; ///< 0 = as the bench's rate, which then is for bench and hands
    double setup_min = 20, proof_min = 30;
    int proof_blanks = 2;
    double blank = 0, fixed = 0, attend = 0;
    double margin = 0.4, step = 0.05;
    std::vector<int> tiers{1, 10, 25, 50, 100};
    std::optional<double> after_min = {}; ///< of hands on each piece once it is marked; nothing: as is usual
    bool operator==(const PriceRules&) const = default;
};
[[nodiscard]] nlohmann::json to_json(const PriceRules& rules);
[[nodiscard]] nlohmann::json to_json(const CostRules& rules);
/// Faults go to the fields' list.
[[nodiscard]] PriceRules read_price_rules(JsonFields& fields);
[[nodiscard]] CostRules read_cost_rules(JsonFields& fields);

} // namespace finch
