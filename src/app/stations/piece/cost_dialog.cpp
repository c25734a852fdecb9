// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/piece/cost_dialog.h"

#include "app/session/text.h"
#include "app/stations/piece/film_words.h"
#include "app/theme/field_state.h"
#include "app/theme/label.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <QDialogButtonBox>
#include <QDoubleSpinBox>
#include <QGridLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QRegularExpression>
#include <QTableWidget>
#include <QVBoxLayout>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr int most_tiers = 12, most_pieces = 100000, table_high = 200;

/// Quantities as they are typed: "1, 10, 25". Nothing where one is none.
std::optional<std::vector<int>> quantities(const QString& text) {
    static const QRegularExpression between(u"[\\s,;]+"_s);
    std::vector<int> out;
    for (const QString& word : text.left(400).split(between, Qt::SkipEmptyParts)) {
        bool whole = false;
        const int n = word.toInt(&whole);
        if (!whole || n < 1 || n > most_pieces || out.size() == most_tiers)
            return std::nullopt;
        out.push_back(n);
    }
    return out.empty() ? std::nullopt : std::optional(out);
}

/// The way at hand, as it could be kept.
Expected<KeptRoute> route_of(const Workbench& workbench, const PieceReader& drawing, const ReliefReader& relief,
                             const PriceRules& price, double spoiled) {
    const auto piece =
        relief.chosen() ? costed_relief(workbench, relief, price) : costed_piece(workbench, drawing, price);
    return piece.map([&](const auto& p) { return KeptRoute{p->cost.route, p->cost.rules, spoiled}; });
}

} // namespace

CostDialog::CostDialog(Workbench& workbench, const PieceReader& drawing, const ReliefReader& relief, QWidget* parent)
    : QDialog(parent), workbench_(workbench), drawing_(drawing), relief_(relief), price_(workbench.draft().piece.price),
      spoiled_(workbench.draft().piece.place.spoiled), against_(workbench.draft().piece.against) {
    setObjectName(u"cost_dialog"_s);
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("What it costs"));
    resize(980, 560);
    auto* column = new QVBoxLayout(this);
    column->setSpacing(12);
    auto* row = new QHBoxLayout;
    row->setSpacing(24);
    auto* left = new QWidget(this);
    left->setFixedWidth(330);
    auto* grid = new QGridLayout(left);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setVerticalSpacing(8);
    make_fields(grid);
    row->addWidget(left);
    auto* right = new QVBoxLayout;
    right->setSpacing(8);
    route_ = text_label({}, TextStyle::section, this);
    route_->setObjectName(u"cost_route"_s);
    right->addWidget(route_);
    batch_ = plain_label({}, TextStyle::body, this);
    batch_->setObjectName(u"cost_batch"_s);
    batch_->setWordWrap(true);
    right->addWidget(batch_);
    parts_ = new PartsBar(u"cost_parts"_s, tr("What the batch costs"), true, this);
    right->addWidget(parts_);
    table_ = new QTableWidget(0, 6, this);
    table_->setObjectName(u"cost_tiers"_s);
    table_->setAccessibleName(tr("Prices by quantity"));
    table_->setHorizontalHeaderLabels({tr("good pieces"), tr("begun"), tr("a piece costs"), tr("its price"),
                                       tr("all together"), tr("no dearer from")});
    table_->verticalHeader()->hide();
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->setMinimumHeight(table_high);
    connect(table_, &QTableWidget::itemSelectionChanged, this, [this] {
        if (!filling_ && here_)
            show_batch(here_->rules, wanted());
    });
    right->addWidget(table_, 1);
    other_ = plain_label({}, TextStyle::body, this);
    other_->setObjectName(u"cost_other"_s);
    other_->setWordWrap(true);
    other_->setMinimumHeight(44);
    right->addWidget(other_);
    row->addLayout(right, 1);
    column->addLayout(row, 1);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Cancel, this);
    const auto button = [&](const QString& text, const QString& name, const QString& tip, auto&& run) {
        QPushButton* b = buttons->addButton(text, QDialogButtonBox::ActionRole);
        b->setObjectName(name);
        b->setToolTip(tip);
        b->setAutoDefault(false);
        connect(b, &QPushButton::clicked, this, run);
        return b;
    };
    keep_route_ = button(tr("Compare later ones with this"), u"cost_keep_route"_s,
                         tr("Then choose another bench, process or recipe, and open this again."), [this] {
                             against_ = here_;
                             refresh();
                         });
    forget_route_ = button(tr("Compare with nothing"), u"cost_forget_route"_s, {}, [this] {
        against_.reset();
        refresh();
    });
    keep_ = button(tr("Keep"), u"cost_keep"_s, tr("The prices are this piece's from now on."), [this] {
        workbench_.change(tr("What it costs"), {}, [&](Draft& d) {
            d.piece.price = price_;
            d.piece.place.spoiled = spoiled_;
            d.piece.against = against_;
        });
        accept();
    });
    keep_->setDefault(true);
    column->addWidget(buttons);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    filling_ = false;
    refresh();
}

