// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/lot_check.h"

#include "physics/colour_difference.h"
#include "search/draws.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <Eigen/QR>
#include <fmt/format.h>

namespace finch {
namespace {

/// ln of the dose against the recipe's, by the power: a lot that takes up more or less acts as more or less of it.
constexpr std::array doses_ln{-0.09, -0.045, 0.0, 0.045, 0.09};
constexpr std::size_t fewest_cells = 4;
constexpr int lot_points = 57, lot_draws = 200;

using Path = Eigen::Matrix<double, 3, 3>; ///< coefficients by number of L* a* b*

Lab on(const Path& path, double dose_ln) {
    const Eigen::RowVector3d v = Eigen::RowVector3d(1, dose_ln, dose_ln * dose_ln) * path;
    return {v[0], v[1], v[2]};
}

double dose_at(int point) {
    return doses_ln.front() + (doses_ln.back() - doses_ln.front()) * point / (lot_points - 1);
}

struct Nearest {
    double dose_ln = 0, de = 1e9;
};
Nearest nearest(const Path& path, const Lab& expected) {
    Nearest out;
    for (int p = 0; p < lot_points; ++p)
        if (const double de = delta_e00(on(path, dose_at(p)), expected); de < out.de)
            out = {dose_at(p), de};
    return out;
}

std::string percent_more(double factor) {
    const double p = std::round(100 * (factor - 1));
    return fmt::format("{}{:.0f} %", p < 0 ? "\u2212" : "+", std::abs(p));
}

std::string words_of(const LotFinding& f, double accept) {
    switch (f.verdict) {
    case LotVerdict::same:
        return fmt::format("This lot does what was expected: {:.1f} CIEDE2000 from it, within {:.1f}. Take the recipe "
                           "as it is.",
                           f.as_it_is_de, accept);
    case LotVerdict::dose:
        return fmt::format("As it is the recipe comes out {:.1f} CIEDE2000 off; with dose {} ({} to {}) it is {:.1f} "
                           "off. Repeat it with that dose before a piece is marked.",
                           f.as_it_is_de, percent_more(f.best_dose), percent_more(f.best_dose_low),
                           percent_more(f.best_dose_high), f.best_de);
    case LotVerdict::different:
        return fmt::format(
            "No dose within 9 % does it: the nearest is {:.1f} CIEDE2000 off, at {}{}. Look at the focus, "
            "the finish and the grade; then prove the recipe anew on this lot.",
            f.best_de, percent_more(f.best_dose),
            std::abs(std::log(f.best_dose)) > 0.98 * doses_ln.back() ? ", and still coming nearer" : "");
    case LotVerdict::unsure:
        break;
    }
    return fmt::format("The readings are no surer than {:.1f} CIEDE2000, too coarse for {:.1f}. Photograph the sheet "
                       "again in even light.",
                       std::max(f.within_de, f.scatter_de), accept);
}

} // namespace

Expected<ProofSheet> plan_lot_check(const SheetRequest& request, const LotCheck& check, const Bench& bench,
                                    const Recipe& labels) {
    std::vector<Setting> cells;
    for (const double dose : doses_ln) {
        Setting s = request.base.setting;
        s.power_percent *= std::exp(dose);
        if (s.power_percent > 100)
            return failure("lot.power", "The source has no power left for more dose than the recipe's.",
                           "Check the lot with a recipe of less power, a little slower.");
        cells.push_back(s);
    }
    auto sheet = plan_free_sheet(request, cells, bench, labels);
    if (!sheet)
        return sheet;
    sheet->own_columns = cells.size();
    sheet->left_out.assign(sheet->cells(), false);
    sheet->lot = check;
    sheet->close = true; // one is burned every morning
    return inside_field(std::move(*sheet), bench);
}

Expected<LotFinding> judge_lot_check(const ProofSheet& sheet, const SheetReading& reading) {
    if (!sheet.lot || reading.cells.size() != sheet.cells())
        return failure("lot.no_check", fmt::format("Sheet {} checks no lot.", sheet.number), "Plan a lot check.");
    const Lab& expected = sheet.lot->expected;
    std::vector<double> dose, within;
    std::vector<Lab> lab;
    LotFinding f;
    for (std::size_t i = 0; i < sheet.own.size(); ++i) {
        const CellReading& c = reading.cells[i];
        if (c.state != CellState::read || c.spoiled)
            continue;
        dose.push_back(std::log(sheet.own[i].power_percent / sheet.base.setting.power_percent));
        lab.push_back(c.lab);
        within.push_back(std::max(c.within_de, 0.3));
    }
    const auto n = static_cast<long>(dose.size());
    if (dose.size() < fewest_cells)
        return failure("lot.too_few", fmt::format("Too few cells could be read: {}.", n),
                       "Read the sheet again, or burn it again: four cells are the least.");
    // A cell under a mirrored lamp says little, and says so itself.
    Eigen::MatrixX3d x(n, 3), y(n, 3);
    Eigen::VectorXd weight(n);
    for (long i = 0; i < n; ++i) {
        const auto k = static_cast<std::size_t>(i);
        weight[i] = 1 / within[k];
        x.row(i) << 1, dose[k], dose[k] * dose[k];
        y.row(i) << lab[k].l, lab[k].a, lab[k].b;
    }
    const Eigen::HouseholderQR<Eigen::MatrixX3d> qr(weight.asDiagonal() * x);
    const Path path = qr.solve(weight.asDiagonal() * y);
    const Nearest best = nearest(path, expected);
    std::ranges::sort(within);
    f.within_de = within[within.size() / 2];
    // What readings may be off is common to all cells in part; what they scatter by is each one's own.
    const double each = (weight.asDiagonal() * (y - x * path)).norm() /
                        std::sqrt(std::max<double>(1, 3.0 * static_cast<double>(n - 3)));
    const double common = f.within_de / 1.645 / std::sqrt(3.0);
    f.scatter_de = each * f.within_de * std::sqrt(3.0);
    Draws chance(11);
    std::vector<double> drawn;
    for (int k = 0; k < lot_draws; ++k) {
        Eigen::MatrixX3d shaken = y;
        const Eigen::RowVector3d all(common * chance.normal(), common * chance.normal(), common * chance.normal());
        for (long i = 0; i < n; ++i)
            shaken.row(i) +=
                all + each / weight[i] * Eigen::RowVector3d(chance.normal(), chance.normal(), chance.normal());
        drawn.push_back(nearest(qr.solve(weight.asDiagonal() * shaken), expected).dose_ln);
    }
    std::ranges::sort(drawn);
    f.as_it_is_de = delta_e00(on(path, 0), expected);
    f.best_de = best.de;
    f.best_dose = std::exp(best.dose_ln);
    f.best_dose_low = std::exp(drawn[lot_draws / 20]);
    f.best_dose_high = std::exp(drawn[lot_draws - 1 - lot_draws / 20]);
    f.corrected = sheet.base;
    f.corrected.setting.power_percent = std::min(100.0, sheet.base.setting.power_percent * f.best_dose);
    for (int p = 0; p < lot_points; p += 4)
        f.path.emplace_back(std::exp(dose_at(p)), on(path, dose_at(p)));
    const double accept = sheet.lot->accept_de;
    const double unsure = std::max(f.within_de, f.scatter_de);
    f.verdict = f.as_it_is_de <= accept       ? LotVerdict::same
                : f.best_de > accept + unsure ? LotVerdict::different
                : unsure > 2 * accept         ? LotVerdict::unsure
                : f.best_de <= accept         ? LotVerdict::dose
                                              : LotVerdict::different;
    f.words = words_of(f, accept);
    return f;
}

} // namespace finch
