// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/plate_heat.h"

#include <array>
#include <cmath>
#include <numbers>

namespace finch {
namespace {

constexpr double longest_wait_s = 3600;

} // namespace

PlateHeat::PlateHeat(const HeatPlate& p)
    : width_mm_(p.outline.w), height_mm_(p.outline.h), corner_{p.outline.x, p.outline.y},
      capacity_j_k_(p.capacity_j_m3k * p.outline.w * p.outline.h * p.thickness_mm * 1e-9), decay_(side * side),
      rise_(side * side, 0) {
    const double diffusivity_mm2_s = 1e6 * p.conductivity_w_mk / p.capacity_j_m3k;
    const double loss = p.loss_w_m2k / (p.capacity_j_m3k * 1e-3 * p.thickness_mm);
    for (int m = 0; m < side; ++m)
        for (int n = 0; n < side; ++n) {
            const double kx = std::numbers::pi * m / width_mm_, ky = std::numbers::pi * n / height_mm_;
            decay_[static_cast<std::size_t>(m * side + n)] = diffusivity_mm2_s * (kx * kx + ky * ky) + loss;
        }
}

PlateHeat::Waves PlateHeat::waves(std::span<const PointMm> points, double part_mm) const {
    Waves out(side * side, 0);
    // What a point stands for evens out short waves.
    const auto even = [&](int m, double length) {
        const double a = 0.5 * std::numbers::pi * m * part_mm / length;
        return a < 1e-9 ? 1 : a > std::numbers::pi ? 0 : std::sin(a) / a;
    };
    std::array<double, side> x{}, y{};
    for (const PointMm& p : points) {
        for (int m = 0; m < side; ++m) {
            x[static_cast<std::size_t>(m)] =
                std::cos(std::numbers::pi * m * (p.x - corner_.x) / width_mm_) * even(m, width_mm_);
            y[static_cast<std::size_t>(m)] =
                std::cos(std::numbers::pi * m * (p.y - corner_.y) / height_mm_) * even(m, height_mm_);
        }
        for (std::size_t m = 0; m < side; ++m)
            for (std::size_t n = 0; n < side; ++n)
                out[m * side + n] += x[m] * y[n] / static_cast<double>(points.size());
    }
    return out;
}

void PlateHeat::wait(double seconds) {
    for (std::size_t i = 0; i < rise_.size(); ++i)
        rise_[i] *= std::exp(-decay_[i] * seconds);
}

PlateHeat::Heating PlateHeat::heating(const Waves& place, double watts, double seconds) const {
    Heating out{Waves(rise_.size()), Waves(rise_.size())};
    for (std::size_t m = 0; m < side; ++m)
        for (std::size_t n = 0; n < side; ++n) {
            const std::size_t i = m * side + n;
            out.left[i] = std::exp(-decay_[i] * seconds);
            // The mean of a wave's square is 1, 1/2 or 1/4.
            const double size = (m > 0 ? 2 : 1) * (n > 0 ? 2 : 1);
            const double kept_s = decay_[i] > 0 ? (1 - out.left[i]) / decay_[i] : seconds;
            out.added[i] = size * watts / capacity_j_k_ * place[i] * kept_s;
        }
    return out;
}

void PlateHeat::heat(const Heating& h) {
    for (std::size_t i = 0; i < rise_.size(); ++i)
        rise_[i] = rise_[i] * h.left[i] + h.added[i];
}

double PlateHeat::rise_k(const Waves& place) const {
    double k = 0;
    for (std::size_t i = 0; i < rise_.size(); ++i)
        k += rise_[i] * place[i];
    return k;
}

double PlateHeat::wait_until_s(const Waves& place, double rise_k) const {
    const auto after = [&](double s) {
        double k = 0;
        for (std::size_t i = 0; i < rise_.size(); ++i)
            k += rise_[i] * place[i] * std::exp(-decay_[i] * s);
        return k;
    };
    if (after(0) <= rise_k)
        return 0;
    double low = 0, high = 0.05;
    while (after(high) > rise_k) {
        low = high;
        if ((high *= 1.5) > longest_wait_s)
            return longest_wait_s;
    }
    for (int i = 0; i < 30; ++i) {
        const double middle = 0.5 * (low + high);
        (after(middle) > rise_k ? low : high) = middle;
    }
    return high;
}

} // namespace finch
