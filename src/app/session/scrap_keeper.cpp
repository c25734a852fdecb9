// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/scrap_keeper.h"

#include "app/session/text.h"
#include "proof/layout.h"
#include "quantity/scan.h"

#include <algorithm>
#include <fmt/format.h>
#include <QUuid>

namespace finch::app {

namespace {

ScrapFact scrap_said(const Workbench& workbench, const std::string& piece, ScrapFact::Kind kind) {
    ScrapFact out;
    out.uid = QUuid::createUuid().toString(QUuid::WithoutBraces).toStdString();
    out.piece = piece;
    out.kind = kind;
    out.setup = workbench.draft().setup;
    return out;
}

RectMm covered(const ProofSheet& sheet, const ScrapPlace& at) {
    const SheetLayout plate = layout(sheet);
    return scrap_covers(at, plate.width_mm, plate.height_mm);
}

const ScrapPiece* piece_named(const std::vector<ScrapPiece>& bin, const std::string& name) {
    const auto at = std::ranges::find(bin, name, &ScrapPiece::name);
    return at == bin.end() ? nullptr : &*at;
}

tl::unexpected<Error> no_piece(const std::string& name) {
    return failure("scrap.no_piece", fmt::format("No piece {} is in the bin.", name), "Put it in, or choose another.");
}

/// The shown sheet, if it can still be laid elsewhere.
Expected<const PlannedSheet*> open_plan(const Workbench& workbench) {
    const Round* r = workbench.round();
    const auto& planned = workbench.draft().planned;
    const auto at = r == nullptr || r->burned ? planned.end()
                                              : std::ranges::find(planned, r->sheet.number,
                                                                  [](const PlannedSheet& p) { return p.sheet.number; });
    if (at == planned.end())
        return failure("scrap.no_sheet", "No sheet is shown that is planned and not burned.", "Plan a sheet first.");
    if (at->sheet.on_old_plate())
        return failure(
            "scrap.no_sheet",
            fmt::format("Sheet {} continues the frame of sheet {}.", at->sheet.number, at->sheet.plate_number()),
            "Design its cells on a fresh piece, and lay that.");
    return &*at;
}

void lay(Workbench& workbench, const QString& what, const std::function<void(PlannedSheet&, Draft&)>& edit) {
    const int number = workbench.round()->sheet.number;
    workbench.change(what, {}, [&](Draft& d) {
        for (PlannedSheet& p : d.planned)
            if (p.sheet.number == number)
                edit(p, d);
    });
}

} // namespace

ScrapKeeper::ScrapKeeper(Workbench& workbench, Recorder& recorder, QObject* parent) : QObject(parent) {
    connect(&workbench, &Workbench::scrap_said, this, [&workbench, &recorder](const ScrapFact& fact) {
        const auto metal = workbench.materials().find(fact.setup.stock.metal);
        recorder.record(entry_of(fact, metal ? (*metal)->name : fact.setup.stock.metal, FINCH_VERSION), {},
                        [&workbench](const Expected<void>& kept) {
                            if (!kept)
                                workbench.fail(kept.error());
                        });
    });
}

std::vector<ScrapPiece> bin_with_plans(const Draft& draft, const Ledger& ledger, int except) {
    std::vector<ScrapPiece> out = ledger.scrap();
    for (const PlannedSheet& p : draft.planned)
        if (p.scrap && p.sheet.number != except && ledger.sheet(p.sheet.number) == nullptr)
            for (ScrapPiece& piece : out)
                if (piece.name == p.scrap->piece)
                    piece.marks.push_back({p.scrap->face, covered(p.sheet, *p.scrap),
                                           fmt::format("sheet {}", p.sheet.number), p.sheet.number, p.scrap->turned});
    return out;
}

std::string put_in_bin(Workbench& workbench, double width_mm, double height_mm, const std::string& note) {
    int last = 0; // also of pieces that are gone: a name is on one piece for ever
    for (const ScrapFact& f : workbench.ledger().scrap_facts())
        if (const auto number =
                plain_number(std::string_view(f.piece).substr(std::min<std::size_t>(1, f.piece.size())));
            number && f.piece.starts_with('S') && *number < highest_sheet_number)
            last = std::max(last, static_cast<int>(*number));
    ScrapFact fact = scrap_said(workbench, fmt::format("S{}", last + 1), ScrapFact::Kind::found);
    fact.width_mm = width_mm;
    fact.height_mm = height_mm;
    fact.note = note;
    workbench.take_scrap(fact);
    return fact.piece;
}

Expected<void> mark_used(Workbench& workbench, const std::string& name, ScrapMark mark) {
    const ScrapPiece* piece = piece_named(workbench.ledger().scrap(), name);
    if (piece == nullptr)
        return no_piece(name);
    const RectMm& w = mark.where;
    if (!(w.w > 0 && w.h > 0) || w.x + w.w <= 0 || w.y + w.h <= 0 || w.x >= piece->width_mm || w.y >= piece->height_mm)
        return failure("scrap.outside", "This does not lie on the piece.", "Measure from its upper left corner.");
    ScrapFact fact = scrap_said(workbench, name, ScrapFact::Kind::used);
    fact.setup.stock = piece->stock;
    fact.mark = std::move(mark);
    workbench.take_scrap(std::move(fact));
    return {};
}

Expected<void> take_out_of_bin(Workbench& workbench, const std::string& name) {
    const ScrapPiece* piece = piece_named(workbench.ledger().scrap(), name);
    if (piece == nullptr)
        return no_piece(name);
    ScrapFact fact = scrap_said(workbench, name, ScrapFact::Kind::gone);
    fact.setup.stock = piece->stock;
    workbench.take_scrap(std::move(fact));
    return {};
}

Expected<void> lay_on_scrap(Workbench& workbench, const std::string& name) {
    const auto plan = open_plan(workbench);
    if (!plan)
        return tl::unexpected(plan.error());
    const auto bin = bin_with_plans(workbench.draft(), workbench.ledger(), (*plan)->sheet.number);
    const ScrapPiece* piece = piece_named(bin, name);
    if (piece == nullptr)
        return no_piece(name);
    const auto fit = fit_in_bin((*plan)->sheet, std::span(piece, 1), piece->stock);
    if (!fit)
        return failure("scrap.no_room",
                       fmt::format("Sheet {} has no room on either face of {}.", (*plan)->sheet.number, name),
                       "Take another piece, or plan fewer or smaller cells.");
    lay(workbench, QObject::tr("lay the sheet on %1").arg(from_utf8(name)), [&](PlannedSheet& p, Draft& d) {
        p.sheet = fit->sheet;
        p.scrap = fit->place;
        // How it is held and on what is the bench's matter, and the sheet is burned on what lies there.
        if (!same_scrap(d.setup.stock, piece->stock))
            d.setup.stock = piece->stock;
        p.setup.stock = d.setup.stock;
    });
    return {};
}

Expected<void> lay_on_fresh(Workbench& workbench) {
    const auto plan = open_plan(workbench);
    if (!plan)
        return tl::unexpected(plan.error());
    lay(workbench, QObject::tr("lay the sheet on fresh stock"), [](PlannedSheet& p, Draft&) { p.scrap.reset(); });
    return {};
}

std::optional<QString> scrap_obstacle(const Round& round, const Ledger& ledger) {
    if (!round.scrap)
        return std::nullopt;
    const ScrapPiece* piece = piece_named(ledger.scrap(), round.scrap->piece);
    const QString name = from_utf8(round.scrap->piece);
    if (piece == nullptr)
        return QObject::tr(
                   "Piece %1 is not in the scrap bin any more. Lay the sheet elsewhere: Scrap bin… (Ctrl+Alt+B).")
            .arg(name);
    if (!scrap_bare(*piece, round.scrap->face, covered(round.sheet, *round.scrap)))
        return QObject::tr(
                   "The place on piece %1 is not bare any more. Lay the sheet elsewhere: Scrap bin… (Ctrl+Alt+B).")
            .arg(name);
    return std::nullopt;
}

} // namespace finch::app

#include "moc_scrap_keeper.cpp"
