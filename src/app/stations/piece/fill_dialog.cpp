// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/piece/fill_dialog.h"

#include "app/session/text.h"
#include "app/theme/label.h"
#include "formats/region_path.h"
#include "quantity/format.h"

#include <cmath>
#include <QCheckBox>
#include <QDialogButtonBox>
#include <QDoubleSpinBox>
#include <QGridLayout>
#include <QPointer>
#include <QPushButton>
#include <QSpinBox>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr int fill_wide = 348, lens_side = 300, fill_rest_ms = 120;
constexpr double lines_across = 14; // that the lens shows

/// The lines that come near a place.
std::vector<QLineF> near(const Hatch& hatch, const QPointF& at, double reach) {
    std::vector<QLineF> out;
    for (const HatchRun& r : hatch.runs) {
        const QRectF box = QRectF(QPointF(r.from.x, r.from.y), QPointF(r.to.x, r.to.y)).normalized();
        if (box.adjusted(-reach, -reach, reach, reach).contains(at))
            out.emplace_back(r.from.x, r.from.y, r.to.x, r.to.y);
    }
    return out;
}

} // namespace

FillDialog::FillDialog(Workbench& workbench, PieceReader& reader, std::size_t layer, QWidget* parent)
    : QDialog(parent), workbench_(workbench), reader_(reader), layer_(layer), before_(reader.layers().at(layer)),
      fill_(before_.choice.fill), recipe_(before_.choice.recipe.value_or(Recipe{})),
      spot_mm_(in_mm(waist(workbench.bench().lens(), workbench.bench().source.wavelength).spot)) {
    setObjectName(u"fill_dialog"_s);
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("How %1 is filled").arg(from_utf8(before_.choice.name)));
    resize(1000, 600);
    rest_.setSingleShot(true);
    rest_.setInterval(fill_rest_ms);
    connect(&rest_, &QTimer::timeout, this, &FillDialog::try_it);
    auto* column = new QVBoxLayout(this);
    column->setSpacing(10);
    auto* row = new QHBoxLayout;
    row->setSpacing(20);
    row->addWidget(make_choices());
    auto* right = new QVBoxLayout;
    right->setSpacing(8);
    lens_ = new HatchLens(this, u"fill_lens"_s);
    lens_->setFixedHeight(lens_side);
    right->addWidget(lens_);
    words_ = plain_label({}, TextStyle::body, this);
    words_->setObjectName(u"fill_words"_s);
    words_->setWordWrap(true);
    words_->setMinimumHeight(40);
    right->addWidget(words_);
    findings_ = new FindingList(this);
    findings_->setObjectName(u"fill_findings"_s);
    right->addWidget(scrolled(findings_, u"fill_findings_scroll"_s, this), 1);
    row->addLayout(right, 1);
    column->addLayout(row, 1);
    auto* buttons = new QDialogButtonBox(this);
    take_ = buttons->addButton(tr("Fill it so"), QDialogButtonBox::AcceptRole);
    take_->setObjectName(u"fill_take"_s);
    buttons->addButton(QDialogButtonBox::Cancel);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(buttons, &QDialogButtonBox::accepted, this, [this] {
        reader_.set_fill(layer_, fill_, recipe_);
        accept();
    });
    column->addWidget(buttons);
    ask();
}

QCheckBox* FillDialog::check(const QString& name, const QString& label, const QString& tip, bool on,
                             const std::function<void(bool)>& set) {
    auto* box = new QCheckBox(label, this);
    box->setObjectName(name);
    box->setToolTip(tip);
    box->setChecked(on);
    connect(box, &QCheckBox::toggled, this, [this, set](bool v) {
        set(v);
        ask();
    });
    return box;
}

