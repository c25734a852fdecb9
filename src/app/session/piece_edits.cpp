// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// What is chosen for a drawing and its layers, each as one step that can be undone.
#include "app/session/piece_reader.h"
#include "evidence/learn.h"
#include "formats/typed_art.h"

#include <algorithm>
#include <cmath>

namespace finch::app {

/// An order against heat was of the layers as they were.
void PieceReader::change_layers(const QString& text, const std::vector<LayerChoice>& all) {
    workbench_.change(text, {}, [&](Draft& d) {
        d.piece.layers = all;
        d.piece.steps.clear();
    });
}

void PieceReader::change_layer(std::size_t layer, const QString& text, const std::function<void(LayerChoice&)>& edit) {
    std::vector<LayerChoice> all = order();
    if (layer >= all.size())
        return;
    edit(all[layer]);
    change_layers(text, all);
}

void PieceReader::take_steps(std::vector<JobStep> steps) {
    workbench_.change(steps.empty() ? tr("Plain order of marking") : tr("Order against heat"), {}, [&](Draft& d) {
        // Steps fill shape by shape; so lens, times and exports say the same.
        d.piece.layers = order();
        for (LayerChoice& c : d.piece.layers)
            c.fill.by_shape = c.fill.by_shape || (!steps.empty() && c.recipe && !c.guide);
        d.piece.steps = std::move(steps);
    });
}

void PieceReader::take_recipe(std::size_t layer) {
    change_layer(layer, tr("Recipe of a layer"), [&](LayerChoice& c) {
        c.recipe = workbench_.draft().recipe;
        c.taken_on = evidence_key(workbench_.draft().setup);
        c.guide = false;
    });
}

void PieceReader::take_recipes(const std::map<std::size_t, Recipe>& recipes) {
    std::vector<LayerChoice> all = order();
    for (const auto& [layer, recipe] : recipes)
        if (layer < all.size()) {
            all[layer].recipe = recipe;
            all[layer].taken_on = evidence_key(workbench_.draft().setup);
            all[layer].guide = false;
        }
    change_layers(tr("Recipes of layers from the palette"), all);
}

void PieceReader::set_guide(std::size_t layer, bool guide) {
    change_layer(layer, guide ? tr("Layer as a guide") : tr("Layer is marked"),
                 [&](LayerChoice& c) { c.guide = guide; });
}

void PieceReader::set_by_shape(std::size_t layer, bool by_shape) {
    change_layer(layer, by_shape ? tr("Fill shape by shape") : tr("Fill line by line"),
                 [&](LayerChoice& c) { c.fill.by_shape = by_shape; });
}

void PieceReader::set_fill(std::size_t layer, const LayerFill& fill, const std::optional<Recipe>& recipe) {
    change_layer(layer, tr("Fill of a layer"), [&](LayerChoice& c) {
        c.fill = fill;
        if (recipe && c.recipe)
            c.recipe = recipe;
    });
}

void PieceReader::leave_or_mend(const ArtFinding& finding) {
    if (!can_be_left(finding))
        return workbench_.say(tr("Nothing was mended there: change it where it is drawn."), State::warn);
    const PointMm at = *finding.at;
    workbench_.change(finding.closed ? tr("Fault left as drawn") : tr("Fault mended"), {}, [&](Draft& d) {
        if (finding.closed && d.piece.as_drawn.size() < most_as_drawn)
            d.piece.as_drawn.push_back(at);
        else
            std::erase_if(d.piece.as_drawn,
                          [&](const PointMm& p) { return std::hypot(p.x - at.x, p.y - at.y) < 1e-3; });
        d.piece.steps.clear();
    });
}

std::string PieceReader::draw_round(std::size_t layer, const std::vector<PointMm>& line) {
    const auto all = order();
    const auto& rounds = workbench_.draft().piece.rounds;
    if (layer >= all.size() || all[layer].colour == typed_colour || line.size() < 3 ||
        line.size() > most_round_points || rounds.size() == most_rounds)
        return {};
    const auto taken = [&](const std::string& name) {
        return std::ranges::any_of(all, [&](const LayerChoice& c) { return c.name == name; });
    };
    std::string name;
    for (int i = 1; name.empty() || taken(name); ++i)
        name = all[layer].name + ", part " + std::to_string(i);
    const DrawnRound round{name, all[layer].name, all[layer].colour, line};
    MendedArt tried = piece_->drawing;
    take_out(tried, {round});
    if (tried.regions.size() == piece_->drawing.regions.size())
        return {}; // no shape lies in it
    workbench_.change(tr("Layer drawn round"), {}, [&](Draft& d) {
        d.piece.layers = all;
        d.piece.rounds.push_back(round);
        // It begins as what it was taken from, after that.
        LayerChoice own = all[layer];
        own.name = name;
        d.piece.layers.insert(d.piece.layers.begin() + static_cast<std::ptrdiff_t>(layer) + 1, std::move(own));
        d.piece.steps.clear();
    });
    return name;
}

bool PieceReader::is_drawn_round(std::size_t layer) const {
    const auto all = order();
    return layer < all.size() && std::ranges::any_of(workbench_.draft().piece.rounds, [&](const DrawnRound& r) {
               return r.name == all[layer].name && r.colour == all[layer].colour;
           });
}

void PieceReader::give_back(std::size_t layer) {
    if (!is_drawn_round(layer))
        return;
    const LayerChoice gone = order()[layer];
    workbench_.change(tr("Part given back to its layer"), {}, [&](Draft& d) {
        std::erase_if(d.piece.rounds, [&](const DrawnRound& r) { return r.name == gone.name; });
        std::erase_if(d.piece.layers, [&](const LayerChoice& c) { return c.name == gone.name; });
        d.piece.steps.clear();
    });
}

void PieceReader::try_fill(std::size_t layer, const LayerFill& fill, const Recipe& recipe, int passes_shown,
                           std::function<void(const Expected<FillTrial>&)> answer) {
    const auto all = layers();
    if (layer >= all.size())
        return answer(failure("piece.no_layer", "There is no such layer.", "Choose one."));
    filling_.ask(
        "filling a layer",
        [piece = piece_, index = all[layer].index, fill, recipe, passes_shown, own = workbench_.own_scene(),
         known = scanner()] {
            const ArtLayer& drawn = piece->drawing.art.layers.at(index);
            return fill_trial({drawn.name, drawn.colour, false, recipe, piece->drawing.regions.at(index)}, fill,
                              passes_shown, own.scene(), known);
        },
        [answer = std::move(answer)](const Expected<FillTrial>& result) { answer(result); });
}

namespace {

/// What was put on a drawing by its places, with the drawing.
void resize_all(PieceChoice& p, const ArtSizing& from, const ArtSizing& to) {
    for (DrawnRound& r : p.rounds)
        for (PointMm& at : r.line)
            at = resized(at, from, to);
    for (PointMm& at : p.as_drawn)
        at = resized(at, from, to);
    for (TypedText& t : p.typed.texts)
        t.at = resized(t.at, from, to);
}

} // namespace

void PieceReader::set_size(const ArtSize& size) {
    if (piece_ == nullptr || !piece_->extent)
        return workbench_.say(tr("There is no drawing to make larger or smaller."), State::warn);
    const auto to = sizing_of(*piece_->extent, size);
    if (!to)
        return workbench_.fail(to.error());
    workbench_.change(tr("Size of the drawing"), {}, [&](Draft& d) {
        d.piece.size = plain(size);
        resize_all(d.piece, piece_->sizing, *to);
        d.piece.steps.clear();
    });
}

void PieceReader::try_size(const ArtSize& size,
                           std::function<void(const Expected<std::shared_ptr<const ReadPiece>>&)> answer) {
    if (piece_ == nullptr || !piece_->extent || !asked_)
        return answer(failure("piece.no_drawing", "There is no drawing.", "Open one first."));
    const auto to = sizing_of(*piece_->extent, size);
    if (!to)
        return answer(tl::unexpected(to.error()));
    PieceChoice there = workbench_.draft().piece;
    resize_all(there, piece_->sizing, *to);
    PieceAsk ask = *asked_;
    ask.size = size, ask.rounds = there.rounds, ask.as_drawn = there.as_drawn, ask.typed = there.typed;
    sizing_.ask(
        "sizing a drawing", [ask = std::move(ask)] { return read_piece(ask); },
        [answer = std::move(answer)](const Expected<std::shared_ptr<const ReadPiece>>& read) { answer(read); });
}

void PieceReader::set_texts(const TypedTexts& typed, const std::optional<PointMm>& blank,
                            const std::vector<std::pair<std::string, std::string>>& renamed) {
    looked_at_ = true;
    workbench_.change(typed.texts.empty() ? tr("No texts") : tr("Texts on the drawing"), {}, [&](Draft& d) {
        d.piece.typed = typed;
        for (LayerChoice& c : d.piece.layers)
            for (const auto& [was, now] : renamed)
                if (c.colour == typed_colour && c.name == was) {
                    c.name = now;
                    break;
                }
        d.piece.steps.clear(); // they are of the layers as they were
        if (d.piece.file.empty())
            d.piece.blank = blank;
    });
}

std::size_t PieceReader::move(std::size_t layer, int by) {
    std::vector<LayerChoice> all = order();
    const auto to = static_cast<std::ptrdiff_t>(layer) + by;
    if (layer >= all.size() || to < 0 || to >= static_cast<std::ptrdiff_t>(all.size()))
        return layer;
    std::swap(all[layer], all[static_cast<std::size_t>(to)]);
    change_layers(by < 0 ? tr("Mark a layer earlier") : tr("Mark a layer later"), all);
    return static_cast<std::size_t>(to);
}

} // namespace finch::app
