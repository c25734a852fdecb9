// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli_run.h"

#include <algorithm>
#include <cmath>
#include <QFile>
#include <QImage>
#include <QTemporaryDir>

using namespace finch::tests;
using json = nlohmann::json;

TEST_CASE("predict prints every quantity under a key with its unit", "[cli]") {
    const Run r = run(words("predict --bench wren --stock sundial-316 --recipe - --robustness"), noon);
    REQUIRE(r.code == 0);
    for (const char* key :
         {"spot_um", "rayleigh_mm", "pulse_energy_mj", "peak_power_kw", "peak_fluence_j_cm2", "pulses_per_mm2",
          "areal_dose_j_mm2", "oxide_nm", "lab", "effect", "shares", "l_star", "robustness"})
        CHECK(r.out.contains(key));
    CHECK(r.out["pulse_energy_mj"].get<double>() == Approx(38 * 0.13 / 300));
    CHECK(r.out["areal_dose_j_mm2"].get<double>() == Approx(38 * 0.13 / (990 * 0.0035)));
    CHECK(r.out["effect"] == "colour");
    CHECK(r.out["shares"]["colour"].get<double>() > 0.9);
}

TEST_CASE("planning, judging, carrying, borrowing, stages and set-up answer in documents", "[cli]") {
    QTemporaryDir folder;
    const auto kept = [&](const char* name, const QByteArray& text) {
        QFile f(folder.filePath(QString::fromLatin1(name)));
        REQUIRE(f.open(QIODevice::WriteOnly));
        f.write(text);
        return f.fileName();
    };
    const QString aim = kept("aim.json", R"({"format":"finch-aim","version":1,"title":"noon line","place":"","pieces":1,
      "line_length_mm":10,"area_mm2":100,"wishes":[{"kind":"dark","must":true,"value":40}],
      "working_part":false,"pigment_l_star":40})");
    const Run judged = run(words("aim judge --recipe - --aim") << aim, noon);
    INFO(judged.err.dump());
    REQUIRE(judged.code == 0);
    CHECK(judged.out["verdicts"].size() == 1);
    CHECK(judged.out["outcome"].get<std::string>().find("colour") == 0);
    const Run planned = run(words("plan --process anneal --aim") << aim, {});
    REQUIRE(planned.code == 0);
    CHECK(planned.out["plans"].size() == 2);
    CHECK(planned.out["plans"][0]["candidates"][0]["meets"] == true);
    const Run refused = run(words("plan --process weld"), {});
    CHECK(refused.code == 1);
    const Run carried = run(words("carry --to heron --recipe -"), noon);
    REQUIRE(carried.code == 0);
    CHECK(carried.out["verdict"].get<std::string>().find("new proof") != std::string::npos);
    CHECK_FALSE(carried.out["reasons"].empty());
    const Run borrowed = run(words("borrow --process engrave"), "25 W, 40 kHz, 600 mm/s, 0.03");
    REQUIRE(borrowed.code == 0);
    CHECK(borrowed.out["missing"].size() > 1);
    const Run stages = run(words("stage --stock finishing-stamp-brass"),
                           QByteArray(noon)
                               .replace("\"power_percent\":13", "\"passes\":60,\"power_percent\":100")
                               .replace("300,", "40,")
                               .replace("26,", "200,")
                               .replace("0.0035", "0.03"));
    INFO(stages.err.dump());
    REQUIRE(stages.code == 0);
    CHECK(stages.out["emerges_at_pass"].is_number());
    CHECK(stages.out["passes"].size() == 7);
    const Run lens = run(words("setup --bench heron --offset-mm 3 --spot-um 90 --part-mm 40 20"), {});
    REQUIRE(lens.code == 0);
    CHECK(lens.out["lenses"][0]["raise_for_spot_mm"].get<double>() > 1);
    // What was learned is taken from the document that a prediction prints.
    const Run first = run(words("predict --recipe -"), noon);
    auto known = first.out["rests_on"];
    known["growth_gain"] = 0.7;
    const QString evidence = kept("evidence.json", QByteArray::fromStdString(known.dump()));
    const Run second = run(words("predict --recipe - --evidence") << evidence, noon);
    REQUIRE(second.code == 0);
    CHECK(second.out["oxide_nm"].get<double>() < first.out["oxide_nm"].get<double>());
}

