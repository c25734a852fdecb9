// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "physics/metal.h"
#include "quantity/error.h"

#include <nlohmann/json_fwd.hpp>
#include <string>

namespace finch {

/// A vectors document with every expected output replaced by the program's own. Expected outputs may be absent; an
/// input that the model refuses gets its error code in the place of the result.
/// Models: "anneal-color". Errors: reference.unknown_model, reference.bad_document.
[[nodiscard]] Expected<nlohmann::json> reference_document(const std::string& model, nlohmann::json document,
                                                          const Materials& materials);

} // namespace finch
