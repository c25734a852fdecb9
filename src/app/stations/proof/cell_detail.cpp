// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/proof/proof_view.h"

#include "app/session/text.h"
#include "app/session/words.h"

#include "evidence/learn.h"
#include "proof/answer.h"
#include "quantity/format.h"
#include "recipe/explain.h"

#include <cmath>

namespace finch::app {

using namespace Qt::StringLiterals;

std::optional<CellDetail> cell_detail(const Workbench& w) {
    const Draft& d = w.draft();
    const Round* r = w.round();
    if (r == nullptr || !d.cell)
        return std::nullopt;
    CellDetail out;
    const std::size_t cell = *d.cell;
    const Recipe recipe = cell_recipe(r->sheet, cell);
    out.sheet = r->sheet.number;
    out.cell = cell;
    out.title = QObject::tr("Cell %1").arg(QString::fromStdString(cell_name(r->sheet, cell)));
    const Target target = held_against(r->sheet, r->reading ? &*r->reading : nullptr, d.target);
    if (!target.depth)
        out.target = target.lab;
    out.target_note = q(target.name);
    if (wants_depths(d, r->sheet)) {
        out.target_note = um_text(d.target.depth->um);
        out.mark = DepthMark{d.target.depth->um, d.target.depth->within_um, {}, {}};
    }
    const CellForecast& before = w.first_forecast().cells.at(cell);
    out.settings = cell_settings(r->sheet, recipe);
    if (before.prediction) {
        out.settings +=
            (out.settings.isEmpty() ? QString() : u", "_s) +
            QObject::tr("%1 pulses per mm²").arg(screen_number(before.prediction->mark.pattern.pulses_per_m2 / 1e6));
        if (!out.mark)
            out.predicted_note = screen_number(before.prediction->oxide_nm(), 2) + u" nm"_s;
        else if (before.prediction->removal) {
            out.mark->predicted = before.prediction->depth_um();
            out.predicted_note = um_text(*out.mark->predicted);
        }
    }
    const OwnScene then = w.scene_of(*r, r->before);
    out.predicted = cell_look(then.scene(), recipe, before);
    if (!r->reading) {
        out.sentences << (out.mark ? QObject::tr("<b>Not measured yet.</b> The depth rests on %1.")
                                   : QObject::tr("<b>Not measured yet.</b> The colour rests on %1."))
                             .arg(QString::fromStdString(rests_on_words(r->before)));
        return out;
    }
    const CellReading& reading = r->reading->cells.at(cell);
    out.takes_depth = !traits(r->sheet.base.process).lasting_colour && reading.state != CellState::left_out;
    if (reading.depth_um)
        out.depth = screen_number(*reading.depth_um, 4) + u" ± "_s + screen_number(reading.depth_within_um, 2);
    if (out.mark && reading.depth_um) {
        out.mark->measured = reading.depth_um;
        out.measured_note = um_text(*reading.depth_um);
        const double off = *reading.depth_um - out.mark->wanted;
        const QString within = um_text(out.mark->within), wanted = um_text(out.mark->wanted);
        out.sentences << (std::abs(off) <= out.mark->within
                              ? QObject::tr("<b>Within %1</b> of %2: it passes.").arg(within, wanted)
                              : QObject::tr("<b>%1 too %2</b>; %3 is accepted round %4.")
                                    .arg(um_text(std::abs(off)), off < 0 ? QObject::tr("shallow") : QObject::tr("deep"),
                                         within, wanted));
    }
    if (out.takes_depth && before.prediction && before.prediction->removal)
        out.sentences << QObject::tr("Predicted <b>%1</b> deep%2.")
                             .arg(um_text(before.prediction->depth_um()),
                                  reading.depth_um ? QObject::tr(", measured <b>%1 µm</b>").arg(out.depth) : QString());
    if (reading.state != CellState::read) {
        if (!r->reading->photographed() && reading.state == CellState::hidden)
            return out; // measured by hand: there is no photograph that could show it
        out.sentences << (reading.state == CellState::hidden
                              ? QObject::tr("<b>Hidden by glare or shadow.</b> Turn the lamp or the sheet, or step "
                                            "aside, and take the photograph again.")
                              : QObject::tr("<b>Left out.</b> It would burn or show nothing."));
        return out;
    }
    out.measured = reading.lab;
    out.spoiled = reading.spoiled;
    if (reading.spoiled) {
        out.sentences << QObject::tr("<b>Spoiled</b>: molten, torn or flaked. It never wins, and the next cells keep "
                                     "away from where this bench spoils metal.");
        return out;
    }
    if (before.prediction && before.prediction->mark.look.valid)
        out.measured_note =
            screen_number(thickness_from_colour(*w.scene_of(*r).metal, reading.lab, before.prediction->mark.look.haze,
                                                before.prediction->oxide_nm() * r->agreement.thickness_ratio),
                          2) +
            u" nm"_s;
    if (r->agreement.cells > 0) {
        const double percent = 100 * (r->agreement.thickness_ratio - 1);
        const Evidence e = w.ledger().evidence(evidence_key(r->setup));
        const QString lot = r->setup.stock.lot.empty()
                                ? QObject::tr("this stock")
                                : QObject::tr("lot %1").arg(QString::fromStdString(r->setup.stock.lot));
        out.sentences
            << (std::abs(percent) < 1
                    ? QObject::tr("<b>The film grew as predicted</b>, within 1 %.")
                    : QObject::tr("<b>The film grew %1 % %2 than predicted</b>, over all %3 cells that show a colour.")
                          .arg(screen_number(std::abs(percent), 2),
                               percent < 0 ? QObject::tr("thinner") : QObject::tr("thicker"))
                          .arg(r->agreement.cells));
        out.sentences
            << QObject::tr(
                   "Learned for %1: growth factor <b>%2 ± %3</b>. Prediction and photograph differed by %4, now by %5.")
                   .arg(lot, screen_number(e.growth_gain, 2), screen_number(e.growth_gain * e.growth_fit_ln, 1),
                        screen_number(r->agreement.before_de, 2), screen_number(r->agreement.after_de, 2));
    }
    const auto slower =
        quick_prediction(w, with_knob(recipe, Knob::scan_speed, knob_value(recipe, Knob::scan_speed) / 1.2));
    const auto faster =
        quick_prediction(w, with_knob(recipe, Knob::scan_speed, knob_value(recipe, Knob::scan_speed) * 1.2));
    if (slower && faster && slower->mark.look.valid && faster->mark.look.valid)
        out.sentences << QObject::tr("<b>A fifth slower</b> turns it %1, <b>a fifth faster</b> %2.")
                             .arg(from_utf8(colour_name(slower->lab())), from_utf8(colour_name(faster->lab())));
    return out;
}

} // namespace finch::app
