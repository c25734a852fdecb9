// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "safety/gates.h"

#include "bench/bench_json.h"
#include "bench/lens.h"
#include "piece/fill_check.h"
#include "quantity/format.h"
#include "recipe/check.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace finch {
namespace {

std::string mm_words(double mm) {
    return format_number(mm, 3) + " mm";
}

Gate known(std::string key, GateVerdict verdict, std::string title, std::string why) {
    Gate out{std::move(key), GateKind::known, std::move(title), std::move(why)};
    out.known = verdict;
    return out;
}

Gate field_gate(const Job& job) {
    const double field = in_mm(job.setup.bench.lens().field);
    const auto places = places_of(job);
    const bool in_parts = std::ranges::any_of(places, [](const JobPlace& p) { return p.only.has_value(); });
    const RectMm box = marked_box(job);
    double room = 0;
    if (in_parts) {
        // Each of them is brought to the middle.
        double widest = 0;
        for (const JobPlace& p : places)
            if (p.only && !p.axis_deg)
                widest = std::max({widest, p.only->w, p.only->h});
        room = 0.5 * (field - std::max(widest, 0.0));
    } else {
        const double left = 0.5 * (job.width_mm - field), low = 0.5 * (job.height_mm - field);
        room = std::min({box.x - left, left + field - box.x - box.w, box.y - low, low + field - box.y - box.h});
    }
    // A page may be exactly as large as the field.
    if (room < -1e-6)
        return known("field", GateVerdict::refused, "Marks lie outside the field",
                     fmt::format("By {}, of a field of {}. Turn it, tile it, or take a longer lens (Piece, Place).",
                                 mm_words(-room), mm_words(field)));
    return known("field", GateVerdict::fine, "All marks lie in the field",
                 fmt::format("The nearest edge is {} away; {} × {} are marked.", mm_words(std::max(0.0, room)),
                             format_number(box.w, 3), mm_words(box.h)));
}

void add_known(std::vector<Gate>& out, const Job& job, const Metal& metal, const Circumstances& now,
               const JobRisks& told) {
    const BeamWaist beam = waist(job.setup.bench.lens(), job.setup.bench.source.wavelength);
    out.push_back(
        known("focus", now.focus_confirmed ? GateVerdict::fine : GateVerdict::refused,
              now.focus_confirmed ? "The focus is confirmed" : "The focus is not confirmed",
              now.focus_words + (now.focus_confirmed ? fmt::format("; the spot is a tenth wider at ±{}.",
                                                                   mm_words(std::sqrt(0.21) * in_mm(beam.rayleigh)))
                                                     : " Confirm it on the Bench.")));
    out.push_back(now.as_made_for
                      ? known("setup", GateVerdict::fine, "Bench, lens and stock are those of the job",
                              fmt::format("{}, {}, {}.", job.setup.bench.name, job.setup.bench.lens().name, metal.name))
                      : known("setup", GateVerdict::refused, "The job was made for another set-up",
                              fmt::format("It is for {}, {}, {}. Put that on the bench, or hand the piece over again.",
                                          job.setup.bench.name, job.setup.bench.lens().name, metal.name)));
    out.push_back(field_gate(job));
    for (const JobLayer& l : job.layers) {
        if (l.guide || !l.recipe)
            continue;
        std::string why;
        const auto findings = check(*l.recipe, job.setup.bench, job.setup.stock);
        for (const Finding& f : findings)
            if (f.severity == Severity::blocking)
                why += (why.empty() ? "" : " ") + f.message + " " + f.remedy;
        if (!why.empty())
            out.push_back(
                known("recipe", GateVerdict::refused, fmt::format("{} cannot be burned so", l.name), std::move(why)));
    }
    for (const Finding& f : now.lies)
        if (f.severity != Severity::note)
            out.push_back(known("lies", f.severity == Severity::blocking ? GateVerdict::refused : GateVerdict::care,
                                "Where it lies", f.message + " " + f.remedy));
    if (!now.elsewhere.empty())
        out.push_back(known("elsewhere", GateVerdict::care, "A recipe was taken on another bench, lens or stock",
                            fmt::format("{}. Try it on scrap of this lot first.", fmt::join(now.elsewhere, ", "))));
    if (told.film)
        out.push_back(
            now.film_drying
                ? known("film", GateVerdict::refused, "The film is not said to be dry", *now.film_drying)
                : known("film", GateVerdict::fine, "The film was found dry", "It was looked at, and said so."));
    if (now.enclosure_open)
        out.push_back(*now.enclosure_open
                          ? known("enclosure", GateVerdict::refused, "The enclosure is open", "Shut it.")
                          : known("enclosure", GateVerdict::fine, "The enclosure reports shut",
                                  now.simulated ? "Simulated. Opening it stops the beam at the end of the line."
                                                : "Opening it stops the beam at the end of the line."));
    constexpr int few = 6;
    for (const JobLayer& l : job.layers)
        if (!l.guide && l.recipe && burned_setting(*l.recipe).passes > 4 * few) {
            const int directions = distinct_directions(l.recipe->turn_per_pass_deg);
            if (directions > 0 && directions < few)
                out.push_back(known("turns", GateVerdict::care, "Hatch directions soon repeat",
                                    fmt::format("{}: the same {} directions come again and again, and leave grooves.",
                                                l.name, directions)));
        }
}

std::string fume_words(const Job& job, const Metal& metal, const SafetyTable& table, const JobRisks& told) {
    const Stock& stock = job.setup.stock;
    const auto of_metal = table.fume.find(stock.metal);
    const auto coat = table.coat_fume.find(std::string(word(stock.coating)));
    std::vector<std::string> what;
    if (told.film)
        what.push_back(table.film_fume);
    if (coat != table.coat_fume.end())
        what.push_back(coat->second);
    if (of_metal != table.fume.end())
        what.push_back(of_metal->second);
    if (what.empty())
        return "Its data sheet says what this material gives off; what is not known is not marked.";
    return fmt::format("{}{}. The filter must be fit for it.",
                       told.volume_mm3 >= 0.01
                           ? fmt::format("About {} mm³ of {} go into: ", format_number(told.volume_mm3, 2), metal.name)
                           : std::string("Given off: "),
                       fmt::join(what, "; "));
}

Gate tick(std::string key, std::string title, std::string why, bool of_the_part = false) {
    Gate out{std::move(key), GateKind::tick, std::move(title), std::move(why)};
    out.of_the_part = of_the_part;
    return out;
}

void add_asked(std::vector<Gate>& out, const Job& job, const Metal& metal, const SafetyTable& table,
               const Circumstances& now, const JobRisks& told) {
    const Bench& bench = job.setup.bench;
    const Stock& stock = job.setup.stock;
    const auto places = places_of(job);
    const double nm = 1e6 * in_mm(bench.source.wavelength);
    const bool seen = nm > 380 && nm < 750;
    out.push_back(tick("eyewear", fmt::format("Eyewear labelled for {:.0f} nm", nm),
                       fmt::format("Up to {} W, {}. For everyone who could see the open beam, scatter included; it "
                                   "burns skin as well: no hand goes into it.",
                                   format_number(told.beam_w, 2), seen ? "visible" : "invisible")));
    if (!now.enclosure_open)
        out.push_back(tick("enclosure", "The enclosure is shut, or the area is controlled",
                           "This bench does not say so itself."));
    out.push_back(tick("extraction", "Extraction is on and pulls", fume_words(job, metal, table, told)));
    Gate under{"under", GateKind::choice,
               places.size() > 1 ? "What lies under the parts?" : "What lies under the part?",
               stock.under_it.empty() ? "Asked each time." : fmt::format("On the bench it says: {}.", stock.under_it)};
    under.choices = table.under;
    under.of_the_part = true;
    out.push_back(under);
    std::string held;
    if (in_mm(stock.thickness) < table.thin_mm)
        held = fmt::format("{} of metal bows under a filled mark. ", mm_words(in_mm(stock.thickness)));
    if (told.passes >= table.creeps_from_passes)
        held += fmt::format("{} passes go over the same edges: a part that creeps blurs them. ", told.passes);
    out.push_back(tick(
        "held", places.size() > 1 ? "Every part is held, and lies as drawn" : "The part is held, and lies as drawn",
        held + (stock.held_by.empty() ? "Look at each of them." : fmt::format("By: {}.", stock.held_by)), true));
    out.push_back({"frame",
                   GateKind::frame,
                   "The frame was shown, clear of clamps and edges",
                   "With the pointer alone; again after anything was moved.",
                   GateVerdict::fine,
                   {},
                   true});
    const double returned = 1 - metal.absorptance;
    if (stock.coating != Coating::powder_coat && stock.coating != Coating::paint &&
        (returned >= table.bright_from_share || stock.finish == Finish::mirror))
        out.push_back(tick("bright", fmt::format("{} throws the beam back", metal.name),
                           fmt::format("About {:.0f} % returns, and most from tilted or polished faces. Cover bright "
                                       "screws; nothing delicate lies under the middle of the lens.",
                                       100 * returned),
                           true));
    if (stock.coating == Coating::unknown) {
        Gate coat{"coat", GateKind::choice, "Is there a coat on it?",
                  "Nobody has looked. Lacquer or plating gives other fume, and hides the metal."};
        coat.choices = {{"bare", "Bare", "", GateVerdict::fine},
                        {"coated", "Coated", "Say on the Bench which coat it is: fume and result are others.",
                         GateVerdict::refused}};
        coat.of_the_part = true;
        out.push_back(coat);
    }
    if (told.film)
        out.push_back(tick("spray", "No can, no rag and no alcohol near the beam",
                           "Propellant and solvent burn. Nothing is sprayed while the laser can fire."));
    if (std::ranges::any_of(places, [](const JobPlace& p) { return p.axis_deg.has_value(); }))
        out.push_back(tick("chuck", "Chuck and jaws run clear",
                           "Sleeves, hair and cables away; the part is loaded with the motor off.", true));
    if (told.rise_k >= table.hot_from_k)
        out.push_back(tick(
            "hot", "Hands wait for the parts",
            fmt::format("A part warms by about {} K: lift none before it has cooled.", format_number(told.rise_k, 2))));
    out.push_back(tick("room", "The room is clear", "Nobody is within reach of the beam who does not belong there."));
    if (told.lasts_s > 60 * table.stay_over_min)
        out.push_back({"stays", GateKind::initials,
                       fmt::format("Who stays, and looks every {:.0f} min?", table.look_every_min),
                       fmt::format("{} of marking. If nobody answers, the beam stops when the pass ends.",
                                   format_duration(told.lasts_s))});
}

} // namespace

