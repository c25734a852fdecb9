// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/run/run_words.h"

#include "app/session/text.h"
#include "formats/job_outlines.h"
#include "piece/marking_order.h"
#include "piece/part_way.h"
#include "piece/piece_cost.h"
#include "quantity/format.h"

#include <algorithm>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr std::size_t most_events_shown = 60;

QString clock_of(const std::string& when_utc) {
    return QDateTime::fromString(from_utf8(when_utc), Qt::ISODate).toLocalTime().toString(u"HH:mm"_s);
}

State state_of(GateVerdict verdict) {
    return verdict == GateVerdict::fine ? State::ok : verdict == GateVerdict::care ? State::warn : State::fail;
}

const GateAnswer* answer_of(const RunFlow& run, const Gate& gate) {
    const auto at = std::ranges::find(run.answers(), gate.key, &GateAnswer::key);
    return at == run.answers().end() ? nullptr : &*at;
}

CheckRow row_of(const RunFlow& run, const Gate& gate) {
    CheckRow row{from_utf8(gate.title), from_utf8(gate.why), {}};
    row.key = from_utf8(gate.key);
    if (const auto verdict = verdict_at(gate, run.answers()))
        row.state = state_of(*verdict);
    const GateAnswer* answer = answer_of(run, gate);
    if (answer != nullptr)
        row.who = from_utf8(answer->by) + u' ' + clock_of(answer->when_utc);
    switch (gate.kind) {
    case GateKind::known:
        break;
    case GateKind::tick:
        row.box = true;
        break;
    case GateKind::frame:
        row.button = run.frame_waits()   ? QObject::tr("Next place")
                     : run.framing()     ? QObject::tr("It is shown")
                     : answer != nullptr ? QObject::tr("Show again")
                                         : QObject::tr("Show it");
        break;
    case GateKind::initials:
        row.button = answer != nullptr ? QObject::tr("%1 stays").arg(from_utf8(answer->choice)) : QObject::tr("I stay");
        break;
    case GateKind::choice:
        row.button = QObject::tr("Answer…");
        if (answer != nullptr)
            if (const auto c = std::ranges::find(gate.choices, answer->choice, &UnderChoice::key);
                c != gate.choices.end()) {
                row.why = from_utf8(c->words) + u". "_s + from_utf8(c->text);
                row.button = QObject::tr("Change…");
            }
        break;
    }
    return row;
}

QString event_title(const RunFlow& run, const RunEvent& e) {
    const ReadyJob* job = run.job();
    if (e.kind == RunEvent::Kind::passed && e.note.empty() && job != nullptr && e.portion >= 0 &&
        static_cast<std::size_t>(e.portion) < job->plan.size())
        return QObject::tr("Marked: %1").arg(portion_words(*job, job->plan[static_cast<std::size_t>(e.portion)]));
    return from_utf8(told(e));
}

QString job_name(const RunFlow& run) {
    const std::string& name = run.job() != nullptr ? run.job()->job.name : run.record().start.name;
    return name.empty() ? QObject::tr("a job") : from_utf8(name);
}

State event_state(RunEvent::Kind kind) {
    using Kind = RunEvent::Kind;
    return kind == Kind::faulted || kind == Kind::given_up ? State::fail
           : kind == Kind::held || kind == Kind::set_aside ? State::warn
                                                           : State::ok;
}

} // namespace

GateRows gate_rows(const RunFlow& run) {
    GateRows out;
    const auto group = [&](const QString& title, bool known) {
        std::size_t all = 0, done = 0;
        out.rows.push_back({title, {}, {}, {}, false, {}, true});
        out.of.push_back(nullptr);
        const std::size_t head = out.rows.size() - 1;
        for (const Gate& g : run.gates())
            if ((g.kind == GateKind::known) == known) {
                out.rows.push_back(row_of(run, g));
                out.of.push_back(&g);
                ++all;
                const auto verdict = verdict_at(g, run.answers());
                done += verdict && *verdict != GateVerdict::refused ? 1 : 0;
            }
        out.rows[head].who = QObject::tr("%1 of %2").arg(done).arg(all);
    };
    group(QObject::tr("Asked of you"), false);
    group(QObject::tr("Known to the program"), true);
    return out;
}

QString lock_words(const RunFlow& run) {
    const auto locked = run.locked();
    if (locked.empty())
        return QObject::tr("Nothing locks the start.");
    QStringList first;
    for (std::size_t i = 0; i < locked.size() && i < 3; ++i)
        first << from_utf8(locked[i]);
    const auto more = static_cast<int>(locked.size()) - static_cast<int>(first.size());
    return QObject::tr("The start is locked by %1: %2%3")
        .arg(locked.size() == 1 ? QObject::tr("one thing") : QObject::tr("%1 things").arg(locked.size()),
             first.join(u"; "_s),
             more > 0                           ? QObject::tr("; and %1 more.").arg(more)
             : first.constLast().endsWith(u'?') ? QString()
                                                : u"."_s);
}

