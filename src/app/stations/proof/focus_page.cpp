// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/proof/focus_page.h"

#include "app/session/text.h"
#include "app/session/words.h"
#include "app/stations/proof/ladder_dialog.h"
#include "app/theme/label.h"
#include "bench/bench_json.h"
#include "physics/colour_difference.h"

#include <algorithm>
#include <cmath>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

QString two_digits(double v) {
    return QString::number(std::abs(v), 'f', 2);
}

QString with_sign(double v) {
    const double r = std::round(100 * v) / 100;
    return (r > 0 ? u"+"_s : r < 0 ? u"\u2212"_s : QString()) + two_digits(r);
}

QString within(const WithSpread& v) {
    return u" ± "_s + two_digits(v.spread) + u" mm"_s;
}

/// Mean place of the marks on one half of the sheet, as the best focus there.
double best_of_side(const LadderFinding& f, double field_mm, bool right) {
    double sum = 0;
    int n = 0;
    for (const LadderMark& m : f.marks)
        if ((m.x_mm > 0) == right) {
            sum += m.x_mm;
            ++n;
        }
    return f.fit.best_mm.value + (n > 0 ? f.fit.tilt_x_mm.value * sum / n / field_mm : 0);
}

FocusChartView chart_of(const LadderFinding& f, const Bench& bench) {
    FocusChartView v;
    const Lab& best = f.fit.looks.front().lab;
    v.from = 1e9;
    v.to = -1e9;
    for (std::size_t i = 0; i < f.marks.size(); ++i) {
        const LadderMark& m = f.marks[i];
        const bool doubtful = std::ranges::find(f.fit.doubtful, i) != f.fit.doubtful.end();
        v.marks.push_back({m.offset_mm, m.lab, delta_e00(m.lab, best), m.x_mm > 0, doubtful});
        v.from = std::min(v.from, m.offset_mm);
        v.to = std::max(v.to, m.offset_mm);
    }
    for (const LadderPoint& p : f.fit.looks)
        v.looks.push_back({p.off_mm, delta_e00(p.lab, best)});
    v.best = f.fit.best_mm.value;
    v.spread = f.fit.best_mm.spread;
    v.sides = f.over_field;
    const double field = in_mm(bench.lens().field);
    v.near_best = v.sides ? best_of_side(f, field, false) : v.best;
    v.far_best = v.sides ? best_of_side(f, field, true) : v.best;
    v.holds = f.fit.holds_mm.value;
    v.accept_de = f.accept_de;
    const BeamWaist w = waist(bench.lens(), bench.source.wavelength);
    v.spot_um = in_micrometres(w.spot);
    v.rayleigh_mm = in_mm(w.rayleigh);
    return v;
}

FieldMapView map_of(const LadderFinding& f, const Bench& bench) {
    FieldMapView v;
    v.field_mm = in_mm(bench.lens().field);
    const double half = v.field_mm / 2;
    for (const LadderMark& m : f.marks)
        v.dots.push_back({m.x_mm / half, m.y_mm / half, m.lab});
    if (!f.over_field) {
        v.note = QObject::tr("The marks lie close together: a ladder over the field shows tilt as well.");
        return v;
    }
    for (const double y : {-1.0, 0.0, 1.0})
        for (const double x : {-1.0, 0.0, 1.0})
            v.places.push_back(
                {x, y,
                 0.5 * (f.fit.tilt_x_mm.value * x + f.fit.tilt_y_mm.value * y) + f.fit.bow_mm.value * (x * x + y * y)});
    return v;
}

/// How the part must be shimmed: which side is low, and by how much.
QString tilt_words(const FocusFit& fit) {
    const auto side = [](double tilt, const QString& plus, const QString& minus) {
        // The best focus is higher where the surface is higher.
        return tilt > 0 ? plus : minus;
    };
    QStringList out;
    if (std::abs(fit.tilt_x_mm.value) > fit.tilt_x_mm.spread)
        out << side(fit.tilt_x_mm.value, QObject::tr("right side high"), QObject::tr("left side high"));
    if (std::abs(fit.tilt_y_mm.value) > fit.tilt_y_mm.spread)
        out << side(fit.tilt_y_mm.value, QObject::tr("near side high"), QObject::tr("far side high"));
    return out.isEmpty() ? QObject::tr("level, as far as it shows") : out.join(u", "_s);
}

