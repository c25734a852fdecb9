// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "recipe/boxed_least_squares.h"

#include <algorithm>
#include <cmath>
#include <Eigen/QR>

namespace finch {
namespace {

using Matrix = Eigen::Matrix<long double, Eigen::Dynamic, Eigen::Dynamic>;
using Vector = Eigen::Matrix<long double, Eigen::Dynamic, 1>;
using Sits = std::array<int, 5>; ///< 0 free, 1 low, 2 high

std::vector<Sits> combinations(const std::array<bool, 5>& fixed) {
    std::vector<Sits> all;
    Sits s{};
    for (int n = 0; n < 243; ++n) {
        int rest = n;
        for (int i = 4; i >= 0; --i) {
            s[static_cast<std::size_t>(i)] = rest % 3;
            rest /= 3;
        }
        bool good = true;
        for (std::size_t i = 0; i < 5; ++i)
            good = good && (!fixed[i] || s[i] == 1);
        if (good)
            all.push_back(s);
    }
    std::stable_sort(all.begin(), all.end(), [](const Sits& a, const Sits& b) {
        const auto bound = [](const Sits& c) {
            return std::count_if(c.begin(), c.end(), [](int q) { return q != 0; });
        };
        return bound(a) < bound(b);
    });
    return all;
}

Vector solve(const Matrix& a, const Vector& b) {
    return a.cols() > 0 ? Vector(a.colPivHouseholderQr().solve(b)) : Vector(0);
}

long double dot(const std::array<double, 5>& row, const LogSettings& x) {
    long double sum = 0;
    for (std::size_t i = 0; i < 5; ++i)
        sum += row[i] * x[i];
    return sum;
}

/// Best x with the variables that sit at a limit held there; with `bound`, on its edge. Nothing if the bound involves
/// no free variable.
std::optional<LogSettings> held(const std::vector<WishRow>& rows, const LogSettings& low, const LogSettings& high,
                                const Sits& sits, const UpperBound* bound) {
    LogSettings x{};
    std::vector<std::size_t> free;
    for (std::size_t i = 0; i < 5; ++i) {
        x[i] = sits[i] == 1 ? low[i] : sits[i] == 2 ? high[i] : 0;
        if (sits[i] == 0)
            free.push_back(i);
    }
    const auto n = static_cast<Eigen::Index>(rows.size());
    Matrix a(n, static_cast<Eigen::Index>(free.size()));
    Vector b(n);
    for (Eigen::Index r = 0; r < n; ++r) {
        const WishRow& wish = rows[static_cast<std::size_t>(r)];
        b(r) = wish.weight * (wish.target - dot(wish.row, x));
        for (std::size_t c = 0; c < free.size(); ++c)
            a(r, static_cast<Eigen::Index>(c)) = static_cast<long double>(wish.weight) * wish.row[free[c]];
    }
    if (bound == nullptr) {
        const Vector y = solve(a, b);
        for (std::size_t c = 0; c < free.size(); ++c)
            x[free[c]] = y(static_cast<Eigen::Index>(c));
        return x;
    }
    std::size_t pivot = free.size();
    for (std::size_t c = 0; c < free.size(); ++c)
        if (bound->row[free[c]] != 0 &&
            (pivot == free.size() || std::abs(bound->row[free[c]]) > std::abs(bound->row[free[pivot]])))
            pivot = c;
    if (pivot == free.size())
        return std::nullopt;
    const long double lead = bound->row[free[pivot]];
    const long double base = (bound->most - dot(bound->row, x)) / lead;
    const auto p = static_cast<Eigen::Index>(pivot);
    Matrix m(n, static_cast<Eigen::Index>(free.size()) - 1);
    Eigen::Index column = 0;
    for (std::size_t c = 0; c < free.size(); ++c)
        if (c != pivot)
            m.col(column++) = a.col(static_cast<Eigen::Index>(c)) - a.col(p) * (bound->row[free[c]] / lead);
    const Vector y = solve(m, b - a.col(p) * base);
    long double eliminated = base;
    column = 0;
    for (std::size_t c = 0; c < free.size(); ++c)
        if (c != pivot) {
            x[free[c]] = y(column);
            eliminated -= bound->row[free[c]] / lead * y(column);
            ++column;
        }
    x[free[pivot]] = eliminated;
    return x;
}

} // namespace

long double miss(const std::vector<WishRow>& rows, const LogSettings& x) {
    long double sum = 0;
    for (const WishRow& r : rows) {
        const long double d = r.weight * (dot(r.row, x) - r.target);
        sum += d * d;
    }
    return sum;
}

std::optional<LogSettings> boxed_least_squares(const std::vector<WishRow>& rows, const LogSettings& low,
                                               const LogSettings& high, const std::optional<UpperBound>& bound) {
    std::array<bool, 5> fixed{};
    for (std::size_t i = 0; i < 5; ++i)
        fixed[i] = high[i] - low[i] < 1e-12L;
    const auto all = combinations(fixed);
    std::optional<LogSettings> best;
    long double least = 0;
    for (const bool on_edge : {false, true}) {
        if (on_edge && !bound)
            break;
        for (const Sits& sits : all) {
            const auto x = held(rows, low, high, sits, on_edge ? &*bound : nullptr);
            if (!x)
                continue;
            bool inside = !bound || dot(bound->row, *x) <= bound->most + 1e-9L;
            for (std::size_t i = 0; i < 5; ++i)
                inside = inside && (*x)[i] >= low[i] - 1e-9L && (*x)[i] <= high[i] + 1e-9L;
            if (!inside)
                continue;
            bool unconstrained = !on_edge;
            for (std::size_t i = 0; i < 5; ++i)
                unconstrained = unconstrained && (sits[i] == 0 || fixed[i]);
            if (unconstrained)
                return x;
            const long double cost = miss(rows, *x);
            if (!best || cost < least * (1 - 1e-9L) - 1e-26L) {
                best = x;
                least = cost;
            }
        }
    }
    return best;
}

} // namespace finch
