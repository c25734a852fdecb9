// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/tray.h"

#include "document/json_fields.h"
#include "formats/data_folder.h"
#include "formats/job_export.h"

#include <algorithm>
#include <array>
#include <catch2/catch.hpp>
#include <charconv>
#include <cmath>
#include <deque>
#include <map>
#include <nlohmann/json.hpp>
#include <numbers>
#include <sstream>

using namespace finch;

namespace {

/// A label of 16 x 9 mm with two bars on it.
Job label() {
    Job job{"label", 20, 12, {}, {}, {}, {}};
    job.setup.bench = load_bench(FINCH_SOURCE "/data", "wren").value();
    job.setup.stock = load_stock(FINCH_SOURCE "/data", "sundial-316").value();
    const auto box = [](double x, double y, double w, double h) {
        return std::vector<PointMm>{{x, y}, {x + w, y}, {x + w, y + h}, {x, y + h}};
    };
    Recipe r;
    r.setting = {13, kilohertz(300), nanoseconds(26), mm_per_second(990), mm(0.05), 20, 2, mm(0)};
    r.turn_per_pass_deg = 67;
    job.layers = {{"rim", "#c06000", true, {}, {{box(2, 1, 16, 9)}}, false},
                  {"bar", "#000000", false, r, {{box(4, 3, 8, 2), box(13, 6, 2, 2)}}, false}};
    return job;
}

struct Marked {
    double mm = 0, left = 1e9, low = 1e9, right = -1e9, high = -1e9;
};

/// What G-code marks under each "; nest" line, by an interpreter that knows the three words it needs.
std::vector<std::pair<int, Marked>> marked_by_nest(const std::string& gcode) {
    std::vector<std::pair<int, Marked>> out;
    std::stringstream in(gcode);
    double x = 0, y = 0;
    const auto number = [](std::string_view text) {
        double v = 0; // whatever the locale
        std::from_chars(text.data(), text.data() + text.size(), v);
        return v;
    };
    for (std::string line; std::getline(in, line);) {
        if (line.starts_with("; nest "))
            out.emplace_back(static_cast<int>(number(std::string_view(line).substr(7))), Marked());
        if (!line.starts_with("G0") && !line.starts_with("G1"))
            continue;
        const double nx = number(std::string_view(line).substr(line.find('X') + 1)),
                     ny = number(std::string_view(line).substr(line.find('Y') + 1));
        if (line.starts_with("G1")) {
            REQUIRE_FALSE(out.empty());
            Marked& m = out.back().second;
            m.mm += std::hypot(nx - x, ny - y);
            for (const auto& [px, py] : {std::pair{x, y}, {nx, ny}}) {
                m.left = std::min(m.left, px), m.right = std::max(m.right, px);
                m.low = std::min(m.low, py), m.high = std::max(m.high, py);
            }
        }
        x = nx;
        y = ny;
    }
    return out;
}

} // namespace

