// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/instrument.h"
#include "app/session/round.h"
#include "proof/comparison.h"

#include <optional>

namespace finch::app {

/// View data of a comparison: what was settled, and what the readings say.
struct CompareView {
    QString first, second, measure; ///< what the rows are, what was compared
    double matters = 1;
    std::optional<ComparisonVerdict> verdict;
    QString note; ///< why there is none yet
};

/// A comparison as it was settled, with what its reading says; the sheet must be of pairs.
[[nodiscard]] CompareView compare_view(const Round& round);

/// Readings of both rows with lines between partners, the difference with its interval against what matters, and the
/// verdict.
class ComparePanel final : public Instrument {
    Q_OBJECT
public:
    explicit ComparePanel(QWidget* parent = nullptr);
    void show_view(CompareView view);
    [[nodiscard]] const CompareView& view() const { return view_; }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    void paint_readings(QPainter& painter, const QRectF& box) const;
    void paint_difference(QPainter& painter, const QRectF& box) const;
    CompareView view_;
};

} // namespace finch::app
