// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/reading_run.h"

#include "app/session/background.h"
#include "app/session/border.h"
#include "app/session/text.h"
#include "evidence/film_evidence.h"
#include "formats/picture_file.h"
#include "proof/answer.h"
#include "proof/layout.h"
#include "proof/measured_cells.h"
#include "proof/tilt_series.h"
#include "quantity/format.h"
#include "vision/sheet_photo.h"

#include <fmt/format.h>
#include <QFileInfo>
#include <QPointer>
#include <QUuid>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

std::string new_uid() {
    return QUuid::createUuid().toString(QUuid::WithoutBraces).toStdString();
}

/// Later than the last reading of the sheet.
std::string after_last(const Workbench& w, int sheet) {
    const Ledger::Sheet* known = w.ledger().sheet(sheet);
    return w.now_after(known != nullptr && known->read ? known->read->when_utc : std::string());
}

} // namespace

/// Everything the worker needs, as values.
struct ReadingRun::Work {
    std::vector<Source> sources;
    PhotoSetting setting;
    Round round;
    Target target;
    OwnScene scene; ///< of the burning, knowing what was known before
    std::vector<Observation> known;
    std::string uid, when_utc;
    double tilt_deg = 0; ///< over 0: the photographs show the sheet tilted
};

/// What it brings back.
struct ReadingRun::Result {
    SheetReading reading;
    std::vector<EntryPicture> pictures; ///< every photograph that was read, and the sheet squared up
    std::string uid, when_utc;
    Round round;
    Knowledge knowledge;
    Agreement agreement;
    std::vector<RankedCell> ranked;
    std::optional<std::string> answer; ///< of a sheet that asks one question
    ReadSheet fact;
    QString said;       ///< of what the operator said of a cell; empty: a photograph was read
    bool choose = true; ///< the best cell is chosen
};

ReadingRun::ReadingRun(Workbench& workbench, Recorder& recorder, Camera& camera, QObject* parent)
    : QObject(parent), workbench_(workbench), recorder_(recorder), camera_(camera),
      turn_(std::make_shared<std::atomic<int>>(0)) {
    connect(&camera_, &Camera::photographed, this, [this](RequestId id, const QByteArray& picture) {
        if (step_ == Step::photographing && id == shot_)
            start({{[picture]() -> Expected<QByteArray> { return picture; },
                    tr("camera, shot %1").arg(shots_).toStdString()}},
                  sheet_, tilt_deg_);
    });
    connect(&camera_, &Camera::failed, this, [this](RequestId id, const Error& error) {
        if (step_ != Step::photographing || id != shot_)
            return;
        set(Step::idle);
        workbench_.fail(error);
    });
}

ReadingRun::~ReadingRun() {
    ++*turn_;
}

void ReadingRun::set(Step step) {
    step_ = step;
    Q_EMIT changed();
}

QString ReadingRun::progress_text() const {
    switch (step_) {
    case Step::idle:
        return {};
    case Step::photographing:
        return tr("Taking the photograph");
    case Step::reading:
        return tr("Reading the photograph");
    case Step::keeping:
        return tr("Keeping the reading");
    }
    return {};
}

bool ReadingRun::can_tilt(int sheet) {
    const Round* r = workbench_.round(sheet);
    if (r != nullptr && r->reading && r->reading->photos > 0)
        return true;
    workbench_.say(tr("Photograph the sheet from above first: the tilted looks are held against that."), State::warn);
    return false;
}

void ReadingRun::read_tilted(const QString& path, int sheet, double tilt_deg) {
    if (step_ == Step::idle && can_tilt(sheet))
        start({{[path] { return picture_bytes(path); }, QFileInfo(path).fileName().toStdString()}}, sheet, tilt_deg);
}

void ReadingRun::photograph(int sheet, double tilt_deg) {
    const Round* r = workbench_.round(sheet);
    if (r == nullptr || step_ != Step::idle)
        return;
    if (!r->burned)
        return workbench_.say(tr("Burn the sheet first, or read a photograph from a file."), State::warn);
    if (tilt_deg > 0 && !can_tilt(sheet))
        return;
    sheet_ = sheet;
    tilt_deg_ = tilt_deg;
    ++shots_;
    shot_ = camera_.photograph(layout(r->sheet).white_card, tilt_deg);
    set(Step::photographing);
}

