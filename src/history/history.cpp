// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "history/history.h"

#include "bench/bench_json.h"
#include "evidence/evidence_json.h"
#include "evidence/learn.h"
#include "formats/picture_file.h"
#include "proof/layout.h"
#include "quantity/format.h"
#include "recipe/predict.h"
#include "record/facts.h"
#include "standin/camera_file.h"
#include "vision/fiducials.h"
#include "vision/sheet_photo.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace finch::history {
namespace {

constexpr std::uint64_t bench_seed = 7; // the bench that the demo goes on with
constexpr double haze_of_nine_days = 0.06;

Target target_of(const char* name) {
    for (const Target& t : named_targets())
        if (t.name == name)
            return t;
    return {};
}

Recipe recipe_of(const char* name, Process process, const Setting& setting) {
    Recipe r;
    r.name = name;
    r.process = process;
    r.setting = setting;
    return r;
}

/// Where the truth of a day differs from what the operators believed.
struct Trouble {
    double focus_mm = 0;
    std::optional<Finish> finish; ///< of the metal that really lay there
};

/// The workshop from day to day. Everything ends up in the logbook; the first error ends the work.
class Workshop {
public:
    Workshop(Logbook& logbook, const DataFolders& folders, Materials materials, standin::Nature nature)
        : logbook_(logbook), folders_(folders), materials_(std::move(materials)),
          nature_(std::make_shared<const standin::Nature>(std::move(nature))),
          camera_(standin::draw_camera(standin::Grade::honest, bench_seed)) {}

    /// Days are counted from 1; each thing of a day happens twenty minutes after the one before.
    void day(int number, const char* by) {
        day_ = number;
        by_ = by;
        minutes_ = 8 * 60 + 10;
    }
    void lay(const char* bench, const char* stock) {
        const auto b = load_bench(folders_, bench);
        const auto s = load_stock(folders_, stock);
        if (keep(b) && keep(s)) {
            setup_.bench = *b;
            setup_.stock = *s;
        }
    }
    void put_on(const std::string& lens) {
        for (std::size_t i = 0; i < setup_.bench.lenses.size(); ++i)
            if (setup_.bench.lenses[i].name == lens)
                setup_.bench.lens_index = i;
    }
    Stock& stock() { return setup_.stock; }
    void confirm_focus();
    struct Plan {
        const char* aim;
        Recipe base;
        AxisPlan across, down;
        const char* target;
        const char* reason;
        bool shaded = false; ///< photographed where no lamp is mirrored in it
    };
    /// Plans, burns, photographs and reads a sheet, and learns from it. Gives the best cell's recipe.
    Recipe prove(const Plan& plan, const Trouble& trouble = {});
    void save(Recipe recipe, const char* target, Outcome outcome, const std::string& lesson);
    /// A piece of what lies there goes into the scrap bin, with what its first face carries.
    void keep_scrap(const char* name, double width_mm, double height_mm, const char* note,
                    const std::optional<ScrapMark>& mark = {});
    [[nodiscard]] const std::optional<Error>& trouble() const { return error_; }

private:
    template <typename T>
    bool keep(const Expected<T>& result) {
        if (!result && !error_)
            error_ = result.error();
        return !error_;
    }
    [[nodiscard]] std::string now() {
        minutes_ += 20;
        return fmt::format("2026-03-{:02}T{:02}:{:02}:00Z", 1 + day_, minutes_ / 60, minutes_ % 60);
    }
    [[nodiscard]] std::string uid() { return fmt::format("demo-day-{}-{:03}", day_, ++things_); }
    [[nodiscard]] std::string metal_name() const {
        const auto metal = materials_.find(setup_.stock.metal);
        return metal ? (*metal)->name : setup_.stock.metal;
    }
    void add(const Entry& entry, const std::vector<EntryPicture>& pictures = {}) {
        keep(logbook_.add(entry, pictures));
    }
    [[nodiscard]] Expected<standin::Plate> burned(const ProofSheet& sheet, const Trouble& trouble) const;
    [[nodiscard]] Evidence known() const;

