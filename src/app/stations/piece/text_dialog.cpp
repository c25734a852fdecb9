// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/piece/text_dialog.h"

#include "app/session/text.h"
#include "app/theme/label.h"
#include "formats/region_path.h"
#include "formats/typed_art.h"
#include "quantity/format.h"

#include <algorithm>
#include <QCheckBox>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QDoubleSpinBox>
#include <QFontComboBox>
#include <QGridLayout>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QPushButton>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr int texts_wide = 340, list_high = 92, typing_rest_ms = 80;
constexpr PointMm usual_blank{60, 20};

} // namespace

TextDialog::TextDialog(Workbench& workbench, PieceReader& reader, QWidget* parent)
    : QDialog(parent), workbench_(workbench), reader_(reader), typed_(workbench.draft().piece.typed) {
    setObjectName(u"text_dialog"_s);
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("Texts, numbers and tables"));
    resize(1104, 700);
    const PieceChoice& piece = workbench_.draft().piece;
    for (const TypedText& t : typed_.texts)
        called_.push_back(t.name);
    if (piece.file.empty())
        blank_ = piece.blank.value_or(usual_blank);
    if (piece.place.holding == Holding::tray)
        nests_ = nests_filled(piece.place.tray);
    if (const ReadPiece* read = reader_.piece(); read != nullptr && !blank_) {
        const auto paths = layer_paths(*read);
        for (std::size_t i = 0; i < paths.size(); ++i)
            if (read->drawing.art.layers[i].colour != typed_colour) {
                drawn_.push_back(paths[i]);
                drawn_names_.push_back(from_utf8(read->drawing.art.layers[i].name));
            }
    }
    rest_.setSingleShot(true);
    rest_.setInterval(typing_rest_ms);
    connect(&rest_, &QTimer::timeout, this, &TextDialog::show_all);
    auto* column = new QVBoxLayout(this);
    column->setSpacing(10);
    auto* row = new QHBoxLayout;
    row->setSpacing(18);
    row->addWidget(make_texts());
    auto* right = new QVBoxLayout;
    right->setSpacing(8);
    view_ = new DrawingView(this, u"text_drawing"_s);
    view_->setMinimumSize(280, 280);
    auto* middle = new QHBoxLayout;
    middle->addStretch(1);
    middle->addWidget(view_, 100);
    middle->addStretch(1);
    right->addLayout(middle, 1);
    series_ = new SeriesPanel(typed_.series, nests_, this);
    connect(series_, &SeriesPanel::changed, this, [this] {
        typed_.series = series_->series();
        show_all();
    });
    connect(series_, &SeriesPanel::refused, this, [this](const QString& why) {
        told_->setText(why);
        take_->setEnabled(false);
    });
    connect(series_, &SeriesPanel::told, this, [this](const QString& words) { told_->setText(words); });
    right->addWidget(series_);
    row->addLayout(right, 1);
    column->addLayout(row, 1);
    told_ = plain_label({}, TextStyle::body, this);
    told_->setObjectName(u"text_told"_s);
    told_->setWordWrap(true);
    told_->setMinimumHeight(36);
    auto* buttons = new QDialogButtonBox(this);
    take_ = buttons->addButton(tr("Put them there"), QDialogButtonBox::AcceptRole);
    take_->setObjectName(u"text_take"_s);
    buttons->addButton(QDialogButtonBox::Cancel);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(buttons, &QDialogButtonBox::accepted, this, [this] {
        std::vector<std::pair<std::string, std::string>> renamed;
        for (std::size_t i = 0; i < typed_.texts.size(); ++i)
            if (!called_[i].empty() && called_[i] != typed_.texts[i].name)
                renamed.emplace_back(called_[i], typed_.texts[i].name);
        reader_.set_texts(typed_, blank_, renamed);
        accept();
    });
    auto* foot = new QHBoxLayout;
    foot->addWidget(told_, 1);
    foot->addWidget(buttons);
    column->addLayout(foot);
    connect(view_, &DrawingView::layer_asked, this, [this](std::size_t layer) {
        const std::size_t before = drawn_.size() + (blank_ ? 1 : 0);
        if (layer >= before)
            list_->setCurrentRow(static_cast<int>(layer - before));
    });
    connect(view_, &DrawingView::dragged, this, [this](const QPointF& by) {
        if (TypedText* t = chosen()) {
            // To a hundredth of a millimetre: what was dragged is set again by hand.
            at_x_->setValue(t->at.x + by.x());
            at_y_->setValue(t->at.y + by.y());
        }
    });
    if (typed_.texts.empty())
        add_text();
    else
        show_all();
    list_->setCurrentRow(0);
    words_->setFocus();
    words_->selectAll();
}

