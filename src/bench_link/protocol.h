// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "bench_link/laid_part.h"
#include "proof/colour_print.h"
#include "proof/tool_step.h"
#include "quantity/error.h"
#include "quantity/plane.h"

#include <nlohmann/json_fwd.hpp>
#include <QByteArray>
#include <string>
#include <string_view>
#include <variant>

/// JSON lines between the program and a bench. Each line is one object; requests have "do", answers have "is", and both
/// carry the number of the request. Described with an example each in docs/formats.md.
namespace finch::protocol {

inline constexpr int version = 3;
inline constexpr long long longest_line = 64LL << 20;
inline constexpr std::size_t most_probed = 1000;         ///< places of one request
inline constexpr std::size_t most_driven = 200000;       ///< lines of one request
inline constexpr std::size_t longest_program = 24 << 20; ///< bytes of one run
inline constexpr std::size_t most_laid = 1000;           ///< parts of one run
inline constexpr double farthest_mm = 1000;              ///< from the corner of a sheet; nothing on a bench lies beyond

/// "hello" of a bench.
struct Hello {
    int version = 0;
    std::string bench;
    bool simulated = false;
};
struct Started {
    int job = 0;
    double time_s = 0;
};
struct Progress {
    int job = 0;
    double share = 0;
    std::string at;
};
struct Burned {
    int job = 0;
    double time_s = 0;
};
struct Cancelled {
    int job = 0;
};
struct Photo {
    int shot = 0;
    QByteArray picture; ///< bytes of a PNG or JPEG
    LabByName measured; ///< of a print, by an instrument
};
struct Depths {
    int probe = 0;
    std::vector<double> depths_um;
    double within_um = 0, within_share = 0; ///< nine in ten: of the instrument, and of the depth
};
struct Driven {
    int drive = 0;
    double time_s = 0;
};
/// A run goes on.
struct Runs {
    int run = 0;
    double share = 0;
    std::string at;
    int line = 0; ///< of its program, that is done
};
/// A run stands with the beam off, until it is told to go on.
struct Holds {
    int run = 0;
    int line = 0;    ///< of its program, that is done
    std::string why; ///< empty: because it was asked
};
/// Of the enclosure. Said after hello, and when it moves.
struct Door {
    bool open = false;
};
/// A run waits for somebody.
struct Waits {
    int run = 0;
    std::string at;
};
struct Ran {
    int run = 0;
    bool cancelled = false;
    RanJob found;
    int line = 0; ///< of its program, that is done
};
/// Of a job, a shot, a probe, a drive or a run; all 0 when the bench could not tell.
struct Fault {
    int job = 0, shot = 0, probe = 0, drive = 0;
    Error error;
    int run = 0;
};
using Answer = std::variant<Hello, Started, Progress, Burned, Cancelled, Photo, Depths, Driven, Fault, Runs, Waits, Ran,
                            Holds, Door>;

/// Understands one line of a bench. Every value is checked: what comes over a socket is from outside.
/// Errors: document.*, protocol.unknown.
[[nodiscard]] Expected<Answer> answer_from_line(std::string_view line);
/// One line, ending included.
[[nodiscard]] std::string to_line(const nlohmann::json& message);

[[nodiscard]] nlohmann::json to_json(const Answer& answer);

[[nodiscard]] nlohmann::json to_json(const ToolStep& step);
/// Errors: document.*, protocol.* with the field.
[[nodiscard]] Expected<ToolStep> tool_step_from_json(const nlohmann::json& document);

[[nodiscard]] nlohmann::json to_json(const std::vector<PointMm>& points);
/// 1 to most_probed places. Errors: protocol.bad_places.
[[nodiscard]] Expected<std::vector<PointMm>> points_from_json(const nlohmann::json& document);

[[nodiscard]] nlohmann::json to_json(const std::vector<LineMm>& lines);
/// 1 to most_driven lines. Errors: protocol.bad_lines.
[[nodiscard]] Expected<std::vector<LineMm>> lines_from_json(const nlohmann::json& document);

[[nodiscard]] nlohmann::json to_json(const std::vector<LaidPart>& parts);
/// Up to most_laid parts. Errors: protocol.bad_parts.
[[nodiscard]] Expected<std::vector<LaidPart>> parts_from_json(const nlohmann::json& document);

[[nodiscard]] nlohmann::json to_json(const ColourPrint& print);
/// 1 to most_printed patches. Errors: document.*, protocol.bad_print.
[[nodiscard]] Expected<ColourPrint> print_from_json(const nlohmann::json& document);

[[nodiscard]] nlohmann::json to_json(const RectMm& rect);
[[nodiscard]] Expected<RectMm> rect_from_json(const nlohmann::json& document);

} // namespace finch::protocol
