// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "document/json_fields.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace finch {
namespace {

const nlohmann::json& empty_object() {
    static const nlohmann::json empty = nlohmann::json::object();
    return empty;
}

} // namespace

Expected<nlohmann::json> parse_json(std::string_view text, const std::string& file) {
    if (text.find_first_not_of(" \t\r\n") == std::string_view::npos)
        return failure("document.empty", "The file is empty.", "Restore it from a copy or save it again.",
                       {file, 0, {}});
    try {
        return nlohmann::json::parse(text);
    } catch (const nlohmann::json::parse_error& e) {
        const auto stop = std::min<std::size_t>(e.byte, text.size());
        const int line = 1 + static_cast<int>(std::count(text.begin(), text.begin() + static_cast<long>(stop), '\n'));
        return failure("document.not_json", "This is not valid JSON.",
                       "Look for a missing comma, quote or bracket near this line.", {file, line, {}});
    }
}

Expected<int> check_format(const nlohmann::json& document, const std::string& format, int newest,
                           const std::string& file) {
    if (!document.is_object() || document.value("format", nlohmann::json()) != format)
        return failure("document.wrong_format", fmt::format("This is not a {} document.", format),
                       fmt::format("Choose a file whose \"format\" is \"{}\".", format), {file, 0, "format"});
    const auto version = document.find("version");
    if (version == document.end() || !version->is_number_integer() || version->get<int>() < 1)
        return failure("document.wrong_format", "The version is missing.", "Add \"version\": 1.", {file, 0, "version"});
    if (version->get<int>() > newest)
        return failure(
            "document.newer_version",
            fmt::format("The file has version {}, this program reads up to {}.", version->get<int>(), newest),
            "Open it with a newer program.", {file, 0, "version"});
    return version->get<int>();
}

double tidy(double value) {
    return std::isfinite(value) ? std::stod(fmt::format("{:.12g}", value)) : value;
}

JsonFields::JsonFields(const nlohmann::json& object, std::string path, std::vector<Error>& faults)
    : object_(object.is_object() ? object : empty_object()), path_(std::move(path)), faults_(faults) {
    if (!object.is_object())
        faults_.push_back(
            {"document.not_object", "An object in braces is needed here.", "Write { ... }.", {{}, 0, path_}});
}

void JsonFields::fault(const char* key, const std::string& message, const std::string& fix) {
    faults_.push_back({"document.bad_field", message, fix, {{}, 0, path_.empty() ? key : path_ + "." + key}});
}

bool JsonFields::has(const char* key) const {
    const auto it = object_.find(key);
    return it != object_.end() && !it->is_null();
}

const nlohmann::json* JsonFields::find(const char* key, bool required, const char* what) {
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
