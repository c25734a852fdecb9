// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/proof/palette_page.h"

#include "app/theme/label.h"
#include "quantity/format.h"

#include <algorithm>
#include <fmt/format.h>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QPushButton>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr std::array roman{"I", "II", "III", "IV", "V"};
/// Marks that differ by more are seen as two colours side by side.
constexpr double shaky_de = 2;

QString place_words(const PaletteColour& c) {
    const QString piece = from_utf8(c.piece);
    bool number = false;
    const int sheet = piece.section(u' ', -1).toInt(&number);
    return (number ? QObject::tr("sheet %1").arg(sheet) : piece) + u", "_s + from_utf8(c.place);
}

QString de_words(double de) {
    return QString::number(de, 'f', de < 9.95 ? 1 : 0);
}

ColourPlaneView plane_view(const Palette& p, const Draft& d, const std::optional<std::size_t>& chosen) {
    ColourPlaneView v;
    for (std::size_t i = 0; i < p.colours.size(); ++i) {
        const PaletteColour& c = p.colours[i];
        v.dots.push_back({c.lab,
                          QObject::tr("%1 (%2), %3, film %4 nm")
                              .arg(from_utf8(c.name), lab_text(c.lab), place_words(c), screen_number(c.film_nm, 2)),
                          std::ranges::find(p.named, i) != p.named.end()});
    }
    for (const PathPoint& q : p.path)
        v.path.push_back({q.nm, q.lab, q.reached});
    for (std::size_t i = 0; i < p.wanted.size() && i < roman.size(); ++i)
        v.wanted.push_back({from_utf8(roman.at(i)), p.wanted[i].wanted.lab, p.wanted[i].read,
                            p.wanted[i].read && p.wanted[i].read_de <= d.target.accept_de});
    v.chosen = chosen;
    v.empty = QObject::tr("Nothing was read on this bench and lot yet. The band is what the model expects; one sheet "
                          "places the first colours.");
    return v;
}

SwatchListView list_view(const Palette& p, const std::optional<std::size_t>& chosen) {
    SwatchListView v;
    v.of = QObject::tr("of %1 cells").arg(p.cells - p.spoiled);
    for (const std::size_t i : p.named) {
        const PaletteColour& c = p.colours[i];
        v.rows.push_back({i, from_utf8(c.name), u"%1°"_s.arg(c.holds_deg), de_words(c.repeat_de), c.lab, c.tilt,
                          c.holds_deg / 60.0, c.repeat_de > shaky_de, chosen && *chosen == i});
    }
    return v;
}

QString next_words(const WantedMatch& m, bool met) {
    if (met)
        return QObject::tr("Ready to take.");
    if (!m.between)
        return {};
    const QString chance =
        QString::fromStdString(format_number(std::min(99.0, std::round(100 * m.between->chance)), 2));
    if (m.between->chance >= 0.1)
        return QObject::tr("Not burned yet: %1 nm of film, %2 % that it meets it.")
            .arg(screen_number(m.between->film_nm, 2), chance);
    return QObject::tr("Nothing that was not burned yet promises to come nearer.");
}

WantedView wanted_view(const Palette& p, const Draft& d, const std::optional<std::size_t>& box) {
    WantedView v;
    for (std::size_t i = 0; i < p.wanted.size() && i < roman.size(); ++i) {
        const WantedMatch& m = p.wanted[i];
        const bool met = m.read && m.read_de <= d.target.accept_de;
        WantedView::Box b{
            from_utf8(roman.at(i)), from_utf8(m.wanted.name), {}, {}, next_words(m, met), m.wanted.lab, {}, met,
            box && *box == i};
        if (m.read) {
            const PaletteColour& c = p.colours[*m.read];
            b.reached = c.lab;
            b.short_by = de_words(m.read_de) + u" ΔE₀₀"_s;
            b.holds = QObject::tr("holds %1°, repeats %2").arg(c.holds_deg).arg(de_words(c.repeat_de));
        }
        v.boxes.push_back(std::move(b));
    }
    return v;
}

} // namespace

PalettePage::PalettePage(Workbench& workbench, ProofFlow& flow, QWidget* parent)
    : QWidget(parent), workbench_(workbench), flow_(flow), maker_(workbench),
      plane_(new ColourPlane(u"colour_plane"_s, this)) {
    setObjectName(u"palette_page"_s);
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(0, 4, 0, 0);
    box->setSpacing(8);
    auto* upper = new QHBoxLayout;
    upper->setSpacing(18);
    auto* left = new QVBoxLayout;
    left->setSpacing(4);
    auto* over = new QHBoxLayout;
    over->addWidget(text_label(tr("a* b* plane"), TextStyle::section, this));
    over->addStretch(1);
    over->addWidget(text_label(tr("dots: read; band: reached, in nm of film"), TextStyle::small, this));
    left->addLayout(over);
    left->addWidget(plane_, 1);
    upper->addLayout(left, 5);
    upper->addWidget(make_right(), 4);
    box->addLayout(upper, 1);
    box->addWidget(make_wanted_line());
    wanted_ = new WantedRow(this);
    box->addWidget(wanted_);
    connect(plane_, &ColourPlane::chosen, this, &PalettePage::choose);
    connect(list_, &SwatchList::asked, this, &PalettePage::choose);
    connect(wanted_, &WantedRow::asked, this, &PalettePage::choose_wanted);
    connect(&maker_, &PaletteMaker::changed, this, &PalettePage::show_palette);
}