QWidget* TextDialog::make_texts() {
    auto* left = new QWidget(this);
    left->setFixedWidth(texts_wide);
    auto* column = new QVBoxLayout(left);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    list_ = new QListWidget(left);
    list_->setObjectName(u"texts"_s);
    list_->setAccessibleName(tr("Texts"));
    list_->setFixedHeight(list_high);
    connect(list_, &QListWidget::currentRowChanged, this, &TextDialog::choose);
    column->addWidget(list_);
    auto* both = new QHBoxLayout;
    auto* add = new QPushButton(tr("Another text"), left);
    add->setObjectName(u"text_add"_s);
    connect(add, &QPushButton::clicked, this, [this] {
        add_text();
        words_->setFocus();
        words_->selectAll();
    });
    both->addWidget(add);
    remove_ = new QPushButton(tr("Remove"), left);
    remove_->setObjectName(u"text_remove"_s);
    connect(remove_, &QPushButton::clicked, this, &TextDialog::remove_text);
    both->addWidget(remove_);
    both->addStretch(1);
    column->addLayout(both);
    fields_ = new QWidget(left);
    auto* grid = new QGridLayout(fields_);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setVerticalSpacing(5);
    grid->setColumnStretch(0, 1);
    const auto line = [&](const QString& name, const QString& label) {
        auto* edit = new QLineEdit(fields_);
        edit->setObjectName(name);
        edit->setAccessibleName(label);
        edit->setMaxLength(static_cast<int>(most_words) / 4);
        connect(edit, &QLineEdit::textEdited, this, &TextDialog::edited);
        return edit;
    };
    words_ = line(u"text_words"_s, tr("Words"));
    words_->setToolTip(tr("{n} is the number of the piece, {column} its cell in the table, {{ a brace"));
    insert_ = new QPushButton(tr("Field"), fields_);
    insert_->setObjectName(u"text_insert"_s);
    insert_->setToolTip(tr("The number of the piece, or its cell in the table"));
    insert_->setMenu(new QMenu(insert_));
    connect(insert_->menu(), &QMenu::aboutToShow, this, &TextDialog::show_insertions);
    auto* worded = new QHBoxLayout;
    worded->addWidget(words_, 1);
    worded->addWidget(insert_);
    grid->addLayout(worded, 0, 0, 1, 2);
    name_ = line(u"text_name"_s, tr("Called, as a layer"));
    grid->addWidget(text_label(tr("Called, as a layer"), TextStyle::small, fields_), 1, 0);
    grid->addWidget(name_, 1, 1);
    font_ = new QFontComboBox(fields_);
    font_->setObjectName(u"text_font"_s);
    font_->setAccessibleName(tr("Font"));
    font_->setFontFilters(QFontComboBox::ScalableFonts);
    font_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    font_->setMinimumContentsLength(14);
    // Only what is chosen here: a font that is not installed stays what the text asks for.
    connect(font_, &QFontComboBox::currentFontChanged, this, [this](const QFont& font) {
        TypedText* t = chosen();
        if (filling_ || t == nullptr)
            return;
        t->font = font.family().toStdString();
        edited();
    });
    grid->addWidget(text_label(tr("Font"), TextStyle::small, fields_), 2, 0);
    grid->addWidget(font_, 2, 1);
    number(grid, {u"text_height"_s, tr("Height of a capital"), u"mm"_s, 0.1, 500, 3}, &TypedText::height_mm);
    at_x_ = add_number(grid, {u"text_x"_s, tr("From the left edge"), u"mm"_s, -1000, 1000, 0}, fields_);
    at_y_ = add_number(grid, {u"text_y"_s, tr("From the lower edge"), u"mm"_s, -1000, 1000, 0}, fields_);
    for (QDoubleSpinBox* box : {at_x_, at_y_})
        connect(box, &QDoubleSpinBox::valueChanged, this, &TextDialog::edited);
    end_ = new QComboBox(fields_);
    end_->setObjectName(u"text_end"_s);
    end_->setAccessibleName(tr("There is"));
    end_->addItems({tr("its beginning"), tr("its middle"), tr("its end")});
    connect(end_, &QComboBox::currentIndexChanged, this, &TextDialog::edited);
    const int row = grid->rowCount();
    grid->addWidget(text_label(tr("There is"), TextStyle::small, fields_), row, 0);
    grid->addWidget(end_, row, 1);
    number(grid, {u"text_turn"_s, tr("Turned to the left"), u"°"_s, -360, 360, 0}, &TypedText::turn_deg);
    number(grid, {u"text_radius"_s, tr("On an arc of (0 = straight)"), u"mm"_s, -1000, 1000, 0}, &TypedText::radius_mm);
    grid->itemAtPosition(grid->rowCount() - 1, 1)
        ->widget()
        ->setToolTip(tr("The place is the middle of the circle. Below 0 the words hang in it, along its lower side."));
    bold_ = new QCheckBox(tr("Bold"), fields_);
    bold_->setObjectName(u"text_bold"_s);
    mirrored_ = new QCheckBox(tr("Mirrored"), fields_);
    mirrored_->setObjectName(u"text_mirrored"_s);
    auto* checks = new QHBoxLayout;
    checks->setSpacing(24);
    for (QCheckBox* box : {bold_, mirrored_}) {
        connect(box, &QCheckBox::toggled, this, &TextDialog::edited);
        checks->addWidget(box);
    }
    checks->addStretch(1);
    grid->addLayout(checks, grid->rowCount(), 0, 1, 2);
    if (blank_) {
        auto* page = add_number(grid, {u"page_width"_s, tr("Empty page, width"), u"mm"_s, 1, 1000, blank_->x}, fields_);
        connect(page, &QDoubleSpinBox::valueChanged, this, [this](double v) {
            blank_->x = v;
            rest_.start();
        });
        page = add_number(grid, {u"page_height"_s, tr("and height"), u"mm"_s, 1, 1000, blank_->y}, fields_);
        connect(page, &QDoubleSpinBox::valueChanged, this, [this](double v) {
            blank_->y = v;
            rest_.start();
        });
    }
    column->addWidget(fields_);
    column->addStretch(1);
    return left;
}

