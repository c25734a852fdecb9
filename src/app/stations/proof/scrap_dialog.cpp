// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/proof/scrap_dialog.h"

#include "app/session/text.h"
#include "app/session/words.h"
#include "app/theme/label.h"

#include <algorithm>
#include <QDialogButtonBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QVBoxLayout>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

QDoubleSpinBox* millimetres(const QString& name, const QString& spoken, double least, double value, QWidget* parent) {
    auto* box = new QDoubleSpinBox(parent);
    box->setObjectName(name);
    box->setAccessibleName(spoken);
    box->setRange(least, scrap_most_mm);
    box->setDecimals(1);
    box->setSuffix(u" mm"_s);
    box->setValue(value);
    return box;
}

QRectF q_rect(const RectMm& r) {
    return {r.x, r.y, r.w, r.h};
}

QString size_text(double w, double h) {
    return u"%1 × %2"_s.arg(screen_number(w, 3), screen_number(h, 3));
}

/// `burned`: the marks that it has in truth; what else it carries is planned.
ScrapPicture picture_of(const ScrapPiece& piece, const std::vector<ScrapMark>& burned, int shown_sheet) {
    ScrapPicture out;
    out.width_mm = piece.width_mm;
    out.height_mm = piece.height_mm;
    out.words = QObject::tr("%1, %2 mm").arg(q(piece.name), size_text(piece.width_mm, piece.height_mm));
    for (std::size_t face = 0; face < scrap_faces.size(); ++face) {
        ScrapPicture::Face f{QString::fromLatin1(scrap_faces[face]),
                             scrap_free_mm2(piece, face) / 100,
                             q_rect(scrap_largest_free(piece, face)),
                             {}};
        for (const ScrapMark& m : piece.marks)
            if (m.face == face) {
                using Is = ScrapPicture::Mark::Is;
                const bool planned = std::ranges::find(burned, m) == burned.end();
                f.marks.push_back({q_rect(m.where), q(m.what),
                                   m.sheet > 0 && m.sheet == shown_sheet ? Is::shown
                                   : planned                             ? Is::planned
                                                                         : Is::used});
            }
        out.words += QObject::tr("; face %1: %2 square centimetres bare").arg(f.name, screen_number(f.bare_cm2, 2));
        out.faces.push_back(std::move(f));
    }
    return out;
}

} // namespace

ScrapDialog::ScrapDialog(Workbench& workbench, bool look_only, QWidget* parent)
    : QDialog(parent), workbench_(workbench), look_only_(look_only), table_(new QTableWidget(0, 5, this)),
      view_(new ScrapView(this)), says_(plain_label({}, TextStyle::body, this)) {
    setObjectName(u"scrap_dialog"_s);
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("Scrap bin"));
    auto* box = new QVBoxLayout(this);
    box->setSpacing(10);
    table_->setObjectName(u"scrap_pieces"_s);
    table_->setAccessibleName(tr("Pieces"));
    table_->setHorizontalHeaderLabels({tr("Piece"), tr("Stock"), tr("Size, mm"), tr("Bare, cm²"), tr("Note")});
    table_->verticalHeader()->hide();
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    table_->horizontalHeader()->setStretchLastSection(true);
    table_->setTabKeyNavigation(false);
    table_->setMinimumHeight(130);
    table_->setMaximumHeight(170);
    box->addWidget(table_);
    box->addWidget(view_, 1);
    says_->setObjectName(u"scrap_says"_s);
    says_->setWordWrap(true);
    says_->setMinimumHeight(36);
    says_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    box->addWidget(says_);
    box->addWidget(make_used());
    box->addWidget(make_new_piece());
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close, this);
    lay_ = buttons->addButton(tr("Lay the sheet here"), QDialogButtonBox::ActionRole);
    lay_->setObjectName(u"scrap_lay"_s);
    lay_->setProperty("primary", true);
    fresh_ = buttons->addButton(tr("Burn it on fresh stock"), QDialogButtonBox::ActionRole);
    fresh_->setObjectName(u"scrap_fresh"_s);
    out_ = buttons->addButton(tr("Take out of the bin"), QDialogButtonBox::ActionRole);
    out_->setObjectName(u"scrap_out"_s);
    box->addWidget(buttons);
    resize(860, 660);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(lay_, &QPushButton::clicked, this, [this] {
        if (const ScrapPiece* p = chosen())
            answer(lay_on_scrap(workbench_, p->name));
    });
    connect(fresh_, &QPushButton::clicked, this, [this] { answer(lay_on_fresh(workbench_)); });
    connect(out_, &QPushButton::clicked, this, [this] {
        if (const ScrapPiece* p = chosen())
            answer(take_out_of_bin(workbench_, p->name));
    });
    connect(table_, &QTableWidget::itemSelectionChanged, this, [this] { tell({}); });
    connect(&workbench_, &Workbench::changed, this, &ScrapDialog::fill);
    fill();
}

