// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "recipe/borrowed.h"

#include "quantity/format.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <map>
#include <regex>

namespace finch {
namespace {

std::string lower(std::string_view text) {
    std::string out(text);
    std::transform(out.begin(), out.end(), out.begin(), [](unsigned char c) { return std::tolower(c); });
    return out;
}

std::string trimmed(const std::string& s) {
    const auto first = s.find_first_not_of(" \t\r\n\"");
    if (first == std::string::npos)
        return {};
    return s.substr(first, s.find_last_not_of(" \t\r\n\"") - first + 1);
}

struct Meaning {
    BorrowedField field;
    QuantityKind kind;
    const char* unit;
    std::optional<double> Borrowed::*value;
};
const std::array meanings{Meaning{BorrowedField::power_w, QuantityKind::power, "W", &Borrowed::power_w},
                          Meaning{BorrowedField::power_percent, QuantityKind::percent, "%", &Borrowed::power_percent},
                          Meaning{BorrowedField::rated_w, QuantityKind::power, "W", &Borrowed::rated_w},
                          Meaning{BorrowedField::speed, QuantityKind::speed, "mm/s", &Borrowed::speed_mm_s},
                          Meaning{BorrowedField::frequency, QuantityKind::frequency, "kHz", &Borrowed::frequency_khz},
                          Meaning{BorrowedField::pulse_width, QuantityKind::duration, "ns", &Borrowed::pulse_ns},
                          Meaning{BorrowedField::pitch, QuantityKind::pitch, "mm", &Borrowed::pitch_mm},
                          Meaning{BorrowedField::lens, QuantityKind::length, "mm", &Borrowed::lens_mm},
                          Meaning{BorrowedField::spot, QuantityKind::length, "mm", &Borrowed::spot_mm},
                          Meaning{BorrowedField::thickness, QuantityKind::length, "mm", &Borrowed::thickness_mm}};

std::optional<double> read(const std::string& text, QuantityKind kind, const char* unit) {
    ParseContext c;
    c.default_unit = unit;
    const auto v = parse_quantity(text, kind, c);
    return v ? std::optional(v->value) : std::nullopt;
}

/// Key of a metal that a text names, or nothing.
std::string metal_named(const std::string& text, const Materials& materials) {
    const std::string t = lower(text);
    for (const auto& m : materials.metals)
        if (t == m->key || t.find(lower(m->name)) != std::string::npos)
            return m->key;
    if (t.find("steel") == std::string::npos && t.find("stain") == std::string::npos &&
        t.find("titan") == std::string::npos && t.find("alumin") == std::string::npos)
        return {};
    static const std::map<std::string, std::string> words{{"stainless", "stainless-304"}, {"304", "stainless-304"},
                                                          {"316", "stainless-316"},       {"titan", "titanium-2"},
                                                          {"alumin", "aluminium"},        {"mild steel", "mild-steel"}};
    for (const auto& [word_, key] : words)
        if (t.find(word_) != std::string::npos)
            return key;
    return {};
}

/// One piece of free text. Which field it is follows from words beside it first, then from its unit.
bool take(Borrowed& b, const std::string& piece, const Materials& materials) {
    static const std::regex passes(R"((?:(\d+)\s*(?:passes|pass|x|×)|(?:passes|pass|x|×)\s*[:=]?\s*(\d+)))",
                                   std::regex::icase);
    const std::string t = lower(piece);
    std::smatch m;
    if (std::regex_search(piece, m, passes)) {
        b.passes = std::stoi(m[1].matched ? m[1].str() : m[2].str());
        return true;
    }
    if (const std::string metal = metal_named(piece, materials); !metal.empty()) {
        b.metal = metal;
        return true;
    }
    static const std::regex number(R"([+-]?\d[\d.,\s/]*.*)");
    std::smatch n;
    const std::string value = std::regex_search(piece, n, number) ? trimmed(n.str()) : std::string();
    const auto has = [&t](const char* word_) { return t.find(word_) != std::string::npos; };
    if (value.empty())
        return false;
    const auto put = [&](std::optional<double>& to, const std::string& text, QuantityKind kind, const char* unit) {
        const auto v = read(text, kind, unit);
        if (v)
            to = v;
        return v.has_value();
    };
    static const std::regex bare(R"(^([+-]?\d[\d.,]*\s*[^\s]*)\s.*$)");
    const std::string first = std::regex_match(value, n, bare) ? n[1].str() : value;
    std::string amount = first;
    static const std::regex spaced(R"(^([+-]?\d[\d.,]*)\s+([A-Za-zµ%°/"]+.*)$)");
    if (std::regex_match(value, n, spaced)) {
        const std::string unit = n[2].str();
        amount = n[1].str() + " " + unit.substr(0, unit.find(' '));
    }
    if (has("lens") || has("focal"))
        return put(b.lens_mm, amount, QuantityKind::length, "mm");
    if (has("spot"))
        return put(b.spot_mm, amount, QuantityKind::length, "mm");
    if (has("thick"))
        return put(b.thickness_mm, amount, QuantityKind::length, "mm");
    if (has("source") || has("rated") || has("laser"))
        return put(b.rated_w, amount, QuantityKind::power, "W");
    if (has("hatch") || has("pitch") || has("interval") || has("spacing"))
        return put(b.pitch_mm, amount, QuantityKind::pitch, "mm");
    for (const auto& [to, kind] : {std::pair{&Borrowed::power_w, QuantityKind::power},
                                   {&Borrowed::speed_mm_s, QuantityKind::speed},
                                   {&Borrowed::frequency_khz, QuantityKind::frequency},
                                   {&Borrowed::pulse_ns, QuantityKind::duration},
                                   {&Borrowed::power_percent, QuantityKind::percent},
                                   {&Borrowed::pitch_mm, QuantityKind::pitch}}) {
        if (const auto v = read(amount, kind, ""); v) {
            b.*to = v;
            return true;
        }
    }
    if (const auto v = read(amount, QuantityKind::ratio, "x"); v && *v > 0 && *v < 1) {
        b.pitch_mm = v;
        return true;
    }
    return false;
}

