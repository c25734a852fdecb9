// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/proof/camera_dialog.h"

#include "app/session/text.h"
#include "app/theme/label.h"
#include "formats/file_out.h"
#include "formats/folders.h"
#include "formats/sheet_export.h"
#include "physics/colour_difference.h"
#include "vision/fiducials.h"

#include <algorithm>
#include <QDialogButtonBox>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QTextCursor>
#include <QVBoxLayout>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

QPushButton* small_button(const QString& name, const QString& text, const QString& tip, QWidget* parent) {
    auto* button = new QPushButton(text, parent);
    button->setObjectName(name);
    button->setToolTip(tip);
    button->setAutoDefault(false);
    return button;
}

/// A dialog for one file, which `take` gets.
template <typename Take>
void ask_one_file(QWidget* parent, const QString& title, const QString& kinds, Take take) {
    auto* dialog = new QFileDialog(parent, title, {}, kinds);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setFileMode(QFileDialog::ExistingFile);
    QObject::connect(dialog, &QFileDialog::fileSelected, parent, take);
    dialog->open();
}

} // namespace

CameraDialog::CameraDialog(Workbench& workbench, CameraSetter& setter, QWidget* parent)
    : QDialog(parent), workbench_(workbench), setter_(setter), table_(new QTableWidget(0, 4, this)),
      view_(new ChartView(this)), says_(plain_label({}, TextStyle::body, this)) {
    setObjectName(u"camera_dialog"_s);
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("The camera's colours"));
    auto* box = new QVBoxLayout(this);
    box->setSpacing(10);
    box->addWidget(make_cameras());
    box->addWidget(make_ways());
    auto* middle = new QHBoxLayout;
    middle->setSpacing(14);
    middle->addWidget(view_, 1);
    middle->addWidget(make_values());
    box->addLayout(middle, 1);
    says_->setObjectName(u"camera_says"_s);
    says_->setWordWrap(true);
    says_->setMinimumHeight(40);
    says_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    box->addWidget(says_);
    box->addWidget(make_keep());
    resize(900, 700);
    connect(&setter_, &CameraSetter::changed, this, &CameraDialog::show_found);
    connect(&setter_, &CameraSetter::values_came, this, [this](const QString& text) {
        const QSignalBlocker quiet(values_);
        // As if typed over what was there: Ctrl+Z in the list brings that back.
        QTextCursor all(values_->document());
        all.select(QTextCursor::Document);
        all.insertText(text);
    });
    connect(&setter_, &CameraSetter::failed, this,
            [this](const Error& error) { says_->setText(from_utf8(sentence(error))); });
    connect(&workbench_, &Workbench::changed, this, [this] {
        fill_cameras();
        show_found();
    });
    fill_cameras();
    show_found();
}

QWidget* CameraDialog::make_cameras() {
    auto* row = new QWidget(this);
    auto* line = new QHBoxLayout(row);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(10);
    table_->setObjectName(u"camera_list"_s);
    table_->setAccessibleName(tr("Cameras"));
    table_->setHorizontalHeaderLabels({tr("Camera"), tr("Set right"), tr("Places"), tr("Left, CIEDE2000")});
    table_->verticalHeader()->hide();
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    table_->setTabKeyNavigation(false);
    table_->setFixedHeight(118);
    line->addWidget(table_, 1);
    auto* column = new QVBoxLayout;
    column->setSpacing(6);
    use_ = small_button(u"camera_use"_s, tr("Read with this"), tr("Photographs are read so from now on"), row);
    column->addWidget(use_);
    auto* file = small_button(u"camera_file"_s, tr("From a file…"), tr("A camera that was set right elsewhere"), row);
    column->addWidget(file);
    column->addStretch(1);
    line->addLayout(column);
    connect(use_, &QPushButton::clicked, this, &CameraDialog::use_chosen);
    connect(table_, &QTableWidget::itemActivated, this, &CameraDialog::use_chosen);
    connect(table_, &QTableWidget::itemSelectionChanged, this, [this] { use_->setEnabled(table_->currentRow() >= 0); });
    connect(file, &QPushButton::clicked, this, &CameraDialog::ask_file);
    return row;
}

QWidget* CameraDialog::make_ways() {
    auto* row = new QWidget(this);
    auto* line = new QHBoxLayout(row);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(8);
    line->addWidget(text_label(tr("Set one right"), TextStyle::head, row));
    line->addStretch(1);
    auto* print = small_button(u"camera_print"_s, tr("Print the chart…"),
                               tr("SVG or PDF, to be printed on matt white paper at its true size"), row);
    photograph_ = small_button(u"camera_photograph"_s, tr("Photograph the chart"),
                               tr("By the bench's own camera; an instrument measures it"), row);
    auto* photo = small_button(u"camera_photo"_s, tr("Photograph from a file…"),
                               tr("Of the chart, in the light and from where sheets are photographed"), row);
    sheet_ = small_button(u"camera_sheet"_s, {},
                          tr("The photograph of the shown sheet and its cells that an instrument measured"), row);
    for (QPushButton* b : {print, photograph_, photo, sheet_})
        line->addWidget(b);
    connect(print, &QPushButton::clicked, this, &CameraDialog::ask_print);
    connect(photograph_, &QPushButton::clicked, &setter_, &CameraSetter::photograph);
    connect(photo, &QPushButton::clicked, this, &CameraDialog::ask_photo);
    connect(sheet_, &QPushButton::clicked, &setter_, &CameraSetter::take_sheet);
    return row;
}

