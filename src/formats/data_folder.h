// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "bench/setup.h"
#include "physics/metal.h"

#include <filesystem>
#include <string>
#include <vector>

namespace finch {

/// Text of a file. Errors: file.missing, file.too_large (over 64 MB), file.unreadable.
[[nodiscard]] Expected<std::string> read_text_file(const std::filesystem::path& path);

/// Where benches, materials and the demo live: $FINCH_DATA, else beside the program, else the source tree.
/// Errors: data.missing.
[[nodiscard]] Expected<std::filesystem::path> data_folder();

/// All metals and the process model of `folder`/materials.
[[nodiscard]] Expected<Materials> load_materials(const std::filesystem::path& folder);

/// A bench by path, or by the name of a file in `folder`/benches.
[[nodiscard]] Expected<Bench> load_bench(const std::filesystem::path& folder, const std::string& name_or_file);
/// Stock by path, or by the name of a file in `folder`/stock.
[[nodiscard]] Expected<Stock> load_stock(const std::filesystem::path& folder, const std::string& name_or_file);

/// Names of the JSON files in `folder`/`kind`, sorted, without their ending.
[[nodiscard]] std::vector<std::string> data_names(const std::filesystem::path& folder, const std::string& kind);

} // namespace finch
