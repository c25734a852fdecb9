// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include <algorithm>
#include <catch2/catch.hpp>
#include <filesystem>
#include <fstream>
#include <map>
#include <regex>
#include <set>
#include <sstream>

namespace fs = std::filesystem;

namespace {

std::string text_of(const fs::path& path) {
    std::ifstream in(path);
    std::ostringstream out;
    out << in.rdbuf();
    return out.str();
}

std::vector<fs::path> sources(const fs::path& root) {
    std::vector<fs::path> out;
    for (const auto& entry : fs::recursive_directory_iterator(root))
        if (entry.path().extension() == ".h" || entry.path().extension() == ".cpp")
            out.push_back(entry.path());
    std::sort(out.begin(), out.end());
    return out;
}

/// Rooms from the ground up; a file may include its own room and those listed for it.
const std::map<std::string, std::set<std::string>> may_see{
    {"core/quantity", {}},
    {"core/document", {"core/quantity"}},
    {"core/bench", {"core/quantity", "core/document"}},
    {"core/physics", {"core/quantity", "core/document", "core/bench"}},
    {"core/recipe", {"core/quantity", "core/document", "core/bench", "core/physics"}},
    {"core/piece", {"core/quantity", "core/document", "core/bench", "core/physics", "core/recipe"}},
    {"core/proof", {"core/quantity", "core/document", "core/bench", "core/physics", "core/recipe"}},
    {"formats", {"core"}},
    {"vision", {"core"}},
    {"record", {"core"}},
    {"standin", {"core", "formats"}},
    {"app", {"core", "formats", "vision", "record", "standin"}},
    {"cli", {"core", "formats", "vision", "record", "standin"}},
};

std::string room_of(const fs::path& relative) {
    auto it = relative.begin();
    const std::string first = it->string();
    return first == "core" ? first + "/" + std::next(it)->string() : first;
}

} // namespace

TEST_CASE("includes run one way", "[house]") {
    const fs::path src = FINCH_SOURCE "/src";
    static const std::regex include("#include \"([^\"]+)\"");
    for (const fs::path& path : sources(src)) {
        const std::string room = room_of(fs::relative(path, src));
        const std::string text = text_of(path);
        INFO(path);
        REQUIRE(may_see.contains(room));
        for (std::sregex_iterator it(text.begin(), text.end(), include), end; it != end; ++it) {
            const fs::path target = (*it)[1].str();
            const std::string seen =
                fs::exists(src / "core" / target) ? room_of(fs::path("core") / target) : room_of(target);
            INFO("includes " << target);
            const auto& allowed = may_see.at(room);
            CHECK((seen == room || allowed.contains(seen) || (seen.starts_with("core/") && allowed.contains("core"))));
        }
        if (room.starts_with("core/") || room == "vision") {
            INFO("no Qt below the formats");
            CHECK(text.find("#include <Q") == std::string::npos);
        }
    }
}

TEST_CASE("every source file is built, says its licence and keeps to its size", "[house]") {
    std::string lists;
    for (const char* root : {FINCH_SOURCE "/src", FINCH_SOURCE "/tests", FINCH_SOURCE "/benchmarks"}) {
        for (const auto& entry : fs::recursive_directory_iterator(root))
            if (entry.path().filename() == "CMakeLists.txt")
                lists += text_of(entry.path());
        for (const fs::path& path : sources(root)) {
            const std::string text = text_of(path);
            INFO(path);
            CHECK(text.find("SPDX-License-Identifier: GPL-3.0-or-later") != std::string::npos);
            if (path.extension() == ".cpp")
                CHECK(lists.find(path.filename().string()) != std::string::npos);
            else
                CHECK(text.find("#pragma once") != std::string::npos);
            CHECK(std::count(text.begin(), text.end(), '\n') <= (path.extension() == ".h" ? 240 : 500));
        }
    }
}

TEST_CASE("every document that ships is described with an example", "[house]") {
    const std::string formats = text_of(FINCH_SOURCE "/docs/formats.md");
    for (const char* name : {"finch-bench", "finch-stock", "finch-recipe", "finch-fill", "finch-sheet", "finch-reading",
                             "finch-prediction", "finch-metal", "finch-metal-optics", "finch-oxide-optics",
                             "finch-process-model", "finch-coatings", "finch-compounds", "finch-non-metals",
                             "finch-durability", "finch-aim", "finch-logbook", "finch-draft", "finch-setup"}) {
        INFO(name);
        CHECK(formats.find(name) != std::string::npos);
    }
}