QWidget* FillDialog::make_choices() {
    auto* left = new QWidget(this);
    left->setFixedWidth(fill_wide);
    auto* column = new QVBoxLayout(left);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    auto* grid = new QGridLayout;
    grid->setVerticalSpacing(6);
    grid->setColumnStretch(0, 1);
    const auto knob = [&](const QString& name, const QString& label, Knob which, double low, double high,
                          int decimals) {
        const KnobTraits& t = traits(which);
        const QString unit = t.unit == "deg" ? u"°"_s : from_utf8(t.unit);
        auto* box = add_number(grid, {name, label, unit, low, high, knob_value(recipe_, which), decimals}, left);
        connect(box, &QDoubleSpinBox::valueChanged, this, [this, which](double v) {
            recipe_ = with_knob(recipe_, which, v);
            ask();
        });
    };
    column->addWidget(text_label(tr("The lines"), TextStyle::head, left));
    const KnobLimits pitch{0.001, 5};
    knob(u"fill_pitch"_s, tr("From line to line"), Knob::hatch_pitch, pitch.low, pitch.high, 4);
    knob(u"fill_angle"_s, tr("Their angle"), Knob::hatch_angle, 0, 360, 2);
    knob(u"fill_turn"_s, tr("Turned from pass to pass"), Knob::turn_per_pass, 0, 360, 2);
    knob(u"fill_shift"_s, tr("Shifted from pass to pass"), Knob::line_shift, 0, 100, 1);
    column->addLayout(grid);
    column->addWidget(check(u"fill_cross"_s, tr("Crossed: each pass again at a right angle"), {}, recipe_.cross_hatch,
                            [this](bool on) { recipe_.cross_hatch = on; }));
    column->addWidget(check(u"fill_one_way"_s, tr("One way: every line in the same direction"),
                            tr("Else every second line runs back."), fill_.one_way,
                            [this](bool on) { fill_.one_way = on; }));
    column->addWidget(check(u"fill_shapes"_s, tr("Shape by shape, the nearest next"),
                            tr("Else each line over all shapes. Shape by shape the jumps are shorter, and neighbouring "
                               "lines follow each other sooner and run warmer."),
                            fill_.by_shape, [this](bool on) { fill_.by_shape = on; }));
    column->addSpacing(6);
    column->addWidget(text_label(tr("Its edges"), TextStyle::head, left));
    auto* edges = new QGridLayout;
    edges->setVerticalSpacing(6);
    edges->setColumnStretch(0, 1);
    inset_ = add_number(
        edges, {u"fill_inset"_s, tr("Kept free along them"), u"mm"_s, 0, most_inset_mm, fill_.inset_mm, 4}, left);
    connect(inset_, &QDoubleSpinBox::valueChanged, this, [this](double v) {
        fill_.inset_mm = v;
        ask();
    });
    auto* half = new QPushButton(tr("Half the spot, %1 µm").arg(screen_number(500 * spot_mm_)), left);
    half->setObjectName(u"fill_half_spot"_s);
    half->setToolTip(tr("The mark ends where it is drawn"));
    connect(half, &QPushButton::clicked, this, [this] { inset_->setValue(0.5 * spot_mm_); });
    edges->addWidget(half, edges->rowCount(), 1);
    auto* contours = new QSpinBox(left);
    contours->setObjectName(u"fill_contours"_s);
    contours->setAccessibleName(tr("Times round the outlines"));
    contours->setRange(0, most_contours);
    contours->setValue(fill_.contours);
    contours->setKeyboardTracking(false);
    connect(contours, &QSpinBox::valueChanged, this, [this](int v) {
        fill_.contours = v;
        ask();
    });
    const auto beside = [&](const QString& label, QWidget* field) {
        const int r = edges->rowCount();
        edges->addWidget(text_label(label, TextStyle::small, left), r, 0);
        edges->addWidget(field, r, 1);
    };
    beside(tr("Times round the outlines"), contours);
    shown_ = new QSpinBox(left);
    shown_->setObjectName(u"fill_shown"_s);
    shown_->setAccessibleName(tr("Passes under the lens"));
    shown_->setRange(1, std::max(1, std::min(most_passes_drawn, burned_setting(recipe_).passes)));
    connect(shown_, &QSpinBox::valueChanged, this, &FillDialog::ask);
    beside(tr("Passes under the lens"), shown_);
    column->addLayout(edges);
    column->addStretch(1);
    auto* note =
        text_label(tr("What is set here is this layer's: the recipe it was taken from stays as it is. Angle and "
                      "turn hardly change a film; pitch and crossing change the dose."),
                   TextStyle::small, left);
    note->setWordWrap(true);
    column->addWidget(note);
    return left;
}

