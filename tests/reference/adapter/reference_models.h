// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "physics/metal.h"

#include <cmath>
#include <nlohmann/json.hpp>

namespace finch {

/// Each fills the expected outputs of a vectors document of its model. Each has its own vocabulary, and its file is the
/// only place that knows it. Throws nlohmann::json::exception or std::out_of_range on a document of another shape.
void fill_anneal(nlohmann::json& document, const Materials& materials);
void fill_removal(nlohmann::json& document, const Materials& materials);
void fill_bench(nlohmann::json& document, const Materials& materials);

/// The number under a key, what stands for it where there is none, or not a number where there is something else.
inline double number(const nlohmann::json& object, const char* key, double otherwise) {
    const auto it = object.find(key);
    if (it == object.end() || it->is_null())
        return otherwise;
    return it->is_number() ? it->get<double>() : std::nan("");
}

} // namespace finch