/// What was the same for all marks.
QString held_words(const Round& r) {
    const Setup& s = r.setup;
    Recipe still = r.sheet.base;
    still.setting.focus_offset = mm(0);
    QString out = QObject::tr("Burned with %1 on %2 of %3 mm")
                      .arg(recipe_line(still), stock_words(s.stock), screen_number(in_mm(s.stock.thickness)));
    if (s.focus.confirmed)
        out += QObject::tr("; its zero was found by %1").arg(from_utf8(word(s.focus.confirmed->method)));
    return out + u'.';
}

} // namespace

FocusPage::FocusPage(Workbench& workbench, ProofFlow& flow, QWidget* parent)
    : QWidget(parent), workbench_(workbench), flow_(flow), finder_(workbench),
      chart_(new FocusChart(u"focus_chart"_s, this)) {
    setObjectName(u"focus_page"_s);
    auto* box = new QHBoxLayout(this);
    box->setContentsMargins(0, 4, 0, 0);
    box->setSpacing(20);
    auto* left = new QVBoxLayout;
    left->setSpacing(10);
    left->addWidget(chart_, 1);
    auto* row = new QHBoxLayout;
    row->setSpacing(14);
    readouts_ = {make_readout(tr("Best focus"), u"focus_best"_s, row),
                 make_readout(tr("Tilt over the field"), u"focus_tilt"_s, row),
                 make_readout(tr("The mark holds"), u"focus_holds"_s, row),
                 make_readout(tr("Left for the part"), u"focus_left"_s, row)};
    left->addLayout(row);
    box->addLayout(left, 1);
    box->addWidget(make_right());
    connect(&finder_, &FocusFinder::changed, this, &FocusPage::show_finding);
}

FocusPage::Readout FocusPage::make_readout(const QString& title, const QString& name, QHBoxLayout* row) {
    auto* page = new QWidget(this);
    auto* box = new QVBoxLayout(page);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(2);
    box->addWidget(text_label(title, TextStyle::head, page));
    Readout out{text_label({}, TextStyle::readout, page), text_label({}, TextStyle::small, page)};
    out.value->setObjectName(name);
    out.words->setObjectName(name + u"_words"_s);
    out.words->setWordWrap(true);
    out.words->setMinimumHeight(34);
    out.words->setAlignment(Qt::AlignTop);
    box->addWidget(out.value);
    box->addWidget(out.words);
    row->addWidget(page, 1);
    return out;
}

QWidget* FocusPage::make_right() {
    auto* right = new QWidget(this);
    right->setFixedWidth(300);
    auto* box = new QVBoxLayout(right);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(8);
    box->addWidget(text_label(tr("Over the field"), TextStyle::section, right));
    map_ = new FieldMap(u"field_map"_s, right);
    map_->setFixedHeight(270);
    box->addWidget(map_);
    words_ = text_label({}, TextStyle::body, right);
    words_->setObjectName(u"focus_words"_s);
    rests_ = text_label({}, TextStyle::small, right);
    held_ = text_label({}, TextStyle::small, right);
    for (QLabel* l : {words_, rests_, held_}) {
        l->setWordWrap(true);
        l->setTextInteractionFlags(Qt::TextSelectableByMouse);
        box->addWidget(l);
    }
    box->addStretch(1);
    auto* plan = new QPushButton(tr("Plan a ladder…"), right);
    plan->setObjectName(u"focus_plan"_s);
    connect(plan, &QPushButton::clicked, this, &FocusPage::ask_ladder);
    box->addWidget(plan);
    return right;
}

void FocusPage::refresh() {
    finder_.want();
    show_finding();
}

QString FocusPage::subtitle() const {
    const Round* r = finder_.ladder();
    return r == nullptr ? tr("no ladder yet on %1").arg(q(workbench_.bench().name))
                        : tr("%1 marks on %2, %3")
                              .arg(r->sheet.own.size())
                              .arg(q(r->setup.bench.name), q(r->setup.bench.lens().name));
}

