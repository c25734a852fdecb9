// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/typed_text.h"

#include "document/csv.h"
#include "document/json_fields.h"
#include "quantity/format.h"
#include "quantity/scan.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <nlohmann/json.hpp>
#include <optional>
#include <set>

namespace finch {
namespace {

using nlohmann::json;

constexpr std::array<std::string_view, 3> ends{"first", "middle", "last"};
constexpr int most_pieces = 1'000'000, most_on_tray = 1000, most_digits = 12, most_step = 10'000;
constexpr int most_first = 1'000'000'000;
constexpr std::string_view number_field = "n";

/// Words in parts: as they are, or the name of a field.
struct Part {
    std::string text;
    bool field = false;
};
Expected<std::vector<Part>> parts_of(const TypedText& text) {
    std::vector<Part> out;
    const auto plain = [&](char c) {
        if (out.empty() || out.back().field)
            out.emplace_back();
        out.back().text += c;
    };
    const std::string& w = text.words;
    for (std::size_t i = 0; i < w.size(); ++i) {
        if (w[i] != '{' || (i + 1 < w.size() && w[i + 1] == '{')) {
            i += w[i] == '{' ? 1 : 0;
            plain(w[i]);
            continue;
        }
        const std::size_t shut = w.find('}', i);
        if (shut == std::string::npos)
            return failure("text.brace", fmt::format("A brace in \"{}\" is not closed.", shortened(w, 60)),
                           "Write {n} or {column}, and {{ for a brace itself.", {{}, 0, "words"});
        out.push_back({w.substr(i + 1, shut - i - 1), true});
        i = shut;
    }
    return out;
}

bool names_column(const TypedText& text) {
    const auto parts = parts_of(text);
    return parts && std::ranges::any_of(*parts, [](const Part& p) { return p.field && p.text != number_field; });
}

bool is_utf8(std::string_view text) {
    try {
        (void)json(std::string(text)).dump();
        return true;
    } catch (const json::exception&) { // what the library says of bytes that are none
        return false;
    }
}

std::string listed(const std::vector<std::string>& names) {
    std::string out;
    for (const std::string& name : names)
        out += (out.empty() ? "" : ", ") + name;
    return out;
}

} // namespace

bool Series::operator==(const Series& o) const {
    return first == o.first && step == o.step && digits == o.digits && pieces == o.pieces &&
           (table == o.table || (table != nullptr && o.table != nullptr && *table == *o.table));
}

Expected<PieceTable> piece_table(std::string_view csv, const std::string& file) {
    if (csv.size() > most_table_bytes)
        return failure("rows.too_long", "The table is larger than a million bytes.",
                       "Keep the columns and lines of this batch.", {file, 0, {}});
    if (!is_utf8(csv))
        return failure("rows.not_utf8", "The table is not written in UTF-8.",
                       "Save it from the spreadsheet as CSV with UTF-8.", {file, 0, {}});
    PieceTable out{file, {}, {}};
    for (CsvRows rows(csv); !rows.done();) {
        auto cells = rows.next();
        if (std::ranges::all_of(cells, &std::string::empty))
            continue;
        if (out.columns.empty()) {
            out.columns = std::move(cells);
            const std::set<std::string> names(out.columns.begin(), out.columns.end());
            if (names.size() < out.columns.size() || names.contains(""))
                return failure("rows.column", "Every column needs a name of its own.", "Name them in the first line.",
                               {file, rows.line(), {}});
            continue;
        }
        if (cells.size() != out.columns.size())
            return failure("rows.ragged",
                           fmt::format("Line {} has {} cells, the first line has {}.", rows.line(), cells.size(),
                                       out.columns.size()),
                           "Give every line a cell for each column.", {file, rows.line(), {}});
        if (out.rows.size() == most_table_rows)
            return failure("rows.too_long", fmt::format("The table has more than {} lines.", most_table_rows),
                           "Keep the lines of this batch.", {file, rows.line(), {}});
        out.rows.push_back(std::move(cells));
    }
    if (out.rows.empty())
        return failure("rows.empty", "The table has no line below the names of its columns.",
                       "Give it a line for each piece.", {file, 0, {}});
    return out;
}

bool varies(const TypedText& text) {
    const auto parts = parts_of(text);
    return parts && std::ranges::any_of(*parts, &Part::field);
}

Expected<std::string> words_on(const TypedText& text, const Series& series, int piece) {
    const auto parts = parts_of(text);
    if (!parts)
        return tl::unexpected(parts.error());
    std::string out;
    for (const Part& p : *parts) {
        if (!p.field) {
            out += p.text;
            continue;
        }
        if (p.text == number_field) {
            const long long number = series.first + static_cast<long long>(series.step) * (piece - 1);
            if (number < 0)
                return failure("text.number", fmt::format("Piece {} would have the number {}.", piece, number),
                               "Begin higher, or count up.", {{}, 0, "first"});
            out += fmt::format("{:0{}}", number, series.digits);
            continue;
        }
        const std::vector<std::string> none;
        const auto& columns = series.table != nullptr ? series.table->columns : none;
        const auto column = std::ranges::find(columns, p.text);
        if (column == columns.end())
            return failure("text.field", fmt::format("There is no column \"{}\".", shortened(p.text, 40)),
                           columns.empty() ? "Open a table, or write {n} for the number of the piece."
                                           : fmt::format("There are: n, {}.", listed(columns)),
                           {{}, 0, "words"});
        if (piece < 1 || static_cast<std::size_t>(piece) > series.table->rows.size())
            return failure("text.row",
                           fmt::format("Piece {} has no row: the table has {}.", piece, series.table->rows.size()),
                           "Take other pieces, or a longer table.", {{}, 0, "pieces"});
        out += series.table->rows[static_cast<std::size_t>(piece - 1)].at(
            static_cast<std::size_t>(column - columns.begin()));
    }
    return out;
}

Expected<std::vector<int>> pieces_on(const TypedTexts& typed, int nests) {
    const std::vector<int>& listed_ones = typed.series.pieces;
    if (static_cast<int>(listed_ones.size()) > nests)
        return failure("text.pieces",
                       fmt::format("{} pieces are listed, there is room for {}.", listed_ones.size(), nests),
                       "List fewer, or take a tray with more nests.", {{}, 0, "pieces"});
    if (!listed_ones.empty())
        return listed_ones;
    int count = nests;
    if (typed.series.table != nullptr && std::ranges::any_of(typed.texts, names_column))
        count = std::min(count, static_cast<int>(typed.series.table->rows.size()));
    std::vector<int> out;
    for (int i = 1; i <= count; ++i)
        out.push_back(i);
    return out;
}

std::vector<int> pieces_after(const TypedTexts& typed, int nests) {
    const auto now = pieces_on(typed, nests);
    const int last = now && !now->empty() ? *std::ranges::max_element(*now) : 0;
    int end = last + nests;
    if (typed.series.table != nullptr && std::ranges::any_of(typed.texts, names_column))
        end = std::min(end, static_cast<int>(typed.series.table->rows.size()));
    std::vector<int> out;
    for (int i = last + 1; i <= std::min(end, most_pieces); ++i)
        out.push_back(i);
    return out;
}

Expected<std::vector<int>> pieces_from_text(std::string_view text) {
    std::vector<int> out;
    const auto wrong = [](const std::string& why) {
        return failure("text.pieces", why, "Write pieces like 25-48, 51.", {{}, 0, "pieces"});
    };
    constexpr std::string_view between = " \t\r\n,;";
    while (true) {
        text.remove_prefix(std::min(text.find_first_not_of(between), text.size()));
        if (text.empty())
            return out;
        const std::string_view word = text.substr(0, text.find_first_of(between));
        text.remove_prefix(word.size());
        const std::size_t dash = word.find('-');
        const auto from = plain_number(word.substr(0, dash)),
                   to = dash == std::string_view::npos ? from : plain_number(word.substr(dash + 1));
        const auto counts = [](const std::optional<double>& v) {
            return v && *v >= 1 && *v <= most_pieces && *v == std::floor(*v);
        };
        if (!counts(from) || !counts(to) || *to < *from)
            return wrong(fmt::format("\"{}\" is no piece, and no pieces from one to another.", shortened(word, 40)));
        if (static_cast<double>(out.size()) + *to - *from + 1 > most_on_tray)
            return wrong(fmt::format("More than {} pieces are listed.", most_on_tray));
        for (int i = static_cast<int>(*from); i <= static_cast<int>(*to); ++i) {
            if (std::ranges::find(out, i) != out.end())
                return wrong(fmt::format("Piece {} is listed twice.", i));
            out.push_back(i);
        }
    }
}

std::string pieces_text(const std::vector<int>& pieces) {
    std::string out;
    for (std::size_t i = 0; i < pieces.size();) {
        std::size_t k = i;
        while (k + 1 < pieces.size() && pieces[k + 1] == pieces[k] + 1)
            ++k;
        out += out.empty() ? "" : ", ";
        out += k > i ? fmt::format("{}-{}", pieces[i], pieces[k]) : fmt::format("{}", pieces[i]);
        i = k + 1;
    }
    return out;
}

json to_json(const TypedTexts& typed) {
    json texts = json::array();
    for (const TypedText& t : typed.texts)
        texts.push_back({{"name", t.name},
                         {"words", t.words},
                         {"font", t.font},
                         {"bold", t.bold},
                         {"height_mm", t.height_mm},
                         {"at_mm", {t.at.x, t.at.y}},
                         {"end", ends.at(static_cast<std::size_t>(t.end))},
                         {"turn_deg", t.turn_deg},
                         {"radius_mm", t.radius_mm},
                         {"mirrored", t.mirrored}});
    const Series& s = typed.series;
    json out{
        {"format", "finch-texts"},
        {"version", 1},
        {"texts", std::move(texts)},
        {"series", {{"first", s.first}, {"step", s.step}, {"digits", s.digits}, {"pieces", pieces_text(s.pieces)}}}};
    if (s.table != nullptr)
        out["series"]["table"] = {{"file", s.table->file}, {"columns", s.table->columns}, {"rows", s.table->rows}};
    return out;
}

namespace {

std::shared_ptr<const PieceTable> read_table(JsonFields f) {
    PieceTable out{f.text_or("file", ""), f.texts("columns"), {}};
    std::size_t bytes = 0;
    const json& rows = f.raw("rows");
    const bool whole = rows.is_array() && !rows.empty() && rows.size() <= most_table_rows && !out.columns.empty() &&
                       std::ranges::all_of(rows, [&](const json& row) {
                           return row.is_array() && row.size() == out.columns.size() &&
                                  std::ranges::all_of(row, [&](const json& cell) {
                                      bytes += cell.is_string() ? cell.get_ref<const std::string&>().size() : 0;
                                      return cell.is_string() && bytes <= most_table_bytes;
                                  });
                       });
    if (!whole) {
        f.fault("rows", "This is no table of texts with a cell for each column.", "Read the CSV file again.");
        return nullptr;
    }
    out.rows = rows.get<std::vector<std::vector<std::string>>>();
    return std::make_shared<const PieceTable>(std::move(out));
}

} // namespace

Expected<TypedTexts> texts_from_json(const json& document, const std::string& file) {
    if (const auto version = check_format(document, "finch-texts", 1, file); !version)
        return tl::unexpected(version.error());
    std::vector<Error> faults;
    JsonFields f(document, "", faults);
    TypedTexts out;
    std::set<std::string> names;
    for (JsonFields& t : f.list("texts")) {
        if (out.texts.size() == most_texts) {
            f.fault("texts", "There are more than 50 texts.", "Draw them in the file.");
            break;
        }
        TypedText text;
        text.name = t.text("name");
        text.words = t.text("words");
        text.font = t.text_or("font", text.font);
        text.bold = t.flag_or("bold", false);
        text.height_mm = t.number("height_mm", 0.1, 500);
        if (const auto at = t.numbers("at_mm", 2, -10000, 10000); at.size() == 2)
            text.at = {at[0], at[1]};
        text.end = static_cast<TextEnd>(t.choice("end", {ends.begin(), ends.end()}));
        text.turn_deg = t.number_or("turn_deg", 0, -36000, 36000);
        text.radius_mm = t.number_or("radius_mm", 0, -10000, 10000);
        text.mirrored = t.flag_or("mirrored", false);
        if (text.name.empty() || text.name.size() > most_words || !names.insert(text.name).second)
            t.fault("name", "Every text needs a name of its own.", "Name it otherwise.");
        if (text.words.size() > most_words)
            t.fault("words", "This is longer than 500 bytes.", "Shorten it.");
        out.texts.push_back(std::move(text));
    }
    if (f.has("series")) {
        JsonFields s = f.object("series");
        out.series.first = s.whole_or("first", 1, 0, most_first);
        out.series.step = s.whole_or("step", 1, -most_step, most_step);
        out.series.digits = s.whole_or("digits", 4, 1, most_digits);
        const auto pieces = pieces_from_text(s.text_or("pieces", ""));
        if (pieces)
            out.series.pieces = *pieces;
        else
            s.fault("pieces", pieces.error().message, pieces.error().fix);
        if (s.has("table"))
            out.series.table = read_table(s.object("table"));
    }
    if (const auto fault = first_fault(faults, file))
        return tl::unexpected(*fault);
    return out;
}

} // namespace finch
