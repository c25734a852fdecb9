// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/column.h"
#include "bench/field.h"
#include "bench/focus_arithmetic.h"
#include "bench/round_part.h"
#include "quantity/convert.h"
#include "quantity/parse.h"
#include "reference/adapter/bench_vocabulary.h"

// Parts C (units) and D (set-up) of the bench vectors.
namespace finch::bench_vectors {
namespace {

// ---- C units

json parse_value(const json& v, const Materials&) {
    static const std::map<std::string, QuantityKind> kinds{
        {"length", QuantityKind::length},   {"pitch", QuantityKind::pitch},
        {"speed", QuantityKind::speed},     {"frequency", QuantityKind::frequency},
        {"power", QuantityKind::power},     {"duration", QuantityKind::duration},
        {"fluence", QuantityKind::fluence}, {"percent", QuantityKind::percent},
        {"angle", QuantityKind::angle}};
    static constexpr std::array notes{"ASSUMED_UNIT", "ASSUMED_DECIMAL", "MIL_READ_AS_THOU", "DPI_READ_AS_LINES",
                                      "IMPLAUSIBLE"};
    const Arguments a(v, {"text", "kind"});
    ParseContext c;
    c.default_unit = a.text("default_unit");
    const auto take = [&](const char* name, std::optional<double>& to) {
        if (a.find(name) != nullptr)
            to = a.number(name);
    };
    take("maximum", c.maximum);
    take("spot_mm", c.spot_mm);
    take("lo", c.low);
    take("hi", c.high);
    const std::string decimal = a.text("decimal", "auto");
    c.decimal = decimal == "point"   ? DecimalSign::point
                : decimal == "comma" ? DecimalSign::comma
                                     : DecimalSign::automatic;
    const auto p = good(parse_quantity(a.text("text"), kinds.at(a.text("kind")), c));
    json warnings = json::array();
    for (const ParseNote n : p.notes)
        warnings.push_back(notes.at(static_cast<std::size_t>(n)));
    return {{"value", p.value}, {"unit", p.unit}, {"warnings", warnings}};
}

PercentTable table_of(const json* v) {
    PercentTable out;
    if (v != nullptr)
        for (const json& row : *v)
            out.emplace_back(row.at(0), row.at(1));
    return out;
}

json convert_value(const json& v, const Materials&) {
    const Arguments a(v, {"value", "src", "dst"});
    return good(convert(a.number("value"), a.text("src"), a.text("dst")));
}

json percent_value(const json& v, const Materials&) {
    const Arguments a(v, {"value", "maximum", "table", "step"});
    const auto p =
        good(to_percent(a.number("value"), a.number("maximum", 0), table_of(a.find("table")), a.number("step", 0)));
    return {p.percent, p.relative_error};
}

json absolute_value(const json& v, const Materials&) {
    const Arguments a(v, {"pct", "maximum", "table"});
    return good(from_percent(a.number("pct"), a.number("maximum", 0), table_of(a.find("table"))));
}

// ---- D set-up

BeamWaist waist_of(double d0_mm, double zr_mm) {
    return {mm(d0_mm), mm(zr_mm)};
}

json beam_value(const json& v, const Materials&) {
    const Arguments a(v, {"wavelength_um", "m2", "beam_mm", "focal_mm"});
    Lens lens;
    lens.focal_length = mm(a.number("focal_mm"));
    lens.beam_at_lens = mm(a.number("beam_mm"));
    lens.beam_quality_m2 = a.number("m2");
    const BeamWaist b = computed_waist(lens, micrometres(a.number("wavelength_um")));
    return {{"spot_mm", in_mm(b.spot)}, {"rayleigh_mm", in_mm(b.rayleigh)}};
}

json offset_value(const json& v, const Materials&) {
    const Arguments a(v, {"d0", "zr", "wanted"});
    const auto o = good(offset_for_spot(mm(a.number("d0")), mm(a.number("zr")), mm(a.number("wanted")),
                                        watts(a.number("peak_power_w", 0)), a.number("air_limit_w_cm2", 1e10)));
    return {{"plus", o.raised_mm},
            {"minus", o.lowered_mm},
            {"spot_per_mm", o.spot_per_mm},
            {"prefer", o.prefer_raised ? "+" : "-"},
            {"focus_irradiance_w_cm2", o.air_irradiance_w_cm2}};
}

json shims_value(const json& v, const Materials&) {
    const Arguments a(v, {"target_mm", "shims_mm", "tol_mm", "max_count"});
    const auto s = good(shim_stack(a.number("target_mm"), a.at("shims_mm").get<std::vector<double>>(),
                                   a.number("tol_mm", 0), static_cast<int>(a.number("max_count", 99))));
    return {{"stack_mm", s.shims_mm}, {"sum_mm", s.sum_mm}, {"error_mm", s.error_mm}};
}

ColumnStack stack_of(const Arguments& a, double part) {
    ColumnStack s;
    s.part = part;
    s.fixture = a.number("fixture_mm", 0);
    s.rotary_centre = a.number("rotary_centre_mm", 0);
    s.offset = a.number("offset_mm", 0);
    s.obstruction = a.number("obstruction_mm", 0);
    s.clearance = a.number("clearance_mm", 5);
    return s;
}

json column_value(const json& v, const Materials&) {
    const Arguments a(v, {"working_mm", "part_mm", "h_min", "h_max"});
    const auto c = good(
        column_fit(a.number("working_mm"), a.number("h_min"), a.number("h_max"), stack_of(a, a.number("part_mm"))));
    json out{{"surface_mm", c.surface_mm}, {"column_mm", c.column_mm},     {"fits", c.fits},
             {"riser_mm", c.riser_mm},     {"short_by_mm", c.short_by_mm}, {"air_gap_mm", c.air_gap_mm}};
    if (c.riser_mm > 0)
        out["fits_with_riser"] = true;
    if (c.collides)
        out["collision"] = true;
    return out;
}

json lens_value(const json& v, const Materials&) {
    static constexpr std::array reasons{"COLLISION", "COLUMN", "FIELD", "SPOT", "DEPTH", "NEEDS_RISER"};
    const Arguments a(v, {"lenses", "part", "spot_max", "part_mm", "h_min", "h_max"});
    std::vector<LensChoice> lenses;
    for (const json& l : a.at("lenses"))
        lenses.push_back({l.at("name"), l.at("working_mm"), l.at("field_mm"), l.at("spot_mm"), l.at("rayleigh_mm")});
    const LensNeed need{a.at("part").at(0),   a.at("part").at(1),           a.number("margin", 0),
                        a.number("spot_max"), a.number("z_half_needed", 0), a.number("growth", 1.1)};
    json out = json::array();
    for (const JudgedLens& l :
         good(choose_lens(lenses, need, a.number("h_min"), a.number("h_max"), stack_of(a, a.number("part_mm"))))) {
        json why = json::array();
        for (const LensReason r : l.reasons)
            why.push_back(reasons.at(static_cast<std::size_t>(r)));
        out.push_back({{"lens", l.name},
                       {"ok", l.usable},
                       {"reasons", why},
                       {"column_mm", l.column_mm},
                       {"riser_mm", l.riser_mm}});
    }
    return out;
}

json field_value(const json& v, const Materials&) {
    const Arguments a(v, {"length", "width", "field_mm", "margin", "circle_mm"});
    const auto f = good(rectangle_in_field(a.number("length"), a.number("width"), a.number("field_mm"),
                                           a.number("margin", 0), a.number("circle_mm", 0)));
    return {{"fits", f.fits},
            {"angle_deg", f.turn_deg},
            {"angle_min_deg", f.turn_from_deg},
            {"angle_max_deg", f.turn_to_deg},
            {"slack_mm", f.slack_mm},
            {"longest_at_this_width_mm", f.longest_at_this_width_mm},
            {"circle_ok", f.within_circle}};
}

json largest_value(const json& v, const Materials&) {
    const Arguments a(v, {"aspect", "field_mm", "margin"});
    const auto l = good(largest_rectangle(a.number("aspect"), a.number("field_mm"), a.number("margin", 0)));
    return {l.length_mm, l.width_mm, l.turn_deg};
}

json edge_value(const json& v, const Materials&) {
    const Arguments a(v, {"d0", "zr", "focal", "r", "r_max"});
    const auto e =
        good(field_edge_spot({a.number("d0"), a.number("zr"), a.number("focal"), a.number("r"), a.number("r_max"),
                              a.number("tele", 1), a.number("curvature_mm", 0), a.number("offset", 0)}));
    return {{"angle_deg", e.scan_deg},    {"tangential_mm", e.tangential_mm},
            {"radial_mm", e.radial_mm},   {"focus_error_mm", e.focus_error_mm},
            {"area_ratio", e.area_ratio}, {"fluence_ratio", e.fluence_ratio}};
}

json level_value(const json& v, const Materials&) {
    const Arguments a(v, {"span_mm", "z_half"});
    const bool tilt = a.find("tilt_deg") != nullptr, rise = a.find("rise_mm") != nullptr;
    if (tilt == rise)
        throw Refused{"BAD_INPUT"};
    const auto l = good(tilt ? level_from_tilt(a.number("span_mm"), a.number("z_half"), a.number("tilt_deg"))
                             : level_from_rise(a.number("span_mm"), a.number("z_half"), a.number("rise_mm")));
    return {{"end_error_mm", l.end_error_mm},
            {"tilt_deg", l.tilt_deg},
            {"ok", l.within_depth},
            {"allowed_tilt_deg", l.allowed_tilt_deg},
            {"allowed_rise_mm", l.allowed_rise_mm}};
}

json split_value(const json& v, const Materials&) {
    const Arguments a(v, {"diameter", "arc_mm", "pitch", "z_half"});
    CylinderJob j;
    j.diameter_mm = a.number("diameter");
    j.arc_mm = a.number("arc_mm");
    j.pitch_mm = a.number("pitch");
    j.half_depth_mm = a.number("z_half");
    j.focus_on_top = a.text("focus", "mid") == "top";
    j.widest_angle_deg = a.number("max_angle_deg", 25);
    j.steps_per_turn = a.number("steps_per_rev", 0);
    j.keep_pitch = a.find("keep_pitch") != nullptr && a.at("keep_pitch").get<bool>();
    j.taper_range_mm = a.number("taper_range", 0);
    const auto s = good(cylinder_split(j));
    json out{{"strips", s.strips},
             {"lines_per_strip", s.lines_per_strip},
             {"last_strip_lines", s.last_strip_lines},
             {"lines", s.lines},
             {"pitch_mm", s.pitch_mm},
             {"pitch_change", s.pitch_change},
             {"strip_arc_mm", s.strip_arc_mm},
             {"strip_max_mm", s.widest_strip_mm},
             {"limit", s.limited_by_angle ? "angle" : "focus"},
             {"strip_angle_deg", s.strip_deg},
             {"sag_mm", s.sag_mm},
             {"wrap_mm", s.wrap_mm},
             {"edge_angle_deg", s.edge_deg},
             {"edge_pitch_growth", s.edge_pitch_growth},
             {"seam_mm", s.seam_mm}};
    if (s.steps)
        out.update({{"steps_per_degree", s.steps->per_degree},
                    {"steps_per_strip", s.steps->per_strip},
                    {"step_mm", s.steps->step_mm},
                    {"relative_move_drift_mm", s.steps->drift_mm},
                    {"absolute_move_error_mm", s.steps->absolute_error_mm}});
    return out;
}

json rotary_value(const json& v, const Materials&) {
    const Arguments a(v, {"steps_per_motor_rev", "microsteps", "gear"});
    const double steps = good(rotary_steps(a.number("steps_per_motor_rev"), a.number("microsteps"), a.number("gear", 1),
                                           a.number("roller_mm", 0), a.number("part_mm", 0)));
    return {{"steps_per_rev", steps}, {"steps_per_degree", steps / 360}};
}

json cone_value(const json& v, const Materials&) {
    const Arguments a(v, {"d_small", "d_large", "axial_mm"});
    ConeJob j{a.number("d_small"),    a.number("d_large"), a.number("axial_mm"),
              a.number("band_start"), a.number("band_mm"), a.number("z_half")};
    j.tilted = a.find("tilted") != nullptr && a.at("tilted").get<bool>();
    const auto c = good(cone_band(j));
    return {{"half_angle_deg", c.half_angle_deg},
            {"centre_diameter_mm", c.centre_diameter_mm},
            {"end_error_mm", c.end_error_mm},
            {"taper_range_mm", c.taper_range_mm},
            {"ok", c.within_depth},
            {"slant_mm", c.slant_mm},
            {"curvature_diameter_mm", c.curvature_diameter_mm},
            {"max_band_level_mm", c.longest_level_band_mm},
            {"pitch_spread", c.pitch_spread},
            {"sector_deg", c.sector_deg},
            {"sector_radius_mm", c.sector_radius_mm}};
}

json tray_value(const json& v, const Materials&) {
    const Arguments a(v, {"tray", "part", "gap", "margin"});
    TrayPlan p;
    p.tray_length_mm = a.at("tray").at(0);
    p.tray_width_mm = a.at("tray").at(1);
    p.part_length_mm = a.at("part").at(0);
    p.part_width_mm = a.at("part").at(1);
    p.gap_mm = a.number("gap");
    p.margin_mm = a.number("margin");
    p.mark_s = a.number("mark_s");
    p.jump_s = a.number("jump_s", 0.3);
    p.fixed_load_s = a.number("fixed_load_s", 20);
    p.load_s = a.number("load_s", 3);
    p.swap_s = a.number("swap_s", 8);
    p.trays = static_cast<int>(a.number("trays", 1));
    p.shift_h = a.number("shift_h", 8);
    p.availability = a.number("availability", 0.85);
    const auto t = good(tray_layout(p));
    return {{"nx", t.across},
            {"ny", t.down},
            {"parts", t.parts()},
            {"turned", t.turned},
            {"pitch_x_mm", t.pitch_across_mm},
            {"pitch_y_mm", t.pitch_down_mm},
            {"first_x_mm", t.first_across_mm},
            {"first_y_mm", t.first_down_mm},
            {"mark_s", t.mark_s},
            {"load_s", t.load_s},
            {"cycle_s", t.cycle_s},
            {"trays_per_shift", t.trays_per_shift},
            {"parts_per_shift", t.parts_per_shift()},
            {"laser_use", t.laser_use},
            {"bound", p.trays == 1          ? "serial"
                      : t.load_s > t.mark_s ? "load"
                                            : "mark"}};
}

} // namespace

const Calculations& setup_calculations() {
    static const Calculations table{
        {"parse_quantity", parse_value},
        {"convert", convert_value},
        {"abs_to_pct", percent_value},
        {"pct_to_abs", absolute_value},
        {"beam_spot", beam_value},
        {"spot_at",
         [](const json& v, const Materials&) -> json {
             const Arguments a(v, {"d0", "zr", "z"});
             return in_mm(spot_at(waist_of(a.number("d0"), a.number("zr")), mm(a.number("z"))));
         }},
        {"depth_of_focus",
         [](const json& v, const Materials&) -> json {
             const Arguments a(v, {"zr", "growth"});
             return in_mm(depth_for_growth(waist_of(1, a.number("zr")), a.number("growth", 1.1)));
         }},
        {"focus_offset", offset_value},
        {"shim_stack", shims_value},
        {"column_fit", column_value},
        {"choose_lens", lens_value},
        {"rect_in_square", field_value},
        {"largest_rect", largest_value},
        {"field_edge_spot", edge_value},
        {"level_error", level_value},
        {"sag",
         [](const json& v, const Materials&) -> json {
             const Arguments a(v, {"radius", "chord"});
             return good(sagitta_mm(a.number("radius"), a.number("chord")));
         }},
        {"cylinder_split", split_value},
        {"rotary_steps", rotary_value},
        {"seam_from_diameter_error",
         [](const json& v, const Materials&) -> json {
             const Arguments a(v, {"d_true", "d_used"});
             return good(seam_from_diameter_mm(a.number("d_true"), a.number("d_used")));
         }},
        {"cone_band", cone_value},
        {"tray_layout", tray_value},
    };
    return table;
}

} // namespace finch::bench_vectors
