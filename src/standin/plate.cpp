// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/plate.h"

#include "standin/chance.h"
#include "standin/warmth.h"

#include <algorithm>
#include <cmath>
#include <functional>

namespace finch::standin {
namespace {

constexpr double between_steps_s = 0.05;
constexpr double turn_s = 0.0008;

double area_of(const std::vector<RectMm>& rects) {
    double sum = 0;
    for (const RectMm& r : rects)
        sum += r.w * r.h;
    return sum;
}

double length_of(const std::vector<std::vector<PointMm>>& strokes) {
    double sum = 0;
    for (const auto& s : strokes)
        for (std::size_t i = 1; i < s.size(); ++i)
            sum += std::hypot(s[i].x - s[i - 1].x, s[i].y - s[i - 1].y);
    return sum;
}

double seconds_of(const ToolStep& step) {
    const Setting s = burned_setting(step.recipe);
    const double speed = in_mm_per_second(s.scan_speed), pitch = in_mm(s.hatch_pitch);
    double sum = length_of(step.strokes) / speed;
    for (const RectMm& r : step.hatch)
        sum += s.passes * r.h / pitch * (r.w / speed + turn_s);
    return sum;
}

} // namespace

const Burn* Plate::find(const std::string& name) const {
    const auto it = std::find_if(burns.begin(), burns.end(), [&](const Burn& b) { return b.name == name; });
    return it == burns.end() ? nullptr : &*it;
}

Work::Work(const World& world, std::shared_ptr<const Nature> nature, const Setup& setup, double width_mm,
           double height_mm)
    : world_(world), nature_(std::move(nature)),
      setup_(setup), plate_{untouched(world, *nature_, setup.stock), width_mm, height_mm, {}} {}

double Work::warmth_at(double x, double y, double at_s) const {
    const auto metal = nature_->metals.find(setup_.stock.metal);
    if (metal == nature_->metals.end() || world_.neighbours <= 0)
        return 0;
    const Ground g = ground(world_, metal->second, 1, in_metres(setup_.stock.thickness), 400);
    const double capacity = 0.78 * g.capacity;
    double sum = 0;
    for (const Left& left : heat_) {
        // A point of heat in a thin plate that loses to the jig.
        const double t = std::max(0.3, at_s - left.at_s), spread = 4 * g.bulk_diffusivity * t + 4e-6;
        const double r2 = 1e-6 * ((x - left.x_mm) * (x - left.x_mm) + (y - left.y_mm) * (y - left.y_mm));
        sum += left.joules / (capacity * g.thickness_m * 3.1416 * spread) * std::exp(-r2 / spread - t / 25);
    }
    return world_.neighbours * sum;
}

Expected<void> Work::burn(const ToolStep& step) {
    const RectMm area = step.hatch.empty() ? RectMm{0, 0, 5, 5} : step.hatch.front();
    const double seconds = seconds_of(step);
    const double x = area.x + area.w / 2, y = area.y + area.h / 2;
    const Moment moment{x - plate_.width_mm / 2, y - plate_.height_mm / 2, clock_s_ + seconds / 2,
                        warmth_at(x, y, clock_s_ + seconds / 2)};
    // Nothing comes out twice the same, though it was set the same.
    World here = world_;
    here.growth *=
        std::exp(2 * world_.scatter * bell_random(world_.seed + 977, std::hash<std::string>{}(step.name) % 9973));
    const auto surface = marked(here, *nature_, setup_, step.recipe, area, moment);
    if (!surface)
        return tl::unexpected(surface.error());
    plate_.burns.push_back({step.name, step.hatch, step.strokes, *surface, surface->spot_mm * 1.2, seconds});
    const double power = in_watts(setup_.bench.source.rated_power) * step.recipe.setting.power_percent / 100;
    const auto metal = nature_->metals.find(setup_.stock.metal);
    const double absorbs = metal == nature_->metals.end() ? 0.3 : metal->second.absorptance * world_.absorptance;
    if (!step.hatch.empty())
        heat_.push_back(
            {x, y, clock_s_ + seconds,
             absorbs * power * area_of(step.hatch) /
                 (in_mm(step.recipe.setting.hatch_pitch) * in_mm_per_second(step.recipe.setting.scan_speed)) *
                 burned_setting(step.recipe).passes});
    clock_s_ += seconds + between_steps_s;
    return {};
}

Expected<Plate> burn_all(const World& world, const std::shared_ptr<const Nature>& nature, const Setup& setup,
                         const std::vector<ToolStep>& steps, double width_mm, double height_mm) {
    Work work(world, nature, setup, width_mm, height_mm);
    for (const ToolStep& step : steps) {
        work.wait(step.rest_s);
        if (const auto done = work.burn(step); !done)
            return tl::unexpected(done.error().in_field(step.name));
    }
    return work.plate();
}

} // namespace finch::standin
