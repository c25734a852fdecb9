// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <nlohmann/json.hpp>
#include <QFile>
#include <QImage>
#include <QProcess>
#include <QTemporaryDir>

using json = nlohmann::json;

namespace {

struct Run {
    int code = -1;
    json out, err;
};

Run run(const QStringList& arguments, const QByteArray& input = {}) {
    QProcess process;
    process.start(QStringLiteral(FINCH_CLI), arguments);
    process.write(input);
    process.closeWriteChannel();
    REQUIRE(process.waitForFinished(120000));
    const auto parse = [](const QByteArray& bytes) { return json::parse(bytes.toStdString(), nullptr, false); };
    return {process.exitCode(), parse(process.readAllStandardOutput()), parse(process.readAllStandardError())};
}

const QByteArray noon =
    R"({"format":"finch-recipe","version":1,"name":"noon line","power_percent":13,"frequency_khz":300,
  "pulse_width_ns":26,"scan_speed_mm_s":990,"hatch_pitch_mm":0.0035})";

QStringList words(const QString& line) {
    return line.split(u' ');
}
QStringList words(const char* line) {
    return words(QString::fromLatin1(line));
}

} // namespace

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
    REQUIRE(shell.waitForFinished(30000));
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
    const Run burn = run(words("proof burn --sheet - --speed-up 100000 --photo") << photo, sheet);
    REQUIRE(burn.code == 0);
    CHECK(burn.out["burned_s"].get<double>() > 60);
    const Run read =
        run(QStringList{QStringLiteral("proof"), QStringLiteral("read"), QStringLiteral("--sheet"), QStringLiteral("-"),
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
    CHECK(first.out["version"] == 3);
    CHECK(first.out["frame"]["number"] == 1);
    CHECK(first.out["free"]["cells"].size() <= 12);
    const double promise = first.out["search"]["promise"];
    CHECK(promise > 0.1);
    CHECK(first.out["search"]["why"].get<std::string>().find("deep blue") != std::string::npos);
    keep("sheet.json", first.out);
    REQUIRE(run(words("proof burn --speed-up 100000 --sheet")
                << in_folder("sheet.json") << QStringLiteral("--photo") << in_folder("photo.png"))
                .code == 0);
    const Run read = run(words("proof read --sheet")
                         << in_folder("sheet.json") << QStringLiteral("--photo") << in_folder("photo.png"));
    REQUIRE(read.code == 0);
    keep("reading.json", read.out);
    const QStringList seen{QStringLiteral("--sheet"), in_folder("sheet.json"), QStringLiteral("--reading"),
                           in_folder("reading.json")};
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

TEST_CASE("a drawing is described and hatched without a window", "[cli]") {
    const QString drawings = QStringLiteral(FINCH_DRAWINGS "/");
    const Run two = run(
        {QStringLiteral("piece"), QStringLiteral("describe"), drawings + QStringLiteral("layer-of-two-colours.dxf")});
    REQUIRE(two.code == 0);
    REQUIRE(two.out["layers"].size() == 2);
    CHECK(two.out["layers"][1]["closed_area_mm2"].get<double>() == Approx(4 * 3.14159265).epsilon(1e-3));
    CHECK(two.out["layers"][1]["colour"] == "#ff0000");
    CHECK(two.out["size_mm"][1].get<double>() == Approx(4));
    const Run hair =
        run({QStringLiteral("piece"), QStringLiteral("describe"), drawings + QStringLiteral("open-by-a-hair.svg")});
    const json& finding = hair.out["findings"].at(0);
    CHECK(finding["code"] == "open_outline");
    CHECK(finding["gap_mm"].get<double>() == Approx(0.03));
    CHECK(finding["at_mm"][1].get<double>() == Approx(100 - 10.0).margin(0.031));
    CHECK(finding["closed"] == true);
    const Run text = run({QStringLiteral("piece"), QStringLiteral("describe"), drawings + QStringLiteral("text.svg")});
    CHECK(text.out["findings"].at(0)["code"] == "text");
    CHECK(text.out["layers"][0]["closed_area_mm2"].get<double>() > 5);

    const QStringList frame{QStringLiteral("piece"), QStringLiteral("hatch"),
                            drawings + QStringLiteral("filled-and-drawn-in-two.svg")};
    const Run lines = run(frame + words("--pitch-mm 0.05 --angle-deg 90 --layer #0000ff"));
    REQUIRE(lines.code == 0);
    CHECK(lines.out["length_mm"].get<double>() * 0.05 == Approx(22 * 12 - 18 * 8).epsilon(5e-3));
    CHECK(lines.out["lines"] == 440);
    CHECK(lines.out["segments_mm"].size() == 80 + 2 * 360);
    const Run inset = run(frame + words("--pitch-mm 0.05 --inset-mm 0.5 --layer #000000"));
    CHECK(inset.out["length_mm"].get<double>() * 0.05 == Approx(19 * 9).epsilon(5e-3));
    const Run none = run(frame + words("--layer ink"));
    CHECK(none.code == 1);
    CHECK(none.err["error"]["code"] == "piece.no_layer");
    CHECK(none.err["error"]["fix"].get<std::string>().find("#0000ff") != std::string::npos);
    CHECK(run(frame + words("--pitch-mm 0")).err["error"]["code"] == "hatch.pitch");
}

TEST_CASE("a height map of 16 bit becomes layers without a window", "[cli]") {
    QTemporaryDir folder;
    const QString file = folder.filePath(QStringLiteral("cone.png"));
    // A cone that stands on its tip: 8 mm in radius, deepest in the middle.
    QImage cone(200, 200, QImage::Format_Grayscale16);
    for (int y = 0; y < 200; ++y)
        for (int x = 0; x < 200; ++x)
            reinterpret_cast<quint16*>(cone.scanLine(y))[x] =
                static_cast<quint16>(65535 * std::min(1.0, std::hypot(x - 99.5, y - 99.5) / 80));
    REQUIRE(cone.save(file));
    const QByteArray recipe = R"({"format":"finch-recipe","version":1,"process":"deep-engrave","power_percent":90,
      "frequency_khz":60,"pulse_width_ns":200,"scan_speed_mm_s":800,"hatch_pitch_mm":0.03})";
    const QStringList ask = QStringList{QStringLiteral("piece"), QStringLiteral("relief"), file} +
                            words("--stock finishing-stamp-brass --layers 16 --width-mm 20");
    const Run r = run(ask + words("--depth-um 300"), recipe);
    REQUIRE(r.code == 0);
    CHECK(r.out["bits"] == 16);
    REQUIRE(r.out["layers"].size() == 16);
    double seconds = 0, before = 0;
    for (int k = 0; k < 16; ++k) {
        const json& l = r.out["layers"][static_cast<std::size_t>(k)];
        const double radius = 8 * (1 - (k + 0.5) / 16);
        CHECK(l["area_mm2"].get<double>() == Approx(3.14159265 * radius * radius).epsilon(0.02).margin(0.1));
        CHECK(l["runs"].get<double>() == Approx(2 * radius / 0.03).epsilon(0.02).margin(8)); // lines across a disc
        CHECK(l["depth_um"].get<double>() > before);
        before = l["depth_um"];
        seconds += l["seconds"].get<double>();
    }
    CHECK(seconds == Approx(r.out["seconds_of"]["marking"].get<double>()));
    CHECK(before >= 300);
    CHECK(before * (1 - 1.0 / (16 * r.out["passes_per_layer"].get<int>())) <
          300 * 16 / 15.0); // no more passes than it takes
    const Run once = run(ask + words("--invert"), recipe);
    CHECK(once.out["passes_per_layer"] == 1);
    CHECK(once.out["layers"][0]["area_mm2"].get<double>() > 390);
    const Run job = run(ask + words("--depth-um 300 --clean-every 8 --job"), recipe);
    REQUIRE(job.out["format"] == "finch-job");
    CHECK(job.out["layers"].size() == 18);
    const Run schools = run(ask + words("--depth-um 300 --schools"), recipe);
    REQUIRE(schools.out["schools"].size() == 3);
    for (const json& s : schools.out["schools"])
        CHECK((s["stalls"].get<bool>() || s["depth_um"].get<double>() >= 300));
    CHECK(run(ask + words("--depth-um 90000"), recipe).err["error"]["code"] == "relief.too_deep");
    CHECK(run(ask + words("--black 0.7 --white 0.2"), recipe).err["error"]["code"] == "relief.levels");
}