TEST_CASE("bad use, failed work and good work have their own exit codes and a readable error", "[cli]") {
    struct Row {
        const char* line;
        QByteArray input;
        int code;
        const char* error;
    };
    const std::vector<Row> rows{
        {"", {}, 2, "use.arguments"},
        {"predict --colour blue", {}, 2, "use.arguments"},
        {"proof read", {}, 2, "use.arguments"},
        {"predict --recipe -", {}, 1, "document.empty"},
        {"predict --recipe -", "{", 1, "document.not_json"},
        {"predict --recipe - --bench robin", noon, 1, "file.missing"},
        {"predict --recipe - --stock /dev/null", noon, 1, "file.missing"},
        {"predict --recipe -", R"({"format":"finch-recipe","version":1,"power_percent":1e400})", 1,
         "document.not_json"},
        {"predict --recipe -", QByteArray(200000, '['), 1, "document.too_deep"},
        {"proof plan --recipe - --number 1000001", noon, 2, "use.arguments"},
        {"log list --file /dev/null", {}, 1, "file.missing"},
        {"proof plan --recipe - --across mood:1:2:3", noon, 1, "recipe.unknown_knob"},
        {"proof plan --recipe - --across scan_speed_mm_s:600", noon, 1, "proof.axis_text"},
        {"proof plan --recipe - --svg /no/such/folder/x.svg", noon, 1, "file.not_written"},
        {"log list --file /no/such/logbook.sqlite", {}, 1, "file.missing"},
    };
    for (const Row& row : rows) {
        INFO(row.line);
        const Run r = run(QString::fromLatin1(row.line).split(u' ', Qt::SkipEmptyParts), row.input);
        CHECK(r.code == row.code);
        REQUIRE(r.err.is_object());
        CHECK(r.err["error"]["code"] == row.error);
        CHECK_FALSE(r.err["error"]["message"].get<std::string>().empty());
    }
    // A picture whose library would speak first: standard error is our object alone.
    QTemporaryDir pictures;
    const QString broken = pictures.filePath(QStringLiteral("broken.png"));
    REQUIRE(QImage(64, 48, QImage::Format_RGB888).save(broken));
    QFile file(broken);
    REQUIRE((file.open(QIODevice::ReadWrite) && file.resize(70)));
    file.close();
    const Run plan = run(words("proof plan --recipe -"), noon);
    const Run cut = run(words("proof read --sheet - --photo") << broken, QByteArray::fromStdString(plan.out.dump()));
    CHECK(cut.code == 1);
    REQUIRE(cut.err.is_object());
    CHECK(cut.err["error"]["code"] == "picture.not_a_picture");
    // Bytes that are no UTF-8, as names of files of an older age have them.
    QProcess shell;
    shell.start(QStringLiteral("/bin/sh"),
                {QStringLiteral("-c"), QStringLiteral(FINCH_CLI " log list --file L$(printf '\\377')")});
    REQUIRE(shell.waitForFinished(patience));
    CHECK(shell.exitCode() == 2);
    for (const char* line : {"--help", "predict --help", "proof plan --help", "proof burn --help", "proof read --help",
                             "log list --help", "log show --help", "log repeatable --help", "log export --help"})
        CHECK(run(words(line)).code == 0);
}

