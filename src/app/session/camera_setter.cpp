// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/camera_setter.h"

#include "app/session/text.h"
#include "formats/picture_file.h"
#include "vision/fiducials.h"
#include "vision/sheet_photo.h"

#include <algorithm>
#include <QFileInfo>
#include <QUuid>
#include <utility>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr int typed_ms = 300;

QString values_line(const std::string& place, const Lab& lab) {
    return u"%1; %2; %3; %4\n"_s.arg(q(place)).arg(lab.l, 0, 'f', 1).arg(lab.a, 0, 'f', 1).arg(lab.b, 0, 'f', 1);
}

Expected<CameraSetter::Found> fitted_to(const CameraSetter::Shown& shown, const std::string& text) {
    const std::string name = shown.photo.toStdString();
    const ProofSheet& grid = shown.sheet ? *shown.sheet : colour_chart().grid;
    const auto values = measured_colours_from_text(text, grid, "");
    if (!values)
        return tl::unexpected(values.error());
    const auto photo = picture_from_bytes(shown.picture, name);
    if (!photo)
        return tl::unexpected(photo.error());
    auto places = shown.sheet ? read_sheet_photo(*photo, *shown.sheet).map([&](const ReadPhoto& read) {
        return measured_pairs(read, *shown.sheet, *values);
    })
                              : read_chart_photo(*photo, *values);
    if (!places)
        return tl::unexpected(places.error().in_file(name));
    return fit_camera_colour(*places).map([&](const CameraColour& camera) {
        return CameraSetter::Found{camera, std::move(*places)};
    });
}

} // namespace

CameraSetter::CameraSetter(Workbench& workbench, Recorder& recorder, LogbookDesk& desk, Camera& camera, QObject* parent)
    : QObject(parent), workbench_(workbench), recorder_(recorder), desk_(desk), camera_(camera) {
    soon_.setSingleShot(true);
    soon_.setInterval(typed_ms);
    connect(&soon_, &QTimer::timeout, this, &CameraSetter::fit);
    connect(&camera_, &Camera::photographed_print, this,
            [this](RequestId id, const QByteArray& picture, const LabByName& measured) {
                if (id != shot_)
                    return;
                shot_ = 0;
                QString text;
                for (const auto& [place, lab] : measured)
                    text += values_line(place, {lab[0], lab[1], lab[2]});
                if (!text.isEmpty()) {
                    values_ = text;
                    Q_EMIT values_came(text);
                }
                show({{}, tr("The bench's camera"), picture, workbench_.draft().setup});
            });
    connect(&camera_, &Camera::failed, this, [this](RequestId id, const Error& error) {
        if (id != shot_)
            return;
        shot_ = 0;
        Q_EMIT changed();
        fail(error);
    });
}

void CameraSetter::fail(const Error& error) {
    workbench_.fail(error);
    Q_EMIT failed(error);
}

void CameraSetter::photograph() {
    if (shot_ != 0)
        return;
    ++asked_;
    shot_ = camera_.photograph_print(chart_print(fiducial_modules(colour_chart().layout)));
    Q_EMIT changed();
}

void CameraSetter::take_photo(const QString& path) {
    const auto bytes = picture_bytes(path);
    if (!bytes)
        return fail(bytes.error());
    camera_.cancel(std::exchange(shot_, 0));
    ++asked_;
    show({{}, QFileInfo(path).fileName(), *bytes, workbench_.draft().setup});
}

void CameraSetter::type_values(const QString& text) {
    values_ = text;
    found_.reset();
    latest_.give_up();
    soon_.start();
    Q_EMIT changed();
}

int CameraSetter::measured_cells() const {
    const Round* r = workbench_.round();
    if (r == nullptr || !r->reading || r->reading->photos == 0)
        return 0;
    return static_cast<int>(std::ranges::count_if(r->reading->cells, &CellReading::by_instrument));
}