QDoubleSpinBox* TextDialog::number(QGridLayout* grid, const NumberField& field, double TypedText::*value) {
    auto* box = add_number(grid, field, fields_);
    connect(box, &QDoubleSpinBox::valueChanged, this, &TextDialog::edited);
    numbers_.emplace_back(box, value);
    return box;
}

TypedText* TextDialog::chosen() {
    const int row = list_->currentRow();
    return row >= 0 && row < static_cast<int>(typed_.texts.size()) ? &typed_.texts[static_cast<std::size_t>(row)]
                                                                   : nullptr;
}

void TextDialog::add_text() {
    if (typed_.texts.size() == most_texts) {
        told_->setText(tr("There are %1 texts; more are better drawn in a file.").arg(most_texts));
        return;
    }
    TypedText text;
    const auto taken = [&](const std::string& name) {
        return std::ranges::any_of(typed_.texts, [&](const TypedText& t) { return t.name == name; });
    };
    for (int i = 1; taken(text.name); ++i)
        text.name = "text " + std::to_string(i + 1);
    text.words = typed_.texts.empty() ? "No {n}" : "Text";
    const ReadPiece* read = reader_.piece();
    const double w = blank_            ? blank_->x
                     : read != nullptr ? read->drawing.art.width_mm
                                       : 0,
                 h = blank_            ? blank_->y
                     : read != nullptr ? read->drawing.art.height_mm
                                       : 0;
    text.height_mm = std::clamp(std::round(10 * 0.12 * std::min(w, h)) / 10, 0.5, 5.0);
    text.at = {0.5 * w, 0.5 * h};
    typed_.texts.push_back(text);
    called_.emplace_back();
    show_all();
    list_->setCurrentRow(static_cast<int>(typed_.texts.size()) - 1);
}

void TextDialog::remove_text() {
    if (chosen() == nullptr)
        return;
    const int row = list_->currentRow();
    typed_.texts.erase(typed_.texts.begin() + row);
    called_.erase(called_.begin() + row);
    show_all();
    list_->setCurrentRow(std::min(row, static_cast<int>(typed_.texts.size()) - 1));
    show_chosen();
}

void TextDialog::choose(int) {
    show_chosen();
    show_drawing();
}

void TextDialog::show_chosen() {
    const TypedText* t = chosen();
    fields_->setEnabled(t != nullptr);
    remove_->setEnabled(t != nullptr);
    if (t == nullptr)
        return;
    filling_ = true;
    if (words_->text() != from_utf8(t->words))
        words_->setText(from_utf8(t->words));
    if (name_->text() != from_utf8(t->name))
        name_->setText(from_utf8(t->name));
    font_->setCurrentFont(QFont(from_utf8(t->font)));
    bold_->setChecked(t->bold);
    mirrored_->setChecked(t->mirrored);
    end_->setCurrentIndex(static_cast<int>(t->end));
    at_x_->setValue(t->at.x);
    at_y_->setValue(t->at.y);
    for (const auto& [box, value] : numbers_)
        box->setValue(t->*value);
    filling_ = false;
}

void TextDialog::edited() {
    TypedText* t = chosen();
    if (filling_ || t == nullptr)
        return;
    t->words = words_->text().toStdString();
    t->name = name_->text().trimmed().toStdString();
    t->bold = bold_->isChecked();
    t->mirrored = mirrored_->isChecked();
    t->end = static_cast<TextEnd>(end_->currentIndex());
    t->at = {at_x_->value(), at_y_->value()};
    for (const auto& [box, value] : numbers_)
        t->*value = box->value();
    take_->setEnabled(false); // until it was looked at
    rest_.start();
}

