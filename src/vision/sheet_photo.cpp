// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "vision/sheet_photo.h"

#include "physics/colour_difference.h"
#include "vision/bare_metal.h"
#include "vision/markers.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <opencv2/imgproc.hpp>

namespace finch {
namespace {

// Where the parts of a cell's uncertainty come from; measured on simulated photographs, docs/reading.md.
constexpr double nine_in_ten = 1.75;    // of the parts together
constexpr double camera_grey = 0.45;    // CIEDE2000 of a camera that nobody set right, on grey
constexpr double camera_chroma = 0.018; // and more for each unit of chroma
constexpr double card_share = 0.022;    // of the light, of a card as it comes
constexpr double light_floor = 0.006;   // of the light, from the grain of the metal
constexpr double veil_from = 0.03;      // what grain alone can look like
constexpr int fewest_strips = 3;
constexpr double most_apart_ln = 0.30;
constexpr double most_veil = 0.22;

struct CellPixels {
    std::vector<Light> light;
    std::vector<int> part; ///< which of the 16 parts
    int bright = 0, all = 0;
};

CellPixels cell_pixels(const Squared& s, const RectMm& cell, const LightField& field, const Light& factor) {
    constexpr double rim = 0.16; // the edges of a burned rectangle blur into bare metal
    const RectMm inner{cell.x + rim * cell.w, cell.y + rim * cell.h, cell.w * (1 - 2 * rim), cell.h * (1 - 2 * rim)};
    const cv::Rect box = s.box(inner);
    const Light light = field.at(cell.x + cell.w / 2, cell.y + cell.h / 2);
    const Light right = field.at(cell.x + cell.w, cell.y + cell.h / 2);
    const Light below = field.at(cell.x + cell.w / 2, cell.y + cell.h);
    CellPixels out;
    for (int y = 0; y < box.height; ++y)
        for (int x = 0; x < box.width; ++x) {
            ++out.all;
            const auto& v = s.rgb.at<cv::Vec3b>(box.y + y, box.x + x);
            if (burned_out(v)) {
                ++out.bright;
                continue;
            }
            const double u = 2 * (x + 0.5) / box.width - 1, w = 2 * (y + 0.5) / box.height - 1;
            Light l = linear(v);
            for (std::size_t c = 0; c < 3; ++c) {
                // The light changes little within a cell: a plane through its centre and two edges will do.
                const double here =
                    light[c] * (1 + (1 - 2 * rim) * (u * (right[c] / light[c] - 1) + w * (below[c] / light[c] - 1)));
                l[c] /= here * factor[c];
            }
            out.light.push_back(l);
            out.part.push_back(4 * (4 * y / box.height) + 4 * x / box.width);
        }
    return out;
}

Light mean_of(const std::vector<Light>& v) {
    Light sum{};
    for (const Light& p : v)
        for (std::size_t c = 0; c < 3; ++c)
            sum[c] += p[c] / static_cast<double>(v.size());
    return sum;
}

/// Turns light relative to bare metal into colour.
struct Eye {
    Light scale{}; ///< to perfect white
    double card_spread = card_share;
    double haste = 1; ///< 1 = taken with care; more where the light and the noise say otherwise
    const std::optional<CameraColour>& camera;

