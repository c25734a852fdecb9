// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "physics/bare_shares.h"
#include "physics/coat_shares.h"
#include "physics/net_removal.h"
#include "recipe/predict.h"
#include "recipe/transfer.h"
#include "reference/adapter/reference_models.h"

#include <map>
#include <nlohmann/json.hpp>
#include <stdexcept>

// The vocabulary of the outcome vectors.
namespace finch {
namespace {

using json = nlohmann::json;
using enum Effect;

constexpr std::array bare_effects{none, tint, colour, dark, melts, polishes, cleans, frosts, removes, through};
constexpr std::array coat_effects{coat_kept, bleaches, darkens, partly_strips, strips, strips_and_marks};
constexpr std::array compound_effects{no_bond, under_fused, bonds, over_burns, blown_off, frosts};

std::string name_of(Effect e) {
    return e == through ? "through" : std::string(word(e));
}

template <std::size_t N>
json shares_json(const Shares& s, const std::array<Effect, N>& effects) {
    json out;
    for (const Effect e : effects)
        out[name_of(e)] = s[e];
    return out;
}

template <typename T>
json null_or(const std::optional<T>& value) {
    return value ? json(*value) : json(nullptr);
}

const std::map<std::string, Coating> covers{{"none", Coating::none},
                                            {"nickel", Coating::nickel},
                                            {"clear", Coating::clear},
                                            {"powder_coat", Coating::powder_coat},
                                            {"paint", Coating::paint},
                                            {"anodised", Coating::anodised},
                                            {"anodised_natural", Coating::anodised_natural}};
const std::map<std::string, Finish> finish_names{
    {"mirror", Finish::mirror}, {"standard", Finish::mill}, {"brushed", Finish::brushed}, {"blasted", Finish::blasted}};
const std::map<FloorLook, std::string> floor_names{
    {FloorLook::untouched, "untouched"},   {FloorLook::tinted_or_molten, "tinted or molten"},
    {FloorLook::dark, "dark powder"},      {FloorLook::polished, "bright, polished"},
    {FloorLook::frosted, "pale, frosted"}, {FloorLook::lightly_cleaned, "lightly cleaned"}};

std::vector<MeasuredPoint> points_of(const json& evidence, const char* key) {
    std::vector<MeasuredPoint> out;
    for (const json& p : evidence.value(key, json::array()))
        out.push_back({p.at(0), p.at(1), p.at(2), p.at(3), p.at(4)});
    return out;
}

Evidence evidence_of(const json& e) {
    Evidence out;
    out.growth_gain = e.value("k_gain", 1.0);
    out.depth_gain = e.value("k_cal", 1.0);
    out.film_points = points_of(e, "film_points");
    out.growth_fit_ln = e.value("film_fit", 0.0);
    out.depth_points = points_of(e, "depth_points");
    // The reference knows no depth gain better than a tenth; the program goes by how well its coupons agree.
    out.depth_fit_ln = std::max(e.value("depth_fit", 0.0), JoinModel().gain_floor);
    out.coat_gain = e.value("k_coat", 1.0);
    out.coat_points = points_of(e, "coat_points");
    out.coat_fit_ln = e.value("coat_fit", 0.0);
    return out;
}

json findings_json(const Prediction& p) {
    json out = json::array();
    for (const ModelFinding f : p.findings)
        out.push_back(key(f));
    return out;
}

json coat_json(const CoatingOutcome& o, const Shares& s) {
    return {{"effect", name_of(s.leading())},
            {"shares", shares_json(s, coat_effects)},
            {"fluence", o.fluence_j_cm2},
            {"coat_threshold", o.coat_threshold_j_cm2},
            {"metal_threshold", o.metal_threshold_j_cm2},
            {"coat_depth_um", o.depth_um},
            {"passes_to_strip", o.passes > 0 ? json(o.passes) : json(nullptr)},
            {"tint", o.tint}};
}

json black_json(const BlackFilmOutcome& o) {
    return {{"effect", name_of(o.shares.leading())},
            {"shares", shares_json(o.shares, coat_effects)},
            {"fluence", o.fluence_j_cm2},
            {"low", o.low_j_cm2},
            {"high", o.high_j_cm2},
            {"pulses_per_spot", o.pulses_per_spot},
            {"l_star", null_or(o.l_star)}};
}

json bare_json(const Prediction& p) {
    const RemovalForecast& r = *p.removal;
    json warnings = json::array();
    for (const MarkWarning w : p.mark.warnings)
        warnings.push_back(warning_code(w));
    const bool film = p.mark.oxide.thickness_m > 0;
    return {{"findings", findings_json(p)},
            {"effect", name_of(p.effect)},
            {"shares", shares_json(p.shares, bare_effects)},
            {"film_nm", film ? json(p.oxide_nm()) : json(nullptr)},
            {"s_film", p.film_spread_ln},
            {"l_star", p.lightness ? json(p.lightness->l) : json(nullptr)},
            {"l_spread", p.lightness ? json(p.lightness->spread) : json(nullptr)},
            {"share_away", p.share_away},
            {"depth_um", r.depth_um},
            {"depth_if_um", r.depth_if_um},
            {"depth_least_um", r.least_um},
            {"depth_most_um", r.most_um},
            {"s_depth", r.spread_ln},
            {"first_pass_um", r.first_um},
            {"rate_mm3_min", r.rate_mm3_min},
            {"removal_index", r.crater_index},
            {"melt", p.melt_index},
            {"floor", floor_names.at(r.floor)},
            {"stages",
             {{"dark_from", null_or(r.stages.dark_from)},
              {"emerges_at", null_or(r.stages.emerges_at)},
              {"clear_at", null_or(r.stages.clear_at)}}},
            {"warp_index", p.mark.plate.warp},
            {"burn_index", r.crater_burn_index},
            {"plate_rise_k", r.plate_rise_k},
            {"crater_um", r.pass.crater.diameter_um},
            {"log_ratio", r.pass.crater.log_ratio},
            {"warnings", warnings},
            {"reason", p.reason.empty() ? json(nullptr) : json(p.reason)}};
}

json run_outcome(const json& in, const Materials& materials) {
    const json& stock = in.at("stock");
    VectorCase c = read_numbers(in.at("source"), in.at("optics"), in.at("settings"), stock);
    c.stock.metal = metal_key(stock.at("metal"));
    c.stock.finish = finish_names.at(stock.at("finish"));
    c.stock.coating = covers.at(stock.at("cover"));
    c.stock.coating_thickness = micrometres(number(stock, "cover_um", 0));
    c.stock.held_by = stock.value("clamped", false) ? "clamped flat" : "";
    const json run = in.value("run", json::object());
    c.recipe.process = Process::engrave;
    c.recipe.deep = {run.value("clean_every", 0), run.value("focus_every", 0), mm(number(run, "focus_step_mm", 0)),
                     mm(number(run, "width_mm", 10))};
    const auto metal = materials.find(c.stock.metal);
    if (!metal)
        throw std::out_of_range(metal.error().message);
    const Evidence evidence = evidence_of(in.value("evidence", json::object()));
    if (const auto fault =
            input_fault(c.bench.source, c.bench.lens(), c.recipe.setting, workpiece(c.stock, evidence), c.fill))
        return {{"error", refusal_code(*fault)}};
    const auto p = predict({materials, **metal, c.bench, c.stock, evidence}, c.recipe, c.fill, straight);
    if (!p)
        return {{"error", p.error().code}};
    if (p->removal)
        return bare_json(*p);
    json out = p->black ? black_json(*p->black) : coat_json(p->coating.value().pulsed, p->shares);
    out["findings"] = findings_json(*p);
    out["reason"] = p->reason;
    out["film_nm"] = out["depth_um"] = nullptr;
    return out;
}

class Parts {
public:
    Parts(const json& in, const Materials& materials) : in_(in), materials_(materials) {}

