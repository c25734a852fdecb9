// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// What leaves as a job, an outline or lines, read back by readers that share nothing with the writers.
#include "document/json_fields.h"
#include "formats/data_folder.h"
#include "formats/job_export.h"

#include <catch2/catch.hpp>
#include <charconv>
#include <cmath>
#include <dxflib/dl_creationadapter.h>
#include <dxflib/dl_dxf.h>
#include <map>
#include <nlohmann/json.hpp>
#include <numbers>
#include <QXmlStreamReader>
#include <set>
#include <sstream>

using namespace finch;

namespace {

ArtShape washer() {
    ArtShape s;
    s.rule = FillRule::even_odd;
    for (const double r : {8.0, 3.0}) {
        Outline& o = s.outlines.emplace_back();
        o.closed = true;
        o.points.push_back({12 + r, 10});
        add_arc(o.points, {12, 10}, {r, 0}, {0, r}, 0, 2 * std::numbers::pi);
        o.points.pop_back();
    }
    return s;
}

Job sample() {
    Job job{"noon \"bar\" (1)", 30, 20, {}, {}, {}, {}};
    job.setup.bench = load_bench(FINCH_SOURCE "/data", "wren").value();
    job.setup.stock = load_stock(FINCH_SOURCE "/data", "sundial-316").value();
    ArtShape bar, rim;
    bar.outlines = {{{{22, 2}, {28, 2}, {28, 18}, {22, 18}}, true}};
    rim.outlines = {{{{0.5, 0.5}, {29.5, 0.5}, {29.5, 19.5}}, true}};
    Recipe dark, blue;
    dark.setting = {32, kilohertz(600), nanoseconds(350), mm_per_second(500), mm(0.05), 30, 2, mm(0)};
    dark.turn_per_pass_deg = 67;
    dark.line_shift_percent = 38;
    blue.process = Process::colour;
    blue.setting = {13, kilohertz(300), nanoseconds(26), mm_per_second(990), mm(0.1), 0, 1, mm(0)};
    blue.cross_hatch = true;
    const ArtShape ring = washer();
    job.layers = {{"ring; of <steel>", "#b8b8b8", false, dark, region_of(ring).value()},
                  {"=bar", "#000000", false, blue, region_of(bar).value()},
                  {"rim", "#c06000", true, {}, region_of(rim).value()}};
    return job;
}

double area_of(const std::vector<std::pair<double, double>>& p) {
    double twice = 0;
    for (std::size_t i = 0, k = p.size() - 1; i < p.size(); k = i++)
        twice += p[k].first * p[i].second - p[i].first * p[k].second;
    return 0.5 * twice;
}

struct DxfAreas : DL_CreationAdapter {
    std::map<std::string, double> area;
    std::vector<std::pair<double, double>> points;
    std::string layer;
    int closed = 0;
    void addPolyline(const DL_PolylineData& d) override {
        end();
        layer = attributes.getLayer();
        closed += d.flags & 1;
    }
    void addVertex(const DL_VertexData& d) override { points.emplace_back(d.x, d.y); }
    void end() {
        if (!points.empty())
            area[layer] += area_of(points);
        points.clear();
    }
};

} // namespace

TEST_CASE("a job is the same, byte by byte, after it was written and read", "[job]") {
    const Job job = sample();
    const std::string text = json_text(to_json(job));
    const Job again = job_from_json(*parse_json(text, "job"), "job").value();
    CHECK(json_text(to_json(again)) == text);
    CHECK(again.layers[0].recipe == job.layers[0].recipe);
    CHECK(again.setup == job.setup);
    CHECK(area_mm2(again.layers[0].region) == Approx(area_mm2(job.layers[0].region)).epsilon(1e-12));
    // Damaged in one place, it is refused at that place.
    const auto fault = [&](const char* path, const nlohmann::json& value) {
        nlohmann::json broken = to_json(job);
        broken[nlohmann::json::json_pointer(path)] = value;
        const auto read = job_from_json(broken, "job");
        REQUIRE_FALSE(read);
        return sentence(read.error());
    };
    CHECK(fault("/version", 99).find("newer") != std::string::npos);
    CHECK(fault("/width_mm", "wide").find("width_mm") != std::string::npos);
    CHECK(fault("/layers/1/rings_mm/0", {1, 2, 3}).find("rings_mm") != std::string::npos);
    CHECK(fault("/layers/1/rings_mm/0/3", nullptr).find("rings_mm") != std::string::npos);
    CHECK(fault("/layers/1/rings_mm/0/3", 1e9).find("rings_mm") != std::string::npos);
    CHECK(fault("/layers/0/recipe", {{"format", "finch-recipe"}}).find("layers[0].recipe.") != std::string::npos);
    CHECK(fault("/setup", 3).find("setup") != std::string::npos);
}

