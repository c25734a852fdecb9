// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "physics/anneal.h"
#include "physics/metal.h"
#include "recipe/recipe.h"
#include "recipe/scene.h"

#include <cmath>
#include <nlohmann/json.hpp>

namespace finch {

/// Each fills the expected outputs of a vectors document of its model. Each has its own vocabulary, and its file is the
/// only place that knows it. Throws nlohmann::json::exception or std::out_of_range on a document of another shape.
void fill_anneal(nlohmann::json& document, const Materials& materials);
void fill_removal(nlohmann::json& document, const Materials& materials);
void fill_bench(nlohmann::json& document, const Materials& materials);
void fill_outcome(nlohmann::json& document, const Materials& materials);
void fill_search(nlohmann::json& document, const Materials& materials);

/// What the anneal and outcome vectors share: a bench, a stock and a recipe, or the fault that refuses them.
struct VectorCase {
    Bench bench;
    Stock stock;
    Recipe recipe;
    Fill fill;
    Evidence evidence;
    std::shared_ptr<const Metal> metal;
    ViewingAngles angles;
};
[[nodiscard]] std::string refusal_code(InputFault fault);
[[nodiscard]] std::string warning_code(MarkWarning warning);
[[nodiscard]] std::string metal_key(const std::string& name); ///< empty: unknown
/// Source, optics, settings and what of the work is no choice of words.
[[nodiscard]] VectorCase read_numbers(const nlohmann::json& source, const nlohmann::json& optics,
                                      const nlohmann::json& settings, const nlohmann::json& work);

/// The number under a key, what stands for it where there is none, or not a number where there is something else.
inline double number(const nlohmann::json& object, const char* key, double otherwise) {
    const auto it = object.find(key);
    if (it == object.end() || it->is_null())
        return otherwise;
    return it->is_number() ? it->get<double>() : std::nan("");
}

} // namespace finch