std::vector<std::string> cells_of(const std::string& line, char separator) {
    std::vector<std::string> out(1);
    bool quoted = false;
    for (const char c : line) {
        if (c == '"')
            quoted = !quoted;
        else if (c == separator && !quoted)
            out.emplace_back();
        else
            out.back() += c;
    }
    for (std::string& cell : out)
        cell = trimmed(cell);
    return out;
}

BorrowedField guess(const std::string& header) {
    const std::string t = lower(header);
    const auto has = [&t](const char* word_) { return t.find(word_) != std::string::npos; };
    if (has("power") || has("watt"))
        return has("%") || has("perc") || has("pct") ? BorrowedField::power_percent : BorrowedField::power_w;
    if (has("rated") || has("source"))
        return BorrowedField::rated_w;
    if (has("speed") || has("veloc") || has("mm/s"))
        return BorrowedField::speed;
    if (has("freq") || has("khz") || has("rate"))
        return BorrowedField::frequency;
    if (has("width") || has("pulse") || has("(ns)") || t == "ns")
        return BorrowedField::pulse_width;
    if (has("hatch") || has("pitch") || has("interval") || has("spacing") || has("line"))
        return BorrowedField::pitch;
    if (has("pass") || has("count") || has("repeat"))
        return BorrowedField::passes;
    if (has("lens") || has("focal"))
        return BorrowedField::lens;
    if (has("spot"))
        return BorrowedField::spot;
    if (has("metal") || has("material"))
        return BorrowedField::metal;
    if (has("thick"))
        return BorrowedField::thickness;
    return BorrowedField::ignored;
}

std::string unit_in(const std::string& header) {
    static const std::regex inside(R"([\(\[]\s*([^\)\]]+?)\s*[\)\]])");
    std::smatch m;
    return std::regex_search(header, m, inside) ? m[1].str() : std::string();
}

double power_of(const Borrowed& b, const Scene& s) {
    if (b.power_w)
        return *b.power_w;
    const double rated = b.rated_w.value_or(in_watts(s.bench.source.rated_power));
    return rated * b.power_percent.value_or(50) / 100;
}

} // namespace

std::string_view word(BorrowedField f) {
    static constexpr std::array<std::string_view, borrowed_field_count> words{
        "power in W", "power in %", "rated power", "scan speed", "pulse frequency", "pulse width", "hatch pitch",
        "passes",     "lens",       "spot",        "metal",      "thickness",       "leave out"};
    return words.at(static_cast<std::size_t>(f));
}