void CostDialog::add(QGridLayout* grid, const NumberField& field, const std::function<void(double)>& set) {
    connect(add_number(grid, field, this), &QDoubleSpinBox::valueChanged, this, [this, set](double v) {
        set(v);
        refresh();
    });
}

void CostDialog::make_fields(QGridLayout* grid) {
    PriceRules& p = price_;
    add(grid, {u"cost_blank"_s, tr("A blank"), {}, 0, 1e6, p.blank}, [&p](double v) { p.blank = v; });
    add(grid, {u"cost_hands"_s, tr("Hands, an hour (0: as the bench)"), {}, 0, 1e4, p.operator_rate_h},
        [&p](double v) { p.operator_rate_h = v; });
    add(grid, {u"cost_attend"_s, tr("Watched while it marks"), u"%"_s, 0, 100, 100 * p.attend},
        [&p](double v) { p.attend = v / 100; });
    if (const auto part = drawing_.part(); part && !relief_.chosen()) {
        const AfterWork after = after_work(workbench_.materials(), *part);
        if (!after.words.empty()) { // a film's is in its steps
            add(grid,
                {u"cost_after"_s, tr("By hand afterwards, each"), u"min"_s, 0, 600,
                 p.after_min.value_or(after.minutes)},
                [&p](double v) { p.after_min = v; });
            findChild<QDoubleSpinBox*>(u"cost_after"_s)->setToolTip(from_utf8(after.words));
        }
    }
    add(grid, {u"cost_setup"_s, tr("To set up"), u"min"_s, 0, 1e4, p.setup_min}, [&p](double v) { p.setup_min = v; });
    add(grid, {u"cost_proof"_s, tr("To prove"), u"min"_s, 0, 1e4, p.proof_min}, [&p](double v) { p.proof_min = v; });
    add(grid, {u"cost_proofs"_s, tr("Blanks for proofs"), {}, 0, 1e4, static_cast<double>(p.proof_blanks), 0},
        [&p](double v) { p.proof_blanks = static_cast<int>(std::lround(v)); });
    add(grid, {u"cost_fixed"_s, tr("Once, besides"), {}, 0, 1e6, p.fixed}, [&p](double v) { p.fixed = v; });
    add(grid, {u"cost_spoiled"_s, tr("Spoiled as a rule"), u"%"_s, 0, 90, 100 * spoiled_},
        [this](double v) { spoiled_ = v / 100; });
    add(grid, {u"cost_margin"_s, tr("Margin, of the price"), u"%"_s, 0, 95, 100 * p.margin},
        [&p](double v) { p.margin = v / 100; });
    add(grid, {u"cost_step"_s, tr("Prices are multiples of"), {}, 0, 1000, p.step}, [&p](double v) { p.step = v; });
    quantities_ = new QLineEdit(this);
    quantities_->setObjectName(u"cost_quantities"_s);
    quantities_->setAccessibleName(tr("Quantities"));
    QStringList words;
    for (const int n : p.tiers)
        words << QString::number(n);
    quantities_->setText(words.join(u", "_s));
    quantities_->setCursorPosition(0);
    const int row = grid->rowCount();
    grid->addWidget(text_label(tr("Quantities"), TextStyle::small, this), row, 0);
    grid->addWidget(quantities_, row, 1);
    connect(quantities_, &QLineEdit::editingFinished, this, [this] {
        const auto typed = quantities(quantities_->text());
        mark_wrong(quantities_, !typed);
        keep_->setEnabled(typed.has_value()); // Enter must not keep what was typed before
        if (typed) {
            price_.tiers = *typed;
            refresh();
        } else
            complain(
                {"cost.quantities", "These are no quantities.", "Write up to twelve whole numbers: 1, 10, 100.", {}});
    });
    grid->setRowStretch(row + 1, 1);
}

