// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/data_folder.h"

#include "bench/bench_json.h"

#include <algorithm>
#include <cctype>
#include <cstdlib>
#include <fmt/format.h>
#include <fstream>
#include <sstream>

namespace finch {
namespace fs = std::filesystem;
namespace {

constexpr std::uintmax_t largest_text = 64u << 20u;

std::vector<fs::path> json_files(const fs::path& folder) {
    std::vector<fs::path> out;
    std::error_code fault;
    for (fs::recursive_directory_iterator it(folder, fault), end; !fault && it != end; it.increment(fault))
        if (it->path().extension() == ".json")
            out.push_back(it->path());
    std::sort(out.begin(), out.end());
    return out;
}

/// The file that a user means by a path or by a bare name.
Expected<fs::path> resolve(const fs::path& folder, const std::string& kind, const std::string& name_or_file) {
    std::error_code fault;
    if (fs::is_regular_file(name_or_file, fault))
        return fs::path(name_or_file);
    std::string name = name_or_file;
    std::transform(name.begin(), name.end(), name.begin(), [](unsigned char c) { return std::tolower(c); });
    const fs::path named = folder / kind / (name + ".json");
    if (name.find('/') == std::string::npos && fs::is_regular_file(named, fault))
        return named;
    return failure("file.missing", fmt::format("There is no file or {} named \"{}\".", kind, name_or_file),
                   fmt::format("Give a path, or one of: {}.", fmt::join(data_names(folder, kind), ", ")));
}

} // namespace

Expected<std::string> read_text_file(const fs::path& path) {
    std::error_code fault;
    const auto size = fs::file_size(path, fault);
    if (fault)
        return failure("file.missing", "The file cannot be found.", "Check the path.", {path.string(), 0, {}});
    if (size > largest_text)
        return failure("file.too_large", "The file is over 64 MB, too large for a document.", "Choose the right file.",
                       {path.string(), 0, {}});
    std::ifstream in(path, std::ios::binary);
    std::ostringstream text;
    if (!in || !(text << in.rdbuf() || size == 0))
        return failure("file.unreadable", "The file cannot be read.", "Check its permissions.", {path.string(), 0, {}});
    return text.str();
}

Expected<fs::path> data_folder() {
    std::vector<fs::path> candidates;
    if (const char* set = std::getenv("FINCH_DATA"); set != nullptr && *set != '\0')
        candidates.emplace_back(set);
    // The name a program was called by says nothing when it was found on the search path; the kernel knows.
    std::error_code none;
    const fs::path program = fs::read_symlink("/proc/self/exe", none);
    candidates.push_back(program.parent_path() / ".." / "share" / "gilded-finch" / "data");
    candidates.emplace_back(FINCH_SOURCE_DATA);
    std::error_code fault;
    for (const fs::path& candidate : candidates)
        if (fs::is_regular_file(candidate / "materials" / "process-model.json", fault))
            return fs::weakly_canonical(candidate, fault);
    return failure("data.missing", "The data folder with benches and materials cannot be found.",
                   "Set FINCH_DATA to it, or install the program again.");
}

Expected<Materials> load_materials(const fs::path& folder) {
    std::vector<MaterialFile> files;
    for (const fs::path& path : json_files(folder / "materials")) {
        auto text = read_text_file(path);
        if (!text)
            return tl::unexpected(text.error());
        files.push_back({path.filename().string(), std::move(*text)});
    }
    return materials_from_files(files);
}

Expected<Bench> load_bench(const fs::path& folder, const std::string& name_or_file) {
    return resolve(folder, "benches", name_or_file).and_then([](const fs::path& path) {
        return read_text_file(path).and_then(
            [&](const std::string& text) { return bench_from_text(text, path.filename().string()); });
    });
}

Expected<Stock> load_stock(const fs::path& folder, const std::string& name_or_file) {
    return resolve(folder, "stock", name_or_file).and_then([](const fs::path& path) {
        return read_text_file(path).and_then(
            [&](const std::string& text) { return stock_from_text(text, path.filename().string()); });
    });
}

std::vector<std::string> data_names(const fs::path& folder, const std::string& kind) {
    std::vector<std::string> out;
    for (const fs::path& path : json_files(folder / kind))
        out.push_back(path.stem().string());
    return out;
}

} // namespace finch
