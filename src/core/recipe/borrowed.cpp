// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "recipe/borrowed.h"

#include "document/csv.h"
#include "quantity/format.h"
#include "quantity/scan.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>

namespace finch {
namespace {

constexpr std::size_t longest_borrowed_text = 100000;

std::string lower(std::string_view text) {
    std::string out(text);
    std::transform(out.begin(), out.end(), out.begin(), [](unsigned char c) { return std::tolower(c); });
    return out;
}

std::string without_quotes(const std::string& s) {
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

/// Key of a metal that a text names, or nothing. The longest name that fits wins: "mild steel" over "steel".
std::string metal_named(const std::string& text, const Materials& materials) {
    const std::string t = lower(text);
    std::string key;
    std::size_t longest = 0;
    const auto consider = [&](const std::string& name, const Metal& m) {
        if (name.size() > longest && t.find(lower(name)) != std::string::npos) {
            longest = name.size();
            key = m.key;
        }
    };
    for (const auto& m : materials.metals) {
        if (t == m->key)
            return m->key;
        consider(m->name, *m);
        for (const std::string& alias : m->aliases)
            consider(alias, *m);
    }
    return key;
}

/// The number of passes that a piece speaks of: "3 passes", "3x", "passes: 3". A lone x inside a word is no word.
std::optional<std::string_view> passes_in(std::string_view piece) {
    const auto pass_word = [](std::string_view w) {
        const std::string low = lower(w);
        return low == "x" || low == "pass" || low == "passes" || w == "×";
    };
    std::string_view number;
    bool after_word = false;
    for (Scan scan(piece); !scan.done();) {
        const std::size_t from = scan.at();
        if (scan.digits() > 0) {
            number = scan.since(from);
            if (after_word)
                return number;
            scan.blanks();
            continue;
        }
        if (scan.letters() > 0 || scan.exactly("×")) {
            const std::string_view w = scan.since(from);
            if (pass_word(w) && !number.empty())
                return number;
            after_word = pass_word(w);
            scan.blanks();
            if (after_word && scan.any_of(":="))
                scan.blanks();
        } else {
            scan.take();
            after_word = false;
        }
        number = {};
    }
    return std::nullopt;
}

/// From the first number to the end of a piece, with its sign.
std::string from_first_number(const std::string& piece) {
    const std::size_t digit = piece.find_first_of("0123456789");
    if (digit == std::string::npos)
        return {};
    const bool sign = digit > 0 && (piece[digit - 1] == '-' || piece[digit - 1] == '+');
    return without_quotes(piece.substr(sign ? digit - 1 : digit));
}

/// The number and the one word behind it: "25 W at the part" is 25 W.
std::string number_with_unit(const std::string& value) {
    Scan scan(value);
    scan.any_of("+-");
    scan.all_of("0123456789.,");
    const std::string number(scan.since(0));
    scan.blanks();
    const std::size_t unit = scan.at();
    while (!scan.done() && !is_blank(scan.peek()))
        scan.take();
    return unit < scan.at() ? number + " " + std::string(scan.since(unit)) : number;
}

/// One piece of free text. Which field it is follows from words beside it first, then from its unit.
bool take(Borrowed& b, const std::string& piece, const Materials& materials) {
    const std::string t = lower(piece);
    if (const auto passes = passes_in(piece)) {
        const auto n = plain_number(*passes);
        if (!n || *n < 1 || *n > most_passes)
            return false;
        b.passes = static_cast<int>(*n);
        return true;
    }
    if (const std::string metal = metal_named(piece, materials); !metal.empty()) {
        b.metal = metal;
        return true;
    }
    const std::string value = from_first_number(piece);
    const auto has = [&t](const char* word_) { return t.find(word_) != std::string::npos; };
    if (value.empty())
        return false;
    const auto put = [&](std::optional<double>& to, const std::string& text, QuantityKind kind, const char* unit) {
        const auto v = read(text, kind, unit);
        if (!v || !(*v > 0))
            return false;
        to = v;
        return true;
    };
    const std::string amount = number_with_unit(value);
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
        if (const auto v = read(amount, kind, ""); v && *v > 0) {
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
    const std::size_t open = header.find_first_of("([");
    const std::size_t shut = header.find_first_of(")]", open);
    return shut == std::string::npos ? std::string() : without_quotes(header.substr(open + 1, shut - open - 1));
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

namespace {

/// Cuts at ends of lines, semicolons, tabs, "and", " @ ", and commas. A comma between digits is a decimal sign.
std::vector<std::string> pieces_of(std::string_view text) {
    std::vector<std::string> out(1);
    const auto cut = [&out] { out.emplace_back(); };
    for (std::size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        const bool word_starts = i == 0 || !(is_letter(text[i - 1]) || is_digit(text[i - 1]));
        if (c == ';' || c == '\n' || c == '\t')
            cut();
        else if (c == ',' && (i + 1 >= text.size() || !is_digit(text[i + 1])))
            cut();
        else if (word_starts && text.substr(i, 3) == "and" &&
                 (i + 3 >= text.size() || !(is_letter(text[i + 3]) || is_digit(text[i + 3])))) {
            cut();
            i += 2;
        } else if (text.substr(i, 3) == " @ ") {
            cut();
            i += 2;
        } else
            out.back() += c;
    }
    return out;
}

} // namespace

Expected<Borrowed> borrowed_from_text(std::string_view text, const Materials& materials) {
    if (text.size() > longest_borrowed_text)
        return failure("borrowed.too_long", "This text is too long for one recipe.",
                       "Paste the lines of one recipe, or import a table.");
    Borrowed b;
    bool any = false;
    for (const std::string& raw : pieces_of(text)) {
        const std::string piece = without_quotes(raw);
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
    for (CsvRows rows(csv); !rows.done();) {
        auto cells = rows.next();
        if (cells.size() == 1 && cells[0].empty())
            continue;
        if (t.header.empty()) {
            t.header = std::move(cells);
            continue;
        }
        if (cells.size() != t.header.size())
            return failure(
                "borrowed.ragged",
                fmt::format("Line {} has {} cells, the header has {}.", rows.line(), cells.size(), t.header.size()),
                "Give every line a cell for each column.", {file, rows.line(), {}});
        if (t.rows.size() >= most_borrowed_rows)
            return failure("borrowed.too_long", fmt::format("The table has more than {} lines.", most_borrowed_rows),
                           "Keep the lines that fit your metal and lens, and open that.", {file, rows.line(), {}});
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
            if (!v || *v < 1 || *v > most_passes)
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
    auto result = transfer(old, traits(process).family, limits);
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
