// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// What a bench operator knows without a computer: which way things go. Each row is tried on random settings.
#include "demo_bench.h"
#include "physics/patch.h"
#include "recipe/plan.h"

#include <catch2/catch.hpp>
#include <functional>
#include <nlohmann/json.hpp>
#include <random>

using namespace finch;
using namespace finch::tests;

namespace {

using Rng = std::mt19937;

double log_uniform(Rng& rng, double low, double high) {
    return std::exp(std::uniform_real_distribution<double>(std::log(low), std::log(high))(rng));
}

const std::vector<std::string> oxide_metals{"stainless-304", "stainless-316", "stainless-430",
                                            "mild-steel",    "tool-steel",    "titanium-2"};
const std::vector<std::string> cut_metals{"stainless-304", "stainless-316", "mild-steel", "tool-steel",   "aluminium",
                                          "brass",         "copper",        "titanium-2", "stainless-430"};

struct World {
    Bench bench = load_bench(FINCH_SOURCE "/data", "wren").value();
    Stock stock;
    Recipe recipe;
    Evidence evidence;
    Fill fill{mm(10), 100};
    [[nodiscard]] const Metal& metal() const { return **materials().find(stock.metal); }
    [[nodiscard]] Prediction now() const {
        return predict({materials(), metal(), bench, stock, evidence}, recipe, fill).value();
    }
    [[nodiscard]] Cutting cut() const { return cutting(materials(), metal(), bench, recipe); }
    World with(const std::function<void(World&)>& change) const {
        World w = *this;
        change(w);
        return w;
    }
    World knob(Knob k, double factor) const {
        return with([&](World& w) { w.recipe = with_knob(w.recipe, k, factor * knob_value(w.recipe, k)); });
    }
};

World gentle(Rng& rng) {
    World w;
    w.stock.metal = oxide_metals[rng() % oxide_metals.size()];
    w.stock.coating = Coating::none;
    w.stock.thickness = mm(log_uniform(rng, 0.5, 6));
    w.recipe.setting = {log_uniform(rng, 6, 40),
                        kilohertz(log_uniform(rng, 150, 800)),
                        nanoseconds(log_uniform(rng, 20, 200)),
                        mm_per_second(log_uniform(rng, 200, 3000)),
                        mm(log_uniform(rng, 0.003, 0.015)),
                        0,
                        1,
                        mm(0)};
    return w;
}

World strong(Rng& rng) {
    World w;
    w.stock.metal = cut_metals[rng() % cut_metals.size()];
    w.stock.coating = Coating::none;
    w.stock.thickness = mm(log_uniform(rng, 1, 12));
    w.recipe.process = Process::engrave;
    w.recipe.setting = {log_uniform(rng, 50, 90),
                        kilohertz(log_uniform(rng, 45, 90)),
                        nanoseconds(log_uniform(rng, 110, 300)),
                        mm_per_second(log_uniform(rng, 300, 1500)),
                        mm(log_uniform(rng, 0.02, 0.05)),
                        0,
                        20,
                        mm(0)};
    return w;
}

World coated(Rng& rng) {
    static const std::vector<std::pair<Coating, const char*>> coats{
        {Coating::powder_coat, "stainless-304"}, {Coating::paint, "mild-steel"}, {Coating::anodised, "aluminium"}};
    World w = strong(rng);
    const auto& [coat, metal] = coats[rng() % coats.size()];
    w.stock.coating = coat;
    w.stock.metal = metal;
    w.recipe.process = Process::strip;
    w.recipe.setting.frequency = kilohertz(log_uniform(rng, 80, 300));
    w.recipe.setting.focus_offset = mm(log_uniform(rng, 1, 10));
    w.recipe.setting.passes = 1;
    return w;
}

World sprayed(Rng& rng) {
    static const std::array metals{"stainless-304", "mild-steel", "tool-steel", "titanium-2", "nickel"};
    World w;
    w.bench = load_bench(FINCH_SOURCE "/data", "mallow").value();
    w.stock.metal = metals[rng() % metals.size()];
    w.stock.coating = Coating::none;
    w.recipe.process = Process::compound;
    w.recipe.compound = rng() % 2 == 0 ? "ceramic" : "molybdenum";
    w.recipe.setting = {log_uniform(rng, 20, 90),
                        kilohertz(10),
                        nanoseconds(1000),
                        mm_per_second(log_uniform(rng, 60, 500)),
                        mm(log_uniform(rng, 0.03, 0.1)),
                        0,
                        1,
                        mm(0)};
    return w;
}

/// A row: what is compared before and after. The second must not be below the first, and now and then must be above.
struct Trend {
    const char* why;
    std::function<World(Rng&)> start;
    std::function<std::optional<std::pair<double, double>>(const World&)> pair;
};

using Pair = std::optional<std::pair<double, double>>;

/// Compares a quantity of two worlds; rows where metal goes in either are not about films.
Pair film(const World& a, const World& b) {
    const Prediction p = a.now(), q = b.now();
    if (p.mark.removal.ratio > 0.95 || q.mark.removal.ratio > 0.95)
        return std::nullopt;
    return std::pair{p.mark.oxide.thickness_m, q.mark.oxide.thickness_m};
}
Pair depth(const World& a, const World& b) {
    return std::pair{a.now().depth_um(), b.now().depth_um()};
}
Crater crater_of(const World& w) {
    return w.now().removal->pass.crater;
}
double heat(const World& w) {
    return w.now().mark.heat.lines_rise;
}
CoatingOutcome coat(const World& w) {
    return w.now().coating->pulsed;
}
CompoundOutcome bond(const World& w) {
    return *w.now().compound;
}

const std::vector<Trend>& trends() {
    static const std::vector<Trend> rows{
        // films on steels and titanium
        {"more power grows a thicker film", gentle, [](const World& w) { return film(w, w.knob(Knob::power, 1.15)); }},
        {"slower grows a thicker film", gentle, [](const World& w) { return film(w, w.knob(Knob::scan_speed, 0.8)); }},
        {"a finer pitch grows a thicker film", gentle,
         [](const World& w) { return film(w, w.knob(Knob::hatch_pitch, 0.8)); }},
        {"a second pass grows a thicker film", gentle, [](const World& w) { return film(w, w.knob(Knob::passes, 2)); }},
        {"a warm part grows a thicker film", gentle,
         [](const World& w) { return film(w, w.with([](World& x) { x.stock.start_temperature_c = 120; })); }},
        {"a metal that oxidises faster grows a thicker film", gentle,
         [](const World& w) { return film(w, w.with([](World& x) { x.evidence.growth_gain = 1.5; })); }},
        {"a clear film keeps the oxide from growing", gentle,
         [](const World& w) { return film(w.with([](World& x) { x.stock.coating = Coating::clear; }), w); }},
        {"nickel keeps the oxide from growing", gentle,
         [](const World& w) { return film(w.with([](World& x) { x.stock.coating = Coating::nickel; }), w); }},
        {"a mirror takes less light than mill finish", gentle,
         [](const World& w) { return film(w.with([](World& x) { x.stock.finish = Finish::mirror; }), w); }},
        {"mill finish takes less light than brushed", gentle,
         [](const World& w) { return film(w, w.with([](World& x) { x.stock.finish = Finish::brushed; })); }},
        {"brushed takes less light than blasted", gentle,
         [](const World& w) {
             return film(w.with([](World& x) { x.stock.finish = Finish::brushed; }),
                         w.with([](World& x) { x.stock.finish = Finish::blasted; }));
         }},
        {"a thinner plate gets hotter", gentle,
         [](const World& w) -> Pair {
             return std::pair{heat(w), heat(w.with([](World& x) { x.stock.thickness *= 0.5; }))};
         }},
        {"more power warms the part more", gentle,
         [](const World& w) -> Pair {
             return std::pair{heat(w), heat(w.knob(Knob::power, 1.15))};
         }},
        {"a thinner plate is nearer to warping", gentle,
         [](const World& w) -> Pair {
             return std::pair{w.now().mark.plate.warp,
                              w.with([](World& x) { x.stock.thickness *= 0.5; }).now().mark.plate.warp};
         }},
        // pulses, spot, dose: any metal
        {"out of focus the fluence is lower", strong,
         [](const World& w) -> Pair {
             return std::pair{crater_of(w.with([](World& x) { x.recipe.setting.focus_offset = mm(3); })).fluence_j_cm2,
                              crater_of(w).fluence_j_cm2};
         }},
        {"both sides of the focus give the same spot", strong,
         [](const World& w) -> Pair {
             const auto at = [&](double z) {
                 return w.with([z](World& x) { x.recipe.setting.focus_offset = mm(z); }).now().mark.pattern.spot_m;
             };
             return std::pair{at(2) * (1 - 1e-9), at(-2)};
         }},
        {"a lower frequency makes a stronger pulse", strong,
         [](const World& w) -> Pair {
             return std::pair{crater_of(w).fluence_j_cm2, crater_of(w.knob(Knob::frequency, 0.9)).fluence_j_cm2};
         }},
        {"a longer pulse of the same energy has less peak power", strong,
         [](const World& w) -> Pair {
             return std::pair{w.knob(Knob::pulse_width, 1.2).now().mark.pulse.peak_power_w,
                              w.now().mark.pulse.peak_power_w};
         }},
        {"faster puts fewer pulses on a square millimetre", strong,
         [](const World& w) -> Pair {
             return std::pair{w.knob(Knob::scan_speed, 1.2).now().mark.pattern.pulses_per_m2,
                              w.now().mark.pattern.pulses_per_m2};
         }},
        {"a coarser pitch gives less dose", strong,
         [](const World& w) -> Pair {
             return std::pair{w.knob(Knob::hatch_pitch, 1.2).now().mark.pattern.areal_dose_j_m2,
                              w.now().mark.pattern.areal_dose_j_m2};
         }},
        {"a longer lens has a larger spot", strong,
         [](const World& w) -> Pair {
             return std::pair{w.with([](World& x) { x.bench.lens_index = 0; }).now().mark.pattern.spot_m,
                              w.now().mark.pattern.spot_m};
         }},
        // removal
        {"more energy makes a deeper crater", strong,
         [](const World& w) -> Pair {
             return std::pair{crater_of(w).depth_um, crater_of(w.knob(Knob::power, 1.1)).depth_um};
         }},
        {"more energy makes a wider crater", strong,
         [](const World& w) -> Pair {
             return std::pair{crater_of(w).diameter_um, crater_of(w.knob(Knob::power, 1.1)).diameter_um};
         }},
        {"a longer pulse needs more fluence", strong,
         [](const World& w) -> Pair {
             return std::pair{crater_of(w).threshold_j_cm2, crater_of(w.knob(Knob::pulse_width, 1.15)).threshold_j_cm2};
         }},
        {"pulses on one spot lower the threshold", strong,
         [](const World& w) -> Pair {
             return std::pair{crater_of(w.knob(Knob::hatch_pitch, 0.7)).threshold_j_cm2, crater_of(w).threshold_j_cm2};
         }},
        {"the plasma never adds fluence", strong,
         [](const World& w) -> Pair {
             return std::pair{crater_of(w).shielded_fluence_j_cm2, crater_of(w).fluence_j_cm2};
         }},
        {"more passes go deeper", strong, [](const World& w) { return depth(w, w.knob(Knob::passes, 1.5)); }},
        {"slower goes deeper", strong, [](const World& w) { return depth(w, w.knob(Knob::scan_speed, 0.8)); }},
        {"cleaning passes go deeper", strong,
         [](const World& w) { return depth(w, w.with([](World& x) { x.recipe.deep.clean_every = 5; })); }},
        {"a narrow cut is shallower", strong,
         [](const World& w) { return depth(w.with([](World& x) { x.recipe.deep.narrowest = mm(0.05); }), w); }},
        {"a soft lot is cut deeper", strong,
         [](const World& w) { return depth(w, w.with([](World& x) { x.evidence.depth_gain = 1.3; })); }},
        {"a deep cut far out of focus is shallower", strong,
         [](const World& w) { return depth(w.with([](World& x) { x.recipe.setting.focus_offset = mm(4); }), w); }},
        {"the last pass takes no more than the first", strong,
         [](const World& w) -> Pair {
             const auto z = depth_by_pass(w.cut(), deep_work(w.recipe, {}));
             if (z.size() < 3)
                 return std::nullopt;
             return std::pair{z.back() - z[z.size() - 2], z[1]};
         }},
        {"stronger pulses make steeper walls", strong,
         [](const World& w) -> Pair {
             return std::pair{w.knob(Knob::power, 1.1).now().removal->taper_deg, w.now().removal->taper_deg};
         }},
        {"a deeper cut has a narrower floor", strong,
         [](const World& w) -> Pair {
             const Crater c = crater_of(w);
             const auto& m = materials().model.removal;
             return std::pair{floor_width_mm(1, 300, c, m), floor_width_mm(1, 100, c, m)};
         }},
        {"the best frequency removes more than half of it", strong,
         [](const World& w) -> Pair {
             const Cutting c = w.cut();
             const auto b =
                 best_frequency(c.metal, c.model, watts(30), c.train.width, millijoules(5), c.beam, c.raster);
             const PulseTrain half{millijoules(30 / (0.5 * b.frequency_khz)), kilohertz(0.5 * b.frequency_khz),
                                   c.train.width};
             return std::pair{one_pass(c.metal, c.model, half, c.beam, c.raster).rate_mm3_min, b.rate_mm3_min};
         }},
        {"the best frequency removes more than twice of it", strong,
         [](const World& w) -> Pair {
             const Cutting c = w.cut();
             const auto b =
                 best_frequency(c.metal, c.model, watts(30), c.train.width, millijoules(5), c.beam, c.raster);
             const PulseTrain twice{millijoules(15 / b.frequency_khz), kilohertz(2 * b.frequency_khz), c.train.width};
             return std::pair{one_pass(c.metal, c.model, twice, c.beam, c.raster).rate_mm3_min, b.rate_mm3_min};
         }},
        {"a thin engraved plate burns through sooner", strong,
         [](const World& w) -> Pair {
             return std::pair{w.now().burn_index, w.with([](World& x) { x.stock.thickness *= 0.4; }).now().burn_index};
         }},
        {"clamped on metal it stays cooler", strong,
         [](const World& w) -> Pair {
             return std::pair{w.with([](World& x) { x.stock.held_by = "4 clamps"; }).now().removal->plate_rise_k,
                              w.now().removal->plate_rise_k};
         }},
        {"the likely depth lies inside its band", strong,
         [](const World& w) -> Pair {
             const auto r = *w.now().removal;
             return std::pair{r.least_um, std::min(r.depth_um, r.most_um)};
         }},
        // coats
        {"more energy is further over the coat's threshold", coated,
         [](const World& w) -> Pair {
             return std::pair{coat(w).coat_margin, coat(w.knob(Knob::power, 1.1)).coat_margin};
         }},
        {"raising the lens spares the metal", coated,
         [](const World& w) -> Pair {
             return std::pair{coat(w).metal_margin,
                              coat(w.with([](World& x) { x.recipe.setting.focus_offset *= 1.2; })).metal_margin};
         }},
        {"a thicker coat needs more passes", coated,
         [](const World& w) -> Pair {
             const auto passes = [&](double um) {
                 return coat(w.with([um](World& x) { x.stock.coating_thickness = micrometres(um); })).passes;
             };
             if (passes(20) < 0)
                 return std::nullopt;
             return std::pair{static_cast<double>(passes(20)), static_cast<double>(passes(90))};
         }},
        {"slower lowers the coat's threshold", coated,
         [](const World& w) -> Pair {
             return std::pair{coat(w.knob(Knob::scan_speed, 0.7)).coat_threshold_j_cm2, coat(w).coat_threshold_j_cm2};
         }},
        {"a longer pulse widens the window of paints", coated,
         [](const World& w) -> Pair {
             if (w.stock.coating == Coating::anodised)
                 return std::nullopt;
             const auto ratio = [](const World& x) {
                 return coat(x).metal_threshold_j_cm2 / coat(x).coat_threshold_j_cm2;
             };
             return std::pair{ratio(w), ratio(w.knob(Knob::pulse_width, 1.15))};
         }},
        {"dye bleaches before the film goes", coated,
         [](const World& w) -> Pair {
             if (w.stock.coating != Coating::anodised)
                 return std::nullopt;
             return std::pair{coat(w).bleach_threshold_j_cm2, coat(w).coat_threshold_j_cm2};
         }},
        {"more average power tints sooner", coated,
         [](const World& w) -> Pair {
             return std::pair{coat(w).tint, coat(w.knob(Knob::power, 1.1)).tint};
         }},
        // compound
        {"more power makes a hotter bond", sprayed,
         [](const World& w) -> Pair {
             return std::pair{bond(w).interface_c, bond(w.knob(Knob::power, 1.1)).interface_c};
         }},
        {"slower makes a hotter bond", sprayed,
         [](const World& w) -> Pair {
             return std::pair{bond(w).interface_c, bond(w.knob(Knob::scan_speed, 0.8)).interface_c};
         }},
        {"nickel carries the heat away faster than stainless", sprayed,
         [](const World& w) -> Pair {
             return std::pair{bond(w.with([](World& x) { x.stock.metal = "nickel"; })).interface_c,
                              bond(w.with([](World& x) { x.stock.metal = "stainless-304"; })).interface_c};
         }},
        {"a second pass never loosens it", sprayed,
         [](const World& w) -> Pair {
             return std::pair{bond(w).adhesion, bond(w.knob(Knob::passes, 2)).adhesion};
         }},
        {"a mirror holds worse than a raw surface", sprayed,
         [](const World& w) -> Pair {
             return std::pair{bond(w.with([](World& x) { x.stock.finish = Finish::mirror; })).adhesion,
                              bond(w).adhesion};
         }},
        {"a lacquered part takes none", sprayed,
         [](const World& w) -> Pair {
             return std::pair{bond(w.with([](World& x) { x.stock.coating = Coating::clear; })).adhesion,
                              bond(w).adhesion};
         }},
        {"more coats take more of the light", sprayed,
         [](const World& w) -> Pair {
             const auto& c = *materials().compounds.compound(w.recipe.compound);
             return std::pair{absorbed_fraction(c, CompoundBeam::gas, 1), absorbed_fraction(c, CompoundBeam::gas, 3)};
         }},
        {"ceramic is darker than the dry film", sprayed,
         [](const World&) -> Pair {
             return std::pair{materials().compounds.compound("ceramic")->usual_l,
                              materials().compounds.compound("molybdenum")->usual_l};
         }},
    };
    return rows;
}

} // namespace