void ReadingRun::read_files(const QStringList& paths, int sheet) {
    if (step_ != Step::idle || paths.isEmpty())
        return;
    std::vector<Source> sources;
    for (const QString& path : paths)
        sources.push_back({[path] { return picture_bytes(path); }, QFileInfo(path).fileName().toStdString()});
    start(std::move(sources), sheet);
}

void ReadingRun::read_picture(const QByteArray& encoded, const QString& name, int sheet) {
    start({{[encoded]() -> Expected<QByteArray> { return encoded; }, name.toStdString()}}, sheet);
}

void ReadingRun::read_again(const std::array<PointMm, 4>& corners_px) {
    if (!not_found_)
        return workbench_.say(tr("Another photograph was read meanwhile. Read this one again."), State::warn);
    if (step_ == Step::idle)
        start({not_found_->source}, not_found_->sheet, not_found_->tilt_deg, corners_px);
}

void ReadingRun::cancel() {
    if (step_ == Step::photographing)
        camera_.cancel(shot_);
    if (step_ != Step::photographing && step_ != Step::reading)
        return;
    ++*turn_;
    set(Step::idle);
    workbench_.say(tr("Reading was cancelled; the sheet can be photographed again."), State::warn);
}

void ReadingRun::learn_from(const Work& work, Result& out) {
    out.uid = work.uid;
    out.when_utc = work.when_utc;
    out.round = work.round;
    const auto places = observed(work.round.sheet, out.reading, std::make_shared<const Setup>(work.round.setup),
                                 work.when_utc, work.uid);
    const Materials& materials = *work.scene.materials;
    out.knowledge.observations = merged(work.known, places);
    out.knowledge.evidence = learn(materials, out.knowledge.observations);
    out.agreement = agreement(materials, places, work.round.before, out.knowledge.evidence);
    out.ranked = rank(out.reading, work.target, finch::forecast(work.round.sheet, work.scene.scene()));
    out.answer = answer(work.round.sheet, out.reading, work.scene.scene(), work.target);
}

/// In a worker. A photograph that cannot be read is passed over as long as another can.
Expected<std::shared_ptr<ReadingRun::Result>> ReadingRun::read(const Work& work, Picture& unseen) {
    auto out = std::make_shared<Result>();
    std::vector<SheetReading> readings;
    std::optional<Error> trouble;
    for (const Source& source : work.sources) {
        const auto bytes = source.picture();
        const auto photo = bytes ? picture_from_bytes(*bytes, source.name) : tl::unexpected(bytes.error());
        auto seen = photo ? read_sheet_photo(*photo, work.round.sheet, work.setting) : tl::unexpected(photo.error());
        if (!seen) {
            trouble = seen.error().in_file(source.name);
            unseen = photo ? *photo : Picture();
            continue;
        }
        seen->reading.photo = source.name;
        const bool first = readings.empty();
        const std::string again = work.tilt_deg > 0 ? fmt::format("tilt {}", format_number(work.tilt_deg, 3)) : "photo";
        out->pictures.push_back({first ? again : fmt::format("{} {}", again, readings.size() + 1), *bytes});
        if (first && !(work.tilt_deg > 0))
            out->pictures.push_back({"rectified", png_bytes(seen->rectified)});
        readings.push_back(std::move(seen->reading));
    }
    if (readings.empty())
        return tl::unexpected(*trouble);
    out->reading = readings.size() == 1 ? readings.front() : read_together(readings);
    if (work.tilt_deg > 0) {
        SheetReading whole = *work.round.reading;
        const auto cells = add_tilt(whole, out->reading, work.tilt_deg);
        if (!cells)
            return tl::unexpected(cells.error());
        out->reading = std::move(whole);
        out->choose = false;
        out->said = tr("Sheet %1, tilted by %2°: %3 cells seen from above and so.")
                        .arg(work.round.sheet.number)
                        .arg(screen_number(work.tilt_deg, 3))
                        .arg(*cells);
    } else if (work.round.reading)
        keep_what_was_said(out->reading, *work.round.reading);
    learn_from(work, *out);
    return out;
}

