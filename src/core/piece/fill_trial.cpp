// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/fill_trial.h"

#include "quantity/format.h"

#include <algorithm>
#include <fmt/format.h>

namespace finch {

Expected<FillTrial> fill_trial(const JobLayer& layer, const LayerFill& fill, int passes_shown, const Scene& scene,
                               const ScannerKnowledge& scanner) {
    auto so = filled(layer, fill);
    if (!so)
        return tl::unexpected(so.error());
    FillTrial out{std::move(*so), {}, burned_setting(*layer.recipe).passes, {}, {}, {}};
    const auto work = layer_work(out.layer);
    if (!work)
        return tl::unexpected(work.error());
    out.time = time_of(scanner, {&work->load, 1});
    for (int pass = 0; pass < std::clamp(passes_shown, 1, std::min(most_passes_drawn, out.passes_in_all)); ++pass) {
        auto lines = pass_hatch(out.layer, pass);
        if (!lines)
            return tl::unexpected(lines.error());
        out.passes.push_back(std::move(*lines));
    }
    const auto p = predict_layer(scene, out.layer);
    out.effect = !p ? p.error().message : fmt::format("{} {:.0f} %", word(p->effect), 100 * p->share());
    if (p && p->removal)
        out.effect += fmt::format(", {} \u00b5m deep", format_number(p->depth_um(), 3));
    const BeamWaist beam = waist(scene.bench.lens(), scene.bench.source.wavelength);
    out.findings = fill_findings(*layer.recipe, fill, in_mm(beam.spot));
    return out;
}

} // namespace finch