QWidget* ScrapDialog::make_new_piece() {
    auto* row = new QWidget(this);
    auto* line = new QHBoxLayout(row);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(8);
    auto* title = text_label(tr("New piece"), TextStyle::head, row);
    title->setFixedWidth(104);
    title->setToolTip(tr("Of the stock that lies on the bench. The largest rectangle in it, laid as it is drawn."));
    line->addWidget(title);
    width_ = millimetres(u"scrap_width"_s, tr("Width of the piece"), scrap_least_mm, 60, row);
    height_ = millimetres(u"scrap_height"_s, tr("Height of the piece"), scrap_least_mm, 40, row);
    line->addWidget(width_);
    line->addWidget(text_label(u"×"_s, TextStyle::body, row));
    line->addWidget(height_);
    note_ = new QLineEdit(row);
    note_->setObjectName(u"scrap_note"_s);
    note_->setAccessibleName(tr("Note"));
    note_->setMaxLength(120);
    note_->setPlaceholderText(tr("what it was: reject, offcut …"));
    line->addWidget(note_, 1);
    auto* put = new QPushButton(tr("Put in"), row);
    put->setObjectName(u"scrap_put_in"_s);
    put->setAutoDefault(false);
    put->setEnabled(!look_only_);
    line->addWidget(put);
    connect(put, &QPushButton::clicked, this, &ScrapDialog::put_in);
    return row;
}

QWidget* ScrapDialog::make_used() {
    auto* row = new QWidget(this);
    auto* line = new QHBoxLayout(row);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(8);
    auto* title = text_label(tr("Used already"), TextStyle::head, row);
    title->setFixedWidth(104);
    title->setToolTip(tr("What the piece carries that this program did not burn, from its upper left corner."));
    line->addWidget(title);
    face_ = new QComboBox(row);
    face_->setObjectName(u"scrap_face"_s);
    face_->setAccessibleName(tr("Face"));
    for (const char* face : scrap_faces)
        face_->addItem(tr("face %1").arg(QString::fromLatin1(face)));
    line->addWidget(face_);
    const std::array names{tr("left"), tr("top"), tr("width"), tr("height")};
    for (std::size_t i = 0; i < where_.size(); ++i) {
        line->addWidget(text_label(names[i], TextStyle::small, row));
        where_[i] = millimetres(u"scrap_used_%1"_s.arg(i), names[i], 0, i < 2 ? 0 : 10, row);
        line->addWidget(where_[i]);
    }
    line->addStretch(1);
    use_ = new QPushButton(tr("Mark as used"), row);
    use_->setObjectName(u"scrap_use"_s);
    use_->setAutoDefault(false);
    line->addWidget(use_);
    connect(use_, &QPushButton::clicked, this, &ScrapDialog::use);
    return row;
}

const ScrapPiece* ScrapDialog::chosen() const {
    const int row = table_->currentRow();
    return row >= 0 && row < static_cast<int>(bin_.size()) ? &bin_[static_cast<std::size_t>(row)] : nullptr;
}