void CameraSetter::take_sheet() {
    const Ledger::Sheet* kept = workbench_.ledger().sheet(workbench_.draft().shown_sheet);
    if (measured_cells() == 0 || kept == nullptr || !kept->read)
        return;
    camera_.cancel(std::exchange(shot_, 0));
    desk_.ask(
        this,
        // The newest reading may have no photograph of its own: what was typed of it was kept after that.
        [number = kept->burned.sheet.number](Logbook& book) -> Expected<QByteArray> {
            EntryFilter filter;
            filter.kind = EntryKind::reading;
            filter.sheet_from = number;
            filter.limit = 1000000; // the newest come first, and sheets are many
            const auto heads = book.list(filter);
            if (!heads)
                return tl::unexpected(heads.error());
            for (const Entry& head : *heads)
                if (const auto pictures = head.sheet == number ? book.pictures(head.id) : std::vector<EntryPicture>())
                    for (const EntryPicture& p : *pictures)
                        if (p.name == "photo")
                            return p.bytes;
            return failure("camera.no_photo", "The record has no photograph of this sheet.",
                           "Photograph the sheet again, or use the chart.");
        },
        [this, read = *kept->read, turn = ++asked_](const Expected<QByteArray>& picture) {
            if (turn != asked_)
                return;
            if (!picture)
                return fail(picture.error());
            values_.clear();
            for (std::size_t i = 0; i < read.reading.cells.size(); ++i)
                if (const CellReading& c = read.reading.cells[i]; c.by_instrument)
                    values_ += values_line(cell_name(read.sheet, i), c.lab);
            Q_EMIT values_came(values_);
            show({read.sheet, tr("Sheet %1").arg(read.sheet.number, 2, 10, QChar(u'0')), *picture, read.setup});
        });
}

void CameraSetter::show(Shown shown) {
    shown_ = std::move(shown);
    fit();
}

void CameraSetter::fit() {
    soon_.stop();
    found_.reset();
    latest_.give_up();
    if (!shown_.picture.isEmpty() && !values_.trimmed().isEmpty())
        latest_.ask(
            "reading the chart", [shown = shown_, text = values_.toStdString()] { return fitted_to(shown, text); },
            [this](const Expected<Found>& found) {
                found_ = found;
                Q_EMIT changed();
            });
    Q_EMIT changed();
}

bool CameraSetter::keep(const QString& camera) {
    if (!found_ || !*found_ || look_only() || camera.trimmed().isEmpty())
        return false;
    CameraFact fact;
    fact.uid = QUuid::createUuid().toString(QUuid::WithoutBraces).toStdString();
    fact.colours = (*found_)->colours;
    fact.colours.camera = camera.trimmed().toStdString();
    const auto last = workbench_.ledger().cameras().find(fact.colours.camera);
    fact.when_utc = last != workbench_.ledger().cameras().end() ? workbench_.now_after(last->second.when_utc)
                                                                : workbench_.now_utc();
    fact.colours.when_utc = fact.when_utc;
    fact.by = workbench_.draft().operator_initials;
    fact.places = (*found_)->places;
    fact.shown = shown_.sheet ? "sheet " + std::to_string(shown_.sheet->number) : "colour chart";
    fact.setup = shown_.setup;
    workbench_.add_facts([&](Ledger& ledger) { ledger.add(fact); });
    const auto metal = workbench_.materials().find(fact.setup.stock.metal);
    // That of a sheet is in the record already.
    const auto pictures =
        shown_.sheet ? std::vector<EntryPicture>() : std::vector<EntryPicture>{{"photo", shown_.picture}};
    recorder_.record(entry_of(fact, metal ? (*metal)->name : fact.setup.stock.metal, FINCH_VERSION), pictures,
                     [this](const Expected<void>& kept) {
                         if (!kept)
                             workbench_.fail(kept.error());
                     });
    use_camera(workbench_, fact.colours);
    return true;
}

void use_camera(Workbench& workbench, const std::optional<CameraColour>& camera) {
    if (!camera) {
        workbench.change(QObject::tr("colours as they come"), {}, [](Draft& d) { d.camera.reset(); });
        return workbench.say(QObject::tr("The colours of photographs are taken as they come."));
    }
    workbench.change(QObject::tr("camera %1").arg(q(camera->camera)), {}, [&](Draft& d) { d.camera = *camera; });
    workbench.say(QObject::tr("Photographs are read with the colours of %1: %2 places, %3 CIEDE2000 left unexplained.")
                      .arg(q(camera->camera))
                      .arg(camera->places)
                      .arg(screen_number(camera->residual_de, 2)));
}

} // namespace finch::app

#include "moc_camera_setter.cpp"
