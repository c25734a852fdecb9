// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "physics/coating.h"
#include "physics/patch.h"
#include "piece/relief.h"
#include "reference/adapter/reference_models.h"

#include <cmath>
#include <limits>
#include <map>
#include <nlohmann/json.hpp>
#include <stdexcept>

// The vocabulary of the removal vectors.
namespace finch {
namespace {

using json = nlohmann::json;

const std::map<std::string, std::string> removal_metals{{"stainless304", "stainless-304"},
                                                        {"stainless316", "stainless-316"},
                                                        {"mild_steel", "mild-steel"},
                                                        {"tool_steel", "tool-steel"},
                                                        {"aluminium", "aluminium"},
                                                        {"brass", "brass"},
                                                        {"copper", "copper"},
                                                        {"titanium", "titanium-2"}};

struct CoatName {
    Coating coating;
    const char* substrate;
};
const std::map<std::string, CoatName> coat_keys{{"powder_coat_steel", {Coating::powder_coat, "stainless-304"}},
                                                {"paint_steel", {Coating::paint, "mild-steel"}},
                                                {"anodised_al", {Coating::anodised, "aluminium"}}};

BeamWaist beam_of(const json& in) {
    Lens lens;
    lens.focal_length = mm(number(in, "focal_mm", 160));
    lens.beam_at_lens = mm(number(in, "beam_mm", 7));
    lens.beam_quality_m2 = number(in, "m2", 1.5);
    return computed_waist(lens, micrometres(number(in, "wl_um", 1.064)));
}

PulseTrain train_of(const json& in) {
    const double power = number(in, "power", 20), f = number(in, "freq", 50), limit = number(in, "e_max", 1e9);
    return {millijoules(std::min(power / f, limit)), kilohertz(f), nanoseconds(number(in, "tau", 100))};
}

Raster raster_of(const json& in) {
    return {mm_per_second(number(in, "speed", 500)), mm(number(in, "hatch", 0.03))};
}

/// Text that the vectors give for a refusal.
std::string refusal(const Error& e) {
    static const std::map<std::string, std::string> texts{
        {"removal.power", "power out of range 0.1..500 W"},
        {"removal.frequency", "frequency out of range 1..4000 kHz"},
        {"removal.pulse_width", "pulse width out of range 4..500 ns"},
        {"removal.energy_limit", "pulse energy limit must be positive"},
        {"removal.raster", "speed and hatch must be positive"},
        {"removal.calibration", "k_cal out of range 0.05..20"},
        {"relief.bits", "bits must be 8 or 16, layers 1..4096"},
        {"relief.levels", "black point must lie below white point, gamma positive"},
        {"patch.size", "patch size or pixel out of range"},
        {"patch.passes", "passes or rim out of range"},
        {"removal.nothing_removed", "no removal, no focus schedule"}};
    const auto it = texts.find(e.code);
    return it != texts.end() ? it->second : e.code;
}

struct Refused {
    std::string text;
};

template <typename T>
T good(Expected<T> value) {
    if (!value)
        throw Refused{refusal(value.error())};
    return std::move(*value);
}

class Removal {
public:
    Removal(const json& in, const Materials& materials) : in_(in), materials_(materials) {}

