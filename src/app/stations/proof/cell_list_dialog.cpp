// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/proof/cell_list_dialog.h"

#include "app/session/text.h"
#include "app/theme/label.h"
#include "formats/folders.h"

#include <algorithm>
#include <QDialogButtonBox>
#include <QFileDialog>
#include <QVBoxLayout>
#include <utility>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

/// A line of what was said of each cell, where `line` has one.
QString said_before(const Workbench& workbench, const ProofSheet& sheet,
                    const std::function<QString(const CellReading&)>& line) {
    QString out;
    if (const Round* r = workbench.round(sheet.number); r != nullptr && r->reading)
        for (std::size_t i = 0; i < r->reading->cells.size(); ++i)
            if (const QString said = line(r->reading->cells[i]); !said.isEmpty())
                out += q(cell_name(sheet, i)) + u"; "_s + said + u'\n';
    return out;
}

} // namespace

CellListDialog::CellListDialog(ProofFlow& flow, CellList list, QWidget* parent)
    : QDialog(parent), flow_(flow), asked_(std::move(list)), list_(new QPlainTextEdit(this)),
      said_(plain_label({}, TextStyle::body, this)) {
    setObjectName(asked_.name + u"_dialog"_s);
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(asked_.title);
    auto* box = new QVBoxLayout(this);
    box->setSpacing(8);
    auto* note = plain_label(asked_.note, TextStyle::small, this);
    note->setWordWrap(true);
    note->setMinimumSize(480, 48);
    box->addWidget(note);
    list_->setObjectName(asked_.name + u"_list"_s);
    list_->setAccessibleName(asked_.title);
    list_->setFont(text_font(TextStyle::value));
    list_->setTabChangesFocus(true);
    list_->setMinimumHeight(260);
    box->addWidget(list_, 1);
    said_->setObjectName(asked_.name + u"_said"_s);
    said_->setWordWrap(true);
    said_->setMinimumHeight(40);
    said_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    box->addWidget(said_);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Cancel, this);
    auto* file = buttons->addButton(tr("From a file\u2026"), QDialogButtonBox::ActionRole);
    file->setObjectName(asked_.name + u"_file"_s);
    keep_ = buttons->addButton(asked_.keep_label, QDialogButtonBox::ActionRole);
    keep_->setObjectName(asked_.name + u"_keep"_s);
    box->addWidget(buttons);
    list_->setPlainText(asked_.before);
    connect(list_, &QPlainTextEdit::textChanged, this, &CellListDialog::refresh);
    connect(file, &QPushButton::clicked, this, &CellListDialog::ask_file);
    connect(keep_, &QPushButton::clicked, this, &CellListDialog::keep);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    list_->setFocus();
    refresh();
}

void CellListDialog::refresh() {
    const QString text = list_->toPlainText();
    const auto said = asked_.read(text.toStdString());
    keep_->setEnabled(said.has_value());
    if (text.trimmed().isEmpty())
        said_->clear();
    else
        said_->setText(said ? *said : from_utf8(sentence(said.error())));
}

