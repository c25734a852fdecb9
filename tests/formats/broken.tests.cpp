// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/autosave.h"
#include "app/session/demo.h"
#include "bench/bench_json.h"
#include "demo_bench.h"
#include "document/json_fields.h"
#include "formats/file_out.h"
#include "formats/picture_file.h"
#include "formats/sheet_export.h"
#include "proof/layout.h"
#include "proof/reading.h"
#include "vision/fiducials.h"

#include <catch2/catch.hpp>
#include <csignal>
#include <fstream>
#include <functional>
#include <nlohmann/json.hpp>
#include <QFile>
#include <QImage>
#include <QTemporaryDir>
#include <QXmlStreamReader>
#include <sys/resource.h>

using namespace finch;
using json = nlohmann::json;

namespace {

using Reader = std::function<std::optional<Error>(const std::string&)>;

template <typename T>
std::optional<Error> fault_of(const Expected<T>& result) {
    return result ? std::nullopt : std::optional(result.error());
}

std::string good(const std::string& path) {
    return read_text_file(FINCH_SOURCE "/data/" + path).value();
}

std::vector<MaterialFile> shelf(const std::string& changed_name, const std::string& changed_text) {
    std::vector<MaterialFile> files;
    for (const std::string& name : data_names(FINCH_SOURCE "/data", "materials"))
        for (const char* folder : {"materials/", "materials/optics/"})
            if (const auto text = read_text_file(FINCH_SOURCE "/data/" + std::string(folder) + name + ".json"))
                files.push_back({name + ".json", name == changed_name ? changed_text : *text});
    return files;
}

} // namespace