TEST_CASE("a sheet is planned, burned and read without a window", "[cli]") {
    QTemporaryDir dir;
    const QString photo = dir.filePath(QStringLiteral("photo.png")), svg = dir.filePath(QStringLiteral("sheet.svg"));
    const Run plan = run(words("proof plan --recipe - --number 12 --leave-out --svg") << svg, noon);
    REQUIRE(plan.code == 0);
    CHECK(QFile::exists(svg));
    CHECK(plan.out["forecast"]["cells"].size() == 48);
    const QByteArray sheet = QByteArray::fromStdString(plan.out.dump());
    const QString as_burned = dir.filePath(QStringLiteral("burned.json"));
    const Run burn = run(words("proof burn --sheet - --speed-up 100000 --rest-below-k 2 --photo")
                             << photo << QStringLiteral("--burned") << as_burned,
                         sheet);
    REQUIRE(burn.code == 0);
    // With its rests, and kept in its turns: which is what is read.
    QFile file(as_burned);
    REQUIRE(file.open(QFile::ReadOnly));
    const json kept = json::parse(file.readAll().toStdString());
    double rests_s = 0;
    for (const json& turn : kept["turns"])
        rests_s += turn["rest_s"].get<double>();
    CHECK(kept["turns"].size() == 48 - kept["left_out"].size());
    CHECK(rests_s > 1);
    CHECK(burn.out["burned_s"].get<double>() > 60 + rests_s);
    const Run read =
        run(QStringList{QStringLiteral("proof"), QStringLiteral("read"), QStringLiteral("--sheet"), as_burned,
                        QStringLiteral("--photo"), photo, QStringLiteral("--target"), QStringLiteral("deep blue")},
            sheet);
    REQUIRE(read.code == 0);
    CHECK(read.out["format"] == "finch-reading");
    CHECK(read.out["ranking"][0]["de00"].get<double>() < 5);
    CHECK(read.out["learned"]["after_de00"].get<double>() < read.out["learned"]["before_de00"].get<double>());
    const Run wrong = run(QStringList{QStringLiteral("proof"), QStringLiteral("read"), QStringLiteral("--sheet"),
                                      QStringLiteral("-"), QStringLiteral("--photo"), photo},
                          QByteArray::fromStdString(plan.out.dump()).replace("\"number\":12", "\"number\":13"));
    CHECK(wrong.code == 1);
    CHECK(wrong.err["error"]["code"] == "photo.wrong_sheet");
}

