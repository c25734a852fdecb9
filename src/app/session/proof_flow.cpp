// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/proof_flow.h"

#include "bench/bench_json.h"
#include "formats/sheet_export.h"
#include "proof/first_sheet.h"
#include "quantity/format.h"
#include "vision/fiducials.h"
#include "vision/sheet_photo.h"

#include <fmt/format.h>
#include <QFileInfo>
#include <QFutureWatcher>
#include <QtConcurrentRun>

namespace finch::app {

using namespace Qt::StringLiterals;
using json = nlohmann::json;

namespace {

std::string axes_words(const ProofSheet& sheet) {
    QString a = QString::fromStdString(std::string(traits(sheet.across.knob).label)).toLower();
    QString b = QString::fromStdString(std::string(traits(sheet.down.knob).label)).toLower();
    return (a + u" \u00d7 "_s + b).toStdString();
}

std::string sheet_title(const ProofSheet& sheet) {
    return fmt::format("Sheet {:02}, {}", sheet.number, axes_words(sheet));
}

QImage to_image(const Picture& p) {
    return QImage(p.rgb.data(), p.width, p.height, 3 * p.width, QImage::Format_RGB888).copy();
}

} // namespace

/// What the worker brings back from a photograph.
struct ProofFlow::ReadResult {
    int round = -1;
    Picture photo;
    Expected<ReadPhoto> read;
    std::optional<Lesson> lesson;
    QString name;
};

ProofFlow::ProofFlow(Workbench& workbench, Logbook* logbook, BenchLink& link, QObject* parent)
    : QObject(parent), workbench_(workbench), logbook_(logbook), link_(link) {
    retry_.setInterval(3000);
    connect(&retry_, &QTimer::timeout, this, &ProofFlow::retry);
    connect(&link_, &BenchLink::progressed, this, [this](double share, const QString& at) {
        if (step_ == Step::burning)
            set(Step::burning, share, at.isEmpty() ? tr("Starting the stand-in") : tr("Burning %1").arg(at));
    });
    connect(&link_, &BenchLink::burned, this, &ProofFlow::burn_finished);
    connect(&link_, &BenchLink::cancelled, this, [this] {
        set(Step::idle);
        workbench_.say(tr("Burning was cancelled. The sheet can be burned again on fresh metal."), State::warn);
    });
    connect(&link_, &BenchLink::photographed, this, [this](const QByteArray& png) {
        const auto picture = picture_from_bytes(png, "camera");
        if (picture)
            return read_picture(*picture, tr("camera, shot %1").arg(attempt_));
        set(Step::idle);
        workbench_.fail(picture.error());
    });
    connect(&link_, &BenchLink::failed, this, [this](const Error& error, bool) {
        if (step_ == Step::idle)
            return;
        set(Step::idle);
        workbench_.fail(error);
    });
    connect(&workbench_, &Workbench::focus_confirmed, this, &ProofFlow::record_focus);
}

void ProofFlow::set(Step step, double progress, const QString& text) {
    step_ = step;
    progress_ = progress;
    progress_text_ = text;
    Q_EMIT step_changed();
}

Entry ProofFlow::blank_entry(EntryKind kind) const {
    const Setup& s = workbench_.draft().setup;
    Entry e;
    e.kind = kind;
    e.when_utc = to_utc_text(workbench_.now()).toStdString();
    e.by = workbench_.draft().operator_initials;
    e.bench = s.bench.name;
    e.metal = workbench_.metal().name;
    e.lot = s.stock.lot;
    e.setup = to_json(s);
    e.program_version = FINCH_VERSION;
    return e;
}

long long ProofFlow::record(const Entry& entry, const std::vector<EntryPicture>& pictures,
                            const std::function<void(long long)>& later) {
    if (logbook_ == nullptr) {
        workbench_.say(tr("There is no logbook, so this was not written."), State::warn);
        return 0;
    }
    const auto id = logbook_->add(entry, pictures);
    if (!id) {
        unwritten_.push_back({entry, pictures, later});
        retry_.start();
        workbench_.fail(id.error());
        return 0;
    }
    Q_EMIT recorded(*id);
    return *id;
}

void ProofFlow::retry() {
    std::vector<Unwritten> left;
    for (Unwritten& u : unwritten_) {
        const auto id = left.empty() ? logbook_->add(u.entry, u.pictures) : Expected<long long>(0);
        if (!left.empty() || !id) {
            left.push_back(std::move(u));
            continue;
        }
        if (u.later)
            u.later(*id);
        Q_EMIT recorded(*id);
        workbench_.say(tr("\u201c%1\u201d is now in the logbook.").arg(QString::fromStdString(u.entry.title)));
    }
    unwritten_ = std::move(left);
    if (unwritten_.empty())
        retry_.stop();
}

void ProofFlow::record_focus() {
    const Focus& f = workbench_.draft().setup.focus;
    Entry e = blank_entry(EntryKind::bench);
    e.title = fmt::format("Focus confirmed, {}", workbench_.bench().lens().name);
    e.summary = fmt::format("by {}, offset {} mm on {} mm stock", word(f.method), format_number(in_mm(f.offset)),
                            format_number(in_mm(workbench_.draft().setup.stock.thickness)));
    e.outcome = Outcome::good;
    e.body = {{"format", "finch-focus"}, {"version", 1}};
    record(e, {});
    workbench_.say(tr("Focus confirmed and written to the logbook."));
}

QImage ProofFlow::rectified() const {
    const Round* r = workbench_.draft().round();
    if (r == nullptr || r->reading_entry == 0)
        return {};
    if (const auto it = rectified_.find(r->reading_entry); it != rectified_.end())
        return it->second;
    if (logbook_ == nullptr)
        return {};
    if (const auto pictures = logbook_->pictures(r->reading_entry))
        for (const EntryPicture& p : *pictures)
            if (p.name == "rectified")
                return QImage::fromData(p.png);
    return {};
}

void ProofFlow::suggest_opening(Knob across, Knob down) {
    const Draft& d = workbench_.draft();
    if (!traits(d.recipe.process).lasting_colour) {
        // Only films have a colour to search for; everything else is searched round the planned recipe.
        const SheetRequest first = first_sheet(d.recipe, d.school, workbench_.bench());
        workbench_.change(tr("suggested sheet"), {}, [&](Draft& draft) {
            draft.request.across = first.across;
            draft.request.down = first.down;
        });
        return workbench_.say(tr("A sheet round the planned recipe, over the two knobs that decide for it."));
    }
    const auto opening = opening_sheet(d.target, d.recipe, across, down, workbench_.scene());
    if (!opening)
        return workbench_.fail(opening.error());
    workbench_.change(tr("suggested sheet"), {}, [&](Draft& draft) {
        const Length w = draft.request.cell_width, h = draft.request.cell_height, gap = draft.request.gap;
        draft.request = opening->request;
        draft.request.cell_width = w;
        draft.request.cell_height = h;
        draft.request.gap = gap;
        draft.recipe = opening->request.base;
        draft.recipe.process = draft.target.darker_is_better ? Process::anneal : Process::colour;
    });
    workbench_.say(QString::fromStdString(opening->reason));
}

void ProofFlow::plan(bool leave_out_hopeless) {
    const Draft& d = workbench_.draft();
    // Letters that anneal are safe on bare metal; coats and compounds are lettered with the recipe itself.
    const bool film = traits(d.recipe.process).lasting_colour;
    const Expected<Recipe> labels = film ? label_recipe(workbench_.scene())
                                         : Expected<Recipe>(d.recipe);
    if (!labels)
        return workbench_.fail(labels.error());
    SheetRequest request = d.request;
    request.number = d.next_sheet;
    request.base = d.recipe;
    if (request.aim.empty())
        request.aim = d.target.name;
    auto sheet = plan_sheet(request, workbench_.bench(), *labels);
    if (!sheet)
        return workbench_.fail(sheet.error());
    if (leave_out_hopeless)
        *sheet = without_hopeless(*sheet, finch::forecast(*sheet, workbench_.scene()));
    workbench_.change(tr("plan sheet %1").arg(request.number), {}, [&](Draft& draft) {
        Round round;
        round.sheet = *sheet;
        round.before = workbench_.evidence();
        draft.rounds.push_back(round);
        draft.shown_round = static_cast<int>(draft.rounds.size()) - 1;
        draft.cell.reset();
        draft.next_sheet = request.number + 1;
    });
    workbench_.say(tr("Sheet %1 is planned. Burn it on scrap of the same lot.").arg(request.number));
}

void ProofFlow::plan_next() {
    const Draft& d = workbench_.draft();
    const Round* r = d.round();
    const auto ranked = ranking();
    if (r == nullptr || !r->reading || ranked.empty())
        return workbench_.say(tr("Read this sheet first: the next one follows from what it shows."), State::warn);
    const std::size_t cell = d.cell.value_or(ranked.front().cell);
    auto next = next_sheet(r->sheet, *r->reading, d.target, cell, workbench_.scene());
    if (!next)
        return workbench_.fail(next.error());
    next->request.number = d.next_sheet;
    const auto sheet = plan_sheet(next->request, workbench_.bench(), r->sheet.label_recipe);
    if (!sheet)
        return workbench_.fail(sheet.error());
    const ProofSheet trimmed =
        without_hopeless(*sheet, finch::forecast(*sheet, workbench_.scene()));
    workbench_.change(tr("plan sheet %1").arg(next->request.number), {}, [&](Draft& draft) {
        Round round;
        round.sheet = trimmed;
        round.reason = next->reason;
        round.hoped_de = next->hoped_de;
        round.hoped_spread = next->hoped_spread;
        round.before = workbench_.evidence();
        draft.rounds.push_back(round);
        draft.shown_round = static_cast<int>(draft.rounds.size()) - 1;
        draft.cell.reset();
        draft.request = next->request;
        draft.recipe = next->request.base;
        draft.next_sheet = next->request.number + 1;
    });
    workbench_.say(QString::fromStdString(next->reason));
}

void ProofFlow::burn() {
    const Draft& d = workbench_.draft();
    const Round* r = d.round();
    if (r == nullptr)
        return workbench_.say(tr("Plan a sheet first."), State::warn);
    if (step_ != Step::idle)
        return;
    if (workbench_.focus_state().stale())
        return workbench_.say(tr("Confirm the focus first: something it rests on has changed."), State::warn);
    for (const Finding& f : check(r->sheet.base, workbench_.bench(), d.setup.stock))
        if (f.severity == Severity::blocking)
            return workbench_.say(QString::fromStdString(f.message + " " + f.remedy), State::fail);
    burning_round_ = d.shown_round;
    const SheetLayout at = layout(r->sheet);
    set(Step::burning, 0, tr("Starting the stand-in"));
    link_.burn(d.setup, tool_steps(r->sheet, at, fiducial_modules(at)));
}

void ProofFlow::cancel() {
    if (step_ == Step::burning)
        link_.cancel();
}

void ProofFlow::burn_finished(double time_s) {
    if (step_ != Step::burning || burning_round_ < 0)
        return;
    const Round& r = workbench_.draft().rounds.at(static_cast<std::size_t>(burning_round_));
    Entry e = blank_entry(EntryKind::sheet);
    e.title = sheet_title(r.sheet);
    e.summary = fmt::format(
        "{} cells burned in {}, for {}",
        r.sheet.cells() - static_cast<std::size_t>(std::count(r.sheet.left_out.begin(), r.sheet.left_out.end(), true)),
        format_duration(time_s), workbench_.draft().target.name);
    e.body = {{"format", "finch-sheet-record"},    {"version", 1},
              {"sheet", to_json(r.sheet)},         {"target", to_json(workbench_.draft().target)},
              {"known_before", to_json(r.before)}, {"burned_s", time_s}};
    const auto keep_id = [this, index = burning_round_](long long id) {
        workbench_.note([&](Draft& d) {
            if (index < static_cast<int>(d.rounds.size()))
                d.rounds[static_cast<std::size_t>(index)].sheet_entry = id;
        });
    };
    const long long id = record(e, {}, keep_id);
    workbench_.note([&](Draft& d) {
        Round& round = d.rounds.at(static_cast<std::size_t>(burning_round_));
        round.burned = true;
        round.sheet_entry = id;
        // The photograph that follows is of this sheet, whatever was looked at meanwhile.
        d.shown_round = burning_round_;
    });
    workbench_.say(tr("The sheet is burned. Lay the white card on its place; the camera takes the photograph."));
    photograph();
}

void ProofFlow::photograph() {
    const Round* r = workbench_.draft().round();
    if (r == nullptr)
        return;
    if (!r->burned)
        return workbench_.say(tr("Burn the sheet first, or read a photograph from a file."), State::warn);
    set(Step::photographing, 0, tr("Taking the photograph"));
    link_.photograph(layout(r->sheet).white_card, ++attempt_);
}

void ProofFlow::read_file(const QString& path) {
    const auto picture = load_picture(path);
    if (!picture)
        return workbench_.fail(picture.error());
    read_picture(*picture, QFileInfo(path).fileName());
}

void ProofFlow::read_picture(const Picture& photo, const QString& name) {
    const Draft& d = workbench_.draft();
    const Round* r = d.round();
    if (r == nullptr)
        return workbench_.say(tr("Plan or choose the sheet that the photograph shows."), State::warn);
    set(Step::reading, 0, tr("Reading the photograph"));
    // Copies of everything the worker needs: the operator may go on working meanwhile.
    const auto work = [photo, name, index = d.shown_round, round = *r, setup = d.setup,
                       materials = workbench_.materials(), metal = workbench_.materials().find(d.setup.stock.metal)]() {
        ReadResult out{index, photo, read_sheet_photo(photo, round.sheet), std::nullopt, name};
        if (out.read && metal) {
            out.read->reading.photo = name.toStdString();
            if (const auto lesson =
                    learn(round.sheet, out.read->reading, {materials, **metal, setup.bench, setup.stock, round.before}))
                out.lesson = *lesson;
        }
        return std::make_shared<ReadResult>(std::move(out));
    };
    auto* watcher = new QFutureWatcher<std::shared_ptr<ReadResult>>(this);
    connect(watcher, &QFutureWatcherBase::finished, this, [this, watcher] {
        adopt_reading(*watcher->result());
        watcher->deleteLater();
    });
    watcher->setFuture(QtConcurrent::run(work));
}

void ProofFlow::adopt_reading(const ReadResult& result) {
    set(Step::idle);
    if (!result.read)
        return workbench_.fail(result.read.error());
    if (result.round < 0 || result.round >= static_cast<int>(workbench_.draft().rounds.size()))
        return;
    const SheetReading& reading = result.read->reading;
    Round round = workbench_.draft().rounds.at(static_cast<std::size_t>(result.round));
    round.reading = reading;
    if (result.lesson) {
        round.thickness_ratio = result.lesson->thickness_ratio;
        round.before_de = result.lesson->before_de;
        round.after_de = result.lesson->after_de;
        round.learned_cells = result.lesson->cells;
    }
    const SheetForecast times = finch::forecast(round.sheet, workbench_.scene().knowing(round.before));
    const auto ranked = rank(reading, workbench_.draft().target, times);
    Entry e = blank_entry(EntryKind::reading);
    e.title = fmt::format("Sheet {:02}, reading", round.sheet.number);
    e.parent = round.sheet_entry;
    e.outcome = ranked.empty() ? Outcome::unknown : ranked.front().passes ? Outcome::good : Outcome::caution;
    e.summary = ranked.empty() ? std::string("no cell could be read")
                               : fmt::format("best {} with {} to {}", cell_name(round.sheet, ranked.front().cell),
                                             format_number(ranked.front().de, 2), workbench_.draft().target.name);
    e.body = {{"format", "finch-reading-record"},
              {"version", 1},
              {"sheet", to_json(round.sheet)},
              {"reading", to_json(reading, round.sheet)},
              {"target", to_json(workbench_.draft().target)},
              {"known_before", to_json(round.before)}};
    if (result.lesson)
        e.body["learned"] = to_json(result.lesson->evidence);
    // The numbers and both pictures are on the disk before anything is shown.
    const auto keep_id = [this, index = result.round, image = to_image(result.read->rectified)](long long id) {
        rectified_[id] = image;
        workbench_.note([&](Draft& d) {
            if (index < static_cast<int>(d.rounds.size()))
                d.rounds[static_cast<std::size_t>(index)].reading_entry = id;
        });
    };
    round.reading_entry =
        record(e, {{"photo", png_bytes(result.photo)}, {"rectified", png_bytes(result.read->rectified)}}, keep_id);
    if (round.reading_entry != 0)
        rectified_[round.reading_entry] = to_image(result.read->rectified);
    const auto key = evidence_key(workbench_.draft().setup);
    workbench_.change(tr("read sheet %1").arg(round.sheet.number), {}, [&](Draft& d) {
        round.burned = true;
        d.rounds.at(static_cast<std::size_t>(result.round)) = round;
        if (result.lesson)
            d.evidence[key] = result.lesson->evidence;
        d.shown_round = result.round;
        if (!ranked.empty()) {
            d.cell = ranked.front().cell;
            d.recipe = cell_recipe(round.sheet, ranked.front().cell);
        }
    });
    const auto hidden = reading.count(CellState::hidden);
    workbench_.say(tr("Sheet %1 measured from %2: %3 of %4 cells read, %5 left out, %6 hidden by glare.")
                       .arg(round.sheet.number)
                       .arg(result.name)
                       .arg(reading.count(CellState::read))
                       .arg(round.sheet.cells())
                       .arg(reading.count(CellState::left_out))
                       .arg(hidden),
                   hidden > 0 ? State::warn : State::ok);
}

void ProofFlow::choose_cell(std::size_t cell) {
    const Round* r = workbench_.draft().round();
    if (r == nullptr || cell >= r->sheet.cells())
        return;
    workbench_.change(tr("choose cell %1").arg(QString::fromStdString(cell_name(r->sheet, cell))), u"cell"_s,
                      [&](Draft& d) {
                          d.cell = cell;
                          const std::string name = d.recipe.name;
                          d.recipe = cell_recipe(d.round()->sheet, cell);
                          d.recipe.name = name;
                      });
}

void ProofFlow::show_round(int index) {
    workbench_.note([&](Draft& d) {
        if (index >= 0 && index < static_cast<int>(d.rounds.size())) {
            d.shown_round = index;
            d.cell.reset();
        }
    });
}

std::vector<RankedCell> ProofFlow::ranking() const {
    const Round* r = workbench_.draft().round();
    if (r == nullptr || !r->reading)
        return {};
    return rank(*r->reading, workbench_.draft().target, workbench_.forecast());
}

void ProofFlow::save_recipe(const QString& name) {
    const Draft& d = workbench_.draft();
    Recipe recipe = d.recipe;
    recipe.name = name.trimmed().toStdString();
    if (recipe.name.empty())
        return workbench_.say(tr("Give the recipe a name."), State::warn);
    Entry e = blank_entry(EntryKind::recipe);
    e.title = recipe.name;
    e.body = {{"format", "finch-recipe-record"},
              {"version", 1},
              {"recipe", to_json(recipe)},
              {"target", to_json(d.target)},
              {"evidence", to_json(workbench_.evidence())}};
    if (const auto& p = workbench_.prediction())
        e.body["prediction"] = to_json(*p);
    e.summary = "not proved on this lot";
    const Round* r = d.round();
    if (r != nullptr && r->reading && d.cell && cell_recipe(r->sheet, *d.cell).setting == recipe.setting) {
        const CellReading& c = r->reading->cells.at(*d.cell);
        e.parent = r->reading_entry;
        if (c.state == CellState::read) {
            const double de = distance(d.target, c.lab);
            e.outcome = de <= d.target.accept_de ? Outcome::good : Outcome::caution;
            e.summary = fmt::format("cell {} of sheet {:02}, {} from {}", cell_name(r->sheet, *d.cell), r->sheet.number,
                                    format_number(de, 2), d.target.name);
            e.body["measured"] = {{"cell", cell_name(r->sheet, *d.cell)}, {"sheet", r->sheet.number},
                                  {"lab", {c.lab.l, c.lab.a, c.lab.b}},   {"unevenness_de00", c.unevenness},
                                  {"confidence", c.confidence},           {"de00_to_target", de}};
        }
    }
    if (record(e, {}) == 0)
        return;
    workbench_.change(tr("save recipe"), {}, [&](Draft& draft) {
        draft.recipe = recipe;
        draft.saved = recipe;
    });
    workbench_.say(tr("Recipe \u201c%1\u201d saved with its evidence.").arg(QString::fromStdString(recipe.name)));
}

} // namespace finch::app
