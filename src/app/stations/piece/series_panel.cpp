// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/piece/series_panel.h"

#include "app/session/text.h"
#include "app/theme/field_state.h"
#include "app/theme/label.h"

#include <algorithm>
#include <QFile>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSpinBox>
#include <QTableWidget>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr int said_high = 148;

} // namespace

SeriesPanel::SeriesPanel(Series series, int nests, QWidget* parent)
    : QWidget(parent), series_(std::move(series)), nests_(nests) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    const auto labelled = [&](QHBoxLayout* row, const QString& label, QWidget* field) {
        row->addWidget(text_label(label, TextStyle::small, this));
        row->addWidget(field);
    };
    auto* count = new QHBoxLayout;
    count->setSpacing(6);
    labelled(count, tr("Number {n} from"),
             whole(u"series_first"_s, tr("First number"), 0, 1'000'000'000, &Series::first));
    labelled(count, tr("in steps of"), whole(u"series_step"_s, tr("Step"), -10'000, 10'000, &Series::step));
    labelled(count, tr("digits"), whole(u"series_digits"_s, tr("Digits"), 1, 12, &Series::digits));
    count->addStretch(1);
    auto* table = new QPushButton(tr("Table…"), this);
    table->setObjectName(u"series_table"_s);
    table->setToolTip(tr("CSV with a row for each piece; the first line names its columns"));
    connect(table, &QPushButton::clicked, this, &SeriesPanel::ask_table);
    count->addWidget(table);
    column->addLayout(count);
    auto* which = new QHBoxLayout;
    which->setSpacing(6);
    pieces_ = new QLineEdit(q(pieces_text(series_.pieces)), this);
    pieces_->setObjectName(u"series_pieces"_s);
    pieces_->setAccessibleName(tr("Pieces at hand"));
    pieces_->setPlaceholderText(nests_ > 1 ? tr("1-%1").arg(nests_) : u"1"_s);
    pieces_->setToolTip(tr("Nest by nest: 25-48, or 7, 31 where two are made again"));
    connect(pieces_, &QLineEdit::editingFinished, this, &SeriesPanel::take_pieces);
    which->addWidget(text_label(tr("Pieces at hand"), TextStyle::small, this));
    which->addWidget(pieces_, 1);
    next_ = new QPushButton(tr("Next tray"), this);
    next_->setObjectName(u"series_next"_s);
    next_->setToolTip(tr("As many again, from the one after the last"));
    connect(next_, &QPushButton::clicked, this, &SeriesPanel::next_tray);
    which->addWidget(next_);
    column->addLayout(which);
    table_words_ = plain_label({}, TextStyle::small, this);
    table_words_->setObjectName(u"series_words"_s);
    table_words_->setWordWrap(true);
    column->addWidget(table_words_);
    said_ = new QTableWidget(0, 0, this);
    said_->setObjectName(u"series_said"_s);
    said_->setAccessibleName(tr("What each piece says"));
    said_->verticalHeader()->hide();
    said_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    said_->setSelectionMode(QAbstractItemView::NoSelection);
    said_->setFixedHeight(said_high);
    column->addWidget(said_);
}

QSpinBox* SeriesPanel::whole(const QString& name, const QString& label, int low, int high, int Series::*value) {
    auto* box = new QSpinBox(this);
    box->setObjectName(name);
    box->setAccessibleName(label);
    box->setRange(low, high);
    box->setValue(series_.*value);
    box->setKeyboardTracking(false);
    connect(box, &QSpinBox::valueChanged, this, [this, value](int v) {
        series_.*value = v;
        Q_EMIT changed();
    });
    return box;
}

void SeriesPanel::take_pieces() {
    const auto pieces = pieces_from_text(pieces_->text().toStdString());
    mark_wrong(pieces_, !pieces);
    readable_ = pieces.has_value();
    if (!pieces) {
        Q_EMIT refused(from_utf8(sentence(pieces.error())));
        return;
    }
    series_.pieces = *pieces;
    Q_EMIT changed();
}

void SeriesPanel::next_tray() {
    const auto next = pieces_after({texts_, series_}, nests_);
    if (next.empty()) {
        Q_EMIT told(tr("That was the last: the table has no further row."));
        return;
    }
    series_.pieces = next;
    pieces_->setText(q(pieces_text(next)));
    mark_wrong(pieces_, false);
    readable_ = true;
    Q_EMIT changed();
}

void SeriesPanel::ask_table() {
    auto* dialog = new QFileDialog(this, tr("Open a table"), {}, tr("Tables (*.csv *.tsv *.txt);;All files (*)"));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setFileMode(QFileDialog::ExistingFile);
    connect(dialog, &QFileDialog::fileSelected, this, &SeriesPanel::read_table);
    dialog->open();
}

void SeriesPanel::read_table(const QString& path) {
    QFile file(path);
    if (!file.open(QIODevice::ReadOnly)) {
        Q_EMIT told(tr("%1 cannot be read: %2.").arg(path, file.errorString()));
        return;
    }
    // One byte more than a table may have tells that it is too long.
    const QByteArray bytes = file.read(static_cast<qint64>(most_table_bytes) + 1);
    auto table = piece_table({bytes.constData(), static_cast<std::size_t>(bytes.size())},
                             QFileInfo(path).fileName().toStdString());
    if (!table) {
        Q_EMIT told(from_utf8(sentence(table.error())));
        return;
    }
    series_.table = std::make_shared<const PieceTable>(std::move(*table));
    Q_EMIT changed();
}

void SeriesPanel::show_texts(const std::vector<TypedText>& texts) {
    texts_ = texts;
    const TypedTexts typed{texts_, series_};
    next_->setEnabled(nests_ > 1 || std::ranges::any_of(texts_, varies));
    if (const PieceTable* table = series_.table.get(); table == nullptr)
        table_words_->setText(tr("No table. {n} in a text is the number of its piece."));
    else {
        QStringList names;
        for (const std::string& column : table->columns)
            names << from_utf8(column);
        table_words_->setText(
            tr("%1: rows %2; columns %3").arg(from_utf8(table->file)).arg(table->rows.size()).arg(names.join(u", "_s)));
    }
    said_->setRowCount(0);
    said_->setColumnCount(static_cast<int>(texts_.size()) + 2);
    QStringList heads{nests_ > 1 ? tr("nest") : tr("place"), tr("piece")};
    for (const TypedText& t : texts_)
        heads << from_utf8(t.name);
    said_->setHorizontalHeaderLabels(heads);
    said_->horizontalHeader()->setStretchLastSection(true);
    said_->setColumnWidth(0, 56);
    said_->setColumnWidth(1, 64);
    const auto pieces = pieces_on(typed, nests_);
    if (!pieces)
        return;
    said_->setRowCount(static_cast<int>(pieces->size()));
    for (std::size_t i = 0; i < pieces->size(); ++i) {
        const int row = static_cast<int>(i);
        said_->setItem(row, 0, new QTableWidgetItem(QString::number(row + 1)));
        said_->setItem(row, 1, new QTableWidgetItem(QString::number(pieces->at(i))));
        for (std::size_t k = 0; k < texts_.size(); ++k) {
            const auto words = words_on(texts_[k], series_, pieces->at(i));
            said_->setItem(row, static_cast<int>(k) + 2,
                           new QTableWidgetItem(words ? from_utf8(*words) : tr("cannot be told")));
        }
    }
}

} // namespace finch::app

#include "moc_series_panel.cpp"
