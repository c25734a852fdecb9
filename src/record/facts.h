// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "piece/compound_plan.h"
#include "proof/observed.h"
#include "proof/scrap_bin.h"
#include "recipe/scene.h"
#include "record/entry.h"

namespace finch {

/// A sheet that was burned: what, on what, knowing what. Never changes.
struct BurnedSheet {
    std::string uid, when_utc, by;
    ProofSheet sheet;
    Setup setup; ///< of the moment of burning
    Target target;
    Evidence known_before; ///< when it was planned
    std::string reason;    ///< why this sheet
    std::optional<double> hoped_de;
    double hoped_spread = 0;
    double burned_s = 0; ///< 0: burned elsewhere, and known only by its photograph
};

/// What a photograph said about a burned sheet.
struct ReadSheet {
    std::string uid, when_utc, by;
    std::string burned_uid;
    ProofSheet sheet;
    Setup setup; ///< of the moment of burning, whatever was on the bench when it was read
    Target target;
    SheetReading reading;
};

/// The scans of a bench whose time was taken: all that count from then on, none where they were forgotten.
struct TimedScanner {
    std::string when_utc, by, bench;
    std::vector<TimedRun> runs;
};

/// A job whose sheet was printed, under the code that is on it.
struct PrintedJob {
    std::string when_utc, by, name, code;
    Setup setup;        ///< that it was made for
    nlohmann::json job; ///< the finch-job; null where it is too large to keep
};

/// A step of work with a sprayed film, as it was said to be done.
struct CompoundFact {
    std::string uid, when_utc, by;
    std::string batch; ///< pieces that are sprayed together
    int pieces = 1;
    Recipe recipe; ///< of the film: product and coats, and what it is or was marked with
    CompoundStage stage = CompoundStage::degrease;
    StepEvent::Kind kind = StepEvent::Kind::done;
    bool closed = false;             ///< nothing more is done with these pieces
    std::string note;                ///< why it was skipped, or what was seen
    std::vector<double> ladder = {}; ///< grades of a scratch ladder, softest tool first
    Setup setup;                     ///< of the moment, with the stock that was sprayed
};

/// Something that was said of a piece in the scrap bin.
struct ScrapFact {
    enum class Kind { found, used, gone };
    std::string uid, when_utc, by;
    std::string piece; ///< name
    Kind kind = Kind::found;
    double width_mm = 0, height_mm = 0; ///< of what was found
    std::string note;
    ScrapMark mark; ///< of what was used
    Setup setup;    ///< of the moment, with the stock that the piece is of
};

/// A camera whose colours were set right, with the places by which.
struct CameraFact {
    std::string uid, when_utc, by;
    CameraColour colours;
    std::vector<ColourPair> places;
    std::string shown; ///< what was photographed: "colour chart", "sheet 7"
    Setup setup;       ///< of the moment
};

/// Facts as entries of the logbook. `metal` is the metal's name for people.
[[nodiscard]] Entry entry_of(const BurnedSheet& sheet, const std::string& metal, const std::string& program);
[[nodiscard]] Entry entry_of(const ReadSheet& read, const std::string& summary, Outcome outcome,
                             const std::string& metal, const std::string& program);
[[nodiscard]] Entry entry_of(const FocusConfirmation& focus, const Setup& setup, const std::string& uid,
                             const std::string& metal, const std::string& program);
[[nodiscard]] Entry entry_of(const TimedScanner& timed, Setup setup, const std::string& uid, const std::string& metal,
                             const std::string& program);
[[nodiscard]] Entry entry_of(const PrintedJob& job, const std::string& uid, const std::string& metal,
                             const std::string& program);
/// `product`: for people.
[[nodiscard]] Entry entry_of(const CompoundFact& fact, const CompoundConstants& product, const LadderScore& score,
                             const std::string& metal, const std::string& program);
[[nodiscard]] Entry entry_of(const ScrapFact& fact, const std::string& metal, const std::string& program);
[[nodiscard]] Entry entry_of(const CameraFact& fact, const std::string& metal, const std::string& program);
inline constexpr std::string_view scrap_bin_title = "Scrap bin";
inline constexpr std::string_view camera_set_right_title = "Camera set right";
inline constexpr std::string_view scanner_timed_title = "Scanner timed"; ///< by which these entries are found
inline constexpr std::string_view compound_work_title = "Film work";

/// And back. Errors: document.* with the field.
[[nodiscard]] Expected<BurnedSheet> burned_sheet(const Entry& entry);
[[nodiscard]] Expected<ReadSheet> read_sheet(const Entry& entry);
/// Errors: record.no_focus when the entry confirms none.
[[nodiscard]] Expected<FocusConfirmation> focus_confirmation(const Entry& entry);
/// Errors: document.* with the field.
[[nodiscard]] Expected<TimedScanner> timed_scanner(const Entry& entry);

/// Errors: document.* with the field.
[[nodiscard]] Expected<CompoundFact> compound_fact(const Entry& entry);
/// Errors: document.* with the field.
[[nodiscard]] Expected<ScrapFact> scrap_fact(const Entry& entry);
/// Errors: document.* with the field.
[[nodiscard]] Expected<CameraFact> camera_fact(const Entry& entry);

[[nodiscard]] std::vector<Observation> observed(const ReadSheet& read);

} // namespace finch