TEST_CASE("every part of a tray of 24 is marked in its nest, each way between nests short", "[tray]") {
    const Job part = label();
    const Tray tray{4, 6, 20, 12.5, 10, {{7, {0.15, -0.1}}, {24, {-0.2, 0}}}};
    const Job job = in_tray(part, tray).value();
    REQUIRE(job.places.size() == 24);
    CHECK(job.width_mm == Approx(2 * 10 + 16 + 3 * 20));
    CHECK(job.height_mm == Approx(2 * 10 + 9 + 5 * 12.5));
    const auto nests = marked_by_nest(job_gcode(job).value());
    REQUIRE(nests.size() == 24);
    double alone = 0;
    for (int pass = 0; pass < 2; ++pass)
        alone += pass_hatch(part.layers[1], pass)->length_mm();
    std::map<int, int> seen;
    for (std::size_t i = 0; i < nests.size(); ++i) {
        const auto& [n, m] = nests[i];
        ++seen[n];
        const int column = (n - 1) % 4, row = (n - 1) / 4;
        const double x = 10 + 20.0 * column + (n == 7 ? 0.15 : n == 24 ? -0.2 : 0);
        const double y = 10 + 12.5 * row + (n == 7 ? -0.1 : 0);
        INFO("nest " << n);
        CHECK(m.mm == Approx(alone).epsilon(1e-6));
        CHECK(m.left >= x + 2 - 1e-6); // the bar begins 2 mm inside the label
        CHECK(m.left < x + 2.2);
        CHECK(m.right <= x + 13 + 1e-6);
        CHECK(m.low >= y + 2 - 1e-6);
        CHECK(m.high <= y + 7 + 1e-6);
        if (i > 0) {
            const int before = nests[i - 1].first - 1;
            CHECK(std::abs(before % 4 - column) + std::abs(before / 4 - row) == 1);
        }
    }
    CHECK(seen.size() == 24);
    // Written and read it is the same, byte by byte; and the other forms hold every nest.
    const std::string text = json_text(to_json(job), 1);
    CHECK(json_text(to_json(job_from_json(parse_json(text, "job").value(), "job").value()), 1) == text);
    const auto count = [](const std::string& in, const std::string& what) {
        int n = 0;
        for (std::size_t at = 0; (at = in.find(what, at)) != std::string::npos; at += what.size())
            ++n;
        return n;
    };
    CHECK(count(job_svg(job), "z\n") == 24 * 3);
    CHECK(count(job_dxf(job), "POLYLINE") == 24 * 3);
    CHECK(count(job_frame_gcode(job), "; guide") == 24);
}

TEST_CASE("a tray that cannot be is refused by name", "[tray]") {
    const Job part = label();
    const auto code = [&](const Tray& t) { return in_tray(part, t).error().code; };
    CHECK(code({0, 6, 20, 20, 10, {}}) == "tray.size");
    CHECK(code({2000, 1, 20, 20, 10, {}}) == "tray.size");
    CHECK(code({4, 6, -20, 20, 10, {}}) == "tray.size");
    CHECK(code({4, 6, 20, std::nan(""), 10, {}}) == "tray.size");
    CHECK(code({4, 6, 15.9, 20, 10, {}}) == "tray.overlap");
    CHECK(code({4, 6, 20, 8.9, 10, {}}) == "tray.overlap");
    CHECK(code({2, 2, 17, 10, 10, {{1, {1.5, 0}}}}) == "tray.overlap"); // pushed into its neighbour
    CHECK(code({9, 2, 20, 20, 10, {}}) == "tray.field");
    CHECK(code({4, 6, 20, 20, 10, {{25, {0, 0}}}}) == "tray.offset");
    CHECK(code({4, 6, 20, 20, 10, {{3, {21, 0}}}}) == "tray.offset");
    CHECK(code({4, 6, 20, 20, 10, {}, 25}) == "tray.size"); // more parts than nests
    CHECK(code({4, 6, 20, 20, 10, {}, 0, "nobody"}) == "tray.outline");
    Job none = part;
    none.layers.clear();
    CHECK(in_tray(none, {}).error().code == "tray.size");
    CHECK(in_tray(in_tray(part, {}).value(), {}).error().code == "tray.size"); // a tray of trays
}

