// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/piece/timing_dialog.h"

#include "app/session/text.h"
#include "app/stations/piece/piece_view.h"
#include "app/theme/field_state.h"
#include "app/theme/label.h"
#include "bench_link/protocol.h"
#include "formats/file_out.h"
#include "formats/job_export.h"
#include "quantity/stopwatch_text.h"

#include <algorithm>
#include <QDialogButtonBox>
#include <QDir>
#include <QFileDialog>
#include <QGridLayout>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

QString scan_words(const ScanLoad& load) {
    double lines = 0;
    for (const WayCount& w : load.lines)
        lines += w.count;
    return QObject::tr("%1 lines × %2, %3 mm/s")
        .arg(screen_number(lines, 6), screen_number(load.passes, 4), screen_number(load.speed_mm_s, 4));
}

} // namespace

TimingDialog::TimingDialog(Workbench& workbench, ScannerTimer& timer, const PieceReader& reader, QWidget* parent)
    : QDialog(parent), workbench_(workbench), timer_(timer), reader_(reader) {
    setObjectName(u"timing_dialog"_s);
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("How long the scanner of %1 takes").arg(from_utf8(workbench_.bench().name)));
    auto* box = new QVBoxLayout(this);
    box->setSpacing(10);
    auto* note = text_label(
        tr("Run each scan once with the source off or its shutter closed and take the time from start to end; three of "
           "them settle most, a layer of your own settles that kind of work. \"44.7\", \"1:32\" or \"1 min 32\". The "
           "beam path stays guarded as for marking."),
        TextStyle::small, this);
    note->setWordWrap(true);
    box->addWidget(note);
    add_rows();
    what_ = text_label({}, TextStyle::body, this);
    what_->setObjectName(u"timing_what"_s);
    what_->setWordWrap(true);
    box->addWidget(what_);
    said_ = plain_label({}, TextStyle::body, this);
    said_->setObjectName(u"timing_said"_s);
    said_->setWordWrap(true);
    box->addWidget(said_);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Cancel, this);
    const auto button = [&](const QString& text, const QString& name, const QString& tip) {
        QPushButton* b = buttons->addButton(text, QDialogButtonBox::ActionRole);
        b->setObjectName(name);
        b->setToolTip(tip);
        b->setAutoDefault(false);
        return b;
    };
    bench_ = button(tr("Ask the stand-in"), u"timing_bench"_s,
                    tr("Let the mirrors of the stand-in run every scan, and take their time"));
    auto* save = button(tr("Save the scans…"), u"timing_save"_s, tr("As G-code that fires nothing, one file a scan"));
    forget_ = button(tr("Forget the times"), u"timing_forget"_s,
                     tr("The scanner was changed: it is again as scanners usually are"));
    keep_ = button(tr("Keep the times"), u"timing_keep"_s, {});
    keep_->setDefault(true);
    box->addWidget(buttons);
    connect(bench_, &QPushButton::clicked, this, &TimingDialog::ask_bench);
    connect(save, &QPushButton::clicked, this, &TimingDialog::ask_folder);
    connect(forget_, &QPushButton::clicked, this, [this] {
        timer_.forget();
        accept();
    });
    connect(keep_, &QPushButton::clicked, this, &TimingDialog::keep);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(this, &QDialog::finished, &timer_, &ScannerTimer::cancel);
    connect(&timer_, &ScannerTimer::changed, this, &TimingDialog::refresh);
    connect(&timer_, &ScannerTimer::timed, this, [this](std::size_t row, double took_s) {
        if (row >= rows_.size())
            return;
        rows_[row].field->setText(QString::fromStdString(format_number(std::round(took_s * 100) / 100, 6)));
        rows_[row].field->setModified(true);
        refresh();
    });
    connect(&workbench_, &Workbench::said, this, [this](const QString& text, State state) {
        if (state != State::ok)
            complain(text); // the status line lies behind this window
    });
    rows_.front().field->setFocus();
    refresh();
}

