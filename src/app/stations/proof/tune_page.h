// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/knob_row.h"
#include "app/instruments/regime_map_view.h"
#include "app/instruments/surface_view.h"
#include "app/session/aim_flow.h"
#include "app/session/tune_worker.h"

#include <QTimer>
#include <QWidget>

class QCheckBox;
class QComboBox;
class QLabel;
class QPushButton;
class QVBoxLayout;

namespace finch::app {

/// The knobs of the recipe with what each does; the map of what happens over two of them; the surface that results; and
/// other ways to the same mark.
class TunePage final : public QWidget {
    Q_OBJECT
public:
    TunePage(Workbench& workbench, AimFlow& aims, QWidget* parent = nullptr);
    void refresh();
    /// Opens the advice on more or less heat.
    void show_heat();
    [[nodiscard]] TuneWorker& worker() { return *worker_; }

protected:
    void showEvent(QShowEvent* event) override;
    void paintEvent(QPaintEvent*) override;

private:
    struct Other {
        QWidget* row = nullptr;
        QLabel* name = nullptr;
        QLabel* recipe = nullptr;
        QLabel* time = nullptr;
        QLabel* swing = nullptr;
        QPushButton* take = nullptr;
    };
    void add_knobs(QVBoxLayout* column);
    void add_others(QVBoxLayout* column);
    void add_map(QVBoxLayout* column);
    void add_surface(QVBoxLayout* column);
    void refresh_ranges();
    void refresh_map();
    void refresh_surface();
    void refresh_others();
    void refresh_notes();

    Workbench& workbench_;
    AimFlow& aims_;
    TuneWorker* worker_;
    std::vector<KnobRow*> rows_;
    QCheckBox* cross_hatch_ = nullptr;
    std::vector<Other> others_;
    QLabel* others_title_ = nullptr;
    QComboBox* across_ = nullptr;
    QComboBox* down_ = nullptr;
    RegimeMapWidget* map_ = nullptr;
    QLabel* map_note_ = nullptr;
    SurfaceWidget* surface_ = nullptr;
    QLabel* surface_title_ = nullptr;
    QLabel* surface_words_ = nullptr;
    QLabel* notes_ = nullptr;
    QTimer idle_, surface_soon_;
    std::vector<std::optional<std::pair<double, double>>> keeps_;
};

} // namespace finch::app
