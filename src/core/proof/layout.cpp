// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/layout.h"

#include "quantity/format.h"

#include <algorithm>
#include <fmt/format.h>
#include <map>
#include <string_view>

namespace finch {
namespace {

constexpr double label_height = 1.6;
constexpr double card_w = 7, card_h = 6;

/// What lies round the cells.
struct SheetMargins {
    double edge;             ///< quiet rim around everything
    double marker;           ///< side of a marker of 7 modules
    double quiet;            ///< bare metal that a marker needs around it
    double left, right, top; ///< of the cells; they also hold the names of rows and columns
    double least;            ///< width between left and right: the white card and the lettering need it
    double card;             ///< bare metal above the row of the lower markers
    double low;              ///< height of that row with the rim below it
};
/// Cells between the columns of the markers, so that the light on either side of them is told by much bare metal.
constexpr SheetMargins wide{2, 7, 1.5, 10.5, 10.5, 12, 34, 2.5, 9};
/// Cells over the whole width: two fifths of the plate on small sheets.
constexpr SheetMargins close_by{1.5, 5, 1, 3.6, 1.5, 10.2, 21, 2.2, 7.9};
const SheetMargins& margins(const ProofSheet& sheet) {
    return sheet.close ? close_by : wide;
}

/// Glyphs on a 4 x 6 grid, y down: strokes separated by blanks, points as two digits "xy".
const std::map<char, std::string_view>& glyphs() {
    static const std::map<char, std::string_view> table{{'0', "0040460600"},
                                                        {'1', "112026"},
                                                        {'2', "01103041420646"},
                                                        {'3', "00404606 1343"},
                                                        {'4', "000343 4046"},
                                                        {'5', "400003434606"},
                                                        {'6', "400006464303"},
                                                        {'7', "004016"},
                                                        {'8', "0040460600 0343"},
                                                        {'9', "4640000343"},
                                                        {'A', "0602204246 0444"},
                                                        {'B', "003041423303 334445360600"},
                                                        {'C', "40000646"},
                                                        {'D', "00304145360600"},
                                                        {'E', "40000646 0333"},
                                                        {'F', "400006 0333"},
                                                        {'G', "400006464323"},
                                                        {'H', "0006 4046 0343"},
                                                        {'I', "2026"},
                                                        {'J', "40461605"},
                                                        {'K', "0006 400346"},
                                                        {'L', "000646"},
                                                        {'M', "0600234046"},
                                                        {'N', "06004640"},
                                                        {'O', "0040460600"},
                                                        {'P', "0600404303"},
                                                        {'Q', "0040460600 2446"},
                                                        {'R', "0600404303 2346"},
                                                        {'S', "400003434606"},
                                                        {'T', "0040 2026"},
                                                        {'U', "00064640"},
                                                        {'V', "002640"},
                                                        {'W', "0016233640"},
                                                        {'X', "0046 4006"},
                                                        {'Y', "002340 2326"},
                                                        {'Z', "00400646"},
                                                        {'.', "2526"},
                                                        {'-', "1333"},
                                                        {'/', "4006"},
                                                        {'%', "4006 0010 3646"},
                                                        {':', "2122 2526"},
                                                        {'=', "1232 1434"},
                                                        {',', "2516"}};
    return table;
}

constexpr double advance = 5.6 / 6; // glyph step as a share of the height

std::string upper(std::string text) {
    std::transform(text.begin(), text.end(), text.begin(), [](unsigned char c) { return std::toupper(c); });
    return text;
}

std::string fixed_text(const ProofSheet& sheet, bool first_line) {
    std::string out;
    int written = 0;
    const std::vector<Knob> varied = varied_knobs(sheet);
    for (const Knob knob : all_knobs) {
        if (std::ranges::find(varied, knob) != varied.end())
            continue;
        const KnobTraits& t = traits(knob);
        if (!t.label_if_zero && t.get(sheet.base) == 0)
            continue;
        const bool first = written < 4;
        ++written;
        if (first != first_line)
            continue;
        out += fmt::format("{}{}={}{}", out.empty() ? "" : "  ", t.stroke, format_number(t.get(sheet.base), 4), t.unit);
    }
    return out;
}

void add_axis_labels(const ProofSheet& sheet, SheetLayout& out) {
    const SheetMargins& m = margins(sheet);
    for (std::size_t c = 0; c < sheet.columns(); ++c) {
        const RectMm& cell = out.cells[c];
        LabelText label{std::string(1, static_cast<char>('A' + c)) +
                            (sheet.free() ? std::string() : " " + format_number(sheet.across.values[c], 4)),
                        {},
                        1.3};
        // Long numbers on narrow cells: smaller, never overlapping the neighbour.
        label.height_mm = std::min(1.3, 1.3 * (cell.w + in_mm(sheet.gap) - 1.4) / stroke_text_width(label));
        label.at = {cell.x, cell.y - 0.8};
        out.labels.push_back(label);
    }
    for (std::size_t r = 0; r < sheet.rows(); ++r) {
        const RectMm& cell = out.cells[r * sheet.columns()];
        LabelText label{sheet.free() ? std::to_string(r + 1)
                                     : fmt::format("{} {}", r + 1, format_number(sheet.down.values[r], 4)),
                        {},
                        1.3};
        label.height_mm = std::min(1.3, 1.3 * (m.left - m.edge - 0.6) / stroke_text_width(label));
        label.at = {m.edge, cell.y + cell.h / 2 + 0.65};
        out.labels.push_back(label);
    }
}

struct HeldCells {
    std::vector<std::size_t> cells; ///< row by row
    std::vector<CellPlace> places;
};
HeldCells held_cells(const ProofSheet& sheet, const SheetLayout& at) {
    HeldCells out;
    for (std::size_t i = 0; i < sheet.cells(); ++i)
        if (sheet.holds(i)) {
            out.cells.push_back(i);
            out.places.push_back(centre_of(at.cells[i]));
        }
    return out;
}

std::vector<std::size_t> without_left_out(std::vector<std::size_t> cells, const ProofSheet& sheet) {
    std::erase_if(cells, [&](std::size_t cell) { return cell < sheet.left_out.size() && sheet.left_out[cell]; });
    return cells;
}

/// The micro sign is burned as a u.
std::string in_strokes(std::string text) {
    constexpr std::string_view micro = "\u00b5";
    for (auto at = text.find(micro); at != std::string::npos; at = text.find(micro, at))
        text.replace(at, micro.size(), "u");
    return text;
}

} // namespace

CellPlace centre_of(const RectMm& cell) {
    return {cell.x + cell.w / 2, cell.y + cell.h / 2};
}

std::vector<std::size_t> planned_order(const ProofSheet& sheet, const SheetLayout& at) {
    auto [cells, places] = held_cells(sheet, at);
    if (sheet.paired)
        return without_left_out(sheet.paired->order, sheet);
    if (sheet.ladder || sheet.offsets) { // the head moves one way only, and once for each offset
        std::ranges::stable_sort(cells, {},
                                 [&](std::size_t i) { return in_mm(cell_recipe(sheet, i).setting.focus_offset); });
        return without_left_out(std::move(cells), sheet);
    }
    std::vector<std::size_t> out;
    for (const std::size_t k : cool_order(places))
        out.push_back(cells[k]);
    return without_left_out(std::move(out), sheet);
}

std::vector<std::size_t> burning_order(const ProofSheet& sheet, const SheetLayout& at) {
    std::vector<std::size_t> out;
    for (const CellTurn& t : sheet.turns)
        out.push_back(t.cell);
    if (!out.empty())
        return without_left_out(std::move(out), sheet);
    return sheet.free() ? planned_order(sheet, at) : without_left_out(held_cells(sheet, at).cells, sheet);
}

double rest_before(const ProofSheet& sheet, std::size_t cell) {
    const auto turn = std::ranges::find(sheet.turns, cell, &CellTurn::cell);
    return turn != sheet.turns.end() ? turn->rest_s : 0;
}

SheetLayout layout(const ProofSheet& sheet) {
    SheetLayout out;
    const double w = in_mm(sheet.cell_width);
    const double h = in_mm(sheet.cell_height);
    const double gap = in_mm(sheet.gap);
    const double grid_w = static_cast<double>(sheet.columns()) * (w + gap) - gap;
    const double grid_h = static_cast<double>(sheet.rows()) * (h + gap) - gap;
    const SheetMargins& m = margins(sheet);
    // Between the lower fiducials lie the white card and the fixed knobs; a narrow sheet is widened to hold them.
    const double inner = std::max(grid_w, m.least);
    const double left = m.left + (inner - grid_w) / 2;
    const double top = m.top;
    out.width_mm = m.left + inner + m.right;
    const double low = top + grid_h + m.card;
    out.height_mm = low + m.low;
    for (std::size_t r = 0; r < sheet.rows(); ++r)
        for (std::size_t c = 0; c < sheet.columns(); ++c)
            out.cells.push_back(
                {left + static_cast<double>(c) * (w + gap), top + static_cast<double>(r) * (h + gap), w, h});
    const int base = 4 * sheet_code(sheet.plate_number());
    const double far_x = out.width_mm - m.edge - m.marker;
    const double low_y = out.height_mm - m.edge - m.marker;
    out.fiducials = {Fiducial{base, {m.edge, m.edge, m.marker, m.marker}, "upper left"},
                     Fiducial{base + 1, {far_x, m.edge, m.marker, m.marker}, "upper right"},
                     Fiducial{base + 2, {far_x, low_y, m.marker, m.marker}, "lower right"},
                     Fiducial{base + 3, {m.edge, low_y, m.marker, m.marker}, "lower left"}};
    const double beside = m.edge + m.marker + m.quiet; // a marker
    out.white_card =
        sheet.close ? RectMm{beside + 1.5, low + 0.2, card_w, card_h} : RectMm{beside + 0.5, low + 0.5, card_w, card_h};
    if (sheet.on_old_plate())
        return out; // its lettering is on the plate
    add_axis_labels(sheet, out);
    const auto line = [&](const std::string& text, double x, double y, double room) {
        LabelText label{upper(in_strokes(text)), {x, y}, label_height};
        label.height_mm = std::min(label_height, label_height * room / std::max(stroke_text_width(label), 1e-9));
        if (!text.empty())
            out.labels.push_back(label);
    };
    const double room = out.width_mm - 2 * beside - 0.5;
    line(sheet.frame ? fmt::format("SHEET {}  frame of {} cells", sheet.number, sheet.cells())
         : sheet.free()
             ? fmt::format("SHEET {}  {} {}", sheet.number, sheet.own.size(),
                           sheet.ladder      ? "offsets of the focus"
                           : sheet.threshold ? "powers, mixed"
                           : sheet.offsets   ? "cells of one film"
                           : sheet.wedge     ? "steps of passes"
                           : sheet.field     ? "cells over the field"
                                             : "free cells")
             : fmt::format("SHEET {}  {} {} x {} {}", sheet.number, traits(sheet.across.knob).label,
                           traits(sheet.across.knob).unit, traits(sheet.down.knob).label, traits(sheet.down.knob).unit),
         beside, m.edge + 2.2, room);
    line(sheet.aim, beside, m.edge + 5.0, room);
    if (sheet.frame || sheet.close)
        return out; // later rounds of a frame may keep other knobs, and a small sheet has no room for them
    line(fixed_text(sheet, true), beside + 9, low + 2.4, inner - 9.5);
    line(fixed_text(sheet, false), beside + 9, low + 5.6, inner - 9.5);
    return out;
}

double stroke_text_width(const LabelText& label) {
    return static_cast<double>(label.text.size()) * label.height_mm * advance;
}

std::vector<std::vector<PointMm>> stroke_text(const LabelText& label) {
    std::vector<std::vector<PointMm>> out;
    const double unit = label.height_mm / 6;
    double x = label.at.x;
    for (const char c : label.text) {
        const auto glyph =
            glyphs().find(glyphs().contains(c) ? c : static_cast<char>(std::toupper(static_cast<unsigned char>(c))));
        if (glyph != glyphs().end()) {
            std::vector<PointMm> stroke;
            const std::string_view points = glyph->second;
            for (std::size_t i = 0; i <= points.size(); ++i) {
                if (i == points.size() || points[i] == ' ') {
                    if (stroke.size() > 1)
                        out.push_back(stroke);
                    stroke.clear();
                    continue;
                }
                stroke.push_back(
                    {x + unit * (points[i] - '0'), label.at.y - label.height_mm + unit * (points[i + 1] - '0')});
                ++i;
            }
        }
        x += label.height_mm * advance;
    }
    return out;
}

std::vector<ToolStep> tool_steps(const ProofSheet& sheet, const SheetLayout& at,
                                 const std::array<std::array<bool, 49>, 4>& modules) {
    std::vector<ToolStep> out;
    for (std::size_t f = 0; f < at.fiducials.size() && !sheet.on_old_plate(); ++f) {
        ToolStep step{"fiducial", sheet.label_recipe, {}, {}};
        const RectMm& box = at.fiducials[f].box;
        const double m = box.w / 7;
        // Neighbouring modules of a row are one rectangle, so that no seam shows inside the marker.
        for (int row = 0; row < 7; ++row)
            for (int column = 0; column < 7;) {
                int end = column;
                while (end < 7 && modules[f][static_cast<std::size_t>(7 * row + end)])
                    ++end;
                if (end > column)
                    step.hatch.push_back({box.x + m * column, box.y + m * row, m * (end - column), m});
                column = std::max(end, column + 1);
            }
        out.push_back(std::move(step));
    }
    ToolStep text{"label", sheet.label_recipe, {}, {}};
    for (const LabelText& label : at.labels)
        for (auto& stroke : stroke_text(label))
            text.strokes.push_back(std::move(stroke));
    if (!text.strokes.empty())
        out.push_back(std::move(text));
    for (const std::size_t cell : burning_order(sheet, at))
        out.push_back(
            {cell_name(sheet, cell), cell_recipe(sheet, cell), {at.cells[cell]}, {}, rest_before(sheet, cell)});
    return out;
}

} // namespace finch