void TimingDialog::add_rows() {
    const Bench& bench = workbench_.bench();
    for (TimingPattern& p : timing_patterns(in_mm(bench.lens().field), in_mm_per_second(bench.scanner.speed_max)))
        rows_.push_back({{p.name, {}, load_of(p.hatch, p.speed_mm_s, p.passes), 0}, std::move(p.hatch.runs)});
    for (const PieceLayer& l : reader_.layers())
        if (l.work != nullptr && !l.work->hatch.runs.empty())
            rows_.push_back({{"layer " + l.choice.name, {}, l.work->load, 0}, l.work->hatch.runs});
    auto* inside = new QWidget(this);
    auto* grid = new QGridLayout(inside);
    grid->setHorizontalSpacing(16);
    grid->setVerticalSpacing(6);
    int line = 0;
    for (const auto& [column, text] : {std::pair{0, tr("Scan")}, std::pair{1, tr("What it is")},
                                       std::pair{2, tr("Expected, s")}, std::pair{3, tr("Took")}})
        grid->addWidget(text_label(text, TextStyle::small, inside), line, column);
    for (Row& row : rows_) {
        ++line;
        const TimeBand band = time_of(reader_.scanner(), {&row.run.load, 1});
        row.field = new QLineEdit(inside);
        row.field->setObjectName(u"took_"_s + QString::number(line));
        row.field->setAccessibleName(tr("Time of %1").arg(from_utf8(row.run.name)));
        row.field->setPlaceholderText(tr("s, or 1:32"));
        row.field->setProperty("mono", true);
        row.field->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
        row.field->setFixedWidth(112);
        for (const TimedRun& kept : bench.scanner.timed)
            if (kept.name == row.run.name && kept.load == row.run.load) // as it is now, not as it was timed once
                row.field->setText(QString::fromStdString(format_number(kept.took_s, 6)));
        grid->addWidget(text_label(from_utf8(row.run.name), TextStyle::value_bold, inside), line, 0);
        grid->addWidget(text_label(scan_words(row.run.load), TextStyle::value, inside), line, 1);
        grid->addWidget(text_label(tr("%1 to %2").arg(screen_number(band.low, 3), screen_number(band.high, 3)),
                                   TextStyle::value, inside),
                        line, 2);
        grid->addWidget(row.field, line, 3);
        connect(row.field, &QLineEdit::textChanged, this, &TimingDialog::refresh);
    }
    grid->setColumnStretch(1, 1);
    grid->setRowStretch(line + 1, 1);
    auto* scroll = new QScrollArea(this);
    scroll->setWidget(inside);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setMinimumSize(inside->sizeHint().width() + 24, std::min(36 * (line + 1) + 12, 380));
    layout()->addWidget(scroll);
}

void TimingDialog::complain(const QString& why) {
    said_->setText(why);
}

std::optional<std::vector<TimedRun>> TimingDialog::typed(bool aloud) {
    std::vector<TimedRun> out;
    for (const Row& row : rows_) {
        if (row.field->text().trimmed().isEmpty() || !row.field->isModified())
            continue;
        const auto took = seconds_from_text(row.field->text().toStdString());
        if (aloud)
            mark_wrong(row.field, !took);
        if (!took) {
            if (aloud) {
                row.field->setFocus();
                complain(row.field->accessibleName() + u": "_s + from_utf8(sentence(took.error())));
            }
            return std::nullopt;
        }
        out.push_back(row.run);
        out.back().took_s = *took;
        out.back().when_utc = workbench_.now_utc();
    }
    return out;
}

void TimingDialog::refresh() {
    bench_->setEnabled(!timer_.running());
    forget_->setEnabled(!workbench_.bench().scanner.timed.empty());
    const auto runs = typed(false);
    keep_->setEnabled(runs && !runs->empty());
    Scanner then = workbench_.bench().scanner;
    if (runs)
        then.timed = with_runs(then.timed, *runs);
    what_->setText(scanner_words(then, reader_));
}

void TimingDialog::keep() {
    const auto runs = typed(true);
    if (!runs || runs->empty())
        return;
    timer_.keep(*runs);
    accept();
}

void TimingDialog::ask_bench() {
    said_->clear();
    std::vector<ScannerTimer::Scan> scans;
    for (std::size_t i = 0; i < rows_.size(); ++i)
        if (rows_[i].lines.size() <= protocol::most_driven)
            scans.push_back({i, rows_[i].lines, rows_[i].run.load.speed_mm_s, rows_[i].run.load.passes});
    if (scans.size() < rows_.size())
        complain(tr("%1 of them have over %2 lines: take their time by hand.")
                     .arg(rows_.size() - scans.size())
                     .arg(protocol::most_driven));
    timer_.time(std::move(scans));
}

void TimingDialog::ask_folder() {
    auto* dialog = new QFileDialog(this, tr("Folder for the scans"));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setFileMode(QFileDialog::Directory);
    dialog->setOption(QFileDialog::ShowDirsOnly);
    connect(dialog, &QFileDialog::fileSelected, this, [this](const QString& folder) {
        int written = 0;
        for (const Row& row : rows_) {
            QString name = from_utf8(row.run.name).replace(u' ', u'-');
            name.removeIf([](QChar c) { return !c.isLetterOrNumber() && c != u'-'; });
            const QString path = QDir(folder).filePath(u"scan-"_s + name + u".gcode"_s);
            if (const auto done = write_file(path, scan_gcode(row.run.name, row.lines, row.run.load)); !done)
                return complain(from_utf8(sentence(done.error())));
            ++written;
        }
        complain(tr("%1 scans written to %2.").arg(written).arg(folder));
    });
    dialog->open();
}

} // namespace finch::app

#include "moc_timing_dialog.cpp"
