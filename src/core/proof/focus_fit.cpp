// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/focus_fit.h"

#include "physics/colour_difference.h"
#include "recipe/bounded_search.h"
#include "search/draws.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <Eigen/Cholesky>
#include <Eigen/Core>
#include <Eigen/Eigenvalues>
#include <functional>
#include <limits>
#include <numeric>
#include <optional>

namespace finch {
namespace {

constexpr double nine_in_ten = 1.645;
constexpr std::size_t most_doubtful = 3;
constexpr double doubtful_from = 4.5;  // of its own spread
constexpr double likelier_beyond = 25; // in ln of the likelihood
constexpr int points = 41, drawn_looks = 200;

enum Unknown : std::size_t {
    best,
    tilt_x,
    tilt_y,
    bow,
    drift,     ///< of what the metal takes up, from the first mark burned to the last, as growth of the spot
    edge_loss, ///< of it at the sides of the field
    reach_ln,
    size_ln,
    scatter_ln, ///< of the reading
    shake_ln,   ///< of what the metal takes up from mark to mark, as growth of the spot
    unknowns
};
using Unknowns = std::array<double, unknowns>;

/// What is thought of the unknowns before anything is read: mm, growth of the spot, and logarithms.
struct Before {
    Unknowns mean{}, sd{};
};

/// Everything that does not change while the unknowns are sought.
class Ladder {
public:
    /// `steepness`: how much the looks change with the growth of the spot, of each mark; empty: not known yet.
    Ladder(const std::vector<LadderMark>& marks, double rayleigh_mm, double field_mm, std::vector<double> steepness)
        : marks_(marks), rayleigh_(rayleigh_mm), half_(field_mm / 2), steepness_(std::move(steepness)),
          y_(static_cast<long>(marks.size()), 3),
          side_(static_cast<long>(marks.size()), static_cast<long>(marks.size())) {
        steepness_.resize(marks.size());
        const auto n = static_cast<long>(marks.size());
        double low = marks.front().offset_mm, high = low;
        for (long i = 0; i < n; ++i) {
            const LadderMark& m = marks[static_cast<std::size_t>(i)];
            low = std::min(low, m.offset_mm);
            high = std::max(high, m.offset_mm);
            y_.row(i) << m.lab.l, m.lab.a, m.lab.b;
        }
        middle_ = (low + high) / 2;
        end_ = (high - low) / 2;
        y_.rowwise() -= y_.colwise().mean();
        // The light of a photograph is even to about one CIELAB unit from side to side.
        for (long i = 0; i < n; ++i)
            for (long j = 0; j < n; ++j) {
                const LadderMark &a = marks[static_cast<std::size_t>(i)], &b = marks[static_cast<std::size_t>(j)];
                side_(i, j) =
                    any_colour + 1.5 * (a.x_mm * b.x_mm + a.y_mm * b.y_mm) / (half_ * half_) + out(a) * out(b);
            }
        before_.mean = {middle_, 0, 0, 0, 0, 0, std::log(0.2), std::log(15.0), std::log(0.6), std::log(0.006)};
        before_.sd = {0.2 * end_, 0.8, 0.8, 0.3, 0.008, 0.015, 0.6, 0.6, 0.5, 0.5};
    }

    [[nodiscard]] const Before& before() const { return before_; }
    [[nodiscard]] double end() const { return end_; }
    [[nodiscard]] long size() const { return y_.rows(); }
    [[nodiscard]] const Eigen::MatrixX3d& y() const { return y_; }

