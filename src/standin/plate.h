// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "standin/surface.h"

#include <memory>
#include <string>
#include <vector>

namespace finch::standin {

/// Something burned on the plate, as it truly lies there.
struct Burn {
    std::string name;
    std::vector<RectMm> hatch;
    std::vector<std::vector<PointMm>> strokes;
    Surface surface;
    double line_mm = 0.06; ///< width of a stroke
    double time_s = 0;
};

/// The simulated piece of metal.
struct Plate {
    Surface bare;
    double width_mm = 0, height_mm = 0;
    std::vector<Burn> burns;
    [[nodiscard]] const Burn* find(const std::string& name) const;
};

/// A plate on the bench while it is being worked on: the laser warms up, and what was burned warms what comes next.
class Work {
public:
    /// The metal of the set-up must be one of the nature's, or carry one of its coats.
    Work(const World& world, std::shared_ptr<const Nature> nature, const Setup& setup, double width_mm,
         double height_mm);

    /// Burns one step and lays it on the plate. Errors: those of marked().
    [[nodiscard]] Expected<void> burn(const ToolStep& step);
    /// The bench rests: heat leaves the plate.
    void wait(double seconds) { clock_s_ += seconds; }
    [[nodiscard]] const Plate& plate() const { return plate_; }
    [[nodiscard]] double clock_s() const { return clock_s_; }

private:
    struct Left {
        double x_mm, y_mm, at_s, joules;
    };
    [[nodiscard]] double warmth_at(double x_mm, double y_mm, double at_s) const;

    World world_;
    std::shared_ptr<const Nature> nature_;
    Setup setup_;
    Plate plate_;
    std::vector<Left> heat_;
    double clock_s_ = 0;
};

/// Burns a whole sheet. Errors: those of marked(), with the name of the step.
[[nodiscard]] Expected<Plate> burn_all(const World& world, const std::shared_ptr<const Nature>& nature,
                                       const Setup& setup, const std::vector<ToolStep>& steps, double width_mm,
                                       double height_mm);

} // namespace finch::standin
