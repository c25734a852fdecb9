// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/camera.h"

#include "standin/chance.h"
#include "standin/instrument.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <opencv2/calib3d.hpp>
#include <opencv2/imgproc.hpp>

namespace finch::standin {
namespace {

constexpr double scale = 16; // pixels of the plate per mm
constexpr double rim_mm = 6; // of bare metal beyond the sheet

/// Colour of a surface in the linear light of the camera's pictures.
cv::Scalar light_of(const CameraBody& body, const Reflectance& surface) {
    std::array<double, 3> pixel{};
    for (std::size_t c = 0; c < 3; ++c) {
        double white = 0;
        for (std::size_t i = 0; i < bands; ++i) {
            pixel[c] += body.curves[c][i] * daylight()[i] * surface[i];
            white += body.curves[c][i] * daylight()[i];
        }
        pixel[c] /= white;
    }
    cv::Scalar out;
    for (int r = 0; r < 3; ++r)
        for (std::size_t c = 0; c < 3; ++c)
            out[r] += body.matrix[static_cast<std::size_t>(r)][c] * pixel[c];
    return out;
}

cv::Rect pixels(const RectMm& r) {
    const auto p = [](double v) { return static_cast<int>(std::lround((v + rim_mm) * scale)); };
    return {p(r.x), p(r.y), p(r.x + r.w) - p(r.x), p(r.y + r.h) - p(r.y)};
}

/// Smooth mottle: random values on a coarse lattice, joined linearly, with a mean near zero.
cv::Mat mottle(cv::Size size, double step_x, double step_y, std::uint64_t seed) {
    const cv::Size coarse(std::max(2, static_cast<int>(size.width / step_x)),
                          std::max(2, static_cast<int>(size.height / step_y)));
    cv::Mat small(coarse, CV_32F), large;
    for (int y = 0; y < coarse.height; ++y)
        for (int x = 0; x < coarse.width; ++x)
            small.at<float>(y, x) = static_cast<float>(
                2 * unit_random(seed, static_cast<std::uint64_t>(x) * 1000003u + static_cast<std::uint64_t>(y)) - 1);
    cv::resize(small, large, size, 0, 0, cv::INTER_LINEAR);
    return large - cv::mean(large)[0];
}

/// The plate as the camera would see it in even light, and how much of each place shines by scattering (0..1).
struct Scenery {
    cv::Mat colour, scatters;
};

void paint(Scenery& s, const CameraBody& body, const Burn& burn, double tilt_deg, std::uint64_t seed) {
    const cv::Scalar light = light_of(body, seen_at(burn.surface, tilt_deg));
    const double scatters = burn.surface.scatters;
    std::uint64_t index = seed;
    for (const RectMm& r : burn.hatch) {
        const cv::Rect box = pixels(r) & cv::Rect(0, 0, s.colour.cols, s.colour.rows);
        if (box.area() == 0)
            continue;
        const cv::Mat texture = 1 + burn.surface.texture * 1.7 * mottle(box.size(), 9, 9, ++index);
        cv::Mat planes[3], merged;
        for (int c = 0; c < 3; ++c)
            planes[c] = texture * light[c];
        cv::merge(planes, 3, merged);
        merged.copyTo(s.colour(box));
        s.scatters(box).setTo(scatters);
    }
    for (const auto& stroke : burn.strokes)
        for (std::size_t i = 1; i < stroke.size(); ++i) {
            const auto at = [](const PointMm& p) {
                return cv::Point(static_cast<int>(std::lround((p.x + rim_mm) * scale * 16)),
                                 static_cast<int>(std::lround((p.y + rim_mm) * scale * 16)));
            };
            const int width = std::max(1, static_cast<int>(std::lround(burn.line_mm * scale)));
            cv::line(s.colour, at(stroke[i - 1]), at(stroke[i]), light, width, cv::LINE_8, 4);
            cv::line(s.scatters, at(stroke[i - 1]), at(stroke[i]), cv::Scalar(scatters), width, cv::LINE_8, 4);
        }
}

Scenery scenery(const Plate& plate, const CameraBody& body, const Shot& shot, Chance& chance) {
    const cv::Size size(static_cast<int>((plate.width_mm + 2 * rim_mm) * scale),
                        static_cast<int>((plate.height_mm + 2 * rim_mm) * scale));
    Scenery s{cv::Mat(size, CV_32FC3, light_of(body, seen_at(plate.bare, shot.tilt_deg))),
              cv::Mat(size, CV_32F, cv::Scalar(plate.bare.scatters))};
    // Grain of the stock runs one way.
    const double coarse = body.grade == Grade::friendly ? 0.006 : 0.015;
    const cv::Mat grain = 1 + coarse * mottle(size, body.grade == Grade::friendly ? 3 : 40, 3, shot.seed + 77);
    cv::Mat three;
    cv::merge(std::array<cv::Mat, 3>{grain, grain, grain}.data(), 3, three);
    s.colour = s.colour.mul(three);
    std::uint64_t index = shot.seed * 131;
    for (const Burn& burn : plate.burns)
        paint(s, body, burn, shot.tilt_deg, index += 17);
    const cv::Rect whole(0, 0, size.width, size.height);
    const auto lay = [&](const std::optional<RectMm>& where, const Reflectance& surface) {
        if (!where)
            return;
        s.colour(pixels(*where) & whole).setTo(light_of(body, surface));
        s.scatters(pixels(*where) & whole).setTo(cv::Scalar(1));
    };
    // Cards get dirty, a little more each time.
    const double dirt = body.grade == Grade::friendly ? 0 : body.grade == Grade::honest ? 0.2 : 0.8;
    lay(shot.white_card,
        card_of({body.card[0] - std::abs(chance.bell(dirt)), body.card[1], body.card[2] + chance.bell(dirt)}));
    lay(shot.covered, plain_reflectance({0.05, 0.07, 0.11}));
    return s;
}

struct Spot {
    double x, y, rx, ry, strength;
    [[nodiscard]] double at(double u, double v) const {
        const double q = (u - x) * (u - x) / (rx * rx) + (v - y) * (v - y) / (ry * ry);
        return q < 18 ? strength * std::exp(-q) : 0;
    }
};

/// Light that scatters from a surface, the room that is mirrored in it, lamps that are mirrored, and shadows.
void illuminate(Scenery& s, const CameraBody& body, const Shot& shot, Chance& chance) {
    const double d = shot.disturbed ? 1 : 0;
    const bool friendly = body.grade == Grade::friendly, hard = body.grade == Grade::hard;
    const double reach = hard ? 0.4 : 0.22;
    const auto slope = [&](double most) { return d * chance.even(-most, most); };
    const std::array<double, 2> lamp{slope(reach), slope(reach)};
    const double fall = d * chance.even(0.05, 0.22);
    const std::array<double, 3> tint{1 + slope(0.08), 1.0, 1 + slope(0.10)};
    // A second lamp of another colour from another side.
    const double two = friendly ? 0 : hard ? 0.3 : 0.12;
    const std::array<double, 3> other{slope(0.10 * two / 0.12), slope(0.03), slope(0.12 * two / 0.12)};
    const double turn = chance.even(0, 2 * std::numbers::pi);
    // What the metal mirrors is not what lights the card.
    const double sheen = friendly ? 0 : hard ? 0.15 : 0.06;
    const std::array<double, 3> mirrored{slope(sheen), slope(sheen), slope(0.5 * sheen)};
    int lamps = shot.glares;
    if (lamps < 0)
        lamps = !shot.disturbed ? 0 : hard ? static_cast<int>(chance.even(0, 3)) : chance.even(0, 1) < 0.5 ? 1 : 2;
    std::vector<Spot> glares, shadows;
    for (int i = 0; i < lamps; ++i) {
        const double r = chance.even(0.04, hard ? 0.25 : 0.08);
        glares.push_back(
            {chance.even(-0.8, 0.8), chance.even(-0.8, 0.8), r, r * chance.even(0.7, 1.4), chance.even(0.3, 1.2)});
    }
    const double shaded = friendly ? 0 : hard ? 0.4 : 0.1;
    if (d > 0 && chance.even(0, 1) < shaded)
        shadows.push_back({chance.even(-1.1, 1.1), chance.even(-1.1, 1.1), chance.even(0.3, 0.8), chance.even(0.3, 0.8),
                           chance.even(0.15, hard ? 0.75 : 0.4)});
    const double brightest =
        (1 + std::abs(lamp[0]) + std::abs(lamp[1])) * (1 + two) * std::max({tint[0], tint[1], tint[2]}) * 1.04;
    const double exposure = 0.93 / brightest * shot.exposure;
    for (int y = 0; y < s.colour.rows; ++y)
        for (int x = 0; x < s.colour.cols; ++x) {
            const double u = 2.0 * x / s.colour.cols - 1, v = 2.0 * y / s.colour.rows - 1;
            const double light = exposure * (1 + lamp[0] * u + lamp[1] * v) * (1 - fall * (u * u + v * v));
            const double side = 0.5 * (1 + std::cos(turn) * u + std::sin(turn) * v);
            double glare = 0, shade = 1;
            for (const Spot& g : glares)
                glare += shot.exposure * g.at(u, v);
            for (const Spot& k : shadows)
                shade *= 1 - k.at(u, v);
            const float scatter = s.scatters.at<float>(y, x);
            const double room = 1 + (1 - scatter) * (mirrored[0] * u + mirrored[1] * v + mirrored[2]);
            const double shine = glare * (0.15 + 0.85 * (1 - 0.7 * scatter));
            auto& p = s.colour.at<cv::Vec3f>(y, x);
            for (int c = 0; c < 3; ++c) {
                const auto k = static_cast<std::size_t>(c);
                p[c] = static_cast<float>(p[c] * light * tint[k] * (1 + other[k] * side) * room * shade + shine);
            }
        }
}

/// Seen through the lens from where the camera is held.
cv::Mat place(const cv::Mat& surface, const CameraBody& body, const Shot& shot, Chance& chance) {
    const double d = shot.disturbed ? 1 : 0;
    const double w = surface.cols, h = surface.rows;
    const double turn = d * chance.even(-14, 14) * std::numbers::pi / 180 + shot.quarter_turns * std::numbers::pi / 2;
    const double bw = std::abs(w * std::cos(turn)) + std::abs(h * std::sin(turn));
    const double bh = std::abs(w * std::sin(turn)) + std::abs(h * std::cos(turn));
    const double zoom = 0.88 * std::min(shot.width_px / bw, shot.height_px / bh);
    const double lean = body.grade == Grade::hard ? 0.5 : 0.18, toward = chance.even(0, 2 * std::numbers::pi);
    const double amount = d * chance.even(0, lean);
    std::vector<cv::Point2f> from, to;
    for (const auto& [sx, sy] : {std::pair{-1.0, -1.0}, {1.0, -1.0}, {1.0, 1.0}, {-1.0, 1.0}}) {
        from.emplace_back(static_cast<float>(0.5 * w * (1 + sx)), static_cast<float>(0.5 * h * (1 + sy)));
        // Tilted, it looks shorter, and its far edge smaller.
        const double tilt = shot.tilt_deg * std::numbers::pi / 180;
        const double away = 1 - 0.12 * std::sin(tilt) * sy;
        const double x = 0.5 * w * sx / away, y = 0.5 * h * sy * std::cos(tilt) / away;
        // Far corners shrink, near ones stay as they are.
        const double depth = 1 + amount * 0.5 * (1 + sx * std::cos(toward) / 1.4 + sy * std::sin(toward) / 1.4);
        to.emplace_back(
            static_cast<float>(shot.width_px / 2.0 + zoom / depth * (std::cos(turn) * x - std::sin(turn) * y)),
            static_cast<float>(shot.height_px / 2.0 + zoom / depth * (std::sin(turn) * x + std::cos(turn) * y)));
    }
    const cv::Mat back = cv::getPerspectiveTransform(to, from);
    cv::Mat map(shot.height_px, shot.width_px, CV_32FC2);
    const double half = 0.5 * std::hypot(shot.width_px, shot.height_px);
    for (int y = 0; y < map.rows; ++y)
        for (int x = 0; x < map.cols; ++x) {
            const double u = (x - map.cols / 2.0) / half, v = (y - map.rows / 2.0) / half;
            const double k = 1 + body.barrel * (u * u + v * v);
            const double px = map.cols / 2.0 + u * k * half, py = map.rows / 2.0 + v * k * half;
            const double z = back.at<double>(2, 0) * px + back.at<double>(2, 1) * py + back.at<double>(2, 2);
            map.at<cv::Vec2f>(y, x) = {
                static_cast<float>((back.at<double>(0, 0) * px + back.at<double>(0, 1) * py + back.at<double>(0, 2)) /
                                   z),
                static_cast<float>((back.at<double>(1, 0) * px + back.at<double>(1, 1) * py + back.at<double>(1, 2)) /
                                   z)};
        }
    // Smooth first, so that shrinking does not alias.
    cv::Mat soft, out;
    cv::GaussianBlur(surface, soft, {}, std::max(0.4, 0.45 / zoom));
    cv::remap(soft, out, map, {}, cv::INTER_LINEAR, cv::BORDER_CONSTANT, cv::Scalar(0.035, 0.035, 0.038));
    if (shot.blur_px > 0)
        cv::GaussianBlur(out, out, {}, shot.blur_px);
    return out;
}

double tone(double linear, double contrast) {
    const double l = std::clamp(linear, 0.0, 1.0);
    const double e = l <= 0.0031308 ? 12.92 * l : 1.055 * std::pow(l, 1 / 2.4) - 0.055;
    // Darker shadows and brighter lights about the middle, black and white kept.
    return e + contrast * e * (1 - e) * (2 * e - 1) * 2;
}

/// Tone curve by table: a power for every pixel of a picture takes longer than the picture.
class ToneTable {
public:
    explicit ToneTable(double contrast) {
        for (std::size_t i = 0; i < table_.size(); ++i) {
            const double t = static_cast<double>(i) / (static_cast<double>(table_.size()) - 1);
            table_[i] = static_cast<float>(255 * tone(t * t, contrast));
        }
    }
    [[nodiscard]] std::uint8_t operator()(double linear) const {
        const double at = std::sqrt(std::clamp(linear, 0.0, 1.0)) * (static_cast<double>(table_.size()) - 1);
        return static_cast<std::uint8_t>(std::lround(table_[static_cast<std::size_t>(std::lround(at))]));
    }

private:
    std::array<float, 4097> table_{};
};

} // namespace

Photograph photograph(const Plate& plate, const CameraBody& body, const Shot& shot) {
    Chance chance{shot.seed * 7 + 3};
    Scenery plate_seen = scenery(plate, body, shot, chance);
    illuminate(plate_seen, body, shot, chance);
    const cv::Mat seen = place(plate_seen.colour, body, shot, chance);
    Photograph out{{seen.cols, seen.rows, std::vector<std::uint8_t>(static_cast<std::size_t>(seen.total()) * 3)},
                   body.wide,
                   body.jpeg_quality};
    cv::RNG noise(shot.seed * 2654435761u + 1);
    const ToneTable table(body.contrast);
    std::size_t i = 0;
    for (int y = 0; y < seen.rows; ++y)
        for (int x = 0; x < seen.cols; ++x) {
            const double u = 2.0 * x / seen.cols - 1, v = 2.0 * y / seen.rows - 1;
            const double corner = 1 - 0.5 * body.dark_corners * (u * u + v * v);
            const auto& p = seen.at<cv::Vec3f>(y, x);
            for (int c = 0; c < 3; ++c) {
                const double light = std::max(0.0, p[c] * corner);
                out.picture.rgb[i++] = table(light + body.noise * noise.gaussian(0.002 + 0.008 * std::sqrt(light)));
            }
        }
    return out;
}

} // namespace finch::standin
