// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/proof/plan_page.h"

#include "app/session/text.h"
#include "app/theme/label.h"
#include "physics/colour_text.h"

#include "physics/colour_difference.h"
#include "proof/layout.h"
#include "quantity/format.h"

#include <algorithm>
#include <cmath>
#include <QCheckBox>
#include <QColorDialog>
#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QPushButton>
#include <QRegularExpression>
#include <QShowEvent>
#include <QStyle>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

QString value_text(Knob knob, double value) {
    const QString unit = from_utf8(traits(knob).unit);
    return QString::fromStdString(format_number(value, 5)) + (unit.isEmpty() ? QString() : u" "_s + unit);
}

} // namespace

PlanPage::PlanPage(Workbench& workbench, ProofFlow& flow, QWidget* parent)
    : QWidget(parent), workbench_(workbench), flow_(flow) {
    setObjectName(u"plan_page"_s);
    auto* page = new QHBoxLayout(this);
    page->setContentsMargins(0, 4, 0, 0);
    page->setSpacing(28);
    auto* right = new QVBoxLayout;
    right->setSpacing(6);
    right->addWidget(text_label(tr("Next proof sheet"), TextStyle::section, this));
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(8);
    grid->setVerticalSpacing(7);
    add_target(grid);
    across_ = add_axis(grid, 4, u"across"_s, tr("Across"), &SheetRequest::across);
    down_ = add_axis(grid, 7, u"down"_s, tr("Down"), &SheetRequest::down);
    add_size(grid);
    right->addLayout(grid);
    hopeless_ = new QCheckBox(tr("Leave out cells that would burn or show nothing"), this);
    hopeless_->setObjectName(u"leave_out"_s);
    hopeless_->setChecked(true);
    right->addWidget(hopeless_);
    cost_ = text_label({}, TextStyle::body, this);
    cost_->setObjectName(u"plan_cost"_s);
    cost_->setWordWrap(true);
    right->addWidget(cost_);
    auto* buttons = new QHBoxLayout;
    auto* suggest = new QPushButton(tr("Suggest for target"), this);
    suggest->setObjectName(u"suggest"_s);
    suggest->setToolTip(tr("Set the recipe and both ranges so that the model expects the target in the middle"));
    auto* plan = new QPushButton(tr("Plan this sheet"), this);
    plan->setObjectName(u"plan_sheet"_s);
    plan->setProperty("primary", true);
    auto* save = new QPushButton(tr("Save recipe"), this);
    save->setObjectName(u"save_recipe"_s);
    buttons->addWidget(suggest);
    buttons->addWidget(save);
    buttons->addStretch();
    buttons->addWidget(plan);
    right->addSpacing(4);
    right->addLayout(buttons);
    notes_ = text_label({}, TextStyle::body, this);
    notes_->setObjectName(u"findings"_s);
    notes_->setWordWrap(true);
    notes_->setTextFormat(Qt::RichText);
    right->addSpacing(4);
    right->addWidget(notes_);
    right->addStretch(1);
    page->addLayout(right, 1);
    auto* left = new QVBoxLayout;
    left->setSpacing(6);
    left->addWidget(text_label(tr("The sheet as predicted"), TextStyle::section, this));
    preview_ = new SheetWidget(u"plan_preview"_s, this);
    preview_->setMinimumSize(200, 120);
    preview_->setFocusPolicy(Qt::NoFocus);
    preview_->setAccessibleName(tr("The sheet as predicted"));
    left->addWidget(preview_, 1);
    page->addLayout(left, 1);
    connect(suggest, &QPushButton::clicked, this, [this] {
        flow_.suggest_opening(workbench_.draft().request.across.knob, workbench_.draft().request.down.knob);
    });
    connect(plan, &QPushButton::clicked, this, &PlanPage::plan_asked);
    connect(save, &QPushButton::clicked, this, &PlanPage::save_asked);
    idle_.setSingleShot(true);
    idle_.setInterval(120);
    connect(hopeless_, &QCheckBox::clicked, this, [this] { idle_.start(); });
    connect(&idle_, &QTimer::timeout, this, &PlanPage::refresh_cost);
}

