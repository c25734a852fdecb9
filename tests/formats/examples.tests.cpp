// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// What docs/formats.md shows is what the program reads.
#include "app/session/draft.h"
#include "bench/bench_json.h"
#include "document/json_fields.h"
#include "formats/data_folder.h"
#include "piece/job.h"
#include "proof/reading.h"
#include "proof/sheet.h"
#include "recipe/aim.h"
#include "recipe/recipe.h"
#include "record/entry.h"

#include <catch2/catch.hpp>
#include <fstream>
#include <nlohmann/json.hpp>
#include <QTemporaryDir>
#include <set>

using namespace finch;
using json = nlohmann::json;

namespace {

std::vector<json> documented() {
    const std::string text = read_text_file(FINCH_SOURCE "/docs/formats.md").value();
    std::vector<json> out;
    const std::string open = "```json\n", close = "\n```";
    for (std::size_t at = text.find(open); at != std::string::npos; at = text.find(open, at)) {
        at += open.size();
        const std::size_t end = text.find(close, at);
        INFO(text.substr(at, end - at));
        const auto parsed = parse_json(text.substr(at, end - at), "docs/formats.md");
        REQUIRE(parsed);
        out.push_back(*parsed);
    }
    return out;
}

/// A part that is only named by its format stands for the example of that format.
void fill_in(json& j, const std::vector<json>& examples) {
    if (j.is_object() && j.size() == 1 && j.contains("format"))
        for (const json& e : examples)
            if (e.value("format", "") == j["format"] && e.size() > 1) {
                j = e;
                break;
            }
    if (j.is_structured())
        for (json& part : j)
            if (part.is_structured())
                fill_in(part, examples);
}

} // namespace

TEST_CASE("every example of the documented formats is read as it stands", "[formats][examples]") {
    const std::vector<json> examples = documented();
    std::set<std::string> read;
    for (json e : examples) {
        const std::string format = e.value("format", e.contains("uid") ? "entry" : "");
        if (e.contains("format"))
            for (json& part : e)
                fill_in(part, examples);
        INFO(e.dump(1));
        const auto accepted = [&](const auto& result) {
            INFO((result ? "" : sentence(result.error())));
            CHECK(result);
            read.insert(format);
        };
        const auto through_a_file = [&](const auto& load) {
            QTemporaryDir folder;
            const std::filesystem::path path = std::filesystem::path(folder.path().toStdString()) / "example.json";
            std::ofstream(path) << e.dump();
            accepted(load(DataFolders(FINCH_SOURCE "/data"), path.string()));
        };
        if (format == "finch-bench")
            through_a_file([](const DataFolders& d, const std::string& f) { return load_bench(d, f); });
        else if (format == "finch-stock")
            through_a_file([](const DataFolders& d, const std::string& f) { return load_stock(d, f); });
        else if (format == "finch-setup")
            accepted(setup_from_json(e, "docs"));
        else if (format == "finch-recipe")
            accepted(recipe_from_json(e, "docs"));
        else if (format == "finch-sheet")
            accepted(sheet_from_json(e, "docs"));
        else if (format == "finch-aim")
            accepted(aim_from_json(e, "docs"));
        else if (format == "finch-draft")
            accepted(app::draft_from_json(e, "docs"));
        else if (format == "finch-job")
            accepted(job_from_json(e, "docs"));
    }
    CHECK(read == std::set<std::string>{"finch-aim", "finch-bench", "finch-draft", "finch-job", "finch-recipe",
                                        "finch-setup", "finch-sheet", "finch-stock"});
}