QWidget* CameraDialog::make_values() {
    auto* side = new QWidget(this);
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    auto* head = new QHBoxLayout;
    head->addWidget(text_label(tr("Measured"), TextStyle::head, side), 1);
    auto* file =
        small_button(u"camera_values_file"_s, tr("From a file…"), tr("What the instrument or printer wrote"), side);
    head->addWidget(file);
    column->addLayout(head);
    values_ = new QPlainTextEdit(setter_.values(), side);
    values_->setObjectName(u"camera_values"_s);
    values_->setAccessibleName(tr("Measured colours"));
    values_->setFont(text_font(TextStyle::value_small));
    values_->setTabChangesFocus(true);
    values_->setPlaceholderText(tr("A1; 92.1; 0.2; −0.4\npaper; 94.8; 0.3; −1.2"));
    column->addWidget(values_, 1);
    side->setFixedWidth(250);
    connect(values_, &QPlainTextEdit::textChanged, this, [this] { setter_.type_values(values_->toPlainText()); });
    connect(file, &QPushButton::clicked, this, &CameraDialog::ask_values);
    return side;
}

QWidget* CameraDialog::make_keep() {
    auto* row = new QWidget(this);
    auto* line = new QHBoxLayout(row);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(8);
    line->addWidget(text_label(tr("Name"), TextStyle::small, row));
    const auto& now = workbench_.draft().camera;
    name_ = new QLineEdit(now && !now->camera.empty() ? q(now->camera) : tr("bench camera"), row);
    name_->setObjectName(u"camera_name"_s);
    name_->setAccessibleName(tr("Name of the camera"));
    name_->setMaxLength(60);
    line->addWidget(name_, 1);
    keep_ =
        small_button(u"camera_keep"_s, tr("Keep, and read with it"), tr("Into the record, with its photograph"), row);
    keep_->setProperty("primary", true);
    auto* close = small_button(u"camera_close"_s, tr("Close"), {}, row);
    line->addWidget(close);
    line->addWidget(keep_);
    connect(name_, &QLineEdit::textChanged, this, &CameraDialog::show_found);
    connect(keep_, &QPushButton::clicked, this, &CameraDialog::keep);
    connect(close, &QPushButton::clicked, this, &QDialog::reject);
    return row;
}

void CameraDialog::fill_cameras() {
    const auto& now = workbench_.draft().camera;
    // What somebody has chosen stays chosen when something else changes.
    const int before = table_->currentRow();
    const auto chosen = before >= 0 && in_use_ == now ? rows_.at(static_cast<std::size_t>(before)) : now;
    in_use_ = now;
    rows_.assign(1, std::nullopt);
    for (const auto& [name, fact] : workbench_.ledger().cameras())
        rows_.emplace_back(fact.colours);
    // One from a file, or an older one of the same name that undo brought back.
    if (now && std::ranges::find(rows_, now) == rows_.end())
        rows_.emplace_back(now);
    const QSignalBlocker quiet(table_);
    table_->setRowCount(static_cast<int>(rows_.size()));
    int row = 0, at = 0;
    for (const auto& c : rows_) {
        const bool in_use = c == now;
        int column = 0;
        for (const QString& text :
             {(c ? q(c->camera) : tr("colours as they come")) + (in_use ? tr(" · in use") : QString()),
              c ? q(c->when_utc).left(10) : QString(), c ? QString::number(c->places) : QString(),
              c ? screen_number(c->residual_de, 2) : QString()}) {
            auto* item = new QTableWidgetItem(text);
            if (column >= 2)
                item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
            table_->setItem(row, column++, item);
        }
        at = c == chosen ? row : at;
        ++row;
    }
    table_->setCurrentCell(at, 0);
    use_->setEnabled(true);
}

ChartPicture CameraDialog::picture() const {
    ChartPicture out;
    const auto& found = setter_.found();
    const auto& sheet = setter_.shown().sheet;
    const auto seen = [&](const std::string& name) -> const ColourPair* {
        if (!found || !*found)
            return nullptr;
        const auto at = std::ranges::find((*found)->places, name, &ColourPair::place);
        return at == (*found)->places.end() ? nullptr : &*at;
    };
    const ColourChart& chart = colour_chart();
    const ProofSheet& grid = sheet ? *sheet : chart.grid;
    out.columns = grid.columns();
    const auto values = measured_colours_from_text(setter_.values().toStdString(), grid, "");
    for (std::size_t i = 0; i < grid.cells(); ++i) {
        const std::string name = cell_name(grid, i);
        ChartPicture::Patch patch{q(name), sheet ? Lab{50, 0, 0} : chart.asked[i], {}, {}, 0};
        if (values)
            if (const auto at = values->find(name); at != values->end())
                patch.measured = at->second;
        if (const ColourPair* p = seen(name)) {
            patch.measured = p->measured;
            patch.corrected = corrected((*found)->colours, p->seen);
            patch.apart = delta_e00(*patch.corrected, *patch.measured);
        }
        if (!sheet || patch.measured)
            out.patches.push_back(std::move(patch));
    }
    out.words = words();
    return out;
}

