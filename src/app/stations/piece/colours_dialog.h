// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/palette_maker.h"
#include "app/session/piece_reader.h"

#include <map>
#include <QDialog>
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>

namespace finch::app {

/// The layers of the drawing with the colours that they are wanted in, and what was read nearest to each on this bench
/// and lot. Those that are ticked get its recipe.
class ColoursDialog final : public QDialog {
    Q_OBJECT
public:
    ColoursDialog(Workbench& workbench, PieceReader& reader, QWidget* parent = nullptr);

private:
    struct Row {
        PieceLayer layer;
        Expected<WantedColour> wanted;          ///< as it is drawn, or as it was typed
        std::optional<PaletteColour> read = {}; ///< nearest to it
        double short_de = 0;
        std::optional<bool> ticked = {}; ///< by hand; none: where it is near enough
        [[nodiscard]] bool near(double accept_de) const { return read && short_de <= accept_de; }
        [[nodiscard]] bool taken(double accept_de) const {
            return read && wanted && ticked.value_or(near(accept_de) && !layer.choice.guide);
        }
    };
    void match();
    void show_rows();
    void edited(QTableWidgetItem* item);
    void take();
    void want_rest();
    /// Rows that are to be marked and whose colour nothing comes near enough to.
    [[nodiscard]] std::vector<const Row*> rest() const;

    Workbench& workbench_;
    PieceReader& reader_;
    PaletteMaker maker_;
    std::vector<Row> rows_; ///< in the order of marking
    QTableWidget* table_;
    QLabel* says_;
    QPushButton *take_ = nullptr, *want_ = nullptr;
};

} // namespace finch::app