TEST_CASE("cells are designed, burned, read and designed again without a window", "[cli]") {
    QTemporaryDir dir;
    const auto in_folder = [&](const char* name) { return dir.filePath(QString::fromLatin1(name)); };
    const auto keep = [&](const char* name, const json& document) {
        QFile file(in_folder(name));
        REQUIRE(file.open(QFile::WriteOnly));
        file.write(QByteArray::fromStdString(document.dump()));
    };
    const Run first = run(words("proof suggest --frame --within 4 --target") << QStringLiteral("deep blue"), noon);
    REQUIRE(first.code == 0);
    CHECK(first.out["version"] == 8);
    CHECK(first.out["close"] == true);
    CHECK(first.out["frame"]["number"] == 1);
    CHECK(first.out["free"]["cells"].size() <= 12);
    const double promise = first.out["search"]["promise"];
    CHECK(promise > 0.1);
    CHECK(first.out["search"]["why"].get<std::string>().find("deep blue") != std::string::npos);
    keep("sheet.json", first.out);
    REQUIRE(run(words("proof burn --speed-up 100000 --sheet")
                << in_folder("sheet.json") << words("--tilt 30 --photo") << in_folder("photo.png"))
                .code == 0);
    const Run read = run(words("proof read --sheet")
                         << in_folder("sheet.json") << QStringLiteral("--photo") << in_folder("photo.png"));
    REQUIRE(read.code == 0);
    keep("reading.json", read.out);
    const QStringList seen{QStringLiteral("--sheet"), in_folder("sheet.json"), QStringLiteral("--reading"),
                           in_folder("reading.json")};
    // Tilted, and with a gloss meter; both are of the reading from above.
    const Run tilted =
        run(words("proof read --tilt 30") << seen << QStringLiteral("--photo") << in_folder("photo-tilt-30.png"));
    INFO(tilted.err.dump());
    REQUIRE(tilted.code == 0);
    CHECK(tilted.out["cells"][0]["lab"] == read.out["cells"][0]["lab"]);
    CHECK(tilted.out["cells"][0]["tilted"][0]["deg"] == 30);
    CHECK(run(words("proof read --tilt 30 --sheet")
              << in_folder("sheet.json") << QStringLiteral("--photo") << in_folder("photo.png"))
              .code != 0);
    QFile meter(in_folder("gloss.txt"));
    REQUIRE(meter.open(QFile::WriteOnly));
    meter.write("# units\nA1; 212\n190.5\n");
    meter.close();
    const Run gloss = run(words("proof gloss") << seen << QStringLiteral("--gloss") << in_folder("gloss.txt"));
    REQUIRE(gloss.code == 0);
    CHECK(gloss.out["cells"][1]["gloss_units"] == 190.5);
    const Run next =
        run(words("proof suggest --frame --number 2 --within 4 --target") << QStringLiteral("deep blue") << seen, noon);
    REQUIRE(next.code == 0);
    CHECK(next.out["free"]["cells"].size() <= 6);
    CHECK(next.out["search"].contains("best_so_far"));
    CHECK(next.out["frame"]["number"] == 1); // on the bare places of the first
    CHECK(next.out["frame"]["first"] == first.out["free"]["cells"].size());
    const Run colours = run(words("proof palette --want gold --want") << QStringLiteral("60 -60 50") << seen, noon);
    REQUIRE(colours.code == 0);
    CHECK(colours.out["colours"].size() <= first.out["free"]["cells"].size());
    CHECK(colours.out["wanted"][1]["short_de00"].get<double>() > 10);
    CHECK(run(words("proof palette --want puce") << seen, noon).err["error"]["code"] == "target.not_a_colour");
    const Run learned = run(words("proof learn") << seen);
    REQUIRE(learned.code == 0);
    CHECK(learned.out["cells"] == first.out["free"]["cells"].size());
    CHECK(learned.out["orders"][0]["weight"].get<double>() > 0.3);
    // Two recipes in pairs, burned, photographed and judged.
    json other = json::parse(noon.toStdString());
    other["scan_speed_mm_s"] = 1.2 * other["scan_speed_mm_s"].get<double>();
    keep("faster.json", other);
    const Run pairs =
        run(words("proof compare --pairs 6 --measure b --number 3 --with") << in_folder("faster.json"), noon);
    REQUIRE(pairs.code == 0);
    CHECK(pairs.out["paired"]["order"].size() == 12);
    keep("pairs.json", pairs.out);
    const Run burned = run(words("proof burn --speed-up 100000 --sheet")
                           << in_folder("pairs.json") << QStringLiteral("--photo") << in_folder("pairs.png"));
    INFO(burned.err.dump());
    REQUIRE(burned.code == 0);
    const Run looked = run(words("proof read --sheet")
                           << in_folder("pairs.json") << QStringLiteral("--photo") << in_folder("pairs.png"));
    REQUIRE(looked.code == 0);
    keep("looked.json", looked.out);
    const Run verdict = run(words("proof compare --sheet")
                            << in_folder("pairs.json") << QStringLiteral("--reading") << in_folder("looked.json"));
    REQUIRE(verdict.code == 0);
    CHECK(verdict.out["finding"] == "matters");
    CHECK(verdict.out["words"].get<std::string>().find("It matters: b*") == 0);
    CHECK(run(words("proof compare --with") << in_folder("reading.json"), noon).code != 0);
    // The focus by a ladder, and the recipe on another lot.
    const auto asked = [&](const char* plan, const std::string& name) {
        const std::string sheet = name + ".json", photo = name + ".png", reading = name + "-read.json";
        const Run planned = run(words(plan), noon);
        REQUIRE(planned.code == 0);
        keep(sheet.c_str(), planned.out);
        REQUIRE(run(words("proof burn --speed-up 100000 --sheet")
                    << in_folder(sheet.c_str()) << QStringLiteral("--photo") << in_folder(photo.c_str()))
                    .code == 0);
        const Run looked_at = run(words("proof read --sheet")
                                  << in_folder(sheet.c_str()) << QStringLiteral("--photo") << in_folder(photo.c_str()));
        REQUIRE(looked_at.code == 0);
        keep(reading.c_str(), looked_at.out);
        return QStringList{QStringLiteral("--sheet"), in_folder(sheet.c_str()), QStringLiteral("--reading"),
                           in_folder(reading.c_str())};
    };
    const QStringList ladder = asked("proof focus-ladder --number 5", "ladder");
    const Run focus = run(words("proof focus-ladder") + ladder);
    REQUIRE(focus.code == 0);
    CHECK(focus.out["finding"] == "found");
    CHECK(std::abs(focus.out["best_mm"]["value"].get<double>()) < 0.6);
    const QStringList lot = asked("proof lot-check --number 6 --expected 36 2 -28", "lot");
    const Run same = run(words("proof lot-check") + lot);
    REQUIRE(same.code == 0);
    CHECK(same.out["best_de"].get<double>() <= same.out["as_it_is_de"].get<double>());
    CHECK(run(words("proof lot-check") + ladder).err["error"]["code"] == "lot.no_check");
    CHECK(run(words("proof lot-check"), noon).err["error"]["code"] == "lot.expected");
    // Where the metal begins to change, and whether the film is better out of focus.
    const QStringList threshold = asked("proof threshold --number 7 --from 1 --to 14", "threshold");
    const Run begins = run(words("proof threshold") + threshold);
    REQUIRE(begins.code == 0);
    CHECK(begins.out["powers"].size() == 8);
    CHECK(begins.out["shows"]["power_percent_within"][0] < begins.out["shows"]["power_percent_within"][1]);
    const QStringList offsets = asked("proof offsets --number 8 --offsets 5", "offsets");
    const Run served = run(words("proof offsets --target dark --within 6") + offsets);
    REQUIRE(served.code == 0);
    CHECK(served.out["offsets"].size() >= 3);
    const QStringList over = asked("proof field --number 9", "field");
    const Run even = run(words("proof field --within 4") + over);
    REQUIRE(even.code == 0);
    CHECK(even.out["nine"].size() == 9);
    CHECK(even.out["nine"][4]["dose_percent"] == 0);
    CHECK(run(words("proof field") + lot).err["error"]["code"] == "field.no_sheet");
    // What an instrument measured stands over the photograph's.
    QFile list(in_folder("colours.txt"));
    REQUIRE(list.open(QIODevice::WriteOnly));
    list.write("A1 30,5 1 -20\n");
    list.close();
    const Run measured = run(words("proof colours --colours") << in_folder("colours.txt") << lot);
    REQUIRE(measured.code == 0);
    CHECK(measured.out["version"] == 9); // the photograph is set right by it, and what it said is kept
    CHECK(measured.out["ground_photographed_lab"].size() == 3);
    CHECK(measured.out["cells"][1]["photographed"]["lab"] != measured.out["cells"][1]["lab"]);
    QFile scratches(in_folder("scratches.txt"));
    REQUIRE(scratches.open(QIODevice::WriteOnly));
    scratches.write("A1 wood\n3\n");
    scratches.close();
    const Run scratched = run(words("proof scratches --scratches") << in_folder("scratches.txt") << lot);
    REQUIRE(scratched.code == 0);
    CHECK(scratched.out["cells"][0]["scratch_steps"] == 2);
    CHECK(scratched.out["cells"][1]["scratch_steps"] == 3);
    CHECK(measured.out["cells"][0]["by_instrument"] == true);
    CHECK(measured.out["cells"][0]["lab"][0] == 30.5);
    CHECK(run(words("proof offsets") + threshold).err["error"]["code"] == "offsets.none_asked");
    CHECK(run(words("proof threshold") + offsets).err["error"]["code"] == "threshold.none");
    CHECK(run(words("proof threshold --from 20 --to 10"), noon).err["error"]["code"] == "threshold.range");
    // What does not go together is refused with what helps.
    CHECK(run(words("proof learn --sheet") << in_folder("sheet.json")).err["error"]["code"] == "use.pairs");
    CHECK(run(words("proof suggest --target puce"), noon).err["error"]["code"] == "target.unknown");
    CHECK(run(words("proof suggest --lab 120 0 0"), noon).err["error"]["code"] == "target.lab");
    CHECK(run(words("proof suggest --stock finishing-stamp-brass"), noon).err["error"]["code"] == "search.no_film");
}

