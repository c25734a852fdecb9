// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "physics/metal.h"

#include <nlohmann/json_fwd.hpp>

namespace finch {

/// Each fills the expected outputs of a vectors document of its model. Each has its own vocabulary, and its file is the
/// only place that knows it. Throws nlohmann::json::exception or std::out_of_range on a document of another shape.
void fill_anneal(nlohmann::json& document, const Materials& materials);
void fill_removal(nlohmann::json& document, const Materials& materials);
void fill_bench(nlohmann::json& document, const Materials& materials);

} // namespace finch
