// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "vision/sheet_photo.h"

#include "physics/colour_difference.h"
#include "vision/fiducials.h"
#include "vision/light_field.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <map>
#include <opencv2/aruco.hpp>
#include <opencv2/calib3d.hpp>
#include <opencv2/imgproc.hpp>
#include <optional>

namespace finch {
namespace {

constexpr int saturated = 252;
constexpr double sharp_enough = 0.16; // of fiducial_sharpness
constexpr int code_family = cv::aruco::DICT_5X5_1000;

const cv::Ptr<cv::aruco::Dictionary>& dictionary() {
    static const cv::Ptr<cv::aruco::Dictionary> d = cv::aruco::getPredefinedDictionary(code_family);
    return d;
}

const std::array<float, 256>& linear_table() {
    static const std::array<float, 256> table = [] {
        std::array<float, 256> t{};
        for (std::size_t i = 0; i < t.size(); ++i)
            t[i] = static_cast<float>(srgb_decode(static_cast<double>(i) / 255));
        return t;
    }();
    return table;
}

struct Markers {
    std::vector<int> ids;
    std::vector<std::vector<cv::Point2f>> corners;
};

Markers find_markers(const cv::Mat& grey) {
    Markers found;
    const auto parameters = cv::aruco::DetectorParameters::create();
    parameters->cornerRefinementMethod = cv::aruco::CORNER_REFINE_SUBPIX;
    parameters->adaptiveThreshWinSizeMax = 53;
    parameters->adaptiveThreshWinSizeStep = 10;
    parameters->minMarkerPerimeterRate = 0.02;
    parameters->detectInvertedMarker = true; // light marks in a dark coat
    cv::aruco::detectMarkers(grey, dictionary(), found.corners, found.ids, parameters);
    return found;
}

struct Exposure {
    double bright_share = 0, lit_share = 0; ///< burned out; brighter than deep shade
};

Exposure exposure(const cv::Mat& grey) {
    return {static_cast<double>(cv::countNonZero(grey >= saturated)) / static_cast<double>(grey.total()),
            static_cast<double>(cv::countNonZero(grey > 70)) / static_cast<double>(grey.total())};
}

/// Steepest edges of the whole picture against its contrast: near 0 when everything is smeared.
double crispness(const cv::Mat& grey) {
    cv::Mat dx, dy;
    cv::Sobel(grey, dx, CV_32F, 1, 0);
    cv::Sobel(grey, dy, CV_32F, 0, 1);
    cv::Mat size;
    cv::magnitude(dx, dy, size);
    std::vector<float> values(size.begin<float>(), size.end<float>());
    const auto top = values.begin() + static_cast<long>(static_cast<double>(values.size()) * 0.999);
    std::nth_element(values.begin(), top, values.end());
    cv::Scalar mean, spread;
    cv::meanStdDev(grey, mean, spread);
    return *top / 8.0 / std::max(4.0, 4 * spread[0]);
}

Error nothing_found(const cv::Mat& grey) {
    const Exposure e = exposure(grey);
    if (e.bright_share > 0.25)
        return {"photo.over_exposed",
                fmt::format("{:.0f} % of the picture is burned out white.", 100 * e.bright_share),
                "Take it again with less light or a shorter exposure.",
                {}};
    if (e.lit_share < 0.02)
        return {"photo.under_exposed", "The picture is nearly black.", "Take it again with more light.", {}};
    if (crispness(grey) < 0.08)
        return {"photo.blurred",
                "The picture is too blurred to find the fiducials.",
                "Rest the camera, focus on the metal and take it again.",
                {}};
    return {"photo.no_sheet",
            "No fiducial of a proof sheet is in this picture.",
            "Show the whole sheet with its four square marks, not mirrored.",
            {}};
}

struct Corners {
    std::vector<cv::Point2f> photo, sheet;
};

/// Contrast of the fiducials' edges: share of the step from dark to bright that happens within one pixel.
double fiducial_sharpness(const cv::Mat& grey, const std::vector<cv::Point2f>& corners) {
    if (corners.size() < 4)
        return 0;
    const cv::Rect box = cv::boundingRect(std::vector<cv::Point2f>(corners.begin(), corners.begin() + 4)) &
                         cv::Rect(0, 0, grey.cols, grey.rows);
    if (box.area() < 64)
        return 0;
    const cv::Mat part = grey(box);
    double low = 0, high = 0;
    cv::minMaxLoc(part, &low, &high);
    cv::Mat dx, dy, size;
    cv::Sobel(part, dx, CV_32F, 1, 0);
    cv::Sobel(part, dy, CV_32F, 0, 1);
    cv::magnitude(dx, dy, size);
    std::vector<float> values(size.begin<float>(), size.end<float>());
    const auto top = values.begin() + static_cast<long>(static_cast<double>(values.size()) * 0.97);
    std::nth_element(values.begin(), top, values.end());
    return *top / 4 / std::max(1.0, high - low);
}

Error smeared() {
    return {"photo.blurred",
            "The edges of the fiducials are smeared.",
            "Rest the camera, focus on the metal and take it again.",
            {}};
}

/// Pairs the corners of the four fiducials of this sheet, or says what is wrong.
Expected<Corners> match(const Markers& found, const SheetLayout& at, const ProofSheet& sheet, const cv::Mat& grey) {
    if (found.ids.empty())
        return tl::unexpected(nothing_found(grey));
    std::map<int, int> votes;
    for (const int id : found.ids)
        ++votes[id / 4];
    const int code = sheet_code(sheet.number);
    const auto most =
        std::max_element(votes.begin(), votes.end(), [](auto& a, auto& b) { return a.second < b.second; });
    if (!votes.contains(code) || (most->first != code && most->second > votes[code]))
        return failure(
            "photo.wrong_sheet",
            fmt::format("This is a sheet with code {}, not sheet {} (code {}).", most->first, sheet.number, code),
            "Choose the photograph of this sheet, or open the other sheet.");
    Corners out;
    std::vector<std::string> missing;
    for (const Fiducial& f : at.fiducials) {
        const auto it = std::find(found.ids.begin(), found.ids.end(), f.id);
        if (it == found.ids.end()) {
            missing.emplace_back(f.corner);
            continue;
        }
        const auto& c = found.corners[static_cast<std::size_t>(it - found.ids.begin())];
        out.photo.insert(out.photo.end(), c.begin(), c.end());
        const auto x = static_cast<float>(f.box.x), y = static_cast<float>(f.box.y), w = static_cast<float>(f.box.w);
        out.sheet.insert(out.sheet.end(), {{x, y}, {x + w, y}, {x + w, y + w}, {x, y + w}});
    }
    if (!missing.empty() && fiducial_sharpness(grey, out.photo) < sharp_enough)
        return tl::unexpected(smeared());
    if (!missing.empty())
        return failure("photo.missing_fiducials",
                       fmt::format("The {} fiducial{} cannot be seen.", fmt::join(missing, " and "),
                                   missing.size() > 1 ? "s" : ""),
                       "Show all four square marks, without glare on them.");
    return out;
}

/// The sheet squared up, in 8 bit and in linear light.
struct Squared {
    cv::Mat rgb;      ///< 8 bit
    double scale = 0; ///< pixels per mm

