// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "document/json_fields.h"
#include "physics/surface_constants.h"

#include <map>
#include <string>
#include <utility>

namespace finch {

/// Reads constants one by one, {"value": .., "uncertainty": .., "source": ..}, each with its origin kept.
class ConstantsReader {
public:
    ConstantsReader(JsonFields fields, std::map<std::string, ConstantOrigin>& origins)
        : fields_(std::move(fields)), origins_(origins) {}

    double operator()(const char* key, double low, double high, double si = 1) {
        if (!fields_.has(key)) {
            fields_.fault(key, "This constant is missing.", "Add it with value, uncertainty and source.");
            return low * si;
        }
        JsonFields f = fields_.object(key);
        origins_[key] = {f.text("uncertainty"), f.text("source")};
        return f.number("value", low, high) * si;
    }

    /// A constant that a workshop's own file may be older than.
    double or_else(const char* key, double otherwise, double low, double high) {
        return fields_.has(key) ? (*this)(key, low, high) : otherwise;
    }

private:
    JsonFields fields_;
    std::map<std::string, ConstantOrigin>& origins_;
};

/// Blocks of material documents that describe coats, compounds and materials that nothing is predicted for.
[[nodiscard]] CoatConstants read_coat(JsonFields fields);
[[nodiscard]] CompoundTable read_compounds(JsonFields fields);
[[nodiscard]] NonMetal read_non_metal(JsonFields fields);
[[nodiscard]] DurabilityRow read_durability(JsonFields fields);

} // namespace finch
