// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "recipe/quote.h"

#include "bench/positive.h"
#include "document/json_fields.h"

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

namespace finch {

Expected<JobCost> job_cost(const CostRules& r, int wanted, int started) {
    if (wanted < 1 || started < wanted)
        return failure("cost.pieces", "A batch has at least one good piece, and no more good ones than it begins with.",
                       "Enter 1 or more.");
    if (auto fault = negative({{"rate of the bench", r.machine_rate_h},
                               {"rate of hands", r.operator_rate_h},
                               {"marking time", r.mark_s},
                               {"handling time", r.handling_s},
                               {"time for all pieces together", r.batch_s},
                               {"time to set up", r.setup_min},
                               {"time to prove", r.proof_min},
                               {"number of proof blanks", static_cast<double>(r.proof_blanks)},
                               {"price of a blank", r.blank},
                               {"consumables", r.consumable},
                               {"fixed cost", r.fixed}}))
        return tl::unexpected(*fault);
    if (!(r.attend >= 0 && r.attend <= 1))
        return failure("cost.share", "A share lies outside 0 to 1.", "Enter 0.3 for 30 %.");
    const double once_h = (r.setup_min + r.proof_min) / 60, each_h = (r.attend * r.mark_s + r.handling_s) / 3600;
    const double material_each = r.blank + r.consumable;
    const int batches = (started + std::max(1, r.together) - 1) / std::max(1, r.together);
    JobCost out;
    out.started = started;
    out.machine = (started * r.mark_s / 3600 + once_h) * r.machine_rate_h;
    out.hands = (started * each_h + batches * r.batch_s / 3600 + once_h) * r.operator_rate_h;
    out.material = (started + r.proof_blanks) * material_each;
    out.one_off = r.fixed + once_h * (r.machine_rate_h + r.operator_rate_h) + r.proof_blanks * material_each;
    out.total = out.machine + out.hands + out.material + r.fixed;
    out.unit = out.total / wanted;
    out.one_off_per_part = out.one_off / wanted;
    out.per_piece = (out.total - out.one_off) / wanted;
    return out;
}

double price_of(double cost, double margin, double step) {
    const double price = cost / (1 - margin);
    return step > 0 ? std::ceil(price / step - 1e-9) * step : price;
}

Expected<std::vector<PriceTier>> price_list(std::vector<int> pieces, double margin, double step,
                                            const std::function<Expected<double>(int)>& unit_cost) {
    std::ranges::sort(pieces);
    pieces.erase(std::unique(pieces.begin(), pieces.end()), pieces.end());
    std::vector<PriceTier> out;
    for (const int n : pieces) {
        const auto cost = unit_cost(n);
        if (!cost)
            return tl::unexpected(cost.error());
        PriceTier tier{n, *cost, price_of(*cost, margin, step), 0, static_cast<double>(n)};
        if (!out.empty())
            tier.unit_price = std::min(tier.unit_price, out.back().unit_price);
        tier.total = tier.unit_price * n;
        if (!out.empty() && out.back().unit_price > 0)
            tier.cheaper_from = std::clamp(std::ceil(tier.total / out.back().unit_price - 1e-9),
                                           static_cast<double>(out.back().pieces), static_cast<double>(n));
        out.push_back(tier);
    }
    return out;
}

nlohmann::json to_json(const PriceRules& r) {
    nlohmann::json out{{"operator_rate_h", r.operator_rate_h},
                       {"setup_min", r.setup_min},
                       {"proof_min", r.proof_min},
                       {"proof_blanks", r.proof_blanks},
                       {"blank", r.blank},
                       {"fixed", r.fixed},
                       {"attend", r.attend},
                       {"margin", r.margin},
                       {"step", r.step},
                       {"tiers", r.tiers}};
    if (r.after_min)
        out["after_min"] = *r.after_min;
    return out;
}

nlohmann::json to_json(const CostRules& r) {
    return {{"machine_rate_h", r.machine_rate_h},
            {"operator_rate_h", r.operator_rate_h},
            {"mark_s", r.mark_s},
            {"handling_s", r.handling_s},
            {"batch_s", r.batch_s},
            {"together", r.together},
            {"setup_min", r.setup_min},
            {"proof_min", r.proof_min},
            {"proof_blanks", r.proof_blanks},
            {"blank", r.blank},
            {"consumable", r.consumable},
            {"attend", r.attend},
            {"fixed", r.fixed}};
}

PriceRules read_price_rules(JsonFields& f) {
    PriceRules r;
    r.operator_rate_h = f.number_or("operator_rate_h", 0, 0, 1e5);
    r.setup_min = f.number_or("setup_min", r.setup_min, 0, 1e5);
    r.proof_min = f.number_or("proof_min", r.proof_min, 0, 1e5);
    r.proof_blanks = f.whole_or("proof_blanks", r.proof_blanks, 0, 10000);
    r.blank = f.number_or("blank", 0, 0, 1e7);
    r.fixed = f.number_or("fixed", 0, 0, 1e7);
    r.attend = f.number_or("attend", 0, 0, 1);
    r.margin = f.number_or("margin", r.margin, 0, 0.95);
    r.step = f.number_or("step", r.step, 0, 1000);
    r.after_min = f.optional_number("after_min", 0, 600);
    if (const auto& tiers = f.has("tiers") ? f.raw("tiers") : nlohmann::json(); tiers.is_array()) {
        r.tiers.clear();
        for (const auto& n : tiers)
            if (r.tiers.size() < 12 && n.is_number_integer() && n >= 1 && n <= 100000)
                r.tiers.push_back(n.get<int>());
            else {
                f.fault("tiers", "A price list has up to twelve whole quantities of 1 to 100 000.",
                        "Write [1, 10, 100].");
                break;
            }
    }
    return r;
}

CostRules read_cost_rules(JsonFields& f) {
    CostRules r;
    r.machine_rate_h = f.number("machine_rate_h", 0, 1e5);
    r.operator_rate_h = f.number("operator_rate_h", 0, 1e5);
    r.mark_s = f.number("mark_s", 0, 1e8);
    r.handling_s = f.number("handling_s", 0, 1e7);
    r.batch_s = f.number_or("batch_s", 0, 0, 1e8);
    r.together = f.whole_or("together", 1, 1, 100000);
    r.setup_min = f.number("setup_min", 0, 1e5);
    r.proof_min = f.number("proof_min", 0, 1e5);
    r.proof_blanks = f.whole("proof_blanks", 0, 10000);
    r.blank = f.number("blank", 0, 1e7);
    r.consumable = f.number("consumable", 0, 1e7);
    r.attend = f.number("attend", 0, 1);
    r.fixed = f.number("fixed", 0, 1e7);
    return r;
}

} // namespace finch