std::vector<CheckRow> event_rows(const RunFlow& run) {
    std::vector<CheckRow> out;
    const auto& events = run.record().events;
    for (auto e = events.rbegin(); e != events.rend() && out.size() < most_events_shown; ++e)
        if (const QString title = event_title(run, *e); !title.isEmpty())
            out.push_back({title, {}, clock_of(e->when_utc), event_state(e->kind)});
    return out;
}

RunPicture run_outlines(const ReadyJob& ready) {
    const Job& job = ready.job;
    RunPicture out;
    JobOutlines drawn = job_outlines(job);
    out.marks = std::move(drawn.marks), out.guides = std::move(drawn.guides);
    const auto [width, height] = drawn_size(job);
    out.width_mm = width, out.height_mm = height;
    const auto places = places_of(job);
    const bool in_parts = std::ranges::any_of(places, [](const JobPlace& p) { return p.only.has_value(); });
    const QRectF one = out.marks.boundingRect().united(out.guides.boundingRect());
    for (const JobPlace& p : places) {
        RunPicture::Part part{p.number, {}, p.only ? PointMm{} : p.by, !p.only};
        part.box = p.only               ? QRectF(p.only->x, p.only->y, p.only->w, p.only->h)
                   : places.size() == 1 ? QRectF(0, 0, job.width_mm, job.height_mm)
                                        : one.translated(p.by.x, p.by.y);
        part.only = own_outlines(job, p);
        out.parts.push_back(part);
    }
    if (!in_parts) {
        const double field = in_mm(job.setup.bench.lens().field);
        out.field = QRectF(0.5 * (job.width_mm - field), 0.5 * (job.height_mm - field), field, field);
        const RectMm box = marked_box(job);
        out.frame = QRectF(box.x, box.y, box.w, box.h);
    }
    out.part_word = place_word(places.front());
    out.numbered = !job.places.empty();
    return out;
}

void show_stand(RunPicture& picture, const RunFlow& run) {
    using Stand = RunPicture::Stand;
    const ReadyJob* job = run.job();
    if (job == nullptr)
        return;
    const auto places = places_of(job->job);
    const auto at = run.at_hand();
    std::vector<double> all(places.size()), done(places.size());
    for (std::size_t i = 0; i < job->plan.size(); ++i) {
        const RunPortion& p = job->plan[i];
        all.at(p.place) += p.likely_s;
        if (i < run.stand().passed.size() && run.stand().passed[i])
            done.at(p.place) += p.likely_s;
        else if (at == i && run.under_way())
            done.at(p.place) += p.likely_s * run.share();
    }
    for (std::size_t i = 0; i < picture.parts.size() && i < places.size(); ++i) {
        RunPicture::Part& part = picture.parts[i];
        part.share = all[i] > 0 ? done[i] / all[i] : 0;
        part.stand = run.stand().aside.contains(part.number)              ? Stand::aside
                     : part.share > 1 - 1e-9                              ? Stand::done
                     : run.under_way() && at && job->plan[*at].place == i ? Stand::now
                                                                          : Stand::waits;
    }
    picture.words = run_title(run) + u". "_s + run_under(run);
}

RunBarPicture run_bar(const RunFlow& run, const QDateTime& now) {
    RunBarPicture out;
    const ReadyJob* job = run.job();
    if (job == nullptr)
        return out;
    const auto places = places_of(job->job);
    const auto at = run.at_hand();
    std::pair<std::size_t, std::size_t> last{~std::size_t{0}, ~std::size_t{0}};
    for (std::size_t i = 0; i < job->plan.size(); ++i) {
        const RunPortion& p = job->plan[i];
        // In turn the parts come again and again: their layers are one after the other.
        const bool by_place = !job->job.places.empty() && !marked_in_turn(job->job);
        const std::pair key{by_place ? p.place : 0, by_place ? 0 : p.layer};
        if (key != last) {
            last = key;
            out.spans.push_back(
                {0, 0,
                 by_place ? QString::number(places.at(p.place).number) : from_utf8(job->job.layers.at(p.layer).name)});
        }
        out.spans.back().seconds += p.likely_s;
        out.spans.back().now = out.spans.back().now || at == i;
        if (i < run.stand().passed.size() && run.stand().passed[i])
            out.spans.back().done_s += p.likely_s;
        else if (at == i && run.under_way())
            out.spans.back().done_s += p.likely_s * run.share();
    }
    const double left = run.left_s();
    out.words = run.under_way() ? QObject::tr("%1 of marking left; it would end about %2 on this bench.")
                                      .arg(screen_duration(left),
                                           now.addMSecs(std::llround(1000 * left)).toLocalTime().toString(u"HH:mm"_s))
                                : QObject::tr("%1 of marking.").arg(screen_duration(left));
    return out;
}

