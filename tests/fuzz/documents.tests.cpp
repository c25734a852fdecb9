// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// Every document comes back as it was, and nothing that is nearly a document hurts.
#include "any_draft.h"
#include "bench/bench_json.h"
#include "bench_link/protocol.h"
#include "document/json_fields.h"
#include "evidence/evidence_json.h"
#include "evidence/learn.h"
#include "formats/picture_file.h"
#include "physics/colour_text.h"
#include "piece/job.h"
#include "piece/typed_text.h"
#include "recipe/borrowed.h"
#include "record/facts.h"

#include <catch2/catch.hpp>
#include <chrono>
#include <cstdlib>
#include <nlohmann/json.hpp>
#include <random>
#include <rapidcheck/catch.h>

using namespace finch;
using namespace finch::tests;
using json = nlohmann::json;

namespace {

std::string taught_document() {
    SeenCell cell;
    cell.lab = {62, 4, 30};
    Evidence e;
    e.films = {std::make_shared<const TaughtFilm>("stainless-316", std::vector<SeenCell>{cell, cell}, 0.9)};
    return evidence_document(e).dump();
}

/// A document through text and back.
template <typename Read>
auto again(const json& document, Read&& read) {
    const auto parsed = parse_json(json_text(document, 1), "file.json");
    RC_ASSERT(parsed.has_value());
    auto value = read(*parsed);
    if (!value)
        RC_FAIL(sentence(value.error()));
    return std::move(*value);
}

/// What a reader made of a text: nothing, or the document of what it took for good.
using Reader = std::function<std::optional<json>(const std::string&)>;

template <typename Read>
Reader document_reader(Read read) {
    return [read](const std::string& text) -> std::optional<json> {
        const auto parsed = parse_json(text, "fuzz");
        if (!parsed)
            return std::nullopt;
        const auto value = read(*parsed);
        if (!value)
            return std::nullopt;
        if constexpr (std::is_same_v<std::decay_t<decltype(*value)>, ToolStep>)
            return protocol::to_json(*value);
        else
            return to_json(*value);
    };
}

bool has_null(const json& j) {
    if (j.is_structured())
        return std::any_of(j.begin(), j.end(), has_null);
    return j.is_null();
}

/// Changes a text as a slip, a bad copy or malice would.
class Mutator {
public:
    explicit Mutator(unsigned seed) : random_(seed) {}
    std::size_t below(std::size_t n) { return n == 0 ? 0 : random_() % n; }

    std::string operator()(const std::string& good) {
        const json parsed = json::parse(good, nullptr, false);
        if (!parsed.is_discarded() && below(3) != 0) {
            json changed = parsed;
            for (std::size_t i = 1 + below(2); i > 0; --i)
                change(changed);
            return changed.dump(-1, ' ', false, json::error_handler_t::replace);
        }
        std::string text = good;
        for (std::size_t i = 1 + below(3); i > 0; --i)
            scramble(text);
        return text;
    }

private:
    void change(json& j) {
        static const std::vector<json> odd{nullptr,
                                           true,
                                           0,
                                           -1,
                                           1e300,
                                           -1e300,
                                           1e-320,
                                           4294967297,
                                           "",
                                           "x",
                                           json::array(),
                                           json::object(),
                                           "\u0000",
                                           0.5,
                                           "Infinity",
                                           65536,
                                           json::array({1, "two", nullptr})};
        if (j.is_structured() && !j.empty() && below(4) != 0) {
            const auto at = static_cast<long>(below(j.size()));
            auto it = std::next(j.begin(), at);
            if (below(8) == 0)
                j.erase(it);
            else if (j.is_object() && below(10) == 0)
                j["x" + it.key()] = *it;
            else
                change(*it);
            return;
        }
        j = odd[below(odd.size())];
    }
    void scramble(std::string& text) {
        static const std::vector<std::string> odd{"1e400",
                                                  "\xff",
                                                  "\xc3",
                                                  "[[[[[[",
                                                  "}",
                                                  "\"",
                                                  "\\u12",
                                                  "NaN",
                                                  "-",
                                                  ",,",
                                                  std::string(1, '\0'),
                                                  "999999999999999999999",
                                                  "passes",
                                                  "x",
                                                  "é"};
        if (text.empty() || below(12) == 0) {
            text += odd[below(odd.size())];
            return;
        }
        const std::size_t at = below(text.size());
        switch (below(5)) {
        case 0:
            text.resize(at);
            break;
        case 1:
            text[at] = static_cast<char>(below(256));
            break;
        case 2:
            text.insert(at, odd[below(odd.size())]);
            break;
        case 3:
            text.erase(at, 1 + below(20));
            break;
        default:
            text.insert(at, text.substr(at, below(60)));
        }
    }
    std::mt19937 random_;
};

} // namespace

