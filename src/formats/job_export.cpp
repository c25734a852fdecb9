// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/job_export.h"

#include "document/json_fields.h"
#include "formats/export_text.h"
#include "formats/job_sheet.h"
#include "piece/marking_order.h"
#include "piece/scanner_fit.h"
#include "piece/shapes.h"

#include <algorithm>
#include <fmt/format.h>
#include <iterator>
#include <map>
#include <nlohmann/json.hpp>
#include <span>

namespace finch {
namespace {

constexpr std::size_t most_gcode_lines = 2'000'000;

/// Names of DXF layers and comments of G-code hold neither line ends nor brackets.
std::string plain_name(const std::string& text) {
    std::string out;
    for (const char c : text)
        out += static_cast<unsigned char>(c) < 0x20 || c == '(' || c == ')' || c == ';' || c == '"' ? ' ' : c;
    return out.substr(0, 120);
}

/// An id holds no blanks.
std::string id_of(std::string name) {
    std::ranges::replace(name, ' ', '-');
    return name;
}

std::string layer_name(const JobLayer& l) {
    return (l.guide ? "guide-" : "") + plain_name(l.name);
}

bool marked(const JobLayer& l) {
    return !l.guide && l.recipe;
}

/// Text for a cell of a table.
std::string csv_text(const std::string& text) {
    std::string out = "\"";
    for (const char c : text)
        out += c == '"' ? std::string("\"\"") : std::string(1, c == '\n' || c == '\r' ? ' ' : c);
    // A sheet program must not take a name for a formula.
    if (out.size() > 1 && (out[1] == '=' || out[1] == '+' || out[1] == '-' || out[1] == '@'))
        out.insert(1, "'");
    return out + '"';
}

} // namespace

std::string job_svg(const Job& job) {
    const PointMm page = drawn_size(job);
    std::string out =
        fmt::format("<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<svg xmlns=\"http://www.w3.org/2000/svg\" "
                    "width=\"{0:.6g}mm\" height=\"{1:.6g}mm\" viewBox=\"0 0 {0:.6g} {1:.6g}\">\n<title>{2}</title>\n",
                    page.x, page.y, escaped(job.name));
    for (const JobLayer& l : job.layers) {
        const std::string colour = l.colour.starts_with("#") && l.colour.size() == 7 ? l.colour : "#000000";
        const std::string name =
            layer_name(l) + (l.words.empty() || l.only_at.empty() ? "" : fmt::format("-{}", l.only_at.front()));
        out += fmt::format("<g id=\"{}\" {}><title>{}</title>\n<path fill-rule=\"evenodd\" d=\"", escaped(id_of(name)),
                           l.guide ? fmt::format("fill=\"none\" stroke=\"{}\" stroke-width=\"0.05\"", escaped(colour))
                                   : fmt::format("fill=\"{}\"", escaped(colour)),
                           l.guide    ? "guide: never marked"
                           : l.recipe ? escaped(marking_words(l))
                                      : "no recipe");
        for (const PointMm& by : drawn_at(job, l))
            for (const auto& ring : l.region.rings) {
                char command = 'M';
                for (const PointMm& p : ring) {
                    fmt::format_to(std::back_inserter(out), "{}{:.6f} {:.6f}", command, p.x + by.x,
                                   page.y - p.y - by.y);
                    command = 'L';
                }
                out += "z\n";
            }
        out += "\"/></g>\n";
    }
    return out + "</svg>\n";
}

std::string job_dxf(const Job& job) {
    std::string out = "  0\nSECTION\n  2\nHEADER\n  9\n$ACADVER\n  1\nAC1009\n  9\n$INSUNITS\n 70\n4\n  0\nENDSEC\n"
                      "  0\nSECTION\n  2\nTABLES\n  0\nTABLE\n  2\nLAYER\n 70\n";
    std::vector<std::string> names; // a text that differs from part to part is one layer
    for (const JobLayer& l : job.layers)
        if (std::ranges::find(names, layer_name(l)) == names.end())
            names.push_back(layer_name(l));
    out += fmt::format("{}\n", names.size());
    int colour = 0;
    for (const std::string& name : names)
        out += fmt::format("  0\nLAYER\n  2\n{}\n 70\n0\n 62\n{}\n  6\nCONTINUOUS\n", name, ++colour % 7 + 1);
    out += "  0\nENDTAB\n  0\nENDSEC\n  0\nSECTION\n  2\nENTITIES\n";
    for (const JobLayer& l : job.layers)
        for (const PointMm& by : drawn_at(job, l))
            for (const auto& ring : l.region.rings) {
                out += fmt::format("  0\nPOLYLINE\n  8\n{0}\n 66\n1\n 70\n1\n 10\n0\n 20\n0\n 30\n0\n", layer_name(l));
                for (const PointMm& p : ring)
                    fmt::format_to(std::back_inserter(out), "  0\nVERTEX\n  8\n{}\n 10\n{:.6f}\n 20\n{:.6f}\n",
                                   layer_name(l), p.x + by.x, p.y + by.y);
                out += fmt::format("  0\nSEQEND\n  8\n{}\n", layer_name(l));
            }
    return out + "  0\nENDSEC\n  0\nEOF\n";
}

namespace {

/// Lines that go on into each other, as a contour's do, are marked without switching off.
void write_runs(std::string& out, std::span<const HatchRun> runs, PointMm by, double power, double feed) {
    for (std::size_t i = 0; i < runs.size(); ++i) {
        const HatchRun& r = runs[i];
        const auto to = std::back_inserter(out);
        if (i == 0 || runs[i - 1].to != r.from)
            fmt::format_to(to, "G0 X{:.6f} Y{:.6f}\nM3 S{:.6g}\n", r.from.x + by.x, r.from.y + by.y, power);
        fmt::format_to(to, "G1 X{:.6f} Y{:.6f} F{:.6g}\n", r.to.x + by.x, r.to.y + by.y, feed);
        if (i + 1 == runs.size() || runs[i + 1].from != r.to)
            out += "M5\n";
    }
}

} // namespace

Expected<std::string> job_gcode(const Job& job) {
    std::string out = fmt::format(
        "; {}\n; plain G-code: millimetres, S in thousandths of the rated power, F in mm/min, P in s, Z of the lens "
        "above focus, A in degrees, M0 waits\n"
        "G21\nG90\nM5\n",
        plain_name(job.name));
    std::size_t lines = 0;
    PointMm by;         // of the nest
    double lens_mm = 0; // above where the surface is in focus
    const auto write = [&](const JobLayer& l, const Expected<Hatch>& pass) -> Expected<void> {
        if (!pass)
            return tl::unexpected(pass.error().in_field(l.name));
        if (const double offset = in_mm(l.recipe->setting.focus_offset); std::abs(offset - lens_mm) > 5e-4) {
            lens_mm = offset;
            out += fmt::format("G0 Z{:.3f}\n", lens_mm);
        }
        if ((lines += pass->runs.size()) > most_gcode_lines)
            return failure("job.too_long", "The job has more than two million lines.",
                           "Export its layers one by one, or as outlines.");
        const double feed = 60 * in_mm_per_second(l.recipe->setting.scan_speed),
                     power = 10 * l.recipe->setting.power_percent;
        write_runs(out, pass->runs, by, power, feed);
        return {};
    };
    const auto order = marking_order(job);
    if (!order)
        return tl::unexpected(order.error());
    std::vector<std::vector<std::vector<std::size_t>>> shapes(job.layers.size()); // of each layer
    std::map<std::size_t, LayerAt> parts; // of layers, at this place; the same in every nest
    const auto places = places_of(job);
    const MarkingStretch* before = nullptr;
    for (const MarkingStretch& m : *order) {
        const JobPlace& place = places[m.place];
        const JobLayer& l = job.layers.at(m.layer);
        const bool moved = before == nullptr || before->place != m.place;
        if (moved) {
            by = place.by;
            if (!job.places.empty())
                out += fmt::format("; {} {}\n", place.axis_deg ? "strip" : place.only ? "tile" : "nest", place.number);
            if (place.by_hand && m.place > 0)
                out += "M0\n";
            if (place.axis_deg)
                out += fmt::format("G0 A{:.4f}\n", *place.axis_deg);
            if (place.only)
                parts.clear();
        }
        if (moved || before->layer != m.layer)
            out += fmt::format("; layer {}: {}\n", plain_name(l.words.empty() ? l.name : l.name + " " + l.words),
                               marking_words(l));
        before = &m;
        if (m.shapes > 0)
            out += fmt::format("; shapes {} to {} of layer {}\n", m.first_shape + 1, m.first_shape + m.shapes,
                               plain_name(l.name));
        if (m.pause_s > 0)
            out += fmt::format("G4 P{:.3f}\n", m.pause_s);
        if (m.shapes > 0 && shapes[m.layer].empty())
            shapes[m.layer] = shapes_of(l.region);
        if (m.shapes == 0 && !parts.contains(m.layer)) {
            auto part = layer_at(l, place);
            if (!part)
                return tl::unexpected(part.error().in_field(l.name));
            parts.emplace(m.layer, std::move(*part));
        }
        for (int pass = m.first_pass; pass < m.first_pass + m.passes; ++pass) {
            if (m.shapes == 0)
                out += fmt::format("; pass {} of {}\n", pass + 1, burned_setting(*l.recipe).passes);
            const auto written =
                write(l, m.shapes > 0 ? pass_hatch(l, pass, std::span(shapes[m.layer]).subspan(m.first_shape, m.shapes))
                                      : pass_hatch(parts.at(m.layer), pass));
            if (!written)
                return tl::unexpected(written.error());
        }
    }
    return out + (lens_mm != 0 ? "M5\nG0 Z0.000\nM2\n" : "M5\nM2\n");
}

Expected<std::string> portion_gcode(const Job& job, const RunPortion& portion) {
    const JobLayer& l = job.layers.at(portion.layer);
    const JobPlace place = places_of(job).at(portion.place);
    const auto lines = portion_hatch(job, portion);
    if (!lines)
        return tl::unexpected(lines.error().in_field(l.name));
    std::string out = fmt::format("; {}\nG21\nG90\nM5\n; {} {}\n; layer {}\n; pass {} of {}\n", plain_name(job.name),
                                  place.axis_deg ? "strip"
                                  : place.only   ? "tile"
                                                 : "nest",
                                  place.number, plain_name(l.name), portion.pass + 1, portion.passes);
    if (place.axis_deg)
        out += fmt::format("G0 A{:.4f}\n", *place.axis_deg);
    // A program of its own does not know where the last one left the lens.
    out += fmt::format("G0 Z{:.3f}\n", in_mm(l.recipe->setting.focus_offset));
    // Also where nothing is left of it: a pass that goes on later counts the same lines.
    if (portion.pause_s > 0 || portion.cools_s > 0)
        out += fmt::format("G4 P{:.3f}\n", portion.pause_s);
    write_runs(out, lines->runs, place.by, 10 * l.recipe->setting.power_percent,
               60 * in_mm_per_second(l.recipe->setting.scan_speed));
    return out + "M5\nM2\n";
}

std::string scan_gcode(const std::string& name, std::span<const HatchRun> lines, const ScanLoad& load) {
    std::string out = fmt::format("; {}: to be timed, the laser is never on\nG21\nG90\nM5\n", plain_name(name));
    for (int pass = 0; pass < load.passes; ++pass)
        write_runs(out, lines, {}, 0, 60 * load.speed_mm_s);
    return out + "M2\n";
}

std::string job_frame_gcode(const Job& job) {
    std::string out = fmt::format("; {}: frame, laser off\nG21\nG90\nM5\n", plain_name(job.name));
    const auto places = places_of(job);
    double left = 1e300, low = 1e300, right = -1e300, high = -1e300;
    const auto go_round = [&] {
        if (left <= right)
            for (const auto& [x, y] : {PointMm{left, low}, {right, low}, {right, high}, {left, high}, {left, low}})
                out += fmt::format("G0 X{:.6f} Y{:.6f}\n", x, y);
        left = low = 1e300, right = high = -1e300;
    };
    const auto rings_at = [](const JobLayer& l, const JobPlace& place) {
        // What cannot be cut to its place is shown whole.
        const auto part = layer_at(l, place);
        return part ? part->region.rings : l.region.rings;
    };
    for (const JobPlace& place : places) {
        for (const JobLayer& l : job.layers)
            if (marked(l))
                for (const auto& ring : rings_at(l, place))
                    for (const PointMm& p : ring) {
                        left = std::min(left, p.x + place.by.x), right = std::max(right, p.x + place.by.x);
                        low = std::min(low, p.y + place.by.y), high = std::max(high, p.y + place.by.y);
                    }
        if (!place.only && &place != &places.back())
            continue; // one box round all nests
        if (place.only)
            out += fmt::format("; {} {}\n", place.axis_deg ? "strip" : "tile", place.number);
        if (place.by_hand && &place != &places.front())
            out += "M0\n";
        if (place.axis_deg)
            out += fmt::format("G0 A{:.4f}\n", *place.axis_deg);
        go_round();
        for (const JobPlace& of : place.only ? std::vector<JobPlace>{place} : places)
            for (const JobLayer& l : job.layers)
                if (l.guide)
                    for (const auto& ring : rings_at(l, of)) {
                        out += fmt::format("; guide {}\n", plain_name(l.name));
                        for (std::size_t i = 0; i <= ring.size(); ++i)
                            fmt::format_to(std::back_inserter(out), "G0 X{:.6f} Y{:.6f}\n",
                                           ring[i % ring.size()].x + of.by.x, ring[i % ring.size()].y + of.by.y);
                    }
    }
    return out + "M2\n";
}

namespace {

/// What the layer says, and at which places.
std::string end_of(const JobLayer& l) {
    std::string at;
    for (const int number : l.only_at)
        at += fmt::format("{}{}", at.empty() ? "" : " ", number);
    return fmt::format(",{},{}\n", csv_text(l.words), at);
}

} // namespace

Expected<std::string> job_csv(const Job& job) {
    const ScannerKnowledge scanner = fitted(job.setup.bench.scanner);
    std::string out = "order,name,guide,area_mm2,passes,lines_per_pass,length_mm,seconds";
    for (const Knob knob : all_knobs)
        out += fmt::format(",{}", traits(knob).key);
    out += ",words,only_at\n";
    for (std::size_t i = 0; i < job.layers.size(); ++i) {
        const JobLayer& l = job.layers[i];
        out += fmt::format("{},{},{},{:.6g}", i + 1, csv_text(l.name), l.guide ? "yes" : "no", area_mm2(l.region));
        if (!marked(l)) {
            out += ",0,0,0,0" + std::string(all_knobs.size(), ',') + end_of(l);
            continue;
        }
        const auto work = layer_work(job, l);
        if (!work)
            return tl::unexpected(work.error().in_field(l.name));
        out += fmt::format(",{},{},{:.6g},{:.6g}", work->load.passes, work->hatch.line_start.size(),
                           marked_mm(work->load), time_of(scanner, {&work->load, 1}).likely);
        for (const Knob knob : all_knobs)
            out += fmt::format(",{:.6g}", knob_value(*l.recipe, knob));
        out += end_of(l);
    }
    return out;
}

std::string job_form(std::string_view path) {
    std::string name(path);
    std::ranges::transform(name, name.begin(),
                           [](char c) { return c >= 'A' && c <= 'Z' ? static_cast<char>(c + 32) : c; });
    if (name.ends_with(".frame.gcode"))
        return "frame";
    return name.substr(name.rfind('.') == std::string::npos ? name.size() : name.rfind('.') + 1);
}

Expected<std::string> job_text(const Job& job, const std::string& form) {
    if (form == "json")
        return json_text(to_json(job), 1) + '\n';
    if (form == "svg")
        return job_svg(job);
    if (form == "dxf")
        return job_dxf(job);
    if (form == "gcode")
        return job_gcode(job);
    if (form == "frame")
        return job_frame_gcode(job);
    if (form == "csv")
        return job_csv(job);
    if (form == "pdf")
        return job_sheet_pdf(job);
    return failure("job.form", "The program does not write this kind of file.",
                   "Take json, svg, dxf, gcode, frame, csv or pdf.");
}

} // namespace finch
