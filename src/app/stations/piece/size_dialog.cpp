// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/piece/size_dialog.h"

#include "app/session/text.h"
#include "app/theme/label.h"

#include <algorithm>
#include <QButtonGroup>
#include <QDialogButtonBox>
#include <QDoubleSpinBox>
#include <QGridLayout>
#include <QPointer>
#include <QPushButton>
#include <QRadioButton>
#include <QScrollArea>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr int size_wide = 340, size_rest_ms = 150, findings_high = 108;

} // namespace

SizeDialog::SizeDialog(Workbench& workbench, PieceReader& reader, QWidget* parent)
    : QDialog(parent), workbench_(workbench), reader_(reader), size_(workbench.draft().piece.size) {
    setObjectName(u"size_dialog"_s);
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("How large the drawing becomes"));
    resize(1000, 600);
    rest_.setSingleShot(true);
    rest_.setInterval(size_rest_ms);
    connect(&rest_, &QTimer::timeout, this, &SizeDialog::try_it);
    auto* column = new QVBoxLayout(this);
    column->setSpacing(10);
    auto* row = new QHBoxLayout;
    row->setSpacing(20);
    row->addWidget(make_choices());
    auto* right = new QVBoxLayout;
    right->setSpacing(8);
    drawing_ = new DrawingView(this, u"size_drawing"_s);
    right->addWidget(drawing_, 1);
    words_ = plain_label({}, TextStyle::body, this);
    words_->setObjectName(u"size_words"_s);
    words_->setWordWrap(true);
    words_->setMinimumHeight(40);
    right->addWidget(words_);
    findings_ = new FindingList(this);
    findings_->setObjectName(u"size_findings"_s);
    auto* scroll = scrolled(findings_, u"size_findings_scroll"_s, this);
    scroll->setFixedHeight(findings_high);
    right->addWidget(scroll);
    row->addLayout(right, 1);
    column->addLayout(row, 1);
    auto* buttons = new QDialogButtonBox(this);
    take_ = buttons->addButton(tr("Make it so"), QDialogButtonBox::AcceptRole);
    take_->setObjectName(u"size_take"_s);
    buttons->addButton(QDialogButtonBox::Cancel);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(buttons, &QDialogButtonBox::accepted, this, [this] {
        reader_.set_size(size_);
        accept();
    });
    column->addWidget(buttons);
    choose(size_.by);
}

QWidget* SizeDialog::make_choices() {
    const ReadPiece& piece = *reader_.piece();
    const RectMm& drawn = piece.extent->drawn;
    const double factor = piece.sizing.factor;
    auto* left = new QWidget(this);
    left->setFixedWidth(size_wide);
    auto* column = new QVBoxLayout(left);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    by_ = new QButtonGroup(left);
    auto* grid = new QGridLayout;
    grid->setVerticalSpacing(6);
    grid->setColumnStretch(0, 1);
    const auto way = [&](SizeBy by, const QString& name, const QString& label) {
        auto* button = new QRadioButton(label, left);
        button->setObjectName(name);
        by_->addButton(button, static_cast<int>(by));
        return button;
    };
    // Whoever types a number means it.
    const auto number = [&](SizeBy by, const NumberField& field, const std::function<void(double)>& set,
                            QWidget* label = nullptr) {
        auto* box = add_number(grid, field, left, label);
        connect(box, &QDoubleSpinBox::valueChanged, this, [this, by, set](double v) {
            set(v);
            choose(by);
        });
        return box;
    };
    const auto value = [this](double v) { size_.value = v; };
    grid->addWidget(way(SizeBy::as_drawn, u"size_as_drawn"_s,
                        tr("As it is drawn: %1 × %2 mm").arg(screen_number(drawn.w), screen_number(drawn.h))),
                    0, 0, 1, 2);
    factor_ = number(SizeBy::factor,
                     {u"size_times"_s, tr("Times as large"), {}, least_size_factor, most_size_factor, factor, 4}, value,
                     way(SizeBy::factor, u"size_factor"_s, tr("Times as large")));
    width_ = number(SizeBy::width,
                    {u"size_wide"_s, tr("All that is drawn so wide"), u"mm"_s, 0.01, farthest_mm, factor * drawn.w, 3},
                    value, way(SizeBy::width, u"size_width"_s, tr("All that is drawn so wide")));
    height_ = number(SizeBy::height,
                     {u"size_high"_s, tr("All that is drawn so high"), u"mm"_s, 0.01, farthest_mm, factor * drawn.h, 3},
                     value, way(SizeBy::height, u"size_height"_s, tr("All that is drawn so high")));
    grid->addWidget(way(SizeBy::stock, u"size_stock"_s, tr("As large as a piece of stock takes")), grid->rowCount(), 0,
                    1, 2);
    if (size_.by != SizeBy::stock)
        size_.stock_w_mm = piece.sizing.page_w_mm, size_.stock_h_mm = piece.sizing.page_h_mm;
    const auto of_stock = [&](const QString& name, const QString& label, double low, double high, double& where) {
        auto* words = text_label(label, TextStyle::small, left);
        words->setIndent(26); // below the words of its choice
        number(
            SizeBy::stock, {name, label, u"mm"_s, low, high, where, 2}, [&where](double v) { where = v; }, words);
    };
    of_stock(u"size_stock_w"_s, tr("Its width"), 0.01, farthest_mm, size_.stock_w_mm);
    of_stock(u"size_stock_h"_s, tr("Its height"), 0.01, farthest_mm, size_.stock_h_mm);
    of_stock(u"size_margin"_s, tr("Margin all round"), 0, 0.5 * farthest_mm, size_.margin_mm);
    column->addLayout(grid);
    column->addStretch(1);
    auto* note = text_label(tr("Its proportions stay, and strokes become as much wider as the rest. Letters that were "
                               "typed here keep their height. An order against heat is worked out anew."),
                            TextStyle::small, left);
    note->setWordWrap(true);
    column->addWidget(note);
    connect(by_, &QButtonGroup::idClicked, this, [this](int id) { choose(static_cast<SizeBy>(id)); });
    return left;
}

