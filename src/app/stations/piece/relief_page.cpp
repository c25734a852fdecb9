// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/piece/relief_page.h"

#include "app/session/text.h"
#include "app/session/words.h"
#include "app/theme/label.h"

#include <cmath>
#include <QCheckBox>
#include <QGridLayout>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPushButton>
#include <QSignalBlocker>
#include <QVBoxLayout>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr double way_head = 22, way_row = 28;
constexpr int page_right = 560;

} // namespace

WayList::WayList(QWidget* parent) : Instrument(u"relief_ways"_s, tr("Ways to cut it"), parent) {
    setFocusPolicy(Qt::StrongFocus);
    setFixedHeight(static_cast<int>(way_head + 4 * way_row));
}

void WayList::show_rows(std::vector<WayView> rows) {
    rows_ = std::move(rows);
    if (at_ && *at_ >= rows_.size())
        at_.reset();
    QStringList spoken;
    for (const WayView& r : rows_)
        spoken
            << tr("%1: %2, %3 µm deep, steps of %4 µm, debris costs %5").arg(r.name, r.time, r.depth, r.step, r.debris);
    speak(spoken.join(u"; "_s));
    update();
}

void WayList::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme();
    const double w = width(), debris = w - 52, step = debris - 58, depth = step - 112, time = depth - 66;
    const auto head = [&](double from, double to, const QString& text) {
        paint_text(painter, QRectF(from, 0, to - from, 20), text, TextStyle::small, t(Role::ink2),
                   Qt::AlignRight | Qt::AlignVCenter);
    };
    paint_text(painter, QRectF(0, 0, time, 20), tr("Ways to cut it"), TextStyle::head, t(Role::ink));
    head(time - 20, depth - 6, tr("time"));
    head(depth, step - 6, tr("depth, µm"));
    head(step, debris - 6, tr("step, µm"));
    head(debris, w, tr("debris"));
    paint_hairline(painter, {0, way_head - 1}, {w, way_head - 1}, t(Role::rule));
    if (rows_.empty())
        paint_text(painter, QRectF(0, way_head, w, way_row), tr("Told once the relief has a recipe."), TextStyle::body,
                   t(Role::ink2));
    for (std::size_t i = 0; i < rows_.size(); ++i) {
        const WayView& r = rows_[i];
        const QRectF box(0, way_head + way_row * static_cast<double>(i), w, way_row);
        if (r.chosen) {
            painter.fillRect(box, t(Role::raised));
            painter.fillRect(QRectF(box.left(), box.top() + 1, 3, box.height() - 2), t(Role::accent));
        }
        if (hasFocus() && at_ == i) {
            painter.setPen(QPen(t(Role::accent), 1));
            painter.drawRect(box.adjusted(0.5, 0.5, -1.5, -1.5));
        }
        paint_state(painter, QRectF(8, box.center().y() - 7, 14, 14), r.state, t);
        const QFontMetricsF fit(text_font(TextStyle::small));
        paint_text(painter, QRectF(28, box.top(), time - 34, way_row),
                   fit.elidedText(r.name, Qt::ElideRight, time - 36), TextStyle::small, t(Role::ink));
        const auto cell = [&](double from, double to, const QString& text) {
            paint_text(painter, QRectF(from, box.top(), to - from, way_row), text, TextStyle::value_small, t(Role::ink),
                       Qt::AlignRight | Qt::AlignVCenter);
        };
        cell(time - 20, depth - 6, r.time);
        cell(depth, step - 6, r.depth);
        cell(step, debris - 6, r.step);
        cell(debris, w, r.debris);
        paint_hairline(painter, {0, box.bottom() - 0.5}, {w, box.bottom() - 0.5}, t(Role::hair));
    }
}

void WayList::mousePressEvent(QMouseEvent* event) {
    setFocus();
    const double row = std::floor((event->position().y() - way_head) / way_row);
    if (row < 0 || row >= static_cast<double>(rows_.size()))
        return;
    at_ = static_cast<std::size_t>(row);
    update();
    Q_EMIT taken(*at_);
}