void FillDialog::ask() {
    if (take_ != nullptr)
        take_->setEnabled(false);
    rest_.start();
}

void FillDialog::try_it() {
    const int most = std::max(1, std::min(most_passes_drawn, burned_setting(recipe_).passes));
    if (shown_->maximum() != most)
        shown_->setMaximum(most);
    reader_.try_fill(layer_, fill_, recipe_, shown_->value(),
                     [self = QPointer<FillDialog>(this)](const Expected<FillTrial>& answer) {
                         if (self != nullptr)
                             self->show_answer(answer);
                     });
}

void FillDialog::show_answer(const Expected<FillTrial>& answer) {
    take_->setEnabled(answer.has_value());
    if (!answer) {
        lens_->show_picture(std::nullopt);
        words_->setText(from_utf8(sentence(answer.error())));
        findings_->show_rows({});
        return;
    }
    if (first_answer_)
        effect_before_ = from_utf8(answer->effect);
    first_answer_ = false;
    LensPicture p;
    p.area = region_path(answer->layer.region);
    p.spot_mm = spot_mm_;
    const Hatch& last = answer->passes.back();
    if (!last.runs.empty()) {
        // Where the middle line begins: an edge shows as well. It stays there for every pass that is looked at.
        const Hatch& first = answer->passes.front();
        const HatchRun& r = first.runs.at(first.line_start.at(first.line_start.size() / 2));
        p.at = QPointF(r.from.x, r.from.y);
    }
    p.across_mm = std::clamp(lines_across * in_mm(recipe_.setting.hatch_pitch), 2 * spot_mm_, 8 * spot_mm_);
    p.runs = near(last, p.at, p.across_mm);
    for (std::size_t i = 0; i + 1 < answer->passes.size(); ++i)
        for (const QLineF& line : near(answer->passes[i], p.at, p.across_mm))
            p.before.push_back(line);
    p.words =
        (answer->passes.size() > 1
             ? tr("Passes 1 to %1 of %2, the last in black. ").arg(answer->passes.size()).arg(answer->passes_in_all)
             : tr("The first of %1 passes. ").arg(answer->passes_in_all)) +
        tr("The ring is the spot of %1 µm; the lens is %2 mm wide.")
            .arg(screen_number(1e3 * spot_mm_), screen_number(p.across_mm));
    lens_->show_picture(std::move(p));
    const QString time = tr("It takes %1 (%2 to %3)")
                             .arg(screen_duration(answer->time.likely), screen_duration(answer->time.low),
                                  screen_duration(answer->time.high));
    const QString was_time = before_.work != nullptr ? screen_duration(before_.time.likely) : QString();
    const QString was = was_time.isEmpty() || was_time == screen_duration(answer->time.likely)
                            ? QString()
                            : tr(", before %1").arg(was_time);
    const QString effect = from_utf8(answer->effect);
    words_->setText((time + was + tr(". Predicted: %1").arg(effect) +
                     (effect == effect_before_ ? u"."_s : tr("; before: %1.").arg(effect_before_)) +
                     (fill_.contours > 0 ? tr(" Contours are not in that.") : QString())));
    std::vector<FindingRowView> rows;
    for (const Finding& f : answer->findings)
        rows.push_back({f.severity == Severity::note ? State::ok : State::warn,
                        from_utf8(f.message) + (f.remedy.empty() ? QString() : u' ' + from_utf8(f.remedy)), false,
                        false});
    findings_->show_rows(std::move(rows));
}

} // namespace finch::app

#include "moc_fill_dialog.cpp"
