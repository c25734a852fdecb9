// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/proof/depth_dialog.h"

#include "app/instruments/depth_rule.h"
#include "app/stations/proof/proof_view.h"
#include "app/theme/field_state.h"
#include "app/theme/label.h"
#include "formats/folders.h"

#include <algorithm>
#include <QApplication>
#include <QClipboard>
#include <QDialogButtonBox>
#include <QFileDialog>
#include <QGridLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

QString depth_text(const GaugeDepth& d) {
    return screen_number(d.um, 4) + u" ± "_s + screen_number(d.within_um, 2);
}

} // namespace

DepthDialog::DepthDialog(Workbench& workbench, ProofFlow& flow, const ProofSheet& sheet, QWidget* parent)
    : QDialog(parent), workbench_(workbench), flow_(flow), sheet_(sheet) {
    setObjectName(u"depth_dialog"_s);
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("Depths of sheet %1").arg(sheet_.number, 2, 10, QChar(u'0')));
    const Round* round = workbench_.round(sheet_.number);
    // Of the set-up that it was burned on, whatever lies on the bench now.
    const OwnScene then = round != nullptr ? workbench_.scene_of(*round) : workbench_.own_scene();
    const auto forecast = finch::forecast(sheet_, then.scene());
    auto* inside = new QWidget(this);
    auto* grid = new QGridLayout(inside);
    grid->setHorizontalSpacing(14);
    grid->setVerticalSpacing(6);
    int line = 0;
    for (const auto& [column, text] : {std::pair{0, tr("Cell")}, std::pair{1, tr("Set")}, std::pair{2, tr("Predicted")},
                                       std::pair{3, tr("Measured")}})
        grid->addWidget(text_label(text, TextStyle::small, inside), line, column);
    for (const std::size_t i : burned_cells(sheet_)) {
        ++line;
        const QString name = QString::fromStdString(cell_name(sheet_, i));
        auto* field = new QLineEdit(inside);
        field->setObjectName(u"depth_"_s + name);
        field->setAccessibleName(tr("Depth of cell %1").arg(name));
        field->setPlaceholderText(tr("µm"));
        field->setProperty("mono", true);
        field->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
        field->setFixedWidth(128);
        field->installEventFilter(this);
        if (round != nullptr && round->reading)
            if (const CellReading& c = round->reading->cells.at(i); c.depth_um)
                field->setText(depth_text({*c.depth_um, c.depth_within_um}));
        const auto& p = forecast.cells.at(i).prediction;
        grid->addWidget(text_label(name, TextStyle::value_bold, inside), line, 0);
        grid->addWidget(text_label(cell_settings(sheet_, cell_recipe(sheet_, i)), TextStyle::value, inside), line, 1);
        grid->addWidget(text_label(p && p->removal ? um_text(p->depth_um()) : QString(), TextStyle::value, inside),
                        line, 2);
        grid->addWidget(field, line, 3);
        connect(field, &QLineEdit::textChanged, this, &DepthDialog::refresh);
        rows_.push_back({i, field});
    }
    grid->setColumnStretch(1, 1);
    grid->setRowStretch(line + 1, 1);
    auto* scroll = new QScrollArea(this);
    scroll->setWidget(inside);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setMinimumSize(480, std::min(34 * (line + 1) + 12, 380));
    auto* box = new QVBoxLayout(this);
    box->setSpacing(8);
    auto* note =
        text_label(tr("From the untouched surface to the floor. \"120\" or \"120 ± 5\", in µm unless a unit is "
                      "typed. Enter goes to the next cell; a list can be pasted."),
                   TextStyle::small, this);
    note->setWordWrap(true);
    box->addWidget(note);
    box->addWidget(scroll, 1);
    said_ = plain_label({}, TextStyle::body, this);
    said_->setObjectName(u"depth_said"_s);
    said_->setWordWrap(true);
    box->addWidget(said_);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Cancel, this);
    gauge_ = buttons->addButton(tr("Ask the gauge"), QDialogButtonBox::ActionRole);
    gauge_->setObjectName(u"depth_gauge"_s);
    gauge_->setToolTip(tr("Let the gauge of the stand-in touch the floor of every cell"));
    auto* file = buttons->addButton(tr("From a file…"), QDialogButtonBox::ActionRole);
    file->setObjectName(u"depth_file"_s);
    keep_ = buttons->addButton(tr("Keep the depths"), QDialogButtonBox::ActionRole);
    keep_->setObjectName(u"depth_keep"_s);
    // Enter belongs to the fields.
    for (QAbstractButton* b : buttons->buttons())
        if (auto* push = qobject_cast<QPushButton*>(b)) {
            push->setAutoDefault(false);
        }
    keep_->setDefault(true);
    box->addWidget(buttons);
    connect(gauge_, &QPushButton::clicked, this, [this] { flow_.ask_gauge(sheet_.number); });
    connect(file, &QPushButton::clicked, this, &DepthDialog::ask_file);
    connect(keep_, &QPushButton::clicked, this, &DepthDialog::keep);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(&flow_.gauge(), &GaugeReader::changed, this, &DepthDialog::refresh);
    connect(&flow_.gauge(), &GaugeReader::measured, this, [this](int number, const std::vector<CellDepth>& depths) {
        if (number == sheet_.number)
            fill(depths);
    });
    connect(&workbench_, &Workbench::said, this, [this](const QString& text, State state) {
        if (state != State::ok)
            complain(text); // the status line lies behind this window
    });
    if (!rows_.empty())
        rows_.front().field->setFocus();
    refresh();
}