TEST_CASE("every document comes back from a file as it was", "[documents]") {
    rc::prop("recipe", [] {
        const Recipe r = any::recipe();
        RC_ASSERT(again(to_json(r), [](const json& j) { return recipe_from_json(j, "f"); }) == r);
    });
    rc::prop("set-up", [] {
        const Setup s = any::setup();
        RC_ASSERT(again(to_json(s), [](const json& j) { return setup_from_json(j, "f"); }) == s);
    });
    rc::prop("sheet and reading", [] {
        const ProofSheet s = any::sheet();
        RC_ASSERT(again(to_json(s), [](const json& j) { return sheet_from_json(j, "f"); }) == s);
        const SheetReading r = any::reading(s);
        RC_ASSERT(again(to_json(r, s), [&](const json& j) { return reading_from_json(j, s, "f"); }) == r);
    });
    rc::prop("aim, target and evidence", [] {
        const Aim a = any::aim();
        RC_ASSERT(again(to_json(a), [](const json& j) { return aim_from_json(j, "f"); }) == a);
        const Target t = any::target();
        RC_ASSERT(again(to_json(t), [](const json& j) { return target_from_json(j); }) == t);
        const Evidence e = any::evidence();
        RC_ASSERT(again(evidence_document(e), [](const json& j) { return evidence_from_json(j, "f"); }) == e);
    });
    rc::prop("draft", [] {
        const app::Draft d = any::draft();
        const app::Draft back = again(to_json(d), [](const json& j) { return app::draft_from_json(j, "f"); });
        RC_ASSERT(to_json(back) == to_json(d));
        RC_ASSERT(back == d);
    });
    rc::prop("entry", [] {
        const Entry e = any::entry();
        const Entry back = again(to_json(e), [](const json& j) { return entry_from_json(j, "f"); });
        RC_ASSERT(to_json(back) == to_json(e));
    });
    rc::prop("facts", [] {
        BurnedSheet b{
            "u-1",       "2026-11-24", any::text(), any::sheet(),        any::setup(), any::target(), any::evidence(),
            any::text(), {},           2,           any::number(0, 9000)};
        if (any::coin())
            b.hoped_de = 3;
        else
            b.hoped_spread = 0;
        const BurnedSheet back = burned_sheet(entry_of(b, "metal", "0")).value();
        RC_ASSERT(back.sheet == b.sheet);
        RC_ASSERT(back.setup == b.setup);
        RC_ASSERT(back.target == b.target);
        RC_ASSERT(back.known_before == b.known_before);
        RC_ASSERT(back.hoped_de == b.hoped_de);
        const ReadSheet r{"u-2", "2026-11-25", "", "u-1", b.sheet, b.setup, b.target, any::reading(b.sheet)};
        const ReadSheet read = read_sheet(entry_of(r, "", Outcome::good, "metal", "0")).value();
        RC_ASSERT(read.reading == r.reading);
        RC_ASSERT(read.setup == r.setup);
        RC_ASSERT(read.burned_uid == "u-1");
    });
    rc::prop("steps of a bench", [] {
        const ToolStep step{any::text(), any::recipe(), {{1, 2, 3, 4}}, {{{0, 0}, {any::number(0, 9), 1}}}};
        const ToolStep back =
            again(protocol::to_json(step), [](const json& j) { return protocol::tool_step_from_json(j); });
        RC_ASSERT(protocol::to_json(back) == protocol::to_json(step));
    });
}

