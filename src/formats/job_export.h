// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "piece/job.h"
#include "piece/run_plan.h"

#include <string>
#include <string_view>

namespace finch {

/// SVG in mm: a group for every layer, named, with its recipe in the title; a guide is an outline in a group whose
/// name begins with "guide-".
[[nodiscard]] std::string job_svg(const Job& job);
/// DXF as of release 12, in mm: every ring a closed polyline on its layer; guides on layers that begin with "guide-".
[[nodiscard]] std::string job_dxf(const Job& job);
/// The lines of all passes in plain G-code (docs/formats.md): mm, S in thousandths of the rated power, F in mm/min.
/// Errors: those of hatch(), job.too_long (over two million lines).
[[nodiscard]] Expected<std::string> job_gcode(const Job& job);
/// The box round all that is marked, and the guides, with the laser off: for the pointer.
[[nodiscard]] std::string job_frame_gcode(const Job& job);
/// One portion of a run as a program of its own; all of them one after the other mark what job_gcode() marks. Errors:
/// those of portion_hatch().
[[nodiscard]] Expected<std::string> portion_gcode(const Job& job, const RunPortion& portion);
/// A scan that fires nothing, pass by pass, whose time can be taken at the bench.
[[nodiscard]] std::string scan_gcode(const std::string& name, std::span<const HatchRun> lines, const ScanLoad& load);
/// One line for every layer of one part: order, name, area, passes, lines, length, seconds, and every knob.
/// Errors: those of hatch().
[[nodiscard]] Expected<std::string> job_csv(const Job& job);

/// The form that the ending of a file name says: "frame" for `.frame.gcode`, else what follows the last dot.
[[nodiscard]] std::string job_form(std::string_view path);
/// A job in one of these forms, by its word: json, svg, dxf, gcode, frame, csv, or pdf for the job sheet. Errors:
/// job.form, and those above.
[[nodiscard]] Expected<std::string> job_text(const Job& job, const std::string& form);

} // namespace finch
