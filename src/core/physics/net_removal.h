// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "physics/engraving.h"
#include "physics/join_model.h"

#include <array>
#include <optional>

namespace finch {

struct Metal;

/// What of the part the craters meet.
struct MetSurface {
    double finish = 1; ///< absorptance factor; acts on the first pass only, because craters renew the skin
    double warm = 1;   ///< share of the cold boiling enthalpy that a warm part still needs
};
/// Energy up to boiling from a start temperature over that from 20 degC: thermal threshold.
[[nodiscard]] double warm_share(const Metal& metal, double start_c);

/// One pass of a hatch over bare metal, net of what freezes in place.
struct NetPass {
    double pulses_per_mm2 = 0, pulses_per_crater = 1;
    Crater crater;
    double single_threshold_j_cm2 = 0; ///< with finish and start temperature
    double over_single = 0;            ///< shielded fluence over it
    double areal_energy_j_mm2 = 0;
    double pulse_overlap = 0, line_overlap = 0; ///< of craters, which count at least a twentieth of the spot
    double loosened_um = 0;                     ///< before any of it is caught again, with the calibration
    [[nodiscard]] double overlap() const { return pulse_overlap < line_overlap ? pulse_overlap : line_overlap; }
    bool operator==(const NetPass&) const = default;
};
[[nodiscard]] NetPass net_pass(const Cutting& cut, const MetSurface& surface, Length spot, bool first,
                               double calibration = 1);

/// Share of the loosened volume that freezes in place: 30 % for short and 80 % for the longest pulses at the
/// single-pulse threshold, none far above it. Recoil has to exceed surface tension before melt leaves.
[[nodiscard]] double recast_near(const JoinModel& join, double over_single, double pulse_width_ns);
/// Share that later pulses of the same pass catch again.
[[nodiscard]] double recast_in_pass(const JoinModel& join, double pulses_per_crater);
/// Depth of one pass whose own walls hinder it: z solves z + K z^2 / (2 D) = depth without walls; um.
[[nodiscard]] double groove_depth_um(const JoinModel& join, double unhindered_um, double crater_um);
/// Mean efficiency while `more_um` is removed on top of `since_um` since the last cleaning.
[[nodiscard]] double debris_efficiency(const RemovalModel& model, double since_um, double more_um);
/// Net depth of a pass, um. `shade`: what a narrow cut leaves of it.
[[nodiscard]] double net_depth_um(const Cutting& cut, const JoinModel& join, const NetPass& pass, double since_um,
                                  double shade);

/// The focus is lowered by a step whenever the expected floor lies so far below it: passes get shallower, so that no
/// fixed number of passes fits a whole run.
struct FloorFollow {
    double step_mm = 0;     ///< 0 = the focus stays
    int each = 1;           ///< only after whole layers of so many passes
    double most_mm = 1e300; ///< travel in all
    bool operator==(const FloorFollow&) const = default;
};

/// Depth after many passes, with debris, cleaning, narrow cuts and the focus left behind. What a pass loosens depends
/// on the focus alone, so it is worked out on a grid of 0.01 Rayleigh lengths and read by a cubic: within 1e-6, and
/// quick enough for thousands of passes. One walker serves all calibrations of a setting. No allocation.
class NetWalk {
public:
    struct Outcome {
        double depth_um = 0;                     ///< not capped by the stock
        int passes = 0;                          ///< done when it stalled or reached `stop_um`
        std::optional<int> emerges_at, clear_at; ///< pass from which the shape is seen, and seen clearly
    };
    NetWalk(const Cutting& cut, const JoinModel& join, const MetSurface& surface, const DeepWork& work);
    /// `factor` multiplies the work's calibration; `cap_um` is the stock, for what is seen.
    [[nodiscard]] Outcome walk(double factor, double stop_um, double cap_um = 1e300);
    /// Depth in um after 0, 1, 2 .. passes while the focus follows the floor, which takes the place of the work's own
    /// focus steps. Ends early where it stalls.
    [[nodiscard]] std::vector<double> depths(double factor, const FloorFollow& follow);
    [[nodiscard]] const NetPass& first() const { return first_; }

private:
    struct Floor {
        double z_um = 0, since_um = 0, focus_mm = 0;
        double clear = 1; ///< exp(-since / scale), carried along
    };
    /// The next pass, counted from 1; what it took.
    double deepen(Floor& floor, int pass, double calibration);
    void clean(Floor& floor, int pass) const;
    struct Fresh {
        double net_um = 0; ///< loosened and not caught again, of calibration 1
        double crater_um = 0;
        int branch = 0; ///< which limits acted: a cubic holds only between equal ones
    };
    struct Node {
        long at = -1;
        Fresh fresh;
    };
    [[nodiscard]] Fresh fresh(double offset_mm) const;
    [[nodiscard]] const Fresh& node(long i);
    [[nodiscard]] Fresh read(double offset_mm);
    [[nodiscard]] double pass_um(const Fresh& fresh, double calibration, double clear, double shade) const;

    const Cutting& cut_;
    const JoinModel& join_;
    const DeepWork& work_;
    NetPass first_;
    Fresh first_fresh_;
    double single_threshold_ = 0, per_mm2_ = 0, grid_mm_ = 0;
    std::array<Node, 256> nodes_{};
};

/// Areal energy that has powdered the floor since the last cleaning pass, which leaves its residue; a cleaning after
/// the very last pass does not count. J/mm2.
[[nodiscard]] double areal_since_cleaning(const RemovalModel& model, double per_pass_j_mm2, int passes,
                                          int clean_every);
/// First pass after which the floor is dark powder, or nothing within `passes`.
[[nodiscard]] std::optional<int> dark_from(const RemovalConstants& metal, const RemovalModel& model,
                                           double per_pass_j_mm2, int passes, int clean_every);

/// When in a run what is seen; empty: not in this run.
struct RunStages {
    std::optional<int> dark_from, emerges_at, clear_at;
    bool operator==(const RunStages&) const = default;
};
/// The shape hides the powder: `dark` counts only before it is seen.
[[nodiscard]] RunStages run_stages(std::optional<int> dark, std::optional<int> emerges, std::optional<int> clear);

} // namespace finch
