// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/piece/colours_dialog.h"

#include "app/instruments/paint.h"
#include "app/session/text.h"
#include "app/session/words.h"
#include "app/theme/label.h"

#include <algorithm>
#include <QDialogButtonBox>
#include <QHeaderView>
#include <QVBoxLayout>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

enum Column { name_column, wanted_column, read_column, short_column, holds_column, repeats_column, columns };

QIcon patch(const Lab& lab, const Theme& theme) {
    QPixmap out(22, 16);
    out.fill(theme(Role::mat));
    QPainter painter(&out);
    painter.fillRect(QRect(3, 3, 16, 10), to_qcolor(lab));
    return out;
}

QString tenths(double value) {
    return QString::number(value, 'f', 1);
}

} // namespace

ColoursDialog::ColoursDialog(Workbench& workbench, PieceReader& reader, QWidget* parent)
    : QDialog(parent), workbench_(workbench), reader_(reader), maker_(workbench), table_(new QTableWidget(this)),
      says_(plain_label({}, TextStyle::body, this)) {
    setObjectName(u"colours_dialog"_s);
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("Colours of the layers from the palette"));
    auto* box = new QVBoxLayout(this);
    box->setSpacing(10);
    auto* note =
        plain_label(tr("Nearest of what was read on this bench and lot. Type over a wanted colour (a name, L* a* b* "
                       "or #RRGGBB); Space ticks a layer."),
                    TextStyle::small, this);
    note->setWordWrap(true);
    box->addWidget(note);
    table_->setObjectName(u"colours_of_layers"_s);
    table_->setAccessibleName(tr("Layers and their colours"));
    table_->setColumnCount(columns);
    table_->setHorizontalHeaderLabels(
        {tr("Layer"), tr("Wanted"), tr("Nearest read"), tr("Short, ΔE₀₀"), tr("Holds"), tr("Repeats")});
    table_->verticalHeader()->hide();
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    table_->horizontalHeader()->setSectionResizeMode(read_column, QHeaderView::Stretch);
    table_->setTabKeyNavigation(false);
    table_->setIconSize({22, 16});
    box->addWidget(table_, 1);
    says_->setObjectName(u"colours_say"_s);
    says_->setWordWrap(true);
    says_->setMinimumHeight(40);
    says_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    box->addWidget(says_);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Cancel, this);
    want_ = buttons->addButton(tr("Want the rest"), QDialogButtonBox::ActionRole);
    want_->setObjectName(u"colours_want"_s);
    want_->setToolTip(
        tr("What nothing comes near enough to becomes a wanted colour of the palette, which plans cells for it"));
    take_ = buttons->addButton(QString(), QDialogButtonBox::AcceptRole);
    take_->setObjectName(u"colours_take"_s);
    take_->setDefault(true);
    box->addWidget(buttons);
    resize(960, 420);
    for (const PieceLayer& l : reader_.layers())
        rows_.push_back({l, wanted_from_text(l.choice.colour)});
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(take_, &QPushButton::clicked, this, &ColoursDialog::take);
    connect(want_, &QPushButton::clicked, this, &ColoursDialog::want_rest);
    connect(table_, &QTableWidget::itemChanged, this, &ColoursDialog::edited);
    connect(&maker_, &PaletteMaker::changed, this, &ColoursDialog::match);
    maker_.want();
    match();
}

void ColoursDialog::match() {
    for (Row& row : rows_) {
        row.read.reset();
        if (!maker_.palette() || !row.wanted)
            continue;
        const auto& all = maker_.palette()->colours;
        if (const auto nearest = nearest_read(all, row.wanted->lab)) {
            row.read = all[nearest->first];
            row.short_de = nearest->second;
        }
    }
    show_rows();
}