TEST_CASE("every trend that an operator knows holds on random settings", "[trends]") {
    CHECK(trends().size() >= 40);
    for (const Trend& t : trends()) {
        INFO(t.why);
        Rng rng(4711);
        int tried = 0, rises = 0;
        for (int i = 0; i < 60 && tried < 14; ++i) {
            const World w = t.start(rng);
            const auto pair = t.pair(w);
            if (!pair)
                continue;
            ++tried;
            INFO(w.stock.metal << " " << to_json(w.recipe).dump() << ": " << pair->first << " then " << pair->second);
            CHECK(pair->second >= pair->first * (1 - 1e-9) - 1e-12);
            rises += pair->second > pair->first * (1 + 1e-12) ? 1 : 0;
        }
        CHECK(tried >= 5);
        CHECK(rises >= 1);
    }
}

TEST_CASE("the two models of bare metal agree on where vapour begins, and one verdict is told", "[trends]") {
    // Absorptance of polished copper and aluminium is the doubtful value: process average in one, cold metal in the
    // other.
    const std::map<std::string, double> factor{{"aluminium", 4}, {"copper", 7}, {"stainless-430", 2.2}};
    Rng rng(99);
    int removed = 0, kept = 0;
    for (int i = 0; i < 400; ++i) {
        World w = rng() % 2 == 0 ? gentle(rng) : strong(rng);
        w.recipe.setting.passes = 1;
        w.recipe.setting.frequency = kilohertz(log_uniform(rng, 45, 700));
        const Prediction p = w.now();
        const Crater& c = p.removal->pass.crater;
        const auto it = factor.find(w.stock.metal);
        const double slack = it != factor.end() ? it->second : 2;
        INFO(w.stock.metal << " " << to_json(w.recipe).dump());
        if (c.log_ratio > std::log(slack))
            CHECK(p.mark.removal.ratio > 0.7);
        if (p.mark.removal.ratio > slack)
            CHECK(c.fluence_j_cm2 > 0.7 * c.threshold_j_cm2);
        // One verdict: where metal is told to go, most outcomes lose the old surface.
        const bool gone = p.effect == Effect::removes || p.effect == Effect::frosts;
        CHECK((!gone || p.share_away > 0.3));
        CHECK(p.removal_index >= std::max(p.mark.removal.index, p.depth_um() / 3) * (1 - 1e-9));
        (gone ? removed : kept) += 1;
    }
    CHECK(removed > 40);
    CHECK(kept > 40);
}

