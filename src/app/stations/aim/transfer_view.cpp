// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/aim/transfer_view.h"

#include "app/session/text.h"

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

struct SettingLine {
    QString name, unit;
    double from = 0, to = 0;
    int digits = 3;
};

std::vector<SettingLine> lines_of(const MachineSettings& a, const MachineSettings& b) {
    return {{QObject::tr("Power"), u"W"_s, a.power_w, b.power_w},
            {QObject::tr("Frequency"), u"kHz"_s, a.frequency_khz, b.frequency_khz},
            {QObject::tr("Pulse width"), u"ns"_s, a.pulse_ns, b.pulse_ns},
            {QObject::tr("Scan speed"), u"mm/s"_s, a.speed_mm_s, b.speed_mm_s, 4},
            {QObject::tr("Hatch pitch"), u"µm"_s, 1000 * a.pitch_mm, 1000 * b.pitch_mm},
            {QObject::tr("Spot"), u"µm"_s, 1000 * a.spot_mm, 1000 * b.spot_mm},
            {QObject::tr("Passes"), {}, static_cast<double>(a.passes), static_cast<double>(b.passes)}};
}

QString quantity_text(double value, const SettingLine& line) {
    const QString number = screen_number(value, line.digits);
    return line.unit.isEmpty() ? number : number + u' ' + line.unit;
}

/// "power_max": the power is at its highest there.
QString limit_words(const std::string& clamped) {
    const QString text = QString::fromStdString(clamped);
    const QString what = text.section(u'_', 0, -2).replace(u'_', u' ').replace(u"freq"_s, QObject::tr("frequency"));
    return text.endsWith(u"_min"_s) ? QObject::tr("%1 is at its lowest").arg(what)
                                    : QObject::tr("%1 is at its highest").arg(what);
}

} // namespace

ChangeBarsView settings_view(const MachineSettings& from, const QString& from_name, const MachineSettings& to,
                             const QString& to_name, const QStringList& typed) {
    ChangeBarsView v;
    v.columns = {from_name, to_name};
    if (!typed.isEmpty())
        v.columns << QObject::tr("Type there");
    v.reach = 4;
    v.name_width = 130;
    v.column_width = 130;
    v.compact = true;
    qsizetype i = 0;
    for (const SettingLine& line : lines_of(from, to)) {
        ChangeBarsView::Row row;
        row.name = line.name;
        row.cells = {{quantity_text(line.from, line)}, {quantity_text(line.to, line), line.to / line.from}};
        if (i < typed.size() && !typed[i].isEmpty())
            row.cells.push_back({typed[i]});
        ++i;
        v.rows.push_back(std::move(row));
    }
    return v;
}

ChangeBarsView borrowed_view(const Borrowed& told, const MachineSettings& here) {
    const std::optional<double> passes = told.passes ? std::optional(static_cast<double>(*told.passes)) : std::nullopt;
    const std::optional<double> micrometres_pitch = told.pitch_mm ? std::optional(1000 * *told.pitch_mm) : std::nullopt,
                                micrometres_spot = told.spot_mm ? std::optional(1000 * *told.spot_mm) : std::nullopt;
    std::optional<double> watts = told.power_w;
    if (!watts && told.power_percent && told.rated_w)
        watts = *told.power_percent / 100 * *told.rated_w;
    const std::vector<std::optional<double>> said{
        watts, told.frequency_khz, told.pulse_ns, told.speed_mm_s, micrometres_pitch, micrometres_spot, passes};
    ChangeBarsView v = settings_view(here, QObject::tr("Told"), here, QObject::tr("Here"));
    const auto lines = lines_of(here, here);
    for (std::size_t i = 0; i < lines.size(); ++i) {
        auto& cells = v.rows[i].cells;
        cells[0].text = said[i] ? quantity_text(*said[i], lines[i]) : QObject::tr("not said");
        cells[1].ratio = said[i] ? std::optional(lines[i].to / *said[i]) : std::nullopt;
    }
    return v;
}

ChangeBarsView kept_view(const TransferResult& result) {
    ChangeBarsView v;
    v.columns = {QObject::tr("New over old")};
    v.reach = 4;
    v.name_width = 190;
    v.column_width = 130;
    v.note_beside = true;
    for (const Kept& k : result.report) {
        QString name = from_utf8(word(k.invariant));
        if (!name.isEmpty())
            name[0] = name[0].toUpper();
        v.rows.push_back({name,
                          k.kept ? QString() : QString::fromStdString(k.effect),
                          k.kept ? State::ok : State::warn,
                          {{ratio_words(k.ratio), k.ratio}}});
    }
    return v;
}

VerdictWords verdict_words(const TransferResult& r) {
    QStringList limits;
    for (const std::string& c : r.clamped)
        limits << limit_words(c);
    const QString held = limits.isEmpty() ? QString() : QObject::tr(" (%1)").arg(limits.join(u", "_s));
    if (r.wavelength_differs)
        return {State::fail,
                QObject::tr("Burn a new proof sheet: another wavelength is absorbed differently, and doses "
                            "say nothing.")};
    for (const Kept& k : r.report)
        if (!k.kept)
            return {r.verdict == TransferVerdict::new_proof_needed ? State::fail : State::warn,
                    (r.verdict == TransferVerdict::new_proof_needed
                         ? QObject::tr("Burn a new proof sheet: %1 cannot be kept%2.")
                         : QObject::tr("Close, burn a coupon: %1 cannot be kept%2."))
                        .arg(from_utf8(word(k.invariant)), held)};
    return {State::ok, QObject::tr("Equivalent: all that matters is kept%1.").arg(held)};
}

VerdictWords verdict_words(const TransferResult& result, const CarriedOutcome& outcome) {
    VerdictWords words = verdict_words(result);
    if (outcome.reasons.empty())
        return words;
    words.state = outcome.verdict == TransferVerdict::new_proof_needed ? State::fail : State::warn;
    QStringList reasons;
    for (const std::string& r : outcome.reasons)
        reasons << QString::fromStdString(r);
    words.text = (words.state == State::fail ? QObject::tr("Burn a new proof sheet. %1")
                                             : QObject::tr("Close, burn a coupon. %1"))
                     .arg(reasons.join(u' '));
    return words;
}

} // namespace finch::app
