// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "quantity/error.h"

#include <nlohmann/json_fwd.hpp>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace finch {

/// Parses a JSON text from outside. Errors: document.empty, document.not_json (with the line; also bytes that are no
/// UTF-8 and numbers beyond a double), document.too_deep, document.doubled_key.
[[nodiscard]] Expected<nlohmann::json> parse_json(std::string_view text, const std::string& file);

/// The text of a document. Bytes that are no UTF-8 are replaced rather than thrown at the caller. `indent` < 0: one
/// line.
[[nodiscard]] std::string json_text(const nlohmann::json& document, int indent = -1);

/// Checks the "format" and "version" of a document of ours. Errors: document.wrong_format, document.newer_version.
[[nodiscard]] Expected<int> check_format(const nlohmann::json& document, const std::string& format, int newest,
                                         const std::string& file);

/// A number as it is written into documents: twelve significant digits, so that 247.6 mm does not become
/// 247.60000000000002 on its way through metres and back.
[[nodiscard]] double tidy(double value);

/// Reads checked fields out of one JSON object. Every fault is collected with the full path of its field and what to
/// write instead; reading goes on, so that a caller asks once at the end whether all was well.
class JsonFields {
public:
    JsonFields(const nlohmann::json& object, std::string path, std::vector<Error>& faults);

    [[nodiscard]] bool has(const char* key);
    /// A finite number within [low, high].
    double number(const char* key, double low, double high);
    double number_or(const char* key, double otherwise, double low, double high);
    std::optional<double> optional_number(const char* key, double low, double high);
    int whole(const char* key, int low, int high);
    int whole_or(const char* key, int otherwise, int low, int high);
    std::string text(const char* key);
    std::string text_or(const char* key, const std::string& otherwise);
    bool flag_or(const char* key, bool otherwise);
    /// One of the listed words; its index is returned (0 after a fault).
    std::size_t choice(const char* key, const std::vector<std::string_view>& words);
    std::vector<double> numbers(const char* key, std::size_t count, double low, double high);
    /// A list of texts; empty when the key is missing.
    std::vector<std::string> texts(const char* key);
    /// The value itself, for readers of nested documents; null when the key is missing.
    const nlohmann::json& raw(const char* key);
    JsonFields object(const char* key);
    std::vector<JsonFields> list(const char* key);
    [[nodiscard]] const nlohmann::json& json() const { return object_; }
    /// Adds a fault for every key that was never asked for: a misspelt one would be ignored silently.
    void nothing_else();
    /// Adds a fault of the caller's own at this field.
    void fault(const char* key, const std::string& message, const std::string& fix);

private:
    const nlohmann::json* find(const char* key, bool required, const char* what);

    const nlohmann::json& object_;
    std::string path_;
    std::vector<std::string> asked_;
    std::vector<Error>& faults_;
};

/// The first of the collected faults with the file set, or nothing.
[[nodiscard]] std::optional<Error> first_fault(const std::vector<Error>& faults, const std::string& file);

} // namespace finch