bool PlanPage::leave_out_hopeless() const {
    return hopeless_->isChecked();
}

void PlanPage::add_target(QGridLayout* grid) {
    target_ = new QComboBox(this);
    target_->setObjectName(u"target"_s);
    target_->setAccessibleName(tr("Target"));
    for (const Target& t : named_targets())
        target_->addItem(QString::fromStdString(t.name));
    target_->addItem(tr("own colour"));
    target_->addItem(tr("a depth"));
    target_lab_ = new QLineEdit(this);
    target_lab_->setObjectName(u"target_lab"_s);
    target_lab_->setProperty("mono", true);
    target_lab_->setAccessibleName(tr("Target as L* a* b*"));
    target_lab_->setToolTip(tr("L* a* b* such as 35 3 -33, or a value such as #1F5A96"));
    pick_ = new QPushButton(tr("Pick"), this);
    pick_->setObjectName(u"pick_colour"_s);
    pick_->setProperty("small", true);
    accept_ = new EditField(u"accept"_s, tr("Accepted difference"), QuantityKind::ratio,
                            {{}, {}, {}, 0.1, 50, DecimalSign::automatic}, this);
    accept_->setFixedWidth(60);
    aim_ = new QLineEdit(this);
    aim_->setObjectName(u"aim"_s);
    aim_->setAccessibleName(tr("Aim of the sheet"));
    aim_->setMaxLength(60);
    aim_->setPlaceholderText(tr("what the sheet is for"));
    grid->addWidget(text_label(tr("Aim"), TextStyle::body, this), 0, 0);
    grid->addWidget(aim_, 0, 1, 1, 4);
    grid->addWidget(text_label(tr("Target"), TextStyle::body, this), 1, 0);
    grid->addWidget(target_, 1, 1, 1, 2);
    grid->addWidget(target_lab_, 1, 3);
    grid->addWidget(pick_, 1, 4);
    design_ = new QPushButton(tr("Design cells"), this);
    design_->setObjectName(u"design_cells"_s);
    design_->setToolTip(tr("Give each cell a setting of its own, so that few cells reach the target on most benches "
                           "(Ctrl+D)"));
    design_->setProperty("small", true);
    connect(design_, &QPushButton::clicked, this, &PlanPage::design_asked);
    accept_label_ = text_label({}, TextStyle::body, this);
    grid->addWidget(accept_label_, 2, 1);
    grid->addWidget(accept_, 2, 2);
    openings_ = new QPushButton(tr("Ways to begin…"), this);
    openings_->setObjectName(u"ways_to_begin"_s);
    openings_->setToolTip(tr("What each way to begin costs and promises, side by side (Ctrl+Shift+O)"));
    openings_->setProperty("small", true);
    connect(openings_, &QPushButton::clicked, this, &PlanPage::openings_asked);
    grid->addWidget(openings_, 3, 1, 1, 2);
    grid->addWidget(design_, 3, 3, 1, 2);
    const auto set_target = [this](const Target& t) {
        workbench_.change(tr("target"), u"target"_s, [t](Draft& d) { d.target = t; });
    };
    connect(target_, &QComboBox::activated, this, [this, set_target](int i) {
        if (i < static_cast<int>(named_targets().size())) {
            Target t = named_targets()[static_cast<std::size_t>(i)];
            t.accept_de = workbench_.draft().target.accept_de;
            set_target(t);
        } else if (i == static_cast<int>(named_targets().size()) + 1) {
            if (!workbench_.draft().target.depth)
                set_target(depth_target(usual_depth()));
        } else {
            if (workbench_.draft().target.depth)
                set_target(named_targets().front());
            target_lab_->setFocus();
            target_lab_->selectAll();
        }
    });
    const auto own = [this, set_target](const Lab& lab) {
        set_target({tr("own %1").arg(from_utf8(colour_name(lab))).toStdString(), lab, false,
                    workbench_.draft().target.accept_de});
    };
    connect(target_lab_, &QLineEdit::editingFinished, this, [this, own] {
        if (!target_lab_->isModified())
            return;
        if (workbench_.draft().target.depth)
            return commit_depth();
        const auto lab = lab_from_text(target_lab_->text().toStdString());
        target_lab_->setProperty("wrong", !lab);
        target_lab_->style()->polish(target_lab_);
        if (!lab)
            return workbench_.fail(lab.error());
        target_lab_->setModified(false);
        own(*lab);
    });
    connect(pick_, &QPushButton::clicked, this, [this, own] {
        auto* dialog = new QColorDialog(to_qcolor(workbench_.draft().target.lab), this);
        dialog->setAttribute(Qt::WA_DeleteOnClose);
        dialog->setOption(QColorDialog::DontUseNativeDialog);
        connect(dialog, &QColorDialog::colorSelected, this, [own](const QColor& c) {
            own(to_lab(from_linear_rgb({srgb_decode(c.redF()), srgb_decode(c.greenF()), srgb_decode(c.blueF())})));
        });
        dialog->open();
    });
    connect(accept_, &EditField::entered, this, [this](double v) {
        workbench_.change(tr("accepted difference"), {}, [v](Draft& d) {
            if (d.target.depth)
                d.target.depth->within_um = v;
            else
                d.target.accept_de = v;
        });
    });
    connect(accept_, &EditField::complained, this, [this](const QString& why) { workbench_.say(why, State::fail); });
    connect(aim_, &QLineEdit::editingFinished, this, [this] {
        if (aim_->isModified())
            workbench_.change(tr("aim"), {},
                              [this](Draft& d) { d.request.aim = aim_->text().trimmed().toStdString(); });
        aim_->setModified(false);
    });
}

