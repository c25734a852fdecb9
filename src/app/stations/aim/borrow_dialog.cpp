// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/aim/borrow_dialog.h"

#include "app/session/text.h"
#include "app/stations/aim/verdict_line.h"
#include "app/theme/label.h"
#include "formats/data_folder.h"

#include <QComboBox>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>

namespace finch::app {

using namespace Qt::StringLiterals;

BorrowDialog::BorrowDialog(Workbench& workbench, AimFlow& aims, QWidget* parent)
    : QDialog(parent), workbench_(workbench), aims_(aims) {
    setObjectName(u"borrow_dialog"_s);
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("Borrow a recipe"));
    resize(720, 300);
    auto* box = new QVBoxLayout(this);
    box->addWidget(text_label(tr("Paste what you were told, or open a table"), TextStyle::head, this));
    text_ = new QPlainTextEdit(this);
    text_->setObjectName(u"borrow_text"_s);
    text_->setAccessibleName(tr("Borrowed settings"));
    text_->setPlaceholderText(tr("25 W, 40 kHz, 600 mm/s, 0.03, stainless, 160 mm lens"));
    text_->setMaximumHeight(72);
    box->addWidget(text_);
    auto* line = new QHBoxLayout;
    auto* open = new QPushButton(tr("Open a table…"), this);
    open->setObjectName(u"borrow_open"_s);
    process_ = new QComboBox(this);
    process_->setObjectName(u"borrow_process"_s);
    process_->setAccessibleName(tr("What it is for"));
    for (const Process p : all_processes)
        process_->addItem(from_utf8(traits(p).label));
    process_->setCurrentIndex(static_cast<int>(workbench_.draft().recipe.process));
    line->addWidget(open);
    line->addStretch(1);
    line->addWidget(text_label(tr("It is meant to"), TextStyle::body, this));
    line->addWidget(process_);
    box->addLayout(line);
    table_ = new QTableWidget(this);
    table_->setObjectName(u"borrow_table"_s);
    table_->setAccessibleName(tr("Rows of the table"));
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setVisible(false);
    box->addWidget(table_, 1);
    verdict_ = new VerdictLine(u"borrow_verdict"_s, this);
    box->addWidget(verdict_);
    score_ = text_label({}, TextStyle::body, this);
    score_->setObjectName(u"borrow_score"_s);
    score_->setWordWrap(true);
    box->addWidget(score_);
    drawn_ = new ChangeBars(u"borrow_settings"_s, this);
    drawn_->hide();
    box->addWidget(drawn_, 0, Qt::AlignLeft);
    box->addStretch(0);
    auto* foot = new QHBoxLayout;
    foot->addStretch(1);
    auto* shut = new QPushButton(tr("Close"), this);
    take_ = new QPushButton(tr("Take as a start"), this);
    take_->setObjectName(u"borrow_take"_s);
    take_->setProperty("primary", true);
    take_->setEnabled(false);
    foot->addWidget(shut);
    foot->addWidget(take_);
    box->addLayout(foot);
    connect(text_, &QPlainTextEdit::textChanged, this, &BorrowDialog::read_text);
    connect(process_, &QComboBox::activated, this, [this] {
        if (borrowed_)
            show_borrowed(Borrowed(*borrowed_));
    });
    connect(table_, &QTableWidget::itemSelectionChanged, this, &BorrowDialog::read_row);
    connect(open, &QPushButton::clicked, this, [this] {
        auto* dialog = new QFileDialog(this, tr("Open a table of recipes"), {}, tr("Tables (*.csv *.tsv *.txt)"));
        dialog->setAttribute(Qt::WA_DeleteOnClose);
        connect(dialog, &QFileDialog::fileSelected, this, &BorrowDialog::open_table);
        dialog->open();
    });
    connect(shut, &QPushButton::clicked, this, &QDialog::close);
    connect(take_, &QPushButton::clicked, this, [this] {
        if (!found_)
            return;
        Recipe r = found_->recipe;
        if (r.name.empty())
            r.name = "borrowed start";
        aims_.take_recipe(r, tr("borrow a recipe"));
        workbench_.say(tr("Borrowed as a start. The first run is a coupon."), State::warn);
        accept();
    });
}

void BorrowDialog::read_text() {
    const QString text = text_->toPlainText();
    if (text.trimmed().isEmpty()) {
        show_nothing({});
        return;
    }
    const auto b = borrowed_from_text(text.toStdString(), workbench_.materials());
    if (!b)
        return show_fault(b.error());
    show_borrowed(*b);
}