TEST_CASE("a jig has a pocket for each part, wider all round, with pins and numbers", "[tray]") {
    const Job part = label();
    const Tray tray{4, 6, 20, 16, 10, {}};
    const double c = 0.2;
    const Job jig = jig_of(part, tray, c).value();
    // Three parts on it mark three, and need the same jig; with its outline chosen the pocket is that.
    Tray three = tray;
    three.filled = 3;
    CHECK(in_tray(part, three)->places.size() == 3);
    CHECK(area_mm2(jig_of(part, three, c)->layers[1].region) == Approx(area_mm2(jig.layers[1].region)));
    Job with_frame = part;
    with_frame.layers.push_back({"frame", "#000000", true, {}, Region{{{{-2, -2}, {17, -2}, {17, 11}, {-2, 11}}}}});
    Tray chosen = tray;
    chosen.outline = "frame";
    chosen.pitch_x_mm = 24, chosen.pitch_y_mm = 24;
    CHECK(area_mm2(jig_of(with_frame, chosen, c)->layers[1].region) / 24 > 19 * 13);
    chosen.outline = part.layers[0].name;
    CHECK(area_mm2(jig_of(with_frame, chosen, c)->layers[1].region) / 24 < 19 * 13);
    REQUIRE(jig.layers.size() == 4);
    CHECK(area_mm2(jig.layers[0].region) == Approx(jig.width_mm * jig.height_mm));
    CHECK(jig.layers[1].region.rings.size() == 24);
    const double pocket = 16 * 9 + 2 * (16 + 9) * c + std::numbers::pi * c * c; // with round corners
    CHECK(area_mm2(jig.layers[1].region) == Approx(24 * pocket).epsilon(1e-4));
    CHECK(area_mm2(jig.layers[2].region) == Approx(2 * std::numbers::pi * 1.5 * 1.5).epsilon(2e-3));
    // How many bars each digit has.
    const std::array<int, 10> bars{6, 2, 5, 5, 4, 5, 6, 3, 7, 6};
    int all = 0;
    for (int n = 1; n <= 24; ++n)
        all += bars.at(static_cast<std::size_t>(n % 10)) + (n > 9 ? bars.at(static_cast<std::size_t>(n / 10)) : 0);
    CHECK(static_cast<int>(jig.layers[3].region.rings.size()) == all);
    for (const auto& layer : jig.layers)
        for (const auto& ring : layer.region.rings)
            for (const PointMm& p : ring) {
                CHECK(std::clamp(p.x, -1e-9, jig.width_mm + 1e-9) == p.x);
                CHECK(std::clamp(p.y, -1e-9, jig.height_mm + 1e-9) == p.y);
            }
    CHECK(job_svg(jig).find("pockets") != std::string::npos);
    CHECK(jig_of(part, {9, 9, 20, 20, 10, {}}, c).error().code == "tray.field");
    CHECK(jig_of(part, {4, 6, 20, 12, 10, {}}, c).error().code == "tray.numbers");
    CHECK(jig_of(part, {4, 1, 20, 12, 3, {}}, c).error().code == "tray.numbers");
}

TEST_CASE("as many parts are loaded as the binomial asks for, and a batch takes what a clock would show", "[tray]") {
    for (const double spoiled : {0.0, 0.01, 0.08, 0.4})
        for (const int wanted : {1, 7, 24, 100}) {
            // Chance of enough good ones, part by part.
            const auto enough = [&](int n) {
                std::vector<double> good(static_cast<std::size_t>(n) + 1, 0);
                good[0] = 1;
                for (int i = 0; i < n; ++i)
                    for (auto k = static_cast<std::size_t>(i) + 1; k < good.size(); --k)
                        good[k] = good[k] * spoiled + (k > 0 ? good[k - 1] * (1 - spoiled) : 0);
                double sum = 0;
                for (int k = wanted; k <= n; ++k)
                    sum += good[static_cast<std::size_t>(k)];
                return sum;
            };
            const int n = parts_to_load(wanted, spoiled);
            INFO(wanted << " wanted, " << spoiled << " spoiled: " << n);
            CHECK(enough(n) >= 0.95);
            if (n > wanted)
                CHECK(enough(n - 1) < 0.95);
        }
    for (const auto& [load, nests, mark, handle] :
         {std::tuple{100, 24, 30.0, 8.0}, {24, 24, 5.0, 8.0}, {25, 24, 5.0, 8.0}, {7, 1, 3.0, 9.0}}) {
        const Batch b = batch_of(load, nests, mark, handle);
        // Two trays by the clock: one is filled as soon as the other is on the bench, and marked when it is full and
        // the bench is free.
        std::deque<int> parts;
        for (int left = load; left > 0; left -= nests)
            parts.push_back(std::min(left, nests));
        double bench_free = 0, filled = parts.front() * handle;
        for (std::size_t i = 0; i < parts.size(); ++i) {
            const double begun = std::max(bench_free, filled);
            bench_free = begun + parts[i] * mark;
            filled = begun + (i + 1 < parts.size() ? parts[i + 1] * handle : 0);
        }
        CHECK(b.trays == static_cast<int>(parts.size()));
        CHECK(b.on_last == parts.back());
        CHECK(b.one_tray_s == Approx(load * (mark + handle)));
        CHECK(b.two_trays_s == Approx(bench_free));
    }
}
