// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/piece_money.h"

#include "app/session/text.h"

namespace finch::app {

namespace {

double load_s(const Workbench& workbench) {
    return workbench.draft().piece.place.load_s.value_or(workbench.materials().model.effort.handling_s);
}

tl::unexpected<Error> being_worked_out() {
    return failure("piece.being_read", "It is still worked out.", "Wait a moment.");
}

Expected<std::shared_ptr<const CostedPiece>> costed(const Workbench& workbench, std::shared_ptr<CostedPiece> out,
                                                    const PriceRules& price) {
    return piece_cost(workbench.materials(), out->part, out->mark_s, price, out->handle_s,
                      workbench.draft().piece.film_together)
        .map([&](PieceCost cost) -> std::shared_ptr<const CostedPiece> {
            out->cost = std::move(cost);
            return out;
        });
}

} // namespace

Expected<std::shared_ptr<const CostedPiece>> costed_piece(const Workbench& workbench, const PieceReader& drawing,
                                                          const PriceRules& price) {
    auto part = drawing.part();
    if (!part)
        return tl::unexpected(part.error());
    auto out = std::make_shared<CostedPiece>();
    out->part = std::move(*part);
    out->handle_s = load_s(workbench);
    const Holding holding = workbench.draft().piece.place.holding;
    const bool in_turn = holding == Holding::tray && workbench.draft().piece.place.tray.in_turn;
    if (holding == Holding::tiles || holding == Holding::round || in_turn) {
        // One part is all its tiles or strips; parts in turn fill each other's pauses.
        if (!drawing.laid_reason().isEmpty())
            return failure("place.unlaid", drawing.laid_reason().toStdString(), "Lay it another way.");
        const PlacedPiece* laid = drawing.laid();
        if (laid == nullptr)
            return being_worked_out();
        out->mark_s = laid->time.marking.likely;
        if (in_turn) {
            out->mark_s /= static_cast<double>(places_of(laid->placed.job).size());
            return costed(workbench, std::move(out), price);
        }
        (holding == Holding::round ? out->mark_s : out->handle_s) += laid->time.moving_s;
        return costed(workbench, std::move(out), price);
    }
    std::vector<ScanLoad> loads;
    for (const PieceLayer& l : drawing.layers())
        if (l.work != nullptr)
            loads.push_back(l.work->load);
        else if (!l.choice.guide)
            return being_worked_out();
    out->mark_s = time_of(drawing.scanner(), loads).likely + paused_s(drawing.steps());
    return costed(workbench, std::move(out), price);
}

Expected<std::shared_ptr<const CostedPiece>> costed_relief(const Workbench& workbench, const ReliefReader& relief,
                                                           const PriceRules& price) {
    if (relief.work() == nullptr)
        return failure("piece.being_read", "The relief is not worked out yet.", "Give it a recipe, or wait a moment.");
    auto out = std::make_shared<CostedPiece>();
    out->part.setup = workbench.draft().setup;
    out->mark_s = relief.work()->cut.time.likely;
    out->handle_s = load_s(workbench) + relief.work()->cut.hand_s;
    return costed(workbench, std::move(out), price);
}

} // namespace finch::app
