// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "document/json_fields.h"

#include "quantity/scan.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <functional>
#include <nlohmann/json.hpp>
#include <numeric>
#include <set>

namespace finch {
namespace {

const nlohmann::json& empty_object() {
    static const nlohmann::json empty = nlohmann::json::object();
    return empty;
}

} // namespace

namespace {

constexpr int deepest = 60;

int line_at(std::string_view text, std::size_t byte) {
    const auto stop = static_cast<long>(std::min(byte, text.size()));
    return 1 + static_cast<int>(std::count(text.begin(), text.begin() + stop, '\n'));
}

/// Where brackets go deeper than any document of ours, or nothing. The parser itself would use up the stack.
std::optional<std::size_t> too_deep(std::string_view text) {
    int depth = 0;
    bool quoted = false;
    for (std::size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        if (quoted) {
            i += c == '\\' ? 1 : 0;
            quoted = c != '"';
        } else if (c == '"')
            quoted = true;
        else if (c == '[' || c == '{') {
            if (++depth > deepest)
                return i;
        } else if (c == ']' || c == '}')
            --depth;
    }
    return std::nullopt;
}

/// Keys of the objects that are open while a text is parsed, to find one that is given twice.
class DoubledKeys {
public:
    bool operator()(int, nlohmann::json::parse_event_t event, const nlohmann::json& parsed) {
        using Event = nlohmann::json::parse_event_t;
        if (event == Event::object_start)
            open_.emplace_back();
        else if (event == Event::object_end)
            open_.pop_back();
        else if (event == Event::key && !open_.back().insert(parsed.get<std::string>()).second && !doubled_)
            doubled_ = parsed.get<std::string>();
        return true;
    }
    [[nodiscard]] const std::optional<std::string>& doubled() const { return doubled_; }

private:
    std::vector<std::set<std::string>> open_;
    std::optional<std::string> doubled_;
};

/// Steps from one text to another by changing, adding or dropping a character.
std::size_t distance(std::string_view a, std::string_view b) {
    std::vector<std::size_t> row(b.size() + 1);
    std::iota(row.begin(), row.end(), 0);
    for (std::size_t i = 1; i <= a.size(); ++i) {
        std::size_t corner = row[0]++;
        for (std::size_t j = 1; j <= b.size(); ++j) {
            const std::size_t change = corner + (a[i - 1] == b[j - 1] ? 0 : 1);
            corner = row[j];
            row[j] = std::min({change, row[j] + 1, row[j - 1] + 1});
        }
    }
    return row.back();
}

} // namespace

Expected<nlohmann::json> parse_json(std::string_view text, const std::string& file) {
    if (text.find_first_not_of(" \t\r\n") == std::string_view::npos)
        return failure("document.empty", "The file is empty.", "Restore it from a copy or save it again.",
                       {file, 0, {}});
    if (const auto at = too_deep(text))
        return failure("document.too_deep", fmt::format("Brackets are nested more than {} deep.", deepest),
                       "No document of this program is; choose the right file.", {file, line_at(text, *at), {}});
    try {
        DoubledKeys keys;
        auto document = nlohmann::json::parse(text, std::ref(keys));
        if (keys.doubled())
            return failure("document.doubled_key", fmt::format("The key \"{}\" is given twice.", *keys.doubled()),
                           "Keep the one that is meant.", {file, 0, *keys.doubled()});
        return document;
    } catch (const nlohmann::json::parse_error& e) {
        const bool bad_text = std::string_view(e.what()).find("UTF-8") != std::string_view::npos;
        return failure(
            "document.not_json", bad_text ? "This holds bytes that are not UTF-8." : "This is not valid JSON.",
            bad_text ? "Save it again as UTF-8." : "Look for a missing comma, quote or bracket near this line.",
            {file, line_at(text, e.byte), {}});
    } catch (const nlohmann::json::exception&) {
        return failure("document.not_json", "This holds a number that is too large for any quantity.",
                       "Look for a number with a large exponent.", {file, 0, {}});
    }
}

std::string json_text(const nlohmann::json& document, int indent) {
    return document.dump(indent, ' ', false, nlohmann::json::error_handler_t::replace);
}

Expected<int> check_format(const nlohmann::json& document, const std::string& format, int newest,
                           const std::string& file) {
    if (!document.is_object() || document.value("format", nlohmann::json()) != format)
        return failure("document.wrong_format", fmt::format("This is not a {} document.", format),
                       fmt::format("Choose a file whose \"format\" is \"{}\".", format), {file, 0, "format"});
    const auto version = document.find("version");
    if (version == document.end() || !version->is_number_integer() || *version < 1)
        return failure("document.wrong_format", "The version is missing.", "Add \"version\": 1.", {file, 0, "version"});
    if (*version > newest)
        return failure("document.newer_version",
                       fmt::format("The file has version {}, this program reads up to {}.", version->dump(), newest),
                       "Open it with a newer program.", {file, 0, "version"});
    return version->get<int>();
}

double tidy(double value) {
    return plain_number(fmt::format("{:.12g}", value)).value_or(value);
}

JsonFields::JsonFields(const nlohmann::json& object, std::string path, std::vector<Error>& faults)
    : object_(object.is_object() ? object : empty_object()), path_(std::move(path)), faults_(faults) {
    if (!object.is_object())
        faults_.push_back(
            {"document.not_object", "An object in braces is needed here.", "Write { ... }.", {{}, 0, path_}});
}

void JsonFields::fault(const char* key, const std::string& message, const std::string& fix) {
    const std::string name = key[0] == '\0' ? "\"\"" : key;
    faults_.push_back({"document.bad_field", message, fix, {{}, 0, path_.empty() ? name : path_ + "." + name}});
}

bool JsonFields::has(const char* key) {
    asked_.push_back(key);
    const auto it = object_.find(key);
    return it != object_.end() && !it->is_null();
}

const nlohmann::json* JsonFields::find(const char* key, bool required, const char* what) {
    asked_.push_back(key);
    if (const auto it = object_.find(key); it != object_.end() && !it->is_null())
        return &*it;
    if (required)
        fault(key, "This field is missing.", fmt::format("Add it as {}.", what));
    return nullptr;
}

double JsonFields::number(const char* key, double low, double high) {
    const nlohmann::json* found = find(key, true, "a number");
    if (found == nullptr)
        return low;
    const std::string fix = fmt::format("Write a number from {:g} to {:g}, without a unit.", low, high);
    if (!found->is_number()) {
        fault(key, "This must be a number.", fix);
        return low;
    }
    const double v = found->get<double>();
    if (!std::isfinite(v) || v < low || v > high) {
        fault(key, fmt::format("{:g} is outside the range.", v), fix);
        return low;
    }
    return v;
}

double JsonFields::number_or(const char* key, double otherwise, double low, double high) {
    return has(key) ? number(key, low, high) : otherwise;
}

std::optional<double> JsonFields::optional_number(const char* key, double low, double high) {
    return has(key) ? std::optional(number(key, low, high)) : std::nullopt;
}

int JsonFields::whole(const char* key, int low, int high) {
    const double v = number(key, low, high);
    if (v != std::floor(v))
        fault(key, "This must be a whole number.", "Write it without decimals.");
    return static_cast<int>(v);
}

int JsonFields::whole_or(const char* key, int otherwise, int low, int high) {
    return has(key) ? whole(key, low, high) : otherwise;
}

std::string JsonFields::text(const char* key) {
    const nlohmann::json* found = find(key, true, "a text in quotes");
    if (found == nullptr)
        return {};
    if (!found->is_string()) {
        fault(key, "This must be a text.", "Put it in quotes.");
        return {};
    }
    return found->get<std::string>();
}

std::string JsonFields::text_or(const char* key, const std::string& otherwise) {
    return has(key) ? text(key) : otherwise;
}

bool JsonFields::flag_or(const char* key, bool otherwise) {
    const nlohmann::json* found = find(key, false, "");
    if (found == nullptr)
        return otherwise;
    if (!found->is_boolean()) {
        fault(key, "This must be true or false.", "Write true or false without quotes.");
        return otherwise;
    }
    return found->get<bool>();
}

std::size_t JsonFields::choice(const char* key, const std::vector<std::string_view>& words) {
    const std::string word = text(key);
    const auto it = std::find(words.begin(), words.end(), word);
    if (it != words.end())
        return static_cast<std::size_t>(it - words.begin());
    if (has(key))
        fault(key, fmt::format("\"{}\" is not known.", word), fmt::format("Write one of: {}.", fmt::join(words, ", ")));
    return 0;
}

std::vector<double> JsonFields::numbers(const char* key, std::size_t count, double low, double high) {
    const nlohmann::json* found = find(key, true, "a list of numbers");
    std::vector<double> out;
    if (found == nullptr)
        return std::vector<double>(count, low);
    if (found->is_array())
        for (const auto& v : *found)
            if (v.is_number() && v.get<double>() >= low && v.get<double>() <= high)
                out.push_back(v.get<double>());
    if (!found->is_array() || out.size() != found->size() || (count > 0 && out.size() != count)) {
        fault(key, "The list of numbers is not as needed.",
              count > 0 ? fmt::format("Write {} numbers from {:g} to {:g} in brackets.", count, low, high)
                        : fmt::format("Write numbers from {:g} to {:g} in brackets.", low, high));
        out.resize(count, low);
    }
    return out;
}

std::vector<std::string> JsonFields::texts(const char* key) {
    std::vector<std::string> out;
    const nlohmann::json* found = find(key, false, "");
    if (found == nullptr)
        return out;
    if (!found->is_array() ||
        !std::all_of(found->begin(), found->end(), [](const nlohmann::json& v) { return v.is_string(); })) {
        fault(key, "This must be a list of texts.", "Put each text in quotes, and all in brackets.");
        return out;
    }
    return found->get<std::vector<std::string>>();
}

const nlohmann::json& JsonFields::raw(const char* key) {
    static const nlohmann::json none;
    const nlohmann::json* found = find(key, false, "");
    return found != nullptr ? *found : none;
}

void JsonFields::nothing_else() {
    for (const auto& [key, value] : object_.items()) {
        if (key == "format" || key == "version" || std::find(asked_.begin(), asked_.end(), key) != asked_.end())
            continue;
        const auto nearest = std::min_element(asked_.begin(), asked_.end(), [&k = key](const auto& a, const auto& b) {
            return distance(a, k) < distance(b, k);
        });
        const bool near = nearest != asked_.end() && distance(*nearest, key) <= 2 + key.size() / 6;
        fault(key.c_str(), "This key is not known here.",
              near ? fmt::format("Write \"{}\", or take it out.", *nearest) : "Take it out.");
    }
}

JsonFields JsonFields::object(const char* key) {
    const nlohmann::json* found = find(key, true, "an object in braces");
    return {found != nullptr ? *found : empty_object(), path_.empty() ? key : path_ + "." + key, faults_};
}

std::vector<JsonFields> JsonFields::list(const char* key) {
    const nlohmann::json* found = find(key, true, "a list in brackets");
    std::vector<JsonFields> out;
    if (found == nullptr)
        return out;
    if (!found->is_array()) {
        fault(key, "This must be a list.", "Put the entries in brackets.");
        return out;
    }
    const std::string base = path_.empty() ? key : path_ + "." + key;
    for (std::size_t i = 0; i < found->size(); ++i)
        out.emplace_back((*found)[i], fmt::format("{}[{}]", base, i), faults_);
    return out;
}

std::optional<Error> first_fault(const std::vector<Error>& faults, const std::string& file) {
    if (faults.empty())
        return std::nullopt;
    Error first = faults.front().in_file(file);
    if (faults.size() > 1)
        first.fix += fmt::format(" {} more {} in this file.", faults.size() - 1,
                                 faults.size() == 2 ? "fault follows" : "faults follow");
    return first;
}

} // namespace finch