TEST_CASE("a job is laid in tiles and round a sleeve without a window", "[cli]") {
    const QByteArray recipe = R"({"format":"finch-recipe","version":1,"process":"strip","pulse_width_ns":110,"power_percent":80,
      "frequency_khz":80,"scan_speed_mm_s":1000,"hatch_pitch_mm":0.05})";
    const auto job = [&](const char* drawing, const char* layer, const char* guide, const QString& more) {
        const Run made = run(QStringList{QStringLiteral("piece"), QStringLiteral("job"),
                                         QStringLiteral(FINCH_SOURCE "/data/artwork/") + QString::fromLatin1(drawing),
                                         QStringLiteral("--recipe"), QString::fromLatin1(layer) + QStringLiteral("=-"),
                                         QStringLiteral("--guide"), QString::fromLatin1(guide)} +
                                 words(more),
                             recipe);
        REQUIRE(made.code == 0);
        return QByteArray::fromStdString(made.out.dump());
    };
    const QByteArray strip =
        job("canal-gauge-strip.svg", "marks", "#2060a0", QStringLiteral("--stock gauge-strip-304"));
    const Run tiles = run(words("piece place - --tiles"), strip);
    REQUIRE(tiles.code == 0);
    CHECK(tiles.out["places"] == 4);
    CHECK(tiles.out["moving_s"] == 180);
    const Run laid = run(words("piece place - --tiles --job"), strip);
    CHECK(laid.out == tiles.out["job"]);
    const Run planned = run(words("piece plan -"), QByteArray::fromStdString(laid.out.dump()));
    CHECK(planned.out["seconds"].get<double>() == Approx(tiles.out["seconds"].get<double>()));
    CHECK(run(words("piece place - --tiles"), QByteArray::fromStdString(laid.out.dump())).err["error"]["code"] ==
          "place.again");
    CHECK(run(words("piece place - --tiles --round"), strip).code == 2);
    const QByteArray scale =
        job("tripod-sleeve-scale.svg", "scale", "edges", QStringLiteral("--bench heron --stock tripod-sleeve-powder"));
    const QString sleeve =
        QStringLiteral("piece place - --round --small-mm 41 --large-mm 46 --length-mm 120 --middle-mm 60");
    CHECK(run(words(sleeve + QStringLiteral(" --large-mm 40")), scale).code != 0);
    const Run round = run(words(sleeve + QStringLiteral(" --full-turn")), scale);
    REQUIRE(round.code == 0);
    CHECK(round.out["round"]["diameter_mm"].get<double>() == Approx(43.5));
    CHECK(round.out["round"]["steps_per_turn"] == 12800);
    const auto& taken = round.out["round"]["choices"][round.out["round"]["taken"].get<std::size_t>()];
    CHECK(taken["in_focus"] == true);
    CHECK(taken["seams_cut"] == 0);
    CHECK(run(words(sleeve), strip).err["error"]["code"] == "place.no_rotary");
}