TEST_CASE("a patch is the same bits on one thread and on two, and turning smooths it", "[patch]") {
    Rng rng(5);
    World w = strong(rng);
    w.stock.metal = "brass";
    w.recipe.setting = {79, kilohertz(40), nanoseconds(150), mm_per_second(500), mm(0.05), 0, 1, mm(0)};
    PatchJob job;
    job.size_mm = 0.3;
    job.passes = 12;
    const auto one = simulate_patch(w.cut(), job, 1).value(), two = simulate_patch(w.cut(), job, 2).value();
    CHECK(one.surface.height == two.surface.height);
    CHECK(one.report.anisotropy > 0.9);
    PatchJob turned = job;
    turned.turn_deg = 67;
    turned.shift = 0.382;
    const auto smooth = simulate_patch(w.cut(), turned, 2).value();
    CHECK(smooth.report.sa_um < 0.5 * one.report.sa_um);
    CHECK(smooth.report.anisotropy < 0.4);
    CHECK(smooth.report.mean_depth_um == Approx(one.report.mean_depth_um).epsilon(0.05));
    // Stopped after three passes, what was done so far is there.
    int seen = 0;
    const auto early = simulate_patch(w.cut(), job, 1, [&](int pass) { return (seen = pass) < 3; }).value();
    CHECK(early.report.mean_depth_um == Approx(0.25 * one.report.mean_depth_um).epsilon(0.1));
    job.size_mm = 9;
    CHECK(simulate_patch(w.cut(), job).error().code == "patch.size");
}
