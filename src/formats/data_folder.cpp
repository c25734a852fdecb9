// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/data_folder.h"

#include "bench/bench_json.h"
#include "document/json_fields.h"

#include <algorithm>
#include <cctype>
#include <cstdlib>
#include <fmt/format.h>
#include <fstream>
#include <map>
#include <nlohmann/json.hpp>
#include <sstream>

namespace finch {
namespace fs = std::filesystem;
namespace {

constexpr std::uintmax_t largest_text = 64u << 20u;

std::string lower(std::string text) {
    std::transform(text.begin(), text.end(), text.begin(), [](unsigned char c) { return std::tolower(c); });
    return text;
}

struct DataFile {
    fs::path path;
    bool own = false;
};

/// The files of a kind by their name within it; the user's over the shipped ones.
std::map<std::string, DataFile> json_files(const DataFolders& folders, const std::string& kind) {
    std::map<std::string, DataFile> out;
    for (const fs::path& root : {folders.shipped, folders.own}) {
        if (root.empty())
            continue;
        std::error_code fault;
        const fs::path top = root / kind;
        for (fs::recursive_directory_iterator it(top, fault), end; !fault && it != end; it.increment(fault))
            if (it->path().extension() == ".json")
                out[lower(it->path().lexically_relative(top).string())] = {it->path(), root == folders.own};
    }
    return out;
}

/// The file that a user means by a path or by a bare name.
Expected<fs::path> resolve(const DataFolders& folders, const std::string& kind, const std::string& name_or_file) {
    std::error_code fault;
    if (fs::is_regular_file(name_or_file, fault))
        return fs::path(name_or_file);
    const auto files = json_files(folders, kind);
    if (const auto it = files.find(lower(name_or_file) + ".json"); it != files.end())
        return it->second.path;
    return failure("file.missing", fmt::format("There is no file or {} named \"{}\".", kind, name_or_file),
                   fmt::format("Give a path, or one of: {}.", fmt::join(data_names(folders, kind), ", ")));
}

Expected<Bench> bench_in(const fs::path& path) {
    return read_text_file(path).and_then(
        [&](const std::string& text) { return bench_from_text(text, path.filename().string()); });
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

Expected<DataFolders> data_folders() {
    const auto variable = [](const char* name) {
        const char* set = std::getenv(name);
        return set != nullptr ? fs::path(set) : fs::path();
    };
    std::vector<fs::path> candidates;
    if (const fs::path set = variable("FINCH_DATA"); !set.empty())
        candidates.push_back(set);
    // The name a program was called by says nothing when it was found on the search path; the kernel knows.
    std::error_code none;
    const fs::path beside = fs::read_symlink("/proc/self/exe", none).parent_path();
    candidates.push_back(beside / ".." / "share" / "gilded-finch" / "data");
    candidates.push_back(beside / ".." / ".." / ".." / ".." / "data"); // build/PRESET/src/ROOM of a source tree
    candidates.emplace_back("/usr/share/gilded-finch/data");
    const fs::path share =
        !variable("XDG_DATA_HOME").empty() ? variable("XDG_DATA_HOME") : variable("HOME") / ".local" / "share";
    std::error_code fault;
    for (const fs::path& candidate : candidates)
        if (fs::is_regular_file(candidate / "materials" / "process-model.json", fault))
            return DataFolders(fs::weakly_canonical(candidate, fault), share / "gilded-finch" / "data");
    return failure("data.missing", "The data folder with benches and materials cannot be found.",
                   "Set FINCH_DATA to it, or install the program again.");
}

Expected<Materials> load_materials(const DataFolders& folders, std::vector<Error>* troubles) {
    auto found = json_files(folders, "materials");
    const auto shipped = json_files({folders.shipped}, "materials");
    while (true) {
        std::vector<MaterialFile> files;
        for (const auto& [name, file] : found) {
            auto text = read_text_file(file.path);
            if (!text)
                return tl::unexpected(text.error());
            files.push_back({file.path.string(), std::move(*text)});
        }
        auto materials = materials_from_files(files);
        if (materials)
            return materials;
        // An alloy that ships may be of a metal that a file of the user's took the place of.
        const bool orphan = materials.error().code == "material.no_metal";
        const auto broken = std::find_if(found.begin(), found.end(), [&](const auto& f) {
            return (f.second.own || orphan) && f.second.path.string() == materials.error().place.file;
        });
        if (broken == found.end())
            return materials;
        if (troubles != nullptr)
            troubles->push_back(materials.error());
        // What ships takes its place again, where there is one.
        if (const auto it = shipped.find(broken->first); it != shipped.end() && broken->second.own)
            broken->second = it->second;
        else
            found.erase(broken);
    }
}

Expected<SafetyTable> load_safety(const DataFolders& folders, std::vector<Error>* troubles) {
    const auto in = [](const fs::path& path) {
        return read_text_file(path)
            .and_then([&](const std::string& text) { return parse_json(text, path.filename().string()); })
            .and_then(
                [&](const nlohmann::json& document) { return safety_from_json(document, path.filename().string()); });
    };
    std::error_code fault;
    if (const fs::path own = folders.own / "safety.json"; !folders.own.empty() && fs::is_regular_file(own, fault)) {
        auto table = in(own);
        if (table)
            return table;
        if (troubles != nullptr)
            troubles->push_back(table.error().in_file(own.string()));
    }
    return in(folders.shipped / "safety.json");
}

Expected<Bench> load_bench(const DataFolders& folders, const std::string& name_or_file) {
    const auto path = resolve(folders, "benches", name_or_file);
    if (path)
        return bench_in(*path);
    for (Bench& bench : load_benches(folders))
        if (lower(bench.name) == lower(name_or_file))
            return std::move(bench);
    return tl::unexpected(path.error());
}

Expected<Stock> load_stock(const DataFolders& folders, const std::string& name_or_file) {
    return resolve(folders, "stock", name_or_file).and_then([](const fs::path& path) {
        return read_text_file(path).and_then(
            [&](const std::string& text) { return stock_from_text(text, path.filename().string()); });
    });
}

std::vector<Bench> load_benches(const DataFolders& folders, std::vector<Error>* troubles) {
    std::vector<Bench> out;
    for (const auto& [name, file] : json_files(folders, "benches")) {
        auto bench = bench_in(file.path);
        if (bench)
            out.push_back(std::move(*bench));
        else if (troubles != nullptr)
            troubles->push_back(bench.error().in_file(file.path.string()));
    }
    return out;
}

std::vector<std::string> data_names(const DataFolders& folders, const std::string& kind) {
    std::vector<std::string> out;
    for (const auto& [name, file] : json_files(folders, kind))
        out.push_back(file.path.stem().string());
    std::sort(out.begin(), out.end());
    return out;
}

} // namespace finch