Expected<Borrowed> borrowed_from_text(std::string_view text, const Materials& materials) {
    Borrowed b;
    // A comma between digits is a decimal sign when no blank follows it.
    static const std::regex split(R"(\s*(?:[;\n\t]|,(?=\s)|,(?=\D)|\band\b|\s@\s)\s*)");
    const std::string all(text);
    bool any = false;
    for (std::sregex_token_iterator it(all.begin(), all.end(), split, -1), end; it != end; ++it) {
        const std::string piece = trimmed(it->str());
        if (piece.empty())
            continue;
        if (take(b, piece, materials))
            any = true;
        else
            b.not_understood.push_back(piece);
    }
    if (!any)
        return failure("borrowed.nothing", "Nothing in this text reads like a setting.",
                       "Write it like 25 W, 40 kHz, 600 mm/s, 0.03 mm.");
    return b;
}

Expected<BorrowedTable> borrowed_table(std::string_view csv, const std::string& file) {
    BorrowedTable t;
    std::string text(csv);
    const std::string first = text.substr(0, text.find('\n'));
    const char separator = std::count(first.begin(), first.end(), ';') > 0    ? ';'
                           : std::count(first.begin(), first.end(), '\t') > 0 ? '\t'
                                                                              : ',';
    int line = 0;
    for (std::size_t at = 0; at < text.size(); ++line) {
        const std::size_t end = std::min(text.find('\n', at), text.size());
        const std::string row = trimmed(text.substr(at, end - at)).empty() ? std::string() : text.substr(at, end - at);
        at = end + 1;
        if (row.empty())
            continue;
        auto cells = cells_of(row, separator);
        if (t.header.empty()) {
            t.header = std::move(cells);
            continue;
        }
        if (cells.size() != t.header.size())
            return failure(
                "borrowed.ragged",
                fmt::format("Line {} has {} cells, the header has {}.", line + 1, cells.size(), t.header.size()),
                "Give every line a cell for each column.", {file, line + 1, {}});
        if (t.rows.size() >= most_borrowed_rows)
            return failure("borrowed.too_long", fmt::format("The table has more than {} lines.", most_borrowed_rows),
                           "Keep the lines that fit your metal and lens, and open that.", {file, line + 1, {}});
        t.rows.push_back(std::move(cells));
    }
    if (t.rows.empty())
        return failure("borrowed.empty", "The table has no lines below its header.",
                       "Give it a header and a line for each recipe.", {file, 0, {}});
    for (const std::string& h : t.header) {
        t.meaning.push_back(guess(h));
        t.units.push_back(unit_in(h));
    }
    return t;
}

Expected<Borrowed> borrowed_row(const BorrowedTable& t, std::size_t row, const Materials& materials) {
    Borrowed b;
    const auto& cells = t.rows.at(row);
    for (std::size_t i = 0; i < cells.size(); ++i) {
        const BorrowedField field = t.meaning.at(i);
        const std::string& cell = cells[i];
        if (field == BorrowedField::ignored || cell.empty())
            continue;
        const auto wrong = [&](const std::string& why) {
            return failure("borrowed.row", fmt::format("Row {}, column {}: {}", row + 1, t.header.at(i), why),
                           "Correct the cell, give the column another meaning, or leave it out.");
        };
        if (field == BorrowedField::metal) {
            b.metal = metal_named(cell, materials);
            if (b.metal.empty())
                b.not_understood.push_back(cell);
            continue;
        }
        if (field == BorrowedField::passes) {
            const auto v = read(cell, QuantityKind::count, "x");
            if (!v || *v < 1 || *v > 10000)
                return wrong(fmt::format("\"{}\" is no number of passes.", cell));
            b.passes = static_cast<int>(*v);
            continue;
        }
        for (const Meaning& m : meanings)
            if (m.field == field) {
                ParseContext c;
                c.default_unit = t.units.at(i).empty() ? m.unit : t.units.at(i);
                const auto v = parse_quantity(cell, m.kind, c);
                if (!v)
                    return wrong(v.error().message);
                b.*m.value = v->value;
            }
    }
    return b;
}