TEST_CASE("a broken document is refused with file, field and fix", "[broken]") {
    const Reader bench = [](const std::string& t) { return fault_of(bench_from_text(t, "file.json")); };
    const Reader stock = [](const std::string& t) { return fault_of(stock_from_text(t, "file.json")); };
    const Reader recipe = [](const std::string& t) { return fault_of(recipe_from_text(t, "file.json")); };
    const Reader sheet = [](const std::string& t) { return fault_of(sheet_from_text(t, "file.json")); };
    const Reader fill = [](const std::string& t) { return fault_of(fill_from_text(t, "file.json")); };
    const Reader metal = [](const std::string& t) { return fault_of(materials_from_files(shelf("stainless-316", t))); };
    const Reader optics = [](const std::string& t) { return fault_of(materials_from_files(shelf("titanium", t))); };
    const Reader model = [](const std::string& t) { return fault_of(materials_from_files(shelf("process-model", t))); };
    const Reader draft = [](const std::string& t) {
        const auto d =
            parse_json(t, "file.json").and_then([](const json& j) { return app::draft_from_json(j, "file.json"); });
        return fault_of(d);
    };
    const std::string wren = good("benches/wren.json"), heron = good("benches/heron.json"),
                      s316 = good("stock/sundial-316.json");
    const std::string noon = to_json(tests::DemoBench::blue()).dump(),
                      sheet7 = to_json(tests::DemoBench().sheet()).dump();
    const std::string demo = to_json(app::demo_draft(FINCH_SOURCE "/data").value()).dump();
    struct Row {
        const char* what;
        const Reader& read;
        std::string from;
        std::function<void(json&)> change;
        const char* code;
        const char* field;
    };
    const std::vector<Row> rows{
        {"bench of another kind", bench, wren, [](json& j) { j["format"] = "finch-recipe"; }, "document.wrong_format",
         "format"},
        {"bench without version", bench, wren, [](json& j) { j.erase("version"); }, "document.wrong_format", "version"},
        {"bench of the future", bench, wren, [](json& j) { j["version"] = 9; }, "document.newer_version", "version"},
        {"bench without a name", bench, wren, [](json& j) { j.erase("name"); }, "document.bad_field", "name"},
        {"power in words", bench, wren, [](json& j) { j["source"]["rated_power_w"] = "38 W"; }, "document.bad_field",
         "source.rated_power_w"},
        {"no power", bench, wren, [](json& j) { j["source"]["rated_power_w"] = 0; }, "document.bad_field",
         "source.rated_power_w"},
        {"a kind of source that is none", bench, wren, [](json& j) { j["source"]["kind"] = "steam"; },
         "document.bad_field", "source.kind"},
        {"frequencies swapped", bench, wren,
         [](json& j) {
             j["source"]["frequency_max_khz"] = 1;
             j["source"]["frequency_min_khz"] = 20;
         },
         "document.bad_field", "source.frequency_max_khz"},
        {"a fixed source with two widths", bench, heron, [](json& j) { j["source"]["pulse_width_max_ns"] = 200; },
         "document.bad_field", "source.pulse_width_max_ns"},
        {"an energy table that falls", bench, wren,
         [](json& j) {
             j["source"]["energy_limits"] = {{{"pulse_width_ns", 20}, {"energy_mj", 0.2}},
                                             {{"pulse_width_ns", 10}, {"energy_mj", 0.1}}};
         },
         "document.bad_field", "source.energy_limits"},
        {"no lens", bench, wren, [](json& j) { j["lenses"] = json::array(); }, "document.bad_field", "lenses"},
        {"a lens on that is not there", bench, wren, [](json& j) { j["lens_on"] = "300 mm"; }, "document.bad_field",
         "lens_on"},
        {"a lens in metres", bench, wren, [](json& j) { j["lenses"][1]["focal_length_mm"] = 0.21; },
         "document.bad_field", "lenses[1].focal_length_mm"},
        {"stock without a metal", stock, s316, [](json& j) { j.erase("metal"); }, "document.bad_field", "metal"},
        {"stock of no thickness", stock, s316, [](json& j) { j["thickness_mm"] = 0; }, "document.bad_field",
         "thickness_mm"},
        {"an unknown finish", stock, s316, [](json& j) { j["finish"] = "shiny"; }, "document.bad_field", "finish"},
        {"a coating as a number", stock, s316, [](json& j) { j["coating"] = 1; }, "document.bad_field", "coating"},
        {"stock as a list", stock, s316, [](json& j) { j = json::array(); }, "document.wrong_format", "format"},
        {"recipe without power", recipe, noon, [](json& j) { j.erase("power_percent"); }, "document.bad_field",
         "power_percent"},
        {"half a pass", recipe, noon, [](json& j) { j["passes"] = 1.5; }, "document.bad_field", "passes"},
        {"pitch of minus something", recipe, noon, [](json& j) { j["hatch_pitch_mm"] = -0.01; }, "document.bad_field",
         "hatch_pitch_mm"},
        {"cross-hatch as a word", recipe, noon, [](json& j) { j["cross_hatch"] = "yes"; }, "document.bad_field",
         "cross_hatch"},
        {"sheet with an unknown knob", sheet, sheet7, [](json& j) { j["across"]["knob"] = "mood"; },
         "document.bad_field", "across.knob"},
        {"sheet without values", sheet, sheet7, [](json& j) { j["down"]["values"] = json::array(); },
         "document.bad_field", "down.values"},
        {"sheet that leaves out a cell it has not", sheet, sheet7, [](json& j) { j["left_out"] = {"Z99"}; },
         "document.bad_field", "left_out"},
        {"sheet with a broken recipe inside", sheet, sheet7, [](json& j) { j["base"]["scan_speed_mm_s"] = nullptr; },
         "document.bad_field", "base.scan_speed_mm_s"},
        {"sheet with a thousand columns", sheet, sheet7,
         [](json& j) { j["across"]["values"] = std::vector<double>(1000, 1.0); }, "document.bad_field",
         "across.values"},
        {"metal without its absorptance", metal, good("materials/stainless-316.json"),
         [](json& j) { j["constants"].erase("absorptance"); }, "document.bad_field", "constants.absorptance"},
        {"a constant without its source", metal, good("materials/stainless-316.json"),
         [](json& j) { j["constants"]["melting_k"].erase("source"); }, "document.bad_field",
         "constants.melting_k.source"},
        {"melting point in degrees", metal, good("materials/stainless-316.json"),
         [](json& j) { j["constants"]["melting_k"]["value"] = 27; }, "document.bad_field", "constants.melting_k.value"},
        {"metal with optics that are not there", metal, good("materials/stainless-316.json"),
         [](json& j) { j["optics"] = "mithril"; }, "material.no_optics", "optics"},
        {"optics of two lengths", optics, good("materials/optics/titanium.json"), [](json& j) { j["k"].erase(0); },
         "document.bad_field", "k"},
        {"optics of a source that is a number", optics, good("materials/optics/titanium.json"),
         [](json& j) { j["source"] = 1e-7; }, "document.bad_field", "source"},
        {"an empty key", recipe, noon, [](json& j) { j[""] = 1; }, "document.bad_field", "\"\""},
        {"model without a finish", model, good("materials/process-model.json"),
         [](json& j) { j["finishes"].erase("mill"); }, "document.bad_field", "finishes.mill"},
        {"draft without its setup", draft, demo, [](json& j) { j.erase("setup"); }, "document.wrong_format",
         "setup.format"},
        {"draft of the future", draft, demo, [](json& j) { j["version"] = 9; }, "document.newer_version", "version"},
        {"draft with a school that is none", draft, demo, [](json& j) { j["school"] = "night"; }, "document.bad_field",
         "school"},
        {"a misspelt key", recipe, noon, [](json& j) { j["focus_ofset_mm"] = 1; }, "document.bad_field",
         "focus_ofset_mm"},
        {"a misspelt key of the stock", stock, s316, [](json& j) { j["thicknes_mm"] = 1; }, "document.bad_field",
         "thicknes_mm"},
        {"a version beyond every integer", recipe, noon, [](json& j) { j["version"] = 4294967297; },
         "document.newer_version", "version"},
        {"no power at all", recipe, noon, [](json& j) { j["power_percent"] = 1e-320; }, "document.bad_field",
         "power_percent"},
        {"a number above every sheet", sheet, sheet7, [](json& j) { j["number"] = 1000001; }, "document.bad_field",
         "number"},
        {"a metal whose format is a number", metal, good("materials/stainless-316.json"),
         [](json& j) { j["format"] = 5; }, "document.wrong_format", "format"},
        {"draft with a broken target", draft, demo,
         [](json& j) {
             j["target"]["lab"] = {1, 2};
         },
         "document.bad_field", "target.target.lab"},
    };
    for (const Row& row : rows) {
        INFO(row.what);
        REQUIRE_FALSE(row.read(row.from));
        json j = json::parse(row.from);
        row.change(j);
        const auto fault = row.read(j.dump());
        REQUIRE(fault);
        CHECK(fault->code == row.code);
        CHECK(fault->place.field == row.field);
        CHECK_FALSE(fault->place.file.empty());
        CHECK_FALSE(fault->fix.empty());
    }
    for (const Reader* read : {&bench, &stock, &recipe, &sheet, &fill, &draft}) {
        CHECK((*read)("").value().code == "document.empty");
        const auto cut = (*read)("{\n\"format\": \"finch\",\n\"version\": }");
        CHECK(cut.value().code == "document.not_json");
        CHECK(cut.value().place.line == 3);
        CHECK((*read)("42").value().code == "document.wrong_format");
        CHECK((*read)(std::string(200000, '[') + std::string(200000, ']')).value().code == "document.too_deep");
        CHECK((*read)("{\"format\": 1e400}").value().code == "document.not_json");
        CHECK((*read)("{\"format\": \"\xff\"}").value().code == "document.not_json");
        CHECK((*read)("{\"a\": 1, \"a\": 2}").value().code == "document.doubled_key");
        CHECK((*read)(std::string(50, '[')).value().code == "document.not_json");
    }
}