TEST_CASE("a draft of 0.2.0 is read, with what was only planned", "[documents]") {
    const std::string text = read_text_file(FINCH_SOURCE "/tests/data/old/draft-v1.json").value();
    const auto draft =
        parse_json(text, "draft-v1.json").and_then([](const json& j) { return app::draft_from_json(j, "draft"); });
    if (!draft)
        FAIL(sentence(draft.error()));
    CHECK(draft->setup.bench.name == "Wren");
    CHECK(draft->setup.focus.confirmed->bench == "Wren");
    CHECK(draft->saved->name == "noon line");
    CHECK(draft->planned.size() == 1);
    CHECK(draft->planned.front().sheet.number == 2);
    CHECK(draft->first_sheet == 1);
    CHECK(draft->last_sheet == 2);
    // The next save is of this version, and comes back whole.
    CHECK(app::draft_from_json(to_json(*draft), "draft").value() == *draft);
}

TEST_CASE("nothing that is nearly a document is thrown, hangs, or is taken for good when it is not", "[fuzz]") {
    const char* asked = std::getenv("FINCH_FUZZ");
    const long rounds = asked != nullptr ? std::atol(asked) : 12000;
    const DemoBench demo;
    const ProofSheet sheet = demo.sheet();
    SheetReading read;
    read.sheet_number = sheet.number;
    read.cells.assign(sheet.cells(), {CellState::read, {40, 1, 2}, 1, 0.9});
    const auto file = [](const char* path) { return read_text_file(std::string(FINCH_SOURCE "/") + path).value(); };
    const auto text_reader = [](auto parse) {
        return [parse](const std::string& text) -> std::optional<json> {
            parse(text);
            return std::nullopt;
        };
    };
    const json v1 = json::parse(file("tests/data/old/logbook-v1-export.json"));
    TypedTexts typed{{{"serial", "No {n}, lot {lot}", "IBM Plex Sans", true, 3, {30, 4}, TextEnd::last, 10, -20, true}},
                     {}};
    typed.series.pieces = {3, 4, 9};
    typed.series.table = std::make_shared<const PieceTable>(PieceTable{"f.csv", {"lot"}, {{"A"}, {"B"}}});
    Job worded{"strip", 30, 10, demo.setup, {}, {}, {{1, {2, 3}}, {2, {30, 3}}}};
    worded.layers.push_back({"serial",
                             "#1d1d1e",
                             false,
                             DemoBench::blue(),
                             {{{{0, 0}, {4, 0}, {4, 3}}}},
                             true,
                             {2},
                             true,
                             2,
                             0.03,
                             "No 7"});
    struct Target_ {
        const char* what;
        std::vector<std::string> good;
        Reader read;
    };
    const std::vector<Target_> targets{
        {"recipe", {to_json(DemoBench::blue()).dump()}, document_reader([](const json& j) {
             return recipe_from_json(j, "f");
         })},
        {"bench",
         {file("data/benches/wren.json"), file("data/benches/heron.json")},
         [](const std::string& t) -> std::optional<json> {
             const auto b = bench_from_text(t, "f");
             return b ? std::optional(to_json(*b)) : std::nullopt;
         }},
        {"stock",
         {file("data/stock/sundial-316.json")},
         [](const std::string& t) -> std::optional<json> {
             const auto s = stock_from_text(t, "f");
             return s ? std::optional(to_json(*s)) : std::nullopt;
         }},
        {"set-up", {to_json(demo.setup).dump(), v1["entries"][0]["setup"].dump()}, document_reader([](const json& j) {
             return setup_from_json(j, "f");
         })},
        {"sheet", {to_json(sheet).dump()}, document_reader([](const json& j) { return sheet_from_json(j, "f"); })},
        {"reading",
         {to_json(read, sheet).dump()},
         [&](const std::string& t) -> std::optional<json> {
             const auto parsed = parse_json(t, "f");
             const auto r = parsed ? reading_from_json(*parsed, sheet, "f")
                                   : Expected<SheetReading>(tl::unexpected(parsed.error()));
             return r ? std::optional(to_json(*r, sheet)) : std::nullopt;
         }},
        {"aim",
         {to_json(Aim{"sundial", "", {usual_wish(WishKind::dark), usual_wish(WishKind::depth)}}).dump()},
         document_reader([](const json& j) { return aim_from_json(j, "f"); })},
        {"draft", {file("tests/data/old/draft-v1.json")}, document_reader([](const json& j) {
             return app::draft_from_json(j, "f");
         })},
        {"entry",
         {v1["entries"][2].dump(), v1["entries"][3].dump()},
         [](const std::string& t) -> std::optional<json> {
             const auto parsed = parse_json(t, "f");
             const auto e = parsed ? entry_from_json(*parsed, "f") : Expected<Entry>(tl::unexpected(parsed.error()));
             if (!e)
                 return std::nullopt;
             // What an entry holds is looked at by everybody who shows it.
             if (const auto r = read_sheet(*e))
                 (void)observed(*r);
             (void)burned_sheet(*e);
             (void)focus_confirmation(*e);
             return std::nullopt;
         }},
        {"typed texts", {to_json(typed).dump()}, document_reader([](const json& j) {
             const auto t = texts_from_json(j, "f");
             if (t) // what was read can be told, or says why not
                 for (const TypedText& text : t->texts)
                     for (const int piece : {1, 2, 1'000'000})
                         (void)words_on(text, t->series, piece);
             return t;
         })},
        {"job with words, contours and places", {to_json(worded).dump()}, document_reader([](const json& j) {
             return job_from_json(j, "f");
         })},
        {"table of pieces",
         {"lot;by\nA-1;OD\n\"B;2\";\"said \"\"go\"\"\"\n", "\xef\xbb\xbfn,lot\r\n1,A\r\n2,B\r\n"},
         text_reader([](const std::string& t) {
             if (const auto table = piece_table(t, "f"))
                 for (const auto& row : table->rows)
                     CHECK(row.size() == table->columns.size());
         })},
        {"evidence", {evidence_document(Evidence{}).dump(), taught_document()}, document_reader([](const json& j) {
             return evidence_from_json(j, "f");
         })},
        {"answer of a bench",
         {R"({"is":"progress","job":3,"share":0.5,"at":"B4"})", R"({"is":"burned","job":3,"time_s":61.5})",
          R"({"is":"fault","job":3,"code":"x","message":"y"})",
          R"({"is":"photo","shot":2,"picture_base64":"aGFsbG8="})",
          R"({"is":"hello","version":3,"bench":"b","simulated":true})",
          R"({"is":"holds","run":2,"line":40,"why":"open"})", R"({"is":"runs","run":2,"share":0.4,"line":12})"},
         [](const std::string& t) -> std::optional<json> {
             const auto a = protocol::answer_from_line(t);
             return a ? std::optional(protocol::to_json(*a)) : std::nullopt;
         }},
        {"step of a job",
         {protocol::to_json(ToolStep{"A1", DemoBench::blue(), {{0, 0, 5, 4}}, {{{0, 0}, {1, 1}}}}).dump()},
         document_reader([](const json& j) { return protocol::tool_step_from_json(j); })},
        {"borrowed text",
         {"25 W, 40 kHz, 600 mm/s, 0.03, stainless, 160 mm lens, 3 passes and 200 ns @ spot 40 um"},
         text_reader([](const std::string& t) {
             if (const auto b = borrowed_from_text(t, materials())) {
                 if (b->passes)
                     CHECK((*b->passes >= 1 && *b->passes <= 10000));
                 for (const auto& v :
                      {b->power_w, b->speed_mm_s, b->frequency_khz, b->pulse_ns, b->pitch_mm, b->spot_mm})
                     if (v)
                         CHECK((*v > 0 && std::isfinite(*v)));
             }
         })},
        {"borrowed table",
         {"power (W);speed;freq (kHz);passes;metal\n20;500;40;2;stainless\n\"a\nb\";1;2;3;x\n"},
         text_reader([](const std::string& t) {
             if (const auto table = borrowed_table(t, "f"))
                 for (std::size_t i = 0; i < table->rows.size(); ++i)
                     (void)borrowed_row(*table, i, materials());
         })},
        {"quantity",
         {"1 1/2 thou", "2*0.015 mm", "1,500 mm/s", "50 %", "−0.7 mm", "(12+3)/2 um", "500 lpi"},
         text_reader([](const std::string& t) {
             for (const QuantityKind kind : {QuantityKind::pitch, QuantityKind::speed, QuantityKind::percent})
                 if (const auto v = parse_quantity(t, kind, {}))
                     CHECK(std::isfinite(v->value));
         })},
        {"colour", {"35 3 -33", "#1F5A96", "35; 3; -33"}, text_reader([](const std::string& t) {
             if (const auto c = lab_from_text(t))
                 CHECK((std::isfinite(c->l) && c->l >= 0 && c->l <= 100.01));
         })},
    };
    Mutator mutate(static_cast<unsigned>(20261126));
    double slowest_s = 0;
    long accepted = 0;
    for (long i = 0; i < rounds; ++i) {
        const Target_& target = targets[static_cast<std::size_t>(i) % targets.size()];
        const std::string text = mutate(target.good[mutate.below(target.good.size())]);
        const auto from = std::chrono::steady_clock::now();
        std::optional<json> taken;
        try {
            taken = target.read(text);
        } catch (const std::exception& e) {
            FAIL(target.what << " threw " << e.what() << " at: " << text.substr(0, 400));
        }
        slowest_s = std::max(slowest_s, std::chrono::duration<double>(std::chrono::steady_clock::now() - from).count());
        if (!taken)
            continue;
        ++accepted;
        // What was accepted holds no hole, and is accepted again as the same.
        const std::string settled = json_text(*taken);
        if (has_null(*taken))
            FAIL(target.what << " accepted a hole: " << text.substr(0, 400));
        const auto twice = target.read(settled);
        if (!twice || json_text(*twice) != settled)
            FAIL(target.what << " accepted what it does not accept again: " << text.substr(0, 400)
                             << "\ndiffers: " << (twice ? nlohmann::json::diff(*taken, *twice).dump() : "refused"));
    }
    CHECK(slowest_s < 1);
    CHECK(accepted > rounds / 50);
}

