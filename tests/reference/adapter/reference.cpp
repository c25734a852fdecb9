// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "reference/adapter/reference.h"

#include "reference/adapter/reference_models.h"

#include <nlohmann/json.hpp>
#include <stdexcept>

namespace finch {

using json = nlohmann::json;

Expected<json> reference_document(const std::string& model, json document, const Materials& materials) {
    const auto fill = model == "anneal-color" ? fill_anneal
                      : model == "removal"    ? fill_removal
                      : model == "bench-math" ? fill_bench
                      : model == "outcome"    ? fill_outcome
                      : model == "search"     ? fill_search
                                              : nullptr;
    if (fill == nullptr)
        return failure("reference.unknown_model", "No reference model is named \"" + model + "\".",
                       "Use anneal-color, removal, bench-math, outcome or search.");
    if (!document.is_object())
        return failure("reference.bad_document", "A vectors document is an object.", "Pass the whole vectors file.");
    // The reference tells every film without a reading alike (docs/decisions/0047-bands-before-and-after.md).
    Materials plain = materials;
    plain.model.spread.film_steep = 0;
    try {
        fill(document, plain);
    } catch (const json::exception& e) {
        return failure("reference.bad_document",
                       std::string("The vectors document is not of the known shape: ") + e.what(),
                       "Compare it with tests/data/vectors.");
    } catch (const std::out_of_range& e) {
        return failure("reference.bad_document",
                       std::string("A vector names a metal or coating that is not known: ") + e.what(),
                       "Compare it with tests/data/vectors.");
    }
    return document;
}

} // namespace finch