void ReadingRun::start(std::vector<Source> sources, int sheet, double tilt_deg,
                       const std::optional<std::array<PointMm, 4>>& corners_px) {
    const Round* r = workbench_.round(sheet);
    if (r == nullptr)
        return workbench_.say(tr("Plan or choose the sheet that the photograph shows."), State::warn);
    const Knowledge* known = workbench_.ledger().knowledge(evidence_key(r->setup));
    PhotoSetting setting;
    setting.camera = workbench_.draft().camera;
    setting.corners_px = corners_px;
    const auto work = std::make_shared<const Work>(
        Work{std::move(sources), setting, *r, workbench_.draft().target, workbench_.scene_of(*r, r->before),
             known != nullptr ? known->observations : std::vector<Observation>(), new_uid(),
             after_last(workbench_, sheet), tilt_deg});
    const int turn = ++*turn_;
    not_found_.reset();
    set(Step::reading);
    const QPointer<ReadingRun> self(this);
    const auto job = [self, work, turn, turns = turn_] {
        auto unseen = std::make_shared<Picture>();
        auto result = guarded("reading a photograph", [&] { return read(*work, *unseen); });
        QMetaObject::invokeMethod(
            qApp,
            [self, work, unseen, result = std::move(result), turn, turns] {
                if (self == nullptr || *turns != turn)
                    return;
                if (result)
                    return self->keep(*result);
                self->set(Step::idle);
                self->workbench_.fail(result.error());
                self->give_up(*work, *unseen, result.error());
            },
            Qt::QueuedConnection);
    };
    [[maybe_unused]] const auto running = QtConcurrent::run(&background_pool(), job);
}

void ReadingRun::tick_spoiled(int sheet, std::size_t cell, bool spoiled) {
    note_cell(sheet, cell, [&](CellReading& c) {
        if (c.state != CellState::read || c.spoiled == spoiled)
            return QString();
        c.spoiled = spoiled;
        return spoiled ? tr("Cell %1 is spoiled: it never wins, and tells where this bench spoils metal.")
                       : tr("Cell %1 is whole again.");
    });
}

void ReadingRun::note_depth(int sheet, std::size_t cell, std::optional<double> depth_um, double within_um) {
    note_cell(sheet, cell, [&](CellReading& c) {
        if (c.depth_um == depth_um && (!depth_um || c.depth_within_um == within_um))
            return QString();
        c.depth_um = depth_um;
        c.depth_within_um = within_um;
        return depth_um ? tr("The depth of cell %1 is kept: what is predicted on this lot rests on it.")
                        : tr("The depth of cell %1 is taken back.");
    });
}

void ReadingRun::note_depths(int sheet, const std::vector<CellDepth>& depths) {
    note(
        sheet,
        [&](SheetReading& reading) {
            const SheetReading before = reading;
            put_depths(reading, depths);
            return reading == before
                       ? QString()
                       : tr("The depths of sheet %1 are kept: what is predicted on this lot rests on them.").arg(sheet);
        },
        true);
}

void ReadingRun::note_colours(int sheet, const std::vector<CellColour>& colours) {
    note(
        sheet,
        [&](SheetReading& reading) {
            const SheetReading before = reading;
            put_colours(reading, colours);
            if (reading == before)
                return QString();
            const auto off = photograph_off(reading);
            return tr("The colours of sheet %1 are kept as the instrument gave them.").arg(sheet) +
                   (off ? tr(" The photograph lay %1 CIEDE2000 from them; its other cells are set right by that.")
                              .arg(screen_number(off->de, 2))
                        : QString());
        },
        true);
}

void ReadingRun::note_scratches(int sheet, const std::vector<CellScratch>& scratches) {
    note(sheet, [&](SheetReading& reading) {
        const SheetReading before = reading;
        put_scratches(reading, scratches);
        return reading == before ? QString() : tr("The scratch tests of sheet %1 are kept.").arg(sheet);
    });
}

void ReadingRun::note_gloss(int sheet, const std::vector<CellGloss>& gloss) {
    note(sheet, [&](SheetReading& reading) {
        const SheetReading before = reading;
        put_gloss(reading, gloss);
        return reading == before ? QString() : tr("The gloss of sheet %1 is kept.").arg(sheet);
    });
}

