// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/piece/place_dialog.h"

#include "app/stations/piece/place_words.h"
#include "app/theme/field_state.h"
#include "app/theme/label.h"
#include "formats/file_out.h"
#include "formats/job_export.h"
#include "piece/offset_text.h"
#include "quantity/format.h"

#include <cmath>
#include <QButtonGroup>
#include <QCheckBox>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QDoubleSpinBox>
#include <QFileDialog>
#include <QGridLayout>
#include <QHeaderView>
#include <QLineEdit>
#include <QPointer>
#include <QPushButton>
#include <QRadioButton>
#include <QScrollArea>
#include <QSpinBox>
#include <QStackedWidget>
#include <QTableWidget>
#include <QVBoxLayout>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr int choices_wide = 352, rest_ms = 120;
constexpr double jig_clearance_mm = 0.1;

} // namespace

PlaceDialog::PlaceDialog(Workbench& workbench, PieceReader& drawing, ReliefReader& relief, QWidget* parent)
    : QDialog(parent), workbench_(workbench), drawing_(drawing), relief_(relief),
      rules_(workbench.draft().piece.place) {
    setObjectName(u"place_dialog"_s);
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("Where it lies"));
    resize(1072, 640);
    if (const auto map = relief_.map(); relief_.chosen() && map != nullptr) {
        width_mm_ = map->pixel_mm * map->width;
        height_mm_ = map->pixel_mm * map->height();
    } else if (const ReadPiece* read = drawing_.piece()) {
        width_mm_ = read->drawing.art.width_mm;
        height_mm_ = read->drawing.art.height_mm;
    }
    // A number that is wound is laid out where it comes to rest.
    rest_.setSingleShot(true);
    rest_.setInterval(rest_ms);
    connect(&rest_, &QTimer::timeout, this, &PlaceDialog::lay_out);
    auto* column = new QVBoxLayout(this);
    column->setSpacing(10);
    auto* row = new QHBoxLayout;
    row->setSpacing(18);
    row->addWidget(make_choices());
    auto* right = new QVBoxLayout;
    right->setSpacing(8);
    view_ = new PlaceView(this);
    right->addWidget(view_, 1);
    words_ = plain_label({}, TextStyle::body, this);
    words_->setObjectName(u"place_words"_s);
    words_->setWordWrap(true);
    words_->setMinimumHeight(52);
    right->addWidget(words_);
    strips_ = new QTableWidget(0, 6, this);
    strips_->setObjectName(u"place_strips"_s);
    strips_->setHorizontalHeaderLabels(
        {tr("strips"), tr("angle"), tr("steps"), tr("lines"), tr("± focus, mm"), tr("marks cut")});
    strips_->verticalHeader()->hide();
    strips_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    strips_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    strips_->setSelectionBehavior(QAbstractItemView::SelectRows);
    strips_->setSelectionMode(QAbstractItemView::SingleSelection);
    strips_->setFixedHeight(140);
    connect(strips_, &QTableWidget::cellActivated, this, [this](int r, int) {
        if (piece_ && piece_->placed.round && r < static_cast<int>(piece_->placed.round->choices.size())) {
            rules_.round.strips = piece_->placed.round->choices[static_cast<std::size_t>(r)].strips;
            ask();
        }
    });
    right->addWidget(strips_);
    findings_ = new FindingList(this);
    findings_->setObjectName(u"place_findings"_s);
    right->addWidget(findings_);
    row->addLayout(right, 1);
    column->addLayout(row, 1);
    auto* buttons = new QDialogButtonBox(this);
    take_ = buttons->addButton(tr("Lay it so"), QDialogButtonBox::AcceptRole);
    take_->setObjectName(u"place_take"_s);
    jig_ = buttons->addButton(tr("Jig…"), QDialogButtonBox::ActionRole);
    jig_->setObjectName(u"place_jig"_s);
    jig_->setToolTip(tr("Numbered pockets and pin holes that hold the parts, as SVG or DXF"));
    connect(jig_, &QPushButton::clicked, this, &PlaceDialog::save_jig);
    buttons->addButton(QDialogButtonBox::Cancel);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(buttons, &QDialogButtonBox::accepted, this, [this] {
        drawing_.take_place(rules_);
        accept();
    });
    column->addWidget(buttons);
    filling_ = false;
    holdings_->button(static_cast<int>(rules_.holding))->setFocus();
    hold(rules_.holding);
}

