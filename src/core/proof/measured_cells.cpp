// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/measured_cells.h"

#include "physics/colour_difference.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <Eigen/Cholesky>
#include <limits>

namespace finch {
namespace {

/// The part of a reading that is off by itself: light and texture of the one cell. CIEDE2000, nine in ten.
constexpr double own_within_de = 1.3;
/// Distance of L*, a*, b* over which a camera's error stays alike.
constexpr double alike_lab = 20;
constexpr double nine_in_ten = 2.5; ///< of three equal coordinates, in deviations
/// How much farther off than stated the photograph may be; the likeliest is taken.
constexpr std::array farther{1.0, 1.7, 3.0};

double shared_within(double within_de) {
    return std::sqrt(std::max(0.0, within_de * within_de - own_within_de * own_within_de));
}

/// Deviation of L*, a*, b* each of so many CIEDE2000: of strong colours the same difference counts less.
double as_lab_sd(double within_de, const Lab& lab) {
    return within_de / nine_in_ten * (1 + 0.0225 * chroma(lab));
}

double alike(const Lab& a, const Lab& b) {
    return std::exp(-0.5 * std::pow(delta_e_ab(a, b) / alike_lab, 2));
}

/// What a photograph is off by, as a smooth field over colour, from the cells that an instrument measured too.
class PhotographError {
public:
    explicit PhotographError(const SheetReading& reading) {
        for (const CellReading& c : reading.cells)
            if (c.by_instrument && c.photographed)
                known_.push_back({*c.photographed, c.lab, c.within_de});
        if (known_.empty())
            return;
        const auto n = static_cast<Eigen::Index>(known_.size());
        Eigen::MatrixXd off(n, 3), shared(n, n);
        Eigen::VectorXd own(n);
        for (Eigen::Index i = 0; i < n; ++i) {
            const Known& a = at(i);
            off.row(i) << a.measured.l - a.seen.lab.l, a.measured.a - a.seen.lab.a, a.measured.b - a.seen.lab.b;
            own(i) = std::pow(as_lab_sd(std::min(own_within_de, a.seen.within_de), a.measured), 2) +
                     std::pow(as_lab_sd(a.measured_within, a.measured), 2);
            for (Eigen::Index j = 0; j < n; ++j)
                shared(i, j) = sd(a.seen) * sd(at(j).seen) * alike(a.seen.lab, at(j).seen.lab);
        }
        double best = -std::numeric_limits<double>::infinity();
        for (const double times : farther) {
            Eigen::MatrixXd k = times * times * shared;
            k.diagonal() += own;
            const Eigen::LLT<Eigen::MatrixXd> llt(k);
            const Eigen::MatrixXd half = llt.matrixL().solve(off);
            const double evidence = -0.5 * half.squaredNorm() -
                                    3 * Eigen::MatrixXd(llt.matrixL()).diagonal().array().log().sum() -
                                    0.5 * std::pow(std::log(times) / 0.7, 2);
            if (evidence > best) {
                best = evidence;
                times_ = times;
                weights_ = llt.solve(off);
                inverse_ = llt.solve(Eigen::MatrixXd::Identity(n, n));
            }
        }
    }

    [[nodiscard]] bool known() const { return !known_.empty(); }

