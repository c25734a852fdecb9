// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "session_alone.h"

using namespace finch;
using namespace finch::app;
using namespace finch::tests;

namespace {

struct OnFrames {
    Session s;

    ProofSheet design(bool fresh = false) {
        s.flow.design(fresh);
        REQUIRE(QTest::qWaitFor([&] { return !s.flow.designing(); }, patience));
        return s.workbench.round()->sheet;
    }
    /// The same place is taken by cells of known settings, which need no search.
    ProofSheet more(std::size_t cells) {
        const Recipe& r = s.workbench.draft().recipe;
        s.flow.plan_cells(r, std::vector<Setting>(cells, r.setting), "more", "more of them");
        return s.workbench.round()->sheet;
    }
    void burn() {
        s.flow.burn();
        REQUIRE(s.laser.running());
        s.laser.finish();
        REQUIRE(s.camera.waiting());
        s.flow.cancel(); // the photograph is taken later
        REQUIRE(s.idle());
        s.time = s.time.addSecs(60);
    }
};

} // namespace

TEST_CASE_METHOD(OnFrames, "cells that are searched for go to the bare places of the frame as well", "[orders]") {
    const ProofSheet first = design();
    REQUIRE(first.frame);
    CHECK_FALSE(first.on_old_plate());
    CHECK(first.cells() >= first.own.size() + 6);
    burn();
    const ProofSheet second = design();
    REQUIRE(second.on_old_plate());
    CHECK(second.plate_number() == first.number);
    CHECK(second.first_own() == first.own.size());
    CHECK_FALSE(design(true).on_old_plate());
}

TEST_CASE_METHOD(OnFrames, "later rounds go to the bare places of the frame that lies there, and nowhere else",
                 "[orders]") {
    const ProofSheet first = more(8);
    REQUIRE(first.frame);
    CHECK(first.cells() >= first.own.size() + 6);
    // Not burned yet: there is no frame to go on with.
    CHECK_FALSE(more(3).on_old_plate());
    s.workbench.undo_stack().undo();
    s.flow.show_sheet(first.number);
    burn();
    CHECK(s.laser.last_piece == BenchLink::Piece::fresh);

    const ProofSheet second = more(3);
    REQUIRE(second.on_old_plate());
    CHECK(second.plate_number() == first.number);
    CHECK(second.first_own() == first.own.size());
    // Broken off: what was begun is not bare, whatever is undone, and is not burned on again.
    s.flow.burn();
    CHECK(s.laser.last_piece == BenchLink::Piece::same);
    CHECK(s.laser.last_steps == second.own.size()); // no marker and no letter
    s.flow.cancel();
    REQUIRE(QTest::qWaitFor([&] { return !s.laser.running(); }, patience));
    REQUIRE(s.idle());
    s.workbench.undo_stack().undo();
    s.workbench.undo_stack().redo();
    s.flow.show_sheet(second.number);
    s.flow.burn();
    CHECK_FALSE(s.laser.running());
    CHECK(s.said.back().first.contains(QStringLiteral("broken off")));
    s.workbench.undo_stack().undo();
    const ProofSheet third = more(2);
    CHECK(third.first_own() == second.first_own() + second.own.size());
    CHECK(draft_from_json(to_json(s.workbench.draft()), "")->begun == s.workbench.draft().begun);
    burn();

    SECTION("another piece was burned since: this frame does not lie there any more") {
        const ProofSheet fourth = more(1);
        REQUIRE(fourth.on_old_plate());
        s.flow.plan(false);
        burn();
        s.flow.show_sheet(fourth.number);
        s.flow.burn();
        CHECK_FALSE(s.laser.running());
        CHECK(s.said.back().first.contains(QStringLiteral("another piece was burned")));
        CHECK_FALSE(more(2).on_old_plate());
    }
    SECTION("another piece was put there, and its burning broken off: this frame does not lie there either") {
        const ProofSheet fourth = more(1);
        REQUIRE(fourth.on_old_plate());
        s.flow.plan(false);
        s.flow.burn();
        REQUIRE(s.laser.running());
        s.flow.cancel();
        REQUIRE(QTest::qWaitFor([&] { return !s.laser.running(); }, patience));
        REQUIRE(s.idle());
        s.flow.show_sheet(fourth.number);
        s.flow.burn();
        CHECK_FALSE(s.laser.running());
        CHECK(s.said.back().first.contains(QStringLiteral("another piece")));
        CHECK_FALSE(more(1).on_old_plate());
    }
    SECTION("a place that is bare or another round's is no cell of this sheet") {
        const Recipe before = s.workbench.draft().recipe;
        s.flow.show_sheet(third.number);
        for (const std::size_t place : {std::size_t{0}, third.cells() - 1})
            s.flow.choose_cell(place);
        CHECK_FALSE(s.workbench.draft().cell);
        CHECK(s.workbench.draft().recipe == before);
        s.flow.choose_cell(third.first_own());
        CHECK(s.workbench.draft().cell == third.first_own());
    }
    SECTION("another lot: a frame of its own") {
        s.workbench.change({}, {}, [](Draft& d) { d.setup.stock.lot = "another"; });
        CHECK_FALSE(more(2).on_old_plate());
    }
    SECTION("full: a frame of its own") {
        for (int i = 0; i < 9; ++i) {
            const ProofSheet next = more(3);
            if (!next.on_old_plate())
                return;
            CHECK(next.first_own() + next.own.size() <= first.cells());
            burn();
        }
        FAIL("the frame never was full");
    }
}
