// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/demo.h"

#include "evidence/learn.h"
#include "formats/data_folder.h"

#include <algorithm>

namespace finch::app {
namespace {

Recipe first_blue() {
    Recipe r;
    r.name = "noon line";
    r.process = Process::colour;
    r.setting = {13, kilohertz(300), nanoseconds(26), mm_per_second(990), mm(0.0035), 0, 1, mm(0)};
    return r;
}

} // namespace

Expected<Draft> blank_draft(const DataFolders& folders) {
    // The first that can be read: one broken file of many is no reason to stay closed.
    const auto benches = load_benches(folders);
    if (benches.empty())
        return failure("data.missing", "No bench was found that can be read.", "Restore data/benches.");
    const Bench& bench = benches.front();
    Draft d;
    d.setup.bench = bench;
    d.recipe = first_blue();
    d.recipe.name.clear();
    // Inside the limits of whatever bench it is.
    for (const Knob knob : all_knobs) {
        const KnobLimits limits = knob_limits(bench, knob);
        d.recipe = with_knob(d.recipe, knob, std::clamp(knob_value(d.recipe, knob), limits.low, limits.high));
    }
    d.target = named_targets().front();
    d.request.across = {Knob::scan_speed, 600, 1900, 8, Steps::ratio};
    d.request.down = {Knob::hatch_pitch, 0.003, 0.007, 6, Steps::ratio};
    d.operator_initials.clear();
    return d;
}

Expected<Draft> demo_draft(const DataFolders& folders) {
    auto d = blank_draft(folders);
    const auto bench = load_bench(folders, "wren");
    const auto stock = load_stock(folders, "sundial-316");
    if (!d || !bench || !stock)
        return tl::unexpected(!d ? d.error() : !bench ? bench.error() : stock.error());
    d->setup.bench = *bench;
    d->setup.stock = *stock;
    d->recipe = first_blue();
    d->operator_initials = "OD";
    d->aim.title = "Sundial hour bars";
    d->aim.place = "near the sea";
    d->aim.pieces = 24;
    d->aim.fill = {mm(20), 410};
    d->aim.working_part = true;
    Wish small = usual_wish(WishKind::fine_detail);
    small.value = 0.25;
    Wish rub = usual_wish(WishKind::abrasion, false);
    rub.value = 2;
    Wish quick = usual_wish(WishKind::minutes, false);
    quick.value = 6;
    Wish tilt = usual_wish(WishKind::viewing_angle);
    Wish rust = usual_wish(WishKind::corrosion_kept);
    rust.value = 2;
    d->aim.wishes = {usual_wish(WishKind::dark),       tilt, rust, rub, small, usual_wish(WishKind::stays_flat), quick,
                     usual_wish(WishKind::cost, false)};
    d->piece.file = std::filesystem::weakly_canonical(folders.shipped / "artwork" / "sundial-dial.svg").string();
    d->piece.layers = {{"ground", "#b8b8b8", false, {}, {}, {}},
                       {"numerals and lines", "#000000", false, {}, {}, {}},
                       {"accents", "#1f3f9f", false, first_blue(), evidence_key(d->setup), {}},
                       {"rim and holes", "#c06000", true, {}, {}, {}}};
    d->request.aim = "noon line in deep blue";
    for (const Target& t : named_targets())
        if (t.name == "deep blue")
            d->target = t;
    return d;
}

} // namespace finch::app