    [[nodiscard]] double growth(double distance_mm) const {
        return 0.5 * std::log1p(std::pow(distance_mm / rayleigh_, 2));
    }
    /// Of the spot on a mark, with what acts like growth.
    [[nodiscard]] double growth(const Unknowns& t, std::size_t i) const {
        const LadderMark& m = marks_[i];
        const double far =
            m.offset_mm - t[best] - (t[tilt_x] * m.x_mm + t[tilt_y] * m.y_mm) / (2 * half_) - t[bow] * out(m);
        return growth(far) + t[drift] * (m.burned - 0.5) + t[edge_loss] * out(m);
    }
    [[nodiscard]] static double alike(const Unknowns& t, double a, double b) {
        const double far = (a - b) / std::exp(t[reach_ln]);
        return std::exp(2 * t[size_ln] - 0.5 * far * far);
    }

    /// The covariance of the readings, as its root.
    [[nodiscard]] std::optional<Eigen::LLT<Eigen::MatrixXd>> solved(const Unknowns& t) const {
        const long n = size();
        Eigen::VectorXd g(n);
        for (long i = 0; i < n; ++i)
            g[i] = growth(t, static_cast<std::size_t>(i));
        Eigen::MatrixXd k = side_;
        for (long j = 0; j < n; ++j) {
            for (long i = j; i < n; ++i)
                k(i, j) += alike(t, g[i], g[j]);
            const double shake = std::exp(t[shake_ln]) * steepness_[static_cast<std::size_t>(j)];
            k(j, j) += std::exp(2 * t[scatter_ln]) + shake * shake;
        }
        Eigen::LLT<Eigen::MatrixXd> llt(k);
        return llt.info() == Eigen::Success ? std::optional(std::move(llt)) : std::nullopt;
    }

    /// Minus the logarithm of how likely the unknowns are, but for a constant.
    [[nodiscard]] double unlikely(const Unknowns& t) const {
        const auto llt = solved(t);
        if (!llt)
            return 1e9;
        const Eigen::MatrixX3d z = llt->matrixL().solve(y_);
        double sum = 0.5 * z.squaredNorm() + 3 * llt->matrixLLT().diagonal().array().log().sum();
        for (std::size_t i = 0; i < unknowns; ++i)
            sum += 0.5 * std::pow((t[i] - before_.mean[i]) / before_.sd[i], 2);
        return sum;
    }

    /// How much the looks change with the growth of the spot at each mark: the mean of the three numbers.
    [[nodiscard]] std::vector<double> steepness(const Unknowns& t) const {
        const auto llt = solved(t);
        std::vector<double> out(marks_.size());
        if (!llt)
            return out;
        const Eigen::MatrixX3d weights = llt->solve(y_);
        const double square = std::exp(2 * t[reach_ln]);
        for (std::size_t i = 0; i < marks_.size(); ++i) {
            Eigen::RowVector3d slope = Eigen::RowVector3d::Zero();
            const double here = growth(t, i);
            for (std::size_t j = 0; j < marks_.size(); ++j) {
                const double there = growth(t, j);
                slope += alike(t, here, there) * (there - here) / square * weights.row(static_cast<long>(j));
            }
            out[i] = slope.norm() / std::sqrt(3.0);
        }
        return out;
    }

