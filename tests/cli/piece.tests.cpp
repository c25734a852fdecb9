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
    const QStringList at{QStringLiteral("--as-drawn"), QString::number(finding["at_mm"][0].get<double>(), 'g', 12),
                         QString::number(finding["at_mm"][1].get<double>(), 'g', 12)};
    const Run fitted = run({QStringLiteral("piece"), QStringLiteral("describe"), drawings + QStringLiteral("ring.dxf"),
                            QStringLiteral("--stock-mm"), QStringLiteral("30"), QStringLiteral("24"),
                            QStringLiteral("--margin-mm"), QStringLiteral("2")});
    REQUIRE(fitted.code == 0);
    CHECK(fitted.out["size_mm"] == nlohmann::json{30, 24}); // a ring of 10 and 4 mm, 20 mm wide now
    CHECK(fitted.out["layers"][0]["closed_area_mm2"].get<double>() == Approx(4 * 3.14159265 * 21).epsilon(1e-3));
    CHECK(run({QStringLiteral("piece"), QStringLiteral("describe"), drawings + QStringLiteral("ring.dxf"),
               QStringLiteral("--times"), QStringLiteral("2"), QStringLiteral("--drawn-width-mm"), QStringLiteral("9")})
              .err["error"]["code"] == "use.arguments");
    const Run left = run(QStringList{QStringLiteral("piece"), QStringLiteral("describe"),
                                     drawings + QStringLiteral("open-by-a-hair.svg")} +
                         at);
    CHECK(left.out["findings"].at(0)["code"] == "left_open");
    CHECK(left.out["findings"].at(0)["at_mm"] == finding["at_mm"]);
    CHECK(left.out["findings"].at(0)["closed"] == false);
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
    const QByteArray recipe =
        R"({"format":"finch-recipe","version":1,"process":"strip","pulse_width_ns":110,"power_percent":80,
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
    const Run gates = ask("gates", words("-"), full);
    REQUIRE(gates.code == 0);
    CHECK(gates.out["seconds"].get<double>() == Approx(6 * plan.out["seconds"].get<double>()).epsilon(0.02));
    const auto asks = [&](const char* key) {
        return std::ranges::count(gates.out["gates"], key, [](const json& g) { return g["key"]; });
    };
    CHECK(asks("eyewear") == 1);
    CHECK(asks("frame") == 1);
    CHECK(asks("chuck") == 0);
    CHECK(gates.out["gates"][0]["verdict"] == "refused"); // a job without a confirmed focus
    const Run passes = ask("passes", words("-"), full);
    REQUIRE(passes.code == 0);
    CHECK(passes.out["passes"].size() == 6 * bar["passes"].get<std::size_t>());
    const Run second = ask("passes", words("- --pass 2 --after 9"), full);
    REQUIRE(second.code == 0);
    CHECK(second.out["passes"][0]["gcode"].get<std::string>().starts_with("G21\nG90\nM5\nG0 Z0.000\n"));
    CHECK_FALSE(second.out["passes"][0]["should_look"]["look"].get<std::string>().empty());
    CHECK(ask("passes", words("- --pass 999"), full).err["error"]["code"] == "run.pass");
    CHECK(ask("passes", words("- --pass 1 --after 99999999"), full).err["error"]["code"] == "run.line");
    CHECK(ask("tray", words("- --offset 2=left"), text).err["error"]["code"] == "tray.offset_text");
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