QWidget* PalettePage::make_right() {
    auto* right = new QWidget(this);
    auto* box = new QVBoxLayout(right);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(4);
    list_ = new SwatchList(right);
    box->addWidget(list_, 1);
    name_ = text_label({}, TextStyle::head, right);
    name_->setObjectName(u"palette_name"_s);
    values_ = text_label({}, TextStyle::value, right);
    values_->setObjectName(u"palette_values"_s);
    rests_ = text_label({}, TextStyle::small, right);
    for (QLabel* l : {name_, values_, rests_}) {
        l->setWordWrap(true);
        l->setTextInteractionFlags(Qt::TextSelectableByMouse);
        box->addWidget(l);
    }
    return right;
}

QWidget* PalettePage::make_wanted_line() {
    auto* line = new QWidget(this);
    auto* row = new QHBoxLayout(line);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(8);
    row->addWidget(text_label(tr("Wanted"), TextStyle::section, line));
    accept_ = text_label({}, TextStyle::small, line);
    row->addWidget(accept_);
    row->addStretch(1);
    text_ = new QLineEdit(line);
    text_->setObjectName(u"wanted_text"_s);
    text_->setPlaceholderText(tr("a name, L* a* b* or #RRGGBB"));
    text_->setAccessibleName(tr("A wanted colour"));
    text_->setFixedWidth(190);
    connect(text_, &QLineEdit::returnPressed, this, &PalettePage::add_wanted);
    row->addWidget(text_);
    const auto button = [&](const QString& text, const QString& name, auto slot) {
        auto* b = new QPushButton(text, line);
        b->setObjectName(name);
        b->setProperty("small", true);
        connect(b, &QPushButton::clicked, this, slot);
        row->addWidget(b);
        return b;
    };
    button(tr("Add"), u"wanted_add"_s, &PalettePage::add_wanted)
        ->setToolTip(tr("Adds what is typed; with nothing typed, the target"));
    forget_ = button(tr("Forget"), u"wanted_forget"_s, &PalettePage::forget_wanted);
    gaps_ = button(tr("Plan the gaps"), u"wanted_gaps"_s, &PalettePage::plan_gaps);
    gaps_->setToolTip(tr("A sheet of the settings that come nearest to what no cell meets yet"));
    auto* layers = new QPushButton(tr("To layers…"), line);
    layers->setObjectName(u"palette_layers"_s);
    layers->setProperty("small", true);
    layers->setToolTip(tr("Each layer of the drawing gets the recipe whose colour was read nearest to its own"));
    connect(layers, &QPushButton::clicked, this, &PalettePage::layers_asked);
    row->addWidget(layers);
    return line;
}

void PalettePage::refresh() {
    maker_.want();
    show_palette();
}

const PaletteColour* PalettePage::chosen() const {
    if (!maker_.palette() || !recipe_)
        return nullptr;
    const auto& all = maker_.palette()->colours;
    const auto it = std::ranges::find_if(all, [&](const PaletteColour& c) { return c.recipe == *recipe_; });
    return it != all.end() ? &*it : nullptr;
}

bool PalettePage::can_take() const {
    return chosen() != nullptr;
}