QString FocusPage::take_text() const {
    const auto& f = finder_.finding();
    if (!f || f->verdict != LadderVerdict::found)
        return tr("Take the focus");
    if (finder_.taken())
        return tr("Focus taken");
    const WithSpread& best = f->fit.best_mm;
    return std::abs(best.value) <= best.spread ? tr("Confirm the focus") : tr("Take %1 mm").arg(with_sign(best.value));
}

void FocusPage::ask_ladder() {
    auto* dialog = new LadderDialog(workbench_, flow_, this);
    connect(dialog, &QDialog::accepted, this, &FocusPage::ladder_planned);
    dialog->open();
}

void FocusPage::show_finding() {
    const Round* r = finder_.ladder();
    const auto& f = finder_.finding();
    const Bench& bench = r != nullptr ? r->setup.bench : workbench_.bench();
    FocusChartView chart;
    FieldMapView map;
    map.field_mm = in_mm(bench.lens().field);
    for (const Readout& o : readouts_) {
        o.value->setText(u"–"_s);
        o.words->clear();
    }
    if (f) {
        chart = chart_of(*f, bench);
        map = map_of(*f, bench);
        const FocusFit& fit = f->fit;
        readouts_[0].value->setText(with_sign(fit.best_mm.value) + within(fit.best_mm));
        const QString to = fit.best_mm.value < 0 ? tr("lower the head %1 mm") : tr("raise the head %1 mm");
        readouts_[0].words->setText(finder_.taken() ? tr("taken: the head stands there")
                                    : std::abs(fit.best_mm.value) <= fit.best_mm.spread
                                        ? tr("the head stood right")
                                        : to.arg(two_digits(fit.best_mm.value)));
        if (f->over_field) {
            readouts_[1].value->setText(with_sign(fit.tilt_x_mm.value) + u" · "_s + with_sign(fit.tilt_y_mm.value) +
                                        u" mm"_s);
            readouts_[1].words->setText(
                tr("across · down, ± %1; %2")
                    .arg(two_digits(std::max(fit.tilt_x_mm.spread, fit.tilt_y_mm.spread)), tilt_words(fit)));
            const double left = fit.holds_mm.value - f->tilt_takes_mm;
            readouts_[3].value->setText(left > 0 ? u"± "_s + two_digits(left) + u" mm"_s : tr("nothing"));
            readouts_[3].words->setText(
                tr("tilt and bow take %1 over %2 mm").arg(two_digits(f->tilt_takes_mm), screen_number(f->span_mm, 2)));
        } else {
            readouts_[1].words->setText(tr("needs a ladder over the field"));
            readouts_[3].words->setText(tr("once tilt is known"));
        }
        readouts_[2].value->setText(u"± "_s + two_digits(fit.holds_mm.value) + u" mm"_s);
        readouts_[2].words->setText(
            fit.holds_to_the_end
                ? tr("and more: over the whole ladder")
                : tr("± %1, within %2 CIEDE2000").arg(two_digits(fit.holds_mm.spread), screen_number(f->accept_de, 2)));
        words_->setText(from_utf8(f->words));
        rests_->setText(
            tr("Marks as far above as below the best focus look alike: nothing is taken for granted about metal, "
               "process or spot. %1 marks, which scatter by %2; %3 left out.")
                .arg(f->marks.size())
                .arg(QString::number(fit.scatter_de, 'f', 1))
                .arg(fit.doubtful.size()));
        held_->setText(held_words(*r));
    } else {
        chart.empty =
            r == nullptr ? tr("A gauge says where the focus should be; a ladder shows where it is. It burns the recipe "
                              "at many offsets, through zero on both sides, and finds the place about which the marks "
                              "mirror each other.\n\nPlan one on scrap of the same thickness.")
            : !r->reading       ? tr("Burn sheet %1 and read its photograph.").arg(r->sheet.number)
            : finder_.running() ? tr("Working …")
                                : finder_.reason();
        for (QLabel* l : {words_, rests_, held_})
            l->clear();
    }
    chart_->show_view(std::move(chart));
    map_->show_view(std::move(map));
    Q_EMIT finding_changed();
}

} // namespace finch::app

#include "moc_focus_page.cpp"
