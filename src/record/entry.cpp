// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "record/entry.h"

#include "document/json_fields.h"

#include <QCryptographicHash>

namespace finch {

using json = nlohmann::json;

namespace {

constexpr int most_ids = 2000000000;

} // namespace

const std::vector<std::string_view>& entry_kind_words() {
    static const std::vector<std::string_view> words{"sheet", "reading", "recipe", "bench"};
    return words;
}

const std::vector<std::string_view>& outcome_words() {
    static const std::vector<std::string_view> words{"good", "caution", "bad", "unknown"};
    return words;
}

std::string_view word(EntryKind kind) {
    return entry_kind_words().at(static_cast<std::size_t>(kind));
}

std::string_view word(Outcome outcome) {
    return outcome_words().at(static_cast<std::size_t>(outcome));
}

json to_json(const Entry& e) {
    json out{{"id", e.id},         {"uid", e.uid},     {"kind", word(e.kind)}, {"when_utc", e.when_utc},
             {"operator", e.by},   {"title", e.title}, {"summary", e.summary}, {"outcome", word(e.outcome)},
             {"bench", e.bench},   {"metal", e.metal}, {"lot", e.lot},         {"sheet", e.sheet},
             {"parent", e.parent}, {"setup", e.setup}, {"body", e.body},       {"program_version", e.program_version}};
    if (!e.parent_uid.empty())
        out["parent_uid"] = e.parent_uid;
    return out;
}

Expected<Entry> entry_from_json(const json& document, const std::string& file) {
    std::vector<Error> faults;
    JsonFields f(document, "", faults);
    Entry e;
    e.id = f.whole_or("id", 0, 0, most_ids);
    e.uid = f.text_or("uid", "");
    e.kind = static_cast<EntryKind>(f.choice("kind", entry_kind_words()));
    e.when_utc = f.text("when_utc");
    e.by = f.text_or("operator", "");
    e.title = f.text("title");
    e.summary = f.text_or("summary", "");
    e.outcome = static_cast<Outcome>(f.choice("outcome", outcome_words()));
    e.bench = f.text_or("bench", "");
    e.metal = f.text_or("metal", "");
    e.lot = f.text_or("lot", "");
    e.sheet = f.whole_or("sheet", 0, 0, most_ids);
    e.parent = f.whole_or("parent", 0, 0, most_ids);
    e.parent_uid = f.text_or("parent_uid", "");
    for (const auto& [key, to] : {std::pair{"setup", &e.setup}, {"body", &e.body}}) {
        *to = f.has(key) ? f.raw(key) : json::object();
        if (!to->is_object())
            f.fault(key, "An object in braces is needed here.", "Write { ... }.");
    }
    e.program_version = f.text_or("program_version", "");
    if (auto fault = first_fault(faults, file))
        return tl::unexpected(*fault);
    return e;
}

std::string uid_of_old(const std::string& when_utc, std::string_view kind, const std::string& title, int same_before) {
    const std::string all = when_utc + '|' + std::string(kind) + '|' + title + '|' + std::to_string(same_before);
    return "v1-" + QCryptographicHash::hash(QByteArray::fromStdString(all), QCryptographicHash::Sha1)
                       .toHex()
                       .left(24)
                       .toStdString();
}

} // namespace finch