    [[nodiscard]] const Metal& metal() const { return **materials_.find(metal_key(in_.at("metal"))); }
    [[nodiscard]] const RemovalConstants& removal() const { return metal().removal.value(); }
    [[nodiscard]] const RemovalModel& model() const { return materials_.model.removal; }
    [[nodiscard]] const JoinModel& join() const { return materials_.model.join; }
    [[nodiscard]] PulseTrain train() const {
        const double power = in_.at("power"), f = in_.at("freq");
        return {millijoules(power / f), kilohertz(f), nanoseconds(in_.at("tau"))};
    }
    [[nodiscard]] Raster raster() const { return {mm_per_second(in_.at("speed")), mm(in_.at("hatch"))}; }
    [[nodiscard]] BeamWaist beam() const {
        BeamWaist fallback{micrometres(50), mm(number(in_, "zr", 1))};
        const auto b = in_.find("beam");
        if (b == in_.end())
            return fallback;
        Lens lens;
        lens.focal_length = mm(b->at(0));
        lens.beam_at_lens = mm(b->at(1));
        lens.beam_quality_m2 = b->at(2);
        return computed_waist(lens, nanometres(1064));
    }
    [[nodiscard]] Cutting cutting() const { return {removal(), model(), train(), beam(), raster()}; }
    [[nodiscard]] MetSurface surface() const {
        return {in_.value("finish", 1.0), warm_share(metal(), in_.value("t_start_c", 20.0))};
    }
    [[nodiscard]] const CoatConstants& coat() const { return *materials_.coat(covers.at(in_.at("cover"))); }
    [[nodiscard]] CoatConditions conditions() const {
        const double given = in_.value("cover_um", 0.0);
        return {given > 0 ? given : coat().usual_thickness_um, in_.value("passes", 1), in_.value("t_start_c", 20.0),
                in_.value("k_coat", 1.0), in_.value("s_coat", join().coat_spread)};
    }

private:
    const json& in_;
    const Materials& materials_;
};

json run_crater(const json& in, const Parts& p) {
    const Cutting cut = p.cutting();
    const NetPass c = net_pass(cut, p.surface(), micrometres(in.at("spot")), true, in.value("k_cal", 1.0));
    return {{"n_spot", c.pulses_per_crater},  {"fth", c.crater.threshold_j_cm2},
            {"f1", c.single_threshold_j_cm2}, {"ln", c.crater.log_ratio},
            {"depth", c.crater.depth_um},     {"dia", c.crater.diameter_um},
            {"fresh", c.loosened_um},         {"overlap", c.overlap()},
            {"over_single", c.over_single},   {"net", net_depth_um(cut, p.join(), c, in.value("since", 0.0), 1)}};
}

json run_walk(const json& in, const Parts& p) {
    const json run = in.value("run", json::object());
    DeepWork work;
    work.focus_offset_mm = in.value("focus_mm", 0.0);
    work.clean_every = run.value("clean_every", 0);
    work.focus_every = run.value("focus_every", 0);
    work.focus_step_mm = run.value("focus_step_mm", 0.0);
    work.width_mm = run.value("width_mm", 10.0);
    work.calibration = in.value("k_cal", 1.0);
    const Cutting cut = p.cutting();
    const auto after = [&](int passes) {
        DeepWork w = work;
        w.passes = std::min(passes, in.at("passes").get<int>());
        return NetWalk(cut, p.join(), p.surface(), w).walk(1, in.value("stop_um", 1e9));
    };
    json at = json::array();
    for (const int n : {1, 2, 5, 10, 20, 50})
        at.push_back(after(n).depth_um);
    const NetWalk::Outcome all = after(1 << 30);
    return {{"passes", all.passes}, {"last", all.depth_um}, {"at", at}};
}

json run_shares(const json& in, const Materials& materials) {
    BareFacts f;
    f.film_nm = in.at("film_nm");
    f.film_of_pass_nm = in.at("film_pass_nm");
    f.film_spread = in.at("s_film");
    f.melt_index = in.at("melt");
    f.heat_index = in.at("heat_index");
    f.boil_ratio = in.at("boil");
    f.log_ratio = in.at("log_ratio");
    f.crater_nm = in.at("crater_nm");
    f.lift_nm = in.at("lift_nm");
    f.overlap = in.at("overlap");
    f.areal_j_mm2 = in.at("areal");
    f.dark_from_j_mm2 = in.at("e_dark");
    f.depth_um = in.at("depth_um");
    f.depth_spread = in.at("s_depth");
    f.stock_um = in.at("stock_um");
    f.tint_nm = in.at("tint_nm");
    f.colour_nm = in.at("colour_nm");
    f.dark_nm = in.at("dark_nm");
    f.oxide = in.at("oxide");
    f.tarnish = in.at("rise");
    const ProcessModel& m = materials.model;
    const FloorWeights w = floor_weights(f, m.join);
    const Shares s = bare_shares(f, w, m.join, m.removal_net_limit_m * 1e6, m.frost_limit_m * 1e6);
    const auto look = expected_lightness(s, 30, 80, w.dark, m.looks.dark_floor, m.join);
    return {{"weights",
             {{"boils", w.boils},
              {"torn", w.torn},
              {"merged", w.merged},
              {"dark", w.dark},
              {"frost", w.frost},
              {"heat", w.heat},
              {"away", w.away}}},
            {"shares", shares_json(s, bare_effects)},
            {"effect", name_of(s.leading())},
            {"floor", floor_names.at(floor_look(f, w))},
            {"look", look ? json{look->l, look->spread} : json{nullptr, nullptr}}};
}

json stages_of(const json& in, const Parts& p) {
    std::optional<int> emerges, clear;
    const json& depths = in.at("depths");
    const int n = static_cast<int>(depths.size()) - 1;
    for (int i = 1; i <= n; ++i) {
        const double z = depths.at(static_cast<std::size_t>(i));
        if (!emerges && z >= p.model().emerge_um)
            emerges = i;
        if (!clear && z >= 2.5 * p.model().emerge_um)
            clear = i;
    }
    const RunStages s =
        run_stages(dark_from(p.removal(), p.model(), in.at("areal"), n, in.at("clean_every")), emerges, clear);
    return {
        {"dark_from", null_or(s.dark_from)}, {"emerges_at", null_or(s.emerges_at)}, {"clear_at", null_or(s.clear_at)}};
}

json run_stage_at(const json& in, const Parts& p) {
    static const std::map<Stage, std::string> names{{Stage::first_marks, "first_marks"},
                                                    {Stage::dark_powder, "dark_powder"},
                                                    {Stage::shape_emerges, "shape_emerges"},
                                                    {Stage::relief_clear, "relief_clear"}};
    return names.at(stage(p.removal(), p.model(), in.at("depth_um"),
                          areal_since_cleaning(p.model(), in.at("areal"), in.at("passes"), in.at("clean_every"))));
}

json run_gas(const json& in, const Parts& p, const JoinModel& join) {
    if (in.at("cover") == "anodised_natural")
        return {{"effect", nullptr},
                {"shares", nullptr},
                {"reason", "a white mark in a clear anodised film is not modelled"}};
    const GasBeam beam{in.at("power"), in.at("spot_mm"), in.at("speed"), in.at("hatch")};
    CoatConditions conditions = p.conditions();
    conditions.spread = join.gas_spread;
    const GasCoatOutcome o = gas_coat(p.coat(), p.removal(), beam, conditions, join);
    const Shares s = gas_coat_shares(p.coat(), p.removal(), beam, conditions, join);
    return {{"effect", name_of(s.leading())},
            {"shares", shares_json(s, coat_effects)},
            {"dose", o.dose_j_mm2},
            {"first_dose", o.first_j_mm2},
            {"dose_to_finish", o.finish_j_mm2},
            {"coat_depth_um", null_or(o.depth_um)},
            {"passes_to_strip", o.passes > 0 ? json(o.passes) : json(nullptr)},
            {"tint", o.tint},
            {"reason", nullptr}};
}

json run_compound_pulse(const json& in, const Parts& p) {
    Shares fused;
    for (const auto& [name, share] : in.at("base").items())
        for (const Effect e : compound_effects)
            if (name_of(e) == name)
                fused[e] = share;
    const PowderPulse o = powder_pulse(p.cutting(), p.surface(), micrometres(in.at("spot")), p.join());
    const Shares s = compound_shares(fused, o, p.join());
    return {{"effect", name_of(s.leading())},
            {"shares", shares_json(s, compound_effects)},
            {"fluence", o.fluence_j_cm2},
            {"film_threshold", o.film_threshold_j_cm2},
            {"metal_threshold", o.metal_threshold_j_cm2}};
}

json run_transfer(const json& in, const Parts& p) {
    static const std::map<std::string, TransferFamily> families{{"anneal", TransferFamily::anneal},
                                                                {"compound", TransferFamily::compound},
                                                                {"engrave", TransferFamily::engrave}};
    const FluenceRise r = fluence_rise(families.at(in.at("process")), p.removal(), p.model(), p.join(),
                                       in.at("f_before"), in.at("f_after"), in.at("tau_after"), in.at("n_after"));
    return {{"ratio", r.ratio},
            {"limit", r.limit_j_cm2},
            {"share_above", r.share_above},
            {"verdict", r.verdict == TransferVerdict::equivalent ? "kept"
                        : r.verdict == TransferVerdict::close    ? "close"
                                                                 : "new proof sheet needed"}};
}

json run_spread(const std::string& fn, const json& in, const Materials& materials) {
    const Evidence e = evidence_of(in.at("evidence"));
    const JoinModel& j = materials.model.join;
    const json& a = in.at("at");
    const MeasuredPoint at{a.at(0), a.at(1), a.at(2), a.at(3), a.at(4)};
    if (fn == "film_spread")
        return spread_at(e.film_points.all(), at, j.film_slopes, 0.5 * std::max(e.growth_fit_ln, j.gain_floor),
                         materials.model.spread.film_unproven);
    if (fn == "coat_spread")
        return spread_at(e.coat_points.all(), at, j.coat_slopes, std::max(e.coat_fit_ln, j.gain_floor), j.coat_spread);
    const Metal& m = **materials.find(metal_key(in.at("metal")));
    return spread_at(e.depth_points.all(), at, j.depth_slopes, e.depth_fit_ln, std::log(m.removal->depth_spread));
}

json run(const std::string& fn, const json& in, const Materials& materials) {
    const Parts p(in, materials);
    const JoinModel& join = materials.model.join;
    if (fn == "outcome")
        return run_outcome(in, materials);
    if (fn == "crater")
        return run_crater(in, p);
    if (fn == "walk")
        return run_walk(in, p);
    if (fn == "shares")
        return run_shares(in, materials);
    if (fn == "coat_outcome") {
        const CoatingOutcome o =
            pulsed_coat(p.coat(), p.cutting(), p.surface(), mm(in.value("focus_mm", 0.0)), p.conditions());
        return coat_json(o, coat_shares(o, p.conditions(), join));
    }
    if (fn == "black_anodise")
        return black_json(black_film(p.train(), micrometres(in.at("spot")), p.raster(), in.at("passes"),
                                     in.value("t_start_c", 20.0), join));
    if (fn == "compound_pulse")
        return run_compound_pulse(in, p);
    if (fn == "gas_coat")
        return run_gas(in, p, join);
    if (fn == "recast_near")
        return recast_near(join, in.at("over_single"), in.at("tau"));
    if (fn == "recast_pass")
        return recast_in_pass(join, in.at("n_spot"));
    if (fn == "groove")
        return groove_depth_um(join, in.at("z_um"), in.at("dia_um"));
    if (fn == "debris")
        return debris_efficiency(materials.model.removal, in.at("since"), in.at("dz"));
    if (fn == "areal_since")
        return areal_since_cleaning(materials.model.removal, in.at("areal"), in.at("passes"), in.at("clean_every"));
    if (fn == "stages")
        return stages_of(in, p);
    if (fn == "stage_at")
        return run_stage_at(in, p);
    if (fn == "gain_error")
        return gain_error(in.at("ln_gains").get<std::vector<double>>(), join);
    if (fn == "transfer_fluence")
        return run_transfer(in, p);
    if (fn == "film_spread" || fn == "depth_spread" || fn == "coat_spread")
        return run_spread(fn, in, materials);
    throw std::out_of_range("function " + fn);
}

} // namespace

void fill_outcome(json& document, const Materials& materials) {
    for (json& v : document.at("vectors"))
        v["out"] = run(v.at("fn"), v.at("in"), materials);
}

} // namespace finch