void ScrapDialog::fill() {
    const std::string before = chosen() != nullptr ? chosen()->name : std::string();
    bin_ = bin_with_plans(workbench_.draft(), workbench_.ledger());
    const Stock& here = workbench_.draft().setup.stock;
    // What can be used now comes first.
    std::stable_partition(bin_.begin(), bin_.end(), [&](const ScrapPiece& p) { return same_scrap(p.stock, here); });
    const Round* r = workbench_.round();
    const QSignalBlocker quiet(table_);
    table_->setRowCount(static_cast<int>(bin_.size()));
    int row = 0, at = -1;
    for (const ScrapPiece& p : bin_) {
        const auto metal = workbench_.materials().find(p.stock.metal);
        const QString stock = tr("%1, %2 mm, %3")
                                  .arg(metal ? q((*metal)->name) : q(p.stock.metal),
                                       screen_number(in_mm(p.stock.thickness), 3), stock_words(p.stock));
        const double bare = (scrap_free_mm2(p, 0) + scrap_free_mm2(p, 1)) / 100;
        int column = 0;
        for (const QString& text :
             {q(p.name), stock, size_text(p.width_mm, p.height_mm), screen_number(bare, 3), q(p.note)})
            table_->setItem(row, column++, new QTableWidgetItem(text));
        if (p.name == before || (at < 0 && before.empty() && r != nullptr && r->scrap && r->scrap->piece == p.name))
            at = row;
        ++row;
    }
    table_->setCurrentCell(at < 0 && row > 0 ? 0 : at, 0);
    show_chosen();
}

void ScrapDialog::show_chosen() {
    const ScrapPiece* piece = chosen();
    const Round* r = workbench_.round();
    const bool open = r != nullptr && !r->burned && !r->sheet.on_old_plate();
    lay_->setEnabled(piece != nullptr && open);
    fresh_->setEnabled(open && r->scrap.has_value());
    out_->setEnabled(piece != nullptr && !look_only_);
    use_->setEnabled(piece != nullptr && !look_only_);
    if (r != nullptr)
        lay_->setText(tr("Lay sheet %1 here").arg(r->sheet.number, 2, 10, QChar(u'0')));
    ScrapPicture none;
    none.words = tr("The bin is empty. Put in rejects and offcuts: sheets are then planned on what is bare on them.");
    if (piece != nullptr) {
        const auto& bin = workbench_.ledger().scrap();
        const auto in_truth = std::ranges::find(bin, piece->name, &ScrapPiece::name);
        view_->show_picture(
            picture_of(*piece, in_truth != bin.end() ? in_truth->marks : piece->marks, workbench_.draft().shown_sheet));
    } else
        view_->show_picture(none);
    if (piece == nullptr || !message_.isEmpty())
        return says_->setText(message_);
    QString words =
        r != nullptr && r->scrap && r->scrap->piece == piece->name
            ? tr("Sheet %1: face %2, its corner %3 mm from the left and %4 mm from the top%5.")
                  .arg(r->sheet.number, 2, 10, QChar(u'0'))
                  .arg(QString::fromLatin1(scrap_faces.at(r->scrap->face)), screen_number(r->scrap->x_mm, 3),
                       screen_number(r->scrap->y_mm, 3), r->scrap->turned ? tr(", turned by a quarter") : QString())
            : QString();
    if (!same_scrap(piece->stock, workbench_.draft().setup.stock))
        words += tr(" This is not the stock on the bench: a sheet that is laid here teaches about this piece's.");
    says_->setText(words.trimmed());
}

void ScrapDialog::put_in() {
    const std::string name = put_in_bin(workbench_, width_->value(), height_->value(), note_->text().toStdString());
    note_->clear();
    for (int row = 0; row < table_->rowCount(); ++row)
        if (table_->item(row, 0)->text() == q(name))
            table_->setCurrentCell(row, 0);
    tell(tr("Write %1 on it.").arg(q(name)));
}

void ScrapDialog::use() {
    const ScrapPiece* piece = chosen();
    if (piece == nullptr)
        return;
    ScrapMark mark;
    mark.face = static_cast<std::size_t>(face_->currentIndex());
    mark.where = {where_[0]->value(), where_[1]->value(), where_[2]->value(), where_[3]->value()};
    mark.what = "used";
    answer(mark_used(workbench_, std::string(piece->name), std::move(mark)));
}

void ScrapDialog::answer(const Expected<void>& done) {
    tell(done ? QString() : from_utf8(sentence(done.error())));
}

void ScrapDialog::tell(const QString& message) {
    message_ = message;
    show_chosen();
}

} // namespace finch::app

#include "moc_scrap_dialog.cpp"
