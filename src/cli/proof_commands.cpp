// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/commands.h"

#include "bench/bench_json.h"
#include "bench_link/local_bench.h"
#include "evidence/evidence_json.h"
#include "evidence/learn.h"
#include "formats/data_folder.h"
#include "formats/file_out.h"
#include "formats/picture_file.h"
#include "formats/sheet_export.h"
#include "proof/depth_list.h"
#include "proof/gloss_list.h"
#include "proof/layout.h"
#include "proof/measured_cells.h"
#include "proof/observed.h"
#include "proof/scratch_list.h"
#include "proof/sheet_heat.h"
#include "proof/tilt_series.h"
#include "quantity/format.h"
#include "recipe/check.h"
#include "vision/fiducials.h"
#include "vision/sheet_photo.h"

#include <charconv>
#include <cmath>
#include <fcntl.h>
#include <filesystem>
#include <fmt/format.h>
#include <nlohmann/json.hpp>
#include <QCoreApplication>
#include <QEventLoop>
#include <unistd.h>

namespace finch::cli {

using json = nlohmann::json;

Expected<ProofSheet> load_sheet(const Context& context, const std::string& file) {
    const auto text = read_input(context, file);
    if (!text)
        return tl::unexpected(text.error());
    return sheet_from_text(*text, file);
}

namespace {

/// "scan_speed_mm_s:600:1900:8" or with ":linear" behind it.
Expected<AxisPlan> parse_axis(const std::string& text) {
    std::vector<std::string> parts;
    for (std::size_t at = 0; at <= text.size();) {
        const std::size_t end = std::min(text.find(':', at), text.size());
        parts.push_back(text.substr(at, end - at));
        at = end + 1;
    }
    const auto bad = [&] {
        return failure("proof.axis_text", fmt::format("\"{}\" is no axis.", text),
                       "Write knob:from:to:count, for example scan_speed_mm_s:600:1900:8, and :linear for even steps.");
    };
    if (parts.size() < 4 || parts.size() > 5)
        return bad();
    AxisPlan plan;
    const auto knob = knob_from_key(parts[0]);
    if (!knob)
        return tl::unexpected(knob.error());
    plan.knob = *knob;
    const auto number = [](const std::string& s, auto& to) {
        const auto [end, fault] = std::from_chars(s.data(), s.data() + s.size(), to);
        return fault == std::errc() && end == s.data() + s.size();
    };
    if (!number(parts[1], plan.from) || !number(parts[2], plan.to) || !number(parts[3], plan.count))
        return bad();
    plan.steps = Steps::ratio;
    if (parts.size() == 5) {
        if (parts[4] != "linear" && parts[4] != "ratio")
            return bad();
        plan.steps = parts[4] == "linear" ? Steps::linear : Steps::ratio;
    }
    return plan;
}

json forecast_json(const ProofSheet& sheet, const SheetForecast& f) {
    static const char* const fates[]{"marks", "shows nothing", "burns", "impossible"};
    json cells = json::array();
    for (std::size_t i = 0; i < sheet.cells(); ++i) {
        const CellForecast& c = f.cells[i];
        json cell{{"cell", cell_name(sheet, i)}, {"fate", fates[static_cast<int>(c.fate)]}, {"time_s", c.time_s}};
        if (c.prediction && c.fate == CellFate::marks) {
            const Lab& lab = c.prediction->lab();
            cell["lab"] = {lab.l, lab.a, lab.b};
            cell["oxide_nm"] = c.prediction->oxide_nm();
        }
        cells.push_back(cell);
    }
    return {{"cells", cells}, {"labels_s", f.labels_s}, {"rests_s", f.rests_s}, {"total_s", f.total_s}};
}

/// Burns and waits for the end.
Expected<double> burn_and_wait(BenchLink& laser, const Setup& setup, const std::vector<ToolStep>& steps,
                               BenchLink::Piece piece) {
    QEventLoop loop;
    Expected<double> out = 0;
    QObject::connect(&laser, &BenchLink::burned, &loop, [&](RequestId, double time_s) {
        out = time_s;
        loop.quit();
    });
    QObject::connect(&laser, &BenchLink::failed, &loop, [&](RequestId, const Error& e, bool) {
        out = tl::unexpected(e);
        loop.quit();
    });
    laser.burn(setup, steps, piece);
    loop.exec();
    return out;
}

/// Takes a photograph and writes it.
Expected<void> photograph_to_file(Camera& camera, const RectMm& white_card, double tilt_deg, const std::string& file) {
    QEventLoop loop;
    Expected<QByteArray> out = QByteArray();
    QObject::connect(&camera, &Camera::photographed, &loop, [&](RequestId, const QByteArray& bytes) {
        out = bytes;
        loop.quit();
    });
    QObject::connect(&camera, &Camera::failed, &loop, [&](RequestId, const Error& e) {
        out = tl::unexpected(e);
        loop.quit();
    });
    camera.photograph(white_card, tilt_deg);
    loop.exec();
    if (!out)
        return tl::unexpected(out.error());
    if (const auto picture = picture_from_bytes(*out, "the camera's photograph"); !picture)
        return tl::unexpected(picture.error());
    return write_file(QString::fromStdString(file), out->toStdString());
}

/// Measures every cell that was burned, and writes the list.
Expected<void> gauge_to_file(Gauge& gauge, const ProofSheet& sheet, const std::string& file) {
    const std::vector<std::size_t> cells = burned_cells(sheet);
    QEventLoop loop;
    Expected<std::vector<GaugeDepth>> out;
    QObject::connect(&gauge, &Gauge::measured, &loop, [&](RequestId, const std::vector<GaugeDepth>& depths) {
        out = depths;
        loop.quit();
    });
    QObject::connect(&gauge, &Gauge::failed, &loop, [&](RequestId, const Error& e) {
        out = tl::unexpected(e);
        loop.quit();
    });
    gauge.measure(middles(sheet, cells));
    loop.exec();
    if (!out)
        return tl::unexpected(out.error());
    std::string text = "# depths of sheet " + std::to_string(sheet.number) + ", um\n";
    for (std::size_t k = 0; k < cells.size(); ++k)
        text += fmt::format("{}; {}; {}\n", cell_name(sheet, cells[k]), format_number((*out)[k].um, 5),
                            format_number((*out)[k].within_um, 3));
    return write_file(QString::fromStdString(file), text);
}

/// Nothing is burned that any cell of the sheet is blocked from.
Expected<void> may_burn(const ProofSheet& sheet, const Scene& scene) {
    for (std::size_t i = 0; i < sheet.cells(); ++i)
        if (i >= sheet.left_out.size() || !sheet.left_out[i])
            for (const Finding& f : check(cell_recipe(sheet, i), scene.bench, scene.stock))
                if (f.severity == Severity::blocking)
                    return failure(f.code, f.message, f.remedy, {{}, 0, cell_name(sheet, i)});
    return {};
}

} // namespace

Expected<json> proof_plan(const Context& context, const PlanOptions& o) {
    const auto loaded = load_scene(context, o.bench, o.stock);
    if (!loaded)
        return tl::unexpected(loaded.error());
    const auto text = read_input(context, o.recipe);
    const auto recipe = text ? recipe_from_text(*text, o.recipe) : Expected<Recipe>(tl::unexpected(text.error()));
    const auto across = parse_axis(o.across), down = parse_axis(o.down);
    if (!recipe || !across || !down)
        return tl::unexpected(!recipe ? recipe.error() : !across ? across.error() : down.error());
    const auto labels = label_recipe(loaded->scene());
    if (!labels)
        return tl::unexpected(labels.error());
    const SheetRequest request{o.number,    o.aim, *recipe, *across, *down, mm(o.cell_width_mm), mm(o.cell_height_mm),
                               mm(o.gap_mm)};
    auto sheet = plan_sheet(request, loaded->setup.bench, *labels);
    if (!sheet)
        return tl::unexpected(sheet.error());
    const SheetForecast f = forecast(*sheet, loaded->scene());
    if (o.leave_out)
        *sheet = without_hopeless(*sheet, f);
    const MarkerModules modules = fiducial_modules(layout(*sheet));
    Expected<void> written;
    if (!o.svg.empty())
        written = write_file(QString::fromStdString(o.svg), sheet_svg(*sheet, modules));
    if (written && !o.csv.empty())
        written = write_file(QString::fromStdString(o.csv), sheet_csv(*sheet));
    if (written && !o.pdf.empty())
        written = write_sheet_pdf(*sheet, f, loaded->setup, modules, QString::fromStdString(o.pdf));
    if (!written)
        return tl::unexpected(written.error());
    json out = to_json(*sheet);
    out["forecast"] = forecast_json(*sheet, f);
    return out;
}

namespace {

/// A list of what was measured, put into the reading of its sheet, or into one that begins with it.
template <typename Read, typename Put>
Expected<json> with_list(const Context& context, const DepthOptions& o, const std::string& file, Read read, Put put) {
    const auto sheet = load_sheet(context, o.sheet);
    const auto text = sheet ? read_input(context, file) : tl::unexpected(sheet.error());
    if (!text)
        return tl::unexpected(text.error());
    const auto list = read(*text, *sheet, file);
    if (!list)
        return tl::unexpected(list.error());
    auto reading = o.reading.empty() ? Expected<SheetReading>(unphotographed(*sheet)) : load_reading(o.reading, *sheet);
    if (!reading)
        return tl::unexpected(reading.error());
    put(*reading, *list);
    return to_json(*reading, *sheet);
}

} // namespace

Expected<json> proof_depths(const Context& context, const DepthOptions& o) {
    return with_list(context, o, o.depths, depths_from_text, put_depths);
}

Expected<json> proof_colours(const Context& context, const DepthOptions& o) {
    return with_list(context, o, o.colours, colours_from_text, put_colours);
}

Expected<json> proof_gloss(const Context& context, const DepthOptions& o) {
    return with_list(context, o, o.gloss, gloss_from_text, put_gloss);
}

Expected<json> proof_scratches(const Context& context, const DepthOptions& o) {
    return with_list(
        context, o, o.scratches,
        [&](std::string_view text, const ProofSheet& sheet, const std::string& file) {
            return scratches_from_text(text, sheet, context.materials->compounds.ladder, file);
        },
        put_scratches);
}

Expected<json> proof_burn(const Context& context, const BurnOptions& o) {
    const auto loaded = load_scene(context, o.bench, o.stock);
    if (!loaded)
        return tl::unexpected(loaded.error());
    const auto sheet = load_sheet(context, o.sheet);
    if (!sheet)
        return tl::unexpected(sheet.error());
    if (const auto allowed = may_burn(*sheet, loaded->scene()); !allowed)
        return tl::unexpected(allowed.error().in_file(o.sheet));
    ProofSheet planned = *sheet;
    if (o.rest_below_k > 0)
        planned.rest_below_k = o.rest_below_k;
    const ProofSheet burned = with_turns(std::move(planned), loaded->scene());
    const SheetLayout at = layout(burned);
    LocalBench bench({QString::fromStdString(o.standin), o.seed, o.speed_up});
    const auto burned_s = burn_and_wait(bench.laser(), loaded->setup, tool_steps(burned, at, fiducial_modules(at)),
                                        sheet->on_old_plate() ? BenchLink::Piece::same : BenchLink::Piece::fresh);
    if (!burned_s)
        return tl::unexpected(burned_s.error());
    if (!o.depths.empty())
        if (const auto measured = gauge_to_file(bench.gauge(), *sheet, o.depths); !measured)
            return tl::unexpected(measured.error());
    if (const auto taken = photograph_to_file(bench.camera(), at.white_card, 0, o.photo); !taken)
        return tl::unexpected(taken.error());
    for (const double deg : o.tilts) {
        const std::filesystem::path path(o.photo);
        const std::string name = fmt::format("{}-tilt-{}{}", path.stem().string(), deg, path.extension().string());
        if (const auto taken =
                photograph_to_file(bench.camera(), at.white_card, deg, (path.parent_path() / name).string());
            !taken)
            return tl::unexpected(taken.error());
    }
    if (!o.burned.empty())
        if (const auto kept = write_file(QString::fromStdString(o.burned), to_json(burned).dump(2) + "\n"); !kept)
            return tl::unexpected(kept.error());
    return json{{"sheet", sheet->number}, {"burned_s", *burned_s}, {"photo", o.photo}};
}

namespace {

/// Libraries that read pictures write to standard error, where a caller expects our one JSON object. For as long as
/// this lives, nothing arrives there.
class Hushed {
public:
    Hushed() : kept_(dup(STDERR_FILENO)) {
        if (const int nowhere = open("/dev/null", O_WRONLY | O_CLOEXEC); nowhere >= 0) {
            dup2(nowhere, STDERR_FILENO);
            close(nowhere);
        }
    }
    ~Hushed() {
        if (kept_ >= 0) {
            dup2(kept_, STDERR_FILENO);
            close(kept_);
        }
    }
    Hushed(const Hushed&) = delete;
    Hushed& operator=(const Hushed&) = delete;

private:
    int kept_;
};

} // namespace

Expected<Picture> quiet_picture(const std::string& path) {
    const Hushed hushed;
    return load_picture(QString::fromStdString(path));
}

namespace {

Expected<PhotoSetting> photo_setting(const ReadOptions& o) {
    PhotoSetting out;
    for (std::size_t i = 0; i < 3; ++i)
        if (!(std::abs(o.card[i]) <= (i == 0 ? 100 : 60)))
            return failure("use.card", "This is no colour of a white card.", "Give it like 95 0 2.");
    out.card = {o.card[0], o.card[1], o.card[2]};
    if (!o.camera.empty()) {
        const auto text = read_text_file(o.camera);
        const auto camera = text ? camera_colour_from_text(*text, o.camera) : tl::unexpected(text.error());
        if (!camera)
            return tl::unexpected(camera.error());
        out.camera = *camera;
    }
    for (const double v : o.corners)
        if (!(std::abs(v) < 1e6))
            return failure("use.corners", "A corner lies outside of any photograph.",
                           "Give pixels, from the upper left.");
    if (o.corners.size() == 8)
        out.corners_px = {PointMm{o.corners[0], o.corners[1]}, PointMm{o.corners[2], o.corners[3]},
                          PointMm{o.corners[4], o.corners[5]}, PointMm{o.corners[6], o.corners[7]}};
    return out;
}

} // namespace

Expected<json> proof_read(const Context& context, const ReadOptions& o) {
    const auto loaded = load_scene(context, o.bench, o.stock);
    if (!loaded)
        return tl::unexpected(loaded.error());
    const auto sheet = load_sheet(context, o.sheet);
    if (!sheet)
        return tl::unexpected(sheet.error());
    const auto setting = photo_setting(o);
    if (!setting)
        return tl::unexpected(setting.error());
    std::vector<SheetReading> readings;
    std::optional<ReadPhoto> read;
    for (const std::string& path : o.photos) {
        const auto picture = quiet_picture(path);
        if (!picture)
            return tl::unexpected(picture.error());
        auto seen = read_sheet_photo(*picture, *sheet, *setting);
        if (!seen)
            return tl::unexpected(seen.error().in_file(path));
        seen->reading.photo = path;
        readings.push_back(seen->reading);
        if (!read)
            read = std::move(*seen);
    }
    if (readings.size() > 1)
        read->reading = read_together(readings);
    if (o.tilt_deg > 0) {
        auto from_above = load_reading(o.reading, *sheet);
        const auto cells = from_above ? add_tilt(*from_above, read->reading, o.tilt_deg)
                                      : Expected<std::size_t>(tl::unexpected(from_above.error()));
        if (!cells)
            return tl::unexpected(cells.error());
        read->reading = std::move(*from_above);
    }
    if (!o.rectified.empty())
        if (const auto written =
                write_file(QString::fromStdString(o.rectified), png_bytes(read->rectified).toStdString());
            !written)
            return tl::unexpected(written.error());
    json out = to_json(read->reading, *sheet);
    const Scene scene = loaded->scene();
    const auto places = observed(*sheet, read->reading, std::make_shared<const Setup>(loaded->setup), "", "reading");
    const Evidence known = learn(scene.materials, places);
    if (known.sheets > 0) {
        const Agreement agreed = agreement(scene.materials, places, {}, known);
        out["learned"] = evidence_document(known);
        out["learned"].update({{"before_de00", agreed.before_de}, {"after_de00", agreed.after_de}});
    }
    if (!o.target.empty()) {
        const auto target = target_by_name(o.target);
        if (!target)
            return tl::unexpected(target.error());
        const SheetForecast f = forecast(*sheet, loaded->scene().knowing(known));
        for (const RankedCell& c : rank(read->reading, *target, f))
            out["ranking"].push_back({{"cell", cell_name(*sheet, c.cell)},
                                      {"de00", c.miss},
                                      {"unevenness_de00", c.unevenness},
                                      {"time_s", c.time_s},
                                      {"passes", c.passes}});
    }
    return out;
}

} // namespace finch::cli