TEST_CASE("a job that is marked in parts says which part belongs where, or is refused", "[job]") {
    Job job = sample();
    job.places = {{1, {}, RectMm{0, 0, 15, 20}, 12.5, true}, {2, {-15, 0}, RectMm{15, 0, 15, 20}, {}, false}};
    job.layers[0].only_at = {2};
    const std::string text = json_text(to_json(job));
    const Job again = job_from_json(*parse_json(text, "job"), "job").value();
    CHECK(again.places == job.places);
    CHECK(again.layers[0].only_at == job.layers[0].only_at);
    const auto code = [&](const std::function<void(nlohmann::json&)>& edit) {
        nlohmann::json broken = to_json(job);
        edit(broken);
        const auto read = job_from_json(broken, "job");
        return read ? std::string() : read.error().place.field;
    };
    using nlohmann::json;
    CHECK_FALSE(code([](json& j) { j["layers"][0]["only_at"] = {3}; }).empty()); // would never be marked
    CHECK_FALSE(code([](json& j) { j["layers"][0]["only_at"] = {0.5}; }).empty());
    CHECK_FALSE(code([](json& j) { j["places"][0]["only_mm"] = {0, 0, 0, 20}; }).empty());
    CHECK_FALSE(code([](json& j) { j["places"][0]["only_mm"] = {0, 0, 15}; }).empty());
    CHECK_FALSE(code([](json& j) { j["places"][0]["axis_deg"] = "round"; }).empty());
    // Steps are of the whole drawing: at each place they would mark all of it.
    CHECK_FALSE(code([](json& j) {
                    j["steps"] = {{{"layer", 0}, {"first_shape", 0}, {"shapes", 1}, {"pause_s", 0}}};
                }).empty());
}

TEST_CASE("exported outlines have the job's areas for readers of other makes", "[job]") {
    const Job job = sample();
    DxfAreas dxf;
    std::stringstream in(job_dxf(job));
    REQUIRE(DL_Dxf().in(in, &dxf));
    dxf.end();
    CHECK(dxf.closed == 4);
    CHECK(dxf.area["ring  of <steel>"] == Approx(area_mm2(job.layers[0].region)).epsilon(1e-6));
    CHECK(dxf.area["=bar"] == Approx(96));
    CHECK(dxf.area.contains("guide-rim"));

    QXmlStreamReader xml(QString::fromStdString(job_svg(job)));
    std::map<QString, double> areas;
    QString group;
    while (!xml.atEnd()) {
        if (xml.readNext() != QXmlStreamReader::StartElement)
            continue;
        if (xml.name() == u"g")
            group = xml.attributes().value(QStringLiteral("id")).toString();
        if (xml.name() != u"path")
            continue;
        std::vector<std::pair<double, double>> ring;
        for (const QString& part :
             xml.attributes().value(QStringLiteral("d")).toString().replace(u'L', QStringLiteral(" L")).split(u'z')) {
            for (const QString& word : part.split(u'L', Qt::SkipEmptyParts)) {
                const QStringList xy = QString(word).remove(u'M').simplified().split(u' ', Qt::SkipEmptyParts);
                if (xy.size() == 2)
                    ring.emplace_back(xy[0].toDouble(), job.height_mm - xy[1].toDouble());
            }
            if (!ring.empty())
                areas[group] += area_of(ring);
            ring.clear();
        }
    }
    CHECK_FALSE(xml.hasError());
    REQUIRE(areas.size() == 3);
    CHECK(areas.begin()->second > 0);
    CHECK(areas[QStringLiteral("=bar")] == Approx(96));
    CHECK(areas[QStringLiteral("ring--of-<steel>")] == Approx(area_mm2(job.layers[0].region)).epsilon(1e-5));
}

