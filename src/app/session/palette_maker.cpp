// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/palette_maker.h"

#include "app/session/text.h"
#include "evidence/film_evidence.h"

namespace finch::app {

PaletteMaker::PaletteMaker(Workbench& workbench, QObject* parent) : QObject(parent), workbench_(workbench) {}

PaletteMaker::Asked PaletteMaker::now() const {
    const Draft& d = workbench_.draft();
    const Knowledge* known = workbench_.ledger().knowledge(evidence_key(d.setup));
    // Taking a colour changes the recipe, not where others are looked for: that is round what was burned last here.
    Recipe base = d.recipe;
    for (const Round& r : workbench_.rounds())
        if (r.reading && evidence_key(r.setup) == evidence_key(d.setup))
            base = r.sheet.base;
    base.name.clear();
    return {d.setup,
            base,
            d.wanted,
            d.target.accept_de,
            known != nullptr ? known->observations.size() : 0,
            workbench_.evidence()};
}

void PaletteMaker::want() {
    Asked asked = now();
    if (asked_ && *asked_ == asked)
        return;
    struct Work {
        OwnScene scene;
        Asked asked;
        std::vector<Observation> seen;
    };
    const Knowledge* known = workbench_.ledger().knowledge(evidence_key(asked.setup));
    // Newer readings of the same lot only add to what is shown; another lot or metal must not stand under its name.
    if (asked_ && evidence_key(asked_->setup) != evidence_key(asked.setup))
        palette_.reset();
    asked_ = asked;
    const auto work = std::make_shared<const Work>(Work{
        workbench_.own_scene(), std::move(asked), known != nullptr ? known->observations : std::vector<Observation>()});
    work_.ask(
        "making a palette",
        [work]() -> Expected<Palette> {
            const Scene scene = work->scene.scene();
            const auto posterior = film_posterior(scene.materials, work->asked.setup, work->seen, threads_for_work());
            if (!posterior)
                return tl::unexpected(posterior.error());
            return finch::palette(scene, *posterior, work->seen, work->asked.wanted, work->asked.base,
                                  {work->asked.accept_de, 0.25}, threads_for_work());
        },
        [this](const Expected<Palette>& result) {
            palette_ = result ? std::optional(*result) : std::nullopt;
            reason_ = result ? QString() : from_utf8(result.error().message + " " + result.error().fix);
            Q_EMIT changed();
        });
    Q_EMIT changed();
}

} // namespace finch::app

#include "moc_palette_maker.cpp"
