// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/focus_chart.h"
#include "app/session/focus_finder.h"
#include "app/session/proof_flow.h"

#include <array>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>

namespace finch::app {

/// Where the focus is: the newest ladder of this bench, what it found, and what that leaves for the piece.
class FocusPage final : public QWidget {
    Q_OBJECT
public:
    FocusPage(Workbench& workbench, ProofFlow& flow, QWidget* parent = nullptr);

    void refresh();
    [[nodiscard]] bool can_take() const { return finder_.held_back().isEmpty() && !finder_.taken(); }
    [[nodiscard]] QString take_text() const;
    void take() { finder_.take(); }
    /// The ladder that is shown; null if there is none.
    [[nodiscard]] const Round* ladder() const { return finder_.ladder(); }
    [[nodiscard]] QString subtitle() const;
    /// A ladder of the recipe set now: settled in a dialog, planned and shown.
    void ask_ladder();

Q_SIGNALS:
    void finding_changed();
    void ladder_planned();

private:
    struct Readout {
        QLabel *value = nullptr, *words = nullptr;
    };
    [[nodiscard]] Readout make_readout(const QString& title, const QString& name, QHBoxLayout* row);
    QWidget* make_right();
    void show_finding();

    Workbench& workbench_;
    ProofFlow& flow_;
    FocusFinder finder_;
    FocusChart* chart_;
    FieldMap* map_ = nullptr;
    std::array<Readout, 4> readouts_;
    QLabel* words_ = nullptr;
    QLabel* rests_ = nullptr;
    QLabel* held_ = nullptr;
};

} // namespace finch::app