JobRisks risks_of(const Job& job, std::span<const RunPortion> plan, const Scene& scene) {
    JobRisks out;
    const std::size_t parts = places_of(job).size();
    const bool whole_once = std::ranges::any_of(places_of(job), [](const JobPlace& p) { return p.only.has_value(); });
    for (const JobLayer& l : job.layers) {
        if (l.guide || !l.recipe)
            continue;
        out.passes = std::max(out.passes, burned_setting(*l.recipe).passes);
        out.film = out.film || l.recipe->process == Process::compound;
        out.beam_w =
            std::max(out.beam_w, l.recipe->setting.power_percent / 100 * in_watts(job.setup.bench.source.rated_power));
        const auto p = predict_layer(scene, l);
        if (!p)
            continue;
        const std::size_t times = whole_once ? 1 : l.only_at.empty() ? parts : l.only_at.size();
        out.volume_mm3 += static_cast<double>(times) * area_mm2(l.region) * p->depth_um() / 1000;
        if (p->removal)
            out.rise_k = std::max(out.rise_k, p->removal->plate_rise_k);
    }
    for (const RunPortion& p : plan)
        out.lasts_s += p.likely_s;
    return out;
}

RectMm marked_box(const Job& job) {
    double left = 1e300, low = 1e300, right = -1e300, high = -1e300;
    for (const JobLayer& l : job.layers)
        if (!l.guide && l.recipe)
            for (const PointMm& by : drawn_at(job, l))
                for (const auto& ring : l.region.rings)
                    for (const PointMm& p : ring) {
                        left = std::min(left, p.x + by.x), right = std::max(right, p.x + by.x);
                        low = std::min(low, p.y + by.y), high = std::max(high, p.y + by.y);
                    }
    return left > right ? RectMm{} : RectMm{left, low, right - left, high - low};
}

