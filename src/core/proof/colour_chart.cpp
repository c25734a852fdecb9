// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/colour_chart.h"

#include "quantity/number_text.h"
#include "quantity/scan.h"

#include <array>

namespace finch {
namespace {

constexpr int chart_number = 249; // the last code of the fiducials

ColourChart make_chart() {
    ColourChart c;
    c.grid.number = chart_number;
    c.grid.across = {Knob::scan_speed, {1, 2, 3, 4, 5, 6}, Steps::linear};
    c.grid.down = {Knob::power, {1, 2, 3, 4}, Steps::linear};
    c.grid.cell_width = mm(14);
    c.grid.cell_height = mm(11);
    c.grid.gap = mm(3);
    c.layout = layout(c.grid);
    c.layout.labels.clear();
    c.layout.white_card = {};
    // Greys, and the colours that films on metal have.
    c.asked = {{92, 0, 0},    {80, 0, 0},    {66, 0, 0},   {52, 0, 0},    {38, 0, 0},    {24, 0, 0},
               {74, 2, 22},   {66, 4, 34},   {56, 10, 40}, {46, 16, 34},  {40, 22, 22},  {36, 26, 6},
               {30, 24, -12}, {30, 14, -26}, {36, 4, -34}, {46, -4, -30}, {56, -9, -18}, {64, -10, -6},
               {66, -10, 8},  {62, -14, 24}, {54, 24, 2},  {46, 30, 18},  {40, -16, -8}, {48, -18, 10}};
    return c;
}

} // namespace

const ColourChart& colour_chart() {
    static const ColourChart chart = make_chart();
    return chart;
}

ColourPrint chart_print(const std::array<std::array<bool, 49>, 4>& modules) {
    constexpr std::array<double, 3> black{18, 0, 0};
    const ColourChart& chart = colour_chart();
    ColourPrint out{chart.layout.width_mm, chart.layout.height_mm, {}};
    for (const ToolStep& step : tool_steps(chart.grid, chart.layout, modules))
        if (step.name == "fiducial")
            out.patches.push_back({{}, black, step.hatch});
    for (std::size_t i = 0; i < chart.asked.size(); ++i)
        out.patches.push_back({cell_name(chart.grid, i),
                               {chart.asked[i].l, chart.asked[i].a, chart.asked[i].b},
                               {chart.layout.cells[i]}});
    return out;
}

Expected<MeasuredColours> measured_colours_from_text(std::string_view text, const ProofSheet& grid,
                                                     const std::string& file) {
    MeasuredColours out;
    int line_number = 0;
    const auto bad = [&](const char* code, const std::string& what, const char* fix) {
        return failure(code, what, fix, {file, line_number, {}});
    };
    while (!text.empty()) {
        const std::size_t end = text.find_first_of("\r\n");
        std::string_view line = text.substr(0, end);
        text.remove_prefix(end == std::string_view::npos ? text.size() : end + 1);
        ++line_number;
        std::vector<std::string> parts(1);
        for (const char c : line)
            if (c == ',' || c == ';' || c == '\t')
                parts.emplace_back();
            else if (c != ' ' && c != '"')
                parts.back() += c;
        if (parts.size() == 1 && parts[0].empty())
            continue;
        if (parts.size() < 4) {
            if (line_number == 1)
                continue;
            return bad("chart.bad_line", "A line needs the patch and three values.", "Write it like A1,92.0,0.1,-0.4.");
        }
        std::array<double, 3> v{};
        bool numbers = true;
        for (std::size_t i = 0; i < 3; ++i) {
            const auto number = plain_number(plain_ascii(parts[i + 1]));
            numbers = numbers && number && *number > -200 && *number < 200;
            v[i] = number.value_or(0);
        }
        if (!numbers) {
            if (line_number == 1)
                continue; // the heading
            return bad("chart.bad_line", "The values of a patch are no L*, a*, b*.", "Write it like A1,92.0,0.1,-0.4.");
        }
        if (parts[0] != "paper" && !cell_from_name(grid, parts[0]))
            return bad("chart.unknown_patch", "There is no patch " + shortened(parts[0], 20) + ".",
                       "Use the names on the chart or sheet, and paper.");
        out[parts[0]] = {v[0], v[1], v[2]};
    }
    if (out.empty())
        return failure("chart.no_values", "There are no measured colours in this file.",
                       "One line for each patch: A1,92.0,0.1,-0.4.", {file, 0, {}});
    return out;
}

} // namespace finch
