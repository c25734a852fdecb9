// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/ready_job.h"

#include "app/session/text.h"
#include "formats/job_sheet.h"

#include <algorithm>
#include <QObject>

namespace finch::app {

Expected<std::shared_ptr<const ReadyJob>> ready_job(Placed placed, const PlaceRules& rules, const Scene& scene,
                                                    const ScannerKnowledge& scanner,
                                                    std::vector<std::string> elsewhere) {
    auto plan = run_plan(placed.job, scanner);
    if (!plan)
        return tl::unexpected(plan.error());
    auto out = std::make_shared<ReadyJob>();
    out->job = std::move(placed.job);
    out->rules = rules;
    out->plan = std::move(*plan);
    out->code = job_code(out->job);
    out->risks = risks_of(out->job, out->plan, scene);
    out->elsewhere = std::move(elsewhere);
    out->findings = std::move(placed.findings);
    for (const JobPlace& p : places_of(out->job)) {
        LaidPart part{p.number, part_box(out->job, p)};
        // The job is moved to where a nest was measured; the jig is where it was drawn.
        if (rules.holding == Holding::tray)
            if (const auto off = std::ranges::find(rules.tray.offsets, p.number, [](const auto& o) { return o.first; });
                off != rules.tray.offsets.end())
                part.box.x -= off->second.x, part.box.y -= off->second.y;
        out->laid.push_back(part);
    }
    return out;
}

QString place_word(const JobPlace& place) {
    return place.axis_deg ? QObject::tr("strip") : place.only ? QObject::tr("tile") : QObject::tr("nest");
}

QString portion_words(const ReadyJob& job, const RunPortion& portion) {
    const auto places = places_of(job.job);
    const JobLayer& layer = job.job.layers.at(portion.layer);
    QString words = from_utf8(layer.name);
    if (portion.shapes > 0)
        words +=
            QObject::tr(", shapes %1 to %2").arg(portion.first_shape + 1).arg(portion.first_shape + portion.shapes);
    words += QObject::tr(", pass %1 of %2").arg(portion.pass + 1).arg(portion.passes);
    if (job.job.places.empty())
        return words;
    const JobPlace& place = places.at(portion.place);
    return QObject::tr("%1 %2, ").arg(place_word(place)).arg(place.number) + words;
}

} // namespace finch::app
