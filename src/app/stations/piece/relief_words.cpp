// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/piece/relief_words.h"

#include "app/session/text.h"

#include <algorithm>
#include <cmath>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

QString whole(double v) {
    return screen_number(std::round(v));
}

WayView way(const QString& name, const ReliefCut& cut, bool chosen) {
    WayView out;
    out.name = name;
    out.time = screen_duration(cut.time.likely + cut.hand_s);
    out.depth = QObject::tr("%1 (%2–%3)")
                    .arg(whole(cut.reached_um()), whole(cut.reached_least_um()), whole(cut.reached_most_um()));
    out.step = screen_number(cut.terrace_um, 2);
    out.debris = QObject::tr("%1 %").arg(whole(100 * cut.debris_loss));
    out.state = cut.stalls ? State::warn : State::ok;
    out.chosen = chosen;
    return out;
}

} // namespace

std::vector<WayView> way_rows(const ReliefReader& reader, const ReliefRules& now) {
    std::vector<WayView> out;
    const ReliefWork* work = reader.work();
    if (work == nullptr)
        return out;
    const bool is_one = std::ranges::any_of(work->ways, [&](const auto& w) { return w.rules == now; });
    out.push_back(way(QObject::tr("%1 layers: as set").arg(work->cut.layer.size()), work->cut, !is_one));
    for (const auto& w : work->ways)
        out.push_back(way(QObject::tr("%1 layers: %2").arg(w.cut.layer.size()).arg(from_utf8(word(w.school))), w.cut,
                          w.rules == now));
    return out;
}

std::vector<double> shown_depths(const ReliefReader& reader, const ReliefRules& now) {
    const ReliefWork* work = reader.work();
    const auto map = reader.map();
    const int layers = map != nullptr ? map->layers : now.levels.layers;
    if (work != nullptr && static_cast<int>(work->cut.layer.size()) == layers)
        return work->cut.depth_um;
    std::vector<double> out;
    const double wanted = now.depth_um > 0 ? now.depth_um : layers;
    for (int k = 0; k <= layers; ++k)
        out.push_back(wanted * k / layers);
    return out;
}

LayerProgress layer_progress(const ReliefReader& reader, const ReliefRules& now, int done) {
    LayerProgress out;
    const ReliefWork* work = reader.work();
    out.depth_um = shown_depths(reader, now);
    const int layers = static_cast<int>(out.depth_um.size()) - 1;
    out.layers_done = std::clamp(done, 0, layers);
    if (work == nullptr || static_cast<int>(work->cut.layer.size()) != layers) {
        out.words = QObject::tr("Layer %1 of %2; %3 µm if each takes the same")
                        .arg(out.layers_done)
                        .arg(layers)
                        .arg(whole(out.depth_um[static_cast<std::size_t>(out.layers_done)]));
        return out;
    }
    const ReliefCut& c = work->cut;
    const auto i = static_cast<std::size_t>(std::min(out.layers_done, c.deepest)); // below that nothing is cut
    out.words = QObject::tr("Layer %1 of %2, pass %3: floor at %4 µm (%5 to %6), after %7")
                    .arg(out.layers_done)
                    .arg(layers)
                    .arg(out.layers_done * c.passes_per_layer)
                    .arg(whole(c.depth_um[i]), whole(c.least_um[i]), whole(c.most_um[i]), screen_duration(c.done_s[i]));
    const auto stage = [&](std::optional<int> pass, const QString& name) {
        if (pass)
            out.stages.push_back({static_cast<double>(*pass) / c.passes_per_layer, name});
    };
    stage(c.stages.dark_from, QObject::tr("dark and dusty"));
    stage(c.stages.emerges_at, QObject::tr("shape shows"));
    stage(c.stages.clear_at, QObject::tr("clear"));
    return out;
}

ReliefSection section_at(const ReliefPicture& p, int row) {
    ReliefSection out;
    if (p.map == nullptr || p.depth_um.empty())
        return out;
    out.width_mm = p.map->pixel_mm * p.map->width;
    out.deepest_um = p.depth_um.back();
    const auto from = p.map->counts.begin() + static_cast<std::ptrdiff_t>(row) * p.map->width;
    for (auto c = from; c != from + p.map->width; ++c)
        out.depth_um.push_back(
            p.depth_um[std::min(p.depth_um.size() - 1, static_cast<std::size_t>(std::min(*c, p.layers_done)))]);
    return out;
}

std::vector<double> grey_curve(const ReliefRules& rules) {
    constexpr int steps = 128;
    HeightMap ramp{steps + 1, 1, 16, {}};
    for (int i = 0; i <= steps; ++i)
        ramp.grey.push_back(static_cast<unsigned short>(65535 * i / steps));
    LevelRules levels = rules.levels;
    levels.sharpen = 0;
    const auto counts = layer_counts(ramp, levels);
    std::vector<double> out;
    for (int i = 0; counts && i <= steps; ++i)
        out.push_back(static_cast<double>((*counts)[static_cast<std::size_t>(i)]) / levels.layers);
    return out;
}

std::vector<FindingRowView> relief_rows(const ReliefReader& reader) {
    std::vector<FindingRowView> out;
    if (!reader.reason().isEmpty())
        out.push_back({State::fail, reader.reason(), true, false});
    if (reader.taken_elsewhere())
        out.push_back({State::warn, QObject::tr("Its recipe was taken on another bench, lens or stock."), true, false});
    if (const ReliefWork* work = reader.work())
        for (const Finding& f : work->findings)
            out.push_back({f.severity == Severity::note      ? State::ok
                           : f.severity == Severity::warning ? State::warn
                                                             : State::fail,
                           from_utf8(f.message) + (f.remedy.empty() ? QString() : u' ' + from_utf8(f.remedy)),
                           f.severity != Severity::note, false});
    return out;
}

QString relief_time_words(const ReliefReader& reader, const Bench& bench) {
    const ReliefWork* work = reader.work();
    if (work == nullptr)
        return reader.picture() == nullptr
                   ? QString()
                   : QObject::tr("With a recipe, layers are timed and their depth is predicted.");
    const ReliefCut& c = work->cut;
    QStringList of;
    if (c.cleaning_s > 0)
        of << QObject::tr("cleaning %1").arg(screen_duration(c.cleaning_s));
    if (c.focus_s > 0)
        of << QObject::tr("focus moves %1").arg(screen_duration(c.focus_s));
    QString words = reader.running() ? QObject::tr("Being worked out anew. ") : QString();
    words += QObject::tr("%1 (%2 to %3)")
                 .arg(screen_duration(c.time.likely), screen_duration(c.time.low), screen_duration(c.time.high));
    if (!of.isEmpty())
        words += QObject::tr(", of that %1").arg(of.join(u", "_s));
    if (c.hand_s > 0)
        words += QObject::tr("; then %1 by hand").arg(screen_duration(c.hand_s));
    words +=
        QObject::tr("; %1 mm³ come off a part, whose bench time costs %2")
            .arg(screen_number(c.removed_mm3), screen_number((c.time.likely + c.hand_s) / 3600 * bench.rate_per_hour));
    return words + QObject::tr(". Depth by the model of removal; %1.")
                       .arg(bench.scanner.timed.empty()
                                ? QObject::tr("scanner as it usually is, not timed")
                                : QObject::tr("scanner fitted to %1 timed runs").arg(bench.scanner.timed.size()));
}

} // namespace finch::app