    [[nodiscard]] cv::Rect box(const RectMm& r) const {
        const auto p = [this](double v) { return static_cast<int>(std::lround(v * scale)); };
        const cv::Rect wish(p(r.x), p(r.y), std::max(1, p(r.w)), std::max(1, p(r.h)));
        return wish & cv::Rect(0, 0, rgb.cols, rgb.rows);
    }
};

std::array<double, 3> linear(const cv::Vec3b& v) {
    const auto& t = linear_table();
    return {t[v[0]], t[v[1]], t[v[2]]};
}

bool burned_out(const cv::Vec3b& v) {
    return v[0] >= saturated || v[1] >= saturated || v[2] >= saturated;
}

/// Median light of a rectangle, channel by channel, or nothing if it is mostly burned out.
std::optional<std::array<double, 3>> median_light(const Squared& s, const RectMm& r) {
    const cv::Rect box = s.box(r);
    std::array<std::vector<double>, 3> values;
    int bright = 0;
    for (int y = box.y; y < box.y + box.height; ++y)
        for (int x = box.x; x < box.x + box.width; ++x) {
            const auto& v = s.rgb.at<cv::Vec3b>(y, x);
            bright += burned_out(v) ? 1 : 0;
            const auto l = linear(v);
            for (std::size_t c = 0; c < 3; ++c)
                values[c].push_back(l[c]);
        }
    if (values[0].empty() || bright * 2 > box.area())
        return std::nullopt;
    std::array<double, 3> out{};
    for (std::size_t c = 0; c < 3; ++c) {
        auto& v = values[c];
        const auto middle = v.begin() + static_cast<long>(v.size() / 2);
        std::nth_element(v.begin(), middle, v.end());
        out[c] = *middle;
    }
    return out;
}

/// Bare metal: strips in the gaps between cells and the rim around the grid.
std::vector<BareSample> bare_samples(const Squared& s, const ProofSheet& sheet, const SheetLayout& at) {
    std::vector<BareSample> out;
    const double gap = in_mm(sheet.gap);
    const double t = std::min(0.5 * gap, 1.0);
    const auto add = [&](const RectMm& r) {
        if (const auto light = median_light(s, r))
            out.push_back({r.x + r.w / 2, r.y + r.h / 2, *light});
    };
    for (std::size_t i = 0; i < at.cells.size(); ++i) {
        const RectMm& c = at.cells[i];
        add({c.x + 0.2 * c.w, c.y + c.h + gap / 2 - t / 2, 0.6 * c.w, t});
        add({c.x + c.w + gap / 2 - t / 2, c.y + 0.2 * c.h, t, 0.6 * c.h});
        if (i % sheet.columns() == 0)
            add({c.x - gap / 2 - t / 2 + 0.1, c.y + 0.1 * c.h, t, 0.3 * c.h});
        if (i < sheet.left_out.size() && sheet.left_out[i])
            add({c.x + 0.2 * c.w, c.y + 0.2 * c.h, 0.6 * c.w, 0.6 * c.h});
    }
    for (const Fiducial& f : at.fiducials) {
        add({f.box.x + 1, f.box.y - 1.4, f.box.w - 2, 0.8});
        add({f.box.x + 1, f.box.y + f.box.w + 0.5, f.box.w - 2, 0.7});
    }
    return out;
}

struct CellPixels {
    std::vector<std::array<double, 3>> light;
    std::vector<int> part; ///< which of the 16 parts
    int bright = 0, all = 0;
};

CellPixels cell_pixels(const Squared& s, const RectMm& cell, const LightField& field) {
    constexpr double rim = 0.16; // the edges of a burned rectangle blur into bare metal
    const RectMm inner{cell.x + rim * cell.w, cell.y + rim * cell.h, cell.w * (1 - 2 * rim), cell.h * (1 - 2 * rim)};
    const cv::Rect box = s.box(inner);
    const auto light = field.at(cell.x + cell.w / 2, cell.y + cell.h / 2);
    const auto right = field.at(cell.x + cell.w, cell.y + cell.h / 2);
    const auto below = field.at(cell.x + cell.w / 2, cell.y + cell.h);
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
            auto l = linear(v);
            for (std::size_t c = 0; c < 3; ++c) {
                // The light changes little within a cell: a plane through its centre and two edges will do.
                const double here =
                    light[c] * (1 + (1 - 2 * rim) * (u * (right[c] / light[c] - 1) + w * (below[c] / light[c] - 1)));
                l[c] /= here;
            }
            out.light.push_back(l);
            out.part.push_back(4 * (4 * y / box.height) + 4 * x / box.width);
        }
    return out;
}

Lab lab_of(const std::array<double, 3>& relative, const std::array<double, 3>& scale) {
    return to_lab(from_linear_rgb({relative[0] * scale[0], relative[1] * scale[1], relative[2] * scale[2]}));
}

std::array<double, 3> mean_of(const std::vector<std::array<double, 3>>& v) {
    std::array<double, 3> sum{};
    for (const auto& p : v)
        for (std::size_t c = 0; c < 3; ++c)
            sum[c] += p[c] / static_cast<double>(v.size());
    return sum;
}

double unevenness(const CellPixels& pixels, const std::array<double, 3>& scale, const Lab& mean) {
    std::array<std::vector<std::array<double, 3>>, 16> parts;
    for (std::size_t i = 0; i < pixels.light.size(); ++i)
        parts.at(static_cast<std::size_t>(pixels.part[i])).push_back(pixels.light[i]);
    double sum = 0;
    int count = 0;
    for (const auto& part : parts)
        if (part.size() > 3) {
            sum += delta_e00(lab_of(mean_of(part), scale), mean);
            ++count;
        }
    return count > 0 ? sum / count : 0;
}

CellReading read_cell(const Squared& s, const RectMm& cell, const LightField& field, const std::array<double, 3>& scale,
                      double gap) {
    CellReading out;
    const CellPixels pixels = cell_pixels(s, cell, field);
    const double clean = 1 - static_cast<double>(pixels.bright) / std::max(1, pixels.all);
    // Glare spills over a cell before it burns out, and a shadow is no dark mark; the bare metal beside the cell shows
    // both.
    const double spill =
        field.departure(cell.x + cell.w / 2, cell.y + cell.h / 2, 0.5 * std::hypot(cell.w, cell.h) + gap);
    if (clean < 0.7 || spill > 0.13 || pixels.light.size() < 16) {
        out.state = CellState::hidden;
        return out;
    }
    out.state = CellState::read;
    out.lab = lab_of(mean_of(pixels.light), scale);
    out.unevenness = unevenness(pixels, scale, out.lab);
    out.confidence = std::clamp(clean * (1 - spill / 0.13) * std::exp(-out.unevenness / 12), 0.0, 1.0);
    return out;
}

/// What the light of bare metal has to be multiplied with, so that the white card comes out as it is known to be.
Expected<std::array<double, 3>> white_scale(const Squared& s, const SheetLayout& at, const LightField& field) {
    const RectMm& w = at.white_card;
    const auto light = median_light(s, {w.x + 0.25 * w.w, w.y + 0.25 * w.h, 0.5 * w.w, 0.5 * w.h});
    if (!light)
        return failure("photo.over_exposed", "The white card is burned out.", "Take it again with a shorter exposure.");
    const auto metal = field.at(w.x + w.w / 2, w.y + w.h / 2);
    const auto known = to_linear_rgb(to_xyz(white_card_lab()));
    std::array<double, 3> scale{};
    for (std::size_t c = 0; c < 3; ++c)
        scale[c] = known[c] / ((*light)[c] / metal[c]);
    // Bare metal is darker than a white card by a quarter or more. Equal light means that no card was laid.
    if ((*light)[1] < 1.08 * metal[1])
        return failure("photo.no_white", "There is no white card on its place beside the lower left fiducial.",
                       "Lay the white card there and take the photograph again.");
    return scale;
}

cv::Mat shown(const Squared& s, const LightField& field, const std::array<double, 3>& scale) {
    cv::Mat out(s.rgb.size(), CV_8UC3);
    constexpr int block = 8;
    constexpr double middle = block / 2.0;
    std::array<double, 3> k{};
    for (int y = 0; y < out.rows; ++y)
        for (int x = 0; x < out.cols; ++x) {
            if (x % block == 0) {
                const auto f = field.at((x + middle) / s.scale, y / s.scale);
                for (std::size_t c = 0; c < 3; ++c)
                    k[c] = scale[c] / f[c];
            }
            const auto l = linear(s.rgb.at<cv::Vec3b>(y, x));
            auto& o = out.at<cv::Vec3b>(y, x);
            for (int c = 0; c < 3; ++c)
                o[c] = srgb_byte(l[static_cast<std::size_t>(c)] * k[static_cast<std::size_t>(c)]);
        }
    return out;
}

double pixels_per_mm(const Corners& corners) {
    double sum = 0;
    for (std::size_t i = 0; i < 16; i += 4)
        sum +=
            cv::norm(corners.photo[i] - corners.photo[i + 1]) + cv::norm(corners.photo[i + 1] - corners.photo[i + 2]);
    return sum / 8 / cv::norm(corners.sheet[0] - corners.sheet[1]);
}

} // namespace

