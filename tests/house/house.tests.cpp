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
#include <vector>

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

using Rooms = std::set<std::string>;

Rooms operator+(Rooms a, const Rooms& b) {
    a.insert(b.begin(), b.end());
    return a;
}

const Rooms quantity{"core/quantity"},
    documents = quantity + Rooms{"core/document"}, benches = documents + Rooms{"core/bench"},
    physics = benches + Rooms{"core/physics"}, recipes = physics + Rooms{"core/recipe"},
    evidence = recipes + Rooms{"core/search", "core/evidence"};
const Rooms below{"core", "formats", "vision", "record", "bench_link"};
const Rooms drawn{"app/session", "app/theme", "app/instruments"};

/// Rooms from the ground up; a file may include its own room and those listed for it.
const std::map<std::string, Rooms> may_see{
    {"core/quantity", {}},
    {"core/document", quantity},
    {"core/bench", documents},
    {"core/physics", benches},
    {"core/recipe", physics},
    {"core/piece", recipes},
    {"core/search", recipes},
    {"core/evidence", recipes + Rooms{"core/search"}},
    {"core/proof", evidence},
    {"core/safety", recipes + Rooms{"core/piece"}},
    {"formats", {"core"}},
    {"vision", {"core"}},
    {"record", {"core"}},
    {"bench_link", {"core"}},
    {"standin", {"core", "formats", "bench_link"}},
    {"history", below + Rooms{"standin"}},
    {"cli", below},
    // Inside the program: the session knows no theme and no widget, stations do not know each other or the shell.
    {"app/session", below},
    {"app/theme", {"core", "app/session"}},
    {"app/instruments", {"core", "app/session", "app/theme"}},
    {"app/actions", {"core", "app/session", "app/theme", "app/instruments"}},
    {"app/stations/bench", below + drawn},
    {"app/stations/aim", below + drawn},
    {"app/stations/proof", below + drawn},
    {"app/stations/piece", below + drawn},
    {"app/stations/run", below + drawn},
    {"app/stations/logbook", below + drawn},
    {"app/shell", below + drawn +
                      Rooms{"app/actions", "app/stations/bench", "app/stations/aim", "app/stations/proof",
                            "app/stations/piece", "app/stations/run", "app/stations/logbook"}},
    {"app", below + drawn +
                Rooms{"app/shell", "app/actions", "app/stations/bench", "app/stations/aim", "app/stations/proof",
                      "app/stations/piece", "app/stations/run", "app/stations/logbook"}},
};

/// "core/bench", "app/session", "app/stations/proof", "record"; files beside the rooms of app are in "app".
std::string room_of(const fs::path& relative) {
    std::vector<std::string> parts;
    for (const auto& part : relative.parent_path())
        parts.push_back(part.string());
    const std::size_t deep = parts.front() == "core" || parts.front() == "app" ? parts.size() : 1;
    std::string out;
    for (std::size_t i = 0; i < std::min(deep, parts.size()); ++i)
        out += (out.empty() ? "" : "/") + parts[i];
    return out;
}

bool allowed(const std::string& room, const std::string& seen) {
    const Rooms& rooms = may_see.at(room);
    return seen == room || rooms.contains(seen) || (seen.starts_with("core/") && rooms.contains("core"));
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
            if (target.string().starts_with("moc_"))
                continue; // what is written for the class of this very file
            const std::string seen =
                fs::exists(src / "core" / target) ? room_of(fs::path("core") / target) : room_of(target);
            INFO("includes " << target);
            CHECK(allowed(room, seen));
        }
        if (room.starts_with("core/") || room == "vision") {
            INFO("no Qt below the formats");
            CHECK(text.find("#include <Q") == std::string::npos);
        }
        INFO("depends on the locale, throws, or is not linear");
        if (path.filename() != "plain_numbers.h")
            for (const char* word :
                 {"std::stod(", "std::stoi(", "std::stol(", "std::regex", "strtod(", "atof(", "setlocale("})
                CHECK(text.find(word) == std::string::npos);
    }
}

TEST_CASE("the simulated bench shares no formula with what it tests", "[house]") {
    const fs::path src = FINCH_SOURCE "/src";
    static const std::regex include("#include \"([^\"]+)\"");
    std::vector<fs::path> open = sources(src / "standin");
    std::set<fs::path> seen(open.begin(), open.end());
    while (!open.empty()) {
        const fs::path path = open.back();
        open.pop_back();
        const std::string text = text_of(path), here = fs::relative(path, src).string();
        INFO("reached " << here);
        // Numbers, set-up, recipe, steps and files; nothing that computes what a mark will be.
        for (const char* room : {"core/physics", "core/evidence", "core/piece", "vision"})
            CHECK_FALSE(here.starts_with(room));
        if (here.starts_with("core/recipe"))
            CHECK((here == "core/recipe/recipe.h" || here == "core/recipe/process.h"));
        if (here.starts_with("standin"))
            for (const char* call : {"spot_at(", "waist(", "pulse_output(", "predict(", "delivered_pulse_width("})
                CHECK(text.find(call) == std::string::npos);
        for (std::sregex_iterator it(text.begin(), text.end(), include), end; it != end; ++it)
            for (const fs::path& there : {src / (*it)[1].str(), src / "core" / (*it)[1].str()})
                if (fs::exists(there) && seen.insert(there).second)
                    open.push_back(there);
    }
    CHECK(seen.size() > 20);
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
            if (path.extension() == ".cpp") {
                // By the name of a whole file, not as a part of another's.
                const std::regex listed("[ /(\n]" +
                                        path.filename().string().substr(0, path.filename().string().find('.')) +
                                        "\\.[a-z.]*cpp");
                CHECK(std::regex_search(lists, listed));
            } else
                CHECK(text.find("#pragma once") != std::string::npos);
            CHECK(std::count(text.begin(), text.end(), '\n') <= (path.extension() == ".h" ? 240 : 510));
        }
    }
}

TEST_CASE("every document that ships is described with an example", "[house]") {
    const std::string formats = text_of(FINCH_SOURCE "/docs/formats.md");
    for (const char* name :
         {"finch-bench",          "finch-stock",         "finch-recipe",        "finch-fill",
          "finch-sheet",          "finch-reading",       "finch-prediction",    "finch-metal",
          "finch-metal-optics",   "finch-oxide-optics",  "finch-process-model", "finch-coatings",
          "finch-compounds",      "finch-non-metals",    "finch-durability",    "finch-aim",
          "finch-logbook",        "finch-draft",         "finch-setup",         "finch-sheet-record",
          "finch-reading-record", "finch-recipe-record", "finch-focus",         "finch-outbox",
          "finch-standin-nature", "finch-camera",        "finch-timed-runs",    "finch-scanner",
          "finch-job-record",     "finch-placed",        "finch-relief-plan",   "finch-relief-schools",
          "finch-film-work",      "finch-scrap",         "finch-scrap-bin",     "finch-field-finding",
          "finch-film-plan",      "finch-price",         "finch-texts",         "finch-run",
          "finch-run-record",     "finch-safety",        "finch-gates",         "finch-run-plan",
          "finch-camera-record"}) {
        INFO(name);
        CHECK(formats.find(name) != std::string::npos);
    }
}