std::vector<Gate> gates_of(const Job& job, const JobRisks& risks, const Metal& metal, const SafetyTable& table,
                           const Circumstances& now) {
    std::vector<Gate> out;
    add_known(out, job, metal, now, risks);
    add_asked(out, job, metal, table, now, risks);
    return out;
}

std::optional<GateVerdict> verdict_at(const Gate& gate, std::span<const GateAnswer> answers) {
    if (gate.kind == GateKind::known)
        return gate.known;
    const auto answer = std::ranges::find(answers, gate.key, &GateAnswer::key);
    if (answer == answers.end())
        return std::nullopt;
    if (gate.kind == GateKind::initials)
        return answer->choice.empty() ? std::nullopt : std::optional(GateVerdict::fine);
    if (gate.kind != GateKind::choice)
        return GateVerdict::fine;
    const auto choice = std::ranges::find(gate.choices, answer->choice, &UnderChoice::key);
    return choice == gate.choices.end() ? std::nullopt : std::optional(choice->verdict);
}

std::vector<std::string> locked_by(std::span<const Gate> gates, std::span<const GateAnswer> answers) {
    std::vector<std::string> out;
    for (const Gate& g : gates)
        if (const auto verdict = verdict_at(g, answers); !verdict || *verdict == GateVerdict::refused)
            out.push_back(g.title);
    return out;
}

} // namespace finch