std::array<bool, 49> fiducial_modules(int id) {
    cv::Mat picture;
    cv::aruco::drawMarker(dictionary(), id, 7, picture, 1);
    std::array<bool, 49> out{};
    for (std::size_t i = 0; i < out.size(); ++i)
        out[i] = picture.at<std::uint8_t>(static_cast<int>(i) / 7, static_cast<int>(i) % 7) < 128;
    return out;
}

std::array<std::array<bool, 49>, 4> fiducial_modules(const SheetLayout& layout) {
    std::array<std::array<bool, 49>, 4> out{};
    for (std::size_t i = 0; i < out.size(); ++i)
        out[i] = fiducial_modules(layout.fiducials[i].id);
    return out;
}

Expected<ReadPhoto> read_sheet_photo(const Picture& photo, const ProofSheet& sheet) {
    if (photo.width < 300 || photo.height < 300)
        return failure("photo.too_small",
                       fmt::format("The picture has only {} x {} pixels.", photo.width, photo.height),
                       "Use a photograph of at least 1000 pixels across.");
    const cv::Mat rgb(photo.height, photo.width, CV_8UC3, const_cast<std::uint8_t*>(photo.rgb.data()));
    cv::Mat grey;
    cv::cvtColor(rgb, grey, cv::COLOR_RGB2GRAY);
    const SheetLayout at = layout(sheet);
    auto corners = match(find_markers(grey), at, sheet, grey);
    if (!corners)
        return tl::unexpected(corners.error());
    const double resolution = pixels_per_mm(*corners);
    const double sharpness = fiducial_sharpness(grey, corners->photo);
    if (resolution < 5)
        return failure("photo.too_small",
                       fmt::format("A millimetre of the sheet covers only {:.1f} pixels.", resolution),
                       "Go nearer, so that the sheet fills the picture.");
    if (sharpness < sharp_enough)
        return tl::unexpected(smeared());
    const cv::Mat to_sheet = cv::findHomography(corners->photo, corners->sheet, 0);
    std::vector<cv::Point2f> back;
    cv::perspectiveTransform(corners->photo, back, to_sheet);
    double worst = 0;
    for (std::size_t i = 0; i < back.size(); ++i)
        worst = std::max(worst, cv::norm(back[i] - corners->sheet[i]));
    if (worst > 0.6)
        return failure("photo.bent", fmt::format("The fiducials do not lie in one plane: {:.1f} mm off.", worst),
                       "Lay the sheet flat, or photograph it from farther away.");
    Squared squared;
    squared.scale = std::clamp(resolution, 8.0, 20.0);
    const cv::Mat zoom = (cv::Mat_<double>(3, 3) << squared.scale, 0, 0, 0, squared.scale, 0, 0, 0, 1);
    cv::warpPerspective(
        rgb, squared.rgb, zoom * to_sheet,
        cv::Size(static_cast<int>(at.width_mm * squared.scale), static_cast<int>(at.height_mm * squared.scale)),
        cv::INTER_AREA);
    const std::vector<BareSample> bare = bare_samples(squared, sheet, at);
    if (bare.size() < 12)
        return failure("photo.over_exposed", "The bare metal between the cells is burned out.",
                       "Take it again with a shorter exposure, or turn the lamp away.");
    const LightField field(bare, at.width_mm, at.height_mm);
    const auto scale = white_scale(squared, at, field);
    if (!scale)
        return tl::unexpected(scale.error());
    ReadPhoto out;
    out.pixels_per_mm = squared.scale;
    out.reading.sheet_number = sheet.number;
    out.reading.sharpness = sharpness;
    out.reading.light_range = field.range();
    out.reading.cells.resize(sheet.cells());
    for (std::size_t i = 0; i < sheet.cells(); ++i)
        if (i >= sheet.left_out.size() || !sheet.left_out[i])
            out.reading.cells[i] = read_cell(squared, at.cells[i], field, *scale, in_mm(sheet.gap));
    const cv::Mat even = shown(squared, field, *scale);
    out.rectified = {even.cols, even.rows, std::vector<std::uint8_t>(even.datastart, even.dataend)};
    return out;
}

} // namespace finch
