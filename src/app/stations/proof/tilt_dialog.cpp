// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/proof/tilt_dialog.h"

#include "app/instruments/paint.h"
#include "app/session/text.h"
#include "app/theme/label.h"
#include "proof/tilt_series.h"

#include <algorithm>
#include <QDialogButtonBox>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QVBoxLayout>
#include <set>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr std::array usual_tilts{15.0, 30.0, 45.0, 60.0};

struct TiltRow {
    std::size_t cell = 0;
    Lab from_above;
    std::vector<TiltLook> looks;
    std::optional<TiltScore> score;
};

/// Cells that were read, those that hold longest first.
std::vector<TiltRow> tilt_rows(const Round& r) {
    std::vector<TiltRow> out;
    for (std::size_t i = 0; i < r.reading->cells.size(); ++i)
        if (const CellReading& c = r.reading->cells[i]; c.state == CellState::read && !c.spoiled && r.sheet.holds(i))
            out.push_back({i, as_photographed(c).lab, c.tilted, tilt_score(c)});
    std::ranges::stable_sort(out, std::ranges::greater(), [](const TiltRow& row) {
        return row.score ? row.score->holds_deg + (row.score->at_least ? 90 : 0) - 0.01 * row.score->most_de : -1;
    });
    return out;
}

QString held_text(const TiltScore& s) {
    return s.at_least ? QObject::tr("%1° and more").arg(std::lround(s.holds_deg))
                      : QObject::tr("%1° (%2 to %3)")
                            .arg(std::lround(s.holds_deg))
                            .arg(std::lround(s.low_deg))
                            .arg(std::lround(s.high_deg));
}

} // namespace

TiltDialog::TiltDialog(Workbench& workbench, ProofFlow& flow, int sheet, QWidget* parent)
    : QDialog(parent), workbench_(workbench), flow_(flow), sheet_(sheet), deg_(new QDoubleSpinBox(this)),
      table_(new QTableWidget(this)), says_(plain_label({}, TextStyle::body, this)) {
    setObjectName(u"tilt_dialog"_s);
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("Tilt series of sheet %1").arg(sheet, 2, 10, QChar(u'0')));
    auto* box = new QVBoxLayout(this);
    box->setSpacing(10);
    auto* row = new QHBoxLayout;
    row->setSpacing(8);
    row->addWidget(text_label(tr("Tilt the sheet by"), TextStyle::body, this));
    deg_->setObjectName(u"tilt_deg"_s);
    deg_->setAccessibleName(tr("Tilt"));
    deg_->setRange(tilt_least_deg, tilt_most_deg);
    deg_->setDecimals(0);
    deg_->setSingleStep(5);
    deg_->setSuffix(u"°"_s);
    row->addWidget(deg_);
    photograph_ = new QPushButton(tr("Photograph"), this);
    photograph_->setObjectName(u"tilt_photograph"_s);
    photograph_->setDefault(true);
    row->addWidget(photograph_);
    file_ = new QPushButton(tr("From a file…"), this);
    file_->setObjectName(u"tilt_file"_s);
    file_->setAutoDefault(false);
    row->addWidget(file_);
    row->addStretch(1);
    box->addLayout(row);
    table_->setObjectName(u"tilt_cells"_s);
    table_->setAccessibleName(tr("Cells and their looks"));
    table_->verticalHeader()->hide();
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->setTabKeyNavigation(false);
    table_->horizontalHeader()->setStretchLastSection(true);
    box->addWidget(table_, 1);
    says_->setObjectName(u"tilt_says"_s);
    says_->setWordWrap(true);
    says_->setMinimumHeight(40);
    says_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    box->addWidget(says_);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close, this);
    box->addWidget(buttons);
    resize(680, 520);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(photograph_, &QPushButton::clicked, this, [this] { flow_.photograph_tilted(sheet_, deg_->value()); });
    connect(file_, &QPushButton::clicked, this, &TiltDialog::ask_file);
    connect(table_, &QTableWidget::cellActivated, this,
            [this](int at, int) { flow_.choose_cell(table_->item(at, 0)->data(Qt::UserRole).value<std::size_t>()); });
    connect(&workbench_, &Workbench::changed, this, &TiltDialog::fill);
    connect(&flow_, &ProofFlow::step_changed, this, &TiltDialog::fill);
    connect(&workbench_, &Workbench::said, this, [this](const QString& text, State state) {
        if (state != State::ok) // the window's own line lies behind this one
            says_->setText(text);
    });
    fill();
}

