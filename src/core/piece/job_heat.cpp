// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/job_heat.h"

#include "piece/shapes.h"
#include "recipe/predict.h"

#include <algorithm>
#include <cmath>

namespace finch {
namespace {

constexpr std::size_t most_points = 80; // that stand for one task
constexpr double least_side_mm = 1;

struct Bounds {
    double left = 1e300, low = 1e300, right = -1e300, high = -1e300;
    void add(const PointMm& p) {
        left = std::min(left, p.x), right = std::max(right, p.x);
        low = std::min(low, p.y), high = std::max(high, p.y);
    }
    [[nodiscard]] bool meets(const Bounds& o) const {
        return left < o.right && o.left < right && low < o.high && o.low < high;
    }
};

/// Points at even ways along all lines: each stands for as much of the area.
std::vector<PointMm> along(const Hatch& lines) {
    const double step = lines.length_mm() / static_cast<double>(most_points);
    std::vector<PointMm> out;
    double next = 0.5 * step, way = 0;
    for (const HatchRun& r : lines.runs) {
        const double length = std::hypot(r.to.x - r.from.x, r.to.y - r.from.y);
        for (; next < way + length && out.size() < most_points; next += step) {
            const double t = (next - way) / length;
            out.push_back({r.from.x + t * (r.to.x - r.from.x), r.from.y + t * (r.to.y - r.from.y)});
        }
        way += length;
    }
    return out;
}

Expected<HeatTask> task_of(const JobLayer& layer, std::span<const std::vector<std::size_t>> shapes,
                           const ScannerTiming& timing, double heat_w, double share) {
    const auto lines = pass_hatch(layer, 0, shapes);
    if (!lines)
        return tl::unexpected(lines.error().in_field(layer.name));
    HeatTask out;
    const ScanLoad load =
        load_of(*lines, in_mm_per_second(layer.recipe->setting.scan_speed), burned_setting(*layer.recipe).passes);
    const TimeParts parts = time_parts(timing, load);
    out.points = along(*lines);
    out.seconds = parts.total() - (1 - share) * parts.passes; // all tasks of the layer have its overhead once
    out.heat_w = out.seconds > 0 ? heat_w * parts.marking / out.seconds : 0; // the laser rests in jumps
    const double area = lines->length_mm() * in_mm(layer.recipe->setting.hatch_pitch);
    out.part_mm = std::sqrt(area / static_cast<double>(std::max<std::size_t>(1, out.points.size())));
    return out;
}

} // namespace

Expected<JobHeat> job_heat(const Job& job, const Scene& scene, const ScannerTiming& timing, std::size_t most_tasks) {
    if (const auto ready = settled(job); !ready)
        return tl::unexpected(ready.error());
    JobHeat out;
    Bounds all;
    std::vector<std::vector<std::vector<std::size_t>>> shapes(job.layers.size()); // of each layer
    std::size_t total = 0;
    for (std::size_t l = 0; l < job.layers.size(); ++l) {
        for (const auto& ring : job.layers[l].region.rings)
            for (const PointMm& p : ring)
                all.add(p);
        if (!job.layers[l].guide) {
            shapes[l] = shapes_of(job.layers[l].region);
            total += shapes[l].size();
        }
    }
    if (total == 0)
        return failure("heat.no_recipe", "Nothing of this job is marked.", "Give a layer a recipe.");
    const std::size_t together = (total + most_tasks - 1) / most_tasks; // shapes of a task
    std::vector<Bounds> boxes;
    for (std::size_t l = 0; l < job.layers.size(); ++l) {
        const JobLayer& layer = job.layers[l];
        if (shapes[l].empty())
            continue;
        const double area = std::clamp(area_mm2(layer.region), 0.01, 1e6);
        const auto p = predict(scene, *layer.recipe, {mm(std::clamp(std::sqrt(area), 0.1, 1000.0)), area});
        if (!p)
            return tl::unexpected(p.error().in_field(layer.name));
        if (!p->heat_modelled || !(scene.metal.conductivity_bulk > 0))
            return failure("heat.not_modelled", "How this beam heats this material is not modelled.",
                           "Prove the order on scrap.", {{}, 0, layer.name});
        const double heat_w = p->mark.heat.absorptance * p->mark.heat.heat_kept * p->mark.pulse.average_power_w;
        for (std::size_t s = 0; s < shapes[l].size(); s += together) {
            const JobStep step{l, s, std::min(together, shapes[l].size() - s), 0};
            auto task = task_of(layer, std::span(shapes[l]).subspan(s, step.shapes), timing, heat_w,
                                static_cast<double>(step.shapes) / static_cast<double>(shapes[l].size()));
            if (!task)
                return tl::unexpected(task.error());
            if (task->points.empty())
                task->points.push_back({0.5 * (all.left + all.right), 0.5 * (all.low + all.high)}); // marks nothing
            Bounds box;
            for (const PointMm& at : task->points)
                box.add(at);
            for (std::size_t k = 0; k < boxes.size(); ++k)
                if (out.steps[k].layer != l && boxes[k].meets(box))
                    task->after.push_back(k);
            boxes.push_back(box);
            out.steps.push_back(step);
            out.tasks.push_back(std::move(*task));
        }
    }
    out.plate.outline = {all.left, all.low, std::max(least_side_mm, all.right - all.left),
                         std::max(least_side_mm, all.high - all.low)};
    out.plate.thickness_mm = in_mm(scene.stock.thickness);
    out.plate.conductivity_w_mk = scene.metal.conductivity_bulk;
    out.plate.capacity_j_m3k = scene.metal.heat_capacity_bulk;
    out.plate.loss_w_m2k = plate_loss_w_m2k(scene.stock, scene.materials.model);
    return out;
}

std::vector<JobStep> steps_of(const JobHeat& heat, const HeatOrder& order) {
    std::vector<JobStep> out;
    for (std::size_t i = 0; i < order.order.size(); ++i) {
        out.push_back(heat.steps.at(order.order[i]));
        out.back().pause_s = std::round(1000 * order.pause_s[i]) / 1000;
    }
    return out;
}

} // namespace finch