QDoubleSpinBox* PlaceDialog::number(QGridLayout* grid, const QString& name, const QString& label, const QString& unit,
                                    double low, double high, double value,
                                    const std::function<void(PlaceRules&, double)>& set) {
    auto* box = add_number(grid, {name, label, unit, low, high, value}, this);
    connect(box, &QDoubleSpinBox::valueChanged, this, [this, set](double v) {
        set(rules_, v);
        ask();
    });
    return box;
}

QSpinBox* PlaceDialog::whole(QGridLayout* grid, const QString& name, const QString& label, int low, int high, int value,
                             const std::function<void(PlaceRules&, int)>& set) {
    auto* box = new QSpinBox(this);
    box->setObjectName(name);
    box->setAccessibleName(label);
    box->setRange(low, high);
    box->setValue(value);
    box->setKeyboardTracking(false);
    const int row = grid->rowCount();
    grid->addWidget(text_label(label, TextStyle::small, this), row, 0);
    grid->addWidget(box, row, 1);
    connect(box, &QSpinBox::valueChanged, this, [this, set](int v) {
        set(rules_, v);
        ask();
    });
    return box;
}

void PlaceDialog::take_offsets() {
    if (!offsets_->isModified())
        return;
    const auto typed = offsets_from_text(offsets_->text().toStdString());
    mark_wrong(offsets_, !typed);
    if (!typed) {
        words_->setText(from_utf8(sentence(typed.error())));
        take_->setEnabled(false);
    } else if (*typed != rules_.tray.offsets || !take_->isEnabled()) {
        rules_.tray.offsets = *typed;
        ask();
    }
}

QCheckBox* PlaceDialog::check(const QString& name, const QString& label, bool on,
                              const std::function<void(PlaceRules&, bool)>& set) {
    auto* box = new QCheckBox(label, this);
    box->setObjectName(name);
    box->setChecked(on);
    connect(box, &QCheckBox::toggled, this, [this, set](bool v) {
        set(rules_, v);
        ask();
    });
    return box;
}

QWidget* PlaceDialog::page(const std::function<void(QGridLayout*)>& fill) {
    auto* p = new QWidget(this);
    auto* grid = new QGridLayout(p);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setVerticalSpacing(6);
    grid->setColumnStretch(0, 1);
    fill(grid);
    grid->setRowStretch(grid->rowCount(), 1);
    return p;
}