void TiltDialog::fill() {
    const bool idle = flow_.step() == ProofFlow::Step::idle;
    photograph_->setEnabled(idle);
    file_->setEnabled(idle);
    const Round* r = workbench_.round(sheet_);
    if (r == nullptr || !r->reading)
        return;
    const auto rows = tilt_rows(*r);
    std::set<double> angles;
    for (const TiltRow& row : rows)
        for (const TiltLook& l : row.looks)
            angles.insert(l.deg);
    QStringList heads{tr("Cell"), tr("From above")};
    for (const double a : angles)
        heads << u"%1°"_s.arg(screen_number(a, 3));
    heads << tr("Holds (nine in ten)") << tr("Largest change");
    table_->clear();
    table_->setRowCount(static_cast<int>(rows.size()));
    table_->setColumnCount(static_cast<int>(heads.size()));
    table_->setHorizontalHeaderLabels(heads);
    for (int i = 0; i < table_->rowCount(); ++i) {
        const TiltRow& row = rows[static_cast<std::size_t>(i)];
        int column = 0;
        const auto put = [&](const QString& text) {
            auto* item = new QTableWidgetItem(text);
            table_->setItem(i, column++, item);
            return item;
        };
        const auto patch = [&](const Lab& lab) {
            auto* item = put(from_utf8(colour_name(lab)));
            item->setBackground(to_qcolor(lab));
            item->setForeground(ink_on(lab));
        };
        put(q(cell_name(r->sheet, row.cell)))->setData(Qt::UserRole, QVariant::fromValue(row.cell));
        patch(row.from_above);
        for (const double a : angles) {
            const auto at = std::ranges::find(row.looks, a, &TiltLook::deg);
            if (at != row.looks.end())
                patch(at->lab);
            else
                put(tr("hidden"));
        }
        put(row.score ? held_text(*row.score) : u"–"_s);
        put(row.score ? screen_number(row.score->most_de, 2) + u" ΔE₀₀"_s : u"–"_s);
    }
    table_->resizeColumnsToContents();
    if (angles.size() != angles_) {
        angles_ = angles.size();
        const auto next = std::ranges::find_if(usual_tilts, [&](double a) { return !angles.contains(a); });
        deg_->setValue(next != usual_tilts.end() ? *next : usual_tilts.back());
    }
    if (!idle)
        return says_->setText(flow_.progress_text());
    says_->setText(angles.empty()
                       ? tr("Turn the sheet up at its far edge by this angle, the camera and the lamp stay where they "
                            "are; the card lies on the sheet. A colour holds as long as it changes by less than "
                            "CIEDE2000 5 from what it is from above.")
                       : tr("The palette tells these colours as they were read; between two tilts as the film would "
                            "have it. Enter chooses a cell."));
}

void TiltDialog::ask_file() {
    auto* dialog =
        new QFileDialog(this, tr("Photograph of the tilted sheet"), {}, tr("Photographs (*.png *.jpg *.jpeg)"));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setFileMode(QFileDialog::ExistingFile);
    connect(dialog, &QFileDialog::fileSelected, this,
            [this](const QString& path) { flow_.read_tilted(path, sheet_, deg_->value()); });
    dialog->open();
}

} // namespace finch::app

#include "moc_tilt_dialog.cpp"