int CostDialog::wanted() const {
    const int row = table_->currentRow();
    return row >= 0 && row < static_cast<int>(tiers_.size()) ? tiers_[static_cast<std::size_t>(row)].pieces : 1;
}

void CostDialog::complain(const Error& error) {
    batch_->setText(from_utf8(sentence(error)));
    parts_->show_parts({});
}

void CostDialog::refresh() {
    if (filling_)
        return;
    const auto here = route_of(workbench_, drawing_, relief_, price_, spoiled_);
    here_ = here ? std::optional(*here) : std::nullopt;
    keep_route_->setEnabled(here_.has_value());
    forget_route_->setEnabled(against_.has_value());
    if (!here)
        return complain(here.error());
    const QString route = from_utf8(here->name);
    route_->setText(route);
    const auto tiers = price_list(price_.tiers, price_.margin, price_.step, [&](int n) -> Expected<double> {
        return batch_cost(here->rules, n, spoiled_).map([](const JobCost& c) { return c.unit; });
    });
    if (!tiers)
        return complain(tiers.error());
    tiers_ = *tiers;
    // A batch rather than one piece is looked at first.
    const int before =
        std::clamp(table_->currentRow() < 0 ? 1 : table_->currentRow(), 0, static_cast<int>(tiers_.size()) - 1);
    filling_ = true;
    table_->setRowCount(static_cast<int>(tiers_.size()));
    for (std::size_t i = 0; i < tiers_.size(); ++i) {
        const PriceTier& tier = tiers_[i];
        const auto cost = batch_cost(here->rules, tier.pieces, spoiled_);
        const std::array words{QString::number(tier.pieces),
                               QString::number(cost ? cost->started : 0),
                               money(tier.unit_cost),
                               money(tier.unit_price),
                               money(tier.total),
                               i == 0 ? QString() : QString::number(std::lround(tier.cheaper_from))};
        for (std::size_t c = 0; c < words.size(); ++c) {
            auto* item = new QTableWidgetItem(words.at(c));
            item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
            table_->setItem(static_cast<int>(i), static_cast<int>(c), item);
        }
    }
    table_->selectRow(before);
    filling_ = false;
    show_batch(here->rules, wanted());
}

void CostDialog::show_batch(const CostRules& rules, int wanted) {
    const auto cost = batch_cost(rules, wanted, spoiled_);
    if (!cost)
        return complain(cost.error());
    batch_->setText(tr("Begun: %2, so that %1 come out good in 19 of 20 batches. %3 in all, %4 of it once; a piece is "
                       "marked in %5 and handled in %6.")
                        .arg(wanted)
                        .arg(cost->started)
                        .arg(money(cost->total), money(cost->one_off), screen_duration(rules.mark_s),
                             screen_duration(rules.handling_s + rules.batch_s / std::max(1, rules.together))));
    parts_->show_parts({{cost->machine, 1, tr("bench"), money(cost->machine)},
                        {cost->hands, 4, tr("hands"), money(cost->hands)},
                        {cost->material, 0, tr("material"), money(cost->material)},
                        {rules.fixed, 3, tr("once, besides"), money(rules.fixed)}});
    show_against(rules, route_->text());
}

void CostDialog::show_against(const CostRules& rules, const QString& route) {
    if (!against_)
        return other_->setText(
            tr("Compared with nothing yet: keep this way, choose another one, and open this again."));
    const auto both = routes_against(against_->rules, against_->spoiled, rules, spoiled_, wanted());
    if (!both)
        return other_->setText(from_utf8(sentence(both.error())));
    const QString other = from_utf8(against_->name);
    const auto name = [&](bool first) { return first ? other : route; };
    QString words = tr("%1: %2 a piece; %3: %4. ").arg(other, money(both->first.unit), route, money(both->second.unit));
    const BreakEven& at = both->crossing;
    words += at.pieces ? tr("Both cost the same at %1 pieces; below that %2 is cheaper, above it %3.")
                             .arg(screen_number(*at.pieces), name(at.first_below), name(at.first_above))
                       : tr("%1 is cheaper at every quantity.").arg(name(at.first_above));
    other_->setText(words);
}

} // namespace finch::app

#include "moc_cost_dialog.cpp"
