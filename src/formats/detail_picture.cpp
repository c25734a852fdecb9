// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/detail_picture.h"

#include "formats/file_out.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <QDir>

namespace finch {

namespace {

/// Of the spot. Half as wide cannot stand; four times as wide must.
constexpr std::array shares{0.5, 0.7, 1.0, 1.4, 2.0, 2.8, 4.0};
constexpr int bars = 5, squares = 5;
constexpr double rim_mm = 2, high_mm = 4, apart_mm = 1.5, number_mm = 1.6, least_column_mm = 6;

/// A box of a path, y down.
std::string box(double x, double y, double w, double h) {
    return fmt::format("M{:.6g} {:.6g}h{:.6g}v{:.6g}h{:.6g}z", x, y, w, h, -w);
}

} // namespace

std::vector<double> detail_widths_mm(double spot_mm) {
    std::vector<double> out;
    for (const double share : shares)
        out.push_back(1e-3 * std::max(1.0, std::round(1e3 * share * spot_mm))); // whole µm, as they are written
    return out;
}

Expected<std::string> detail_picture(double spot_mm) {
    if (!(spot_mm >= 0.001 && spot_mm <= 1))
        return failure("detail.spot", "A picture of fine detail is made for a spot of 1 µm to 1 mm.",
                       "Give the spot of the lens in mm.");
    std::string patterns, numbers;
    double x = rim_mm;
    double squares_high = 0;
    const auto widths = detail_widths_mm(spot_mm);
    for (const double w : widths)
        squares_high = std::max(squares_high, (2 * squares - 1) * w);
    const double slits_y = rim_mm + high_mm + apart_mm, squares_y = slits_y + high_mm + apart_mm,
                 numbers_y = squares_y + squares_high + apart_mm + number_mm;
    for (const double w : widths) {
        const double column = std::max(least_column_mm, (2 * bars + 3) * w);
        std::string path;
        for (int i = 0; i < bars; ++i)
            path += box(x + 2 * i * w, rim_mm, w, high_mm);
        // Slits have metal that is marked all round them.
        path += box(x, slits_y, (2 * bars + 1) * w, high_mm);
        for (int i = 0; i < bars; ++i)
            path += box(x + (2 * i + 1) * w, slits_y + 0.5, w, high_mm - 1);
        for (int i = 0; i < squares; ++i)
            for (int k = 0; k < squares; ++k)
                path += box(x + 2 * i * w, squares_y + 2 * k * w, w, w);
        patterns += fmt::format("<path id=\"d{0:.0f}\" d=\"{1}\"/>\n", 1e3 * w, path);
        numbers += fmt::format("<text x=\"{:.6g}\" y=\"{:.6g}\">{:.0f}</text>\n", x, numbers_y, 1e3 * w);
        x += column + apart_mm;
    }
    const double width = x - apart_mm + rim_mm, height = numbers_y + rim_mm;
    return fmt::format(
        "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n"
        "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{0:.6g}mm\" height=\"{1:.6g}mm\" "
        "viewBox=\"0 0 {0:.6g} {1:.6g}\">\n"
        "<title>Fine detail, widths in micrometres</title>\n"
        "<g id=\"patterns\" fill=\"#000000\" fill-rule=\"evenodd\">\n{2}</g>\n"
        "<g id=\"numbers\" fill=\"#404040\" font-family=\"IBM Plex Sans\" font-size=\"{3:.6g}\">\n{4}</g>\n"
        "</svg>\n",
        width, height, patterns, 1.4 * number_mm, numbers);
}

Expected<QString> detail_file(const QString& folder, double spot_mm) {
    return detail_picture(spot_mm).and_then([&](const std::string& svg) {
        QDir().mkpath(folder); // where that cannot be, writing says so
        const QString path = QDir(folder).filePath(QStringLiteral("detail-%1.svg").arg(std::lround(1e3 * spot_mm)));
        return write_file(path, svg).map([&] { return path; });
    });
}

} // namespace finch
