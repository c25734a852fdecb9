// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/height_map.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>

namespace finch {
namespace {

/// Gaussian blur with the edge repeated, rows then columns of the kernel.
std::vector<double> blurred(const std::vector<double>& v, int width, int height, double sigma) {
    const int r = static_cast<int>(std::ceil(3 * sigma));
    std::vector<double> kernel;
    for (int i = -r; i <= r; ++i)
        kernel.push_back(std::exp(-0.5 * (i / sigma) * (i / sigma)));
    const double sum = std::accumulate(kernel.begin(), kernel.end(), 0.0);
    const auto along = [&](const std::vector<double>& in, bool rows) {
        std::vector<double> out(in.size(), 0);
        for (int y = 0; y < height; ++y)
            for (int x = 0; x < width; ++x) {
                double s = 0;
                for (int i = -r; i <= r; ++i) {
                    const int px = rows ? std::clamp(x + i, 0, width - 1) : x;
                    const int py = rows ? y : std::clamp(y + i, 0, height - 1);
                    s += kernel[static_cast<std::size_t>(i + r)] / sum *
                         in[static_cast<std::size_t>(py) * static_cast<std::size_t>(width) +
                            static_cast<std::size_t>(px)];
                }
                out[static_cast<std::size_t>(y) * static_cast<std::size_t>(width) + static_cast<std::size_t>(x)] = s;
            }
        return out;
    };
    return along(along(v, true), false);
}

} // namespace

Expected<std::vector<int>> layer_counts(const HeightMap& map, const LevelRules& r) {
    if ((map.bits != 8 && map.bits != 16) || r.layers < 1 || r.layers > most_relief_layers)
        return failure("relief.bits", "A height map has 8 or 16 bits, and a relief 1 to 4096 layers.",
                       "Save the picture with 8 or 16 bits of grey.");
    if (!(r.black < r.white && r.gamma > 0))
        return failure("relief.levels", "The black point must lie below the white point, and gamma above 0.",
                       "Move the points apart.");
    const double full = map.white();
    const auto count = [&](double x) {
        const double level = std::pow(std::clamp((x - r.black) / (r.white - r.black), 0.0, 1.0), r.gamma);
        return static_cast<int>(std::floor((r.invert ? level : 1 - level) * r.layers + 0.5));
    };
    std::vector<int> out;
    out.reserve(map.grey.size());
    if (r.sharpen == 0 || !(r.sharpen_px > 0)) {
        // There are fewer greys than pixels.
        std::vector<int> of_grey;
        for (int g = 0; g <= static_cast<int>(full); ++g)
            of_grey.push_back(count(g / full));
        for (const unsigned short g : map.grey)
            out.push_back(of_grey[std::min<std::size_t>(g, of_grey.size() - 1)]);
        return out;
    }
    std::vector<double> v;
    v.reserve(map.grey.size());
    for (const unsigned short g : map.grey)
        v.push_back(g / full);
    const auto soft = blurred(v, map.width, map.height, r.sharpen_px);
    for (std::size_t i = 0; i < v.size(); ++i)
        out.push_back(count(v[i] + r.sharpen * (v[i] - soft[i])));
    return out;
}

std::optional<Rim> found_rim(const HeightMap& m) {
    if (m.width < 3 || m.height < 3)
        return std::nullopt;
    const auto at = [&](int x, int y) {
        return m.grey[static_cast<std::size_t>(y) * static_cast<std::size_t>(m.width) + static_cast<std::size_t>(x)];
    };
    std::vector<unsigned short> border;
    for (int x = 0; x < m.width; ++x)
        border.insert(border.end(), {at(x, 0), at(x, m.height - 1)});
    for (int y = 0; y < m.height; ++y)
        border.insert(border.end(), {at(0, y), at(m.width - 1, y)});
    std::ranges::sort(border);
    const double even = 0.02 * m.white();
    const unsigned short ground = border[border.size() / 2];
    // A rim may touch the border here and there.
    if (border[border.size() * 9 / 10] - border[border.size() / 10] > even)
        return std::nullopt;
    int left = m.width, right = -1, top = m.height, bottom = -1;
    for (int y = 0; y < m.height; ++y)
        for (int x = 0; x < m.width; ++x)
            if (std::abs(at(x, y) - ground) > even) {
                left = std::min(left, x), right = std::max(right, x);
                top = std::min(top, y), bottom = std::max(bottom, y);
            }
    if (right < left)
        return std::nullopt;
    return Rim{0.5 * (left + right + 1), 0.5 * (top + bottom + 1), 0.5 * (right + 1 - left), 0.5 * (bottom + 1 - top)};
}

void crop(std::vector<int>& counts, int width, const Rim& rim) {
    const auto w = static_cast<std::size_t>(width);
    for (std::size_t row = 0; row < counts.size() / w; ++row)
        for (std::size_t column = 0; column < w; ++column) {
            const double x = (static_cast<double>(column) + 0.5 - rim.x) / rim.radius_x,
                         y = (static_cast<double>(row) + 0.5 - rim.y) / rim.radius_y;
            if (x * x + y * y > 1)
                counts[row * w + column] = 0;
        }
}

GreyUse grey_use(const HeightMap& m) {
    GreyUse out;
    std::vector<std::size_t> of_grey(static_cast<std::size_t>(m.white()) + 1, 0);
    for (const unsigned short g : m.grey)
        ++of_grey[std::min<std::size_t>(g, of_grey.size() - 1)];
    const double all = std::max<double>(1, static_cast<double>(m.grey.size()));
    double below = 0;
    bool begun = false, ended = false;
    for (std::size_t g = 0; g < of_grey.size(); ++g) {
        if (of_grey[g] == 0)
            continue;
        ++out.greys;
        const double share = static_cast<double>(of_grey[g]) / all, place = static_cast<double>(g) / m.white();
        out.share.at(std::min<std::size_t>(GreyUse::bins - 1, g * GreyUse::bins / of_grey.size())) += share;
        below += share;
        if (!begun && below > 0.001)
            out.darkest = place, begun = true;
        if (!ended && below >= 0.999)
            out.lightest = place, ended = true;
    }
    return out;
}

int doubled_layers(const std::vector<int>& counts, int layers) {
    // Layer k cuts what has more than k: it differs from layer k - 1 where a pixel has k.
    std::vector<char> seen(static_cast<std::size_t>(layers) + 1, 0);
    for (const int c : counts)
        seen.at(static_cast<std::size_t>(c)) = 1;
    int out = 0, deepest = layers; // what lies deeper cuts nothing, and costs nothing
    while (deepest > 0 && seen[static_cast<std::size_t>(deepest)] == 0)
        --deepest;
    for (int k = 1; k < deepest; ++k)
        out += seen[static_cast<std::size_t>(k)] != 0 ? 0 : 1;
    return out;
}

Thinnest thinnest(const std::vector<int>& counts, int width, int layer) {
    const auto w = static_cast<std::size_t>(width), h = counts.size() / w;
    // The shortest of four runs through each pixel; those that leave the picture are not ended by it.
    std::vector<float> through(counts.size(), 1e9F);
    const auto sweep = [&](std::size_t from, std::ptrdiff_t step, std::size_t n, float length) {
        const auto at = [&](std::size_t i) {
            return static_cast<std::size_t>(static_cast<std::ptrdiff_t>(from) + static_cast<std::ptrdiff_t>(i) * step);
        };
        for (std::size_t i = 0; i < n;) {
            std::size_t end = i + 1;
            while (end < n && (counts[at(end)] > layer) == (counts[at(i)] > layer))
                ++end;
            if (i > 0 && end < n)
                for (std::size_t k = i; k < end; ++k)
                    through[at(k)] = std::min(through[at(k)], length * static_cast<float>(end - i));
            i = end;
        }
    };
    const auto row = static_cast<std::ptrdiff_t>(w);
    constexpr float diagonal = 1.41421356F;
    for (std::size_t y = 0; y < h; ++y) {
        sweep(y * w, 1, w, 1);
        sweep(y * w, row + 1, std::min(w, h - y), diagonal);
        sweep(y * w + w - 1, row - 1, std::min(w, h - y), diagonal);
    }
    for (std::size_t x = 0; x < w; ++x) {
        sweep(x, row, h, 1);
        if (x > 0)
            sweep(x, row + 1, std::min(w - x, h), diagonal);
        if (x + 1 < w)
            sweep(x, row - 1, std::min(x + 1, h), diagonal);
    }
    std::map<float, std::size_t> walls, gaps;
    for (std::size_t i = 0; i < counts.size(); ++i)
        if (through[i] < 1e8F)
            ++(counts[i] > layer ? gaps : walls)[through[i]];
    const auto low = [&](const std::map<float, std::size_t>& of) {
        std::size_t room = counts.size() / 1000;
        for (const auto& [px, n] : of) {
            if (n > room)
                return static_cast<double>(px);
            room -= n;
        }
        return of.empty() ? 0.0 : static_cast<double>(of.rbegin()->first);
    };
    return {low(walls), low(gaps)};
}

} // namespace finch