TEST_CASE("film work and prices are told without a window", "[cli]") {
    QTemporaryDir folder;
    const QString strip = QStringLiteral(FINCH_SOURCE "/data/artwork/canal-gauge-strip.svg");
    const auto job = [&](const char* name, const char* bench, const QByteArray& recipe) {
        const QString file = folder.filePath(QString::fromLatin1(name)), with = file + QStringLiteral(".recipe");
        for (const auto& [path, bytes] : {std::pair{with, recipe}, {file, QByteArray()}}) {
            QFile out(path);
            REQUIRE(out.open(QIODevice::WriteOnly));
            out.write(bytes);
        }
        const Run made = run({QStringLiteral("piece"), QStringLiteral("job"), strip, QStringLiteral("--bench"),
                              QString::fromLatin1(bench), QStringLiteral("--stock"), QStringLiteral("gauge-strip-304"),
                              QStringLiteral("--guide"), QStringLiteral("#2060a0"), QStringLiteral("--recipe"),
                              QStringLiteral("marks=") + with});
        REQUIRE(made.code == 0);
        QFile out(file);
        REQUIRE(out.open(QIODevice::WriteOnly));
        out.write(QByteArray::fromStdString(made.out.dump()));
        return file;
    };
    const QString film = job("film.json", "mallow", R"({"format":"finch-recipe","version":1,"process":"compound",
      "compound":"ceramic","coats":2,"power_percent":50,"frequency_khz":10,"pulse_width_ns":1000,"scan_speed_mm_s":300,
      "hatch_pitch_mm":0.1})");
    const QString cut = job("cut.json", "heron", R"({"format":"finch-recipe","version":1,"process":"engrave",
      "power_percent":90,"frequency_khz":50,"pulse_width_ns":110,"scan_speed_mm_s":400,"hatch_pitch_mm":0.03,"passes":6})");
    const Run steps =
        run({QStringLiteral("piece"), QStringLiteral("steps"), film, QStringLiteral("--pieces"), QStringLiteral("6")});
    REQUIRE(steps.code == 0);
    double minutes = 0, hands = 0;
    for (const json& s : steps.out["steps"]) {
        CHECK(s["from_min"].get<double>() == Approx(minutes));
        for (const char* part : {"hands_min", "wait_min", "beam_min"})
            minutes += s[part].get<double>();
        hands += s["hands_min"].get<double>();
    }
    CHECK(steps.out["minutes"].get<double>() == Approx(minutes));
    CHECK(steps.out["hands_min"].get<double>() == Approx(hands));
    const json& cost = steps.out["cost_of_a_piece"];
    CHECK(cost["hands"].get<double>() == Approx(hands / 6 / 60 * 36));
    CHECK(cost["bench"].get<double>() == Approx(steps.out["beam_min"].get<double>() / 6 / 60 * 36));
    CHECK(run({QStringLiteral("piece"), QStringLiteral("steps"), cut}).err["error"]["code"] == "compound.no_film");

    const auto price = [&](const QString& file, const QString& more) {
        return run(QStringList{QStringLiteral("piece"), QStringLiteral("price"), file} + words(more));
    };
    const Run both = price(film, QStringLiteral("--wanted 30 --spoiled 0 --blank 2 --quantities 1 30 --against"));
    CHECK(both.code != 0); // against what?
    const Run against =
        price(film, QStringLiteral("--wanted 30 --spoiled 0 --blank 2 --quantities 1 30 --against ") + cut);
    REQUIRE(against.code == 0);
    const json& mine = against.out["cost"];
    CHECK(mine["total"].get<double>() ==
          Approx(mine["bench"].get<double>() + mine["hands"].get<double>() + mine["material"].get<double>()));
    CHECK(mine["total"].get<double>() == Approx(mine["once"].get<double>() + 30 * mine["each_more"].get<double>()));
    CHECK(against.out["tiers"][1]["unit_cost"] == mine["unit"]);
    CHECK(against.out["unit_price"].get<double>() * 0.6 >= mine["unit"].get<double>() - 1e-9);
    // The other way round it is the same crossing, with the names changed about.
    const Run back = price(cut, QStringLiteral("--wanted 30 --spoiled 0 --blank 2 --against ") + film);
    CHECK(back.out["against"]["same_at_pieces"] == against.out["against"]["same_at_pieces"]);
    CHECK(back.out["against"]["cheaper_above"] == against.out["against"]["cheaper_above"]);
    CHECK(back.out["cost"]["total"] == against.out["against"]["cost"]["total"]);
}
