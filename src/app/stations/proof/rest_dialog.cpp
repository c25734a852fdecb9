// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/proof/rest_dialog.h"

#include "app/session/text.h"
#include "app/session/words.h"
#include "app/theme/label.h"
#include "search/film_posterior.h"

#include <algorithm>
#include <cmath>
#include <QDialogButtonBox>
#include <QFormLayout>
#include <QPushButton>

namespace finch::app {

using namespace Qt::StringLiterals;

RestDialog::RestDialog(Workbench& workbench, ProofFlow& flow, QWidget* parent)
    : QDialog(parent), workbench_(workbench), sheet_(workbench.round()->sheet),
      heats_(cell_heats(workbench.first_forecast())), below_(new QDoubleSpinBox(this)),
      without_(text_label({}, TextStyle::value, this)), with_(text_label({}, TextStyle::value, this)) {
    setObjectName(u"rest_dialog"_s);
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("Rests between cells"));
    const SheetForecast& f = workbench.first_forecast();
    bare_s_ = f.total_s - f.rests_s;
    const double chosen = sheet_.rest_below_k;
    below_->setObjectName(u"rest_below"_s);
    below_->setRange(0.5, most_rest_below_k);
    below_->setDecimals(1);
    below_->setSuffix(u" K"_s);
    constexpr double usual_k = 5;
    below_->setValue(chosen > 0 ? chosen : usual_k);
    without_->setObjectName(u"rest_without"_s);
    with_->setObjectName(u"rest_with"_s);
    without_->setText(tr("%1\nThe sheet takes %2.").arg(warmth_words(heat(0)), screen_duration(bare_s_)));
    for (QLabel* words : {without_, with_}) {
        words->setWordWrap(true);
        words->setMinimumSize(470, 3 * words->fontMetrics().lineSpacing());
        words->setAlignment(Qt::AlignLeft | Qt::AlignTop);
    }
    auto* why = text_label(tr("Cells are burned far from each other, one after the other; what is left of their "
                              "heat still makes films thicker. From the model, for a plate that lies on the table; "
                              "what is learned of this bench takes its own share of it."),
                           TextStyle::small, this);
    why->setWordWrap(true);
    auto* form = new QFormLayout(this);
    form->setSpacing(8);
    form->addRow(tr("Without rests"), without_);
    form->addRow(tr("Rest until under"), below_);
    form->addRow(tr("Then"), with_);
    form->addRow(why);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Cancel, this);
    rest_ = buttons->addButton(tr("Rest"), QDialogButtonBox::AcceptRole);
    rest_->setObjectName(u"rest_take"_s);
    rest_->setDefault(true);
    auto* none = buttons->addButton(tr("No rests"), QDialogButtonBox::DestructiveRole);
    none->setObjectName(u"rest_none"_s);
    none->setEnabled(chosen > 0);
    form->addRow(buttons);
    connect(below_, &QDoubleSpinBox::valueChanged, this, &RestDialog::refresh);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(none, &QPushButton::clicked, this, [this, &flow] {
        flow.set_rests(0);
        accept();
    });
    connect(buttons, &QDialogButtonBox::accepted, this, [this, &flow] {
        flow.set_rests(below_->value());
        accept();
    });
    refresh();
}

SheetHeat RestDialog::heat(double rest_below_k) const {
    ProofSheet sheet = sheet_;
    sheet.rest_below_k = rest_below_k;
    const Scene scene = workbench_.scene();
    return sheet_heat(sheet, scene.metal, scene.stock.thickness, heats_);
}

QString RestDialog::warmth_words(const SheetHeat& heat) const {
    if (heat.warmth_k.empty() || heat.warmest_k() < 0.5)
        return tr("Under 1 K everywhere.");
    const auto warmest = static_cast<std::size_t>(std::ranges::max_element(heat.warmth_k) - heat.warmth_k.begin());
    const std::size_t cell = heat.turns[warmest].cell;
    const QString where = tr("Up to %1 K, where %2 is burned")
                              .arg(screen_number(heat.warmest_k(), 2), QString::fromStdString(cell_name(sheet_, cell)));
    if (!traits(sheet_.base.process).lasting_colour)
        return where + u'.';
    const Recipe recipe = cell_recipe(sheet_, cell);
    const auto film = trials(workbench_.scene(), {&recipe, 1}, cell_fill(sheet_));
    if (film.empty())
        return where + u'.';
    Trial warm = film.front();
    warm.warmth_k = heat.warmest_k();
    const BenchOffsets usual = FilmPrior().mean;
    const double thicker = std::exp(warm.told(usual).ln_nm - film.front().told(usual).ln_nm) - 1;
    return thicker < 0.005 ? tr("%1; its film hardly changes by it.").arg(where)
                           : tr("%1; its film becomes %2 % thicker by it.").arg(where, screen_number(100 * thicker, 2));
}

void RestDialog::refresh() {
    const SheetHeat rested = heat(below_->value());
    rest_->setEnabled(rested.rests_s() > 0);
    if (rested.rests_s() <= 0)
        return with_->setText(tr("No rest is needed for that."));
    const auto longest = std::ranges::max_element(rested.turns, {}, [](const CellTurn& t) { return t.rest_s; })->rest_s;
    with_->setText(tr("%1\nThe sheet takes %2, %3 of it rests, the longest %4.")
                       .arg(warmth_words(rested), screen_duration(bare_s_ + rested.rests_s()),
                            screen_duration(rested.rests_s()), screen_duration(longest)));
}

} // namespace finch::app

#include "moc_rest_dialog.cpp"