    [[nodiscard]] const RemovalConstants& metal() const {
        const std::string name = in_.value("metal", "");
        const auto key = removal_metals.find(name);
        if (key == removal_metals.end())
            throw Refused{"unknown metal " + name};
        return (*materials_.find(key->second))->removal.value();
    }
    [[nodiscard]] const RemovalModel& model() const { return materials_.model.removal; }
    [[nodiscard]] Cutting cutting() const {
        check();
        return {metal(), model(), train_of(in_), beam_of(in_), raster_of(in_)};
    }
    void check() const {
        if (const auto fault = removal_fault(number(in_, "power", 20), train_of(in_), number(in_, "e_max", 1e9),
                                             raster_of(in_), number(in_, "k_cal", 1)))
            throw Refused{refusal(*fault)};
    }

private:
    const json& in_;
    const Materials& materials_;
};

json crater_json(const Crater& c) {
    return {{"f0", c.fluence_j_cm2},    {"fe", c.shielded_fluence_j_cm2},
            {"fth", c.threshold_j_cm2}, {"ln", c.log_ratio},
            {"gain", c.gain},           {"depth", c.depth_um},
            {"dia", c.diameter_um},     {"vol", c.volume_um3}};
}

json pass_json(const PassOutcome& p) {
    static constexpr std::array looks{"none", "tint_or_melt", "dark", "bright_polish", "white_frosted", "light_clean"};
    return {{"n_area", p.pulses_per_mm2},
            {"n_spot", p.pulses_per_crater},
            {"p", crater_json(p.crater)},
            {"depth", p.depth_um},
            {"rate", p.rate_mm3_min},
            {"rate_w", p.rate_per_watt},
            {"j_mm3", std::isfinite(p.energy_per_volume_j_mm3) ? json(p.energy_per_volume_j_mm3) : json("inf")},
            {"areal", p.areal_energy_j_mm2},
            {"pulse_overlap", p.pulse_overlap},
            {"hatch_overlap", p.line_overlap},
            {"finish", looks.at(static_cast<std::size_t>(p.look))}};
}

PatchJob patch_of(const json& in) {
    const json& p = in.at("patch");
    PatchJob j;
    j.size_mm = number(p, "size_mm", 0.5);
    j.pixel_um = number(p, "px_um", 2);
    j.passes = p.value("passes", 20);
    j.angle_deg = number(p, "angle", 0);
    j.turn_deg = number(p, "turn", 0);
    j.cross = p.value("cross", false);
    j.jitter_um = number(p, "jitter_um", 1);
    j.noise = number(p, "noise", 0.1);
    j.rim = number(p, "rim", 0.12);
    j.focus_step_um = number(p, "focus_step_um", 0);
    j.phases = p.value("sub", 4);
    j.shift = number(p, "shift", 0);
    j.focus_offset_mm = number(in, "defocus", 0);
    if (p.contains("pivot")) {
        j.pivot_x_mm = p["pivot"].at(0);
        j.pivot_y_mm = p["pivot"].at(1);
    }
    return j;
}

json patch_json(const PatchResult& r) {
    const SurfacePatch& s = r.surface;
    return {{"report",
             {{"mean", r.report.mean_depth_um},
              {"sa", r.report.sa_um},
              {"sz", r.report.sz_um},
              {"anisotropy", r.report.anisotropy},
              {"pulses", r.report.pulses}}},
            {"h_center", s.at(s.side / 2, s.side / 2)},
            {"h_0_0", s.at(0, 0)},
            {"h_10_20", s.at(20, 10)}};
}

DeepWork work_of(const json& spec) {
    DeepWork w;
    w.passes = spec.value("passes", 100);
    w.focus_step_mm = number(spec, "focus_step", 0);
    w.focus_every = spec.value("focus_every", 0);
    w.clean_every = spec.value("clean_every", 0);
    w.width_mm = number(spec, "width", 10);
    w.focus_offset_mm = number(spec, "defocus", 0);
    w.calibration = number(spec, "k_cal", 1);
    return w;
}

/// The maps of the relief and time vectors, on 120 x 120 pixels of 0.1 mm.
double radius_at(int i) {
    const double x = (i % 120 + 0.5 - 60) * 0.1, y = (i / 120 + 0.5 - 60) * 0.1;
    return std::hypot(x, y);
}

json deep_value(const json& in, const Removal& r) {
    const auto z = depth_by_pass(r.cutting(), work_of(in.at("spec")));
    return {
        {"z_10", z.at(std::min<std::size_t>(10, z.size() - 1))}, {"z_mid", z.at(z.size() / 2)}, {"z_end", z.back()}};
}

json relief_value(const json& in, const Removal& r) {
    std::vector<int> counts(14400);
    for (int i = 0; i < 14400; ++i) {
        const double radius = radius_at(i);
        counts[static_cast<std::size_t>(i)] = radius < 5.5 ? std::min(40, static_cast<int>(std::floor(8 * radius))) : 0;
    }
    // The plan as the reference has it, of the parts that the program plans with; its depth is the older recursion's.
    const int layers = in.at("layers");
    const double hull = in.at("hull");
    DeepWork work = work_of(in);
    work.passes = layers;
    const Cutting cut = r.cutting();
    auto depth = depth_by_pass(cut, work);
    depth.resize(static_cast<std::size_t>(layers) + 1, depth.back());
    const double speed = in_mm_per_second(cut.raster.speed), pitch = in_mm(cut.raster.pitch);
    const auto areas = good(layer_stats(counts, 120, 0.1, layers, pitch));
    std::vector<double> seconds;
    double total = 0, emerges = std::numeric_limits<double>::infinity();
    for (int k = 0; k < layers; ++k) {
        const auto i = static_cast<std::size_t>(k);
        seconds.push_back(pass_time_s({}, areas[i].area_mm2, hull, areas[i].runs, speed, pitch));
        if (work.focus_every > 0 && (k + 1) % work.focus_every == 0 && k + 1 < layers)
            seconds.back() += focus_time_s({}, work.focus_step_mm);
        total += seconds.back();
        if (!std::isfinite(emerges) && depth[i + 1] >= cut.model.emerge_um)
            emerges = total;
    }
    const Crater c = one_pass(cut.metal, cut.model, cut.train, cut.beam, cut.raster, mm(work.focus_offset_mm)).crater;
    double cells = 0;
    for (const int n : counts)
        cells += n;
    return {{"total_s", total},
            {"layer0_s", seconds.at(0)},
            {"layer30_s", seconds.at(30)},
            {"depth_um", depth.back()},
            {"terrace_um", depth.back() / layers},
            {"min_feature_um", c.diameter_um},
            {"taper", taper_deg(c, cut.model)},
            {"coverage", cells * 0.01 / (layers * hull)},
            {"emerge_s", emerges}};
}

json time_value(const json& in) {
    AreaMask mask{120, 120, in.at("px"), std::vector<unsigned char>(14400)};
    for (int i = 0; i < 14400; ++i)
        mask.set[static_cast<std::size_t>(i)] = radius_at(i) > 2.2 && radius_at(i) < 5.5 ? 1 : 0;
    const double pitch = in.at("hatch"), speed = in.at("speed");
    const auto lines = hatch_runs(mask, pitch, in.at("angle"));
    long runs = 0;
    for (const LineRuns& line : lines)
        runs += static_cast<long>(line.size());
    const AreaStats stats = area_stats(mask, pitch);
    return {{"runs", runs},
            {"seconds", pass_time_s({}, lines, speed, pitch)},
            {"area", stats.area_mm2},
            {"runs_fast", stats.runs},
            {"seconds_fast",
             pass_time_s({}, stats.area_mm2, 3.14159265358979323846 * 5.5 * 5.5, stats.runs, speed, pitch)}};
}

json levels_value(const json& in) {
    HeightMap map;
    map.bits = in.value("bits", 8);
    for (const json& row : in.value("img", json::array({json::array({0})}))) {
        map.width = static_cast<int>(row.size());
        ++map.height;
        for (const json& v : row)
            map.grey.push_back(v.get<unsigned short>());
    }
    LevelRules rules;
    rules.layers = in.value("layers", 10);
    rules.black = number(in, "black", 0);
    rules.white = number(in, "white", 1);
    rules.gamma = number(in, "gamma", 1);
    rules.invert = in.value("invert", false);
    rules.sharpen = number(in, "amount", 0);
    rules.sharpen_px = number(in, "sigma", 1.5);
    const auto counts = good(layer_counts(map, rules));
    json rows = json::array();
    for (int y = 0; y < map.height; ++y) {
        const auto from = counts.begin() + static_cast<std::ptrdiff_t>(y) * map.width;
        rows.push_back(std::vector<int>(from, from + map.width));
    }
    return rows;
}

json coating_value(const std::string& fn, const json& in, const Removal& r, const Materials& materials) {
    static constexpr std::array fates{"nothing",       "bleached_film_kept",   "partly_removed_clean",
                                      "removed_clean", "removed_metal_marked", "metal_marked"};
    const CoatName name = coat_keys.at(in.value("coating", ""));
    const CoatConstants& coat = *materials.coat(name.coating);
    const RemovalConstants& metal = (*materials.find(name.substrate))->removal.value();
    r.check();
    const PulseTrain train = train_of(in);
    const BeamWaist beam = beam_of(in);
    if (fn == "coating_window") {
        const auto w = coating_window(coat, metal, r.model(), train, beam, raster_of(in));
        return w ? json{w->nearest_mm, w->best_mm, w->farthest_mm} : json(nullptr);
    }
    const auto o = coating_pass(coat, metal, r.model(), train, beam, raster_of(in), mm(number(in, "defocus", 0)),
                                number(in, "thickness", coat.usual_thickness_um));
    return {{"f0", o.fluence_j_cm2},
            {"n", o.pulses_per_spot},
            {"f_coat", o.coat_threshold_j_cm2},
            {"f_mark", o.metal_threshold_j_cm2},
            {"margin_coat", o.coat_margin},
            {"margin_metal", o.metal_margin},
            {"depth", o.depth_um},
            {"passes", o.passes},
            {"tint", o.tint},
            {"verdict", fates.at(static_cast<std::size_t>(o.fate))}};
}

json passes_value(const json& in, const Removal& r) {
    DeepWork w = work_of(in);
    w.passes = in.value("passes_max", 2000);
    const auto p = passes_to_depth(r.cutting(), w, in.at("target_um"), number(in, "band", 1.5));
    return {p.likely, p.fewest, p.most};
}

json plate_value(const json& in, const Removal& r) {
    const auto p = thin_plate(r.metal(), in.at("power"), in.at("thickness"), in.at("side"), in.at("area_rate"),
                              in.at("depth_um"), number(in, "h_loss", 60));
    return {{"dt", p.heat_rise_k}, {"dt_buckle", p.buckling_rise_k}, {"warps", p.warps ? 1.0 : 0.0},
            {"left", p.left},      {"burn_index", p.burn_index},     {"burns", p.burns ? 1.0 : 0.0}};
}

json value_of(const std::string& fn, const json& in, const Materials& materials) {
    const Removal r(in, materials);
    if (fn == "beam") {
        const BeamWaist b = beam_of(in);
        const double far = 150 / in_micrometres(b.spot);
        return {{"d0", in_micrometres(b.spot)},
                {"zr", in_mm(b.rayleigh)},
                {"d", in_micrometres(spot_at(b, mm(number(in, "z_mm", 0))))},
                {"z_for_150um", in_mm(depth_for_growth(b, far))}};
    }
    if (fn == "hash01")
        return hash01(in.at("abc").at(0), in.at("abc").at(1), in.at("abc").at(2));
    if (fn == "pulse")
        return crater_json(crater(r.metal(), r.model(),
                                  {millijoules(in.at("e_mj")), kilohertz(50), nanoseconds(in.at("tau"))},
                                  micrometres(in.at("d_um")), number(in, "n", 1)));
    if (fn == "one_pass") {
        const Cutting c = r.cutting();
        return pass_json(one_pass(c.metal, c.model, c.train, c.beam, c.raster, mm(number(in, "defocus", 0)),
                                  number(in, "k_cal", 1)));
    }
    if (fn == "best_frequency") {
        const auto b = best_frequency(r.metal(), r.model(), watts(in.at("power")), nanoseconds(in.at("tau")),
                                      millijoules(number(in, "e_max", 1e9)), beam_of(in), raster_of(in),
                                      number(in, "f_lo", 5), number(in, "f_hi", 1000));
        return {b.frequency_khz, b.rate_mm3_min};
    }
    if (fn == "simulate_patch")
        return patch_json(good(simulate_patch(r.cutting(), patch_of(in), 2)));
    if (fn == "groove_patch")
        return patch_json(good(groove_patch(r.cutting(), patch_of(in))));
    if (fn == "deep")
        return deep_value(in, r);
    if (fn == "passes_to_depth")
        return passes_value(in, r);
    if (fn == "focus_rule") {
        const auto f = good(focus_rule(beam_of(in), in.at("depth_per_pass_um"), number(in, "frac", 0.25)));
        return {f.step_mm, f.every};
    }
    if (fn == "taper_floor") {
        const Cutting c = r.cutting();
        const Crater p = one_pass(c.metal, c.model, c.train, c.beam, c.raster).crater;
        return {{"taper_deg", taper_deg(p, c.model)},
                {"floor_mm", floor_width_mm(in.at("width_mm"), in.at("depth_um"), p, c.model)}};
    }
    if (fn == "stage") {
        static constexpr std::array stages{"first_marks", "dark_powder", "shape_emerges", "relief_clear"};
        return stages.at(
            static_cast<std::size_t>(stage(r.metal(), r.model(), in.at("depth_range_um"), in.at("areal_sum"))));
    }
    if (fn == "thin_plate")
        return plate_value(in, r);
    if (fn == "levels")
        return levels_value(in);
    if (fn == "relief")
        return relief_value(in, r);
    if (fn == "t_jump") {
        json out = json::array();
        for (const json& d : in.at("dist"))
            out.push_back(jump_time_s({}, d));
        return out;
    }
    if (fn == "time_exact")
        return time_value(in);
    if (fn == "coating_pass" || fn == "coating_window")
        return coating_value(fn, in, r, materials);
    return nullptr;
}

} // namespace

void fill_removal(json& document, const Materials& materials) {
    for (json& v : document.at("vectors")) {
        const json in = v.value("in", json::object());
        std::string fn = v.value("fn", "");
        if (fn == "error")
            fn = in.value("fn", "");
        try {
            v["out"] = value_of(fn, in, materials);
        } catch (const Refused& refused) {
            v["out"] = refused.text;
        }
    }
}

} // namespace finch