void SizeDialog::choose(SizeBy by) {
    by_->button(static_cast<int>(by))->setChecked(true);
    size_.by = by;
    const QDoubleSpinBox* box = by == SizeBy::factor   ? factor_
                                : by == SizeBy::width  ? width_
                                : by == SizeBy::height ? height_
                                                       : nullptr;
    if (box != nullptr)
        size_.value = box->value();
    ask();
}

void SizeDialog::ask() {
    take_->setEnabled(false);
    rest_.start();
}

void SizeDialog::try_it() {
    reader_.try_size(size_,
                     [self = QPointer<SizeDialog>(this)](const Expected<std::shared_ptr<const ReadPiece>>& answer) {
                         if (self != nullptr)
                             self->show_answer(answer);
                     });
}

void SizeDialog::show_answer(const Expected<std::shared_ptr<const ReadPiece>>& answer) {
    take_->setEnabled(answer.has_value());
    if (!answer) {
        words_->setText(from_utf8(sentence(answer.error())));
        findings_->show_rows({});
        drawing_->show_picture({});
        return;
    }
    const ReadPiece& piece = **answer;
    const ArtSizing& s = piece.sizing;
    const double w = s.factor * piece.extent->drawn.w, h = s.factor * piece.extent->drawn.h;
    const double field = in_mm(workbench_.bench().lens().field);
    QString words = tr("%1 × %2 mm, %3 times as drawn, on a page of %4 × %5 mm.")
                        .arg(screen_number(w), screen_number(h), screen_number(s.factor, 4), screen_number(s.page_w_mm),
                             screen_number(s.page_h_mm));
    if (std::max(w, h) > field)
        words += tr(" The field is %1 mm: turn it, or lay it in tiles (Place…).").arg(screen_number(field));
    const auto narrow = std::ranges::count(piece.drawing.art.findings, std::string_view("narrow"), &ArtFinding::code);
    if (narrow > 0)
        words += tr(" Places narrower than the spot: %1.").arg(narrow);
    words_->setText(words);
    DrawingPicture picture;
    picture.field_mm = field;
    picture.width_mm = s.page_w_mm, picture.height_mm = s.page_h_mm;
    picture.close_up = true;
    const auto paths = layer_paths(piece);
    for (std::size_t i = 0; i < paths.size(); ++i)
        picture.layers.push_back({paths[i].area, from_utf8(piece.drawing.art.layers[i].name),
                                  static_cast<int>(i) % layer_textures, false, false});
    const auto& findings = piece.drawing.art.findings;
    const auto rows = finding_rows(findings, std::nullopt);
    for (std::size_t i = 0; i < rows.size(); ++i)
        if (findings[i].at)
            picture.marks.push_back({QPointF(findings[i].at->x, findings[i].at->y), rows[i].state, false});
    drawing_->show_picture(std::move(picture));
    findings_->show_rows(rows);
}

} // namespace finch::app

#include "moc_size_dialog.cpp"