void PalettePage::show_palette() {
    const Draft& d = workbench_.draft();
    const Palette none;
    const Palette& p = maker_.palette() ? *maker_.palette() : none;
    const PaletteColour* c = chosen();
    const auto index = c != nullptr ? std::optional(static_cast<std::size_t>(c - p.colours.data())) : std::nullopt;
    if (box_ && *box_ >= p.wanted.size())
        box_.reset();
    ColourPlaneView plane = plane_view(p, d, index);
    if (!maker_.palette())
        plane.empty = maker_.running() ? tr("Working …") : maker_.reason();
    plane_->show_view(std::move(plane));
    list_->show_view(list_view(p, index));
    wanted_->show_view(wanted_view(p, d, box_));
    accept_->setText(tr("accept ΔE₀₀ ≤ %1, of the target").arg(screen_number(d.target.accept_de, 2)));
    forget_->setEnabled(!d.wanted.empty());
    gaps_->setEnabled(std::ranges::any_of(
        p.wanted, [&](const WantedMatch& m) { return (!m.read || m.read_de > d.target.accept_de) && m.between; }));
    name_->setText(c == nullptr ? tr("Choose a colour: click it, or move with the arrow keys.")
                                : tr("%1, %2").arg(from_utf8(c->name), place_words(*c)));
    QStringList values;
    if (c != nullptr)
        for (const Knob k : {Knob::power, Knob::frequency, Knob::pulse_width, Knob::scan_speed, Knob::hatch_pitch}) {
            const KnobTraits& t = traits(k);
            values << screen_number(t.get(c->recipe) * t.screen_factor, 4) + u" "_s + from_utf8(t.screen_unit);
        }
    values_->setText(values.join(u" · "_s));
    rests_->setText(
        c == nullptr ? QString()
        : c->repeats > 1
            ? tr("L* a* b* %1. %2 marks of it differ by %3. %4 for a square centimetre.")
                  .arg(lab_text(c->lab))
                  .arg(c->repeats)
                  .arg(de_words(c->repeat_de), screen_duration(c->seconds_per_cm2))
            : tr("L* a* b* %1, one mark, read to %2. Two would differ by %3, as films scatter here. %4 for a "
                 "square centimetre.")
                  .arg(lab_text(c->lab), de_words(c->within_de), de_words(c->repeat_de),
                       screen_duration(c->seconds_per_cm2)));
    if (c != nullptr && c->tilt_read_to > 0)
        rests_->setText(rests_->text() + tr(" Its tilt was read to %1°.").arg(screen_number(c->tilt_read_to, 3)));
    Q_EMIT chosen_changed();
}

void PalettePage::choose(std::size_t colour) {
    if (!maker_.palette() || colour >= maker_.palette()->colours.size())
        return;
    recipe_ = maker_.palette()->colours[colour].recipe;
    show_palette();
}

void PalettePage::choose_wanted(std::size_t box) {
    if (!maker_.palette() || box >= maker_.palette()->wanted.size())
        return;
    box_ = box;
    if (const auto read = maker_.palette()->wanted[box].read)
        recipe_ = maker_.palette()->colours[*read].recipe;
    show_palette();
}

void PalettePage::take() {
    const PaletteColour* c = chosen();
    if (c == nullptr)
        return;
    const Recipe recipe = c->recipe;
    const QString name = from_utf8(c->name), place = place_words(*c);
    workbench_.change(tr("take %1 from the palette").arg(name), {}, [&](Draft& d) {
        const std::string kept = d.recipe.name;
        d.recipe = recipe;
        d.recipe.name = kept;
    });
    workbench_.say(tr("The recipe has the exact values of %1 (%2).").arg(name, place));
}

void PalettePage::add_wanted() {
    const Draft& d = workbench_.draft();
    const QString text = text_->text().trimmed();
    if (text.isEmpty() && d.target.depth)
        return workbench_.say(tr("The target is a depth. Type the colour that is wanted."), State::warn);
    const auto wanted = text.isEmpty() ? Expected<WantedColour>(WantedColour{d.target.name, d.target.lab})
                                       : wanted_from_text(text.toStdString());
    if (!wanted)
        return workbench_.fail(wanted.error());
    if (d.wanted.size() >= most_wanted)
        return workbench_.say(tr("Five wanted colours are shown at once. Forget one first."), State::warn);
    text_->clear();
    workbench_.change(tr("want %1").arg(from_utf8(wanted->name)), {},
                      [&](Draft& draft) { draft.wanted.push_back(*wanted); });
}

void PalettePage::forget_wanted() {
    const std::size_t box = box_.value_or(workbench_.draft().wanted.size() - 1);
    if (box >= workbench_.draft().wanted.size())
        return;
    box_.reset();
    workbench_.change(tr("forget %1").arg(from_utf8(workbench_.draft().wanted[box].name)), {},
                      [&](Draft& d) { d.wanted.erase(d.wanted.begin() + static_cast<long>(box)); });
}

void PalettePage::plan_gaps() {
    if (!maker_.palette())
        return;
    const double accept = workbench_.draft().target.accept_de;
    std::vector<Setting> cells;
    Recipe base;
    std::string names;
    for (const WantedMatch& m : maker_.palette()->wanted)
        if ((!m.read || m.read_de > accept) && m.between) {
            base = m.between->recipe; // all were looked for round one recipe
            // The middle may be off: a little thicker and thinner beside it.
            for (const double faster : {1.0, 0.93, 1.07}) {
                cells.push_back(m.between->recipe.setting);
                cells.back().scan_speed *= faster;
            }
            names += (names.empty() ? "" : ", ") + m.wanted.name;
        }
    if (cells.empty())
        return;
    const std::size_t before = workbench_.rounds().size();
    flow_.plan_cells(
        base, cells, names,
        fmt::format("Three cells each for {}: the settings that come nearest, and a little to both sides.", names));
    if (workbench_.rounds().size() > before)
        Q_EMIT gaps_planned();
}

} // namespace finch::app

#include "moc_palette_page.cpp"
