// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/demo.h"
#include "app/session/proof_flow.h"
#include "demo_plate.h"
#include "fake_bench.h"
#include "patience.h"
#include "record/logbook.h"
#include "record/outbox.h"

#include <catch2/catch.hpp>
#include <QTemporaryDir>
#include <QtTest/QTest>

namespace finch::tests {

using app::Workbench, app::Recorder, app::ProofFlow, app::State, app::demo_draft;

/// The session over a fake bench: everything but the window.
struct Session {
    QTemporaryDir folder;
    QDateTime time{QDate(2026, 11, 24), QTime(9, 12)};
    Workbench workbench{load_materials(FINCH_SOURCE "/data").value(), demo_draft(FINCH_SOURCE "/data").value(),
                        [this] { return time; }};
    Recorder recorder{
        {folder.filePath(QStringLiteral("logbook.sqlite")), folder.filePath(QStringLiteral("outbox")), false, 50}};
    FakeBench laser;
    FakeCamera camera;
    FakeGauge gauge;
    ProofFlow flow{workbench, recorder, laser, camera, gauge};
    std::vector<std::pair<QString, State>> said;

    Session() {
        QObject::connect(&workbench, &Workbench::said, &workbench,
                         [this](const QString& text, State state) { said.emplace_back(text, state); });
        workbench.confirm_focus();
    }
    /// All that is in the logbook, once everything that was recorded has arrived.
    std::vector<Entry> entries() {
        REQUIRE(QTest::qWaitFor([this] { return recorder.waiting() + recorder.at_risk() == 0; }, patience));
        const auto book = Logbook::open(folder.filePath(QStringLiteral("logbook.sqlite"))).value();
        std::vector<Entry> out;
        const auto heads = book->list().value();
        for (const Entry& head : heads)
            out.push_back(book->entry(head.id).value());
        return out;
    }
    std::size_t count(EntryKind kind) {
        const auto all = entries();
        return static_cast<std::size_t>(
            std::count_if(all.begin(), all.end(), [kind](const Entry& e) { return e.kind == kind; }));
    }
    bool idle() {
        return QTest::qWaitFor([this] { return flow.step() == ProofFlow::Step::idle; }, patience);
    }
    /// The photograph that the stand-in's camera would take of a sheet.
    static QByteArray photo_of(const ProofSheet& sheet) {
        const DemoBench demo;
        standin::Shot shot;
        shot.seed = 3;
        shot.glares = 0;
        shot.white_card = layout(sheet).white_card;
        const auto bench = standin::draw_world(standin::Grade::honest, 5);
        return standin::encoded(
            standin::photograph(burned(demo, sheet, bench), standin::draw_camera(bench.grade, 5), shot));
    }
};

} // namespace finch::tests
