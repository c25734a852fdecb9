// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "bench/setup.h"
#include "formats/folders.h"
#include "physics/metal.h"
#include "safety/safety_table.h"

#include <string>
#include <vector>

namespace finch {

/// All metals and the process model. A file of the user's that cannot be read is left out, and named in `troubles`;
/// a shipped one that cannot be read is an error.
[[nodiscard]] Expected<Materials> load_materials(const DataFolders& folders, std::vector<Error>* troubles = nullptr);

/// What the questions before a run rest on: the user's safety.json over the shipped one, which is taken, with the fault
/// among `troubles`, where that cannot be read.
[[nodiscard]] Expected<SafetyTable> load_safety(const DataFolders& folders, std::vector<Error>* troubles = nullptr);

/// A bench by path, by the name of a file in benches, or by its own name; case does not matter.
[[nodiscard]] Expected<Bench> load_bench(const DataFolders& folders, const std::string& name_or_file);
/// Stock by path, or by the name of a file in stock.
[[nodiscard]] Expected<Stock> load_stock(const DataFolders& folders, const std::string& name_or_file);

/// All benches, by the names of their files; those that cannot be read are named in `troubles`.
[[nodiscard]] std::vector<Bench> load_benches(const DataFolders& folders, std::vector<Error>* troubles = nullptr);

/// Names of the JSON files of a kind ("benches", "stock"), sorted, without their ending.
[[nodiscard]] std::vector<std::string> data_names(const DataFolders& folders, const std::string& kind);

} // namespace finch
