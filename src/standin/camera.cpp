// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/camera.h"

#include "physics/colour.h"

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

cv::Scalar light_of(const Lab& lab) {
    const auto rgb = to_linear_rgb(to_xyz(lab));
    return {std::max(0.0, rgb[0]), std::max(0.0, rgb[1]), std::max(0.0, rgb[2])};
}

cv::Rect pixels(const RectMm& r) {
    const auto p = [](double v) { return static_cast<int>(std::lround((v + rim_mm) * scale)); };
    return {p(r.x), p(r.y), p(r.x + r.w) - p(r.x), p(r.y + r.h) - p(r.y)};
}

double noise_at(std::uint64_t seed, int x, int y) {
    return 2 * unit_random(seed, static_cast<std::uint64_t>(x) * 1000003u + static_cast<std::uint64_t>(y)) - 1;
}

/// Smooth mottle: random values on a coarse lattice, joined linearly, with a mean near zero.
cv::Mat mottle(cv::Size size, double step, std::uint64_t seed) {
    const cv::Size coarse(std::max(2, static_cast<int>(size.width / step)),
                          std::max(2, static_cast<int>(size.height / step)));
    cv::Mat small(coarse, CV_32F), large;
    for (int y = 0; y < coarse.height; ++y)
        for (int x = 0; x < coarse.width; ++x)
            small.at<float>(y, x) = static_cast<float>(noise_at(seed, x, y));
    cv::resize(small, large, size, 0, 0, cv::INTER_LINEAR);
    return large - cv::mean(large)[0];
}

void paint(cv::Mat& surface, const Burn& burn, std::uint64_t seed) {
    std::uint64_t index = seed;
    for (const RectMm& r : burn.hatch) {
        const cv::Rect box = pixels(r) & cv::Rect(0, 0, surface.cols, surface.rows);
        if (box.area() == 0)
            continue;
        const cv::Mat texture = 1 + burn.texture * 1.7 * mottle(box.size(), 9, ++index);
        cv::Mat planes[3];
        const cv::Scalar light = light_of(burn.lab);
        for (int c = 0; c < 3; ++c)
            planes[c] = texture * light[c];
        cv::Mat merged;
        cv::merge(planes, 3, merged);
        merged.copyTo(surface(box));
    }
    for (const auto& stroke : burn.strokes)
        for (std::size_t i = 1; i < stroke.size(); ++i) {
            const auto at = [](const PointMm& p) {
                return cv::Point(static_cast<int>(std::lround((p.x + rim_mm) * scale * 16)),
                                 static_cast<int>(std::lround((p.y + rim_mm) * scale * 16)));
            };
            cv::line(surface, at(stroke[i - 1]), at(stroke[i]), light_of(burn.lab),
                     std::max(1, static_cast<int>(std::lround(burn.line_mm * scale))), cv::LINE_8, 4);
        }
}

cv::Mat plate_surface(const Plate& plate, const Shot& shot) {
    const cv::Size size(static_cast<int>((plate.width_mm + 2 * rim_mm) * scale),
                        static_cast<int>((plate.height_mm + 2 * rim_mm) * scale));
    cv::Mat surface(size, CV_32FC3, light_of(plate.bare));
    const cv::Mat grain = 1 + 0.006 * mottle(size, 3, shot.seed + 77);
    cv::Mat three;
    cv::merge(std::array<cv::Mat, 3>{grain, grain, grain}.data(), 3, three);
    surface = surface.mul(three);
    std::uint64_t index = shot.seed * 131;
    for (const Burn& burn : plate.burns)
        paint(surface, burn, index += 17);
    const cv::Rect whole(0, 0, surface.cols, surface.rows);
    if (shot.white_card)
        surface(pixels(*shot.white_card) & whole).setTo(light_of({95, 0, 2}));
    if (shot.covered)
        surface(pixels(*shot.covered) & whole).setTo(cv::Scalar(0.10, 0.07, 0.05));
    return surface;
}

struct Random {
    std::uint64_t seed, index = 100;
    double operator()(double low, double high) { return low + (high - low) * unit_random(seed, ++index); }
};