QWidget* PlaceDialog::make_choices() {
    auto* left = new QWidget(this);
    left->setFixedWidth(choices_wide);
    auto* column = new QVBoxLayout(left);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    holdings_ = new QButtonGroup(this);
    const auto radio = [&](Holding h, const QString& name, const QString& text) {
        auto* b = new QRadioButton(text, left);
        b->setObjectName(name);
        holdings_->addButton(b, static_cast<int>(h));
        column->addWidget(b);
    };
    radio(Holding::as_drawn, u"hold_as_drawn"_s, tr("One part, in the field"));
    radio(Holding::tray, u"hold_tray"_s, tr("Many parts, in the nests of a tray"));
    radio(Holding::tiles, u"hold_tiles"_s, tr("In tiles, larger than the field"));
    radio(Holding::round, u"hold_round"_s, tr("Round a turned part"));
    connect(holdings_, &QButtonGroup::idClicked, this, [this](int id) { hold(static_cast<Holding>(id)); });
    column->addSpacing(4);
    auto* grid = new QGridLayout;
    grid->setColumnStretch(0, 1);
    turn_ = number(grid, u"place_turn"_s, tr("Turned to the left"), u"°"_s, -360, 360, rules_.turn_deg,
                   [](PlaceRules& r, double v) { r.turn_deg = v; });
    column->addLayout(grid);
    auto* both = new QHBoxLayout;
    both->addWidget(check(u"place_mirrored"_s, tr("Mirrored, for a stamp"), rules_.mirrored,
                          [](PlaceRules& r, bool on) { r.mirrored = on; }));
    diagonal_ = new QPushButton(tr("Turn to fit"), left);
    diagonal_->setObjectName(u"place_diagonal"_s);
    diagonal_->setToolTip(tr("To the diagonal of the field, where the page fits only there"));
    connect(diagonal_, &QPushButton::clicked, this, [this] {
        const auto turn = turn_to_fit(width_mm_, height_mm_, in_mm(workbench_.bench().lens().field));
        if (turn)
            turn_->setValue(*turn);
        else
            words_->setText(tr("It fits at no turn: take tiles, or a lens with a larger field."));
    });
    both->addWidget(diagonal_);
    column->addLayout(both);
    auto* way_up = check(u"place_way_up"_s, tr("The arrow was held against the part"), rules_.way_up_seen,
                         [](PlaceRules& r, bool on) { r.way_up_seen = on; });
    column->addWidget(way_up);
    // What was seen was the drawing as it lay then.
    connect(turn_, &QDoubleSpinBox::valueChanged, way_up, [way_up] { way_up->setChecked(false); });
    connect(findChild<QCheckBox*>(u"place_mirrored"_s), &QCheckBox::toggled, way_up,
            [way_up] { way_up->setChecked(false); });
    column->addSpacing(4);
    pages_ = new QStackedWidget(left);
    const PlaceRules& r = rules_;
    pages_->addWidget(page([&](QGridLayout* g) {
        number(g, u"place_shift_x"_s, tr("Off the middle of the field, x"), u"mm"_s, -500, 500, r.shift.x,
               [](PlaceRules& p, double v) { p.shift.x = v; });
        number(g, u"place_shift_y"_s, tr("and y"), u"mm"_s, -500, 500, r.shift.y,
               [](PlaceRules& p, double v) { p.shift.y = v; });
    }));
    pages_->addWidget(page([&](QGridLayout* g) {
        whole(g, u"tray_columns"_s, tr("Nests side by side"), 1, 100, r.tray.columns,
              [](PlaceRules& p, int v) { p.tray.columns = v; });
        whole(g, u"tray_rows"_s, tr("Rows"), 1, 100, r.tray.rows, [](PlaceRules& p, int v) { p.tray.rows = v; });
        number(g, u"tray_pitch_x"_s, tr("From nest to nest"), u"mm"_s, 0.1, 1000, r.tray.pitch_x_mm,
               [](PlaceRules& p, double v) { p.tray.pitch_x_mm = v; });
        number(g, u"tray_pitch_y"_s, tr("From row to row"), u"mm"_s, 0.1, 1000, r.tray.pitch_y_mm,
               [](PlaceRules& p, double v) { p.tray.pitch_y_mm = v; });
        whole(g, u"tray_filled"_s, tr("Nests that hold a part (0 = all)"), 0, 1000, r.tray.filled,
              [](PlaceRules& p, int v) { p.tray.filled = v; });
        g->addWidget(check(u"tray_in_turn"_s, tr("Parts in turn: each cools while the others are marked"),
                           r.tray.in_turn, [](PlaceRules& p, bool on) { p.tray.in_turn = on; }),
                     g->rowCount(), 0, 1, 2);
        auto* outline = new QComboBox(this);
        outline->setObjectName(u"tray_outline"_s);
        outline->setAccessibleName(tr("Outline of the part"));
        outline->addItem(tr("the largest drawn"));
        for (const PieceLayer& l : drawing_.layers())
            outline->addItem(from_utf8(l.choice.name), from_utf8(l.choice.name));
        outline->setCurrentIndex(std::max(0, outline->findData(from_utf8(r.tray.outline))));
        outline->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        g->addWidget(text_label(tr("Outline of the part"), TextStyle::small, this), g->rowCount(), 0);
        g->addWidget(outline, g->rowCount() - 1, 1);
        connect(outline, &QComboBox::currentIndexChanged, this, [this, outline] {
            rules_.tray.outline = outline->currentData().toString().toStdString();
            ask();
        });
        whole(g, u"tray_wanted"_s, tr("Good parts wanted (0 = one tray)"), 0, 100'000, r.wanted,
              [](PlaceRules& p, int v) { p.wanted = v; });
        number(g, u"tray_spoiled"_s, tr("Spoiled as a rule"), u"%"_s, 0, 90, 100 * r.spoiled,
               [](PlaceRules& p, double v) { p.spoiled = v / 100; });
        offsets_ = new QLineEdit(q(offsets_text(r.tray.offsets)), this);
        offsets_->setObjectName(u"tray_offsets"_s);
        offsets_->setAccessibleName(tr("Nests that lie off"));
        offsets_->setPlaceholderText(u"7=0.1,-0.05"_s);
        offsets_->setToolTip(tr("How far the part lies off in a nest that was measured: its number, x and y in mm"));
        const int row = g->rowCount();
        g->addWidget(text_label(tr("Nests that lie off, mm"), TextStyle::small, this), row, 0);
        g->addWidget(offsets_, row, 1);
        connect(offsets_, &QLineEdit::editingFinished, this, &PlaceDialog::take_offsets);
        number(g, u"tray_load"_s, tr("To load a part"), u"s"_s, 0, 3600,
               r.load_s.value_or(workbench_.materials().model.effort.handling_s),
               [](PlaceRules& p, double v) { p.load_s = v; });
    }));
    pages_->addWidget(page([&](QGridLayout* g) {
        number(g, u"tile_margin"_s, tr("Kept free in the field"), u"mm"_s, 0, 500, r.tiles.margin_mm,
               [](PlaceRules& p, double v) { p.tiles.margin_mm = v; });
        number(g, u"tile_cross"_s, tr("Crosses to line up by (0 = none)"), u"mm"_s, 0, 50, r.tiles.cross_mm,
               [](PlaceRules& p, double v) { p.tiles.cross_mm = v; });
        number(g, u"tile_reload"_s, tr("To move and line up"), u"s"_s, 0, 36'000, r.tiles.reload_s,
               [](PlaceRules& p, double v) { p.tiles.reload_s = v; });
    }));
    pages_->addWidget(page([&](QGridLayout* g) {
        number(g, u"round_small"_s, tr("Diameter at the small end"), u"mm"_s, 0.1, 2000, r.round.small_mm,
               [](PlaceRules& p, double v) { p.round.small_mm = v; });
        number(g, u"round_large"_s, tr("and at the large end"), u"mm"_s, 0.1, 2000, r.round.large_mm,
               [](PlaceRules& p, double v) { p.round.large_mm = v; });
        number(g, u"round_length"_s, tr("Between those"), u"mm"_s, 0.1, 5000, r.round.length_mm,
               [](PlaceRules& p, double v) { p.round.length_mm = v; });
        number(g, u"round_middle"_s, tr("Middle of the mark, from the small end"), u"mm"_s, 0, 5000, r.round.middle_mm,
               [](PlaceRules& p, double v) { p.round.middle_mm = v; });
        whole(g, u"round_strips"_s, tr("Strips (0 = found)"), 0, 20'000, r.round.strips,
              [](PlaceRules& p, int v) { p.round.strips = v; });
        g->addWidget(check(u"round_full"_s, tr("Closes once round: stretched until it does"), r.round.full_turn,
                           [](PlaceRules& p, bool on) { p.round.full_turn = on; }),
                     g->rowCount(), 0, 1, 2);
        auto* note = text_label(tr("The drawing's lower edge lies towards the small end; turn it by 180° for the other "
                                   "way up. Caliper the diameter where the mark will be."),
                                TextStyle::small, this);
        note->setWordWrap(true);
        g->addWidget(note, g->rowCount(), 0, 1, 2);
    }));
    column->addWidget(pages_, 1);
    return left;
}

