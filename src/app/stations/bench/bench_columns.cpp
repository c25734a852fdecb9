// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// The rows of the bench station: which value stands where, how it is read and written.
#include "app/stations/bench/bench_station.h"

#include "app/theme/label.h"

#include "bench/bench_json.h"
#include "quantity/format.h"

#include <algorithm>
#include <cmath>
#include <QGridLayout>
#include <QLabel>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

/// Where the head stood when the focus was confirmed: what it was raised by is told from there.
Length head_then(const Setup& s) {
    return s.focus.confirmed ? s.focus.confirmed->head_raised : mm(0);
}

} // namespace

void BenchStation::build_source() {
    source_ = make_column(tr("Source"), u"column_source"_s, 260);
    QStringList names;
    for (const Bench& bench : benches_)
        names << QString::fromStdString(bench.name);
    add_choice(
        source_, tr("Bench"), u"bench"_s, names,
        [names](const Setup& s) { return static_cast<int>(names.indexOf(QString::fromStdString(s.bench.name))); },
        [this](Setup& s, int i) { s.bench = benches_.at(static_cast<std::size_t>(i)); });
    add_number(
        source_, tr("Rated power"), u"rated_power"_s, QuantityKind::power, {{}, {}, {}, 1, 500, DecimalSign::automatic},
        [](const Setup& s) { return in_watts(s.bench.source.rated_power); },
        [](Setup& s, double v) { s.bench.source.rated_power = watts(v); });
    add_number(
        source_, tr("Shortest pulse"), u"pulse_from"_s, QuantityKind::duration,
        {{}, {}, {}, 1, 1000, DecimalSign::automatic},
        [](const Setup& s) { return in_nanoseconds(s.bench.source.pulse_width_min); },
        [](Setup& s, double v) {
            Source& src = s.bench.source;
            src.pulse_width_min = nanoseconds(v);
            src.pulse_width_max = src.kind == SourceKind::fixed_pulse_width
                                      ? src.pulse_width_min
                                      : std::max(src.pulse_width_max, src.pulse_width_min);
        });
    add_number(
        source_, tr("Longest pulse"), u"pulse_to"_s, QuantityKind::duration,
        {{}, {}, {}, 1, 1000, DecimalSign::automatic},
        [](const Setup& s) { return in_nanoseconds(s.bench.source.pulse_width_max); },
        [](Setup& s, double v) {
            Source& src = s.bench.source;
            src.pulse_width_max = nanoseconds(v);
            src.pulse_width_min = src.kind == SourceKind::fixed_pulse_width
                                      ? src.pulse_width_max
                                      : std::min(src.pulse_width_max, src.pulse_width_min);
        });
    add_number(
        source_, tr("Lowest frequency"), u"frequency_from"_s, QuantityKind::frequency,
        {{}, {}, {}, 1, 10000, DecimalSign::automatic},
        [](const Setup& s) { return in_kilohertz(s.bench.source.frequency_min); },
        [](Setup& s, double v) {
            s.bench.source.frequency_min = std::min(kilohertz(v), s.bench.source.frequency_max);
        });
    add_number(
        source_, tr("Highest frequency"), u"frequency_to"_s, QuantityKind::frequency,
        {{}, {}, {}, 1, 10000, DecimalSign::automatic},
        [](const Setup& s) { return in_kilohertz(s.bench.source.frequency_max); },
        [](Setup& s, double v) {
            s.bench.source.frequency_max = std::max(kilohertz(v), s.bench.source.frequency_min);
        });
    add_number(
        source_, tr("Largest pulse"), u"largest_pulse"_s, QuantityKind::energy,
        {{}, {}, {}, 0.005, 20, DecimalSign::automatic},
        [](const Setup& s) { return in_millijoules(s.bench.source.largest_pulse); },
        [](Setup& s, double v) { s.bench.source.largest_pulse = millijoules(v); });
    add_number(
        source_, tr("Peak power limit"), u"peak_limit"_s, QuantityKind::power,
        {"kW", {}, {}, 100, 1e6, DecimalSign::automatic},
        [](const Setup& s) { return in_kilowatts(s.bench.source.peak_power_limit); },
        [](Setup& s, double v) { s.bench.source.peak_power_limit = watts(v); });
    add_number(
        source_, tr("Scan speed limit"), u"speed_limit"_s, QuantityKind::speed,
        {{}, {}, {}, 10, 20000, DecimalSign::automatic},
        [](const Setup& s) { return in_mm_per_second(s.bench.scanner.speed_max); },
        [](Setup& s, double v) { s.bench.scanner.speed_max = mm_per_second(v); });
}

