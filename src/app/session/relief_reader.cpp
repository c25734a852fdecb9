// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/relief_reader.h"

#include "app/session/job_keeper.h"
#include "app/session/text.h"
#include "evidence/learn.h"
#include "formats/height_map_file.h"

#include <cmath>
#include <QFileInfo>

namespace finch::app {

namespace {

constexpr int hatched_layers = 12;

/// What makes layers of a picture; depth, focus and cleaning do not.
ReliefRules of_layers(const ReliefRules& r) {
    ReliefRules out;
    out.width_mm = r.width_mm;
    out.levels = r.levels;
    out.crop_to_rim = r.crop_to_rim;
    return out;
}

} // namespace

ReliefReader::ReliefReader(Workbench& workbench, QObject* parent) : QObject(parent), workbench_(workbench) {
    connect(&workbench_, &Workbench::changed, this, &ReliefReader::want);
}

void ReliefReader::look() {
    looked_at_ = true;
    want();
}

bool ReliefReader::taken_elsewhere() const {
    const auto& relief = workbench_.draft().piece.relief;
    return relief && relief->recipe && relief->taken_on != evidence_key(workbench_.draft().setup);
}

void ReliefReader::open(const QString& file) {
    const std::string path = QFileInfo(file).absoluteFilePath().toStdString();
    looked_at_ = true;
    const PieceChoice& now = workbench_.draft().piece;
    if (now.relief && path == now.file)
        return read_again();
    const double field_mm = in_mm(workbench_.bench().lens().field);
    workbench_.change(tr("Relief of %1").arg(QFileInfo(file).fileName()), {}, [&](Draft& d) {
        ReliefChoice relief;
        relief.rules.width_mm = std::clamp(10 * std::round(0.025 * field_mm), 5.0, 100.0);
        d.piece = {path, {}, {}, {}, relief};
    });
}

void ReliefReader::read_again() {
    asked_.clear();
    want();
}

void ReliefReader::want() {
    if (!looked_at_)
        return;
    const PieceChoice& piece = workbench_.draft().piece;
    if (!piece.relief) {
        if (!asked_.empty()) {
            reading_.give_up();
            asked_.clear();
            forget();
            Q_EMIT changed();
        }
        return;
    }
    if (asked_ == piece.file)
        return want_map();
    asked_ = piece.file;
    forget();
    reading_.ask(
        "reading a height map",
        [file = piece.file] {
            return load_height_map(file).map([&](HeightMap map) {
                const GreyUse use = grey_use(map);
                return std::make_shared<const ReadRelief>(ReadRelief{file, std::move(map), use});
            });
        },
        [this](const Expected<std::shared_ptr<const ReadRelief>>& result) {
            picture_ = result ? *result : nullptr;
            reason_ = result ? QString() : from_utf8(sentence(result.error()));
            if (!result)
                workbench_.fail(result.error());
            want_map();
            Q_EMIT changed();
        });
    Q_EMIT changed();
}

/// What was worked out is of another picture, or of none.
void ReliefReader::forget() {
    ++*changes_;
    for (Latest* work : {&mapping_, &cutting_, &comparing_})
        work->give_up();
    picture_.reset();
    map_.reset();
    work_.reset();
    map_key_.reset();
    cut_key_.reset();
    for (QString* why : {&reason_, &map_reason_, &cut_reason_})
        why->clear();
}

/// One at a time: a point that is dragged asks for many, of which the one asked last is worked out next.
void ReliefReader::want_map() {
    const auto& relief = workbench_.draft().piece.relief;
    if (picture_ == nullptr || !relief)
        return;
    MapKey key{picture_, of_layers(relief->rules)};
    if (map_key_ == key)
        return want_cut();
    if (mapping_.running())
        return;
    map_key_ = key;
    mapping_.ask(
        "layers of a relief",
        [key] {
            return relief_map(key.of->picture, key.rules).map([](ReliefMap map) {
                return std::make_shared<const ReliefMap>(std::move(map));
            });
        },
        [this](const Expected<std::shared_ptr<const ReliefMap>>& result) {
            map_reason_ = result ? QString() : from_utf8(sentence(result.error()));
            if (result)
                map_ = *result;
            want_map();
            Q_EMIT changed();
        });
}

void ReliefReader::want_cut() {
    const auto& relief = workbench_.draft().piece.relief;
    if (map_ == nullptr || mapping_.running() || !map_reason_.isEmpty() || !relief)
        return; // else layers of other rules would be cut
    if (!relief->recipe) {
        cut_key_.reset();
        cut_reason_.clear();
        cutting_.give_up();
        comparing_.give_up();
        if (work_ != nullptr) {
            work_.reset();
            Q_EMIT changed();
        }
        return;
    }
    CutKey key{map_, *relief, workbench_.draft().setup, workbench_.evidence()};
    if (cut_key_ == key)
        return;
    ++*changes_;
    comparing_.give_up();
    if (cutting_.running())
        return;
    cut_key_ = key;
    cutting_.ask(
        "cutting a relief",
        [key, own = workbench_.own_scene(), picture = picture_]() -> Expected<std::shared_ptr<const ReliefWork>> {
            const Scene scene = own.scene();
            const ReliefRules& rules = key.choice.rules;
            auto cut = cut_relief(scene, *key.choice.recipe, rules, *key.of, fitted(scene.bench.scanner),
                                  {hatched_layers, true});
            if (!cut)
                return tl::unexpected(cut.error());
            auto findings = relief_findings(scene, rules, picture->picture, picture->use, *key.of, *cut);
            return std::make_shared<const ReliefWork>(ReliefWork{rules, std::move(*cut), std::move(findings), {}});
        },
        [this, key](const Expected<std::shared_ptr<const ReliefWork>>& result) {
            cut_reason_ = result ? QString() : from_utf8(sentence(result.error()));
            work_ = result ? *result : nullptr;
            want_cut();
            if (result && !cutting_.running())
                want_ways(key);
            Q_EMIT changed();
        });
}

void ReliefReader::want_ways(const CutKey& key) {
    comparing_.ask(
        "comparing ways to cut a relief",
        [key, own = workbench_.own_scene(), picture = picture_, mine = work_, changes = changes_,
         now = changes_->load()]() -> Expected<std::shared_ptr<const ReliefWork>> {
            const Scene scene = own.scene();
            ReliefWork out = *mine;
            for (const ReliefSchool school : all_relief_schools) {
                if (*changes != now)
                    return failure("relief.given_up", "Another relief was asked for.", "Ask again.");
                ReliefRules rules = as_school(key.choice.rules, school, picture->use);
                const auto map = relief_map(picture->picture, rules);
                if (!map)
                    return tl::unexpected(map.error());
                auto cut = cut_relief(scene, *key.choice.recipe, rules, *map, fitted(scene.bench.scanner),
                                      {hatched_layers, false});
                if (!cut)
                    return tl::unexpected(cut.error());
                // The floor is that of the recipe, whatever the school.
                cut->sa_um = mine->cut.sa_um;
                cut->sz_um = mine->cut.sz_um;
                out.ways.push_back({school, std::move(rules), std::move(*cut)});
            }
            return std::make_shared<const ReliefWork>(std::move(out));
        },
        [this](const Expected<std::shared_ptr<const ReliefWork>>& result) {
            if (result)
                work_ = *result;
            Q_EMIT changed();
        });
}

void ReliefReader::change_rules(const QString& text, const QString& merge,
                                const std::function<void(ReliefRules&)>& edit) {
    if (!chosen())
        return;
    workbench_.change(text, merge, [&](Draft& d) { edit(d.piece.relief->rules); });
}

void ReliefReader::take_recipe() {
    if (!chosen())
        return;
    workbench_.change(tr("Recipe of a relief"), {}, [&](Draft& d) {
        d.piece.relief->recipe = d.recipe;
        d.piece.relief->taken_on = evidence_key(d.setup);
    });
}

void ReliefReader::take_school(ReliefSchool school) {
    if (picture_ == nullptr)
        return;
    change_rules(tr("Relief: %1").arg(from_utf8(word(school))), {},
                 [&](ReliefRules& r) { r = as_school(r, school, picture_->use); });
}

void ReliefReader::stretch() {
    if (picture_ == nullptr)
        return;
    const GreyUse& use = picture_->use;
    change_rules(tr("Stretch to the greys of the picture"), {}, [&](ReliefRules& r) {
        // Also of a picture of one grey there is something between them, and both stay within 0 and 1.
        r.levels.black = std::min(0.999, std::floor(1000 * use.darkest) / 1000);
        r.levels.white = std::clamp(std::ceil(1000 * use.lightest) / 1000, r.levels.black + 0.001, 1.0);
    });
}

std::optional<Error> ReliefReader::not_ready() const {
    const auto& relief = workbench_.draft().piece.relief;
    if (!relief || !relief->recipe)
        return Error{"job.no_recipe", "The relief has no recipe yet.", "Take the one at hand first.", {}};
    if (!reason().isEmpty())
        return Error{"relief.not_so", reason().toStdString(), "Change what it says first.", {}};
    if (running() || work_ == nullptr)
        return Error{"relief.busy", "The relief is still being worked out.", "Ask again in a moment.", {}};
    return std::nullopt;
}

void ReliefReader::try_place(const PlaceRules& rules, std::function<void(const Expected<PlacedPiece>&)> answer) {
    if (const auto error = not_ready())
        return answer(tl::unexpected(*error));
    trying_.ask(
        "laying out a relief",
        [own = workbench_.own_scene(), choice = *workbench_.draft().piece.relief, map = map_, work = work_,
         rules]() -> Expected<PlacedPiece> {
            const auto part =
                relief_job("relief", own.scene(), own.setup, *choice.recipe, choice.rules, *map, work->cut);
            return part ? placed_piece(*part, {}, rules, fitted(own.setup.bench.scanner),
                                       own.materials->model.effort.handling_s)
                        : Expected<PlacedPiece>(tl::unexpected(part.error()));
        },
        [answer = std::move(answer)](const Expected<PlacedPiece>& result) { answer(result); });
}

void ReliefReader::make_ready(std::function<void(const Expected<std::shared_ptr<const ReadyJob>>&)> answer) {
    if (const auto error = not_ready())
        return answer(tl::unexpected(*error));
    std::vector<std::string> elsewhere;
    if (taken_elsewhere())
        elsewhere.push_back(tr("the relief").toStdString());
    handing_.ask(
        "making a relief ready",
        [own = workbench_.own_scene(), choice = *workbench_.draft().piece.relief, map = map_, work = work_, elsewhere,
         rules = workbench_.draft().piece.place,
         name = QFileInfo(from_utf8(picture_->file)).completeBaseName().toStdString()] {
            return relief_job(name, own.scene(), own.setup, *choice.recipe, choice.rules, *map, work->cut)
                .and_then([&](const Job& part) { return placed(part, rules); })
                .and_then([&](Placed lies) {
                    return ready_job(std::move(lies), rules, own.scene(), fitted(own.setup.bench.scanner), elsewhere);
                });
        },
        [answer = std::move(answer)](const Expected<std::shared_ptr<const ReadyJob>>& made) { answer(made); });
}

void ReliefReader::export_to(const QString& path) {
    if (const auto error = not_ready())
        return workbench_.fail(*error);
    const PieceChoice& piece = workbench_.draft().piece;
    exporting_.ask(
        "exporting a relief",
        [own = workbench_.own_scene(), choice = *piece.relief, place = piece.place, map = map_, work = work_, path,
         name = QFileInfo(from_utf8(picture_->file)).completeBaseName().toStdString()]() -> Expected<WrittenJob> {
            const auto part = relief_job(name, own.scene(), own.setup, *choice.recipe, choice.rules, *map, work->cut);
            const auto lies = part ? placed(*part, place) : Expected<Placed>(tl::unexpected(part.error()));
            return lies ? write_job(lies->job, path) : Expected<WrittenJob>(tl::unexpected(lies.error()));
        },
        [this, path, elsewhere = taken_elsewhere()](const Expected<WrittenJob>& result) {
            tell_written(workbench_, result, path, elsewhere ? QStringList{tr("the relief")} : QStringList());
            Q_EMIT changed();
        });
    Q_EMIT changed();
}

} // namespace finch::app

#include "moc_relief_reader.cpp"