void ReadingRun::note_cell(int sheet, std::size_t cell, const std::function<QString(CellReading&)>& edit) {
    const Round* r = workbench_.round(sheet);
    if (r == nullptr || !r->reading || cell >= r->reading->cells.size() || !r->sheet.holds(cell))
        return;
    const QString name = q(cell_name(r->sheet, cell));
    note(sheet, [&](SheetReading& reading) {
        const QString said = edit(reading.cells[cell]);
        return said.isEmpty() ? said : said.arg(name);
    });
}

/// A newer reading of the same photograph, or of none, with what the operator said of cells; `edit` says what, or
/// nothing where nothing is new.
void ReadingRun::note(int sheet, const std::function<QString(SheetReading&)>& edit, bool choose) {
    const Round* r = workbench_.round(sheet);
    if (step_ != Step::idle || r == nullptr)
        return;
    const auto result = std::make_shared<Result>();
    result->reading = r->reading ? *r->reading : unphotographed(r->sheet);
    result->said = edit(result->reading);
    if (result->said.isEmpty())
        return;
    result->choose = choose;
    const Knowledge* known = workbench_.ledger().knowledge(evidence_key(r->setup));
    const auto work =
        std::make_shared<const Work>(Work{{},
                                          {},
                                          *r,
                                          workbench_.draft().target,
                                          workbench_.scene_of(*r, r->before),
                                          known != nullptr ? known->observations : std::vector<Observation>(),
                                          new_uid(),
                                          after_last(workbench_, sheet),
                                          0});
    const int turn = ++*turn_;
    set(Step::reading);
    const QPointer<ReadingRun> self(this);
    [[maybe_unused]] const auto running =
        QtConcurrent::run(&background_pool(), [self, work, result, turn, turns = turn_] {
            const auto learned = guarded("learning from a cell", [&]() -> Expected<void> {
                learn_from(*work, *result);
                return {};
            });
            QMetaObject::invokeMethod(
                qApp,
                [self, result, learned, turn, turns] {
                    if (self == nullptr || *turns != turn)
                        return;
                    if (learned)
                        return self->keep(result);
                    self->set(Step::idle);
                    self->workbench_.fail(learned.error());
                },
                Qt::QueuedConnection);
        });
}

/// Where only the fiducials were the trouble, the operator's eyes can help.
void ReadingRun::give_up(const Work& work, const Picture& unseen, const Error& error) {
    if (error.code != "photo.missing_fiducials" && error.code != "photo.no_sheet" && error.code != "photo.bent" &&
        error.code != "photo.corners")
        return;
    not_found_ = {work.sources.back(), work.round.sheet.number, work.tilt_deg};
    Q_EMIT sheet_not_found(unseen, error);
}

BurnedSheet ReadingRun::burned_elsewhere(const Round& r) {
    // It was handed to another bench as a file: the photograph is the first that is heard of it.
    BurnedSheet b;
    b.uid = new_uid();
    b.when_utc = workbench_.now_utc();
    b.by = workbench_.draft().operator_initials;
    b.sheet = r.sheet;
    b.setup = r.setup;
    b.target = workbench_.draft().target;
    b.known_before = r.before;
    b.reason = r.reason;
    b.hoped_de = r.hoped_de;
    b.hoped_spread = r.hoped_spread;
    return b;
}