QString CameraDialog::words() const {
    const auto& found = setter_.found();
    if (setter_.photographing())
        return tr("The chart is being photographed.");
    if (setter_.fitting())
        return tr("The photograph is being read.");
    if (found && !*found)
        return from_utf8(sentence(found->error()));
    if (found) {
        const CameraColour& c = (*found)->colours;
        return tr("%1: %2 places, %3 CIEDE2000 left unexplained, each told by the others. Left half measured, right "
                  "half as this camera sees it then.")
            .arg(setter_.shown().photo)
            .arg(c.places)
            .arg(screen_number(c.residual_de, 2));
    }
    const auto& sheet = setter_.shown().sheet;
    if (!setter_.values().trimmed().isEmpty())
        if (const auto typed =
                measured_colours_from_text(setter_.values().toStdString(), sheet ? *sheet : colour_chart().grid, "");
            !typed)
            return from_utf8(sentence(typed.error()));
    if (setter_.shown().picture.isEmpty())
        return tr("Print the chart on matt white paper and photograph it where sheets are photographed. Say what an "
                  "instrument measured of its patches and of the bare paper, or what came with the print.");
    return tr("%1 is there. What was measured is missing.").arg(setter_.shown().photo);
}

void CameraDialog::show_found() {
    const auto& found = setter_.found();
    view_->show_picture(picture());
    says_->setText(words());
    keep_->setEnabled(found && *found && !setter_.look_only() && !name_->text().trimmed().isEmpty());
    photograph_->setEnabled(!setter_.photographing() && !setter_.look_only());
    const int measured = setter_.measured_cells();
    sheet_->setText(
        measured > 0 ? tr("Sheet %1, %2 measured").arg(workbench_.draft().shown_sheet, 2, 10, QChar(u'0')).arg(measured)
                     : tr("Measured cells"));
    sheet_->setEnabled(measured > 0);
}

void CameraDialog::use_chosen() {
    const int row = table_->currentRow();
    if (row >= 0 && row < static_cast<int>(rows_.size()))
        use_camera(workbench_, std::optional(rows_[static_cast<std::size_t>(row)]));
}

void CameraDialog::keep() {
    if (setter_.keep(name_->text()))
        accept();
}

void CameraDialog::tell(const Error& error) {
    says_->setText(from_utf8(sentence(error)));
    workbench_.fail(error);
}

void CameraDialog::take_file(const QString& path) {
    const std::string file = path.toStdString();
    const auto text = read_text_file(file);
    const auto camera = text ? camera_colour_from_text(*text, file) : tl::unexpected(text.error());
    if (!camera)
        return tell(camera.error());
    use_camera(workbench_, *camera);
}

void CameraDialog::print_to(const QString& path) {
    const ColourPrint print = chart_print(fiducial_modules(colour_chart().layout));
    const auto written = path.endsWith(u".pdf"_s, Qt::CaseInsensitive) ? write_chart_pdf(print, path)
                                                                       : write_file(path, chart_svg(print));
    if (!written)
        return tell(written.error());
    workbench_.say(tr("Written to %1.").arg(path));
}

void CameraDialog::ask_file() {
    ask_one_file(this, tr("A camera that was set right"), tr("Cameras (*.json)"),
                 [this](const QString& path) { take_file(path); });
}

void CameraDialog::ask_photo() {
    ask_one_file(this, tr("Photograph of the chart"), tr("Photographs (*.png *.jpg *.jpeg)"),
                 [this](const QString& path) { setter_.take_photo(path); });
}

void CameraDialog::ask_values() {
    ask_one_file(this, tr("Measured colours"), tr("Lists (*.csv *.txt);;All files (*)"), [this](const QString& path) {
        if (const auto text = read_text_file(path.toStdString()))
            values_->setPlainText(from_utf8(*text));
        else
            tell(text.error());
    });
}

void CameraDialog::ask_print() {
    auto* dialog = new QFileDialog(this, tr("Print the chart"), {}, tr("Page to print (*.pdf);;SVG (*.svg)"));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setAcceptMode(QFileDialog::AcceptSave);
    dialog->setDefaultSuffix(u"pdf"_s);
    connect(dialog, &QFileDialog::filterSelected, dialog, [dialog](const QString& filter) {
        dialog->setDefaultSuffix(filter.contains(u"*.svg"_s) ? u"svg"_s : u"pdf"_s);
    });
    connect(dialog, &QFileDialog::fileSelected, this, &CameraDialog::print_to);
    dialog->open();
}

} // namespace finch::app

#include "moc_camera_dialog.cpp"