void WayList::keyPressEvent(QKeyEvent* event) {
    const int by = event->key() == Qt::Key_Down ? 1 : event->key() == Qt::Key_Up ? -1 : 0;
    if (by != 0 && !rows_.empty()) {
        const auto n = static_cast<std::ptrdiff_t>(rows_.size());
        at_ = static_cast<std::size_t>(
            std::clamp(at_ ? static_cast<std::ptrdiff_t>(*at_) + by : 0, std::ptrdiff_t{0}, n - 1));
        return update();
    }
    if ((event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) && at_)
        return Q_EMIT taken(*at_);
    QWidget::keyPressEvent(event);
}

void WayList::focusOutEvent(QFocusEvent* event) {
    at_.reset();
    QWidget::focusOutEvent(event);
}

ReliefPage::ReliefPage(Workbench& workbench, ReliefReader& reader, QWidget* parent)
    : QWidget(parent), workbench_(workbench), reader_(reader) {
    setObjectName(u"relief_page"_s);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    auto* row = new QHBoxLayout;
    row->setSpacing(20);
    row->addWidget(make_left(), 1);
    row->addWidget(make_right(), 0);
    column->addLayout(row, 1);
    time_ = text_label({}, TextStyle::small, this);
    time_->setObjectName(u"relief_time"_s);
    time_->setWordWrap(true);
    column->addWidget(time_);
    connect(view_, &ReliefView::section_moved, this,
            [this] { section_->show_section(section_at(picture_now(), view_->section_row())); });
    connect(scrubber_, &LayerScrubber::asked, this, [this](int done) {
        layers_done_ = done;
        show_shape();
    });
    connect(greys_, &GreyHistogram::black_asked, this, [this](double grey) {
        reader_.change_rules(tr("Black point"), u"relief_black"_s, [&](ReliefRules& r) { r.levels.black = grey; });
    });
    connect(greys_, &GreyHistogram::white_asked, this, [this](double grey) {
        reader_.change_rules(tr("White point"), u"relief_white"_s, [&](ReliefRules& r) { r.levels.white = grey; });
    });
    connect(ways_, &WayList::taken, this, [this](std::size_t row_taken) {
        if (row_taken > 0 && row_taken <= all_relief_schools.size())
            reader_.take_school(all_relief_schools.at(row_taken - 1));
    });
}

const ReliefRules& ReliefPage::rules() const {
    const auto& relief = workbench_.draft().piece.relief;
    return relief ? relief->rules : none_;
}

QWidget* ReliefPage::make_left() {
    auto* left = new QWidget(this);
    auto* column = new QVBoxLayout(left);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    view_ = new ReliefView(left);
    column->addWidget(view_, 1);
    scrubber_ = new LayerScrubber(left);
    column->addWidget(scrubber_);
    return left;
}

QWidget* ReliefPage::make_right() {
    auto* right = new QWidget(this);
    right->setFixedWidth(page_right);
    auto* column = new QVBoxLayout(right);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(5);
    auto* of_recipe = new QHBoxLayout;
    recipe_ = text_label({}, TextStyle::value_small, right);
    recipe_->setObjectName(u"relief_recipe"_s);
    of_recipe->addWidget(recipe_, 1);
    auto* take = new QPushButton(tr("Take the recipe at hand"), right);
    take->setObjectName(u"relief_take_recipe"_s);
    take->setToolTip(tr("The recipe that is being tuned becomes that of a pass."));
    connect(take, &QPushButton::clicked, this, [this] { reader_.take_recipe(); });
    of_recipe->addWidget(take);
    column->addLayout(of_recipe);
    column->addWidget(make_fields(right));
    greys_ = new GreyHistogram(right);
    auto* of_greys = new QHBoxLayout;
    of_greys->addWidget(text_label(tr("Greys, and the depth they become"), TextStyle::head, right), 1);
    stretch_ = new QPushButton(tr("Stretch"), right);
    stretch_->setObjectName(u"relief_stretch"_s);
    stretch_->setToolTip(tr("Black and white go where the greys of the picture begin and end."));
    connect(stretch_, &QPushButton::clicked, this, [this] { reader_.stretch(); });
    of_greys->addWidget(stretch_);
    column->addLayout(of_greys);
    column->addWidget(greys_);
    ways_ = new WayList(right);
    column->addWidget(ways_);
    column->addWidget(text_label(tr("Section S to S"), TextStyle::head, right));
    section_ = new SectionChart(right);
    column->addWidget(section_);
    findings_ = new FindingList(right);
    findings_->setObjectName(u"relief_findings"_s);
    column->addWidget(scrolled(findings_, u"relief_findings_scroll"_s, right), 1);
    return right;
}

