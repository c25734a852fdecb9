// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/bench_json.h"

#include "document/json_fields.h"

#include <array>
#include <nlohmann/json.hpp>

namespace finch {
namespace {

using json = nlohmann::json;

const std::vector<std::string_view> source_kinds{"fixed", "variable", "gas", "diode"};
const std::vector<std::string_view> finishes{"mirror", "mill", "brushed", "blasted"};
const std::vector<std::string_view> coatings{"unknown", "none",     "nickel",         "clear",           "powder-coat",
                                             "paint",   "anodised", "polish-residue", "anodised-natural"};
const std::vector<std::string_view> methods{"gauge stick", "pointer dots", "touch probe", "camera", "ladder"};

Source read_source(JsonFields f) {
    Source s;
    s.kind = static_cast<SourceKind>(f.choice("kind", source_kinds));
    s.rated_power = watts(f.number("rated_power_w", 1, 500));
    s.largest_pulse = millijoules(f.number("largest_pulse_mj", 0.005, 20));
    s.peak_power_limit = kilowatts(f.number_or("peak_power_limit_kw", 12, 0.1, 1000));
    s.frequency_min = kilohertz(f.number("frequency_min_khz", 1, 10000));
    s.frequency_max = kilohertz(f.number("frequency_max_khz", 1, 10000));
    s.pulse_width_min = nanoseconds(f.number("pulse_width_min_ns", 1, 1000));
    s.pulse_width_max = nanoseconds(f.number("pulse_width_max_ns", 1, 1000));
    s.wavelength = nanometres(f.number_or("wavelength_nm", 1064, 200, 11000));
    if (s.pulsed() && (s.wavelength < nanometres(900) || s.wavelength > nanometres(1200)))
        f.fault("wavelength_nm", "A pulsed fibre source lies between 900 and 1200 nm.", "Write 1064.");
    s.hours_run = f.number_or("hours_run", 0, 0, 1e6);
    if (f.has("energy_limits"))
        for (JsonFields& e : f.list("energy_limits"))
            s.energy_limits.push_back(
                {nanoseconds(e.number("pulse_width_ns", 0.1, 2000)), millijoules(e.number("energy_mj", 1e-4, 50))});
    for (std::size_t i = 1; i < s.energy_limits.size(); ++i)
        if (s.energy_limits[i].pulse_width <= s.energy_limits[i - 1].pulse_width)
            f.fault("energy_limits", "The pulse widths do not rise.", "Sort the rows by pulse width, each once.");
    if (s.frequency_max < s.frequency_min)
        f.fault("frequency_max_khz", "The largest frequency is below the smallest.", "Swap the two values.");
    if (s.pulse_width_max < s.pulse_width_min)
        f.fault("pulse_width_max_ns", "The longest pulse is shorter than the shortest.", "Swap the two values.");
    if (s.kind == SourceKind::fixed_pulse_width && s.pulse_width_max != s.pulse_width_min)
        f.fault("pulse_width_max_ns", "A fixed source has one pulse width.", "Write the same value for both.");
    return s;
}

json write(const Source& s) {
    json limits = json::array();
    for (const EnergyLimit& e : s.energy_limits)
        limits.push_back(
            {{"pulse_width_ns", tidy(in_nanoseconds(e.pulse_width))}, {"energy_mj", tidy(in_millijoules(e.energy))}});
    json out{{"kind", source_kinds[static_cast<std::size_t>(s.kind)]},
             {"rated_power_w", tidy(in_watts(s.rated_power))},
             {"largest_pulse_mj", tidy(in_millijoules(s.largest_pulse))},
             {"peak_power_limit_kw", tidy(in_kilowatts(s.peak_power_limit))},
             {"frequency_min_khz", tidy(in_kilohertz(s.frequency_min))},
             {"frequency_max_khz", tidy(in_kilohertz(s.frequency_max))},
             {"pulse_width_min_ns", tidy(in_nanoseconds(s.pulse_width_min))},
             {"pulse_width_max_ns", tidy(in_nanoseconds(s.pulse_width_max))},
             {"wavelength_nm", tidy(in_nanometres(s.wavelength))},
             {"hours_run", s.hours_run}};
    if (!limits.empty())
        out["energy_limits"] = limits;
    return out;
}

Lens read_lens(JsonFields f) {
    Lens lens;
    lens.name = f.text("name");
    lens.correction_set = f.text_or("correction_set", "");
    lens.focal_length = mm(f.number("focal_length_mm", 20, 1000));
    lens.field = mm(f.number("field_mm", 5, 1000));
    lens.working_distance = mm(f.number("working_distance_mm", 10, 1500));
    lens.beam_at_lens = mm(f.number("beam_at_lens_mm", 1, 40));
    lens.beam_quality_m2 = f.number("beam_quality_m2", 1, 10);
    if (const auto spot = f.optional_number("spot_measured_um", 3, 500))
        lens.measured_spot = micrometres(*spot);
    f.nothing_else();
    return lens;
}

json write(const Lens& lens) {
    json out{{"name", lens.name},
             {"correction_set", lens.correction_set},
             {"focal_length_mm", tidy(in_mm(lens.focal_length))},
             {"field_mm", tidy(in_mm(lens.field))},
             {"working_distance_mm", tidy(in_mm(lens.working_distance))},
             {"beam_at_lens_mm", tidy(in_mm(lens.beam_at_lens))},
             {"beam_quality_m2", lens.beam_quality_m2}};
    if (lens.measured_spot)
        out["spot_measured_um"] = tidy(in_micrometres(*lens.measured_spot));
    return out;
}

const std::vector<std::string_view> pitch_units{"mm", "lpi", "l/cm", "l/mm", "dpi"};

MachineDialog read_dialog(JsonFields f) {
    MachineDialog d;
    d.speed_max_mm_s = f.optional_number("speed_max_mm_s", 1, 1e5);
    d.power_max_w = f.optional_number("power_max_w", 0.1, 1000);
    d.frequency_max_khz = f.optional_number("frequency_max_khz", 0.1, 1e5);
    d.speed_step = f.number_or("speed_step", 1, 0, 1e4);
    d.power_step = f.number_or("power_step", 1, 0, 100);
    d.frequency_step = f.number_or("frequency_step", 1, 0, 1e4);
    if (f.has("pitch_unit"))
        d.pitch_unit = pitch_units[f.choice("pitch_unit", pitch_units)];
    d.pitch_step = f.number_or("pitch_step", 0.001, 1e-6, 1e4);
    if (f.has("pitch_list"))
        d.pitch_list = f.numbers("pitch_list", 0, 1e-6, 1e5);
    if (f.has("power_table"))
        for (JsonFields& row : f.list("power_table"))
            d.power_table.emplace_back(row.number("percent", 0, 100), row.number("power_w", 0, 1000));
    return d;
}

json write(const MachineDialog& d) {
    json out{{"speed_step", d.speed_step},
             {"power_step", d.power_step},
             {"frequency_step", d.frequency_step},
             {"pitch_unit", d.pitch_unit},
             {"pitch_step", d.pitch_step}};
    const auto put = [&out](const char* key, const std::optional<double>& v) {
        if (v)
            out[key] = *v;
    };
    put("speed_max_mm_s", d.speed_max_mm_s);
    put("power_max_w", d.power_max_w);
    put("frequency_max_khz", d.frequency_max_khz);
    if (!d.pitch_list.empty())
        out["pitch_list"] = d.pitch_list;
    for (const auto& [percent, watt] : d.power_table)
        out["power_table"].push_back({{"percent", percent}, {"power_w", watt}});
    return out;
}

Rotary read_rotary(JsonFields f) {
    Rotary r;
    r.centre_height = mm(f.number("centre_height_mm", 1, 1000));
    r.chuck_top = mm(f.number_or("chuck_top_mm", in_mm(r.centre_height), 1, 1000));
    r.motor_steps = f.number_or("motor_steps", 200, 1, 1e6);
    r.microsteps = f.number_or("microsteps", 16, 1, 1024);
    r.gear = f.number_or("gear", 1, 0.01, 1000);
    return r;
}

json write(const Rotary& r) {
    return {{"centre_height_mm", tidy(in_mm(r.centre_height))},
            {"chuck_top_mm", tidy(in_mm(r.chuck_top))},
            {"motor_steps", r.motor_steps},
            {"microsteps", r.microsteps},
            {"gear", r.gear}};
}

void read_extras(JsonFields& f, Bench& bench) {
    if (f.has("column")) {
        JsonFields c = f.object("column");
        bench.column = {mm(c.number("lowest_mm", 0, 2000)), mm(c.number("highest_mm", 1, 2000))};
        if (bench.column.highest <= bench.column.lowest)
            c.fault("highest_mm", "The upper stop is not above the lower one.", "Swap the two values.");
    }
    if (f.has("rotary"))
        bench.rotary = read_rotary(f.object("rotary"));
    if (f.has("dialog"))
        bench.dialog = read_dialog(f.object("dialog"));
    bench.rate_per_hour = f.number_or("rate_per_hour", bench.rate_per_hour, 0, 1e5);
}

constexpr std::size_t most_ways = 2000;

/// Length and count in turn.
std::vector<WayCount> read_ways(JsonFields& f, const char* key) {
    std::vector<WayCount> out;
    const std::vector<double> flat = f.numbers(key, 0, 0, 1e9);
    if (flat.size() % 2 != 0 || flat.size() > 2 * most_ways)
        f.fault(key, "This is no list of ways.", "It is length in mm and count in turn, up to 2000 of them.");
    else
        for (std::size_t i = 0; i < flat.size(); i += 2)
            out.push_back({flat[i], flat[i + 1]});
    return out;
}

json write(const std::vector<WayCount>& ways) {
    json out = json::array();
    for (const WayCount& w : ways) {
        out.push_back(tidy(w.mm));
        out.push_back(w.count);
    }
    return out;
}

Scanner read_scanner(JsonFields f) {
    Scanner out;
    out.speed_max = mm_per_second(f.number("speed_max_mm_s", 10, 20000));
    if (!f.has("timed_runs"))
        return out;
    for (JsonFields& r : f.list("timed_runs")) {
        if (out.timed.size() == most_timed_runs) {
            f.fault("timed_runs", "There are more than 100 timed runs.", "Keep the newest.");
            break;
        }
        TimedRun run{r.text("name"), r.text_or("when_utc", ""), {}, r.number("took_s", 0.01, 1e7)};
        run.load = {r.number("speed_mm_s", 0.1, 1e5), read_ways(r, "lines"), read_ways(r, "jumps"),
                    r.whole_or("passes", 1, 1, 100000)};
        if (run.load.lines.empty())
            r.fault("lines", "A timed run without lines tells nothing.", "Leave it out.");
        out.timed.push_back(std::move(run));
    }
    return out;
}

json write(const Scanner& scanner) {
    json out{{"speed_max_mm_s", tidy(in_mm_per_second(scanner.speed_max))}};
    for (const TimedRun& r : scanner.timed)
        out["timed_runs"].push_back({{"name", r.name},
                                     {"when_utc", r.when_utc},
                                     {"took_s", tidy(r.took_s)},
                                     {"speed_mm_s", tidy(r.load.speed_mm_s)},
                                     {"passes", r.load.passes},
                                     {"lines", write(r.load.lines)},
                                     {"jumps", write(r.load.jumps)}});
    return out;
}

Bench read_bench(JsonFields f) {
    Bench bench;
    read_extras(f, bench);
    bench.name = f.text("name");
    bench.origin = f.text_or("origin", "");
    bench.source = read_source(f.object("source"));
    bench.scanner = read_scanner(f.object("scanner"));
    for (const JsonFields& lens : f.list("lenses"))
        bench.lenses.push_back(read_lens(lens));
    if (bench.lenses.empty()) {
        f.fault("lenses", "A bench needs at least one lens.", "Add a lens.");
        bench.lenses.emplace_back();
    }
    const std::string on = f.text_or("lens_on", bench.lenses.front().name);
    f.nothing_else();
    for (std::size_t i = 0; i < bench.lenses.size(); ++i)
        if (bench.lenses[i].name == on) {
            bench.lens_index = i;
            return bench;
        }
    f.fault("lens_on", "No lens has the name \"" + on + "\".", "Write the name of a lens in the list.");
    return bench;
}

/// `bench`: where a confirmation of before it said so was made.
Focus read_focus(JsonFields f, const std::string& bench) {
    Focus focus;
    focus.method = static_cast<FocusMethod>(f.choice("method", methods));
    focus.offset = mm(f.number("offset_mm", -50, 50));
    focus.head_raised = mm(f.number_or("head_raised_mm", 0, -500, 500));
    focus.changed_utc = f.text_or("changed_utc", "");
    if (f.has("confirmed")) {
        JsonFields c = f.object("confirmed");
        focus.confirmed = FocusConfirmation{c.text("when_utc"),
                                            c.text_or("by", ""),
                                            static_cast<FocusMethod>(c.choice("method", methods)),
                                            c.text_or("bench", bench),
                                            c.text("lens"),
                                            mm(c.number("thickness_mm", 0.02, 100)),
                                            c.text_or("metal", ""),
                                            c.text_or("lot", ""),
                                            mm(c.number("offset_mm", -50, 50)),
                                            mm(c.number_or("head_raised_mm", 0, -500, 500)),
                                            mm(c.number_or("from_gauge_mm", 0, -100, 100))};
    }
    return focus;
}

json write(const Focus& focus) {
    json out{{"method", word(focus.method)},
             {"offset_mm", tidy(in_mm(focus.offset))},
             {"head_raised_mm", tidy(in_mm(focus.head_raised))},
             {"changed_utc", focus.changed_utc}};
    if (focus.confirmed) {
        out["confirmed"] = {{"when_utc", focus.confirmed->when_utc},
                            {"by", focus.confirmed->by},
                            {"method", word(focus.confirmed->method)},
                            {"bench", focus.confirmed->bench},
                            {"lens", focus.confirmed->lens},
                            {"thickness_mm", tidy(in_mm(focus.confirmed->thickness))},
                            {"metal", focus.confirmed->metal},
                            {"lot", focus.confirmed->lot},
                            {"offset_mm", tidy(in_mm(focus.confirmed->offset))},
                            {"head_raised_mm", tidy(in_mm(focus.confirmed->head_raised))}};
        if (focus.confirmed->from_gauge != mm(0))
            out["confirmed"]["from_gauge_mm"] = tidy(in_mm(focus.confirmed->from_gauge));
    }
    return out;
}

} // namespace

Stock read_stock(JsonFields f) {
    Stock stock;
    stock.metal = f.text("metal");
    stock.finish = static_cast<Finish>(f.choice("finish", finishes));
    stock.thickness = mm(f.number("thickness_mm", 0.02, 100));
    stock.coating = static_cast<Coating>(f.choice("coating", coatings));
    stock.coating_thickness = micrometres(f.number_or("coating_thickness_um", 0, 0, 1000));
    stock.lot = f.text_or("lot", "");
    stock.under_it = f.text_or("under_it", "");
    stock.held_by = f.text_or("held_by", "");
    stock.start_temperature_c = f.number_or("start_temperature_c", 20, -50, 500);
    f.nothing_else();
    return stock;
}

std::string_view word(Finish finish) {
    return finishes[static_cast<std::size_t>(finish)];
}
std::string_view word(Coating coating) {
    return coatings[static_cast<std::size_t>(coating)];
}
std::string_view word(FocusMethod method) {
    return methods[static_cast<std::size_t>(method)];
}

Expected<Bench> bench_from_text(std::string_view text, const std::string& file) {
    const auto document = parse_json(text, file);
    if (!document)
        return tl::unexpected(document.error());
    if (const auto version = check_format(*document, "finch-bench", bench_format_version, file); !version)
        return tl::unexpected(version.error());
    std::vector<Error> faults;
    Bench bench = read_bench(JsonFields(*document, "", faults));
    if (auto fault = first_fault(faults, file))
        return tl::unexpected(*fault);
    return bench;
}

json to_json(const Bench& bench) {
    json lenses = json::array();
    for (const Lens& lens : bench.lenses)
        lenses.push_back(write(lens));
    json out{{"format", "finch-bench"},
             {"version", bench_format_version},
             {"name", bench.name},
             {"origin", bench.origin},
             {"source", write(bench.source)},
             {"scanner", write(bench.scanner)},
             {"lenses", lenses},
             {"lens_on", bench.lens().name},
             {"column",
              {{"lowest_mm", tidy(in_mm(bench.column.lowest))}, {"highest_mm", tidy(in_mm(bench.column.highest))}}},
             {"rate_per_hour", bench.rate_per_hour}};
    if (bench.rotary)
        out["rotary"] = write(*bench.rotary);
    if (bench.dialog != MachineDialog{})
        out["dialog"] = write(bench.dialog);
    return out;
}

Expected<Stock> stock_from_text(std::string_view text, const std::string& file) {
    const auto document = parse_json(text, file);
    if (!document)
        return tl::unexpected(document.error());
    if (const auto version = check_format(*document, "finch-stock", 1, file); !version)
        return tl::unexpected(version.error());
    std::vector<Error> faults;
    Stock stock = read_stock(JsonFields(*document, "", faults));
    if (auto fault = first_fault(faults, file))
        return tl::unexpected(*fault);
    return stock;
}

json to_json(const Stock& stock) {
    return {{"format", "finch-stock"},
            {"version", 1},
            {"metal", stock.metal},
            {"finish", word(stock.finish)},
            {"thickness_mm", tidy(in_mm(stock.thickness))},
            {"coating", word(stock.coating)},
            {"coating_thickness_um", tidy(in_micrometres(stock.coating_thickness))},
            {"lot", stock.lot},
            {"under_it", stock.under_it},
            {"held_by", stock.held_by},
            {"start_temperature_c", stock.start_temperature_c}};
}

Expected<Setup> setup_from_json(const json& document, const std::string& file) {
    if (const auto version = check_format(document, "finch-setup", 1, file); !version)
        return tl::unexpected(version.error());
    std::vector<Error> faults;
    JsonFields f(document, "", faults);
    Setup setup;
    setup.bench = read_bench(f.object("bench"));
    setup.stock = read_stock(f.object("stock"));
    setup.focus = read_focus(f.object("focus"), setup.bench.name);
    f.nothing_else();
    if (auto fault = first_fault(faults, file))
        return tl::unexpected(*fault);
    return setup;
}

json to_json(const Setup& setup) {
    return {{"format", "finch-setup"},
            {"version", 1},
            {"bench", to_json(setup.bench)},
            {"stock", to_json(setup.stock)},
            {"focus", write(setup.focus)}};
}

} // namespace finch