    Logbook& logbook_;
    const DataFolders& folders_;
    Materials materials_;
    std::shared_ptr<const standin::Nature> nature_;
    standin::CameraBody camera_;
    Setup setup_;
    std::vector<Observation> observations_;
    std::optional<Error> error_;
    std::string by_, last_reading_;
    int day_ = 1, minutes_ = 0, things_ = 0, sheets_ = 0;
};

void Workshop::confirm_focus() {
    if (error_)
        return;
    const std::string when = now();
    setup_.focus.confirmed =
        confirmation(setup_.focus, setup_.bench.name, setup_.bench.lens().name, setup_.stock, by_, when);
    add(entry_of(*setup_.focus.confirmed, setup_, uid(), metal_name(), FINCH_VERSION));
}

Evidence Workshop::known() const {
    std::vector<Observation> here;
    for (const Observation& o : observations_)
        if (evidence_key(*o.setup) == evidence_key(setup_))
            here.push_back(o);
    return learn(materials_, here);
}

Expected<standin::Plate> Workshop::burned(const ProofSheet& sheet, const Trouble& trouble) const {
    standin::World world = standin::draw_world(standin::Grade::honest, bench_seed);
    world.ageing += haze_of_nine_days * (day_ - 1) / 8; // the lens hazes over, a little each day
    world.focus_mm += trouble.focus_mm;
    Setup truth = setup_;
    truth.stock.finish = trouble.finish.value_or(truth.stock.finish);
    const SheetLayout at = layout(sheet);
    return burn_all(world, nature_, truth, tool_steps(sheet, at, fiducial_modules(at)), at.width_mm, at.height_mm);
}

Recipe Workshop::prove(const Plan& plan, const Trouble& trouble) {
    const auto metal = materials_.find(setup_.stock.metal);
    if (!keep(metal))
        return plan.base;
    const Evidence before = known();
    const Scene scene{materials_, **metal, setup_.bench, setup_.stock, before};
    const auto labels = label_recipe(scene);
    if (!keep(labels))
        return plan.base;
    const auto sheet = plan_sheet({++sheets_, plan.aim, plan.base, plan.across, plan.down, mm(5), mm(4), mm(1)},
                                  setup_.bench, *labels);
    if (!keep(sheet))
        return plan.base;
    const auto plate = burned(*sheet, trouble);
    if (!keep(plate))
        return plan.base;
    BurnedSheet b;
    b.uid = uid();
    b.when_utc = now();
    b.by = by_;
    b.sheet = *sheet;
    b.setup = setup_;
    b.target = target_of(plan.target);
    b.known_before = before;
    b.reason = plan.reason;
    for (const standin::Burn& burn : plate->burns)
        b.burned_s += burn.time_s;
    add(entry_of(b, metal_name(), FINCH_VERSION));

    standin::Shot shot;
    shot.seed = static_cast<std::uint64_t>(100 + sheets_);
    shot.width_px = 1400;
    shot.height_px = 1050;
    shot.white_card = layout(*sheet).white_card;
    shot.quarter_turns = sheets_ % 4;
    shot.glares = plan.shaded ? 0 : -1;
    const QByteArray photo = standin::encoded(standin::photograph(*plate, camera_, shot));
    const auto picture = picture_from_bytes(photo, "photograph");
    if (!keep(picture))
        return plan.base;
    const auto read = read_sheet_photo(*picture, *sheet);
    if (!keep(read))
        return plan.base;
    ReadSheet fact{uid(), now(), by_, b.uid, *sheet, setup_, b.target, read->reading};
    fact.reading.photo = fmt::format("camera, sheet {}", sheets_);
    const auto ranked = rank(fact.reading, b.target, forecast(*sheet, scene));
    const std::string summary = ranked.empty()
                                    ? "no cell could be read"
                                    : fmt::format("best {} with {} to {}", cell_name(*sheet, ranked.front().cell),
                                                  format_number(ranked.front().miss, 2), b.target.name);
    const Outcome outcome = ranked.empty()          ? Outcome::unknown
                            : ranked.front().passes ? Outcome::good
                                                    : Outcome::caution;
    add(entry_of(fact, summary, outcome, metal_name(), FINCH_VERSION),
        {{"photo", photo}, {"rectified", png_bytes(read->rectified)}});
    last_reading_ = fact.uid;
    const auto places = observed(*sheet, fact.reading, std::make_shared<const Setup>(setup_), fact.when_utc, fact.uid);
    observations_.insert(observations_.end(), places.begin(), places.end());
    return ranked.empty() ? plan.base : cell_recipe(*sheet, ranked.front().cell);
}

void Workshop::keep_scrap(const char* name, double width_mm, double height_mm, const char* note,
                          const std::optional<ScrapMark>& mark) {
    ScrapFact found{uid(), now(), by_, name, ScrapFact::Kind::found, width_mm, height_mm, note, {}, setup_};
    add(entry_of(found, metal_name(), FINCH_VERSION));
    if (mark) {
        const ScrapFact used{uid(), now(), by_, name, ScrapFact::Kind::used, 0, 0, {}, *mark, setup_};
        add(entry_of(used, metal_name(), FINCH_VERSION));
    }
}

void Workshop::save(Recipe recipe, const char* target, Outcome outcome, const std::string& lesson) {
    const auto metal = materials_.find(setup_.stock.metal);
    if (!keep(metal))
        return;
    Entry e;
    e.uid = uid();
    e.kind = EntryKind::recipe;
    e.when_utc = now();
    e.by = by_;
    e.title = recipe.name;
    e.summary = lesson;
    e.outcome = outcome;
    e.bench = setup_.bench.name;
    e.metal = metal_name();
    e.lot = setup_.stock.lot;
    e.parent_uid = outcome == Outcome::good ? last_reading_ : "";
    e.setup = to_json(setup_);
    e.program_version = FINCH_VERSION;
    const Evidence evidence = known();
    e.body = {{"format", "finch-recipe-record"},
              {"version", 1},
              {"recipe", to_json(recipe)},
              {"target", to_json(target_of(target))},
              {"evidence", evidence_document(evidence)}};
    if (const auto p = predict({materials_, **metal, setup_.bench, setup_.stock, evidence}, recipe, {mm(10), 100}))
        e.body["prediction"] = to_json(*p);
    add(e);
}

Recipe named(Recipe recipe, const char* name) {
    recipe.name = name;
    return recipe;
}

void nine_days(Workshop& w) {
    const Recipe blue = recipe_of("noon line", Process::colour,
                                  {13, kilohertz(300), nanoseconds(26), mm_per_second(990), mm(0.0035), 0, 1, mm(0)});
    const Recipe band = recipe_of("setting circle bands", Process::colour,
                                  {4, kilohertz(300), nanoseconds(26), mm_per_second(3000), mm(0.005), 0, 1, mm(0)});
    const Recipe strong = recipe_of("setting circle bands", Process::colour,
                                    {6, kilohertz(300), nanoseconds(26), mm_per_second(1330), mm(0.005), 0, 1, mm(0)});
    const AxisPlan speeds{Knob::scan_speed, 600, 1900, 8, Steps::ratio},
        pitches{Knob::hatch_pitch, 0.003, 0.007, 6, Steps::ratio};
    const AxisPlan three{Knob::scan_speed, 800, 1200, 3, Steps::ratio},
        two{Knob::hatch_pitch, 0.0032, 0.004, 2, Steps::ratio};
    const Workshop::Plan control{
        "control patch", blue, three, two, "deep blue", "the same six cells every other day", true};

    w.day(1, "OD");
    w.lay("wren", "sundial-316");
    w.confirm_focus();
    const Recipe noon = w.prove({"noon line in deep blue", blue, speeds, pitches, "deep blue", "a broad first sheet"});
    w.save(named(noon, "noon line"), "deep blue", Outcome::good, "found on the first sheet of this lot");
    w.prove(control);

    w.day(2, "BR");
    w.lay("wren", "setting-circle-titanium");
    w.put_on("100 mm");
    w.confirm_focus();
    w.prove({"setting circle, five bands",
             band,
             {Knob::scan_speed, 1500, 5000, 8, Steps::ratio},
             {Knob::hatch_pitch, 0.004, 0.007, 4, Steps::ratio},
             "deep blue",
             "the range of colours of this lot"});
    // The lens was lifted for a clamp and not set down again.
    const Workshop::Plan golden{"setting circle, gold band",
                                strong,
                                {Knob::scan_speed, 900, 2000, 6, Steps::ratio},
                                {Knob::hatch_pitch, 0.0045, 0.006, 3, Steps::ratio},
                                "gold",
                                "stronger, for the second band"};
    const Recipe gold = w.prove(golden, {0.7, {}});
    w.save(named(gold, "gold band"), "gold", Outcome::good, "a great gold at the first try");

    w.day(3, "BR");
    w.confirm_focus();
    w.prove({"setting circle, gold band again", gold, golden.across, golden.down, "gold",
             "to confirm it before the piece"});
    w.save(named(gold, "gold band"), "gold", Outcome::bad,
           "could not be repeated: the first sheet was burned 0.7 mm out of focus, the head had not been set down");

    w.day(4, "OD");
    w.lay("wren", "setting-circle-titanium");
    w.put_on("100 mm");
    w.stock().lot = "T2-04";
    w.confirm_focus();
    // It was ordered brushed and came blasted; nobody looked.
    w.prove({"bands on the new lot",
             band,
             {Knob::scan_speed, 1500, 5000, 6, Steps::ratio},
             {Knob::hatch_pitch, 0.004, 0.007, 3, Steps::ratio},
             "deep blue",
             "the same range on lot T2-04"},
            {0, Finish::blasted});
    w.save(named(band, "bands on T2-04"), "deep blue", Outcome::bad,
           "the colours lie at higher speeds than on T2-03: the lot is blasted, not brushed");

    w.day(5, "WE");
    w.lay("wren", "sundial-316");
    w.confirm_focus();
    w.prove(control);
    Recipe wide = noon;
    wide.setting.hatch_pitch *= 10.0;
    w.save(named(wide, "noon line, second dial"), "deep blue", Outcome::bad,
           "stripes instead of blue: the hatch pitch was typed ten times too big");
    w.keep_scrap("S1", 100, 70, "reject, second dial", ScrapMark{0, {18, 14, 64, 42}, "second dial"});
    w.keep_scrap("S2", 62, 38, "offcut of the dial plate");

    w.day(6, "OD");
    w.lay("heron", "finishing-stamp-brass");
    Recipe stamp = recipe_of("finishing stamp", Process::deep_engrave,
                             {90, kilohertz(40), nanoseconds(110), mm_per_second(700), mm(0.035), 0, 240, mm(0)});
    stamp.turn_per_pass_deg = 120;
    w.confirm_focus();
    w.save(stamp, "dark", Outcome::caution,
           "furrows in three directions on the floor: a turn of 120 degrees comes round again after three passes");
    w.lay("heron", "feeler-strip-304");
    w.save(recipe_of("feeler strip marks", Process::anneal,
                     {45, kilohertz(80), nanoseconds(110), mm_per_second(180), mm(0.02), 0, 1, mm(2)}),
           "dark", Outcome::bad, "the strip bowed by 0.4 mm: it lay unclamped, and one mark followed the other");

    w.day(7, "WE");
    w.lay("mallow", "gauge-strip-304");
    Recipe fused = recipe_of("gauge strip, compound", Process::compound,
                             {70, kilohertz(5), nanoseconds(1000), mm_per_second(120), mm(0.05), 0, 1, mm(0)});
    fused.compound = "ceramic";
    w.save(fused, "dark", Outcome::bad, "half of it washed off: the drying timer was skipped, the film was still wet");
    w.stock().under_it = "plywood";
    w.save(named(fused, "gauge strip, second tile"), "dark", Outcome::caution,
           "bonded, but the wood under the strip was scorched and its smoke stained the rim");

    w.day(8, "OD");
    w.lay("mallow", "reed-scale-anodised");
    w.save(recipe_of("loom reed scale", Process::bleach,
                     {30, kilohertz(5), nanoseconds(1000), mm_per_second(250), mm(0.08), 0, 1, mm(0)}),
           "dark", Outcome::good, "pale and even, the film is kept");
    w.lay("heron", "tripod-sleeve-powder");
    w.save(recipe_of("tripod sleeve scale", Process::strip,
                     {60, kilohertz(40), nanoseconds(110), mm_per_second(600), mm(0.04), 0, 3, mm(0)}),
           "dark", Outcome::caution,
           "clean to the metal at the thick end, a haze of coat left at the thin end: the sleeve tapers");

    w.day(9, "OD");
    w.lay("wren", "sundial-316");
    w.confirm_focus();
    w.prove(control);
    w.save(named(noon, "noon line"), "deep blue", Outcome::caution,
           "less film than on the first day at the same setting: look at the lens, it has hazed over");
}

} // namespace

Expected<void> write_nine_days(Logbook& logbook, const DataFolders& folders) {
    auto materials = load_materials(folders);
    if (!materials)
        return tl::unexpected(materials.error());
    auto nature = standin::load_nature(folders);
    if (!nature)
        return tl::unexpected(nature.error());
    Workshop workshop(logbook, folders, std::move(*materials), std::move(*nature));
    nine_days(workshop);
    if (workshop.trouble())
        return tl::unexpected(*workshop.trouble());
    return {};
}

Expected<std::string> told(const Logbook& logbook) {
    EntryFilter all;
    all.limit = 1000;
    const auto entries = logbook.list(all);
    if (!entries)
        return tl::unexpected(entries.error());
    std::string out;
    for (auto e = entries->rbegin(); e != entries->rend(); ++e)
        out += fmt::format("{} {} {} [{}] {} | {} | {}\n", e->when_utc, e->by, word(e->kind), word(e->outcome),
                           e->title, e->lot, e->summary);
    return out;
}

} // namespace finch::history