QString run_title(const RunFlow& run) {
    switch (run.step()) {
    case RunFlow::Step::none:
        return QObject::tr("Nothing to run yet");
    case RunFlow::Step::asking:
        return QObject::tr("Before the start");
    case RunFlow::Step::left:
        return QObject::tr("A run was left");
    case RunFlow::Step::running:
        return QObject::tr("Marking %1").arg(job_name(run));
    case RunFlow::Step::held:
        return QObject::tr("Beam off: %1").arg(job_name(run));
    case RunFlow::Step::hands:
        return QObject::tr("Waits for hands: %1").arg(job_name(run));
    case RunFlow::Step::over:
        return QObject::tr("Over: %1").arg(job_name(run));
    }
    return {};
}

QString run_under(const RunFlow& run) {
    const ReadyJob* job = run.job();
    const RunStart& start = run.record().start;
    if (run.step() == RunFlow::Step::left)
        return QObject::tr("%1, begun %2: %3 of %4 passes are written down")
            .arg(start.name.empty() ? QObject::tr("A job") : from_utf8(start.name), clock_of(start.when_utc))
            .arg(run.stand().done())
            .arg(start.portions);
    if (job == nullptr)
        return QObject::tr("A piece is handed over on the Piece station");
    const auto places = places_of(job->job).size();
    if (run.step() == RunFlow::Step::asking)
        return QObject::tr("%1; %2 in %3 passes, %4")
            .arg(from_utf8(job->job.name), places == 1 ? QObject::tr("one part") : QObject::tr("%1 places").arg(places))
            .arg(job->plan.size())
            .arg(screen_duration(job->risks.lasts_s));
    if (run.step() == RunFlow::Step::over)
        return end_words(run);
    const auto at = run.at_hand();
    return (at ? portion_words(*job, job->plan[*at]) : QString()) +
           QObject::tr("; %1 of %2 passes done").arg(run.stand().done()).arg(job->plan.size());
}

QString look_words(const RunFlow& run, const Workbench& workbench) {
    const ReadyJob* job = run.job();
    const auto at = run.at_hand();
    if (job == nullptr || !at)
        return {};
    const RunPortion& p = job->plan[*at];
    const auto own = own_scene(workbench.shared_materials(), job->job.setup,
                               workbench.ledger().evidence(evidence_key(job->job.setup)));
    if (!own)
        return {};
    const auto look = part_way(own->scene(), job->job.layers.at(p.layer), p.pass + 1);
    if (!look)
        return from_utf8(look.error().message);
    QStringList words;
    if (!look->look.empty())
        words << QObject::tr("%1, L* %2 ± %3")
                     .arg(from_utf8(look->look), screen_number(*look->l, 2),
                          screen_number(look->l_spread.value_or(0), 2));
    if (look->depth_um > 0.05)
        words << QObject::tr("floor at %1 µm, %2 to %3")
                     .arg(screen_number(look->depth_um),
                          screen_number(look->least_um, band_digits(look->least_um, look->most_um)),
                          screen_number(look->most_um, band_digits(look->least_um, look->most_um)));
    QString out = words.isEmpty() ? QObject::tr("No look is predicted of it.") : words.join(u"; "_s) + u'.';
    if (!look->stage.empty())
        out += u' ' + from_utf8(look->stage);
    return out;
}

QString attendance_words(const RunFlow& run, const QDateTime& now) {
    if (!run.look_by())
        return {};
    const qint64 s = now.secsTo(*run.look_by());
    const QString by = run.look_by()->toLocalTime().toString(u"HH:mm"_s);
    return s >= 0 ? QObject::tr("Next look by %1, in %2. If nobody answers, the beam stops when the pass ends.")
                        .arg(by, screen_duration(static_cast<double>(s)))
                  : QObject::tr("Nobody looked by %1: the beam stops when the pass ends.").arg(by);
}

QString end_words(const RunFlow& run) {
    const RunStand& s = run.stand();
    const bool whole = !run.record().events.empty() && run.record().events.back().kind == RunEvent::Kind::ended;
    QString words = whole
                        ? QObject::tr("All %1 passes are marked, in %2").arg(s.done()).arg(screen_duration(s.time_s))
                        : QObject::tr("Given up after %1 of %2 passes").arg(s.done()).arg(run.record().start.portions);
    if (!s.aside.empty())
        words += QObject::tr("; set aside: %1").arg(s.aside.size());
    if (s.beside_mm > 0.01)
        words += QObject::tr("; %1 mm of lines lie beside the parts").arg(screen_number(s.beside_mm, 2));
    return words;
}

QString after_words(const RunFlow& run, const Materials& materials) {
    const auto& events = run.record().events;
    if (run.job() == nullptr || events.empty() || events.back().kind != RunEvent::Kind::ended)
        return {};
    return from_utf8(after_work(materials, run.job()->job).words);
}

} // namespace finch::app
