// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/instrument.h"
#include "app/session/workbench.h"
#include "record/logbook.h"

#include <optional>
#include <QImage>
#include <vector>

namespace finch::app {

/// The detail of one entry, or the comparison of two.
class EntryDetail final : public Instrument {
    Q_OBJECT
public:
    EntryDetail(const Logbook* logbook, const Workbench& workbench, QWidget* parent = nullptr);
    void show_entry(long long id);
    void show_comparison(long long a, long long b);
    void clear();
    [[nodiscard]] QSize sizeHint() const override { return {700, static_cast<int>(height_)}; }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    struct Fact {
        QString name, value;
    };
    void paint_one(QPainter& painter);
    void paint_two(QPainter& painter);
    void set_height(double height);

    const Logbook* logbook_;
    const Workbench& workbench_;
    std::optional<Entry> one_, two_;
    std::vector<QImage> pictures_, second_pictures_;
    std::vector<QString> picture_names_;
    std::vector<Fact> facts_;
    Comparison comparison_;
    double height_ = 400;
};

/// The state shape of an outcome.
[[nodiscard]] State state_of(Outcome outcome);

} // namespace finch::app
