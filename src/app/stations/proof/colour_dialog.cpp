// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/proof/colour_dialog.h"

#include "app/session/text.h"
#include "app/theme/label.h"
#include "formats/folders.h"

#include <QDialogButtonBox>
#include <QFileDialog>
#include <QVBoxLayout>

namespace finch::app {

using namespace Qt::StringLiterals;

ColourDialog::ColourDialog(Workbench& workbench, ProofFlow& flow, const ProofSheet& sheet, QWidget* parent)
    : QDialog(parent), workbench_(workbench), flow_(flow), sheet_(sheet), list_(new QPlainTextEdit(this)),
      said_(plain_label({}, TextStyle::body, this)) {
    setObjectName(u"colour_dialog"_s);
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("Colours of sheet %1 by instrument").arg(sheet_.number, 2, 10, QChar(u'0')));
    auto* box = new QVBoxLayout(this);
    box->setSpacing(8);
    auto* note =
        plain_label(tr("One cell a line: \"B1; 36.2; 1.9; \u221228.4\", with what it lies within as a fourth "
                       "number where the instrument says so. L* a* b* under D65 for the 2\u00b0 observer, with "
                       "the mirror reflection included. A line without a name goes to the next cell."),
                    TextStyle::small, this);
    note->setWordWrap(true);
    note->setMinimumSize(480, 48);
    box->addWidget(note);
    list_->setObjectName(u"colour_list"_s);
    list_->setAccessibleName(tr("Colours, one cell a line"));
    list_->setFont(text_font(TextStyle::value));
    list_->setTabChangesFocus(true);
    list_->setMinimumHeight(260);
    box->addWidget(list_, 1);
    said_->setObjectName(u"colour_said"_s);
    said_->setWordWrap(true);
    said_->setMinimumHeight(40);
    said_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    box->addWidget(said_);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Cancel, this);
    auto* file = buttons->addButton(tr("From a file\u2026"), QDialogButtonBox::ActionRole);
    file->setObjectName(u"colour_file"_s);
    keep_ = buttons->addButton(tr("Keep the colours"), QDialogButtonBox::ActionRole);
    keep_->setObjectName(u"colour_keep"_s);
    box->addWidget(buttons);
    // What was measured before stands there to be gone on with.
    QString before;
    if (const Round* r = workbench_.round(sheet_.number); r != nullptr && r->reading)
        for (std::size_t i = 0; i < r->reading->cells.size(); ++i)
            if (const CellReading& c = r->reading->cells[i]; c.by_instrument)
                before += u"%1; %2; %3; %4; %5\n"_s.arg(q(cell_name(sheet_, i)))
                              .arg(c.lab.l)
                              .arg(c.lab.a)
                              .arg(c.lab.b)
                              .arg(c.within_de);
    list_->setPlainText(before);
    connect(list_, &QPlainTextEdit::textChanged, this, &ColourDialog::refresh);
    connect(file, &QPushButton::clicked, this, &ColourDialog::ask_file);
    connect(keep_, &QPushButton::clicked, this, &ColourDialog::keep);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    list_->setFocus();
    refresh();
}

void ColourDialog::refresh() {
    const QString text = list_->toPlainText();
    const auto colours = colours_from_text(text.toStdString(), sheet_);
    keep_->setEnabled(colours.has_value());
    if (text.trimmed().isEmpty())
        said_->clear();
    else if (!colours)
        said_->setText(from_utf8(sentence(colours.error())));
    else
        said_->setText(
            tr("Cells: %1. The last is %2.").arg(colours->size()).arg(from_utf8(colour_name(colours->back().lab))));
}

void ColourDialog::ask_file() {
    auto* dialog = new QFileDialog(this, tr("Colours of the cells"), {}, tr("Lists (*.csv *.txt);;All files (*)"));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setFileMode(QFileDialog::ExistingFile);
    connect(dialog, &QFileDialog::fileSelected, this, [this](const QString& path) {
        if (const auto text = read_text_file(path.toStdString()))
            list_->setPlainText(from_utf8(*text));
        else
            said_->setText(from_utf8(sentence(text.error())));
    });
    dialog->open();
}

void ColourDialog::keep() {
    const auto colours = colours_from_text(list_->toPlainText().toStdString(), sheet_);
    if (!colours)
        return;
    if (flow_.step() != ProofFlow::Step::idle)
        return said_->setText(tr("The colours can be kept when this is done: %1.").arg(flow_.progress_text()));
    flow_.note_colours(sheet_.number, *colours);
    accept();
}

} // namespace finch::app

#include "moc_colour_dialog.cpp"
