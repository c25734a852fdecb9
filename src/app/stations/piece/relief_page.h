// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/edit_field.h"
#include "app/stations/piece/piece_panels.h"
#include "app/stations/piece/relief_words.h"

class QCheckBox;
class QLabel;
class QPushButton;

namespace finch::app {

/// Ways to cut a relief side by side. Up and Down choose, Enter takes one.
class WayList final : public Instrument {
    Q_OBJECT
public:
    explicit WayList(QWidget* parent = nullptr);
    void show_rows(std::vector<WayView> rows);

Q_SIGNALS:
    void taken(std::size_t row);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;

private:
    std::vector<WayView> rows_;
    std::optional<std::size_t> at_; ///< where the arrow keys are
};

/// A height map and how it is cut: lit, with its layers, levels and section, other ways beside it, and what is to be
/// known.
class ReliefPage final : public QWidget {
    Q_OBJECT
public:
    ReliefPage(Workbench& workbench, ReliefReader& reader, QWidget* parent = nullptr);
    void refresh();

private:
    struct Field {
        EditField* edit;
        double (*get)(const ReliefRules&);
    };
    QWidget* make_left();
    QWidget* make_right();
    QWidget* make_fields(QWidget* parent);
    EditField* field(const QString& name, const QString& label, QuantityKind kind, const ParseContext& context,
                     double (*get)(const ReliefRules&), void (*set)(ReliefRules&, double));
    QCheckBox* check(const QString& name, const QString& label, const QString& tip, bool (*get)(const ReliefRules&),
                     void (*set)(ReliefRules&, bool));
    void show_shape();
    [[nodiscard]] ReliefPicture picture_now() const;
    [[nodiscard]] const ReliefRules& rules() const;

    Workbench& workbench_;
    ReliefReader& reader_;
    ReliefRules none_;
    const ReadRelief* of_ = nullptr; ///< whose layers are looked at; never looked into
    int layers_done_ = -1;           ///< of what is looked at; -1 = all
    std::vector<Field> fields_;
    std::vector<std::pair<QCheckBox*, bool (*)(const ReliefRules&)>> checks_;
    ReliefView* view_ = nullptr;
    LayerScrubber* scrubber_ = nullptr;
    GreyHistogram* greys_ = nullptr;
    SectionChart* section_ = nullptr;
    WayList* ways_ = nullptr;
    FindingList* findings_ = nullptr;
    QLabel* recipe_ = nullptr;
    QLabel* time_ = nullptr;
    QPushButton* stretch_ = nullptr;
    QPushButton* fit_ = nullptr;
};

} // namespace finch::app
