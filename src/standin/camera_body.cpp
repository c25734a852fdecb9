// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/camera.h"
#include "standin/chance.h"
#include "standin/instrument.h"

#include <algorithm>
#include <cmath>
#include <opencv2/core.hpp>

namespace finch::standin {
namespace {

// Rows: from X, Y, Z of daylight to the linear primaries of a picture.
constexpr std::array<double, 9> to_narrow{3.2406, -1.5372, -0.4986, -0.9689, 1.8758, 0.0415, 0.0557, -0.2040, 1.0570};
constexpr std::array<double, 9> to_wide{2.4935, -0.9314, -0.4027, -0.8295, 1.7627, 0.0236, 0.0358, -0.0762, 0.9569};

Reflectance lobe(double middle, double width, double leak) {
    Reflectance r{};
    for (std::size_t i = 0; i < bands; ++i) {
        const double t = (band_nm(i) - middle) / width;
        r[i] = std::exp(-0.5 * t * t) + leak;
    }
    return r;
}

std::array<double, 3> through_pixels(const CameraBody& body, const Reflectance& surface) {
    std::array<double, 3> out{};
    for (std::size_t c = 0; c < 3; ++c) {
        double white = 0;
        for (std::size_t i = 0; i < bands; ++i) {
            out[c] += body.curves[c][i] * daylight()[i] * surface[i];
            white += body.curves[c][i] * daylight()[i];
        }
        out[c] /= white;
    }
    return out;
}

/// What its maker would have done: the matrix that suits a set of smooth surfaces best, white kept white.
void fit_matrix(CameraBody& body, Chance& chance) {
    const auto& space = body.wide ? to_wide : to_narrow;
    constexpr int surfaces = 60;
    cv::Mat seen(surfaces, 3, CV_64F), wanted(surfaces, 3, CV_64F);
    for (int s = 0; s < surfaces; ++s) {
        const double middle = chance.even(380, 780), width = chance.even(40, 160), low = chance.even(0.02, 0.4),
                     high = chance.even(0.05, 0.6);
        Reflectance surface = lobe(middle, width, 0);
        for (double& v : surface)
            v = low + high * v;
        Reflectance light = daylight();
        for (std::size_t i = 0; i < bands; ++i)
            light[i] *= s == 0 ? 1 : surface[i];
        const auto xyz = tristimulus(light, daylight());
        const auto rgb = through_pixels(body, s == 0 ? plain_reflectance({1, 1, 1}) : surface);
        const double weight = s == 0 ? 30 : 1 / (0.1 + xyz[1]); // white is kept white; dark ones count as much
        for (int c = 0; c < 3; ++c) {
            seen.at<double>(s, c) = weight * rgb[static_cast<std::size_t>(c)];
            double sum = 0;
            for (int k = 0; k < 3; ++k)
                sum += space[static_cast<std::size_t>(3 * c + k)] * xyz[static_cast<std::size_t>(k)];
            wanted.at<double>(s, c) = weight * sum;
        }
    }
    cv::Mat m;
    cv::solve(seen, wanted, m, cv::DECOMP_SVD);
    for (int r = 0; r < 3; ++r)
        for (int c = 0; c < 3; ++c)
            body.matrix[static_cast<std::size_t>(r)][static_cast<std::size_t>(c)] = m.at<double>(c, r);
}

} // namespace

CameraBody draw_camera(Grade grade, std::uint64_t seed) {
    CameraBody body;
    body.grade = grade;
    Chance chance{seed * 5 + 11 + static_cast<std::uint64_t>(grade)};
    const double far = grade == Grade::friendly ? 0.2 : grade == Grade::honest ? 1 : 1.6;
    const double leak = grade == Grade::friendly ? 0 : 0.01;
    body.curves = {lobe(598 + chance.bell(3 * far), 36 + chance.bell(1.5 * far), leak),
                   lobe(543 + chance.bell(3 * far), 41 + chance.bell(1.5 * far), leak),
                   lobe(455 + chance.bell(3 * far), 27 + chance.bell(1.5 * far), leak)};
    body.wide = grade != Grade::friendly && chance.even(0, 1) < 0.4;
    fit_matrix(body, chance);
    // Its maker liked colours a little more, or less, lively; white stays white.
    const double lively = grade == Grade::friendly ? 0 : chance.even(-0.03, 0.06) * far;
    for (std::size_t r = 0; r < 3; ++r)
        for (std::size_t c = 0; c < 3; ++c)
            body.matrix[r][c] += lively * (r == c ? 0.67 : -0.33);
    body.contrast = grade == Grade::friendly ? 0 : chance.even(0, 0.10) * far;
    body.barrel = grade == Grade::friendly ? 0 : chance.even(-0.04, 0.02) * far;
    body.dark_corners = grade == Grade::friendly ? 0.05 : chance.even(0.05, 0.25) * far;
    body.noise = grade == Grade::hard ? 1.8 : 1;
    body.jpeg_quality =
        grade == Grade::friendly ? 0 : static_cast<int>(chance.even(grade == Grade::hard ? 70 : 86, 96));
    const double off = grade == Grade::friendly ? 0 : grade == Grade::honest ? 0.5 : 1.2;
    body.card = {95 + chance.bell(off), chance.bell(0.4 * off), 2 + chance.bell(off)};
    return body;
}

} // namespace finch::standin
