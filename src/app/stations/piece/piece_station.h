// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/scanner_timer.h"
#include "app/stations/piece/film_page.h"
#include "app/stations/piece/relief_page.h"

class QLabel;
class QPushButton;
class QScrollArea;
class QStackedWidget;

namespace finch::app {

/// From a drawing to layers that each have a recipe: where they lie, how they are hatched, how long they take.
class PieceStation final : public QWidget {
    Q_OBJECT
public:
    PieceStation(Workbench& workbench, ScannerTimer& timer, QWidget* parent = nullptr);
    [[nodiscard]] PieceReader& reader() { return reader_; }
    [[nodiscard]] ReliefReader& relief() { return relief_; }
    /// Asks for a drawing.
    void ask_open();
    /// Offers those that were opened last.
    void ask_recent();
    void read_again();
    /// Reads the picture at hand as a height map, or as black and white again.
    void switch_relief();
    /// Asks where to, and in which form.
    void ask_export();
    /// What follows is done to the chosen layer; without one it is said.
    void take_recipe();
    void switch_guide();
    void switch_fill();
    void move_layer(int by);
    /// What lies within a line that is drawn by hand becomes a layer; or the chosen layer, if it was one, is given
    /// back.
    void switch_round();
    /// Asks for a box instead of a line.
    void ask_box();
    /// The chosen fault is left as it is drawn, or mended.
    void leave_or_mend();
    /// The next finding that has a place, round and round.
    void next_finding();
    /// Asks how long scans took at the bench.
    void ask_times();
    /// Asks what is typed on the drawing, or on an empty page.
    void ask_texts();
    void ask_size();
    /// Which layers get recipes of the palette, by the colours they are drawn in.
    void ask_colours();
    /// Writes the picture of fine detail for this lens into a folder, and opens it.
    void open_detail(const QString& folder);
    /// Asks how the chosen layer is filled.
    void ask_fill();
    /// Asks where the piece lies.
    void ask_place();
    /// The steps of work with a sprayed film, or the drawing again.
    void switch_steps();
    [[nodiscard]] FilmPage& film() { return *film_page_; }
    /// Asks what it costs and is sold for.
    void ask_cost();
    /// Asks for an order that keeps the plate cool.
    void ask_order();
    /// The piece as it lies, drawing or relief, as a job that a bench runs; answered once.
    void make_ready(std::function<void(const Expected<std::shared_ptr<const ReadyJob>>&)> answer);

Q_SIGNALS:
    /// It is to be run.
    void run_asked();

protected:
    void showEvent(QShowEvent* event) override;
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;

private:
    QWidget* make_head();
    QWidget* make_drawing_page();
    void refresh_relief();
    QWidget* make_right();
    void refresh();
    void choose_layer(std::size_t layer);
    void choose_finding(std::size_t finding);
    void take_round(const QPolygonF& line);
    [[nodiscard]] bool has_layer();

    Workbench& workbench_;
    ScannerTimer& timer_;
    PieceReader reader_;
    ReliefReader relief_;
    std::vector<LayerPath> paths_;     ///< of the drawing's layers
    const ReadPiece* drawn_ = nullptr; ///< whose paths they are; never looked into
    std::optional<std::size_t> layer_, finding_;
    std::string chosen_; ///< name of that layer
    QStackedWidget* pages_ = nullptr;
    ReliefPage* relief_page_ = nullptr;
    FilmPage* film_page_ = nullptr;
    QPushButton* as_steps_ = nullptr;
    QPushButton* as_relief_ = nullptr;
    QPushButton* place_ = nullptr;
    QLabel* title_ = nullptr;
    QLabel* under_ = nullptr;
    DrawingView* drawing_ = nullptr;
    LayerList* layers_ = nullptr;
    HatchLens* lens_ = nullptr;
    FindingList* findings_ = nullptr;
    QScrollArea* layers_scroll_ = nullptr;
    QScrollArea* findings_scroll_ = nullptr;
    QLabel* findings_head_ = nullptr;
    PartsBar* bar_ = nullptr;
    QLabel* time_ = nullptr;
    std::vector<QPushButton*> of_layer_;
    QPushButton* guide_ = nullptr;
    QPushButton* fill_ = nullptr;
    QPushButton* size_ = nullptr;
    QPushButton* close_up_ = nullptr;
    QPushButton* round_ = nullptr;
    QPushButton* leave_ = nullptr;
    QPushButton* export_ = nullptr;
    QPushButton* run_ = nullptr;
};

} // namespace finch::app
