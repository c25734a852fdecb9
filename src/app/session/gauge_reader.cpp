// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/gauge_reader.h"

namespace finch::app {

GaugeReader::GaugeReader(Workbench& workbench, Gauge& gauge, QObject* parent)
    : QObject(parent), workbench_(workbench), gauge_(gauge) {
    connect(&gauge_, &Gauge::measured, this, [this](RequestId id, const std::vector<GaugeDepth>& depths) {
        if (probe_ != id || depths.size() != cells_.size())
            return;
        std::vector<CellDepth> out;
        for (std::size_t i = 0; i < cells_.size(); ++i)
            out.push_back({cells_[i], depths[i]});
        end();
        Q_EMIT measured(sheet_, out);
    });
    connect(&gauge_, &Gauge::failed, this, [this](RequestId id, const Error& error) {
        if (probe_ != id)
            return;
        end();
        workbench_.fail(error);
    });
}

void GaugeReader::measure(const ProofSheet& sheet) {
    if (running())
        return;
    cells_ = burned_cells(sheet);
    const std::vector<PointMm> points = middles(sheet, cells_);
    if (points.empty())
        return workbench_.say(tr("No cell of this sheet is burned."), State::warn);
    sheet_ = sheet.number;
    probe_ = gauge_.measure(points);
    Q_EMIT changed();
}

void GaugeReader::cancel() {
    if (!probe_)
        return;
    gauge_.cancel(*probe_);
    end();
}

void GaugeReader::end() {
    probe_.reset();
    Q_EMIT changed();
}

} // namespace finch::app

#include "moc_gauge_reader.cpp"
