// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/bench_drawings.h"
#include "app/instruments/edit_field.h"
#include "app/session/workbench.h"

#include <filesystem>
#include <functional>
#include <QComboBox>
#include <QWidget>
#include <vector>

class QGridLayout;
class QLabel;
class QPushButton;
class QStackedWidget;

namespace finch::app {

/// What is in front of me: source, lens, stock and focus, each drawn to scale and editable.
class BenchStation final : public QWidget {
    Q_OBJECT
public:
    BenchStation(Workbench& workbench, std::vector<Bench> benches, QWidget* parent = nullptr);

protected:
    void showEvent(QShowEvent* event) override;
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    struct Column {
        QWidget* page = nullptr;
        QGridLayout* rows = nullptr;
        Drawing* drawing = nullptr;
        QLabel* meta = nullptr;
        int next = 0;
        int field_width = 112;
    };
    /// A field bound to a part of the setup: shows it on every change, writes it back as an undo step.
    struct Bound {
        std::function<void(const Setup&)> show;
    };
    Column make_column(const QString& title, const QString& object_name, int drawing_height);
    void add_number(Column& column, const QString& label, const QString& name, QuantityKind kind, ParseContext context,
                    std::function<double(const Setup&)> read, std::function<void(Setup&, double)> write);
    QComboBox* add_choice(Column& column, const QString& label, const QString& name, const QStringList& words,
                          std::function<int(const Setup&)> read, std::function<void(Setup&, int)> write);
    void add_text(Column& column, const QString& label, const QString& name,
                  std::function<std::string(const Setup&)> read, std::function<void(Setup&, const std::string&)> write);
    void add_fact(Column& column, const QString& label, const QString& name,
                  std::function<QString(const Workbench&)> read, bool warns = false);
    void build_source();
    void build_lens();
    void build_stock();
    void build_focus();
    void build_reach();
    void build_banner();
    void refresh();
    void refresh_drawings();
    void refresh_banner();
    void change(const QString& what, const std::function<void(Setup&)>& edit);

    Workbench& workbench_;
    std::vector<Bench> benches_;
    QWidget* columns_;
    QStackedWidget* pages_ = nullptr;
    QWidget* banner_;
    QLabel* banner_title_ = nullptr;
    QLabel* banner_text_ = nullptr;
    QPushButton* head_moved_ = nullptr;
    QPushButton* confirm_ = nullptr;
    Column source_, lens_, stock_, focus_, reach_;
    QComboBox* lens_choice_ = nullptr;
    QStringList metal_keys_;
    std::vector<Bound> bound_;
    bool showing_ = false;
};

} // namespace finch::app