void PlaceDialog::hold(Holding holding) {
    rules_.holding = holding;
    if (auto* b = holdings_->button(static_cast<int>(holding)))
        b->setChecked(true);
    pages_->setCurrentIndex(static_cast<int>(holding));
    strips_->setVisible(holding == Holding::round);
    jig_->setVisible(holding == Holding::tray);
    ask();
}

void PlaceDialog::ask() {
    if (filling_)
        return;
    take_->setEnabled(false);
    jig_->setEnabled(false);
    rest_.start();
}

void PlaceDialog::lay_out() {
    const auto answer = [self = QPointer<PlaceDialog>(this)](const Expected<PlacedPiece>& result) {
        if (self != nullptr)
            self->show_answer(result);
    };
    relief_.chosen() ? relief_.try_place(rules_, answer) : drawing_.try_place(rules_, answer);
}

void PlaceDialog::show_answer(const Expected<PlacedPiece>& answer) {
    piece_ = answer ? std::optional(*answer) : std::nullopt;
    take_->setEnabled(piece_.has_value());
    jig_->setEnabled(piece_.has_value());
    strips_->setRowCount(0);
    if (!piece_) {
        PlacePicture none;
        none.empty = from_utf8(sentence(answer.error()));
        view_->show_picture(none);
        words_->setText({});
        findings_->show_rows({});
        return;
    }
    view_->show_picture(place_picture(*piece_, rules_));
    words_->setText(place_words(*piece_, rules_));
    std::vector<FindingRowView> rows;
    for (const Finding& f : piece_->placed.findings)
        rows.push_back({f.severity == Severity::note ? State::ok : State::warn,
                        from_utf8(f.message) + (f.remedy.empty() ? QString() : u' ' + from_utf8(f.remedy)),
                        f.severity != Severity::note, false});
    if (!rules_.way_up_seen)
        rows.push_back({State::warn,
                        rules_.mirrored ? tr("Mirrored: it reads right only in its print. Hold the part beside the "
                                             "arrow: is this the way up that it lies?")
                                        : tr("Hold the part beside the arrow: is this the way up that it lies?"),
                        true, false});
    findings_->show_rows(std::move(rows));
    if (!piece_->placed.round)
        return;
    const RoundPlan& plan = *piece_->placed.round;
    strips_->setRowCount(static_cast<int>(plan.choices.size()));
    for (std::size_t i = 0; i < plan.choices.size(); ++i) {
        const StripChoice& c = plan.choices[i];
        const QStringList cells{QString::number(c.strips),
                                screen_number(c.strip_deg, 4) + u"°"_s,
                                screen_number(c.steps_each, 6),
                                QString::number(c.lines_each),
                                screen_number(c.room_mm, 2) + (c.in_focus ? QString() : tr(" too much")),
                                QString::number(c.seams_cut)};
        for (int k = 0; k < cells.size(); ++k) {
            auto* item = new QTableWidgetItem(cells[k]);
            item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
            strips_->setItem(static_cast<int>(i), k, item);
        }
    }
    strips_->selectRow(static_cast<int>(plan.taken));
}

void PlaceDialog::save_jig() {
    if (!piece_)
        return;
    Job part = piece_->placed.job; // as it lies in each nest
    part.places.clear();
    std::erase_if(part.layers, [](const JobLayer& l) { return !l.only_at.empty(); }); // no part of the pocket
    const auto jig = jig_of(part, rules_.tray, jig_clearance_mm);
    if (!jig)
        return workbench_.fail(jig.error());
    auto* dialog = new QFileDialog(this, tr("Save the jig"), {}, tr("SVG (*.svg);;DXF (*.dxf)"));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setAcceptMode(QFileDialog::AcceptSave);
    dialog->setDefaultSuffix(u"svg"_s);
    connect(dialog, &QFileDialog::fileSelected, this, [this, jig = *jig](const QString& path) {
        const auto text = job_text(jig, job_form(path.toStdString()));
        const auto written = text ? write_file(path, *text) : Expected<void>(tl::unexpected(text.error()));
        if (written)
            workbench_.say(tr("Jig written to %1.").arg(path));
        else
            workbench_.fail(written.error());
    });
    dialog->open();
}

} // namespace finch::app

#include "moc_place_dialog.cpp"