TEST_CASE("a depth is searched without a window", "[cli]") {
    QTemporaryDir dir;
    const auto in_folder = [&](const char* name) { return dir.filePath(QString::fromLatin1(name)); };
    const auto keep = [&](const char* name, const json& document) {
        QFile file(in_folder(name));
        REQUIRE(file.open(QFile::WriteOnly));
        file.write(QByteArray::fromStdString(document.dump()));
    };
    json recipe = json::parse(noon.toStdString());
    recipe.update({{"process", "deep-engrave"},
                   {"power_percent", 80},
                   {"frequency_khz", 60},
                   {"pulse_width_ns", 100},
                   {"scan_speed_mm_s", 900},
                   {"hatch_pitch_mm", 0.03},
                   {"passes", 12}});
    const QByteArray deep = QByteArray::fromStdString(recipe.dump());
    const QStringList scene = words("--bench heron --stock finishing-stamp-brass");
    const auto depth = words("proof suggest --frame --depth") << QStringLiteral("40 um +- 4") << scene;
    const Run first = run(depth, deep);
    REQUIRE(first.code == 0);
    CHECK(first.out["search"]["target"]["depth_um"] == 40);
    keep("sheet.json", first.out);
    REQUIRE(run(words("proof burn --speed-up 100000 --sheet")
                << in_folder("sheet.json") << QStringLiteral("--photo") << in_folder("photo.png")
                << QStringLiteral("--depths") << in_folder("depths.csv") << scene)
                .code == 0);
    const Run read = run(words("proof depths --sheet")
                         << in_folder("sheet.json") << QStringLiteral("--depths") << in_folder("depths.csv"));
    REQUIRE(read.code == 0);
    CHECK(read.out["photos"] == 0);
    CHECK(read.out["cells"][0]["depth_um"].get<double>() > 5);
    keep("reading.json", read.out);
    const Run next =
        run(QStringList(depth) << QStringLiteral("--number") << QStringLiteral("2") << QStringLiteral("--sheet")
                               << in_folder("sheet.json") << QStringLiteral("--reading") << in_folder("reading.json"),
            deep);
    REQUIRE(next.code == 0);
    CHECK(next.out["search"]["promise"].get<double>() > first.out["search"]["promise"].get<double>());
    CHECK(next.out["frame"]["number"] == 1);
    CHECK(run(words("proof suggest --depth") << QStringLiteral("deep"), deep).err["error"]["field"] == "--depth");
    CHECK(run(QStringList(depth), noon).err["error"]["code"] == "search.no_depth");
    const Run ways = run(words("proof openings --depth") << QStringLiteral("40") << scene, deep);
    REQUIRE(ways.code == 0);
    CHECK(ways.out["plans"][0]["plan"] == "designed");
    CHECK(ways.out["plans"].size() >= 3);
    CHECK(ways.out["plans"][1]["sheet"]["format"] == "finch-sheet");
}