TEST_CASE("an order of steps marks the same lines of every pass, step by step, with its pauses", "[job]") {
    Job job = sample();
    const auto square = [](double x, double y) {
        return std::vector<PointMm>{{x, y}, {x + 1, y}, {x + 1, y + 1}, {x, y + 1}};
    };
    for (int i = 0; i < 4; ++i) // more shapes of the bar's layer, behind each other
        job.layers[1].region.rings.push_back(square(1 + 2 * i, 0.5));
    const auto moves = [](const Job& of) {
        std::stringstream in(job_gcode(of).value());
        std::multiset<std::string> lines;
        std::string order, from;
        for (std::string line; std::getline(in, line);) {
            if (line.starts_with("G0"))
                from = line.substr(2);
            if (line.starts_with("G1")) { // a line is the same whichever way it runs
                const std::string to = line.substr(2, line.find(" F") - 2);
                lines.insert(std::min(from, to) + std::max(from, to));
            }
            if (line.starts_with("; shapes") || line.starts_with("G4"))
                order += line + '\n';
        }
        return std::pair(lines, order);
    };
    const auto plain = moves(job);
    CHECK(plain.second.empty());
    job.steps = {{1, 3, 2, 0}, {0, 0, 1, 2.5}, {1, 0, 3, 0.25}};
    REQUIRE(steps_complete(job));
    const auto stepped = moves(job);
    CHECK(stepped.first == plain.first);
    CHECK(stepped.second == "; shapes 4 to 5 of layer =bar\n; shapes 1 to 1 of layer ring  of <steel>\nG4 P2.500\n"
                            "; shapes 1 to 3 of layer =bar\nG4 P0.250\n");
}

TEST_CASE("G-code marks what the hatch says, at the recipe's power and speed, and nothing between", "[job]") {
    const Job job = sample();
    std::stringstream in(job_gcode(job).value());
    double x = 0, y = 0, power = 0, off = 0;
    std::map<double, double> marked; // by power
    std::map<double, double> feeds;
    bool on = false, absolute = false, metric = false;
    for (std::string line; std::getline(in, line);) {
        line = line.substr(0, line.find(';'));
        std::stringstream words(line);
        double nx = x, ny = y, feed = 0;
        int motion = -1;
        for (std::string word; words >> word;) {
            double v = 0; // whatever the locale
            REQUIRE(std::from_chars(word.data() + 1, word.data() + word.size(), v).ec == std::errc{});
            switch (word[0]) {
            case 'G':
                metric = metric || v == 21;
                absolute = absolute || v == 90;
                if (v == 0 || v == 1)
                    motion = static_cast<int>(v);
                break;
            case 'M':
                on = v == 3;
                break;
            case 'S':
                power = v;
                break;
            case 'X':
                nx = v;
                break;
            case 'Y':
                ny = v;
                break;
            case 'F':
                feed = v;
                break;
            default:
                FAIL("an unknown word: " << word);
            }
        }
        const double moved = std::hypot(nx - x, ny - y);
        if (motion == 1) {
            REQUIRE(on);
            marked[power] += moved;
            feeds[power] = feed;
        } else if (motion == 0) {
            REQUIRE_FALSE(on);
            off += moved;
        }
        x = nx;
        y = ny;
    }
    CHECK(metric);
    CHECK(absolute);
    CHECK_FALSE(on);
    REQUIRE(marked.size() == 2);
    // Two turned passes of the ring, and the bar crossed: both ways once.
    CHECK(marked[320] * 0.05 == Approx(2 * area_mm2(job.layers[0].region)).epsilon(5e-3));
    CHECK(marked[130] * 0.1 == Approx(2 * 96).epsilon(5e-3));
    CHECK(feeds[320] == Approx(30000));
    CHECK(feeds[130] == Approx(59400));
    CHECK(off > 0);
    const std::string frame = job_frame_gcode(job);
    CHECK(frame.find("M3") == std::string::npos);
    CHECK(frame.find("G0 X28.000000 Y18.000000") != std::string::npos);
    const std::string table = job_csv(job).value();
    CHECK(table.find("\n2,\"'=bar\",no,96,2,160,") != std::string::npos);
    CHECK(job_text(job, "ps").error().code == "job.form");
}
