// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/instrument.h"

namespace finch::app {

/// Consecutive spots on neighbouring lines, to scale. Lengths in µm.
struct StampView {
    double spot_um = 60;
    double pulse_pitch_um = 3;
    double hatch_pitch_um = 4;
};

void paint_pulse_stamp(QPainter& painter, const QRectF& box, const StampView& view, const Theme& theme);

class PulseStamp final : public Instrument {
    Q_OBJECT
public:
    explicit PulseStamp(const QString& name, QWidget* parent = nullptr) : Instrument(name, tr("Pulse stamp"), parent) {
        setMinimumSize(160, 62);
    }
    void show_view(const StampView& view);

Q_SIGNALS:
    /// The operator asks why the overlap is what it is.
    void asked();

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override { Q_EMIT asked(); }

private:
    StampView view_;
};

} // namespace finch::app