    [[nodiscard]] Photographed set_right(const Photographed& seen) const {
        const auto n = static_cast<Eigen::Index>(known_.size());
        Eigen::RowVectorXd k(n);
        for (Eigen::Index i = 0; i < n; ++i)
            k(i) = times_ * times_ * sd(seen) * sd(at(i).seen) * alike(seen.lab, at(i).seen.lab);
        const Eigen::RowVector3d off = k * weights_;
        const double prior = std::pow(times_ * sd(seen), 2);
        const double left = prior > 0 ? std::clamp(1 - (k * inverse_).dot(k) / prior, 0.0, 1.0) : 0;
        const double shared = times_ * shared_within(seen.within_de) * std::sqrt(left);
        return {{std::clamp(seen.lab.l + off(0), 0.0, 100.0), seen.lab.a + off(1), seen.lab.b + off(2)},
                std::hypot(std::min(own_within_de, seen.within_de), shared)};
    }

private:
    struct Known {
        Photographed seen;
        Lab measured;
        double measured_within;
    };
    [[nodiscard]] const Known& at(Eigen::Index i) const { return known_[static_cast<std::size_t>(i)]; }
    [[nodiscard]] static double sd(const Photographed& seen) {
        // However sure it is of itself, it may be off by a little.
        constexpr double least_shared = 0.4;
        return as_lab_sd(std::max(least_shared, shared_within(seen.within_de)), seen.lab);
    }

    std::vector<Known> known_;
    double times_ = 1;
    Eigen::MatrixXd weights_, inverse_;
};

} // namespace

void set_right_by_measured(SheetReading& reading) {
    const PhotographError error(reading);
    for (CellReading& c : reading.cells) {
        if (c.state != CellState::read || c.by_instrument)
            continue;
        const Photographed seen = as_photographed(c), right = error.known() ? error.set_right(seen) : seen;
        c.lab = right.lab;
        c.within_de = right.within_de;
        c.photographed = error.known() ? std::optional(seen) : std::nullopt;
    }
    if (!reading.ground)
        return;
    const Lab seen = reading.ground_photographed.value_or(*reading.ground);
    // It is told against the light of the whole sheet: as sure as the surest cell.
    double within_de = std::numeric_limits<double>::infinity();
    for (const CellReading& c : reading.cells)
        if (c.photographed)
            within_de = std::min(within_de, c.photographed->within_de);
    reading.ground = error.known() ? error.set_right({seen, within_de}).lab : seen;
    reading.ground_photographed = error.known() ? std::optional(seen) : std::nullopt;
}

void put_colours(SheetReading& reading, const std::vector<CellColour>& colours) {
    for (const CellColour& c : colours) {
        CellReading& cell = reading.cells.at(c.cell);
        if (cell.state == CellState::read && !cell.by_instrument)
            cell.photographed = as_photographed(cell);
        cell.state = CellState::read;
        cell.lab = c.lab;
        cell.within_de = c.within_de;
        cell.by_instrument = true;
    }
    set_right_by_measured(reading);
}

void keep_what_was_said(SheetReading& newer, const SheetReading& older) {
    for (std::size_t i = 0; i < std::min(newer.cells.size(), older.cells.size()); ++i) {
        CellReading& cell = newer.cells[i];
        const CellReading& before = older.cells[i];
        cell.spoiled = cell.spoiled || before.spoiled;
        if (before.by_instrument && !cell.by_instrument) {
            if (cell.state == CellState::read)
                cell.photographed = as_photographed(cell);
            cell.state = CellState::read;
            cell.lab = before.lab;
            cell.within_de = before.within_de;
            cell.by_instrument = true;
        }
        if (!cell.scratch_steps)
            cell.scratch_steps = before.scratch_steps;
        if (!cell.gloss)
            cell.gloss = before.gloss;
        if (cell.tilted.empty())
            cell.tilted = before.tilted;
        if (cell.depth_um)
            continue;
        cell.depth_um = before.depth_um;
        cell.depth_within_um = before.depth_within_um;
    }
    set_right_by_measured(newer);
}

std::optional<PhotographOff> photograph_off(const SheetReading& reading) {
    std::vector<double> off;
    for (const CellReading& c : reading.cells)
        if (c.by_instrument && c.photographed)
            off.push_back(delta_e00(c.photographed->lab, c.lab));
    if (off.empty())
        return std::nullopt;
    std::ranges::nth_element(off, off.begin() + static_cast<std::ptrdiff_t>(off.size() / 2));
    return PhotographOff{off[off.size() / 2], off.size()};
}

} // namespace finch
