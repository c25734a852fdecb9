// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "piece/art_size.h"
#include "piece/drawn_round.h"
#include "piece/job_step.h"
#include "piece/layer_fill.h"
#include "piece/place_rules.h"
#include "piece/relief_rules.h"
#include "piece/typed_text.h"
#include "proof/camera_colour.h"
#include "proof/next_sheet.h"
#include "proof/palette.h"
#include "proof/scrap_bin.h"
#include "recipe/plan.h"
#include "recipe/quote.h"

#include <map>
#include <nlohmann/json_fwd.hpp>
#include <optional>
#include <string>
#include <vector>

namespace finch::app {

/// A sheet that is planned: what, for which set-up, and why. A choice, until it is burned.
struct PlannedSheet {
    ProofSheet sheet;
    Setup setup;        ///< that it was planned for
    std::string reason; ///< why this sheet: shown before the arrow
    std::optional<double> hoped_de;
    double hoped_spread = 0;
    Evidence before;                      ///< what was known when it was planned
    std::optional<ScrapPlace> scrap = {}; ///< where it is to lie on a piece of the scrap bin; none: on fresh stock
    bool operator==(const PlannedSheet&) const = default;
};

/// What is done with one layer of the drawing, which is known by its name and colour.
struct LayerChoice {
    std::string name, colour;
    bool guide = false;           ///< shown by the pointer, never marked
    std::optional<Recipe> recipe; ///< none: not chosen yet
    std::string taken_on;         ///< evidence key of the set-up on which the recipe was taken
    LayerFill fill;
    bool operator==(const LayerChoice&) const = default;
};
/// The height map at hand, and how it is to be cut.
struct ReliefChoice {
    ReliefRules rules;
    std::optional<Recipe> recipe; ///< of one pass; none: not chosen yet
    std::string taken_on;         ///< evidence key of the set-up on which it was taken
    bool operator==(const ReliefChoice&) const = default;
};
/// A way to make the piece that was kept to be compared with another.
struct KeptRoute {
    std::string name;
    CostRules rules;
    double spoiled = 0;
    bool operator==(const KeptRoute&) const = default;
};
/// The drawing at hand.
struct PieceChoice {
    std::string file;
    std::vector<LayerChoice> layers; ///< in the order of marking; layers that are not in it come after, as in the file
    std::vector<JobStep> steps; ///< an order for the heat's sake, of the layers as they stand; empty: layer by layer
    PlaceRules place;           ///< where the drawing lies, and how often
    std::optional<ReliefChoice> relief; ///< the file is a height map instead
    std::optional<PointMm> blank = {};  ///< width and height of an empty page, where there is no file
    TypedTexts typed = {};
    std::vector<DrawnRound> rounds = {}; ///< layers that were drawn round by hand
    std::vector<PointMm> as_drawn = {};  ///< faults that are not mended
    PriceRules price = {};               ///< how it is priced
    std::optional<KeptRoute> against = {};
    ArtSize size = {};     ///< how large the drawing becomes
    int film_together = 4; ///< pieces that are sprayed and washed together
    bool operator==(const PieceChoice&) const = default;
};

/// The choices of the work at hand: what undo steps through and autosave keeps. What was burned, read or confirmed is
/// no choice and is not in here, but for the focus confirmation, which the workbench puts in from the ledger.
struct Draft {
    Setup setup;
    Recipe recipe;
    std::optional<Recipe> saved; ///< the last saved recipe: the ghost needle
    Fill fill{mm(10), 100};      ///< one square centimetre
    Aim aim;
    School school = School::single; ///< of the recipe taken from the Aim station
    Target target;
    SheetRequest request;
    std::vector<PlannedSheet> planned;
    int first_sheet = 1;             ///< sheets of the work at hand begin here
    int last_sheet = 0;              ///< highest number that was given out here; never goes back, not even by undo
    int shown_sheet = 0;             ///< number; 0 = none
    std::optional<std::size_t> cell; ///< chosen on the shown sheet
    std::string operator_initials = "OD";
    std::optional<CameraColour> camera; ///< whose colours are set right when a photograph is read
    std::vector<WantedColour> wanted;   ///< colours of the design, at most `most_wanted`
    /// Places of a frame, by its number, that cannot be burned on any more: a later round was begun there, whether it
    /// was ended or not, or all, because another piece was put in its place. Never goes back, not even by undo.
    std::map<int, std::size_t> begun;
    PieceChoice piece;

    bool operator==(const Draft&) const = default;
};

inline constexpr std::size_t most_wanted = 5, most_layers = 200, most_as_drawn = 1000;
inline constexpr int draft_format_version = 3;
[[nodiscard]] nlohmann::json to_json(const Draft& draft);
/// Reads a `finch-draft` document of any version. Errors name the field; document.newer_version.
[[nodiscard]] Expected<Draft> draft_from_json(const nlohmann::json& document, const std::string& file);

} // namespace finch::app
