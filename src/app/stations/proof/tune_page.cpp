// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/proof/tune_page.h"

#include "app/session/text.h"
#include "app/session/words.h"
#include "app/stations/proof/heat_dialog.h"
#include "app/stations/proof/proof_view.h"
#include "app/stations/proof/tune_view.h"
#include "app/theme/label.h"
#include "quantity/format.h"

#include <cmath>
#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QPushButton>
#include <QShowEvent>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr std::size_t shown_others = 3;

} // namespace

TunePage::TunePage(Workbench& workbench, AimFlow& aims, QWidget* parent)
    : QWidget(parent), workbench_(workbench), aims_(aims), worker_(new TuneWorker(workbench, this)) {
    setObjectName(u"tune_page"_s);
    auto* page = new QHBoxLayout(this);
    page->setContentsMargins(0, 2, 0, 0);
    page->setSpacing(24);
    // Knobs need no more width than this: in a large window the map has the rest.
    auto* knobs = new QWidget(this);
    knobs->setMaximumWidth(620);
    auto* left = new QVBoxLayout(knobs);
    left->setContentsMargins(0, 0, 0, 0);
    left->setSpacing(0);
    add_knobs(left);
    left->addStretch(1);
    add_others(left);
    page->addWidget(knobs, 12);
    auto* right = new QVBoxLayout;
    right->setSpacing(4);
    add_map(right);
    add_surface(right);
    page->addLayout(right, 11);
    idle_.setSingleShot(true);
    idle_.setInterval(120);
    connect(&idle_, &QTimer::timeout, this, &TunePage::refresh_ranges);
    // The corner of the fill takes a frame of its own: it follows when the consequences are painted.
    surface_soon_.setSingleShot(true);
    surface_soon_.setInterval(30);
    connect(&surface_soon_, &QTimer::timeout, this, &TunePage::refresh_surface);
    connect(worker_, &TuneWorker::map_changed, this, &TunePage::refresh_map);
    connect(worker_, &TuneWorker::patch_changed, this, &TunePage::refresh_surface);
    connect(&aims_, &AimFlow::alternatives_found, this, &TunePage::refresh_others);
}

void TunePage::add_knobs(QVBoxLayout* column) {
    for (const Knob knob : all_knobs) {
        auto* row = new KnobRow(knob, this);
        row->setMinimumHeight(41);
        row->setMaximumHeight(44);
        rows_.push_back(row);
        column->addWidget(row);
        connect(row, &KnobRow::moved, this, [this, knob](double v) { workbench_.set_knob(knob, v); });
        connect(row, &KnobRow::complained, this, [this](const QString& why) { workbench_.say(why, State::fail); });
        connect(row, &KnobRow::warned, this, [this](const QString& what) { workbench_.say(what, State::warn); });
    }
    auto* line = new QHBoxLayout;
    line->setContentsMargins(0, 4, 0, 0);
    cross_hatch_ = new QCheckBox(tr("Cross-hatch"), this);
    cross_hatch_->setObjectName(u"cross_hatch"_s);
    connect(cross_hatch_, &QCheckBox::clicked, this, [this](bool on) {
        workbench_.change(tr("cross-hatch"), {}, [on](Draft& d) { d.recipe.cross_hatch = on; });
    });
    auto* heat = new QPushButton(tr("More or less heat…"), this);
    heat->setObjectName(u"heat_advice"_s);
    heat->setProperty("small", true);
    connect(heat, &QPushButton::clicked, this, &TunePage::show_heat);
    line->addWidget(cross_hatch_);
    line->addStretch(1);
    line->addWidget(heat);
    column->addLayout(line);
}

