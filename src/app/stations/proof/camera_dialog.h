// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/chart_view.h"
#include "app/session/camera_setter.h"

#include <QDialog>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QTableWidget>

namespace finch::app {

/// The cameras whose colours were set right, which of them photographs are read with, and setting one right.
class CameraDialog final : public QDialog {
    Q_OBJECT
public:
    CameraDialog(Workbench& workbench, CameraSetter& setter, QWidget* parent = nullptr);
    /// A `finch-camera` document from elsewhere, in use from now on.
    void take_file(const QString& path);
    /// SVG or PDF, by its ending.
    void print_to(const QString& path);

private:
    QWidget* make_cameras();
    QWidget* make_ways();
    QWidget* make_values();
    QWidget* make_keep();
    void fill_cameras();
    void show_found();
    void use_chosen();
    void keep();
    void ask_file();
    void ask_photo();
    void ask_values();
    void ask_print();
    [[nodiscard]] ChartPicture picture() const;
    [[nodiscard]] QString words() const;
    void tell(const Error& error);

    Workbench& workbench_;
    CameraSetter& setter_;
    std::vector<std::optional<CameraColour>> rows_; ///< of the table; the first is no camera
    std::optional<CameraColour> in_use_;
    QTableWidget* table_;
    ChartView* view_;
    QLabel* says_;
    QPlainTextEdit* values_ = nullptr;
    QLineEdit* name_ = nullptr;
    QPushButton *use_ = nullptr, *photograph_ = nullptr, *sheet_ = nullptr, *keep_ = nullptr;
};

} // namespace finch::app
