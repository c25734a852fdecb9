// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/controller.h"

#include "standin/chance.h"

#include <algorithm>
#include <charconv>
#include <cmath>

namespace finch::standin {
namespace {

constexpr double farthest_mm = 1000, axis_s = 0.2, longest_dwell_s = 3600, fastest_mm_min = 60 * 20000.0;

struct State {
    PointMm at;
    double feed_mm_min = 0;
    bool laser = false, metric = false, absolute = false, ended = false;
    double power = 0;
};

/// The words of one line: a letter and a number each.
struct Words {
    std::vector<std::pair<char, double>> all;
    [[nodiscard]] const double* of(char letter) const {
        for (const auto& [l, v] : all)
            if (l == letter)
                return &v;
        return nullptr;
    }
};

std::optional<Words> words_of(std::string_view line) {
    Words out;
    while (true) {
        line.remove_prefix(std::min(line.find_first_not_of(" \t\r"), line.size()));
        if (line.empty())
            return out;
        const char letter = line.front();
        double value = 0;
        const auto [end, fault] = std::from_chars(line.data() + 1, line.data() + line.size(), value);
        if (letter < 'A' || letter > 'Z' || fault != std::errc() || !std::isfinite(value) || out.of(letter) != nullptr)
            return std::nullopt;
        out.all.emplace_back(letter, value);
        line.remove_prefix(static_cast<std::size_t>(end - line.data()));
    }
}

/// Length of a line in a box, and the ends of that piece: clipped side by side.
std::optional<LineMm> inside(const LineMm& l, const RectMm& box) {
    double from = 0, to = 1;
    const double dx = l.to.x - l.from.x, dy = l.to.y - l.from.y;
    for (const auto& [slope, room] : {std::pair{-dx, l.from.x - box.x},
                                      {dx, box.x + box.w - l.from.x},
                                      {-dy, l.from.y - box.y},
                                      {dy, box.y + box.h - l.from.y}}) {
        if (slope == 0 && room < 0)
            return std::nullopt;
        if (slope < 0)
            from = std::max(from, room / slope);
        if (slope > 0)
            to = std::min(to, room / slope);
    }
    if (from >= to)
        return std::nullopt;
    return LineMm{{l.from.x + from * dx, l.from.y + from * dy}, {l.from.x + to * dx, l.from.y + to * dy}};
}

double length(const LineMm& l) {
    return std::hypot(l.to.x - l.from.x, l.to.y - l.from.y);
}

/// Does what one line says; why not, where it cannot.
const char* obey(const Words& w, int number, State& s, std::vector<Stage>& stages) {
    bool moves = false, marks_way = false, dwells = false;
    for (const auto& [letter, value] : w.all) {
        if (letter == 'G') {
            moves = value == 0 || value == 1;
            marks_way = value == 1;
            dwells = value == 4;
            s.metric = s.metric || value == 21;
            s.absolute = s.absolute || value == 90;
            if (!moves && !dwells && value != 21 && value != 90)
                return "This G word is not known.";
        } else if (letter == 'M') {
            if (value == 3)
                s.laser = true;
            else if (value == 5)
                s.laser = false;
            else if (value == 2)
                s.ended = true;
            else if (value == 0) {
                if (s.laser)
                    return "It would wait with the laser on.";
                stages.push_back({stages.back().name, true, {}, 0});
            } else
                return "This M word is not known.";
        } else if (letter == 'S') {
            if (value < 0 || value > 1000)
                return "The power lies outside 0 to 1000.";
            s.power = value;
        } else if (letter == 'F') {
            if (value <= 0 || value > fastest_mm_min)
                return "The feed is beyond this bench.";
            s.feed_mm_min = value;
        } else if (std::string_view("XYZAP").find(letter) == std::string_view::npos)
            return "This word is not known.";
    }
    if (dwells) {
        const double* p = w.of('P');
        if (p == nullptr || *p < 0 || *p > longest_dwell_s)
            return "A pause has P seconds, 0 to 3600.";
        stages.back().dwell_s += *p;
        return nullptr;
    }
    const double *x = w.of('X'), *y = w.of('Y');
    if (!moves)
        return x != nullptr || y != nullptr || w.of('Z') != nullptr || w.of('A') != nullptr
                   ? "A place without G0 or G1."
                   : nullptr;
    if (!s.metric || !s.absolute)
        return "It moves before it said G21 and G90.";
    if (w.of('Z') != nullptr || w.of('A') != nullptr)
        stages.back().dwell_s += axis_s;
    const PointMm to{x != nullptr ? *x : s.at.x, y != nullptr ? *y : s.at.y};
    if (std::abs(to.x) > farthest_mm || std::abs(to.y) > farthest_mm)
        return "A place lies beyond this bench.";
    if (marks_way) {
        if (s.feed_mm_min <= 0)
            return "A line without a feed.";
        stages.back().strokes.push_back({{s.at, to}, s.feed_mm_min / 60, s.laser && s.power > 0, number});
    } else if (s.laser && s.power > 0 && (x != nullptr || y != nullptr))
        return "It would jump with the laser on.";
    s.at = to;
    return nullptr;
}

} // namespace

Expected<std::vector<Stage>> stages_of(std::string_view gcode) {
    std::vector<Stage> out(1);
    State state;
    int number = 0;
    while (!gcode.empty() && !state.ended) {
        ++number;
        const std::size_t end = std::min(gcode.find('\n'), gcode.size());
        std::string_view line = gcode.substr(0, end);
        gcode.remove_prefix(std::min(end + 1, gcode.size()));
        const std::size_t comment = line.find(';');
        if (comment != std::string_view::npos) {
            std::string_view words = line.substr(comment + 1);
            words.remove_prefix(std::min(words.find_first_not_of(' '), words.size()));
            for (const std::string_view place : {"nest ", "tile ", "strip "})
                if (words.starts_with(place) && words.size() < 40) {
                    // What was begun under another name ends here.
                    if (!out.back().strokes.empty())
                        out.push_back({});
                    out.back().name = words;
                }
            line = line.substr(0, comment);
        }
        const auto words = words_of(line);
        const char* why = words ? obey(*words, number, state, out) : "This is no word: a letter and a number each.";
        if (why != nullptr)
            return failure("standin.gcode", why, "See docs/formats.md for the words of a program.", {{}, number, {}});
    }
    return out;
}

double time_of(const Galvo& galvo, const Stage& stage) {
    double s = stage.dwell_s;
    // Lines of one speed are sent together.
    for (std::size_t i = 0; i < stage.strokes.size();) {
        std::vector<LineMm> lines;
        const double speed = stage.strokes[i].speed_mm_s;
        for (; i < stage.strokes.size() && stage.strokes[i].speed_mm_s == speed; ++i)
            lines.push_back(stage.strokes[i].line);
        s += driven_s(galvo, lines, speed, 1);
    }
    return s;
}

Table::Table(const World& world, std::vector<LaidPart> parts) {
    const double play = world.seed == 0                  ? 0
                        : world.grade == Grade::friendly ? 0.005
                        : world.grade == Grade::honest   ? 0.015
                                                         : 0.03;
    // Of the jig, not of the parts: a pocket lies off the same way each time.
    for (const LaidPart& p : parts) {
        Chance pocket{world.seed * 613 + static_cast<std::uint64_t>(p.nest) * 7};
        const bool worn = world.seed != 0 && static_cast<std::uint64_t>(p.nest) % 24 == world.seed % 24;
        There t{p, p.box};
        t.box.x += pocket.bell(play) + (worn ? 20 * play : 0);
        t.box.y += pocket.bell(play) - (worn ? 12 * play : 0);
        parts_.push_back(t);
    }
}

void Table::mark(const Stage::Stroke& stroke) {
    if (!stroke.marks)
        return;
    double on_parts = 0;
    for (There& t : parts_)
        if (const auto there = inside(stroke.line, t.box)) {
            on_parts += length(*there);
            t.marked_mm += length(*there);
            for (const PointMm& p : {there->from, there->to}) {
                t.left = std::min(t.left, p.x - t.box.x), t.right = std::max(t.right, p.x - t.box.x);
                t.low = std::min(t.low, p.y - t.box.y), t.high = std::max(t.high, p.y - t.box.y);
            }
        }
    beside_mm_ += std::max(0.0, length(stroke.line) - on_parts);
}

RanJob Table::found(double time_s) const {
    RanJob out{time_s, beside_mm_, {}};
    for (const There& t : parts_) {
        MarkedPart p{t.said.nest, t.marked_mm, {}};
        if (t.marked_mm > 0)
            p.box = RectMm{t.left, t.low, t.right - t.left, t.high - t.low};
        out.parts.push_back(p);
    }
    return out;
}

} // namespace finch::standin