/// What the recipe is expected to reach, in round numbers; 100 um where it takes nothing away.
WantedDepth PlanPage::usual_depth() const {
    const auto& p = workbench_.prediction();
    const double um = p && p->removal ? p->depth_um() : 0;
    if (!(um >= 1))
        return {};
    const double round = with_digits(um, 2);
    return {round, 0.1 * round};
}

void PlanPage::commit_depth() {
    const auto wanted = wanted_depth_from_text(target_lab_->text().toStdString());
    target_lab_->setProperty("wrong", !wanted);
    target_lab_->style()->polish(target_lab_);
    if (!wanted)
        return workbench_.fail(wanted.error());
    target_lab_->setModified(false);
    workbench_.change(tr("target"), u"target"_s, [&](Draft& d) { d.target = depth_target(*wanted); });
}

PlanPage::AxisFields PlanPage::add_axis(QGridLayout* grid, int row, const QString& name, const QString& title,
                                        AxisPlan SheetRequest::*axis) {
    AxisFields f;
    f.knob = new QComboBox(this);
    f.knob->setObjectName(name + u"_knob"_s);
    f.knob->setAccessibleName(tr("%1 knob").arg(title));
    for (const Knob k : axis_knobs())
        f.knob->addItem(from_utf8(traits(k).label));
    f.from = new QLineEdit(this);
    f.to = new QLineEdit(this);
    f.count = new EditField(name + u"_count"_s, tr("%1 steps").arg(title), QuantityKind::count,
                            {"", {}, {}, 1, most_steps, DecimalSign::automatic}, this);
    f.count->setFixedWidth(60);
    f.steps = new QComboBox(this);
    f.steps->setObjectName(name + u"_steps"_s);
    f.steps->setAccessibleName(tr("%1 spacing").arg(title));
    f.steps->addItems({tr("even steps"), tr("equal ratios")});
    grid->addWidget(text_label(title, TextStyle::head, this), row, 0);
    grid->addWidget(f.knob, row, 1, 1, 2);
    grid->addWidget(f.steps, row, 3, 1, 2);
    grid->addWidget(text_label(tr("from, to"), TextStyle::body, this), row + 1, 0);
    grid->addWidget(f.from, row + 1, 1);
    grid->addWidget(f.to, row + 1, 2);
    grid->addWidget(text_label(tr("in how many"), TextStyle::body, this), row + 1, 3);
    grid->addWidget(f.count, row + 1, 4);
    grid->setRowMinimumHeight(row + 2, 4);
    for (auto [field, end, what] :
         {std::tuple{f.from, &AxisPlan::from, u"_from"_s}, std::tuple{f.to, &AxisPlan::to, u"_to"_s}}) {
        field->setObjectName(name + what);
        field->setAccessibleName(title + (what == u"_from"_s ? tr(" from") : tr(" to")));
        field->setProperty("mono", true);
        field->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
        connect(field, &QLineEdit::editingFinished, this,
                [this, field = field, axis, end = end] { commit_axis(field, axis, end); });
    }
    connect(f.knob, &QComboBox::activated, this, [this, axis](int i) {
        workbench_.change(tr("axis"), {}, [&](Draft& d) {
            AxisPlan& plan = d.request.*axis;
            plan.knob = axis_knobs().at(static_cast<std::size_t>(i));
            const double now = knob_value(d.recipe, plan.knob);
            const KnobLimits limits = knob_limits(d.setup.bench, plan.knob);
            const KnobTraits& t = traits(plan.knob);
            const bool ratio = now > 0 && t.spreads_by_ratio();
            plan.steps = ratio ? Steps::ratio : Steps::linear;
            const double reach = t.whole ? plan.count - 1 : 2;
            plan.from = std::clamp(ratio ? now / 1.5 : t.whole ? 1 : now - reach, limits.low, limits.high);
            plan.to = std::clamp(ratio ? now * 1.5 : now + reach, limits.low, limits.high);
        });
    });
    connect(f.steps, &QComboBox::activated, this, [this, axis](int i) {
        workbench_.change(tr("spacing"), {},
                          [&](Draft& d) { (d.request.*axis).steps = i == 1 ? Steps::ratio : Steps::linear; });
    });
    connect(f.count, &EditField::entered, this, [this, axis](double v) {
        workbench_.change(tr("steps"), {}, [&](Draft& d) { (d.request.*axis).count = static_cast<int>(v); });
    });
    connect(f.count, &EditField::complained, this, [this](const QString& why) { workbench_.say(why, State::fail); });
    return f;
}

