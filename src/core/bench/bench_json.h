// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "bench/setup.h"
#include "quantity/error.h"

#include <nlohmann/json_fwd.hpp>
#include <string>
#include <string_view>

namespace finch {

class JsonFields;

inline constexpr int bench_format_version = 1;

/// Reads a `finch-bench` document. Errors name file, field and fix.
[[nodiscard]] Expected<Bench> bench_from_text(std::string_view text, const std::string& file);
[[nodiscard]] nlohmann::json to_json(const Bench& bench);

/// Reads a `finch-stock` document.
[[nodiscard]] Expected<Stock> stock_from_text(std::string_view text, const std::string& file);
[[nodiscard]] Stock read_stock(JsonFields fields);
[[nodiscard]] nlohmann::json to_json(const Stock& stock);

/// Reads a `finch-setup` document: bench, stock and focus together.
[[nodiscard]] Expected<Setup> setup_from_json(const nlohmann::json& document, const std::string& file);
[[nodiscard]] nlohmann::json to_json(const Setup& setup);

[[nodiscard]] std::string_view word(Finish finish);
[[nodiscard]] std::string_view word(Coating coating);
[[nodiscard]] std::string_view word(FocusMethod method);

} // namespace finch
