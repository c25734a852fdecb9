// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "hidden_bench.h"

#include "evidence/film_evidence.h"
#include "formats/picture_file.h"
#include "proof/colour_chart.h"
#include "proof/measured_cells.h"
#include "proof/sheet_heat.h"
#include "standin/camera_file.h"
#include "standin/instrument.h"
#include "standin/print.h"
#include "vision/fiducials.h"
#include "vision/sheet_photo.h"

#include <algorithm>

namespace finch::study {
namespace {

constexpr double read_noise = 0.6, photo_bias = 0.6, misread_share = 0.03, instrument_noise = 0.2;

Burned truth_of(const standin::Surface& s) {
    const auto lab = standin::instrument_lab(s.reflects);
    Burned b;
    b.truth = {lab[0], lab[1], lab[2]};
    b.film_nm = s.film_nm;
    b.spoiled = !s.whole;
    return b;
}

Burned not_burned() {
    Burned b;
    b.spoiled = true;
    return b;
}

} // namespace

Shop::Shop(const char* bench, const char* stock) {
    setup.bench = load_bench("data", bench).value();
    setup.stock = load_stock("data", stock).value();
    metal = materials.find(setup.stock.metal).value();
    table = std::make_shared<const FilmTable>(*metal->film);
    labels = label_recipe(scene()).value();
}

double Shop::lettering_s(ProofSheet sheet) const {
    sheet.label_recipe = labels;
    return finch::lettering_s(sheet, scene());
}

HiddenBench::HiddenBench(const Shop& shop, standin::Grade grade, std::uint64_t seed, Eyes eyes)
    : shop_(shop), grade_(grade), seed_(seed), world_(draw_world(grade, 900 + seed)), chance_(7000 + seed),
      eyes_(eyes) {
    if (eyes == Eyes::set_right)
        camera_ = by_chart(standin::draw_camera(grade_, 900 + seed_));
}

std::optional<CameraColour> HiddenBench::by_chart(const standin::CameraBody& body) const {
    const auto print = standin::printed(chart_print(fiducial_modules(colour_chart().layout)), 900 + seed_);
    MeasuredColours values;
    for (const auto& [place, lab] : print.measured)
        values[place] = {lab[0], lab[1], lab[2]};
    // Taken again, twice at most, where what is left unexplained says that it went wrong.
    constexpr double well = 2;
    std::optional<CameraColour> best;
    for (std::uint64_t turn = 1; turn <= 3 && !(best && best->residual_de < well); ++turn) {
        standin::Shot shot;
        shot.seed = 1000 * seed_ + 900 + turn;
        const auto photo = picture_from_bytes(standin::encoded(standin::photograph(print.paper, body, shot)),
                                              "photograph of the chart");
        const auto pairs = photo ? read_chart_photo(*photo, values) : tl::unexpected(photo.error());
        const auto camera = pairs ? fit_camera_colour(*pairs) : tl::unexpected(pairs.error());
        if (camera && !(best && best->residual_de < camera->residual_de))
            best = *camera;
    }
    return best;
}

Burned HiddenBench::alone(const Recipe& r) const {
    standin::Work work(world_, shop_.nature, shop_.setup, 60, 50);
    if (!work.burn({"cell", r, {{10, 10, cell_w, cell_h}}, {}}))
        return not_burned();
    return truth_of(work.plate().burns.back().surface);
}

std::vector<Burned> HiddenBench::sheet(const std::vector<Recipe>& cells, const std::vector<CellPlace>& at,
                                       const std::vector<CellHeat>& heats) {
    auto out = eyes_ == Eyes::numbers ? as_numbers(cells, at) : as_photographed(cells, heats);
    if (eyes_ == Eyes::numbers && !heats.empty()) {
        const auto warmth = expected_warmth(*shop_.metal, shop_.setup.stock.thickness, at, heats);
        for (std::size_t i = 0; i < out.size(); ++i)
            out[i].warmth_k = warmth[i];
    }
    for (const Burned& b : out)
        damaged += b.spoiled ? 1 : 0;
    cells_burned += cells.size();
    ++sheets;
    return out;
}

std::vector<Burned> HiddenBench::as_numbers(const std::vector<Recipe>& cells, const std::vector<CellPlace>& at) {
    standin::Work work(world_, shop_.nature, shop_.setup, 90, 70);
    const std::array<double, 3> bias{photo_bias * chance_.normal(), 0.7 * photo_bias * chance_.normal(),
                                     0.7 * photo_bias * chance_.normal()};
    std::vector<Burned> out;
    for (std::size_t i = 0; i < cells.size(); ++i) {
        Burned b = not_burned();
        if (work.burn({"cell", cells[i], {{at[i].x_mm + 8, at[i].y_mm + 8, cell_w, cell_h}}, {}}))
            b = truth_of(work.plate().burns.back().surface);
        const double n = read_noise * (b.spoiled ? 3 : 1);
        b.seen = {b.truth.l + bias[0] + n * chance_.normal(), b.truth.a + bias[1] + n * chance_.normal(),
                  b.truth.b + bias[2] + n * chance_.normal()};
        if (chance_.even() < misread_share) {
            const double off = chance_.even(5, 15);
            b.seen = {b.seen.l + off, b.seen.a + 0.3 * off * chance_.normal(), b.seen.b + 0.3 * off * chance_.normal()};
        }
        out.push_back(b);
    }
    marking_s += work.clock_s();
    return out;
}

std::vector<Burned> HiddenBench::as_photographed(const std::vector<Recipe>& cells, const std::vector<CellHeat>& heats) {
    SheetRequest request;
    request.number = 1 + sheets;
    request.base = cells.front();
    std::vector<Setting> own;
    for (const Recipe& r : cells)
        own.push_back(r.setting);
    // On a frame of its own: what is looked at is how a photograph is read, and plate is counted by take_frame().
    ProofSheet sheet =
        with_frame(plan_free_sheet(request, own, shop_.setup.bench, shop_.labels).value(), shop_.setup.bench).value();
    sheet = with_turns(std::move(sheet), shop_.scene());
    const SheetLayout where = layout(sheet);
    standin::Work work(world_, shop_.nature, shop_.setup, where.width_mm, where.height_mm);
    std::vector<Burned> out(cells.size(), not_burned());
    double lettered_s = 0;
    for (const ToolStep& step : tool_steps(sheet, where, fiducial_modules(where))) {
        const bool done = work.burn(step).has_value();
        if (const auto cell = cell_from_name(sheet, step.name); cell && done)
            out[*cell] = truth_of(work.plate().burns.back().surface);
        else if (!cell)
            lettered_s = work.clock_s(); // counted by take_plate()
    }
    marking_s += work.clock_s() - lettered_s;
    standin::Shot shot;
    shot.seed = 1000 * seed_ + static_cast<std::uint64_t>(sheets);
    shot.white_card = where.white_card;
    const standin::CameraBody body = standin::draw_camera(grade_, 900 + seed_);
    const auto photo =
        picture_from_bytes(standin::encoded(standin::photograph(work.plate(), body, shot)), "photograph");
    PhotoSetting setting;
    setting.camera = camera_;
    const auto read = photo ? read_sheet_photo(*photo, sheet, setting) : tl::unexpected(photo.error());
    unread_photos += read ? 0 : 1;
    if (!heats.empty()) {
        const SheetHeat heat = sheet_heat(sheet, *shop_.metal, shop_.setup.stock.thickness, heats);
        for (std::size_t i = 0; i < heat.turns.size(); ++i)
            out[heat.turns[i].cell].warmth_k = heat.warmth_k[i];
    }
    reading_ = read ? std::optional(read->reading) : std::nullopt;
    see(out);
    hidden_cells +=
        static_cast<int>(std::ranges::count_if(out, [](const Burned& b) { return b.read_sd >= unread_sd; }));
    return out;
}

void HiddenBench::see(std::vector<Burned>& cells) const {
    for (std::size_t i = 0; i < cells.size(); ++i) {
        cells[i].seen = {100, 0, 0}; // hidden: like nothing that is wanted
        cells[i].read_sd = unread_sd;
        if (!reading_ || reading_->cells[i].state != CellState::read)
            continue;
        cells[i].seen = reading_->cells[i].lab;
        cells[i].read_sd = read_sd_of(reading_->cells[i].within_de);
    }
}

std::vector<Burned> HiddenBench::measured(std::vector<Burned> last, const std::vector<std::size_t>& cells) {
    std::vector<CellColour> colours;
    for (const std::size_t k : cells) {
        const Lab& t = last[k].truth;
        colours.push_back({k,
                           {t.l + instrument_noise * chance_.normal(), t.a + instrument_noise * chance_.normal(),
                            t.b + instrument_noise * chance_.normal()}});
    }
    by_instrument += static_cast<int>(cells.size());
    if (!reading_)
        return last;
    put_colours(*reading_, colours);
    see(last);
    return last;
}

void HiddenBench::take_frame(std::size_t cells) {
    if (free_places_ < cells) {
        ProofSheet sheet;
        sheet.own.resize(cells);
        sheet = with_frame(std::move(sheet), shop_.setup.bench).value();
        free_places_ = sheet.cells();
        take_plate(sheet);
    }
    free_places_ -= cells;
}

void HiddenBench::take_plate(const ProofSheet& sheet) {
    const SheetLayout at = layout(sheet);
    plate_cm2 += at.width_mm * at.height_mm / 100;
    marking_s += shop_.lettering_s(sheet);
}

} // namespace finch::study