TEST_CASE("a scrap bin is listed from a logbook, and a sheet gets its place in it", "[cli]") {
    QTemporaryDir dir;
    const auto in_folder = [&](const char* name) { return dir.filePath(QString::fromLatin1(name)); };
    const auto keep = [&](const char* name, const json& document) {
        QFile file(in_folder(name));
        REQUIRE(file.open(QFile::WriteOnly));
        file.write(QByteArray::fromStdString(document.dump()));
    };
    QFile old(QStringLiteral(FINCH_SOURCE "/tests/data/old/logbook-v1-export.json"));
    REQUIRE(old.open(QFile::ReadOnly));
    json document = json::parse(old.readAll().toStdString());
    const auto said = [&](json body) {
        body.update({{"format", "finch-scrap"}, {"version", 1}});
        json entry = document["entries"][0];
        entry.update({{"kind", "bench"}, {"title", "Scrap bin, a piece"}, {"outcome", "unknown"}, {"body", body}});
        return entry;
    };
    document["entries"] = {said({{"piece", "S1"}, {"kind", "found"}, {"size_mm", {90, 70}}}),
                           said({{"piece", "S1"},
                                 {"kind", "used"},
                                 {"face", "A"},
                                 {"where_mm", {0, 0, 90, 35}},
                                 {"what", "stamp"},
                                 {"sheet", 0}})};
    keep("entries.json", document);
    const QStringList file{QStringLiteral("--file"), in_folder("logbook.sqlite")};
    const Run imported = run(words("log import --from") << in_folder("entries.json") << file);
    INFO(imported.err.dump());
    REQUIRE(imported.code == 0);
    const Run bin = run(words("log scrap") + file);
    REQUIRE(bin.code == 0);
    REQUIRE(bin.out["pieces"].size() == 1);
    CHECK(bin.out["pieces"][0]["faces"][0]["bare_mm2"] == 88 * 33);
    CHECK(bin.out["pieces"][0]["faces"][1]["largest_mm"] == json{1, 1, 88, 68});
    const Run sheet =
        run(words("proof plan --across scan_speed_mm_s:600:900:2 --down hatch_pitch_mm:0.003:0.004:2"), noon);
    INFO(sheet.err.dump());
    REQUIRE(sheet.code == 0);
    keep("sheet.json", sheet.out);
    const Run placed = run(words("log scrap --sheet") << in_folder("sheet.json") << file);
    INFO(placed.err.dump());
    REQUIRE(placed.code == 0);
    CHECK(placed.out["place"]["piece"] == "S1");
    CHECK(placed.out["place"]["face"] == "A"); // in the half that is left
    CHECK(placed.out["place"]["y_mm"] == 36);
    CHECK(run(words("log scrap --stock gauge-strip-304 --sheet") << in_folder("sheet.json") << file)
              .err["error"]["code"] == "scrap.no_room");
}