void TextDialog::show_insertions() {
    QMenu* menu = insert_->menu();
    menu->clear();
    const auto offer = [&](const QString& field, const QString& what) {
        connect(menu->addAction(what), &QAction::triggered, this, [this, field] {
            words_->insert(u"{%1}"_s.arg(field));
            edited();
        });
    };
    offer(u"n"_s, tr("{n}, the number of the piece"));
    if (typed_.series.table != nullptr)
        for (const std::string& column : typed_.series.table->columns) {
            QString shown = from_utf8(column);
            offer(shown, u"{%1}"_s.arg(shown.replace(u'&', u"&&"_s)));
        }
}

/// Texts by their words, pieces by what they say, and all of it on the drawing.
void TextDialog::show_all() {
    filling_ = true;
    const int row = std::max(0, list_->currentRow());
    while (list_->count() > static_cast<int>(typed_.texts.size()))
        delete list_->takeItem(list_->count() - 1);
    while (list_->count() < static_cast<int>(typed_.texts.size()))
        list_->addItem(QString());
    for (std::size_t i = 0; i < typed_.texts.size(); ++i) {
        const TypedText& t = typed_.texts[i];
        list_->item(static_cast<int>(i))
            ->setText(t.words.empty() ? from_utf8(t.name) : from_utf8(t.name) + u": "_s + from_utf8(t.words));
    }
    filling_ = false;
    if (list_->currentRow() < 0 && list_->count() > 0)
        list_->setCurrentRow(std::min(row, list_->count() - 1));
    show_chosen();
    show_drawing();
    series_->show_texts(typed_.texts);
}

void TextDialog::show_drawing() {
    DrawingPicture picture;
    const ReadPiece* read = reader_.piece();
    picture.field_mm = in_mm(workbench_.bench().lens().field);
    picture.width_mm = blank_ ? blank_->x : read != nullptr ? read->drawing.art.width_mm : 0;
    picture.height_mm = blank_ ? blank_->y : read != nullptr ? read->drawing.art.height_mm : 0;
    picture.close_up = true;
    for (std::size_t i = 0; i < drawn_.size(); ++i)
        picture.layers.push_back({drawn_[i].area, drawn_names_[i], static_cast<int>(i) % layer_textures, true, false});
    if (blank_) {
        QPainterPath edge;
        edge.addRect(QRectF(0, 0, blank_->x, blank_->y));
        picture.layers.push_back({edge, tr("page"), 0, true, false});
    }
    QStringList told;
    bool wrong = false;
    const auto refuse = [&](const Error& error) {
        wrong = true;
        told.prepend(from_utf8(sentence(error)));
    };
    const auto pieces = pieces_on(typed_, nests_);
    if (!pieces)
        refuse(pieces.error());
    const int first = pieces && !pieces->empty() ? pieces->front() : 1;
    for (std::size_t i = 0; i < typed_.texts.size(); ++i) {
        const TypedText& t = typed_.texts[i];
        QPainterPath path;
        const auto before = typed_.texts.begin() + static_cast<std::ptrdiff_t>(i);
        if (t.name.empty() ||
            std::any_of(typed_.texts.begin(), before, [&](const TypedText& other) { return other.name == t.name; }))
            refuse({"text.layer", "Every text needs a name of its own.", "Name it otherwise.", {}});
        if (const auto words = words_on(t, typed_.series, first); !words)
            refuse(words.error());
        else if (varies(t) && is_blank(*words))
            told << tr("“%1” says nothing on piece %2.").arg(from_utf8(t.name)).arg(first);
        else {
            std::vector<ArtFinding> findings;
            const auto shape = text_shape(t, *words, findings);
            const auto region = shape ? region_of(*shape) : Expected<Region>(tl::unexpected(shape.error()));
            if (!region)
                refuse(region.error());
            else {
                path = region_path(*region);
                const QRectF page(0, 0, picture.width_mm, picture.height_mm);
                if (!page.contains(path.boundingRect()))
                    told << tr("“%1” leaves the page.").arg(from_utf8(*words));
            }
            for (const ArtFinding& f : findings)
                told << from_utf8(f.text);
        }
        picture.layers.push_back({path, from_utf8(t.name), 1, false, &t == chosen()});
    }
    view_->show_picture(std::move(picture));
    take_->setEnabled(!wrong && (series_ == nullptr || series_->readable()));
    told_->setText(told.isEmpty() ? typed_.texts.empty() ? tr("No text: the drawing is as it is in its file.")
                                                         : tr("As it is on piece %1.").arg(first)
                                  : told.join(u' '));
}

} // namespace finch::app

#include "moc_text_dialog.cpp"