void DepthDialog::complain(const QString& why) {
    said_->setText(why);
}

void DepthDialog::fill(const std::vector<CellDepth>& depths) {
    for (const CellDepth& d : depths)
        for (const Row& row : rows_)
            if (row.cell == d.cell) {
                row.field->setText(depth_text(d.depth));
                row.field->setModified(true);
                mark_wrong(row.field, false);
            }
    said_->clear();
    refresh();
}

bool DepthDialog::take_text(const QString& text, const QString& file) {
    const auto depths = depths_from_text(text.toStdString(), sheet_, file.toStdString());
    if (!depths) {
        complain(QString::fromStdString(sentence(depths.error())));
        return false;
    }
    fill(*depths);
    return true;
}

void DepthDialog::ask_file() {
    auto* dialog = new QFileDialog(this, tr("Depths of the cells"), {}, tr("Lists (*.csv *.txt);;All files (*)"));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setFileMode(QFileDialog::ExistingFile);
    connect(dialog, &QFileDialog::fileSelected, this, [this](const QString& path) {
        const auto text = read_text_file(path.toStdString());
        if (text)
            take_text(QString::fromStdString(*text), path);
        else
            complain(QString::fromStdString(sentence(text.error())));
    });
    dialog->open();
}

void DepthDialog::refresh() {
    gauge_->setEnabled(!flow_.gauge().running());
    keep_->setEnabled(std::ranges::any_of(
        rows_, [](const Row& r) { return r.field->isModified() && !r.field->text().trimmed().isEmpty(); }));
}

void DepthDialog::keep() {
    std::vector<CellDepth> depths;
    for (const Row& row : rows_) {
        const QString text = row.field->text().trimmed();
        if (text.isEmpty() || !row.field->isModified())
            continue;
        const auto depth = depth_from_text(text.toStdString());
        mark_wrong(row.field, !depth);
        if (!depth) {
            row.field->setFocus();
            return complain(row.field->accessibleName() + u": "_s + QString::fromStdString(sentence(depth.error())));
        }
        depths.push_back({row.cell, *depth});
    }
    if (depths.empty())
        return;
    if (flow_.step() != ProofFlow::Step::idle)
        return complain(tr("The depths can be kept when this is done: %1.").arg(flow_.progress_text()));
    flow_.note_depths(sheet_.number, depths);
    accept();
}

bool DepthDialog::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() != QEvent::KeyPress)
        return QDialog::eventFilter(watched, event);
    const auto* key = static_cast<QKeyEvent*>(event);
    const auto row = std::ranges::find(rows_, watched, [](const Row& r) { return static_cast<QObject*>(r.field); });
    if (row == rows_.end())
        return QDialog::eventFilter(watched, event);
    if (key->matches(QKeySequence::Paste)) {
        const QString text = QApplication::clipboard()->text();
        if (text.trimmed().contains(u'\n')) {
            take_text(text);
            return true;
        }
    }
    if (key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter) {
        if (const auto next = std::next(row); next != rows_.end()) {
            next->field->setFocus();
            next->field->selectAll();
        } else
            keep_->setFocus();
        return true;
    }
    return QDialog::eventFilter(watched, event);
}

} // namespace finch::app

#include "moc_depth_dialog.cpp"
