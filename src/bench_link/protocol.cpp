// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench_link/protocol.h"

#include "document/json_fields.h"

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

namespace finch::protocol {
namespace {

using json = nlohmann::json;

constexpr int most_requests = 2000000000;
constexpr double longest_job_s = 1e7;

bool numbers(const json& list, std::size_t count) {
    return list.is_array() && list.size() == count && std::all_of(list.begin(), list.end(), [](const json& v) {
               return v.is_number() && std::abs(v.get<double>()) <= farthest_mm;
           });
}

Ran read_ran(JsonFields& f, int run) {
    Ran out{run,
            f.flag_or("cancelled", false),
            {f.number("time_s", 0, longest_job_s), f.number("beside_mm", 0, 1e12), {}},
            f.whole_or("line", 0, 0, most_requests)};
    for (JsonFields& p : f.list("parts")) {
        if (out.found.parts.size() == most_laid) {
            f.fault("parts", "More parts were found than lie on a bench.", "Send at most 1000.");
            break;
        }
        MarkedPart part{p.whole("nest", 1, most_requests), p.number("marked_mm", 0, 1e12), {}};
        if (p.has("box_mm")) {
            const auto box = p.numbers("box_mm", 4, -farthest_mm, farthest_mm);
            if (box.size() == 4)
                part.box = RectMm{box[0], box[1], box[2], box[3]};
        }
        out.found.parts.push_back(part);
    }
    return out;
}

Answer read_answer(JsonFields& f, std::size_t kind) {
    const auto request = [&](const char* key) { return f.whole_or(key, 0, 0, most_requests); };
    switch (kind) {
    case 0:
        return Hello{f.whole("version", 1, most_requests), f.text_or("bench", ""), f.flag_or("simulated", false)};
    case 1:
        return Started{request("job"), f.number("time_s", 0, longest_job_s)};
    case 2:
        return Progress{request("job"), f.number("share", 0, 1), f.text_or("at", "")};
    case 3:
        return Burned{request("job"), f.number("time_s", 0, longest_job_s)};
    case 4:
        return Cancelled{request("job")};
    case 5: {
        const int shot = request("shot");
        const auto bytes = QByteArray::fromBase64Encoding(QByteArray::fromStdString(f.text("picture_base64")),
                                                          QByteArray::AbortOnBase64DecodingErrors);
        if (!bytes)
            f.fault("picture_base64", "This is no base64.", "Send the bytes of a PNG or JPEG.");
        Photo photo{shot, bytes ? *bytes : QByteArray(), {}};
        for (JsonFields& m : f.has("measured") ? f.list("measured") : std::vector<JsonFields>()) {
            const auto lab = m.numbers("lab", 3, -200, 200);
            const std::string name = m.text("name");
            if (lab.size() == 3 && photo.measured.size() < most_printed)
                photo.measured[name] = {lab[0], lab[1], lab[2]};
        }
        return photo;
    }
    case 6: {
        Depths d{request("probe"), {}, f.number("within_um", 0, 1e5), f.number_or("within_share", 0, 0, 1)};
        d.depths_um = f.numbers("depths_um", 0, 0, 1e5);
        return d;
    }
    case 7:
        return Driven{request("drive"), f.number("time_s", 0, longest_job_s)};
    case 9:
        return Runs{request("run"), f.number("share", 0, 1), f.text_or("at", ""), request("line")};
    case 10:
        return Waits{request("run"), f.text_or("at", "")};
    case 11:
        return read_ran(f, request("run"));
    case 12:
        return Holds{request("run"), request("line"), f.text_or("why", "")};
    case 13:
        return Door{f.flag_or("open", false)};
    default:
        return Fault{request("job"),
                     request("shot"),
                     request("probe"),
                     request("drive"),
                     {f.text("code"), f.text("message"), f.text_or("fix", ""), {}},
                     request("run")};
    }
}

template <typename... Cases>
struct Overloaded : Cases... {
    using Cases::operator()...;
};
template <typename... Cases>
Overloaded(Cases...) -> Overloaded<Cases...>;

} // namespace

Expected<Answer> answer_from_line(std::string_view line) {
    const auto document = parse_json(line, "bench");
    if (!document)
        return tl::unexpected(document.error());
    std::vector<Error> faults;
    JsonFields f(*document, "", faults);
    const std::size_t kind = f.choice("is", {"hello", "started", "progress", "burned", "cancelled", "photo", "depths",
                                             "driven", "fault", "runs", "waits", "ran", "holds", "door"});
    if (!faults.empty())
        return failure("protocol.unknown", "The bench said something that is not known here.",
                       "See docs/formats.md for what a bench may say.", {"bench", 0, "is"});
    Answer out = read_answer(f, kind);
    if (auto fault = first_fault(faults, "bench"))
        return tl::unexpected(*fault);
    return out;
}

std::string to_line(const json& message) {
    return json_text(message) + "\n";
}

json to_json(const Answer& answer) {
    return std::visit(
        Overloaded{
            [](const Hello& a) {
                return json{{"is", "hello"}, {"version", a.version}, {"bench", a.bench}, {"simulated", a.simulated}};
            },
            [](const Started& a) {
                return json{{"is", "started"}, {"job", a.job}, {"time_s", a.time_s}};
            },
            [](const Progress& a) {
                return json{{"is", "progress"}, {"job", a.job}, {"share", a.share}, {"at", a.at}};
            },
            [](const Burned& a) {
                return json{{"is", "burned"}, {"job", a.job}, {"time_s", a.time_s}};
            },
            [](const Cancelled& a) {
                return json{{"is", "cancelled"}, {"job", a.job}};
            },
            [](const Photo& a) {
                json out{{"is", "photo"}, {"shot", a.shot}, {"picture_base64", a.picture.toBase64().toStdString()}};
                for (const auto& [name, lab] : a.measured)
                    out["measured"].push_back({{"name", name}, {"lab", lab}});
                return out;
            },
            [](const Depths& a) {
                return json{{"is", "depths"},
                            {"probe", a.probe},
                            {"depths_um", a.depths_um},
                            {"within_um", a.within_um},
                            {"within_share", a.within_share}};
            },
            [](const Driven& a) {
                return json{{"is", "driven"}, {"drive", a.drive}, {"time_s", a.time_s}};
            },
            [](const Fault& a) {
                return json{{"is", "fault"},
                            {"job", a.job},
                            {"shot", a.shot},
                            {"probe", a.probe},
                            {"drive", a.drive},
                            {"code", a.error.code},
                            {"message", a.error.message},
                            {"fix", a.error.fix},
                            {"run", a.run}};
            },
            [](const Runs& a) {
                return json{{"is", "runs"}, {"run", a.run}, {"share", a.share}, {"at", a.at}, {"line", a.line}};
            },
            [](const Holds& a) {
                return json{{"is", "holds"}, {"run", a.run}, {"line", a.line}, {"why", a.why}};
            },
            [](const Door& a) {
                return json{{"is", "door"}, {"open", a.open}};
            },
            [](const Waits& a) {
                return json{{"is", "waits"}, {"run", a.run}, {"at", a.at}};
            },
            [](const Ran& a) {
                json parts = json::array();
                for (const MarkedPart& p : a.found.parts) {
                    parts.push_back({{"nest", p.nest}, {"marked_mm", p.marked_mm}});
                    if (p.box)
                        parts.back()["box_mm"] = to_json(*p.box);
                }
                return json{{"is", "ran"},
                            {"run", a.run},
                            {"cancelled", a.cancelled},
                            {"time_s", a.found.time_s},
                            {"beside_mm", a.found.beside_mm},
                            {"parts", std::move(parts)},
                            {"line", a.line}};
            }},
        answer);
}

json to_json(const std::vector<PointMm>& points) {
    json out = json::array();
    for (const PointMm& p : points)
        out.push_back({p.x, p.y});
    return out;
}

Expected<std::vector<PointMm>> points_from_json(const json& d) {
    std::vector<PointMm> out;
    if (d.is_array() && d.size() <= most_probed)
        for (const json& p : d) {
            if (!numbers(p, 2))
                break;
            out.push_back({p[0], p[1]});
        }
    if (out.empty() || out.size() != d.size())
        return failure("protocol.bad_places",
                       "Places are a list of [x, y] in mm, within 1000 mm, at most 1000 of them.",
                       "Send two numbers a place.");
    return out;
}

json to_json(const std::vector<LineMm>& lines) {
    json out = json::array();
    for (const LineMm& r : lines)
        out.push_back({r.from.x, r.from.y, r.to.x, r.to.y});
    return out;
}

Expected<std::vector<LineMm>> lines_from_json(const json& d) {
    std::vector<LineMm> out;
    if (d.is_array() && d.size() <= most_driven)
        for (const json& l : d) {
            if (!numbers(l, 4))
                break;
            out.push_back({{l[0], l[1]}, {l[2], l[3]}});
        }
    if (out.empty() || out.size() != d.size())
        return failure("protocol.bad_lines",
                       "Lines are a list of [x, y, x, y] in mm, within 1000 mm, at most 200000 of them.",
                       "Send four numbers a line.");
    return out;
}

json to_json(const std::vector<LaidPart>& parts) {
    json out = json::array();
    for (const LaidPart& p : parts)
        out.push_back({{"nest", p.nest}, {"box_mm", to_json(p.box)}});
    return out;
}

Expected<std::vector<LaidPart>> parts_from_json(const json& d) {
    const auto bad = [] {
        return failure("protocol.bad_parts", "Parts are a list of nest and box_mm, at most 1000 of them.",
                       "Send {\"nest\": 1, \"box_mm\": [x, y, width, height]} for each.");
    };
    if (!d.is_array() || d.size() > most_laid)
        return bad();
    std::vector<LaidPart> out;
    for (const json& p : d) {
        const auto nest = p.is_object() ? p.find("nest") : p.end();
        if (!p.is_object() || nest == p.end() || !nest->is_number_integer() || *nest < 1 || *nest > most_requests ||
            !p.contains("box_mm"))
            return bad();
        const auto box = rect_from_json(p["box_mm"]);
        if (!box)
            return tl::unexpected(box.error());
        out.push_back({nest->get<int>(), *box});
    }
    return out;
}

json to_json(const ColourPrint& print) {
    json patches = json::array();
    for (const ColourPrint::Patch& p : print.patches) {
        json where = json::array();
        for (const RectMm& r : p.where)
            where.push_back(to_json(r));
        patches.push_back({{"name", p.name}, {"lab", p.asked_lab}, {"where_mm", std::move(where)}});
    }
    return {{"size_mm", {print.width_mm, print.height_mm}}, {"patches", std::move(patches)}};
}

Expected<ColourPrint> print_from_json(const json& d) {
    std::vector<Error> faults;
    JsonFields f(d, "print", faults);
    ColourPrint out;
    if (const auto size = f.numbers("size_mm", 2, 1, farthest_mm); size.size() == 2) {
        out.width_mm = size[0];
        out.height_mm = size[1];
    }
    for (JsonFields& p : f.list("patches")) {
        ColourPrint::Patch patch;
        patch.name = p.text_or("name", "");
        if (const auto lab = p.numbers("lab", 3, -200, 200); lab.size() == 3)
            patch.asked_lab = {lab[0], lab[1], lab[2]};
        for (const json& r : p.raw("where_mm")) {
            const auto rect = rect_from_json(r);
            if (!rect)
                return tl::unexpected(rect.error());
            patch.where.push_back(*rect);
        }
        out.patches.push_back(std::move(patch));
    }
    if (auto fault = first_fault(faults, "request"))
        return tl::unexpected(*fault);
    if (out.patches.empty() || out.patches.size() > most_printed)
        return failure("protocol.bad_print", "A print has 1 to 1000 patches.", "Send fewer, or some.");
    return out;
}

json to_json(const RectMm& r) {
    return {r.x, r.y, r.w, r.h};
}

Expected<RectMm> rect_from_json(const json& d) {
    if (!numbers(d, 4) || d[2].get<double>() <= 0 || d[3].get<double>() <= 0)
        return failure("protocol.bad_rectangle", "A rectangle is [x, y, width, height] in mm, within 1000 mm.",
                       "Send four numbers.");
    return RectMm{d[0], d[1], d[2], d[3]};
}

json to_json(const ToolStep& step) {
    json hatch = json::array(), strokes = json::array();
    for (const RectMm& r : step.hatch)
        hatch.push_back(to_json(r));
    for (const auto& stroke : step.strokes)
        strokes.push_back(to_json(stroke));
    json out{{"name", step.name}, {"recipe", to_json(step.recipe)}, {"hatch_mm", hatch}, {"strokes_mm", strokes}};
    if (step.rest_s > 0)
        out["rest_s"] = step.rest_s;
    return out;
}

Expected<ToolStep> tool_step_from_json(const json& d) {
    std::vector<Error> faults;
    JsonFields f(d, "step", faults);
    ToolStep step;
    step.name = f.text_or("name", "");
    step.rest_s = f.number_or("rest_s", 0, 0, 3600);
    const auto recipe = recipe_from_json(f.raw("recipe"), "");
    if (!recipe)
        return tl::unexpected(recipe.error());
    step.recipe = *recipe;
    for (const json& r : f.raw("hatch_mm")) {
        const auto rect = rect_from_json(r);
        if (!rect)
            return tl::unexpected(rect.error());
        step.hatch.push_back(*rect);
    }
    for (const json& s : f.raw("strokes_mm")) {
        std::vector<PointMm> stroke;
        for (const json& p : s) {
            if (!numbers(p, 2))
                return failure("protocol.bad_stroke", "A stroke is a list of [x, y] in mm, within 1000 mm.",
                               "Send two numbers a point.");
            stroke.push_back({p[0], p[1]});
        }
        step.strokes.push_back(std::move(stroke));
    }
    if (auto fault = first_fault(faults, ""))
        return tl::unexpected(*fault);
    return step;
}

} // namespace finch::protocol