void ColoursDialog::show_rows() {
    const QSignalBlocker quiet(table_);
    const Theme& t = theme_of(this);
    const double accept_de = workbench_.draft().target.accept_de;
    table_->setRowCount(static_cast<int>(rows_.size()));
    int taken = 0;
    for (int i = 0; i < table_->rowCount(); ++i) {
        const Row& row = rows_[static_cast<std::size_t>(i)];
        const auto put = [&](int column, const QString& text, Qt::ItemFlags more = {}) {
            auto* item = new QTableWidgetItem(text);
            item->setFlags(Qt::ItemIsSelectable | Qt::ItemIsEnabled | more);
            table_->setItem(i, column, item);
            return item;
        };
        auto* name =
            put(name_column, from_utf8(row.layer.choice.name), row.read ? Qt::ItemIsUserCheckable : Qt::ItemFlags());
        name->setCheckState(row.taken(accept_de) ? Qt::Checked : Qt::Unchecked);
        taken += row.taken(accept_de) ? 1 : 0;
        auto* wanted = put(wanted_column,
                           row.wanted ? u"%1 (%2)"_s.arg(from_utf8(row.wanted->name), lab_text(row.wanted->lab))
                                      : tr("not a colour"),
                           Qt::ItemIsEditable);
        if (row.wanted)
            wanted->setIcon(patch(row.wanted->lab, t));
        if (!row.read) {
            put(read_column, row.layer.choice.guide ? tr("a guide, not marked") : tr("nothing yet"));
            for (const int c : {short_column, holds_column, repeats_column})
                put(c, u"–"_s);
            continue;
        }
        put(read_column, u"%1: %2"_s.arg(from_utf8(row.read->name), recipe_line(row.read->recipe)))
            ->setIcon(patch(row.read->lab, t));
        put(short_column, tenths(row.short_de) + (row.near(accept_de) ? QString() : tr(", too far")));
        put(holds_column, u"%1°"_s.arg(row.read->holds_deg));
        put(repeats_column, tenths(row.read->repeat_de));
    }
    take_->setText(taken == 1 ? tr("Take for 1 layer") : tr("Take for %1 layers").arg(taken));
    take_->setEnabled(taken > 0);
    want_->setEnabled(!rest().empty());
    if (!maker_.palette())
        return says_->setText(maker_.running() ? tr("Working …") : maker_.reason());
    if (maker_.palette()->colours.empty())
        return says_->setText(tr("Nothing was read on this bench and lot yet: burn and photograph a sheet first."));
    for (const Row& row : rows_)
        if (!row.wanted)
            return says_->setText(from_utf8(row.layer.choice.name) + u": "_s + from_utf8(sentence(row.wanted.error())));
    says_->setText(
        tr("%1 read here. Near enough is ΔE₀₀ %2, as for the target. A recipe is as it was burned in a cell: larger "
           "shapes may run warmer.")
            .arg(maker_.palette()->colours.size() == 1 ? tr("One colour")
                                                       : tr("%1 colours").arg(maker_.palette()->colours.size()),
                 screen_number(accept_de, 2)));
}

void ColoursDialog::edited(QTableWidgetItem* item) {
    Row& row = rows_.at(static_cast<std::size_t>(item->row()));
    if (item->column() == name_column)
        row.ticked = item->checkState() == Qt::Checked;
    if (item->column() == wanted_column) {
        row.wanted = wanted_from_text(item->text().trimmed().toStdString());
        row.ticked.reset(); // it was another colour that was taken, or left
    }
    match();
}

std::vector<const ColoursDialog::Row*> ColoursDialog::rest() const {
    const Draft& d = workbench_.draft();
    std::vector<const Row*> out;
    for (const Row& row : rows_)
        if (!row.layer.choice.guide && row.wanted && !row.near(d.target.accept_de) &&
            std::ranges::none_of(d.wanted, [&](const WantedColour& w) { return w.lab == row.wanted->lab; }) &&
            d.wanted.size() + out.size() < most_wanted)
            out.push_back(&row);
    return out;
}

void ColoursDialog::want_rest() {
    const auto rows = rest();
    if (rows.empty())
        return;
    workbench_.change(tr("want colours of layers"), {}, [&](Draft& d) {
        for (const Row* row : rows)
            d.wanted.push_back({row->layer.choice.name, row->wanted->lab});
    });
    workbench_.say(tr("Wanted in the palette now: %1. Plan the gaps there.").arg(rows.size()));
    maker_.want();
    show_rows();
}

void ColoursDialog::take() {
    std::map<std::size_t, Recipe> recipes;
    for (std::size_t i = 0; i < rows_.size(); ++i)
        if (rows_[i].taken(workbench_.draft().target.accept_de)) {
            recipes[i] = rows_[i].read->recipe;
            recipes[i].name = rows_[i].read->name;
        }
    reader_.take_recipes(recipes);
    workbench_.say(recipes.size() == 1 ? tr("One layer has a recipe of the palette.")
                                       : tr("%1 layers have recipes of the palette.").arg(recipes.size()));
    accept();
}

} // namespace finch::app

#include "moc_colours_dialog.cpp"