void PlanPage::commit_axis(QLineEdit* field, AxisPlan SheetRequest::*axis, double AxisPlan::*end) {
    if (!field->isModified())
        return;
    const Knob knob = (workbench_.draft().request.*axis).knob;
    const KnobLimits limits = knob_limits(workbench_.bench(), knob);
    ParseContext context;
    context.default_unit = std::string(traits(knob).unit);
    context.low = limits.low;
    context.high = limits.high;
    context.spot_mm = in_mm(waist(workbench_.bench().lens(), workbench_.bench().source.wavelength).spot);
    const auto parsed = parse_quantity(field->text().toStdString(), traits(knob).kind, context);
    field->setProperty("wrong", !parsed);
    field->style()->polish(field);
    if (!parsed)
        return workbench_.say(field->accessibleName() + u": "_s + QString::fromStdString(sentence(parsed.error())),
                              State::fail);
    field->setModified(false);
    workbench_.change(tr("range"), {}, [&](Draft& d) { (d.request.*axis).*end = parsed->value; });
}

void PlanPage::add_size(QGridLayout* grid) {
    const auto field = [&](const QString& name, const QString& title, double low, double high,
                           Length SheetRequest::*part) {
        auto* f =
            new EditField(name, title, QuantityKind::length, {{}, {}, {}, low, high, DecimalSign::automatic}, this);
        connect(f, &EditField::entered, this, [this, part, title](double v) {
            workbench_.change(title.toLower(), {}, [&](Draft& d) { d.request.*part = mm(v); });
        });
        connect(f, &EditField::complained, this, [this](const QString& why) { workbench_.say(why, State::fail); });
        return f;
    };
    cell_w_ = field(u"cell_width"_s, tr("Cell width"), 1, 50, &SheetRequest::cell_width);
    cell_h_ = field(u"cell_height"_s, tr("Cell height"), 1, 50, &SheetRequest::cell_height);
    gap_ = field(u"gap"_s, tr("Gap"), 0.4, 20, &SheetRequest::gap);
    gap_->setFixedWidth(74);
    grid->addWidget(text_label(tr("Cell, w × h"), TextStyle::body, this), 10, 0);
    grid->addWidget(cell_w_, 10, 1);
    grid->addWidget(cell_h_, 10, 2);
    grid->addWidget(text_label(tr("gap"), TextStyle::body, this), 10, 3, Qt::AlignRight);
    grid->addWidget(gap_, 10, 4);
}

