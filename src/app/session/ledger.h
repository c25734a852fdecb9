// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "evidence/learn.h"
#include "record/facts.h"

#include <map>
#include <optional>
#include <set>

namespace finch::app {

/// What is known of one bench and stock.
struct Knowledge {
    std::vector<Observation> observations; ///< all of the record, as far as it was read
    Evidence evidence;                     ///< what they teach together
    bool complete = false;                 ///< the whole record was read
};

/// The facts of the work at hand: what was burned, read and confirmed. They are appended and never undone; each is
/// known by a stable id and carries the set-up of its own moment. What is kept here is a part of what the logbook
/// holds.
class Ledger {
public:
    struct Sheet {
        BurnedSheet burned;
        std::optional<ReadSheet> read; ///< the newest reading
        Agreement agreement;           ///< of the predictions before and after that reading
    };

    void add(const BurnedSheet& burned);
    /// A reading, with all that is known now and how well the predictions agreed.
    void add(const ReadSheet& read, const Agreement& agreement);
    void add(const FocusConfirmation& focus);
    void add(const TimedScanner& timed);
    void add(const CompoundFact& fact);
    void add(std::vector<ScrapFact> facts);
    void add(const CameraFact& fact);
    void know(const std::string& key, Knowledge knowledge);

    [[nodiscard]] const std::map<int, Sheet>& sheets() const { return sheets_; }
    [[nodiscard]] const Sheet* sheet(int number) const;
    /// The last confirmation on a bench.
    [[nodiscard]] std::optional<FocusConfirmation> focus(const std::string& bench) const;
    /// The timed runs of a bench; null where nobody took any.
    [[nodiscard]] const TimedScanner* timed(const std::string& bench) const;
    /// What was done with the pieces that were last sprayed, or are to be, on a bench; oldest first. Nothing once they
    /// were put away.
    [[nodiscard]] std::vector<CompoundFact> film_work(const std::string& bench) const;
    /// Benches on which there was such work.
    [[nodiscard]] std::set<std::string> film_benches() const;
    /// When something was last said of such work on any bench; empty: never.
    [[nodiscard]] std::string last_film_step() const { return films_.empty() ? std::string() : films_.back().when_utc; }
    /// The pieces of the scrap bin.
    [[nodiscard]] const std::vector<ScrapPiece>& scrap() const { return bin_; }
    /// Where a sheet was burned on one of them, by the last word on it; none: on fresh stock.
    [[nodiscard]] std::optional<ScrapPlace> scrap_place(int sheet) const;
    /// All that was said of them, oldest first: of pieces that are gone as well.
    [[nodiscard]] const std::vector<ScrapFact>& scrap_facts() const { return scraps_; }
    /// The cameras whose colours were set right, each as it was last, by name.
    [[nodiscard]] const std::map<std::string, CameraFact>& cameras() const { return cameras_; }
    [[nodiscard]] const Knowledge* knowledge(const std::string& key) const;
    [[nodiscard]] Evidence evidence(const std::string& key) const;

private:
    std::map<int, Sheet> sheets_; ///< by number
    std::map<std::string, FocusConfirmation> focus_;
    std::map<std::string, TimedScanner> timed_;
    std::vector<CompoundFact> films_; ///< oldest first
    std::vector<ScrapFact> scraps_;   ///< oldest first
    std::vector<ScrapPiece> bin_;     ///< as they make it
    std::map<int, ScrapPlace> laid_;  ///< of sheets, by number
    std::map<std::string, CameraFact> cameras_;
    std::map<std::string, Knowledge> knowledge_;
};

/// Observations without doubles, in a fixed order: what a fold over facts from two sources starts from.
[[nodiscard]] std::vector<Observation> merged(std::vector<Observation> a, const std::vector<Observation>& b);

} // namespace finch::app