    static constexpr double any_colour = 400; ///< variance of a level that nothing is known of

private:
    [[nodiscard]] double out(const LadderMark& m) const {
        return (m.x_mm * m.x_mm + m.y_mm * m.y_mm) / (half_ * half_);
    }
    const std::vector<LadderMark>& marks_;
    double rayleigh_, half_, middle_ = 0, end_ = 1;
    std::vector<double> steepness_;
    Eigen::MatrixX3d y_;
    Eigen::MatrixXd side_;
    Before before_;
};

/// How far is looked, in spreads to each side of what was thought before: for the best focus beyond both ends.
constexpr double box_of(std::size_t unknown) {
    return unknown == best ? 5.5 : 3;
}

Unknowns in_box(const Ladder& ladder, const std::vector<double>& x) {
    Unknowns t;
    for (std::size_t i = 0; i < unknowns; ++i)
        t[i] = ladder.before().mean[i] + ladder.before().sd[i] * box_of(i) * (2 * x[i] - 1);
    return t;
}

/// The likeliest unknowns, from several starts: the best focus may seem to lie wherever a part of the looks mirrors
/// itself. A large scatter first, so that a tilt that is not known yet hides nothing.
Unknowns likeliest(const Ladder& ladder, const std::optional<Unknowns>& from) {
    const auto value = [&](const std::vector<double>& x) { return ladder.unlikely(in_box(ladder, x)); };
    if (from) {
        std::vector<double> x(unknowns);
        for (std::size_t i = 0; i < unknowns; ++i)
            x[i] = std::clamp(0.5 + ((*from)[i] - ladder.before().mean[i]) / (2 * box_of(i) * ladder.before().sd[i]),
                              0.0, 1.0);
        const SearchResult near = minimise(value, x, 900, 0.02);
        return in_box(ladder, minimise(value, near.x, 500, 0.01).x);
    }
    std::vector<SearchResult> starts;
    constexpr int tries = 31;
    for (int i = 0; i < tries; ++i) {
        std::vector<double> x(unknowns, 0.5);
        x[best] = static_cast<double>(i) / (tries - 1);
        x[scatter_ln] = 1;
        starts.push_back({x, value(x)});
    }
    // Beyond an end nothing mirrors anything, so that any looks fit: such a place must be likelier by far.
    const auto inside = [&](const SearchResult& r) {
        return std::abs(in_box(ladder, r.x)[best] - ladder.before().mean[best]) < mirror_within * ladder.end();
    };
    std::ranges::sort(starts, {}, &SearchResult::value);
    SearchResult top{{}, std::numeric_limits<double>::max()};
    for (const bool within : {true, false}) {
        std::vector<double> tried;
        for (const SearchResult& s : starts) {
            if (inside(s) != within || tried.size() == 3 ||
                std::ranges::any_of(tried, [&](double x) { return std::abs(x - s.x[best]) < 2.5 / (tries - 1); }))
                continue;
            tried.push_back(s.x[best]);
            SearchResult found = minimise(value, s.x, 900, 0.05);
            if (found.value < top.value - (inside(found) || top.x.empty() ? 0 : likelier_beyond))
                top = std::move(found);
        }
    }
    return in_box(ladder, minimise(value, top.x, 600, 0.01).x);
}

/// Inverse of the curvature there: how far the unknowns may be off together.
Eigen::MatrixXd spreads(const Ladder& ladder, const Unknowns& at) {
    const double here = ladder.unlikely(at);
    // Steps that change the likelihood by about a half: shorter ones measure rounding, longer ones other hills.
    Unknowns step;
    for (std::size_t i = 0; i < unknowns; ++i) {
        step[i] = 0.3 * ladder.before().sd[i];
        for (int k = 0; k < 12; ++k, step[i] *= 0.6) {
            Unknowns up = at, down = at;
            up[i] += step[i];
            down[i] -= step[i];
            if (0.5 * (ladder.unlikely(up) + ladder.unlikely(down)) - here < 0.6)
                break;
        }
    }
    const auto moved = [&](std::size_t i, double a, std::size_t j, double b) {
        Unknowns t = at;
        t[i] += a * step[i];
        t[j] += b * step[j];
        return ladder.unlikely(t);
    };
    // In steps, so that the numbers are alike in size.
    Eigen::MatrixXd h(unknowns, unknowns);
    for (std::size_t i = 0; i < unknowns; ++i)
        for (std::size_t j = 0; j <= i; ++j) {
            const double second =
                i == j ? moved(i, 1, i, 0) + moved(i, -1, i, 0) - 2 * here
                       : (moved(i, 1, j, 1) + moved(i, -1, j, -1) - moved(i, 1, j, -1) - moved(i, -1, j, 1)) / 4;
            h(static_cast<long>(i), static_cast<long>(j)) = h(static_cast<long>(j), static_cast<long>(i)) = second;
        }
    const Eigen::SelfAdjointEigenSolver<Eigen::MatrixXd> e(h);
    const Eigen::VectorXd kept = e.eigenvalues().cwiseMax(0.02);
    Eigen::MatrixXd out = e.eigenvectors() * kept.cwiseInverse().asDiagonal() * e.eigenvectors().transpose();
    for (std::size_t i = 0; i < unknowns; ++i)
        for (std::size_t j = 0; j < unknowns; ++j)
            out(static_cast<long>(i), static_cast<long>(j)) *= step[i] * step[j];
    return out;
}

/// Marks whose reading the others would not have expected.
std::vector<std::size_t> strays(const Ladder& ladder, const Unknowns& t) {
    const auto llt = ladder.solved(t);
    if (!llt)
        return {};
    const Eigen::MatrixXd inverse = llt->solve(Eigen::MatrixXd::Identity(ladder.size(), ladder.size()));
    const Eigen::MatrixX3d pulled = inverse * ladder.y();
    std::vector<std::pair<double, std::size_t>> found;
    for (long i = 0; i < ladder.size(); ++i) {
        const double off = (pulled.row(i) / std::sqrt(inverse(i, i))).cwiseAbs().maxCoeff();
        if (off > doubtful_from)
            found.emplace_back(-off, static_cast<std::size_t>(i));
    }
    std::ranges::sort(found);
    std::vector<std::size_t> out;
    for (std::size_t k = 0; k < std::min(found.size(), most_doubtful); ++k)
        out.push_back(found[k].second);
    return out;
}

Lab lab_of(const Eigen::RowVector3d& v) {
    return {v[0], v[1], v[2]};
}

/// The looks by distance, and how far they hold, with draws of both from what is left open.
void add_looks(FocusFit& out, const Ladder& ladder, const Unknowns& t, const Eigen::RowVector3d& mean,
               double accept_de) {
    const auto llt = ladder.solved(t);
    const long n = ladder.size();
    const double end = ladder.end();
    Eigen::MatrixXd cross(n, points), own(points, points);
    std::vector<double> at, growth;
    for (int p = 0; p < points; ++p) {
        at.push_back(end * p / (points - 1));
        growth.push_back(ladder.growth(at.back()));
        for (long i = 0; i < n; ++i)
            cross(i, p) =
                Ladder::any_colour + Ladder::alike(t, growth.back(), ladder.growth(t, static_cast<std::size_t>(i)));
    }
    for (int p = 0; p < points; ++p)
        for (int q = 0; q < points; ++q)
            own(p, q) = Ladder::any_colour +
                        Ladder::alike(t, growth[static_cast<std::size_t>(p)], growth[static_cast<std::size_t>(q)]);
    const Eigen::MatrixX3d looks = (cross.transpose() * llt->solve(ladder.y())).rowwise() + mean;
    Eigen::MatrixXd left = own - cross.transpose() * llt->solve(cross);
    left.diagonal().array() += 1e-8 * Ladder::any_colour;
    for (int p = 0; p < points; ++p)
        out.looks.push_back({at[static_cast<std::size_t>(p)], lab_of(looks.row(p)),
                             nine_in_ten * std::sqrt(std::max(0.0, left(p, p)))});
    const auto holds = [&](const Eigen::MatrixX3d& l) {
        for (int p = 1; p < points; ++p) {
            const double de = delta_e00(lab_of(l.row(0)), lab_of(l.row(p)));
            if (de > accept_de) {
                const double was = delta_e00(lab_of(l.row(0)), lab_of(l.row(p - 1)));
                return at[static_cast<std::size_t>(p - 1)] +
                       (at[1] - at[0]) * std::clamp((accept_de - was) / std::max(de - was, 1e-6), 0.0, 1.0);
            }
        }
        return std::numeric_limits<double>::infinity();
    };
    for (const LadderPoint& p : out.looks)
        out.change_de = std::max(out.change_de, delta_e00(out.looks.front().lab, p.lab));
    const double most = holds(looks);
    out.holds_to_the_end = !std::isfinite(most);
    out.holds_mm.value = std::min(most, end);
    const Eigen::MatrixXd root = Eigen::LLT<Eigen::MatrixXd>(left).matrixL();
    Draws chance(7);
    std::vector<double> drawn;
    for (int d = 0; d < drawn_looks; ++d) {
        Eigen::MatrixX3d l = looks;
        Eigen::MatrixX3d z(points, 3);
        for (int p = 0; p < points; ++p)
            for (int c = 0; c < 3; ++c)
                z(p, c) = chance.normal();
        l += root * z;
        drawn.push_back(std::min(holds(l), end));
    }
    std::ranges::sort(drawn);
    const double low = drawn[drawn_looks / 20], high = drawn[drawn_looks - 1 - drawn_looks / 20];
    // Marks that lie alone are not as warm as those of the ladder.
    out.holds_mm.spread = std::hypot(std::max(high - out.holds_mm.value, out.holds_mm.value - low),
                                     nine_in_ten * 0.18 * out.holds_mm.value);
}

} // namespace

FocusFit fit_focus(const std::vector<LadderMark>& all, double rayleigh_mm, double field_mm, double accept_de) {
    FocusFit out;
    std::vector<LadderMark> marks = all;
    std::vector<std::size_t> index(all.size());
    std::iota(index.begin(), index.end(), 0);
    Unknowns t = likeliest(Ladder(marks, rayleigh_mm, field_mm, {}), std::nullopt);
    if (marks.size() > 12) {
        std::vector<std::size_t> stray = strays(Ladder(marks, rayleigh_mm, field_mm, {}), t);
        std::ranges::sort(stray, std::greater<>());
        for (const std::size_t i : stray) {
            out.doubtful.push_back(index[i]);
            marks.erase(marks.begin() + static_cast<long>(i));
            index.erase(index.begin() + static_cast<long>(i));
        }
    }
    // Where the looks are steep, a little more or less heat shows more: told by the first fit, used in the second.
    std::vector<double> steepness;
    for (int round = 0; round < 2; ++round) {
        steepness = Ladder(marks, rayleigh_mm, field_mm, steepness).steepness(t);
        t = likeliest(Ladder(marks, rayleigh_mm, field_mm, steepness), t);
    }
    std::ranges::sort(out.doubtful);
    const Ladder ladder(marks, rayleigh_mm, field_mm, steepness);
    const Eigen::MatrixXd covariance = spreads(ladder, t);
    // What symmetry itself leaves open: a beam whose two axes focus apart, heat that is not of the spot alone.
    const auto known = [&](Unknown u, double besides_mm) {
        const auto k = static_cast<long>(u);
        return WithSpread{t[u], nine_in_ten * std::hypot(std::sqrt(covariance(k, k)), besides_mm)};
    };
    out.best_mm = known(best, 0.012 * rayleigh_mm);
    if (std::abs(t[best] - ladder.before().mean[best]) > mirror_within * ladder.end())
        out.best_mm.spread = std::max(out.best_mm.spread, ladder.end()); // any looks would fit there
    out.tilt_x_mm = known(tilt_x, 0.02 * rayleigh_mm);
    out.tilt_y_mm = known(tilt_y, 0.02 * rayleigh_mm);
    out.bow_mm = known(bow, 0.02 * rayleigh_mm);
    out.scatter_de = std::exp(t[scatter_ln]);
    Eigen::RowVector3d mean = Eigen::RowVector3d::Zero();
    for (const LadderMark& m : marks)
        mean += Eigen::RowVector3d(m.lab.l, m.lab.a, m.lab.b) / static_cast<double>(marks.size());
    add_looks(out, ladder, t, mean, accept_de);
    return out;
}

} // namespace finch