Match match(const Borrowed& b, const Scene& s) {
    Match m;
    double got = 0, all = 0;
    const auto weigh_fact = [&](double weight, bool said, const char* what, double closeness, const std::string& off) {
        all += weight;
        if (!said) {
            m.missing.emplace_back(what);
            return;
        }
        got += weight * closeness;
        if (closeness < 0.9)
            m.differs.push_back(off);
    };
    const auto near = [](double a, double other) { return std::exp(-std::abs(std::log(a / other)) / std::log(2.0)); };
    const BeamWaist beam = waist(s.bench.lens(), s.bench.source.wavelength);
    const double focal = in_mm(s.bench.lens().focal_length), spot = in_mm(beam.spot);
    weigh_fact(20, b.power_w || (b.power_percent && b.rated_w), "power in W, or percent of a named source", 1, {});
    weigh_fact(10, b.speed_mm_s.has_value(), "scan speed", 1, {});
    weigh_fact(10, b.frequency_khz.has_value(), "pulse frequency", 1, {});
    weigh_fact(10, b.pitch_mm.has_value(), "hatch pitch", 1, {});
    const double own_width = in_nanoseconds(s.bench.source.pulse_width_min);
    const bool fixed = s.bench.source.kind == SourceKind::fixed_pulse_width;
    weigh_fact(15, b.pulse_ns.has_value(), "pulse width", b.pulse_ns && fixed ? near(*b.pulse_ns, own_width) : 1,
               b.pulse_ns ? fmt::format("pulse width {} ns there, {} here", format_number(*b.pulse_ns),
                                        format_number(own_width))
                          : std::string());
    weigh_fact(15, b.lens_mm || b.spot_mm, "lens or spot",
               b.spot_mm   ? near(*b.spot_mm, spot)
               : b.lens_mm ? near(*b.lens_mm, focal)
                           : 0,
               b.lens_mm ? fmt::format("lens {} mm there, {} here", format_number(*b.lens_mm), format_number(focal))
                         : "another spot");
    weigh_fact(15, !b.metal.empty(), "metal", b.metal == s.stock.metal ? 1 : 0,
               fmt::format("made for {}", b.metal.empty() ? "?" : b.metal));
    weigh_fact(5, b.thickness_mm.has_value(), "thickness",
               b.thickness_mm ? near(*b.thickness_mm, in_mm(s.stock.thickness)) : 0, "another thickness");
    m.score = static_cast<int>(std::lround(100 * got / all));
    m.confidence = m.score >= 80   ? "A good start. The first run is still a coupon."
                   : m.score >= 50 ? "A start only: expect to search round it."
                                   : "A rumour: too little is known for more than a broad sheet.";
    return m;
}

Expected<BorrowedStart> rescaled(const Borrowed& b, const Scene& s, Process process) {
    const BeamWaist beam = waist(s.bench.lens(), s.bench.source.wavelength);
    BorrowedStart out;
    MachineSettings old;
    const auto or_own = [&](const std::optional<double>& v, double own, const char* what) {
        if (!v)
            out.assumed.emplace_back(what);
        return v.value_or(own);
    };
    old.power_w = power_of(b, s);
    if (!b.power_w && !b.rated_w)
        out.assumed.emplace_back("its percent of power is taken of this source");
    old.speed_mm_s = or_own(b.speed_mm_s, 800, "scan speed 800 mm/s");
    old.frequency_khz = or_own(b.frequency_khz, 60, "pulse frequency 60 kHz");
    const Source& source = s.bench.source;
    const bool variable = source.kind == SourceKind::variable_pulse_width;
    const double own_ns =
        variable ? std::clamp(100.0, in_nanoseconds(source.pulse_width_min), in_nanoseconds(source.pulse_width_max))
                 : in_nanoseconds(source.pulse_width_min);
    old.pulse_ns = or_own(b.pulse_ns, own_ns, variable ? "pulse width 100 ns" : "the pulse width of this source");
    old.pitch_mm = or_own(b.pitch_mm, 0.3 * in_mm(beam.spot), "a hatch pitch of a third of the spot");
    old.passes = b.passes.value_or(1);
    old.spot_mm = in_mm(beam.spot);
    if (b.spot_mm)
        old.spot_mm = *b.spot_mm;
    else if (b.lens_mm)
        old.spot_mm *= *b.lens_mm / in_mm(s.bench.lens().focal_length);
    else
        out.assumed.emplace_back("the same spot as here");
    const int passes = old.passes;
    const MachineLimits limits = machine_limits(s.bench, old.pulse_ns);
    if (passes > limits.most_passes)
        old.passes = 1;
    auto result = transfer(old, transfer_family(process), limits);
    if (!result)
        return tl::unexpected(result.error());
    out.result = std::move(*result);
    MachineSettings settled = out.result.settings;
    if (passes > limits.most_passes)
        settled.passes = passes;
    Recipe base;
    base.process = process;
    base.name = b.name;
    out.recipe = recipe_on(s.bench, settled, base);
    return out;
}

} // namespace finch