void BenchStation::build_lens() {
    lens_ = make_column(tr("Lens"), u"column_lens"_s, 260);
    const auto lens = [](Setup& s) -> Lens& { return s.bench.lenses.at(s.bench.lens_index); };
    lens_choice_ = add_choice(
        lens_, tr("Lens on"), u"lens"_s, {}, [](const Setup& s) { return static_cast<int>(s.bench.lens_index); },
        [](Setup& s, int i) { s.bench.lens_index = static_cast<std::size_t>(i); });
    const auto number = [&](const QString& text, const QString& name, double low, double high, Length Lens::*part) {
        add_number(
            lens_, text, name, QuantityKind::length, {{}, {}, {}, low, high, DecimalSign::automatic},
            [part](const Setup& s) { return in_mm(s.bench.lens().*part); },
            [part, lens](Setup& s, double v) { lens(s).*part = mm(v); });
    };
    number(tr("Focal length"), u"focal_length"_s, 20, 1000, &Lens::focal_length);
    number(tr("Field"), u"field_side"_s, 5, 1000, &Lens::field);
    number(tr("Working distance"), u"working_distance"_s, 10, 1500, &Lens::working_distance);
    number(tr("Beam at lens"), u"beam_at_lens"_s, 1, 40, &Lens::beam_at_lens);
    add_number(
        lens_, tr("Beam quality M²"), u"m2"_s, QuantityKind::ratio, {{}, {}, {}, 1, 10, DecimalSign::automatic},
        [](const Setup& s) { return s.bench.lens().beam_quality_m2; },
        [lens](Setup& s, double v) { lens(s).beam_quality_m2 = v; });
    add_number(
        lens_, tr("Spot, measured"), u"spot_measured"_s, QuantityKind::length,
        {"um", {}, {}, 0, 0.5, DecimalSign::automatic},
        [](const Setup& s) {
            return s.bench.lens().measured_spot ? in_micrometres(*s.bench.lens().measured_spot) : std::nan("");
        },
        [lens](Setup& s, double v) { lens(s).measured_spot = v > 0.002 ? std::optional(mm(v)) : std::nullopt; });
    add_fact(lens_, tr("Spot, computed"), u"spot_computed"_s, [](const Workbench& w) {
        return screen_number(in_micrometres(computed_waist(w.bench().lens(), w.bench().source.wavelength).spot)) +
               u" µm"_s;
    });
    add_fact(lens_, tr("Bar fits turned"), u"bar_turn"_s, [](const Workbench& w) {
        return screen_number(longest_part(w.bench().lens().field, mm(12)).turn_deg) + u"\u00b0"_s;
    });
}