void BorrowDialog::open_table(const QString& path) {
    const auto text = read_text_file(path.toStdString());
    if (!text)
        return show_fault(text.error());
    const auto table = borrowed_table(*text, path.section(u'/', -1).toStdString());
    if (!table)
        return show_fault(table.error());
    rows_ = *table;
    fill_table();
}

void BorrowDialog::fill_table() {
    const int columns = static_cast<int>(rows_->header.size());
    table_->clear();
    table_->setColumnCount(columns);
    table_->setRowCount(static_cast<int>(rows_->rows.size()) + 1);
    QStringList heads;
    for (const std::string& h : rows_->header)
        heads << QString::fromStdString(h);
    table_->setHorizontalHeaderLabels(heads);
    for (int c = 0; c < columns; ++c) {
        // The first row says what each column means, and can be changed.
        auto* meaning = new QComboBox(table_);
        meaning->setObjectName(u"meaning_%1"_s.arg(c));
        meaning->setAccessibleName(tr("Meaning of %1").arg(heads[c]));
        for (std::size_t i = 0; i < borrowed_field_count; ++i)
            meaning->addItem(from_utf8(word(static_cast<BorrowedField>(i))));
        meaning->setCurrentIndex(static_cast<int>(rows_->meaning[static_cast<std::size_t>(c)]));
        connect(meaning, &QComboBox::activated, this, [this, c](int i) {
            rows_->meaning[static_cast<std::size_t>(c)] = static_cast<BorrowedField>(i);
            read_row();
        });
        table_->setCellWidget(0, c, meaning);
        for (std::size_t r = 0; r < rows_->rows.size(); ++r) {
            auto* item = new QTableWidgetItem(QString::fromStdString(rows_->rows[r][static_cast<std::size_t>(c)]));
            item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable);
            table_->setItem(static_cast<int>(r) + 1, c, item);
        }
    }
    table_->setVisible(true);
    resize(width(), std::max(height(), 520));
    table_->resizeColumnsToContents();
    table_->selectRow(1);
}

void BorrowDialog::read_row() {
    const int row = table_->currentRow() - 1;
    if (!rows_ || row < 0 || row >= static_cast<int>(rows_->rows.size()))
        return;
    const auto b = borrowed_row(*rows_, static_cast<std::size_t>(row), workbench_.materials());
    if (!b)
        return show_fault(b.error());
    show_borrowed(*b);
}

void BorrowDialog::show_fault(const Error& error) {
    show_nothing({State::fail, QString::fromStdString(sentence(error))});
    borrowed_.reset();
}

void BorrowDialog::show_nothing(const VerdictWords& why) {
    verdict_->say(why);
    score_->clear();
    drawn_->hide();
    found_.reset();
    take_->setEnabled(false);
}

void BorrowDialog::show_borrowed(const Borrowed& b) {
    borrowed_ = b;
    const Match m = match(b, workbench_.scene());
    const auto start = rescaled(b, workbench_.scene(), static_cast<Process>(process_->currentIndex()));
    if (!start)
        return show_nothing({State::fail, QString::fromStdString(sentence(start.error()))});
    found_ = *start;
    // One verdict: how far it can be trusted. What the change of bench keeps is drawn, not said again.
    verdict_->say({m.score >= 80 ? State::ok : State::warn,
                   tr("Match %1 of 100. %2").arg(m.score).arg(QString::fromStdString(m.confidence))});
    QStringList facts;
    const auto add = [&](const QString& what, const std::vector<std::string>& items) {
        QStringList out;
        for (const std::string& s : items)
            out << QString::fromStdString(s);
        if (!out.isEmpty())
            facts << u"<b>%1</b> %2"_s.arg(what, out.join(u", "_s).toHtmlEscaped());
    };
    add(tr("Never said:"), m.missing);
    add(tr("Assumed:"), start->assumed);
    add(tr("Differs:"), m.differs);
    add(tr("Not understood:"), b.not_understood);
    score_->setText(strong(facts.join(u"<br>"_s)));
    drawn_->show_view(borrowed_view(b, machine_settings(workbench_.bench(), start->recipe)));
    drawn_->show();
    take_->setEnabled(true);
    adjustSize();
}

} // namespace finch::app

#include "moc_borrow_dialog.cpp"
