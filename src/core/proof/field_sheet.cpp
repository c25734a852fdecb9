// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/field_sheet.h"

#include "physics/colour_difference.h"
#include "proof/over_field.h"

#include <algorithm>
#include <cmath>
#include <Eigen/Cholesky>
#include <Eigen/Core>
#include <fmt/format.h>
#include <nlohmann/json.hpp>
#include <numbers>

namespace finch {
namespace {

using Eigen::MatrixXd;
using Eigen::VectorXd;

constexpr std::size_t field_columns = 7, field_rows = 7, fewest_read = 20;
constexpr std::array field_doses_ln{-0.09, -0.045, 0.0, 0.045, 0.09};
constexpr Eigen::Index path_terms = 9, field_terms = 5, all_terms = path_terms + field_terms;
/// L*, a* and b* of one reading go astray together, so that three numbers are not three witnesses.
constexpr double together = 1.5;
constexpr double nine_of_ten = 1.645;
constexpr double least_slope = 12; ///< CIEDE2000 for a whole ln of dose: below it dose hardly shows
constexpr std::array nine_places{"upper left corner", "upper edge", "upper right corner",
                                 "left edge",         "middle",     "right edge",
                                 "lower left corner", "lower edge", "lower right corner"};

using Bend = Eigen::Matrix<double, field_terms, 1>;

/// Of the nine_places of the field, in halves of it: nothing in the middle.
Bend bend_at(double u, double v) {
    Bend out;
    out << u, v, u * u, u * v, v * v;
    return out;
}

struct Seen {
    double dose_ln, u, v, weight;
    Lab lab;
};

/// Colour over dose as three parabolas, and dose over the field as a bent plane, fitted together.
struct FieldFit {
    VectorXd at = VectorXd::Zero(all_terms); ///< by channel: value, slope, bend; then the field
    MatrixXd variance;