void PlanPage::show_axis(const AxisFields& f, const AxisPlan& plan) {
    const auto it = std::find(axis_knobs().begin(), axis_knobs().end(), plan.knob);
    f.knob->setCurrentIndex(static_cast<int>(it - axis_knobs().begin()));
    for (const auto& [field, value] : {std::pair{f.from, plan.from}, std::pair{f.to, plan.to}})
        if (!(field->hasFocus() && field->isModified())) {
            field->setText(value_text(plan.knob, value));
            field->setModified(false);
            // Polishing is slow with a style sheet, so only where the state changed.
            if (field->property("wrong").toBool()) {
                field->setProperty("wrong", false);
                field->style()->polish(field);
            }
        }
    f.count->show_value(plan.count);
    f.steps->setCurrentIndex(plan.steps == Steps::ratio ? 1 : 0);
}

void PlanPage::refresh() {
    if (!isVisible())
        return;
    const Draft& d = workbench_.draft();
    int named = static_cast<int>(named_targets().size());
    for (std::size_t i = 0; i < named_targets().size(); ++i)
        if (named_targets()[i].name == d.target.name)
            named = static_cast<int>(i);
    const auto& depth = d.target.depth;
    target_->setCurrentIndex(depth ? static_cast<int>(named_targets().size()) + 1 : named);
    if (!(target_lab_->hasFocus() && target_lab_->isModified())) {
        target_lab_->setText(depth ? screen_number(depth->um, 4) + u" ± "_s + screen_number(depth->within_um, 3)
                                   : lab_text(d.target.lab));
        target_lab_->setModified(false);
    }
    target_lab_->setAccessibleName(depth ? tr("Target as a depth, µm") : tr("Target as L* a* b*"));
    target_lab_->setToolTip(depth ? tr("A depth such as 120 ± 10 or 0.12 mm")
                                  : tr("L* a* b* such as 35 3 -33, or a value such as #1F5A96"));
    pick_->setEnabled(!depth);
    accept_label_->setText(depth ? tr("accept ± µm") : tr("accept ΔE₀₀ ≤"));
    accept_->set_range(depth ? 0.01 : 0.1, depth ? 1e5 : 50);
    accept_->show_value(d.target.accepted());
    if (!(aim_->hasFocus() && aim_->isModified()))
        aim_->setText(QString::fromStdString(d.request.aim));
    show_axis(across_, d.request.across);
    show_axis(down_, d.request.down);
    cell_w_->show_value(in_mm(d.request.cell_width));
    cell_h_->show_value(in_mm(d.request.cell_height));
    gap_->show_value(in_mm(d.request.gap));
    refresh_notes();
    idle_.start();
}

void PlanPage::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refresh();
}