EditField* ReliefPage::field(const QString& name, const QString& label, QuantityKind kind, const ParseContext& context,
                             double (*get)(const ReliefRules&), void (*set)(ReliefRules&, double)) {
    auto* edit = new EditField(name, label, kind, context, this);
    edit->setFixedWidth(74);
    connect(edit, &EditField::entered, this, [this, label, set](double value) {
        reader_.change_rules(label, {}, [&](ReliefRules& r) { set(r, value); });
    });
    connect(edit, &EditField::complained, this, [this](const QString& text) { workbench_.say(text, State::warn); });
    fields_.push_back({edit, get});
    return edit;
}

QCheckBox* ReliefPage::check(const QString& name, const QString& label, const QString& tip,
                             bool (*get)(const ReliefRules&), void (*set)(ReliefRules&, bool)) {
    auto* box = new QCheckBox(label, this);
    box->setObjectName(name);
    box->setToolTip(tip);
    connect(box, &QCheckBox::toggled, this,
            [this, label, set](bool on) { reader_.change_rules(label, {}, [&](ReliefRules& r) { set(r, on); }); });
    checks_.emplace_back(box, get);
    return box;
}

QWidget* ReliefPage::make_fields(QWidget* parent) {
    auto* page = new QWidget(parent);
    auto* grid = new QGridLayout(page);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setHorizontalSpacing(8);
    grid->setVerticalSpacing(4);
    const auto within = [](const char* unit, double low, double high) {
        ParseContext c;
        c.default_unit = unit;
        c.low = low;
        c.high = high;
        return c;
    };
    const auto add = [&](int row, int column, const QString& label, EditField* edit) {
        grid->addWidget(text_label(label, TextStyle::small, page), row, 2 * column);
        grid->addWidget(edit, row, 2 * column + 1);
    };
    using K = QuantityKind;
    using R = ReliefRules;
    add(0, 0, tr("Width, mm"),
        field(
            u"relief_width"_s, tr("Width"), K::length, within("mm", 0.1, 1000), [](const R& r) { return r.width_mm; },
            [](R& r, double v) { r.width_mm = v; }));
    add(0, 1, tr("Depth, mm"),
        field(
            u"relief_depth"_s, tr("Depth"), K::length, within("mm", 0.0001, 100),
            [](const R& r) { return r.depth_um / 1000; }, [](R& r, double v) { r.depth_um = 1000 * v; }));
    add(0, 2, tr("Layers"),
        field(
            u"relief_layer_count"_s, tr("Layers"), K::count, within("", 1, most_relief_layers),
            [](const R& r) { return static_cast<double>(r.levels.layers); },
            [](R& r, double v) { r.levels.layers = static_cast<int>(std::lround(v)); }));
    add(1, 0, tr("Gamma"),
        field(
            u"relief_gamma"_s, tr("Gamma"), K::ratio, within("", 0.05, 20), [](const R& r) { return r.levels.gamma; },
            [](R& r, double v) { r.levels.gamma = v; }));
    add(1, 1, tr("Sharpen"),
        field(
            u"relief_sharpen"_s, tr("Sharpen"), K::ratio, within("", 0, 5), [](const R& r) { return r.levels.sharpen; },
            [](R& r, double v) { r.levels.sharpen = v; }));
    add(1, 2, tr("Clean after layers"),
        field(
            u"relief_clean"_s, tr("Clean after layers"), K::count, within("", 0, most_relief_layers),
            [](const R& r) { return static_cast<double>(r.clean_every); },
            [](R& r, double v) { r.clean_every = static_cast<int>(std::lround(v)); }));
    fit_ = new QPushButton(tr("Fit"), page);
    fit_->setObjectName(u"relief_fit"_s);
    fit_->setToolTip(tr("As many layers as come to the depth wanted with whole passes."));
    connect(fit_, &QPushButton::clicked, this, [this] {
        if (const ReliefWork* work = reader_.work())
            reader_.change_rules(tr("Layers that fit"), {},
                                 [&](ReliefRules& r) { r.levels.layers = work->cut.fitting_layers; });
    });
    grid->addWidget(fit_, 0, 6);
    auto* boxes = new QHBoxLayout;
    boxes->setSpacing(14);
    boxes->addWidget(check(
        u"relief_invert"_s, tr("Invert"), tr("White is cut deepest."), [](const R& r) { return r.levels.invert; },
        [](R& r, bool on) { r.levels.invert = on; }));
    boxes->addWidget(check(
        u"relief_crop"_s, tr("Crop to the rim"), tr("Nothing is cut outside the ellipse of what is drawn."),
        [](const R& r) { return r.crop_to_rim; }, [](R& r, bool on) { r.crop_to_rim = on; }));
    boxes->addWidget(check(
        u"relief_follow"_s, tr("Focus follows the floor"),
        tr("The head goes down a step whenever the expected floor lies a step below."),
        [](const R& r) { return r.follow; }, [](R& r, bool on) { r.follow = on; }));
    boxes->addStretch(1);
    grid->addLayout(boxes, 2, 0, 1, 7);
    grid->setColumnStretch(6, 1);
    return page;
}