void ReadingRun::keep(const std::shared_ptr<Result>& result) {
    set(Step::keeping);
    Round& r = result->round;
    const auto metal = workbench_.materials().find(r.setup.stock.metal);
    const std::string metal_name = metal ? (*metal)->name : r.setup.stock.metal;
    const auto tell = [this](const Expected<void>& kept) {
        if (!kept)
            workbench_.fail(kept.error());
    };
    if (!r.burned) {
        const BurnedSheet b = burned_elsewhere(r);
        recorder_.record(entry_of(b, metal_name, FINCH_VERSION), {}, tell);
        workbench_.add_facts([&](Ledger& ledger) { ledger.add(b); });
        r.burned = true;
        r.burned_uid = b.uid;
    }
    const Target& target = workbench_.draft().target;
    result->fact = {result->uid, result->when_utc, workbench_.draft().operator_initials, r.burned_uid, r.sheet, r.setup,
                    target,      result->reading};
    const auto& ranked = result->ranked;
    const std::string summary =
        result->answer   ? *result->answer
        : ranked.empty() ? std::string(target.depth ? "no depth measured" : "no cell could be read")
                         : fmt::format("best {} with {}{} to {}", cell_name(r.sheet, ranked.front().cell),
                                       format_number(ranked.front().miss, 2), target.depth ? " µm" : "", target.name);
    const Outcome outcome = ranked.empty() || result->answer ? Outcome::unknown
                            : ranked.front().passes          ? Outcome::good
                                                             : Outcome::caution;
    // The numbers and both pictures are on the disk before anything is shown.
    recorder_.record(entry_of(result->fact, summary, outcome, metal_name, FINCH_VERSION), result->pictures,
                     [self = QPointer<ReadingRun>(this), result, tell](const Expected<void>& kept) {
                         if (self == nullptr)
                             return;
                         self->adopt(*result);
                         tell(kept);
                     });
}

void ReadingRun::adopt(const Result& result) {
    const ProofSheet& sheet = result.round.sheet;
    const std::string key = evidence_key(result.round.setup);
    workbench_.add_facts([&](Ledger& ledger) {
        ledger.add(result.fact, result.agreement);
        Knowledge knowledge = result.knowledge;
        // What the record held was either folded in already or will be asked for.
        const Knowledge* before = ledger.knowledge(key);
        knowledge.complete =
            before != nullptr && before->complete && before->observations.size() <= knowledge.observations.size();
        ledger.know(key, std::move(knowledge));
    });
    set(Step::idle);
    if (!result.choose)
        return workbench_.say(result.said);
    // A question is answered; which recipe is taken is for the operator.
    if (!result.ranked.empty() && !sheet.asks())
        workbench_.change(tr("read sheet %1").arg(sheet.number), {}, [&](Draft& d) {
            d.shown_sheet = sheet.number;
            d.cell = result.ranked.front().cell;
            const std::string name = d.recipe.name;
            d.recipe = cell_recipe(sheet, result.ranked.front().cell);
            d.recipe.name = name.empty() ? d.recipe.name : name;
        });
    else
        workbench_.note([&](Draft& d) { d.shown_sheet = sheet.number; });
    if (!result.said.isEmpty())
        return workbench_.say(result.said);
    const auto read = result.reading.count(CellState::read), hidden = result.reading.count(CellState::hidden);
    QString text = tr("Sheet %1 measured from %2: %3 of %4 cells read, %5 left out, %6 hidden by glare or shadow.")
                       .arg(sheet.number)
                       .arg(QString::fromStdString(result.reading.photo))
                       .arg(read)
                       .arg(sheet.free() ? sheet.own.size() : sheet.cells())
                       .arg(left_out_of(sheet, result.reading))
                       .arg(hidden);
    const auto unsure = std::ranges::count_if(result.reading.cells, [](const CellReading& c) {
        return c.state == CellState::read && c.within_de >= teaches_within_de;
    });
    if (const auto off = photograph_off(result.reading))
        text += tr(" It lay %1 CIEDE2000 from what an instrument measured; its other cells are set right by that.")
                    .arg(screen_number(off->de, 2));
    if (result.answer)
        text += u" "_s + from_utf8(*result.answer);
    const bool film = traits(sheet.base.process).lasting_colour && !sheet.ladder;
    const bool uneven = film && 2 * static_cast<std::size_t>(unsure) > read;
    if (uneven)
        text +=
            tr(" The light was too uneven for the colours to be learned from: photograph it once more, or measure some "
               "cells by instrument.");
    else if (film && !result.knowledge.evidence.films)
        text += tr(" Too few cells show a film, so nothing was learned from it.");
    // A few cells under a mirrored lamp are no trouble: the others tell.
    workbench_.say(text, uneven || hidden > read / 4 ? State::warn : State::ok);
}

} // namespace finch::app

#include "moc_reading_run.cpp"
