// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/piece_reader.h"

#include "app/session/job_keeper.h"
#include "app/session/recent_drawings.h"
#include "app/session/text.h"
#include "evidence/learn.h"
#include "formats/artwork_file.h"
#include "formats/typed_art.h"

#include <algorithm>
#include <QFileInfo>

namespace finch::app {

namespace {

/// What is shown on the drawing: the texts as they are on the first piece of the tray.
int first_piece(const TypedTexts& typed) {
    return typed.series.pieces.empty() ? 1 : typed.series.pieces.front();
}

bool is_layer(const LayerChoice& choice, const ArtLayer& layer) {
    return choice.name == layer.name && choice.colour == layer.colour;
}

} // namespace

Expected<std::shared_ptr<const ReadPiece>> read_piece(const PieceAsk& ask) {
    const RepairRules rules{RepairRules{}.close_mm, ask.spot_mm, ask.as_drawn};
    auto art = ask.blank ? Expected<Artwork>(blank_page(ask.blank->x, ask.blank->y)) : read_artwork(ask.file);
    if (!art)
        return tl::unexpected(art.error());
    const auto extent = ask.blank ? std::nullopt : extent_of(*art);
    ArtSizing sizing{1, {}, art->width_mm, art->height_mm};
    if (extent) {
        const auto as_asked = sizing_of(*extent, ask.size);
        if (!as_asked)
            return tl::unexpected(as_asked.error().in_file(ask.file));
        sizing = *as_asked;
        art = sized(std::move(*art), sizing);
    }
    std::optional<Error> fault;
    if (!ask.typed.texts.empty()) {
        Artwork with_texts = *art;
        if (const auto added = add_texts(with_texts, ask.typed, first_piece(ask.typed)); !added)
            fault = added.error();
        else
            art = std::move(with_texts);
    }
    auto drawing = mended(std::move(*art), rules);
    if (!drawing)
        return tl::unexpected(drawing.error().in_file(ask.file));
    take_out(*drawing, ask.rounds);
    ReadPiece out{ask.file, std::move(*drawing), {}, std::move(fault), extent, sizing};
    for (const Region& region : out.drawing.regions)
        out.area_mm2.push_back(area_mm2(region));
    return std::make_shared<const ReadPiece>(std::move(out));
}

PieceReader::PieceReader(Workbench& workbench, QObject* parent) : QObject(parent), workbench_(workbench) {
    connect(&workbench_, &Workbench::changed, this, [this] {
        want();
        want_work();
        want_laid();
    });
}

void PieceReader::look() {
    looked_at_ = true;
    want();
}

void PieceReader::open(const QString& file) {
    const std::string path = QFileInfo(file).absoluteFilePath().toStdString();
    looked_at_ = true;
    remember_drawing(file);
    if (path == workbench_.draft().piece.file && !workbench_.draft().piece.relief)
        return read_again(); // it may have been changed
    workbench_.change(tr("Drawing %1").arg(QFileInfo(file).fileName()), {}, [&](Draft& d) {
        d.piece = {path, {}, {}, {}, {}};
    });
}

void PieceReader::read_again() {
    asked_.reset();
    want();
}

void PieceReader::want() {
    if (!looked_at_)
        return;
    const PieceChoice& chosen = workbench_.draft().piece;
    const std::string& file = chosen.file;
    const std::optional<PointMm> blank = file.empty() ? chosen.blank : std::nullopt;
    if ((file.empty() && !blank) || chosen.relief) { // a height map is no drawing
        if (asked_ || piece_ != nullptr) {
            reading_.give_up();
            asked_.reset();
            piece_.reset();
            reason_.clear();
            text_fault_.reset();
            Q_EMIT changed();
        }
        return;
    }
    // One look at the disk when the choice or the lens changes, not at every turn of a knob.
    const double spot_mm =
        std::clamp(in_mm(waist(workbench_.bench().lens(), workbench_.bench().source.wavelength).spot), 0.005, 1.0);
    PieceAsk asked{file, spot_mm, blank, chosen.typed, chosen.rounds, chosen.as_drawn, chosen.size};
    if (asked_ == asked)
        return;
    asked_ = asked;
    piece_.reset();
    reason_.clear();
    text_fault_.reset();
    done_.clear();
    reading_.ask(
        "reading a drawing", [asked = std::move(asked)] { return read_piece(asked); },
        [this](const Expected<std::shared_ptr<const ReadPiece>>& result) {
            piece_ = result ? *result : nullptr;
            reason_ = result ? QString() : from_utf8(sentence(result.error()));
            if (result)
                text_fault_ = piece_->text_fault;
            if (!result)
                workbench_.fail(result.error());
            want_work();
            want_laid();
            Q_EMIT changed();
        });
    Q_EMIT changed();
}

std::vector<LayerChoice> PieceReader::order() const {
    std::vector<LayerChoice> out;
    if (piece_ == nullptr)
        return out;
    const auto& layers = piece_->drawing.art.layers;
    for (const LayerChoice& c : workbench_.draft().piece.layers)
        if (std::ranges::any_of(layers, [&](const ArtLayer& l) { return is_layer(c, l); }))
            out.push_back(c);
    for (const ArtLayer& l : layers)
        if (std::ranges::none_of(out, [&](const LayerChoice& c) { return is_layer(c, l); }))
            out.push_back({l.name, l.colour, piece_->file.empty() && l.colour != typed_colour, {}, {}, {}});
    return out;
}

std::vector<PieceLayer> PieceReader::layers() const {
    std::vector<PieceLayer> out;
    const std::string here = evidence_key(workbench_.draft().setup);
    const TypedTexts& typed = workbench_.draft().piece.typed;
    for (LayerChoice& c : order()) {
        PieceLayer layer;
        layer.index = static_cast<std::size_t>(
            std::ranges::find_if(piece_->drawing.art.layers, [&](const ArtLayer& l) { return is_layer(c, l); }) -
            piece_->drawing.art.layers.begin());
        if (c.recipe && !c.guide)
            for (const Done& done : done_)
                if (done.index == layer.index && done.recipe == *c.recipe && done.fill == c.fill &&
                    done.work != nullptr) {
                    layer.work = done.work;
                    layer.time = time_of(scanner(), {&done.work->load, 1});
                    layer.other = time_of(scanner(), {&done.other, 1});
                }
        for (const TypedText& t : typed.texts)
            if (t.name == c.name && c.colour == typed_colour)
                layer.words = words_on(t, typed.series, first_piece(typed)).value_or("");
        layer.taken_elsewhere = c.recipe && !c.guide && c.taken_on != here;
        layer.choice = std::move(c);
        out.push_back(std::move(layer));
    }
    return out;
}

const ScannerKnowledge& PieceReader::scanner() const {
    const Scanner& now = workbench_.bench().scanner;
    if (!scanner_ || fitted_to_ != now.timed) {
        fitted_to_ = now.timed;
        scanner_ = fitted(now);
    }
    return *scanner_;
}

void PieceReader::want_work() {
    if (piece_ == nullptr || working_.running())
        return; // what is asked meanwhile is looked at when that is done
    const std::string on = evidence_key(workbench_.draft().setup);
    for (const LayerChoice& c : order()) {
        if (!c.recipe || c.guide)
            continue;
        const auto index = static_cast<std::size_t>(
            std::ranges::find_if(piece_->drawing.art.layers, [&](const ArtLayer& l) { return is_layer(c, l); }) -
            piece_->drawing.art.layers.begin());
        const Recipe recipe = *c.recipe;
        const LayerFill fill = c.fill;
        if (std::ranges::any_of(done_, [&](const Done& d) {
                // Only how deep an engraving becomes depends on where it is marked.
                return d.index == index && d.recipe == recipe && d.fill == fill &&
                       (d.on == on || recipe.process != Process::deep_engrave);
            }))
            continue;
        working_.ask(
            "hatching a layer",
            [piece = piece_, index, recipe, fill, on, own = workbench_.own_scene()]() -> Expected<Done> {
                const ArtLayer& drawn = piece->drawing.art.layers.at(index);
                auto layer = filled({drawn.name, drawn.colour, false, recipe, piece->drawing.regions.at(index)}, fill);
                if (!layer)
                    return tl::unexpected(layer.error());
                auto work = layer_work(*layer);
                layer->by_shape = !fill.by_shape;
                const auto other = layer_work(*layer);
                if (!work || !other)
                    return tl::unexpected(!work ? work.error() : other.error());
                Done out{index, recipe, fill, std::make_shared<const LayerWork>(std::move(*work)), other->load, {}, on};
                if (recipe.process == Process::deep_engrave)
                    out.closing = closing_walls(own.scene(), *layer, index).value_or(std::vector<ArtFinding>());
                return out;
            },
            [this, of = piece_, index, recipe, fill, on](const Expected<Done>& result) {
                if (of == piece_)
                    keep_work(result ? *result : Done{index, recipe, fill, nullptr, {}, {}, on});
                if (!result)
                    workbench_.fail(result.error());
                want_work();
                Q_EMIT changed();
            });
        return;
    }
}

/// Also a layer that cannot be hatched, so that it is not asked for again and again.
void PieceReader::keep_work(Done done) {
    std::erase_if(
        done_, [&](const Done& d) { return d.index == done.index && d.recipe == done.recipe && d.fill == done.fill; });
    done_.push_back(std::move(done));
    const auto in_use = order();
    std::erase_if(done_, [&](const Done& d) {
        return std::ranges::none_of(in_use, [&](const LayerChoice& l) {
            return l.recipe == d.recipe && l.fill == d.fill && is_layer(l, piece_->drawing.art.layers.at(d.index));
        });
    });
}

std::vector<ArtFinding> PieceReader::findings() const {
    std::vector<ArtFinding> out;
    if (piece_ == nullptr)
        return out;
    out = piece_->drawing.art.findings;
    for (const LayerChoice& c : order())
        for (const Done& d : done_)
            if (c.recipe && !c.guide && d.recipe == *c.recipe && d.fill == c.fill &&
                is_layer(c, piece_->drawing.art.layers.at(d.index)))
                out.insert(out.end(), d.closing.begin(), d.closing.end());
    return out;
}

Expected<Job> PieceReader::part() const {
    if (piece_ == nullptr)
        return failure("piece.no_drawing", "There is no drawing.", "Open one first.");
    if (text_fault_)
        return tl::unexpected(*text_fault_);
    const Job whole = job_of(piece_->file.empty() ? std::string("texts")
                                                  : QFileInfo(from_utf8(piece_->file)).completeBaseName().toStdString(),
                             workbench_.draft().setup, piece_->drawing);
    Job job{whole.name, whole.width_mm, whole.height_mm, whole.setup, {}, {}, {}};
    for (const PieceLayer& l : layers()) {
        JobLayer layer = whole.layers.at(l.index);
        layer.guide = l.choice.guide;
        layer.recipe = l.choice.recipe;
        layer.words = l.words;
        auto so = l.choice.guide ? Expected<JobLayer>(layer) : filled(layer, l.choice.fill);
        if (!so)
            return tl::unexpected(so.error());
        job.layers.push_back(std::move(*so));
    }
    job.steps = workbench_.draft().piece.steps;
    if (!steps_complete(job))
        job.steps.clear(); // the file was changed where it was drawn
    return settled(job).map([&] { return std::move(job); });
}

std::vector<JobStep> PieceReader::steps() const {
    const PieceChoice& chosen = workbench_.draft().piece;
    if (chosen.steps.empty() || piece_ == nullptr)
        return {};
    // Whether they fit takes a look at every outline: once, not at every turn of a knob.
    if (stepped_ != piece_ || stepped_by_ != chosen) {
        const auto now = part();
        stepped_ = piece_;
        stepped_by_ = chosen;
        steps_fit_ = now && !now->steps.empty();
    }
    return steps_fit_ ? chosen.steps : std::vector<JobStep>();
}

void PieceReader::plan_heat(std::function<void(const Expected<PlannedHeat>&)> answer) {
    auto now = part();
    if (!now)
        return answer(tl::unexpected(now.error()));
    const PlaceRules& place = workbench_.draft().piece.place;
    heating_.ask(
        "planning heat",
        [own = workbench_.own_scene(), job = std::move(*now), timing = scanner().timing,
         parts = place.holding == Holding::tray ? nests_filled(place.tray) : 1]() -> Expected<PlannedHeat> {
            const Scene scene = own.scene();
            auto heat = job_heat(job, scene, timing);
            if (!heat)
                return tl::unexpected(heat.error());
            HeatRules rules;
            rules.parts = parts;
            rules.clamped_loss = scene.materials.model.clamped_loss;
            PlannedHeat out{std::move(*heat), {}, 0, parts};
            out.plan = heat_plan(out.heat.plate, out.heat.tasks, rules);
            if (scene.metal.removal)
                out.bows_from_k = buckling_rise_k(*scene.metal.removal, out.heat.plate.thickness_mm,
                                                  std::min(out.heat.plate.outline.w, out.heat.plate.outline.h));
            return out;
        },
        [answer = std::move(answer)](const Expected<PlannedHeat>& result) { answer(result); });
}

void PieceReader::make_ready(std::function<void(const Expected<std::shared_ptr<const ReadyJob>>&)> answer) {
    auto made = part();
    if (!made)
        return answer(tl::unexpected(made.error()));
    std::vector<std::string> elsewhere;
    for (const PieceLayer& l : layers())
        if (l.taken_elsewhere)
            elsewhere.push_back(l.choice.name);
    handing_.ask(
        "making a job ready",
        [kept = std::make_shared<const Job>(std::move(*made)), rules = workbench_.draft().piece.place,
         typed = workbench_.draft().piece.typed, known = scanner(), own = workbench_.own_scene(), elsewhere] {
            return placed_part(*kept, typed, rules).and_then([&](Placed lies) {
                return ready_job(std::move(lies), rules, own.scene(), known, elsewhere);
            });
        },
        [answer = std::move(answer)](const Expected<std::shared_ptr<const ReadyJob>>& ready) { answer(ready); });
}

void PieceReader::export_to(const QString& path) {
    auto made = part();
    if (!made)
        return workbench_.fail(made.error());
    const auto kept = std::make_shared<const Job>(std::move(*made));
    QStringList elsewhere;
    for (const PieceLayer& l : layers())
        if (l.taken_elsewhere)
            elsewhere << from_utf8(l.choice.name);
    exporting_.ask(
        "exporting a job",
        [kept, path, rules = workbench_.draft().piece.place,
         typed = workbench_.draft().piece.typed]() -> Expected<WrittenJob> {
            return placed_part(*kept, typed, rules).and_then([&](const Placed& lies) {
                return write_job(lies.job, path);
            });
        },
        [this, path, elsewhere](const Expected<WrittenJob>& result) {
            tell_written(workbench_, result, path, elsewhere);
            Q_EMIT changed();
        });
}

Expected<Placed> placed_part(const Job& part, const TypedTexts& typed, const PlaceRules& rules) {
    return numbered(part, typed, rules).and_then([](const NumberedPart& n) {
        return placed(n.job, n.rules).map([&](Placed lies) {
            lies.findings.insert(lies.findings.end(), n.findings.begin(), n.findings.end());
            return lies;
        });
    });
}

Expected<PlacedPiece> placed_piece(const Job& part, const TypedTexts& typed, const PlaceRules& rules,
                                   const ScannerKnowledge& scanner, double handling_s) {
    return placed_part(part, typed, rules).and_then([&](Placed lies) -> Expected<PlacedPiece> {
        auto time = time_of(scanner, lies, rules, handling_s);
        if (!time)
            return tl::unexpected(time.error());
        return PlacedPiece{std::move(lies), *time};
    });
}

void PieceReader::try_place(const PlaceRules& rules, std::function<void(const Expected<PlacedPiece>&)> answer) {
    auto now = part();
    if (!now)
        return answer(tl::unexpected(now.error()));
    trying_.ask(
        "laying out a piece",
        [job = std::make_shared<const Job>(std::move(*now)), rules, known = scanner(),
         typed = workbench_.draft().piece.typed, materials = workbench_.shared_materials()] {
            return placed_piece(*job, typed, rules, known, materials->model.effort.handling_s);
        },
        [answer = std::move(answer)](const Expected<PlacedPiece>& result) { answer(result); });
}

void PieceReader::take_place(const PlaceRules& rules) {
    workbench_.change(tr("Where the drawing lies"), {}, [&](Draft& d) { d.piece.place = rules; });
}

/// How it lies is worked out when every layer knows its recipe.
void PieceReader::want_laid() {
    const PieceChoice& choice = workbench_.draft().piece;
    Laid of{choice, workbench_.draft().setup, piece_};
    if (laid_of_ == of)
        return;
    laid_of_ = std::move(of);
    laying_.give_up();
    laid_.reset();
    laid_reason_.clear();
    // How many are wanted and spoiled lays nothing.
    PlaceRules lies = choice.place;
    lies.wanted = PlaceRules{}.wanted;
    lies.spoiled = PlaceRules{}.spoiled;
    lies.load_s.reset();
    lies.way_up_seen = false;
    if (piece_ == nullptr || lies == PlaceRules{})
        return;
    auto now = part();
    if (!now)
        return;
    laying_.ask(
        "laying out a piece",
        [job = std::make_shared<const Job>(std::move(*now)), rules = choice.place, typed = choice.typed,
         known = scanner(), materials = workbench_.shared_materials()] {
            return placed_piece(*job, typed, rules, known, materials->model.effort.handling_s);
        },
        [this](const Expected<PlacedPiece>& result) {
            if (result)
                laid_ = *result;
            laid_reason_ = result ? QString() : from_utf8(sentence(result.error()));
            Q_EMIT changed();
        });
}

} // namespace finch::app

#include "moc_piece_reader.cpp"