ReliefPicture ReliefPage::picture_now() const {
    ReliefPicture p;
    p.map = reader_.map();
    p.depth_um = shown_depths(reader_, rules());
    const int layers = static_cast<int>(p.depth_um.size()) - 1;
    p.layers_done = layers_done_ < 0 ? layers : std::min(layers_done_, layers);
    p.empty = !reader_.reason().isEmpty() ? reader_.reason() : tr("The height map is being read.");
    return p;
}

void ReliefPage::show_shape() {
    ReliefPicture p = picture_now();
    scrubber_->show_progress(layer_progress(reader_, rules(), p.layers_done));
    view_->show_picture(p);
    section_->show_section(section_at(p, view_->section_row()));
}

void ReliefPage::refresh() {
    const ReliefRules& r = rules();
    if (of_ != reader_.picture()) {
        of_ = reader_.picture();
        layers_done_ = -1; // another relief is seen whole first
    }
    for (const Field& f : fields_)
        f.edit->show_value(f.get(r));
    for (const auto& [box, get] : checks_) {
        const QSignalBlocker still(box);
        box->setChecked(get(r));
    }
    const auto& relief = workbench_.draft().piece.relief;
    recipe_->setText(relief && relief->recipe ? recipe_line(*relief->recipe) : tr("No recipe yet"));
    const ReadRelief* picture = reader_.picture();
    greys_->show_greys(picture != nullptr ? &picture->use : nullptr, r.levels.black, r.levels.white, grey_curve(r));
    stretch_->setEnabled(picture != nullptr);
    const ReliefWork* work = reader_.work();
    fit_->setEnabled(work != nullptr && work->cut.fitting_layers != r.levels.layers && !work->cut.stalls);
    fit_->setText(fit_->isEnabled() ? tr("Fit: %1").arg(work->cut.fitting_layers) : tr("Fit"));
    ways_->show_rows(way_rows(reader_, r));
    findings_->show_rows(relief_rows(reader_));
    time_->setText(relief_time_words(reader_, workbench_.bench()));
    show_shape();
}

} // namespace finch::app

#include "moc_relief_page.cpp"
