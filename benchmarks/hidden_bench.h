// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "formats/data_folder.h"
#include "proof/layout.h"
#include "proof/reading.h"
#include "search/burn_order.h"
#include "search/next_cells.h"
#include "standin/camera.h"
#include "standin/nature.h"
#include "standin/plate.h"

namespace finch::study {

inline constexpr double cell_w = 5, cell_h = 4;
inline const Fill one_cell{mm(cell_w), cell_w* cell_h};

/// What is known: the bench and the stock as the data files tell them.
struct Shop {
    Materials materials = load_materials("data").value();
    std::shared_ptr<const standin::Nature> nature =
        std::make_shared<const standin::Nature>(standin::load_nature("data").value());
    Setup setup{load_bench("data", "wren").value(), {}, {}};
    std::shared_ptr<const Metal> metal;
    std::shared_ptr<const FilmTable> table;
    Recipe labels;

    Shop(const char* bench, const char* stock);
    /// Four markers and the names, in a dark mark that this metal takes.
    [[nodiscard]] double lettering_s(ProofSheet sheet) const;
    [[nodiscard]] Scene scene() const { return {materials, *metal, setup.bench, setup.stock}; }
};

struct Burned {
    Lab seen, truth;
    bool spoiled = false;
    double film_nm = 0;
    double read_sd = 0.7; ///< that is stated of the reading; unread_sd: it could not be read
    double warmth_k = 0;  ///< nominal, from the cells before it
};

/// How the cells of a sheet are looked at: as numbers with noise, bias and misreadings, or through the camera of the
/// bench and the program's own reading of its photographs, as it comes or set right once by the printed chart.
enum class Eyes { numbers, photographs, set_right };

/// A bench that nobody knows, and what it has cost so far.
class HiddenBench {
public:
    HiddenBench(const Shop& shop, standin::Grade grade, std::uint64_t seed, Eyes eyes = Eyes::numbers);

    /// One cell by itself on a cold plate, told truly: for finding out what can be reached at all.
    [[nodiscard]] Burned alone(const Recipe& r) const;
    /// A sheet, cell by cell in this order, and what is seen of it.
    /// Photographed cells lie on a frame, in the program's own order. Without `heats` no warmth is told.
    std::vector<Burned> sheet(const std::vector<Recipe>& cells, const std::vector<CellPlace>& at,
                              const std::vector<CellHeat>& heats);
    /// An instrument measures cells of the last sheet, which sets its photograph right: that sheet, as it is seen then.
    std::vector<Burned> measured(std::vector<Burned> last, const std::vector<std::size_t>& cells);
    /// Takes a sheet's place on the plate: of the free places of the frame that was begun, or of a new one.
    void take_frame(std::size_t cells);
    void take_plate(const ProofSheet& sheet);

    double marking_s = 0, plate_cm2 = 0;
    std::size_t cells_burned = 0;
    int damaged = 0, sheets = 0;
    int unread_photos = 0, hidden_cells = 0; ///< of photographs alone
    int by_instrument = 0;                   ///< cells

private:
    [[nodiscard]] std::vector<Burned> as_numbers(const std::vector<Recipe>& cells, const std::vector<CellPlace>& at);
    [[nodiscard]] std::vector<Burned> as_photographed(const std::vector<Recipe>& cells,
                                                      const std::vector<CellHeat>& heats);
    void see(std::vector<Burned>& cells) const;
    [[nodiscard]] std::optional<CameraColour> by_chart(const standin::CameraBody& body) const;

    const Shop& shop_;
    standin::Grade grade_;
    std::uint64_t seed_;
    standin::World world_;
    Draws chance_;
    Eyes eyes_;
    std::optional<CameraColour> camera_; ///< how its colours were set right
    std::size_t free_places_ = 0;
    std::optional<SheetReading> reading_; ///< of the last sheet
};

} // namespace finch::study