TEST_CASE("a picture that is none, or too large, is refused", "[broken]") {
    QTemporaryDir dir;
    const QString path = dir.filePath(QStringLiteral("photo.png"));
    CHECK(load_picture(path).error().code == "file.missing");
    std::ofstream(path.toStdString()) << "GIF? no";
    CHECK(load_picture(path).error().code == "picture.not_a_picture");
    QImage image(60, 40, QImage::Format_RGB888);
    image.fill(Qt::red);
    REQUIRE(image.save(path));
    QFile file(path);
    REQUIRE(file.open(QIODevice::ReadWrite));
    REQUIRE(file.resize(60));
    file.close();
    CHECK(load_picture(path).error().code == "picture.not_a_picture");
    REQUIRE(image.save(path, "JPG"));
    const auto read = load_picture(path);
    REQUIRE(read);
    CHECK(read->width == 60);
    CHECK(read->rgb[0] > 200);
    // A header that promises 20000 x 20000 pixels is refused before anything is decoded.
    QByteArray png = png_bytes(*read);
    png[17] = 0x00;
    png[18] = 0x4e;
    png[19] = 0x20;
    png[21] = 0x00;
    png[22] = 0x4e;
    png[23] = 0x20;
    const auto huge = picture_from_bytes(png, "huge.png");
    REQUIRE_FALSE(huge);
    CHECK((huge.error().code == "picture.too_large" || huge.error().code == "picture.not_a_picture"));
}

