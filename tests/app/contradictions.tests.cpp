// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// No two numbers on the consequences panel contradict each other, whatever is set.
#include "app/session/demo.h"
#include "app/shell/consequences_view.h"
#include "demo_bench.h"

#include <catch2/catch.hpp>
#include <random>

using namespace finch;
using namespace finch::app;
using namespace finch::tests;
using namespace Qt::StringLiterals;

namespace {

double first_number(QString text) {
    text = text.section(u' ', 0, 0);
    text.remove(QChar(0x2009)).remove(QChar(0x202f));
    return text.toDouble();
}

struct Shown {
    QString effect;
    double percent = -1;
    std::optional<double> film_nm, removed_um;
    QString burn;
    std::optional<double> melting_room;
};

Shown read(const ConsequencesView& v) {
    Shown out;
    for (const NumberLine& l : v.numbers) {
        if (l.why == Quantity::outcome) {
            out.effect = l.name.section(u", else "_s, 0, 0).toLower();
            out.percent = l.value.startsWith(u'>') ? 100 : l.value.toDouble();
        } else if (l.name == u"Oxide film"_s)
            out.film_nm = first_number(l.value);
        else if (l.name == u"Metal removed"_s)
            out.removed_um = first_number(l.value);
        else if (l.name == u"Burn-through"_s)
            out.burn = l.value;
        else if (l.name == u"Margin to melting"_s)
            out.melting_room = l.value.toDouble();
    }
    return out;
}

} // namespace

TEST_CASE("no two numbers of the consequences contradict each other on five hundred random settings", "[window]") {
    static const std::array metals{"stainless-304", "stainless-316", "stainless-430", "mild-steel", "tool-steel",
                                   "titanium-2",    "aluminium",     "brass",         "copper"};
    static const std::array processes{Process::anneal, Process::colour, Process::frost, Process::engrave,
                                      Process::deep_engrave};
    Workbench w(load_materials(FINCH_SOURCE "/data").value(), demo_draft(FINCH_SOURCE "/data").value(),
                [] { return QDateTime(QDate(2026, 11, 24), QTime(9, 12)); });
    std::mt19937_64 rng(77);
    const auto log_between = [&](double low, double high) {
        return low * std::pow(high / low, static_cast<double>(rng() >> 11) / 9007199254740992.0);
    };
    int films = 0, cuts = 0, melted = 0, through = 0;
    for (int i = 0; i < 500; ++i) {
        w.note([&](Draft& d) {
            d.setup.stock.metal = metals[rng() % metals.size()];
            d.setup.stock.coating = Coating::none;
            d.setup.stock.thickness = mm(log_between(0.05, 6));
            d.recipe.process = processes[rng() % processes.size()];
            d.recipe.setting = {log_between(3, 100),
                                kilohertz(log_between(20, 1200)),
                                nanoseconds(log_between(3, 340)),
                                mm_per_second(log_between(20, 6000)),
                                mm(log_between(0.002, 0.1)),
                                0,
                                rng() % 3 == 0 ? static_cast<int>(log_between(2, 200)) : 1,
                                mm(0)};
        });
        const Setup& setup = w.draft().setup;
        const Recipe& r = w.draft().recipe;
        const ConsequencesView v = consequences_view(w, 0);
        if (!v.computed)
            continue;
        const Prediction& p = *w.prediction();
        const Shown s = read(v);
        INFO(setup.stock.metal << " " << to_json(r).dump() << ": " << told_words(p.shares));
        const bool film = s.effect == u"tint"_s || s.effect == u"colour"_s || s.effect == u"dark"_s;
        const bool goes = s.effect == u"removes"_s || s.effect == u"cuts through"_s;
        CHECK(s.percent > 0);
        // A metal without a film model tarnishes without a thickness.
        if (film && p.mark.oxide.thickness_m > 0) {
            ++films;
            CHECK(s.film_nm.value_or(0) > 0);
            CHECK(v.swatch.valid);
        } else {
            CHECK_FALSE(s.film_nm);
            CHECK((!v.swatch.valid || s.effect == u"no mark"_s));
        }
        if (goes) {
            ++cuts;
            CHECK(s.removed_um.value_or(0) > 0);
        }
        if (film && s.removed_um)
            CHECK(*s.removed_um == 0);
        if (s.effect == u"cuts through"_s) {
            ++through;
            CHECK(*s.removed_um >= 0.45 * in_micrometres(setup.stock.thickness));
            CHECK(s.burn == u"likely"_s);
        }
        if (s.removed_um)
            CHECK(*s.removed_um <= in_micrometres(setup.stock.thickness) * 1.05); // two digits
        if (s.effect == u"melts"_s) {
            ++melted;
            CHECK(s.melting_room.value_or(0) < 25);
        }
        if (p.burn_index >= 0.3)
            CHECK(s.burn == (p.burn_index < 0.5 ? u"low"_s : p.burn_index < 1 ? u"caution"_s : u"likely"_s));
        // The ladders stand where the numbers stand: what is most likely there is what is told.
        for (const LadderView* ladder : {&v.dose, &v.fluence})
            for (const auto& shared : ladder->shared)
                CHECK(shared.upto.back() == Approx(1));
    }
    INFO(films << " films, " << cuts << " cuts, " << melted << " melted, " << through << " through");
    CHECK(films > 60);
    CHECK(cuts > 60);
    CHECK(through > 5);
    CHECK(melted > 3);
}