/// The light on the plate: a slope, a fall-off to the sides, a tint, and lamps mirrored in the metal.
void illuminate(cv::Mat& surface, const Shot& shot, Random& random) {
    const double d = shot.disturbed ? 1 : 0;
    const double gx = d * random(-0.22, 0.22), gy = d * random(-0.22, 0.22), fall = d * random(0.05, 0.22);
    const std::array<double, 3> tint{1 + d * random(-0.08, 0.08), 1.0, 1 + d * random(-0.10, 0.10)};
    const int lamps = shot.glares >= 0 ? shot.glares : shot.disturbed ? (random(0, 1) < 0.5 ? 1 : 2) : 0;
    struct Lamp {
        double x, y, r, strength;
    };
    std::vector<Lamp> mirrored;
    for (int i = 0; i < lamps; ++i)
        mirrored.push_back({random(-0.6, 0.6), random(-0.5, 0.5), random(0.04, 0.08), random(0.3, 1.2)});
    const double brightest = (1 + std::abs(gx) + std::abs(gy)) * std::max({tint[0], tint[1], tint[2]});
    const double exposure = 0.93 / brightest * shot.exposure;
    for (int y = 0; y < surface.rows; ++y)
        for (int x = 0; x < surface.cols; ++x) {
            const double u = 2.0 * x / surface.cols - 1, v = 2.0 * y / surface.rows - 1;
            const double light = exposure * (1 + gx * u + gy * v) * (1 - fall * (u * u + v * v));
            double glare = 0;
            for (const Lamp& lamp : mirrored) {
                const double q = ((u - lamp.x) * (u - lamp.x) + (v - lamp.y) * (v - lamp.y)) / (lamp.r * lamp.r);
                if (q < 18)
                    glare += lamp.strength * shot.exposure * std::exp(-q);
            }
            auto& p = surface.at<cv::Vec3f>(y, x);
            for (int c = 0; c < 3; ++c)
                p[c] = static_cast<float>(p[c] * light * tint[static_cast<std::size_t>(c)] + glare);
        }
}

cv::Mat place(const cv::Mat& surface, const Shot& shot, Random& random) {
    const double d = shot.disturbed ? 1 : 0;
    const double w = surface.cols, h = surface.rows;
    const double turn = d * random(-14, 14) * std::numbers::pi / 180 + shot.quarter_turns * std::numbers::pi / 2;
    const double bw = std::abs(w * std::cos(turn)) + std::abs(h * std::sin(turn));
    const double bh = std::abs(w * std::sin(turn)) + std::abs(h * std::cos(turn));
    const double zoom = 0.90 * std::min(shot.width_px / bw, shot.height_px / bh);
    std::vector<cv::Point2f> from{
        {0, 0}, {static_cast<float>(w), 0}, {static_cast<float>(w), static_cast<float>(h)}, {0, static_cast<float>(h)}},
        to;
    for (const auto& p : from) {
        const double x = p.x - w / 2, y = p.y - h / 2;
        const double jx = d * random(-0.03, 0.03) * w, jy = d * random(-0.03, 0.03) * h;
        to.emplace_back(
            static_cast<float>(shot.width_px / 2.0 + zoom * (std::cos(turn) * x - std::sin(turn) * y + jx)),
            static_cast<float>(shot.height_px / 2.0 + zoom * (std::sin(turn) * x + std::cos(turn) * y + jy)));
    }
    // Smooth first, so that shrinking does not alias, then warp.
    cv::Mat soft, out;
    const double shrink = 1 / zoom;
    cv::GaussianBlur(surface, soft, {}, std::max(0.4, 0.45 * shrink));
    cv::warpPerspective(soft, out, cv::getPerspectiveTransform(from, to), {shot.width_px, shot.height_px},
                        cv::INTER_LINEAR, cv::BORDER_CONSTANT, cv::Scalar(0.035, 0.035, 0.038));
    if (shot.blur_px > 0)
        cv::GaussianBlur(out, out, {}, shot.blur_px);
    return out;
}

} // namespace

Picture photograph(const Plate& plate, const Shot& shot) {
    Random random{shot.seed};
    cv::Mat surface = plate_surface(plate, shot);
    illuminate(surface, shot, random);
    const cv::Mat seen = place(surface, shot, random);
    Picture out{seen.cols, seen.rows, std::vector<std::uint8_t>(static_cast<std::size_t>(seen.total()) * 3)};
    cv::RNG noise(shot.seed * 2654435761u + 1);
    // The three channels of a camera see a little of each other's light.
    const double leak = shot.disturbed ? random(0, 0.012) : 0;
    std::size_t i = 0;
    for (int y = 0; y < seen.rows; ++y)
        for (int x = 0; x < seen.cols; ++x)
            for (int c = 0; c < 3; ++c) {
                const auto& p = seen.at<cv::Vec3f>(y, x);
                const double light = std::max(0.0, (1 - 3 * leak) * p[c] + leak * (p[0] + p[1] + p[2]));
                const double noisy = light + noise.gaussian(0.002 + 0.008 * std::sqrt(light));
                out.rgb[i++] = srgb_byte(noisy);
            }
    return out;
}

} // namespace finch::standin
