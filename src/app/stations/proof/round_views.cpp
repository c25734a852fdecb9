// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/proof/proof_view.h"

#include "app/session/text.h"
#include "app/session/words.h"

#include "proof/next_sheet.h"
#include "quantity/format.h"

#include <algorithm>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

/// "speed × pitch", or that every cell has its own setting.
QString axes_words(const ProofSheet& sheet) {
    return sheet.paired           ? QObject::tr("%1 pairs").arg(sheet.own.size() / 2)
           : sheet.on_old_plate() ? QObject::tr("on sheet %1").arg(sheet.plate_number(), 2, 10, QChar(u'0'))
           : sheet.free()
               ? from_utf8(kind_word(sheet))
               : from_utf8(traits(sheet.across.knob).brief) + u" × "_s + from_utf8(traits(sheet.down.knob).brief);
}

QString hope_text(double de, double spread) {
    return QObject::tr("hope %1 ± %2").arg(QString::number(de, 'f', 1), QString::number(spread, 'f', 1));
}

/// The sheet that would follow the newest one, if that is shown and read.
std::optional<NextSheet> proposed(const Workbench& w) {
    const Draft& d = w.draft();
    const Round* r = w.round();
    if (r == nullptr || !r->reading || r->sheet.number != w.rounds().back().sheet.number)
        return std::nullopt;
    const auto ranked = rank(*r->reading, d.target, w.forecast());
    if (ranked.empty() || r->sheet.free() || d.target.depth) // free cells are designed when they are asked for
        return std::nullopt;
    auto next = next_sheet(r->sheet, *r->reading, d.target, middle_cell(*r->reading, d.cell, ranked), w.scene());
    return next ? std::optional(std::move(*next)) : std::nullopt;
}

} // namespace

std::vector<RoundView> round_views(const Workbench& w) {
    std::vector<RoundView> out;
    const Draft& d = w.draft();
    for (std::size_t i = 0; i < w.rounds().size(); ++i) {
        const Round& r = w.rounds()[i];
        RoundView v;
        v.number = r.sheet.number;
        v.title = QObject::tr("Sheet %1").arg(r.sheet.number, 2, 10, QChar(u'0'));
        v.current = r.sheet.number == d.shown_sheet;
        v.measured = r.reading.has_value();
        v.note = v.current    ? QObject::tr("shown")
                 : v.measured ? QObject::tr("measured")
                 : r.burned   ? QObject::tr("burned")
                              : QObject::tr("planned");
        v.axes = axes_words(r.sheet);
        const auto burned = r.sheet.cells() - static_cast<std::size_t>(
                                                  std::count(r.sheet.left_out.begin(), r.sheet.left_out.end(), true));
        v.cost = burned == 1 ? QObject::tr("1 cell") : QObject::tr("%1 cells").arg(burned);
        v.columns = r.sheet.columns();
        v.rows = r.sheet.rows();
        v.colours.resize(r.sheet.cells());
        const Target& target = d.target;
        double best = 1e9;
        if (r.reading) {
            for (std::size_t c = 0; c < r.sheet.cells(); ++c)
                if (r.reading->cells[c].state == CellState::read) {
                    v.colours[c] = r.reading->cells[c].lab;
                }
            for (const CellReading& c : r.reading->cells)
                if (const auto off = miss(target, c))
                    best = std::min(best, *off);
            v.best = r.sheet.asks()               ? QObject::tr("answered")
                     : best < 1e8 && target.depth ? QObject::tr("best %1 off").arg(um_text(best))
                     : best < 1e8                 ? QObject::tr("best ΔE₀₀ %1").arg(QString::number(best, 'f', 1))
                                                  : QString();
        } else {
            const OwnScene then = w.scene_of(r, r.before);
            const SheetForecast f = v.current ? w.first_forecast() : forecast(r.sheet, then.scene());
            v.cost += u", "_s + screen_duration(f.total_s);
            for (std::size_t c = 0; c < r.sheet.cells(); ++c)
                v.colours[c] = cell_look(then.scene(), r.sheet.base, f.cells[c]);
            if (r.hoped_de)
                v.best = hope_text(*r.hoped_de, r.hoped_spread);
        }
        if (i + 1 < w.rounds().size())
            v.reason = QString::fromStdString(w.rounds()[i + 1].reason);
        out.push_back(std::move(v));
    }
    if (const auto next = proposed(w)) {
        out.back().reason = QString::fromStdString(next->reason);
        RoundView v;
        v.title = QObject::tr("Sheet %1").arg(w.next_sheet(), 2, 10, QChar(u'0'));
        v.note = QObject::tr("proposed");
        v.proposed = true;
        v.axes = out.back().axes;
        v.cost = QObject::tr("%1 cells").arg(next->request.across.count * next->request.down.count);
        if (next->hoped_de)
            v.best = hope_text(*next->hoped_de, next->hoped_spread);
        out.push_back(std::move(v));
    } else if (const Round* r = w.round(); r != nullptr && (r->sheet.free() || d.target.depth) && !r->sheet.asks() &&
                                           r->reading && r->sheet.number == w.rounds().back().sheet.number) {
        // What it promises is worked out when it is asked for.
        out.back().reason = QObject::tr("Next: cells designed from all that was read here.");
        RoundView v;
        v.title = QObject::tr("Sheet %1").arg(w.next_sheet(), 2, 10, QChar(u'0'));
        v.note = QObject::tr("proposed");
        v.proposed = true;
        v.axes = QObject::tr("free cells");
        v.cost = QObject::tr("%1 cells at most").arg(d.target.depth ? later_depths : later_films);
        out.push_back(std::move(v));
    }
    return out;
}

} // namespace finch::app