TEST_CASE("pictures that are none are refused, however they are broken", "[fuzz]") {
    const Picture small{40, 30, std::vector<std::uint8_t>(40 * 30 * 3, 120)};
    const QByteArray good = png_bytes(small);
    Mutator mutate(7);
    int read = 0;
    for (int i = 0; i < 400; ++i) {
        QByteArray bad = good;
        for (std::size_t k = 1 + mutate.below(4); k > 0; --k)
            bad[static_cast<qsizetype>(mutate.below(static_cast<std::size_t>(bad.size())))] =
                static_cast<char>(mutate.below(256));
        if (mutate.below(3) == 0)
            bad.truncate(static_cast<qsizetype>(mutate.below(static_cast<std::size_t>(bad.size()))));
        if (const auto p = picture_from_bytes(bad, "x")) {
            ++read;
            CHECK(p->rgb.size() == static_cast<std::size_t>(p->width) * static_cast<std::size_t>(p->height) * 3);
        }
    }
    CHECK(read < 400);
}

TEST_CASE("text of any length is understood or refused in time that goes with its length", "[fuzz]") {
    const auto seconds = [](auto work) {
        const auto from = std::chrono::steady_clock::now();
        work();
        return std::chrono::duration<double>(std::chrono::steady_clock::now() - from).count();
    };
    for (const std::string& unit :
         {std::string(" "), std::string("9"), std::string("1,"), std::string("("), std::string("x "),
          std::string("and "), std::string("3 passes "), std::string("\"\n"), std::string("é")}) {
        INFO(unit);
        std::string text;
        while (text.size() < 90000)
            text += unit;
        CHECK(seconds([&] {
                  (void)borrowed_from_text(text, materials());
                  (void)borrowed_table(text, "f");
                  (void)parse_quantity(text, QuantityKind::pitch, {});
                  (void)lab_from_text(text);
                  (void)parse_json(text, "f");
              }) < 2);
    }
}