void BenchStation::build_stock() {
    stock_ = make_column(tr("Stock"), u"column_stock"_s, 260);
    stock_.field_width = 140; // names of metals are longer than numbers
    stock_.meta->setText(tr("from the side"));
    QStringList metals;
    for (const auto& m : workbench_.materials().metals)
        metals << QString::fromStdString(m->name);
    add_choice(
        stock_, tr("Metal"), u"metal"_s, metals,
        [this](const Setup& s) { return static_cast<int>(metal_keys_.indexOf(QString::fromStdString(s.stock.metal))); },
        [this](Setup& s, int i) { s.stock.metal = metal_keys_.at(i).toStdString(); });
    add_choice(
        stock_, tr("Finish"), u"finish"_s, {tr("mirror"), tr("mill"), tr("brushed"), tr("blasted")},
        [](const Setup& s) { return static_cast<int>(s.stock.finish); },
        [](Setup& s, int i) { s.stock.finish = static_cast<Finish>(i); });
    add_number(
        stock_, tr("Thickness"), u"thickness"_s, QuantityKind::length, {{}, {}, {}, 0.02, 100, DecimalSign::automatic},
        [](const Setup& s) { return in_mm(s.stock.thickness); }, [](Setup& s, double v) { s.stock.thickness = mm(v); });
    add_choice(
        stock_, tr("Coating"), u"coating"_s,
        {tr("not checked"), tr("bare metal"), tr("nickel"), tr("clear film"), tr("powder coat"), tr("paint"),
         tr("dyed anodised film"), tr("polish or wax"), tr("clear anodised film")},
        [](const Setup& s) { return static_cast<int>(s.stock.coating); },
        [](Setup& s, int i) { s.stock.coating = static_cast<Coating>(i); });
    add_text(
        stock_, tr("Lot"), u"lot"_s, [](const Setup& s) { return s.stock.lot; },
        [](Setup& s, const std::string& v) { s.stock.lot = v; });
    add_text(
        stock_, tr("Under it"), u"under_it"_s, [](const Setup& s) { return s.stock.under_it; },
        [](Setup& s, const std::string& v) { s.stock.under_it = v; });
    add_text(
        stock_, tr("Held by"), u"held_by"_s, [](const Setup& s) { return s.stock.held_by; },
        [](Setup& s, const std::string& v) { s.stock.held_by = v; });
    add_number(
        stock_, tr("Temperature"), u"start_temperature"_s, QuantityKind::temperature,
        {{}, {}, {}, -50, 500, DecimalSign::automatic}, [](const Setup& s) { return s.stock.start_temperature_c; },
        [](Setup& s, double v) { s.stock.start_temperature_c = v; });
    add_fact(stock_, tr("Lot readings"), u"read_on_lot"_s, [](const Workbench& w) {
        const int sheets = w.evidence().sheets;
        return sheets == 0 ? tr("nothing yet") : sheets == 1 ? tr("1 sheet") : tr("%1 sheets").arg(sheets);
    });
}

