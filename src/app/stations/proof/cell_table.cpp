// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/proof/cell_table.h"

#include "app/session/text.h"

#include "app/instruments/paint.h"
#include "proof/answer.h"
#include "proof/tilt_series.h"
#include "quantity/format.h"

namespace finch::app {

using namespace Qt::StringLiterals;

void CellTable::reload() {
    beginResetModel();
    rows_.clear();
    heads_ = {tr("Cell")};
    if (const Round* r = workbench_.round()) {
        const std::vector<Knob> varied = varied_knobs(r->sheet);
        const std::size_t own = 1 + varied.size();
        const Target held = held_against(r->sheet, r->reading ? &*r->reading : nullptr, workbench_.draft().target);
        const bool asked = r->sheet.lot || r->sheet.threshold;
        name_column_ = static_cast<int>(own) + 6;
        for (const Knob k : varied)
            heads_ << from_utf8(traits(k).label) + u", "_s + from_utf8(traits(k).unit);
        heads_ << tr("Dose, J/mm²") << tr("Pulses per mm²") << tr("Time") << tr("Predicted") << tr("Film, nm")
               << tr("Measured L* a* b*") << tr("Name") << tr("ΔE₀₀ to %1").arg(asked ? q(held.name) : tr("target"))
               << tr("Uneven") << tr("Off by at most");
        const bool depths = !traits(r->sheet.base.process).lasting_colour;
        if (depths)
            heads_ << tr("Predicted, µm") << tr("Depth, µm");
        const auto any = [&](auto&& has) { return r->reading && std::ranges::any_of(r->reading->cells, has); };
        const bool tilts = any([](const CellReading& c) { return !c.tilted.empty(); });
        const bool glosses = any([](const CellReading& c) { return c.gloss.has_value(); });
        if (tilts)
            heads_ << tr("Holds at a tilt");
        if (glosses)
            heads_ << tr("Gloss, GU");
        for (std::size_t i = 0; i < r->sheet.cells(); ++i) {
            if (!r->sheet.holds(i))
                continue;
            const Recipe recipe = cell_recipe(r->sheet, i);
            const CellForecast& f = workbench_.first_forecast().cells.at(i);
            std::vector<QString> row{QString::fromStdString(cell_name(r->sheet, i))};
            for (const Knob k : varied)
                row.push_back(screen_number(knob_value(recipe, k), 4));
            if (f.prediction) {
                row.push_back(screen_number(f.prediction->mark.pattern.areal_dose_j_m2 / 1e6));
                row.push_back(screen_number(f.prediction->mark.pattern.pulses_per_m2 / 1e6));
                row.push_back(screen_duration(f.time_s));
                row.push_back(f.prediction->mark.look.valid ? lab_text(f.prediction->lab())
                                                            : QString::fromStdString(told_words(f.prediction->shares)));
                row.push_back(f.prediction->film_seen() ? screen_number(f.prediction->oxide_nm(), 2) : QString());
            } else
                row.resize(own + 5, tr("cannot"));
            row.resize(own + 10);
            const bool left_out = i < r->sheet.left_out.size() && r->sheet.left_out[i];
            if (left_out)
                row[own + 5] = tr("left out");
            else if (r->reading) {
                const CellReading& c = r->reading->cells.at(i);
                row[own + 5] = c.state != CellState::read ? (r->reading->photographed() ? tr("hidden") : QString())
                               : c.spoiled                ? tr("spoiled")
                                                          : lab_text(c.lab);
                if (c.state == CellState::read && !c.spoiled) { // else its colour is no film's
                    row[own + 6] = from_utf8(colour_name(c.lab));
                    if (!held.depth)
                        row[own + 7] = screen_number(distance(held, c.lab), 2);
                    row[own + 8] = screen_number(c.unevenness, 2);
                    row[own + 9] = tr("± %1").arg(screen_number(c.within_de, 2));
                }
            }
            if (depths) {
                row.push_back(f.prediction && f.prediction->removal ? screen_number(f.prediction->depth_um(), 3)
                                                                    : QString());
                row.emplace_back();
                if (r->reading)
                    if (const CellReading& c = r->reading->cells.at(i); c.depth_um)
                        row.back() =
                            u"%1 ± %2"_s.arg(screen_number(*c.depth_um, 4), screen_number(c.depth_within_um, 2));
            }
            if (tilts) {
                const CellReading& c = r->reading->cells.at(i);
                const auto score = tilt_score(c);
                row.push_back(score && !c.spoiled ? from_utf8(tilt_words(*score)) : QString());
            }
            if (glosses) {
                const CellReading& c = r->reading->cells.at(i);
                row.push_back(c.gloss ? screen_number(*c.gloss, 4) : QString());
            }
            rows_.push_back(std::move(row));
        }
    }
    endResetModel();
}

int CellTable::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(rows_.size());
}

int CellTable::columnCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(heads_.size());
}

QVariant CellTable::data(const QModelIndex& index, int role) const {
    if (!index.isValid())
        return {};
    if (role == Qt::DisplayRole)
        return rows_[static_cast<std::size_t>(index.row())][static_cast<std::size_t>(index.column())];
    if (role == Qt::TextAlignmentRole)
        return QVariant(index.column() == 0 || index.column() == name_column_ ? Qt::AlignLeft | Qt::AlignVCenter
                                                                              : Qt::AlignRight | Qt::AlignVCenter);
    return {};
}

QVariant CellTable::headerData(int section, Qt::Orientation orientation, int role) const {
    if (role == Qt::DisplayRole && orientation == Qt::Horizontal && section < heads_.size())
        return heads_[section];
    return {};
}

} // namespace finch::app

#include "moc_cell_table.cpp"