TEST_CASE("borrowed text is read as it was meant", "[borrowed]") {
    struct Row {
        const char* text;
        std::function<bool(const Borrowed&)> right;
    };
    const auto near = [](const std::optional<double>& v, double want) { return v && std::abs(*v / want - 1) < 1e-6; };
    const std::vector<Row> rows{
        {"max 500 mm/s", [&](const Borrowed& b) { return near(b.speed_mm_s, 500) && !b.passes; }},
        {"25 W 40 kHz", [&](const Borrowed& b) { return near(b.power_w, 25); }},
        {"25 W, 40 kHz, 600 mm/s, 0.03",
         [&](const Borrowed& b) {
             return near(b.power_w, 25) && near(b.frequency_khz, 40) && near(b.speed_mm_s, 600) &&
                    near(b.pitch_mm, 0.03);
         }},
        {"3 passes", [](const Borrowed& b) { return b.passes == 3; }},
        {"3x", [](const Borrowed& b) { return b.passes == 3; }},
        {"passes: 12", [](const Borrowed& b) { return b.passes == 12; }},
        {"x 4", [](const Borrowed& b) { return b.passes == 4; }},
        {"99999999999 passes, 20 W", [](const Borrowed& b) { return !b.passes && b.not_understood.size() == 1; }},
        {"0 passes, 20 W", [](const Borrowed& b) { return !b.passes; }},
        {"spot -5, 20 W", [](const Borrowed& b) { return !b.spot_mm; }},
        {"200 ns and 0,05 mm hatch",
         [&](const Borrowed& b) { return near(b.pulse_ns, 200) && near(b.pitch_mm, 0.05); }},
        {"source 60 W; power 40 %",
         [&](const Borrowed& b) { return near(b.rated_w, 60) && near(b.power_percent, 40); }},
        {"stainless 316, 20 W", [](const Borrowed& b) { return b.metal == "stainless-316"; }},
        {"mild steel @ 20 W", [](const Borrowed& b) { return b.metal == "mild-steel"; }},
        {"a 304 mm/s pass over brass, 20 W", [](const Borrowed& b) { return b.metal == "brass"; }},
        {"titanium\n160 mm lens\n2 mm thick, 20 W",
         [&](const Borrowed& b) { return b.metal == "titanium-2" && near(b.lens_mm, 160) && near(b.thickness_mm, 2); }},
    };
    for (const Row& row : rows) {
        INFO(row.text);
        const auto b = borrowed_from_text(row.text, materials());
        REQUIRE(b);
        CHECK(row.right(*b));
    }
    CHECK_FALSE(borrowed_from_text("nothing at all", materials()));
    CHECK(borrowed_from_text(std::string(200000, 'x'), materials()).error().code == "borrowed.too_long");
}