    [[nodiscard]] Light white(const Light& relative) const {
        return {relative[0] * scale[0], relative[1] * scale[1], relative[2] * scale[2]};
    }
    [[nodiscard]] Lab lab(const Light& relative) const {
        const Light seen = white(relative);
        return camera ? corrected(*camera, seen) : to_lab(from_linear_rgb(seen));
    }
};

/// Means of sixteen parts of a cell against the mean of all: how uneven, and how far the worst part is off.
struct Parts {
    double mean_de = 0, worst_de = 0;
};
Parts parts_of(const CellPixels& pixels, const Eye& eye, const Lab& mean) {
    std::array<std::vector<Light>, 16> parts;
    for (std::size_t i = 0; i < pixels.light.size(); ++i)
        parts.at(static_cast<std::size_t>(pixels.part[i])).push_back(pixels.light[i]);
    Parts out;
    int count = 0;
    for (const auto& part : parts)
        if (part.size() > 3) {
            const double de = delta_e00(eye.lab(mean_of(part)), mean);
            out.mean_de += de;
            out.worst_de = std::max(out.worst_de, de);
            ++count;
        }
    out.mean_de = count > 0 ? out.mean_de / count : 0;
    return out;
}

/// CIEDE2000 within which the true colour lies in nine of ten cases, from what can be off about this cell.
double reach_of(const Light& relative, const LocalLight& local, const Parts& parts, const Eye& eye, const Lab& lab) {
    const auto moved = [&](double factor, double added) {
        Light l = relative;
        for (double& v : l)
            v = std::max(1e-5, v * factor + added);
        return delta_e00(eye.lab(l), lab);
    };
    const double by_light =
        moved(1 + std::hypot(light_floor * eye.haste, 0.35 * local.apart_ln, 0.25 * local.shade), 0);
    const double by_card = moved(1 + eye.card_spread * eye.haste, 0);
    // As light that falls on the cell too, or as a veil that lies over it: the truth is between.
    const double veil = std::max(0.0, local.veil - veil_from);
    const double by_veil = moved(1, -0.5 * veil * std::max(0.0, 1 - relative[1]));
    const double by_camera = eye.camera ? std::hypot(0.45, 0.8 * eye.camera->residual_de)
                                        : eye.haste * (camera_grey + camera_chroma * chroma(lab));
    const double by_parts = 0.25 * parts.worst_de;
    return nine_in_ten * std::sqrt(by_light * by_light + by_card * by_card + by_veil * by_veil + by_camera * by_camera +
                                   by_parts * by_parts);
}

CellReading read_cell(const Squared& s, const RectMm& cell, const BareMetal& metal, std::size_t index, const Eye& eye,
                      Light& seen) {
    CellReading out;
    out.state = CellState::hidden;
    const LocalLight local = metal.round_cell(index);
    const CellPixels pixels = cell_pixels(s, cell, metal.field(), local.factor);
    const double clean = 1 - static_cast<double>(pixels.bright) / std::max(1, pixels.all);
    // A strip that is burned out is glare at its fullest: what shows on metal lies on the cell as well.
    if (clean < 0.8 || pixels.light.size() < 16 || local.good < fewest_strips || local.apart_ln > most_apart_ln ||
        local.veil > most_veil)
        return out;
    const Light mean = mean_of(pixels.light);
    out.lab = eye.lab(mean);
    const Parts parts = parts_of(pixels, eye, out.lab);
    out.unevenness = parts.mean_de;
    out.within_de = reach_of(mean, local, parts, eye, out.lab);
    out.state = CellState::read;
    seen = eye.white(mean);
    return out;
}

Light median_of(const std::vector<Light>& lights) {
    Light out{};
    for (std::size_t c = 0; c < 3; ++c) {
        std::vector<double> v;
        for (const Light& l : lights)
            v.push_back(l[c]);
        const auto middle = v.begin() + static_cast<long>(v.size() / 2);
        std::nth_element(v.begin(), middle, v.end());
        out[c] = *middle;
    }
    return out;
}

struct CardSeen {
    Light light{};     ///< against the bare metal's light there
    double uneven = 0; ///< ln, between its parts
    double noise = 0;  ///< share, from pixel to pixel: a card has no texture, so it is the camera's
};

double pixel_noise(const Squared& s, const RectMm& where) {
    const cv::Rect box = s.box(where);
    double sum = 0, squares = 0;
    for (int y = box.y; y < box.y + box.height; ++y)
        for (int x = box.x + 2; x < box.x + box.width; x += 2) {
            const double a = linear(s.rgb.at<cv::Vec3b>(y, x))[1], b = linear(s.rgb.at<cv::Vec3b>(y, x - 2))[1];
            sum += a;
            squares += (a - b) * (a - b);
        }
    const double n = std::max(1.0, 0.5 * box.area());
    return std::sqrt(0.5 * squares / n) / std::max(1e-4, sum / n);
}

/// The white card near its place: the part of it that is plainly not metal, without its rim.
Expected<CardSeen> find_card(const Squared& s, const SheetLayout& at, const LightField& field) {
    const RectMm& w = at.white_card;
    constexpr int side = 9; // the wider place by parts
    const RectMm wide{w.x - 0.25 * w.w, w.y - 0.25 * w.h, 1.5 * w.w, 1.5 * w.h};
    const Light metal = field.at(w.x + w.w / 2, w.y + w.h / 2);
    std::vector<std::optional<Light>> parts;
    int burned = 0;
    for (int r = 0; r < side; ++r)
        for (int c = 0; c < side; ++c) {
            const RectMm part{wide.x + wide.w * c / side, wide.y + wide.h * r / side, wide.w / side, wide.h / side};
            parts.push_back(median_light(s, part));
            burned += parts.back() ? 0 : 1;
        }
    // The middle of where it should lie is the card, if it is one at all.
    std::vector<Light> inner;
    for (int r = 3; r < 6; ++r)
        for (int c = 3; c < 6; ++c)
            if (const auto& p = parts[static_cast<std::size_t>(side * r + c)])
                inner.push_back(*p);
    if (inner.size() < 5)
        return burned > 20 ? failure("photo.over_exposed", "The white card is burned out.",
                                     "Take it again with a shorter exposure.")
                           : failure("photo.no_white", "The white card cannot be seen on its place.",
                                     "Lay it beside the lower left fiducial and take the photograph again.");
    CardSeen out;
    const Light card = median_of(inner);
    const auto [low, high] =
        std::minmax_element(inner.begin(), inner.end(), [](const Light& a, const Light& b) { return a[1] < b[1]; });
    out.uneven = std::log(std::max((*high)[1], 1e-5) / std::max((*low)[1], 1e-5));
    // Metal right beside it: what the light over the whole sheet would be here is a guess at its rim.
    std::vector<Light> beside;
    for (int r = 0; r < side; ++r)
        for (int c = 0; c < side; ++c)
            if (const auto& p = parts[static_cast<std::size_t>(side * r + c)];
                p && (r == 0 || c == 0 || r == side - 1 || c == side - 1))
                beside.push_back(*p);
    const Light local = beside.size() >= 8 ? median_of(beside) : metal;
    for (std::size_t c = 0; c < 3; ++c)
        out.light[c] = card[c] / local[c];
    if (out.light[1] < 1.06)
        return failure("photo.no_white", "There is no white card on its place beside the lower left fiducial.",
                       "Lay the white card there and take the photograph again.");
    out.noise = pixel_noise(s, {w.x + 0.25 * w.w, w.y + 0.25 * w.h, 0.5 * w.w, 0.5 * w.h});
    return out;
}

cv::Mat shown(const Squared& s, const LightField& field, const Light& scale) {
    cv::Mat out(s.rgb.size(), CV_8UC3);
    constexpr int block = 8;
    constexpr double middle = block / 2.0;
    Light k{};
    for (int y = 0; y < out.rows; ++y)
        for (int x = 0; x < out.cols; ++x) {
            if (x % block == 0) {
                const Light f = field.at((x + middle) / s.scale, y / s.scale);
                for (std::size_t c = 0; c < 3; ++c)
                    k[c] = scale[c] / f[c];
            }
            const Light l = linear(s.rgb.at<cv::Vec3b>(y, x));
            auto& o = out.at<cv::Vec3b>(y, x);
            for (int c = 0; c < 3; ++c)
                o[c] = srgb_byte(l[static_cast<std::size_t>(c)] * k[static_cast<std::size_t>(c)]);
        }
    return out;
}

Squared squared_up(const cv::Mat& rgb, const FoundSheet& found, const SheetLayout& at) {
    Squared out;
    out.scale = std::clamp(found.pixels_per_mm, 8.0, 20.0);
    // Much finer photographs are averaged first: a warp alone would look at every third pixel only.
    const double shrink = found.pixels_per_mm > 30 ? 22 / found.pixels_per_mm : 1;
    cv::Mat small = rgb;
    if (shrink < 1)
        cv::resize(rgb, small, {}, shrink, shrink, cv::INTER_AREA);
    const cv::Mat zoom = (cv::Mat_<double>(3, 3) << out.scale, 0, 0, 0, out.scale, 0, 0, 0, 1);
    const cv::Mat grow = (cv::Mat_<double>(3, 3) << 1 / shrink, 0, 0, 0, 1 / shrink, 0, 0, 0, 1);
    cv::warpPerspective(small, out.rgb, zoom * found.to_sheet * grow,
                        cv::Size(static_cast<int>(at.width_mm * out.scale), static_cast<int>(at.height_mm * out.scale)),
                        cv::INTER_LINEAR);
    return out;
}

} // namespace

namespace {

/// A photograph with the sheet or chart in it found and squared up.
struct Opened {
    FoundSheet found;
    Squared squared;
};
Expected<Opened> opened(const Picture& photo, const SheetLayout& at, int number,
                        const std::optional<std::array<PointMm, 4>>& by_hand) {
    if (photo.width < 300 || photo.height < 300)
        return failure("photo.too_small",
                       fmt::format("The picture has only {} x {} pixels.", photo.width, photo.height),
                       "Use a photograph of at least 1000 pixels across.");
    const cv::Mat rgb(photo.height, photo.width, CV_8UC3, const_cast<std::uint8_t*>(photo.rgb.data()));
    cv::Mat grey;
    cv::cvtColor(rgb, grey, cv::COLOR_RGB2GRAY);
    auto found = find_sheet(grey, at, number, by_hand);
    if (!found)
        return tl::unexpected(found.error());
    Squared squared = squared_up(rgb, *found, at);
    return Opened{std::move(*found), std::move(squared)};
}

std::array<PointMm, 4> outer_corners(const FoundSheet& found, const SheetLayout& at) {
    std::vector<cv::Point2d> sheet, photo;
    for (std::size_t i = 0; i < 4; ++i) {
        const RectMm& b = at.fiducials[i].box;
        sheet.emplace_back(b.x + (i == 1 || i == 2 ? b.w : 0), b.y + (i > 1 ? b.h : 0));
    }
    cv::perspectiveTransform(sheet, photo, found.to_sheet.inv());
    std::array<PointMm, 4> out;
    for (std::size_t i = 0; i < 4; ++i)
        out[i] = {photo[i].x, photo[i].y};
    return out;
}

Error burned_out_metal() {
    return {"photo.over_exposed",
            "What is bare between the cells is burned out.",
            "Take it again with a shorter exposure, or turn the lamp away.",
            {}};
}

} // namespace

Expected<ReadPhoto> read_sheet_photo(const Picture& photo, const ProofSheet& sheet, const PhotoSetting& setting) {
    const SheetLayout at = layout(sheet);
    const auto open = opened(photo, at, sheet.plate_number(), setting.corners_px);
    if (!open)
        return tl::unexpected(open.error());
    const auto& [found, squared] = *open;
    const BareMetal metal(squared, sheet, at);
    if (metal.seen() < 12)
        return tl::unexpected(burned_out_metal());
    const auto card = find_card(squared, at, metal.field());
    if (!card)
        return tl::unexpected(card.error());
    Eye eye{{}, std::hypot(card_share, 0.5 * card->uneven), 1, setting.camera};
    eye.haste = std::hypot(1, std::max(0.0, std::log(metal.field().range()) - 0.45) / 0.3,
                           std::max(0.0, card->noise - 0.007) / 0.004);
    const Light known = to_linear_rgb(to_xyz(setting.card));
    for (std::size_t c = 0; c < 3; ++c)
        eye.scale[c] = known[c] / card->light[c];
    ReadPhoto out;
    out.pixels_per_mm = squared.scale;
    out.corners_px = outer_corners(found, at);
    out.reading.sheet_number = sheet.number;
    out.reading.edge_mm = found.edge_mm;
    out.reading.markers = found.markers;
    out.reading.light_range = metal.field().range();
    out.reading.ground = eye.lab({1, 1, 1}); // all light is told against it
    out.reading.camera = setting.camera;
    out.reading.cells.resize(sheet.cells());
    out.seen.resize(sheet.cells());
    for (std::size_t i = 0; i < sheet.cells(); ++i)
        if (i >= sheet.left_out.size() || !sheet.left_out[i])
            out.reading.cells[i] = read_cell(squared, at.cells[i], metal, i, eye, out.seen[i]);
    const cv::Mat even = shown(squared, metal.field(), eye.scale);
    out.rectified = {even.cols, even.rows, std::vector<std::uint8_t>(even.datastart, even.dataend)};
    return out;
}

Expected<std::vector<ColourPair>> read_chart_photo(const Picture& photo, const MeasuredColours& values) {
    const auto paper = values.find("paper");
    if (paper == values.end())
        return failure("chart.no_paper", "The colour of the bare paper is missing.",
                       "Add a line for it: paper,95.1,0.2,-1.0.");
    const ColourChart& chart = colour_chart();
    const auto open = opened(photo, chart.layout, chart.grid.number, std::nullopt);
    if (!open)
        return tl::unexpected(open.error());
    const BareMetal white(open->squared, chart.grid, chart.layout);
    if (white.seen() < 12)
        return tl::unexpected(burned_out_metal());
    const std::optional<CameraColour> as_it_comes;
    const Eye eye{to_linear_rgb(to_xyz(paper->second)), 0, 1, as_it_comes};
    std::vector<ColourPair> out;
    for (std::size_t i = 0; i < chart.layout.cells.size(); ++i) {
        const std::string name = cell_name(chart.grid, i);
        const auto known = values.find(name);
        Light seen{};
        if (known != values.end() &&
            read_cell(open->squared, chart.layout.cells[i], white, i, eye, seen).state == CellState::read)
            out.push_back({seen, known->second, name});
    }
    return out;
}

std::vector<ColourPair> measured_pairs(const ReadPhoto& read, const ProofSheet& sheet, const MeasuredColours& values) {
    std::vector<ColourPair> out;
    for (std::size_t i = 0; i < read.reading.cells.size(); ++i)
        if (const auto known = values.find(cell_name(sheet, i));
            known != values.end() && read.reading.cells[i].state == CellState::read)
            out.push_back({read.seen[i], known->second, known->first});
    return out;
}

} // namespace finch
