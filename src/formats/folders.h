// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "quantity/error.h"

#include <filesystem>
#include <string>

namespace finch {

/// Text of a file. Errors: file.missing, file.too_large (over 64 MB), file.unreadable.
[[nodiscard]] Expected<std::string> read_text_file(const std::filesystem::path& path);

/// Where benches, materials and stock live: what ships with the program, and over it what the user made. A file of the
/// user's replaces the shipped one of the same name.
struct DataFolders {
    std::filesystem::path shipped;
    std::filesystem::path own; ///< may be empty, or not be there

    DataFolders(std::filesystem::path shipped_, std::filesystem::path own_ = {}) // NOLINT: a folder is a data folder
        : shipped(std::move(shipped_)), own(std::move(own_)) {}
    DataFolders(const char* shipped_) : shipped(shipped_) {} // NOLINT
};

/// $FINCH_DATA, else beside the program, else the source tree it was built in; over it
/// ~/.local/share/gilded-finch/data. Errors: data.missing.
[[nodiscard]] Expected<DataFolders> data_folders();

} // namespace finch
