// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/colour_chart.h"

#include "proof/cell_lines.h"
#include "proof/colour_list.h"

#include <algorithm>
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
    constexpr std::string_view paper = "paper";
    MeasuredColours out;
    std::string cells; // the lines of the patches, each where it was
    int line_number = 0;
    while (!text.empty()) {
        const std::size_t end = std::min(text.find('\n'), text.size());
        const std::string_view line = without_separators(text.substr(0, end));
        text.remove_prefix(std::min(end + 1, text.size()));
        ++line_number;
        if (line.starts_with(paper)) {
            const auto v = colour_numbers(line.substr(paper.size()));
            if (!v || v->size() < 3 || v->size() > 4 || !((*v)[0] >= 0 && (*v)[0] <= 100))
                return failure("colour.numbers", "The values of the paper are no L*, a*, b*.",
                               "Write it like \"paper; 95.1; 0.2; -1.0\".", {file, line_number, {}});
            out[std::string(paper)] = {(*v)[0], (*v)[1], (*v)[2]};
        } else
            cells += line;
        cells += '\n';
    }
    const auto colours = colours_from_text(cells, grid, file);
    if (!colours)
        return tl::unexpected(colours.error());
    for (const CellColour& c : *colours)
        out[cell_name(grid, c.cell)] = c.lab;
    return out;
}

} // namespace finch