TEST_CASE("a file that cannot be written leaves the old one whole", "[broken]") {
    QTemporaryDir dir;
    const QString path = dir.filePath(QStringLiteral("sheet.svg"));
    REQUIRE(write_file(path, "old"));
    CHECK(write_file(dir.filePath(QStringLiteral("no/folder/sheet.svg")), "new").error().code == "file.not_written");
    // A limit on the size of files ends a write half way, as a full disk does.
    rlimit before{};
    REQUIRE(getrlimit(RLIMIT_FSIZE, &before) == 0);
    std::signal(SIGXFSZ, SIG_IGN);
    const rlimit tight{4096, before.rlim_max};
    REQUIRE(setrlimit(RLIMIT_FSIZE, &tight) == 0);
    const auto full = write_file(path, std::string(200000, 'n'));
    REQUIRE(setrlimit(RLIMIT_FSIZE, &before) == 0);
    REQUIRE_FALSE(full);
    CHECK(full.error().code == "file.not_written");
    CHECK(read_text_file(path.toStdString()).value() == "old");
}

TEST_CASE("a damaged draft is set aside, not lost", "[broken]") {
    QTemporaryDir dir;
    const QString path = dir.filePath(QStringLiteral("draft.json"));
    CHECK(app::recover_draft(path).error().code == "file.missing");
    std::ofstream(path.toStdString()) << "{\"format\": \"finch-draft\", \"version\": 1";
    const auto draft = app::recover_draft(path);
    REQUIRE_FALSE(draft);
    CHECK(draft.error().code == "document.not_json");
    CHECK(QFile::exists(path + QStringLiteral(".damaged")));
    const auto good_draft = app::demo_draft(FINCH_SOURCE "/data").value();
    REQUIRE(write_file(path, to_json(good_draft).dump()));
    CHECK(app::recover_draft(path).value() == good_draft);
}

TEST_CASE("a sheet is exported with layers, as a table and to print", "[formats]") {
    const tests::DemoBench demo;
    ProofSheet sheet = demo.sheet();
    sheet.aim = "blue <& \"bold\">\x01\xef\xbf\xbf";
    sheet.left_out[47] = true;
    const MarkerModules modules = fiducial_modules(layout(sheet));
    const std::string svg = sheet_svg(sheet, modules);
    CHECK(svg.find("<g id=\"fiducials\">") != std::string::npos);
    CHECK(svg.find("<g id=\"cell-D2\">") != std::string::npos);
    CHECK(svg.find("cell-H6") == std::string::npos);
    CHECK(svg.find("blue &lt;&amp; &quot;bold&quot;&gt;<") != std::string::npos);
    QXmlStreamReader xml(QByteArray::fromStdString(svg));
    while (!xml.atEnd())
        xml.readNext();
    CHECK_FALSE(xml.hasError());
    const std::string csv = sheet_csv(sheet);
    CHECK(std::count(csv.begin(), csv.end(), '\n') == 49);
    CHECK(csv.find("H6,yes") != std::string::npos);
    CHECK(csv.ends_with(",\n"));                   // H6 is left out: it has no turn
    CHECK(csv.find(",47\n") != std::string::npos); // the last of the others
    CHECK(csv.find(",48\n") == std::string::npos);
    QTemporaryDir dir;
    const QString pdf = dir.filePath(QStringLiteral("sheet.pdf"));
    const auto f = forecast(sheet, demo.scene());
    REQUIRE(write_sheet_pdf(sheet, f, demo.setup, modules, pdf));
    CHECK(read_text_file(pdf.toStdString()).value().starts_with("%PDF-"));
}
