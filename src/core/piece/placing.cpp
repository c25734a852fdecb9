// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/placing.h"

#include "bench/field.h"
#include "bench/lens.h"
#include "bench/round_part.h"
#include "piece/marking_order.h"
#include "piece/scan_time.h"
#include "quantity/angles.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <limits>

namespace finch {
namespace {

constexpr std::size_t most_parts = 1000, choices_shown = 3;
constexpr int shifts_tried = 24;
constexpr double mirror_mm = 3; ///< round the middle of the field, from where bare metal shines back into the lens

/// The drawing turned to the left and mirrored, with its page round it again.
Job turned(Job job, const PlaceRules& rules) {
    const double a = rules.turn_deg * pi / 180, quarter = std::remainder(rules.turn_deg, 90);
    const double c = quarter == 0 ? std::round(std::cos(a)) : std::cos(a),
                 s = quarter == 0 ? std::round(std::sin(a)) : std::sin(a);
    const double w = std::abs(c) * job.width_mm + std::abs(s) * job.height_mm,
                 h = std::abs(s) * job.width_mm + std::abs(c) * job.height_mm;
    const bool moves = rules.turn_deg != 0 || rules.mirrored;
    for (JobLayer& l : job.layers) {
        if (!moves)
            break;
        for (auto& ring : l.region.rings) {
            for (PointMm& p : ring) {
                const double x = (rules.mirrored ? -1 : 1) * (p.x - 0.5 * job.width_mm), y = p.y - 0.5 * job.height_mm;
                p = {0.5 * w + c * x - s * y, 0.5 * h + s * x + c * y};
            }
            if (rules.mirrored)
                std::ranges::reverse(ring); // rings go round what is marked
        }
        if (l.recipe)
            l.recipe->setting.hatch_angle_deg =
                std::fmod((rules.mirrored ? -1 : 1) * l.recipe->setting.hatch_angle_deg + rules.turn_deg + 3600, 360);
    }
    job.width_mm = w;
    job.height_mm = h;
    return job;
}

void add(std::vector<Finding>& to, const char* code, Severity severity, std::string message, std::string remedy = {}) {
    to.push_back({code, severity, std::nullopt, std::move(message), std::move(remedy)});
}

/// Shapes of what is marked, from where to where along x.
std::vector<std::pair<double, double>> spans_of(const Job& job) {
    std::vector<std::pair<double, double>> out;
    for (const JobLayer& l : job.layers) {
        if (l.guide || !l.only_at.empty())
            continue;
        for (const auto& ring : l.region.rings) {
            const auto [a, b] = std::ranges::minmax(ring, {}, &PointMm::x);
            out.emplace_back(a.x, b.x);
        }
    }
    return out;
}

Expected<Placed> as_drawn(Placed out, const PlaceRules& rules) {
    Job& job = out.job;
    const double field = in_mm(job.setup.bench.lens().field);
    const auto fits =
        rectangle_in_field(std::max(job.width_mm, job.height_mm), std::min(job.width_mm, job.height_mm), field);
    if (std::max(job.width_mm, job.height_mm) > field + 1e-9)
        add(out.findings, "place.field", Severity::warning,
            fmt::format("The page of {:.4g} by {:.4g} mm is larger than the field of {:.4g} mm.", job.width_mm,
                        job.height_mm, field),
            fits && fits->fits ? "It fits when it is turned to the diagonal."
                               : "Take tiles, or a lens with a larger field.");
    if (rules.shift.x != 0 || rules.shift.y != 0)
        job.places = {{1, rules.shift}};
    const RectMm middle{0.5 * job.width_mm - rules.shift.x - mirror_mm, 0.5 * job.height_mm - rules.shift.y - mirror_mm,
                        2 * mirror_mm, 2 * mirror_mm};
    for (const JobLayer& l : job.layers) {
        if (l.guide)
            continue;
        const auto near = within(l.region, middle);
        if (!near || near->empty())
            continue;
        add(out.findings, "place.mirror", Severity::note,
            fmt::format(
                "Marks lie within {:.0f} mm of the middle of the field, where bare metal mirrors the beam back.",
                mirror_mm),
            "Shift the part a few millimetres where marks are delicate.");
        break;
    }
    return out;
}

Expected<Placed> in_tiles(Placed out, const TileRules& rules) {
    Job& job = out.job;
    const double field = in_mm(job.setup.bench.lens().field), room = field - 2 * rules.margin_mm;
    const double beside = rules.cross_mm > 0 ? rules.cross_mm + 1 : 0; // of the work, for crosses
    if (!(room > 2 * beside + 1))
        return failure("place.field", "The margins leave no field.", "Take smaller ones.");
    const auto count = [](double length, double free) {
        return std::max(1, static_cast<int>(std::ceil(length / free - 1e-9)));
    };
    int across = count(job.width_mm, room), down = count(job.height_mm, room);
    // Crosses lie beside the work, along its seams.
    if (across > 1 && job.height_mm + 2 * beside > room * down)
        down = count(job.height_mm + 2 * beside, room);
    if (down > 1 && across == 1 && job.width_mm + 2 * beside > room)
        across = count(job.width_mm + 2 * beside, room);
    if (static_cast<std::size_t>(across) * static_cast<std::size_t>(down) > most_parts)
        return failure("place.tiles", fmt::format("{} by {} tiles are not planned.", across, down),
                       "Check the unit of the drawing.");
    const double w = job.width_mm / across, h = job.height_mm / down;
    const double left = down > 1 ? beside : 0, low = across > 1 ? beside : 0; // room for crosses on the page
    for (JobLayer& l : job.layers)
        for (auto& ring : l.region.rings)
            for (PointMm& p : ring)
                p.x += left, p.y += low;
    const auto number = [&](int i, int k) { return k * across + (k % 2 == 0 ? i : across - 1 - i) + 1; };
    for (int k = 0; k < down; ++k)
        for (int n = 0; n < across; ++n) {
            const int i = k % 2 == 0 ? n : across - 1 - n; // to and fro: the work is moved by one tile at a time
            const RectMm box{left + i * w, low + k * h, w, h};
            JobPlace place{number(i, k), {left - box.x, low - box.y}, box, {}, true};
            job.places.push_back(place);
        }
    // Both crosses of a seam are burned by the earlier tile, and shown where the later one finds them.
    const JobLayer* first = nullptr;
    for (const JobLayer& l : job.layers)
        if (!l.guide && l.recipe && first == nullptr)
            first = &l;
    if (rules.cross_mm > 0 && first != nullptr && across * down > 1) {
        Recipe once = with_knob(*first->recipe, Knob::passes, 1);
        once.cross_hatch = false;
        std::vector<JobLayer> crosses;
        const auto cross = [&](PointMm at, int earlier, int later) {
            const double r = 0.5 * rules.cross_mm, t = std::max(0.05, 0.025 * rules.cross_mm);
            const Region region{{{{at.x - r, at.y - t},
                                  {at.x - t, at.y - t},
                                  {at.x - t, at.y - r},
                                  {at.x + t, at.y - r},
                                  {at.x + t, at.y - t},
                                  {at.x + r, at.y - t},
                                  {at.x + r, at.y + t},
                                  {at.x + t, at.y + t},
                                  {at.x + t, at.y + r},
                                  {at.x - t, at.y + r},
                                  {at.x - t, at.y + t},
                                  {at.x - r, at.y + t}}}};
            const std::string name = fmt::format("cross {} to {}", std::min(earlier, later), std::max(earlier, later));
            crosses.push_back({name, "#404040", false, once, region, false, {std::min(earlier, later)}});
            crosses.push_back({name + ", shown", "#404040", true, {}, region, false, {std::max(earlier, later)}});
        };
        for (int k = 0; k < down; ++k)
            for (int i = 0; i + 1 < across; ++i)
                for (const double y : {0.5 * (low - 1), low + job.height_mm + 0.5 * (low + 1)})
                    if ((k == 0 && y < low) || (k + 1 == down && y > low))
                        cross({left + (i + 1) * w, y}, number(i, k), number(i + 1, k));
        for (int k = 0; k + 1 < down; ++k)
            for (const double x : {0.5 * (left - 1), left + job.width_mm + 0.5 * (left + 1)}) {
                const int i = x < left ? 0 : across - 1;
                cross({x, low + (k + 1) * h}, number(i, k), number(i, k + 1));
            }
        job.layers.insert(job.layers.end(), crosses.begin(), crosses.end());
        add(out.findings, "place.crosses", Severity::note,
            "Crosses are burned beside the work: on the jig, or on a margin that is cut off.",
            "Line up the pointer with both before each next tile.");
    }
    std::ranges::sort(job.places, {}, &JobPlace::number);
    job.width_mm = w + 2 * left;
    job.height_mm = h + 2 * low;
    int seams = 0;
    for (const auto& [a, b] : spans_of(job))
        for (int i = 1; i < across; ++i)
            seams += a < left + i * w - 1e-6 && b > left + i * w + 1e-6 ? 1 : 0;
    if (across * down > 1)
        add(out.findings, "place.seams", seams > 0 ? Severity::warning : Severity::note,
            seams > 0 ? fmt::format("{} outlines are cut by a seam between {} tiles: a step of the reload shows there.",
                                    seams, across * down)
                      : fmt::format("{} tiles; no seam goes through a mark.", across * down),
            seams > 0 ? "Shift the seams by another margin, or line up under a loupe." : "");
    out.move_s = rules.reload_s;
    return out;
}

/// Where seams of a pitch cut the fewest marks, and how many.
std::pair<double, int> best_shift(const std::vector<std::pair<double, double>>& spans, double strip, double end) {
    std::pair<double, int> best{0, 1 << 30};
    for (int t = 0; t < shifts_tried; ++t) {
        const double shift = strip * t / shifts_tried;
        int cut = 0;
        for (const auto& [a, b] : spans) {
            // Whether a seam lies strictly inside.
            const double seam = shift + strip * std::ceil((a + 1e-6 - shift) / strip);
            cut += seam < b - 1e-6 && seam < end - 1e-6 && seam > 1e-6 ? 1 : 0;
        }
        if (cut < best.second)
            best = {shift, cut};
    }
    return best;
}

Expected<Placed> round_part(Placed out, const RoundRules& rules) {
    Job& job = out.job;
    const Bench& bench = job.setup.bench;
    if (!bench.rotary)
        return failure("place.no_rotary", fmt::format("{} has no rotary.", bench.name),
                       "Take a bench that has one, or say on the Bench station that this one has.");
    const auto steps = rotary_steps(bench.rotary->motor_steps, bench.rotary->microsteps, bench.rotary->gear);
    if (!steps)
        return tl::unexpected(steps.error());
    RoundPlan plan;
    plan.steps_per_turn = *steps;
    // Of the layer that is nearest to where its spot changes.
    constexpr double growth_allowed = 1.1;
    const BeamWaist beam = waist(bench.lens(), bench.source.wavelength);
    plan.half_depth_mm = std::numeric_limits<double>::infinity();
    for (const JobLayer& l : job.layers)
        if (!l.guide && l.recipe)
            plan.half_depth_mm =
                std::min(plan.half_depth_mm, in_mm(depth_about(beam, l.recipe->setting.focus_offset, growth_allowed)));
    if (!std::isfinite(plan.half_depth_mm)) // no recipe yet: in focus
        plan.half_depth_mm = in_mm(depth_for_growth(beam, growth_allowed));
    ConeJob cone{rules.small_mm, rules.large_mm,    rules.length_mm, rules.middle_mm - 0.5 * job.height_mm,
                 job.height_mm,  plan.half_depth_mm};
    if (cone.band_from_mm < 0 && cone.band_from_mm > -1e-9)
        cone.band_from_mm = 0;
    if (cone.band_from_mm < 0)
        return failure("setup.band", "The drawing leaves the part at its small end.",
                       "Move its middle, or make it lower.");
    const auto band = cone_band(cone);
    if (!band)
        return tl::unexpected(band.error());
    plan.diameter_mm = band->centre_diameter_mm;
    const double growth = (rules.large_mm - rules.small_mm) / rules.length_mm;
    plan.from_mm = rules.small_mm + growth * cone.band_from_mm;
    plan.to_mm = plan.from_mm + growth * cone.band_mm;
    plan.half_angle_deg = band->half_angle_deg;
    plan.taper_mm = band->end_error_mm;
    plan.wrap_mm = pi * plan.diameter_mm;
    if (rules.full_turn) {
        plan.stretch = plan.wrap_mm / job.width_mm;
        for (JobLayer& l : job.layers)
            for (auto& ring : l.region.rings)
                for (PointMm& p : ring)
                    p.x *= plan.stretch;
        job.width_mm = plan.wrap_mm;
        if (std::abs(plan.stretch - 1) > 0.02)
            add(out.findings, "round.stretch", Severity::warning,
                fmt::format("The drawing is stretched by {:.1f} % to go once round.", 100 * (plan.stretch - 1)),
                "Draw it as wide as the wrap.");
    }
    if (job.width_mm > plan.wrap_mm * (1 + 1e-6))
        return failure(
            "setup.arc",
            fmt::format("The drawing is {:.5g} mm wide, once round is {:.5g} mm.", job.width_mm, plan.wrap_mm),
            "Have it closed once round, or make it narrower.");
    double pitch = 0;
    for (const JobLayer& l : job.layers)
        if (!l.guide && l.recipe)
            pitch = pitch == 0 ? in_mm(l.recipe->setting.hatch_pitch)
                               : std::min(pitch, in_mm(l.recipe->setting.hatch_pitch));
    if (pitch == 0)
        return failure("job.no_recipe", "No layer has a recipe: how close its lines lie is not known.",
                       "Give one to a layer.");
    CylinderJob cylinder{plan.diameter_mm, job.width_mm, pitch, plan.half_depth_mm};
    cylinder.taper_range_mm = band->taper_range_mm;
    const auto split = cylinder_split(cylinder);
    if (!split)
        return tl::unexpected(split.error());
    // Strips of whole steps: on a full turn their number divides the steps of a turn.
    const bool closes = job.width_mm > plan.wrap_mm * (1 - 1e-6);
    const double step_mm = plan.wrap_mm / plan.steps_per_turn;
    const auto spans = spans_of(job);
    const auto choice = [&](int strips) {
        StripChoice c;
        c.strips = strips;
        c.steps_each = std::max(1.0, closes ? std::round(plan.steps_per_turn / strips)
                                            : std::ceil(job.width_mm / strips / step_mm - 1e-9));
        c.strip_mm = c.steps_each * step_mm;
        c.strip_deg = 360 * c.steps_each / plan.steps_per_turn;
        c.lines_each = std::max(1, static_cast<int>(std::lround(c.strip_mm / pitch)));
        c.pitch_mm = c.strip_mm / c.lines_each;
        c.pitch_change = c.pitch_mm / pitch - 1;
        const double r = 0.5 * plan.diameter_mm;
        c.sag_mm = sagitta_mm(r, 2 * r * std::sin(std::min(pi, c.strip_mm / r) / 2)).value_or(r);
        c.room_mm = 0.5 * c.sag_mm + plan.taper_mm;
        c.in_focus = c.room_mm <= plan.half_depth_mm + 1e-9 && c.strip_deg <= 2 * cylinder.widest_angle_deg + 1e-9;
        std::tie(c.shift_mm, c.seams_cut) = best_shift(spans, c.strip_mm, job.width_mm);
        return c;
    };
    const auto divides = [&](int n) {
        const double each = plan.steps_per_turn / n;
        return !closes || std::abs(each - std::round(each)) < 1e-9;
    };
    if (rules.strips > 0 && !divides(rules.strips))
        add(out.findings, "round.steps", Severity::warning,
            fmt::format("{} strips are no whole steps each: {:.6g} make a turn, and the seam drifts.", rules.strips,
                        plan.steps_per_turn),
            "Take a number that divides them.");
    const int fewest = std::max(1, split->strips), most = static_cast<int>(std::min(plan.steps_per_turn, 20'000.0));
    for (int n = fewest; n <= most && plan.choices.size() < choices_shown; n += closes ? 1 : std::max(1, n / 4))
        if (divides(n)) {
            const StripChoice c = choice(n);
            if (plan.choices.empty() || c.steps_each < plan.choices.back().steps_each)
                plan.choices.push_back(c);
        }
    if (rules.strips > 0 &&
        std::ranges::none_of(plan.choices, [&](const StripChoice& c) { return c.strips == rules.strips; }))
        plan.choices.push_back(choice(rules.strips));
    if (plan.choices.empty())
        return failure("round.steps", "No number of strips is whole steps each.", "Check the steps of the rotary.");
    for (std::size_t i = 0; i < plan.choices.size(); ++i) {
        const StripChoice &c = plan.choices[i], &best = plan.choices[plan.taken];
        const bool better = rules.strips > 0 ? c.strips == rules.strips
                                             : c.in_focus && (!best.in_focus || c.seams_cut < best.seams_cut);
        if (better)
            plan.taken = i;
    }
    const StripChoice& c = plan.choices[plan.taken];
    // Lines along the axis, in whole numbers; nothing turns or crosses.
    bool crossed = false, otherwise = false, outlined = false;
    for (JobLayer& l : job.layers)
        if (!l.guide && l.recipe) {
            Recipe& r = *l.recipe;
            outlined = outlined || l.contours > 0;
            l.contours = 0;
            crossed = crossed || r.cross_hatch || r.turn_per_pass_deg != 0;
            otherwise = otherwise || std::abs(std::remainder(r.setting.hatch_angle_deg - 90, 180)) > 1e-9;
            r.cross_hatch = false;
            r.turn_per_pass_deg = 0;
            r.setting.hatch_angle_deg = 90;
            const int lines = std::max(1, static_cast<int>(std::lround(c.strip_mm / in_mm(r.setting.hatch_pitch))));
            r.setting.hatch_pitch = mm(c.strip_mm / lines);
        }
    if (crossed || otherwise)
        add(out.findings, "round.along_axis", Severity::note,
            crossed ? "On a turned part the hatch runs along the axis only: no turn, no crossing."
                    : "On a turned part the hatch runs along the axis.");
    if (outlined)
        add(out.findings, "round.no_contours", Severity::note,
            "On a turned part no contour is marked: it would be cut at every seam.");
    int number = 0;
    for (double from = c.shift_mm > 0 ? c.shift_mm - c.strip_mm : 0; from < job.width_mm - 1e-6; from += c.strip_mm) {
        const double a = std::max(0.0, from), b = std::min(job.width_mm, from + c.strip_mm),
                     middle = from + 0.5 * c.strip_mm;
        job.places.push_back({++number,
                              {0.5 * c.strip_mm - middle, 0},
                              RectMm{a, 0, b - a, job.height_mm},
                              360 * middle / plan.wrap_mm,
                              false});
    }
    if (job.places.size() > most_parts)
        return failure("place.tiles", fmt::format("{} strips are not planned.", job.places.size()), "Take fewer.");
    if (!c.in_focus)
        add(out.findings, "round.focus", Severity::warning,
            fmt::format("Sag and taper take {:.2f} mm either way, the focus leaves {:.2f}.", c.room_mm,
                        plan.half_depth_mm),
            "Take more strips, a lower band, or tilt the rotary by the cone's half angle.");
    add(out.findings, "round.seams", c.seams_cut > 0 ? Severity::warning : Severity::note,
        c.seams_cut > 0
            ? fmt::format("{} marks are cut by a seam: a step of up to {:.3f} mm shows there.", c.seams_cut, step_mm)
            : "No seam goes through a mark.");
    if (std::abs(plan.to_mm - plan.from_mm) > 1e-9)
        add(out.findings, "round.taper", Severity::note,
            fmt::format("Marks stand {:.1f} % closer at the small edge and wider at the large one.",
                        100 * band->pitch_spread));
    job.width_mm = c.strip_mm;
    out.move_s = rules.turn_s;
    out.round = std::move(plan);
    return out;
}

/// What it does that parts are marked in turn.
Expected<void> tell_turns(Placed& out) {
    if (!marked_in_turn(out.job))
        return {};
    const double asked = static_cast<double>(out.job.places.size()) * paused_s(out.job.steps);
    if (!(asked > 0)) {
        add(out.findings, "tray.in_turn", Severity::note,
            fmt::format("Every part gets a pass before any gets the next: {} parts cool in turn.",
                        out.job.places.size()),
            "Plan an order against heat, where one part alone would be too warm.");
        return {};
    }
    return pauses_s(out.job).map([&](double left) {
        out.pauses_s = left;
        add(out.findings, "tray.in_turn", Severity::note,
            fmt::format(
                "One by one the parts would wait {:.0f} s in all. In turn the marking of the others fills {} of "
                "it: {:.0f} s are left.",
                asked, left < 0.5 ? "all" : fmt::format("{:.0f} %", 100 * (1 - left / asked)), left),
            "Parts that are set aside in a run leave the others their whole pause.");
    });
}

} // namespace

std::optional<double> turn_to_fit(double width, double height, double field) {
    if (std::max(width, height) <= field)
        return 0;
    const auto fit = rectangle_in_field(std::max(width, height), std::min(width, height), field);
    return fit && fit->fits ? std::optional(fit->turn_deg) : std::nullopt;
}

Expected<Placed> placed(const Job& part, const PlaceRules& rules) {
    Placed out{turned(part, rules), {}, {}, {}, 0};
    // The order names shapes by how they lie.
    const bool as_ordered = rules.turn_deg == 0 && !rules.mirrored &&
                            (rules.holding == Holding::as_drawn || rules.holding == Holding::tray);
    if (!out.job.steps.empty() && !as_ordered) {
        out.job.steps.clear();
        add(out.findings, "place.steps", Severity::warning,
            "The order against heat is of the drawing as it is drawn: laid so, it is marked layer by layer.",
            "Turn or divide the drawing in its file, and plan the order again.");
    }
    switch (rules.holding) {
    case Holding::as_drawn:
        return as_drawn(std::move(out), rules);
    case Holding::tray: {
        auto job = in_tray(out.job, rules.tray);
        if (!job)
            return tl::unexpected(job.error());
        out.job = std::move(*job);
        if (auto told = tell_turns(out); !told)
            return tl::unexpected(told.error());
        return out;
    }
    case Holding::tiles:
        return in_tiles(std::move(out), rules.tiles);
    case Holding::round:
        return round_part(std::move(out), rules.round);
    }
    return out;
}

Expected<PlacedTime> time_of(const ScannerKnowledge& scanner, Placed& placed, const PlaceRules& rules,
                             double handling_s) {
    const auto loads = loads_of(placed.job);
    if (!loads)
        return tl::unexpected(loads.error());
    PlacedTime out;
    out.marking = time_of(scanner, *loads);
    const std::size_t places = places_of(placed.job).size();
    auto beside = placed.pauses_s ? Expected<double>(*placed.pauses_s) : pauses_s(placed.job);
    if (!beside)
        return tl::unexpected(beside.error());
    for (const double mm : turn_jumps_mm(placed.job))
        *beside += jump_time_s(scanner.timing, mm);
    for (double* s : {&out.marking.likely, &out.marking.low, &out.marking.high})
        *s += *beside;
    out.moving_s = placed.move_s * static_cast<double>(places - 1);
    if (rules.holding == Holding::tray) {
        const int nests = rules.tray.columns * rules.tray.rows, filled = static_cast<int>(places);
        const int load = rules.wanted > 0 ? parts_to_load(rules.wanted, rules.spoiled) : filled;
        const double load_s = rules.load_s.value_or(handling_s);
        placed.batch = batch_of(load, nests, out.marking.likely / filled, load_s);
        out.moving_s = load_s * filled;
    }
    return out;
}

} // namespace finch