void TunePage::add_others(QVBoxLayout* column) {
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(10);
    grid->setVerticalSpacing(3);
    others_title_ = text_label(tr("Same mark by other ways"), TextStyle::head, this);
    others_title_->setObjectName(u"others_title"_s);
    grid->addWidget(others_title_, 0, 0);
    grid->addWidget(text_label(tr("a piece"), TextStyle::small, this), 0, 1, Qt::AlignRight);
    grid->addWidget(text_label(tr("swing"), TextStyle::small, this), 0, 2, Qt::AlignRight);
    grid->setColumnStretch(0, 1);
    for (std::size_t i = 0; i < shown_others; ++i) {
        Other o;
        o.name = text_label({}, TextStyle::head, this);
        o.recipe = text_label({}, TextStyle::small, this);
        o.time = text_label({}, TextStyle::value, this);
        o.swing = text_label({}, TextStyle::value, this);
        o.take = new QPushButton(tr("Take"), this);
        o.take->setObjectName(u"take_other_%1"_s.arg(i));
        o.take->setProperty("small", true);
        auto* words = new QVBoxLayout;
        words->setSpacing(0);
        words->addWidget(o.name);
        words->addWidget(o.recipe);
        const int row = static_cast<int>(i) + 1;
        grid->addLayout(words, row, 0);
        grid->addWidget(o.time, row, 1, Qt::AlignRight);
        grid->addWidget(o.swing, row, 2, Qt::AlignRight);
        grid->addWidget(o.take, row, 3);
        connect(o.take, &QPushButton::clicked, this, [this, i] { aims_.take_alternative(i); });
        others_.push_back(o);
    }
    column->addLayout(grid);
}

void TunePage::add_map(QVBoxLayout* column) {
    auto* line = new QHBoxLayout;
    line->setSpacing(6);
    line->addWidget(text_label(tr("Regime map"), TextStyle::section, this));
    line->addStretch(1);
    down_ = new QComboBox(this);
    across_ = new QComboBox(this);
    for (const auto& [box, name, title] :
         {std::tuple{down_, u"map_down"_s, tr("Map, upwards")}, {across_, u"map_across"_s, tr("Map, across")}}) {
        box->setObjectName(name);
        box->setAccessibleName(title);
        for (const Knob k : axis_knobs())
            box->addItem(from_utf8(traits(k).label));
        connect(box, &QComboBox::activated, this, [this] {
            worker_->set_axes(axis_knobs().at(static_cast<std::size_t>(across_->currentIndex())),
                              axis_knobs().at(static_cast<std::size_t>(down_->currentIndex())));
            refresh_map();
        });
    }
    down_->setCurrentIndex(0);
    across_->setCurrentIndex(3);
    line->addWidget(down_);
    line->addWidget(text_label(tr("against"), TextStyle::body, this));
    line->addWidget(across_);
    column->addLayout(line);
    map_ = new RegimeMapWidget(u"regime_map"_s, this);
    column->addWidget(map_, 1);
    connect(map_, &RegimeMapWidget::moved, this, [this](double x, double y) {
        if (const auto map = worker_->map())
            workbench_.change(tr("move on the map"), u"map"_s,
                              [&](Draft& d) { d.recipe = map->recipe(d.recipe, x, y); });
    });
    map_note_ = text_label({}, TextStyle::small, this);
    map_note_->setObjectName(u"map_note"_s);
    column->addWidget(map_note_);
}

void TunePage::add_surface(QVBoxLayout* column) {
    auto* line = new QHBoxLayout;
    line->setSpacing(12);
    surface_ = new SurfaceWidget(u"surface"_s, this);
    surface_->setFixedSize(140, 140);
    line->addWidget(surface_);
    auto* words = new QVBoxLayout;
    words->setSpacing(4);
    surface_title_ = text_label({}, TextStyle::head, this);
    surface_words_ = text_label({}, TextStyle::body, this);
    surface_words_->setObjectName(u"surface_words"_s);
    surface_words_->setWordWrap(true);
    notes_ = text_label({}, TextStyle::body, this);
    notes_->setObjectName(u"findings"_s);
    notes_->setWordWrap(true);
    notes_->setTextFormat(Qt::RichText);
    words->addWidget(surface_title_);
    words->addWidget(surface_words_);
    words->addWidget(notes_);
    words->addStretch(1);
    line->addLayout(words, 1);
    column->addLayout(line);
}

void TunePage::refresh() {
    if (!isVisible())
        return;
    std::vector<KnobView> views = knob_views(workbench_);
    const double spot = in_mm(waist(workbench_.bench().lens(), workbench_.bench().source.wavelength).spot);
    for (std::size_t i = 0; i < views.size(); ++i) {
        if (i < keeps_.size())
            views[i].keeps = keeps_[i];
        rows_[i]->set_context(views[i].knob == Knob::power
                                  ? std::optional(in_watts(workbench_.bench().source.rated_power))
                                  : std::optional(views[i].high),
                              spot);
        rows_[i]->show_view(views[i]);
    }
    cross_hatch_->setChecked(workbench_.draft().recipe.cross_hatch);
    keeps_.assign(all_knobs.size(), std::nullopt);
    worker_->update_soon();
    aims_.find_alternatives_soon();
    refresh_map();
    refresh_others();
    refresh_notes();
    surface_soon_.start();
    idle_.start();
}