TEST_CASE("a job is made, planned and exported without a window", "[cli]") {
    QTemporaryDir folder;
    const QString drawing = QStringLiteral(FINCH_DRAWINGS "/filled-and-drawn-in-two.svg");
    const auto ask = [&](const char* verb, const QStringList& more, const QByteArray& in = {}) {
        return run(QStringList{QStringLiteral("piece"), QString::fromLatin1(verb)} + more, in);
    };
    CHECK(ask("job", {drawing}).err["error"]["code"] == "job.no_recipe");
    CHECK(ask("job", {drawing, QStringLiteral("--guide"), QStringLiteral("rim")}).err["error"]["code"] ==
          "piece.no_layer");
    CHECK(ask("job", {drawing, QStringLiteral("--recipe"), QStringLiteral("-")}).err["error"]["code"] ==
          "use.arguments");
    const Run job = ask("job",
                        {drawing, QStringLiteral("--recipe"), QStringLiteral("#000000=-"), QStringLiteral("--guide"),
                         QStringLiteral("#0000ff"), QStringLiteral("--name"), QStringLiteral("noon")},
                        noon);
    REQUIRE(job.code == 0);
    const QByteArray text = QByteArray::fromStdString(job.out.dump());
    const Run plan = ask("plan", {QStringLiteral("-")}, text);
    REQUIRE(plan.code == 0);
    const json& bar = plan.out["layers"][0];
    CHECK(bar["effect"] == "colour");
    CHECK(bar["length_mm"].get<double>() * 0.0035 == Approx(200).epsilon(5e-3));
    CHECK(bar["seconds"].get<double>() > bar["length_mm"].get<double>() / 990);
    CHECK(plan.out["cost"].get<double>() ==
          Approx(bar["seconds"].get<double>() / 3600 * job.out["setup"]["bench"]["rate_per_hour"].get<double>()));
    CHECK_FALSE(plan.out["layers"][1].contains("seconds"));
    const Run heat = ask("heat", {QStringLiteral("-")}, text);
    REQUIRE(heat.code == 0);
    CHECK(heat.out["plain"]["preheat_k"][0] == 0);
    CHECK(heat.out["plain"]["peak_k"].get<double>() >= heat.out["cooler"]["peak_k"].get<double>());
    const Run kept = ask("heat", {QStringLiteral("-"), QStringLiteral("--take")}, text);
    REQUIRE(kept.code == 0);
    CHECK(kept.out["format"] == "finch-job");
    const Run tray = ask("tray",
                         words("- --columns 2 --rows 3 --pitch-x-mm 60 --pitch-y-mm 45 --offset 2=0.1,-0.2 --jig")
                             << folder.filePath(QStringLiteral("jig.dxf")),
                         text);
    INFO(tray.err.dump());
    REQUIRE(tray.code == 0);
    CHECK(tray.out["places"].size() == 6);
    CHECK(QFile::exists(folder.filePath(QStringLiteral("jig.dxf"))));
    const QByteArray full = QByteArray::fromStdString(tray.out.dump());
    const Run batch = ask("batch", words("- --wanted 20"), full);
    REQUIRE(batch.code == 0);
    CHECK(batch.out["load"] == 22);
    CHECK(batch.out["trays"] == 4);
    CHECK(batch.out["two_trays_s"].get<double>() < batch.out["one_tray_s"].get<double>());
    CHECK(ask("plan", words("-"), full).out["seconds"].get<double>() == Approx(6 * plan.out["seconds"].get<double>()));
    CHECK(ask("tray", words("- --offset 2=left"), text).err["error"]["code"] == "use.arguments");
    const Run scanner = ask("scanner", {QStringLiteral("--took"), QStringLiteral("short lines=0:31.8")});
    REQUIRE(scanner.code == 0);
    CHECK(scanner.out["scanner"]["timed_runs"][0]["took_s"] == 31.8);
    CHECK(scanner.out["scans"][1]["seconds"].get<double>() == Approx(31.8).epsilon(0.02));
    CHECK(ask("scanner", {QStringLiteral("--took"), QStringLiteral("short lines=soon")}).err["error"]["code"] ==
          "time.unreadable");
    CHECK(ask("scanner", {QStringLiteral("--scan"), QStringLiteral("none")}).err["error"]["code"] == "scanner.no_scan");
    const QString out = folder.filePath(QStringLiteral("noon.gcode"));
    const Run written =
        ask("export",
            {QStringLiteral("-"), QStringLiteral("--to"), QStringLiteral("gcode"), QStringLiteral("--out"), out}, text);
    REQUIRE(written.code == 0);
    CHECK(QFile(out).size() == written.out["bytes"].get<qint64>());
    CHECK(ask("export",
              {QStringLiteral("-"), QStringLiteral("--to"), QStringLiteral("tiff"), QStringLiteral("--out"), out}, text)
              .err["error"]["code"] == "job.form");
}
