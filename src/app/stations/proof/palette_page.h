// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/colour_plane.h"
#include "app/session/palette_maker.h"
#include "app/session/proof_flow.h"
#include "app/stations/proof/palette_panels.h"

class QLabel;
class QLineEdit;
class QPushButton;

namespace finch::app {

/// Colours that this bench makes on this lot: which are at hand, how they hold, and how near wanted ones are.
class PalettePage final : public QWidget {
    Q_OBJECT
public:
    PalettePage(Workbench& workbench, ProofFlow& flow, QWidget* parent = nullptr);
    void refresh();
    /// Whether a colour is chosen whose values can be taken.
    [[nodiscard]] bool can_take() const;
    /// The chosen colour's exact values become the recipe.
    void take();
    [[nodiscard]] PaletteMaker& maker() { return maker_; }

Q_SIGNALS:
    void chosen_changed();
    /// A sheet for what no cell meets yet is planned and shown.
    void gaps_planned();
    /// Its colours are to become those of the layers of the drawing.
    void layers_asked();

private:
    QWidget* make_right();
    QWidget* make_wanted_line();
    void choose(std::size_t colour);
    void choose_wanted(std::size_t box);
    void add_wanted();
    void forget_wanted();
    void plan_gaps();
    void show_palette();
    [[nodiscard]] const PaletteColour* chosen() const;

    Workbench& workbench_;
    ProofFlow& flow_;
    PaletteMaker maker_;
    ColourPlane* plane_;
    SwatchList* list_ = nullptr;
    WantedRow* wanted_ = nullptr;
    QLabel* name_ = nullptr;
    QLabel* values_ = nullptr;
    QLabel* rests_ = nullptr;
    QLabel* accept_ = nullptr;
    QLineEdit* text_ = nullptr;
    QPushButton* forget_ = nullptr;
    QPushButton* gaps_ = nullptr;
    std::optional<Recipe> recipe_; ///< of the chosen colour: it is kept when the palette is made anew
    std::optional<std::size_t> box_;
};

} // namespace finch::app