void CellListDialog::ask_file() {
    auto* dialog = new QFileDialog(this, asked_.title, {}, tr("Lists (*.csv *.txt);;All files (*)"));
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

void CellListDialog::keep() {
    const std::string text = list_->toPlainText().toStdString();
    if (!asked_.read(text))
        return;
    if (flow_.step() != ProofFlow::Step::idle)
        return said_->setText(tr("This can be kept when what is under way is done: %1.").arg(flow_.progress_text()));
    asked_.keep(text);
    accept();
}

CellList colours_of_instrument(Workbench& workbench, ProofFlow& flow, const ProofSheet& sheet) {
    CellList out;
    out.name = u"colour"_s;
    out.title = CellListDialog::tr("Colours of sheet %1 by instrument").arg(sheet.number, 2, 10, QChar(u'0'));
    out.note = CellListDialog::tr("One cell a line: \"B1; 36.2; 1.9; \u221228.4\", with what it lies within as a "
                                  "fourth number where the instrument says so. L* a* b* under D65 for the 2\u00b0 "
                                  "observer, with the mirror reflection included. A line without a name goes to the "
                                  "next cell.");
    out.keep_label = CellListDialog::tr("Keep the colours");
    out.before = said_before(workbench, sheet, [](const CellReading& c) {
        return c.by_instrument ? u"%1; %2; %3; %4"_s.arg(c.lab.l).arg(c.lab.a).arg(c.lab.b).arg(c.within_de)
                               : QString();
    });
    out.read = [sheet](const std::string& text) -> Expected<QString> {
        return colours_from_text(text, sheet).map([](const std::vector<CellColour>& colours) {
            return CellListDialog::tr("Cells: %1. The last is %2.")
                .arg(colours.size())
                .arg(from_utf8(colour_name(colours.back().lab)));
        });
    };
    out.keep = [&flow, sheet](const std::string& text) {
        if (const auto colours = colours_from_text(text, sheet))
            flow.note_colours(sheet.number, *colours);
    };
    return out;
}

CellList gloss_of_meter(Workbench& workbench, ProofFlow& flow, const ProofSheet& sheet) {
    CellList out;
    out.name = u"gloss"_s;
    out.title = CellListDialog::tr("Gloss of sheet %1").arg(sheet.number, 2, 10, QChar(u'0'));
    out.note = CellListDialog::tr("One cell a line, in gloss units as the meter shows them, all at one geometry: \"B1; "
                                  "212\". A line without a name goes to the next cell.");
    out.keep_label = CellListDialog::tr("Keep the gloss");
    out.before = said_before(workbench, sheet,
                             [](const CellReading& c) { return c.gloss ? QString::number(*c.gloss) : QString(); });
    out.read = [sheet](const std::string& text) -> Expected<QString> {
        return gloss_from_text(text, sheet).map([](const std::vector<CellGloss>& gloss) {
            const auto [low, high] = std::ranges::minmax(gloss, {}, &CellGloss::units);
            return CellListDialog::tr("Cells: %1, from %2 to %3 gloss units.")
                .arg(gloss.size())
                .arg(screen_number(low.units, 3), screen_number(high.units, 3));
        });
    };
    out.keep = [&flow, sheet](const std::string& text) {
        if (const auto gloss = gloss_from_text(text, sheet))
            flow.note_gloss(sheet.number, *gloss);
    };
    return out;
}

CellList scratch_tests(Workbench& workbench, ProofFlow& flow, const ProofSheet& sheet) {
    const std::vector<LadderStep> ladder = workbench.materials().compounds.ladder;
    QString tools;
    for (const LadderStep& s : ladder)
        tools += (tools.isEmpty() ? QString() : u", "_s) + q(s.tool);
    CellList out;
    out.name = u"scratch"_s;
    out.title = CellListDialog::tr("Scratch tests of sheet %1").arg(sheet.number, 2, 10, QChar(u'0'));
    out.note = CellListDialog::tr("Five strokes of each tool, softest first: %1. One cell a line, how many it "
                                  "survived or the hardest of them: \"B1; 4\", \"B1; aluminium\", \"B1; nothing\". A "
                                  "line without a name goes to the next cell.")
                   .arg(tools);
    out.keep_label = CellListDialog::tr("Keep the scratch tests");
    out.before = said_before(workbench, sheet, [](const CellReading& c) {
        return c.scratch_steps ? QString::number(*c.scratch_steps) : QString();
    });
    out.read = [sheet, ladder](const std::string& text) -> Expected<QString> {
        return scratches_from_text(text, sheet, ladder).map([&](const std::vector<CellScratch>& scratches) {
            const int steps = scratches.back().steps;
            return CellListDialog::tr("Cells: %1. The last survived %2.")
                .arg(scratches.size())
                .arg(steps == 0 ? CellListDialog::tr("nothing")
                                : CellListDialog::tr("%1 tools, up to %2")
                                      .arg(steps)
                                      .arg(q(ladder.at(static_cast<std::size_t>(steps) - 1).tool)));
        });
    };
    out.keep = [&flow, sheet, ladder](const std::string& text) {
        if (const auto scratches = scratches_from_text(text, sheet, ladder))
            flow.note_scratches(sheet.number, *scratches);
    };
    return out;
}

} // namespace finch::app

#include "moc_cell_list_dialog.cpp"