void BenchStation::build_focus() {
    focus_ = make_column(tr("Focus"), u"column_focus"_s, 260);
    focus_.field_width = 120;
    focus_.meta->setText(tr("beam to scale"));
    add_choice(
        focus_, tr("Find it by"), u"focus_method"_s,
        {tr("gauge stick"), tr("pointer dots"), tr("touch probe"), tr("camera")},
        [](const Setup& s) { return static_cast<int>(s.focus.method); },
        [](Setup& s, int i) { s.focus.method = static_cast<FocusMethod>(i); });
    add_fact(focus_, tr("Confirmed"), u"confirmed"_s, [](const Workbench& w) {
        const auto& c = w.draft().setup.focus.confirmed;
        if (!c)
            return tr("never");
        const QString when = brief_time(QString::fromStdString(c->when_utc), w.now());
        return c->method == FocusMethod::ladder ? tr("%1, ladder").arg(when) : when + u" "_s + q(c->by);
    });
    add_number(
        focus_, tr("Offset wanted"), u"offset"_s, QuantityKind::length, {{}, {}, {}, -50, 50, DecimalSign::automatic},
        [](const Setup& s) { return in_mm(s.focus.offset); }, [](Setup& s, double v) { s.focus.offset = mm(v); });
    add_number(
        focus_, tr("Head raised by"), u"head_raised_by"_s, QuantityKind::length,
        {{}, {}, {}, -500, 500, DecimalSign::automatic},
        [](const Setup& s) { return in_mm(s.focus.head_raised - head_then(s)); },
        [](Setup& s, double v) { s.focus.head_raised = head_then(s) + mm(v); });
    const auto surface = [](const Workbench& w) {
        return w.draft().setup.focus.offset + w.focus_state().surface_error;
    };
    add_fact(
        focus_, tr("Surface now"), u"surface_now"_s,
        [surface](const Workbench& w) { return screen_number(in_mm(surface(w)), 2) + u" mm"_s; }, true);
    add_fact(
        focus_, tr("Spot there"), u"spot_there"_s,
        [surface](const Workbench& w) {
            return screen_number(
                       in_micrometres(spot_at(waist(w.bench().lens(), w.bench().source.wavelength), surface(w))), 2) +
                   u" µm"_s;
        },
        true);
    add_fact(
        focus_, tr("Peak fluence"), u"fluence_there"_s,
        [surface](const Workbench& w) {
            const BeamWaist b = waist(w.bench().lens(), w.bench().source.wavelength);
            const double wanted = in_metres(spot_at(b, w.draft().setup.focus.offset)),
                         now = in_metres(spot_at(b, surface(w)));
            const double change = 100 * (wanted * wanted / (now * now) - 1);
            return std::abs(change) < 0.5 ? tr("unchanged") : screen_number(change, 2) + u" %"_s;
        },
        true);
    add_fact(focus_, tr("Rayleigh length"), u"rayleigh_focus"_s, [](const Workbench& w) {
        return screen_number(in_mm(waist(w.bench().lens(), w.bench().source.wavelength).rayleigh)) + u" mm"_s;
    });
    add_fact(focus_, tr("Tolerates"), u"tolerates"_s, [](const Workbench& w) {
        return u"± "_s +
               screen_number(in_mm(depth_for_growth(waist(w.bench().lens(), w.bench().source.wavelength), 1.05)), 2) +
               u" mm"_s;
    });
}

void BenchStation::build_reach() {
    reach_ = make_column(tr("Reach"), u"column_reach"_s, 0);
    const auto fact = [this](const QString& text, const QString& name, std::function<QString(const Workbench&)> read) {
        auto* value = text_label({}, TextStyle::readout, reach_.page);
        value->setObjectName(name);
        auto* words = text_label(text, TextStyle::small, reach_.page);
        words->setWordWrap(true);
        reach_.rows->addWidget(value, reach_.next++, 0);
        reach_.rows->addWidget(words, reach_.next++, 0);
        reach_.rows->setRowMinimumHeight(reach_.next++, 10);
        bound_.push_back({[this, value, read](const Setup&) { value->setText(read(workbench_)); }});
    };
    fact(tr("1 % of power"), u"reach_percent"_s,
         [](const Workbench& w) { return screen_number(in_watts(w.bench().source.rated_power) / 100) + u" W"_s; });
    fact(tr("full power from, at the longest pulse"), u"reach_frequency"_s, [](const Workbench& w) {
        const Source& s = w.bench().source;
        return screen_number(in_watts(s.rated_power) / in_millijoules(pulse_energy_limit(s, s.pulse_width_max))) +
               u" kHz"_s;
    });
    fact(tr("depth of focus, spot up to 10 % wider"), u"reach_depth"_s, [](const Workbench& w) {
        return u"± "_s +
               screen_number(in_mm(depth_for_growth(waist(w.bench().lens(), w.bench().source.wavelength), 1.1)), 2) +
               u" mm"_s;
    });
    fact(tr("longest bar 12 mm wide that fits the field"), u"reach_bar"_s, [](const Workbench& w) {
        return screen_number(in_mm(longest_part(w.bench().lens().field, mm(12)).length)) + u" mm"_s;
    });
    fact(tr("finest line, one spot wide"), u"reach_line"_s, [](const Workbench& w) {
        return screen_number(in_mm(waist(w.bench().lens(), w.bench().source.wavelength).spot), 2) + u" mm"_s;
    });
}

} // namespace finch::app
