// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "bench/setup.h"
#include "piece/run_plan.h"
#include "record/entry.h"
#include "safety/gates.h"

#include <map>
#include <QString>
#include <set>

namespace finch {

/// Something that happened in a run.
struct RunEvent {
    enum class Kind {
        sent,   ///< a portion went to the bench
        at,     ///< the bench told how far it is
        passed, ///< a portion is marked, whole
        held,   ///< the beam is off
        went_on,
        looked,       ///< somebody was there, and looked
        set_aside,    ///< a part is not marked any further
        brought_back, ///< it is
        faulted,      ///< the bench failed
        answered,     ///< a gate, after the run had begun
        ended,        ///< everything is marked
        given_up,
        left ///< the pass under way, after that line: its part was set aside
    };
    Kind kind = Kind::sent;
    std::string when_utc, by;
    std::string note;     ///< why, or what was seen; of a gate, its key
    int portion = 0;      ///< of the plan
    int line = 0;         ///< of that portion's program, that is done
    int place = 0;        ///< number of the place, of a part
    int count = 1;        ///< portions that follow each other, of those that passed
    double time_s = 0;    ///< that the bench took
    double marked_mm = 0; ///< of lines, on the parts
    double beside_mm = 0; ///< marked where no part lies, where the bench can tell
    bool operator==(const RunEvent&) const = default;
};
[[nodiscard]] std::string_view word(RunEvent::Kind kind);
/// In words; empty for what only says how far a pass is on its way.
[[nodiscard]] std::string told(const RunEvent& event);

/// What a run is of: everything that is known when it begins. A fact.
struct RunStart {
    std::string uid, when_utc, by;
    std::string name, code; ///< of the job
    Setup setup;
    int portions = 0, parts = 0;
    std::vector<GateAnswer> answers;
    nlohmann::json job; ///< finch-job; null where it is too large to keep: such a run cannot be taken up again
};

/// A run as it went.
struct RunRecord {
    RunStart start;
    std::vector<RunEvent> events;
};
/// Where a run stands.
struct RunStand {
    std::vector<bool> passed;     ///< by portion
    std::set<int> aside;          ///< numbers of places
    std::optional<int> under_way; ///< a portion that was sent, and of which no end was told
    int line = 0;                 ///< of that, that is surely done
    bool line_told = false;       ///< by a bench that stood then: no line after it was marked
    std::map<int, int> left;      ///< portions that were left before their end, and their lines that are surely done
    bool over = false;
    double time_s = 0, marked_mm = 0, beside_mm = 0;
    [[nodiscard]] int done() const;
    /// Lines of a portion that are surely done; 0 of one that was not begun.
    [[nodiscard]] int line_of(int portion) const;
};
[[nodiscard]] RunStand stand_of(const RunRecord& run);
/// The same after one more event.
void follow(RunStand& stand, const RunEvent& event);

[[nodiscard]] nlohmann::json to_json(const RunStart& start);
[[nodiscard]] nlohmann::json to_json(const RunEvent& event);
/// Errors: document.* with the field.
[[nodiscard]] Expected<RunStart> run_start(const nlohmann::json& document, const std::string& file);
[[nodiscard]] Expected<RunEvent> run_event(const nlohmann::json& document, const std::string& file);

/// The whole run as one entry of the logbook, and back.
[[nodiscard]] Entry entry_of(const RunRecord& run, const std::string& metal, const std::string& program);
[[nodiscard]] Expected<RunRecord> run_record(const Entry& entry);

/// The file to which a run that is under way is written, event by event, each on the disk before anything goes on: what
/// outlives a crash or a kill. A line each; what was cut off in the middle of the last one is left out.
class RunJournal {
public:
    explicit RunJournal(QString folder) : folder_(std::move(folder)) {}
    /// Errors: file.not_written.
    [[nodiscard]] Expected<void> begin(const RunStart& start) const;
    [[nodiscard]] Expected<void> append(const std::string& uid, const RunEvent& event) const;
    /// Uids of runs that were begun and not put away, the newest last.
    [[nodiscard]] std::vector<std::string> kept() const;
    /// Errors: file.missing, document.*.
    [[nodiscard]] Expected<RunRecord> read(const std::string& uid) const;
    /// It is in the record.
    void drop(const std::string& uid) const;
    /// Lays one that cannot be read aside.
    void set_aside(const std::string& uid) const;

private:
    [[nodiscard]] QString path_of(const std::string& uid) const;
    QString folder_;
};

} // namespace finch