void TunePage::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refresh();
}

void TunePage::refresh_ranges() {
    keeps_ = keeping_ranges(workbench_);
    std::vector<KnobView> views = knob_views(workbench_);
    for (std::size_t i = 0; i < views.size(); ++i) {
        views[i].keeps = keeps_[i];
        rows_[i]->show_view(views[i]);
    }
}

void TunePage::refresh_map() {
    const RegimeMapView v = regime_map_view(workbench_, *worker_);
    map_->show_view(v);
    const QString lines = v.map != nullptr && solid_field(*v.map) == MapField::depth
                              ? tr("Dashed: equal dose. Solid: equal depth.")
                              : tr("Dashed: equal dose. Solid: equal pulses.");
    map_note_->setText(v.tested.empty() ? tr("%1 Click to move the recipe.").arg(lines)
                                        : tr("Dots: %1 tested cells, as measured. %2").arg(v.tested.size()).arg(lines));
}

void TunePage::refresh_surface() {
    const SurfaceView v = surface_view(workbench_, *worker_);
    surface_->show_view(v);
    surface_title_->setText(v.words);
    surface_words_->setText(strong(surface_sentences(workbench_, v)));
}

void TunePage::refresh_others() {
    const auto& found = aims_.alternatives();
    others_title_->setText(found.empty() ? tr("Looking for other ways …") : tr("Same mark by other ways"));
    for (std::size_t i = 0; i < others_.size(); ++i) {
        const Other& o = others_[i];
        const bool there = i < found.size();
        for (QWidget* w :
             {static_cast<QWidget*>(o.name), static_cast<QWidget*>(o.recipe), static_cast<QWidget*>(o.time),
              static_cast<QWidget*>(o.swing), static_cast<QWidget*>(o.take)})
            w->setVisible(there);
        if (!there)
            continue;
        const Candidate& c = found[i].candidate;
        QStringList kinds;
        for (const CandidateKind k : c.kinds)
            kinds << from_utf8(word(k));
        QString name = kinds.join(u", "_s);
        if (found[i].task.school != School::single)
            name = tr("%1: %2").arg(QString::fromStdString(label(found[i].task, workbench_.materials())), name);
        if (!name.isEmpty())
            name[0] = name[0].toUpper();
        o.name->setText(o.name->fontMetrics().elidedText(name, Qt::ElideRight, 240));
        o.name->setToolTip(name);
        o.recipe->setText(recipe_line(c.recipe));
        o.time->setText(screen_duration(c.effort.seconds()));
        o.swing->setText(swing_text(c.spread));
        o.swing->setToolTip(QString::fromStdString(c.sensitivity));
        const bool same = c.recipe.setting == workbench_.draft().recipe.setting;
        o.take->setText(same ? tr("This") : tr("Take"));
        o.take->setEnabled(!same);
    }
}

void TunePage::refresh_notes() {
    QStringList lines;
    for (const Finding& f : workbench_.findings())
        if (lines.size() < 2)
            lines << u"<b>%1</b> %2 %3"_s.arg(f.severity == Severity::blocking ? tr("Stop:") : tr("Mind:"),
                                              QString::fromStdString(f.message).toHtmlEscaped(),
                                              QString::fromStdString(f.remedy).toHtmlEscaped());
    const QString text = strong(lines.join(u"<br>"_s));
    if (text != notes_->text())
        notes_->setText(text);
}

void TunePage::show_heat() {
    auto* dialog = new HeatDialog(workbench_, this);
    set_theme(dialog, theme_of(this));
    dialog->open();
}

void TunePage::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const double x = map_->x() - 12.5;
    paint_hairline(painter, {x, 4}, {x, static_cast<double>(height()) - 8}, theme_of(this)(Role::hair));
}

} // namespace finch::app

#include "moc_tune_page.cpp"