void PlanPage::refresh_cost() {
    // What the sheet would cost is as slow as a few dozen predictions, so it waits for a pause too.
    const Draft& d = workbench_.draft();
    // Only films have colours to search for; a depth is searched on anything that is taken away.
    for (QPushButton* b : {design_, openings_})
        b->setEnabled(d.target.depth || traits(d.recipe.process).lasting_colour);
    SheetRequest request = d.request;
    request.base = d.recipe;
    request.number = workbench_.next_sheet();
    Recipe labels = d.recipe;
    const auto sheet = plan_sheet(request, workbench_.bench(), labels);
    if (!sheet) {
        cost_->setText(u"<p>%1</p>"_s.arg(QString::fromStdString(sentence(sheet.error())).toHtmlEscaped()));
        preview_->show_view({});
        return;
    }
    const SheetForecast f = forecast(*sheet, workbench_.scene());
    std::size_t marks = 0, burns = 0, nothing = 0;
    double seconds = 0, best = 1e9;
    for (const CellForecast& c : f.cells) {
        marks += c.fate == CellFate::marks ? 1 : 0;
        burns += c.fate == CellFate::burns || c.fate == CellFate::impossible ? 1 : 0;
        nothing += c.fate == CellFate::shows_nothing ? 1 : 0;
        if (c.fate == CellFate::marks || !leave_out_hopeless())
            seconds += c.time_s;
        if (d.target.depth) {
            if (c.prediction && c.prediction->removal)
                best = std::min(best, std::abs(c.prediction->depth_um() - d.target.depth->um));
        } else if (c.fate == CellFate::marks)
            best = std::min(
                best, distance(d.target, cell_look(workbench_.scene(), sheet->base, c).value_or(Lab{50, 60, 60})));
    }
    ProofSheet shown = *sheet;
    if (leave_out_hopeless())
        shown = without_hopeless(shown, f);
    preview_->show_view(sheet_view(workbench_, workbench_.scene(), shown, f, std::nullopt, LevelKind::pulses_per_mm2));
    const SheetLayout at = finch::layout(*sheet);
    QString text =
        tr("<b>%1 cells</b>: %2 mark, %3 burn, %4 show nothing. About <b>%5</b> for the cells, on %6 × %7 mm.")
            .arg(sheet->cells())
            .arg(marks)
            .arg(burns)
            .arg(nothing)
            .arg(screen_duration(seconds))
            .arg(screen_number(at.width_mm), screen_number(at.height_mm));
    if (best < 1e8)
        text += d.target.depth ? tr(" Nearest predicted to %1: <b>%2</b> off.")
                                     .arg(QString::fromStdString(d.target.name), um_text(best))
                               : tr(" Best predicted ΔE₀₀ to %1: <b>%2</b>.")
                                     .arg(QString::fromStdString(d.target.name), screen_number(best, 2));
    cost_->setText(strong(text));
}

void PlanPage::refresh_notes() {
    QStringList lines;
    const auto add = [&](const char* mark, const QString& claim, const QString& remedy) {
        lines << u"<p style='margin:0 0 5px 0'><b>%1</b> %2 %3</p>"_s.arg(
            QString::fromUtf8(mark), claim.toHtmlEscaped(), remedy.toHtmlEscaped());
    };
    for (const Finding& f : workbench_.findings())
        if (lines.size() < 4)
            add(f.severity == Severity::blocking  ? "Stop:"
                : f.severity == Severity::warning ? "Mind:"
                                                  : "Note:",
                QString::fromStdString(f.message), QString::fromStdString(f.remedy));
    if (const auto& p = workbench_.prediction())
        for (const MarkWarning w : p->mark.warnings) {
            const bool said = w == MarkWarning::derated || w == MarkWarning::gaps || w == MarkWarning::coated;
            if (!said && lines.size() < 5)
                add(w == MarkWarning::pulse_melt || w == MarkWarning::cleaning ? "Note:" : "Mind:",
                    from_utf8(sentence(w)), {});
        }
    if (const QString text = strong(lines.join(QString())); text != notes_->text())
        notes_->setText(text);
}

void PlanPage::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const double x = std::round(width() / 2.0) + 0.5;
    paint_hairline(painter, {x, 4}, {x, static_cast<double>(height()) - 8}, theme_of(this)(Role::hair));
}

} // namespace finch::app

#include "moc_plan_page.cpp"