    [[nodiscard]] double given(double u, double v) const { return at.tail(field_terms).dot(bend_at(u, v)); }
    [[nodiscard]] double spread(double u, double v) const {
        const Bend b = bend_at(u, v);
        const Eigen::Matrix<double, field_terms, field_terms> field =
            variance.bottomRightCorner<field_terms, field_terms>();
        return std::sqrt(std::max(0.0, b.dot(field * b)));
    }
    [[nodiscard]] std::array<double, 3> channels(double d) const {
        std::array<double, 3> out{};
        for (Eigen::Index c = 0; c < 3; ++c)
            out.at(static_cast<std::size_t>(c)) = at(3 * c) + d * at(3 * c + 1) + d * d * at(3 * c + 2);
        return out;
    }
    [[nodiscard]] Lab lab(double d) const {
        const auto c = channels(d);
        return {c[0], c[1], c[2]};
    }
    [[nodiscard]] double slope(Eigen::Index c, double d) const { return at(3 * c + 1) + 2 * d * at(3 * c + 2); }
};

FieldFit fitted_field(const std::vector<Seen>& seen) {
    const auto n = static_cast<Eigen::Index>(seen.size());
    FieldFit fit;
    MatrixXd j(3 * n, all_terms);
    VectorXd rest(3 * n);
    // The first step finds the path, the later ones the field as well: all of it is linear but for their product.
    constexpr int steps = 12;
    constexpr double flat = 1e-4; // keeps the field at nothing where the path has no slope yet
    for (int step = 0; step < steps; ++step) {
        j.setZero();
        for (Eigen::Index i = 0; i < n; ++i) {
            const Seen& s = seen[static_cast<std::size_t>(i)];
            const double d = s.dose_ln + fit.given(s.u, s.v);
            const std::array<double, 3> here = fit.channels(d), read{s.lab.l, s.lab.a, s.lab.b};
            for (Eigen::Index c = 0; c < 3; ++c) {
                const Eigen::Index row = 3 * i + c;
                rest(row) = s.weight * (read.at(static_cast<std::size_t>(c)) - here.at(static_cast<std::size_t>(c)));
                j(row, 3 * c) = s.weight;
                j(row, 3 * c + 1) = s.weight * d;
                j(row, 3 * c + 2) = s.weight * d * d;
                j.row(row).tail(field_terms) = s.weight * fit.slope(c, d) * bend_at(s.u, s.v).transpose();
            }
        }
        MatrixXd normal = j.transpose() * j;
        normal.diagonal().tail(field_terms).array() += flat;
        fit.at += normal.ldlt().solve(j.transpose() * rest);
        fit.at.tail(field_terms) = fit.at.tail(field_terms).cwiseMax(-0.5).cwiseMin(0.5);
        if (step == steps - 1) {
            const double noise =
                rest.squaredNorm() / std::max<double>(1, static_cast<double>(3 * n - all_terms)) * together;
            fit.variance = noise * normal.ldlt().solve(MatrixXd::Identity(all_terms, all_terms));
        }
    }
    return fit;
}

double percent_of(double ln) {
    return 100 * (std::exp(ln) - 1);
}

std::string with_sign(double percent) {
    return fmt::format("{}{:.1f}", percent < 0 ? "\u2212" : "+", std::abs(percent));
}

std::string more_or_less(double percent) {
    return fmt::format("{:.1f} % {} dose", std::abs(percent), percent < 0 ? "less" : "more");
}

std::string words_of(const FieldFinding& f) {
    const FieldPoint& worst = f.nine[f.worst];
    const double low = worst.percent.value - worst.percent.spread, high = worst.percent.value + worst.percent.spread;
    const std::string there =
        fmt::format("At the {} the bench gives {} than in the middle ({} to {} %)", nine_places[f.worst],
                    more_or_less(worst.percent.value), with_sign(low), with_sign(high));
    switch (f.verdict) {
    case FieldVerdict::even:
        return fmt::format("{}: {:.1f} CIEDE2000, within {:.1f} all over {:.0f} by {:.0f} mm.", there, worst.de,
                           f.accept_de, f.width_mm, f.height_mm);
    case FieldVerdict::uneven:
        return fmt::format(
            "{}: {:.1f} CIEDE2000. Within {:.0f} mm of the middle the colour stays within {:.1f}: keep to "
            "that, or look at tilt and focus over the field first.",
            there, worst.de, f.even_mm, f.accept_de);
    case FieldVerdict::unsure:
        break;
    }
    return fmt::format(
        "{}, no surer than that: too coarse to tell. Photograph the sheet twice, turned between, and read "
        "both.",
        there);
}

} // namespace

Expected<ProofSheet> plan_field_sheet(const SheetRequest& request, const Bench& bench, const Recipe& labels,
                                      std::uint64_t seed) {
    if (request.base.setting.power_percent * std::exp(field_doses_ln.back()) > 100)
        return failure("field.power", "The source has no power left for more dose than the recipe's.",
                       "Take a recipe of less power, a little slower.");
    std::vector<Setting> cells;
    for (const std::size_t s : scattered(field_columns * field_rows, field_columns, field_doses_ln.size(), seed)) {
        Setting setting = request.base.setting;
        // As it can be written down and typed.
        setting.power_percent = std::round(1000 * setting.power_percent * std::exp(field_doses_ln.at(s))) / 1000;
        cells.push_back(setting);
    }
    auto sheet = plan_free_sheet(request, cells, bench, labels);
    if (!sheet)
        return sheet;
    sheet->own_columns = field_columns;
    sheet->left_out.assign(sheet->cells(), false);
    sheet->field = true;
    return inside_field(over_field(std::move(*sheet), bench), bench);
}

Expected<FieldFinding> judge_field(const ProofSheet& sheet, const SheetReading& reading, double accept_de) {
    if (!sheet.field || reading.cells.size() != sheet.cells())
        return failure("field.no_sheet", fmt::format("Sheet {} is no field sheet.", sheet.number),
                       "Plan a sheet over the field.");
    FieldFinding f;
    f.accept_de = accept_de;
    const std::vector<PointMm> at = from_middle(sheet);
    double half_w = 0, half_h = 0;
    for (const PointMm& p : at) {
        half_w = std::max(half_w, p.x);
        half_h = std::max(half_h, p.y);
    }
    std::vector<Seen> seen;
    for (std::size_t i = 0; i < sheet.cells(); ++i) {
        const CellReading& c = reading.cells[i];
        if (!sheet.holds(i) || c.state != CellState::read || c.spoiled)
            continue;
        const double dose = std::log(cell_recipe(sheet, i).setting.power_percent / sheet.base.setting.power_percent);
        seen.push_back({dose, at[i].x / half_w, at[i].y / half_h, 1 / std::max(c.within_de, 0.3), c.lab});
        f.cells.push_back({i, at[i].x, at[i].y, 0, c.lab});
    }
    if (seen.size() < fewest_read)
        return failure("field.too_few", fmt::format("Too few cells could be read: {}.", seen.size()),
                       fmt::format("Read the sheet again, or burn it again: {} cells are the least.", fewest_read));
    const FieldFit fit = fitted_field(seen);
    f.width_mm = 2 * half_w;
    f.height_mm = 2 * half_h;
    const Lab middle = fit.lab(0);
    std::vector<double> off;
    for (std::size_t k = 0; k < seen.size(); ++k) {
        const Seen& s = seen[k];
        const double given = fit.given(s.u, s.v), d = s.dose_ln + given;
        const auto here = fit.channels(d);
        const std::array<double, 3> read{s.lab.l, s.lab.a, s.lab.b};
        double along = 0, length = 1e-9;
        for (Eigen::Index c = 0; c < 3; ++c) {
            const auto i = static_cast<std::size_t>(c);
            along += (read.at(i) - here.at(i)) * fit.slope(c, d);
            length += fit.slope(c, d) * fit.slope(c, d);
        }
        f.cells[k].percent = percent_of(given + std::clamp(along / length, -0.5, 0.5));
        off.push_back(delta_e00(s.lab, fit.lab(d)));
    }
    std::ranges::sort(off);
    f.scatter_de = off[off.size() / 2];
    for (std::size_t i = 0; i < f.nine.size(); ++i) {
        const std::size_t column = i % 3, row = i / 3;
        const double u = static_cast<double>(column) - 1, v = static_cast<double>(row) - 1, given = fit.given(u, v);
        f.nine[i] = {u * half_w,
                     v * half_h,
                     {percent_of(given), 100 * nine_of_ten * fit.spread(u, v) * std::exp(given)},
                     delta_e00(fit.lab(given), middle)};
        if (f.nine[i].de > f.nine[f.worst].de)
            f.worst = i;
    }
    // Ring by ring from the middle, as far as cells were laid.
    bool within = true;
    const double farthest = std::hypot(half_w, half_h);
    for (double r = 1; r <= farthest && within; ++r) {
        for (int k = 0; k < 72; ++k) {
            const double x = r * std::cos(k * std::numbers::pi / 36), y = r * std::sin(k * std::numbers::pi / 36);
            if (std::abs(x) <= half_w && std::abs(y) <= half_h)
                within = within && delta_e00(fit.lab(fit.given(x / half_w, y / half_h)), middle) <= accept_de;
        }
        f.even_mm = within ? r : f.even_mm;
    }
    const double slope = std::hypot(fit.slope(0, 0), fit.slope(1, 0), fit.slope(2, 0));
    const FieldPoint& worst = f.nine[f.worst];
    const double surely_de =
        slope * std::max(0.0, std::abs(worst.percent.value) - worst.percent.spread) / 100; // in colour, about
    const double at_most_de = slope * (std::abs(worst.percent.value) + worst.percent.spread) / 100;
    f.verdict = slope < least_slope                       ? FieldVerdict::unsure
                : within && at_most_de <= 1.5 * accept_de ? FieldVerdict::even
                : !within && surely_de > 0.5 * accept_de  ? FieldVerdict::uneven
                                                          : FieldVerdict::unsure;
    f.words = words_of(f);
    return f;
}

nlohmann::json to_json(const FieldFinding& f, const ProofSheet& sheet) {
    static constexpr std::array verdicts{"even", "uneven", "unsure"};
    nlohmann::json nine = nlohmann::json::array(), cells = nlohmann::json::array();
    for (std::size_t i = 0; i < f.nine.size(); ++i)
        nine.push_back({{"where", nine_places[i]},
                        {"x_mm", f.nine[i].x_mm},
                        {"y_mm", f.nine[i].y_mm},
                        {"dose_percent", f.nine[i].percent.value},
                        {"within", f.nine[i].percent.spread},
                        {"de00", f.nine[i].de}});
    for (const FieldFinding::Cell& c : f.cells)
        cells.push_back({{"cell", cell_name(sheet, c.cell)}, {"dose_percent", c.percent}});
    return {{"format", "finch-field-finding"},
            {"version", 1},
            {"finding", verdicts.at(static_cast<std::size_t>(f.verdict))},
            {"nine", nine},
            {"cells", cells},
            {"even_mm", f.even_mm},
            {"accept_de00", f.accept_de},
            {"scatter_de00", f.scatter_de},
            {"words", f.words}};
}

} // namespace finch
