// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "physics/metal.h"
#include "quantity/error.h"

#include <functional>
#include <map>
#include <nlohmann/json.hpp>
#include <stdexcept>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

/// The vocabulary of the bench vectors: arguments by place or name, codes, and a table of functions.
namespace finch::bench_vectors {

using json = nlohmann::json;

/// Thrown inside the adapter when an input is refused.
struct Refused {
    std::string code;
};

/// Code that the vectors give for a refusal.
[[nodiscard]] std::string code_of(const Error& error);

/// The value, or Refused.
template <typename T>
T good(Expected<T> value) {
    if (!value)
        throw Refused{code_of(value.error())};
    return std::move(*value);
}

/// Arguments by place or by name.
class Arguments {
public:
    Arguments(const json& vector, std::vector<const char*> names) : names_(std::move(names)) {
        static const json none = json::array(), empty = json::object();
        args_ = vector.contains("args") ? &vector.at("args") : &none;
        kwargs_ = vector.contains("kwargs") ? &vector.at("kwargs") : &empty;
    }
    [[nodiscard]] const json* find(const char* name) const {
        if (const auto it = kwargs_->find(name); it != kwargs_->end())
            return it->is_null() ? nullptr : &*it;
        for (std::size_t i = 0; i < names_.size() && i < args_->size(); ++i)
            if (std::string_view(names_[i]) == name)
                return args_->at(i).is_null() ? nullptr : &args_->at(i);
        return nullptr;
    }
    [[nodiscard]] const json& at(const char* name) const {
        const json* v = find(name);
        if (v == nullptr)
            throw std::out_of_range(name);
        return *v;
    }
    [[nodiscard]] double number(const char* name) const { return at(name).get<double>(); }
    [[nodiscard]] double number(const char* name, double otherwise) const {
        const json* v = find(name);
        return v != nullptr ? v->get<double>() : otherwise;
    }
    [[nodiscard]] std::string text(const char* name, const char* otherwise = "") const {
        const json* v = find(name);
        return v != nullptr ? v->get<std::string>() : otherwise;
    }

private:
    std::vector<const char*> names_;
    const json* args_ = nullptr;
    const json* kwargs_ = nullptr;
};

/// Computes one vector. Throws Refused, json::exception or std::out_of_range.
using Calculation = json (*)(const json& vector, const Materials& materials);
using Calculations = std::map<std::string, Calculation>;
[[nodiscard]] const Calculations& setup_calculations();    ///< parts C and D
[[nodiscard]] const Calculations& compound_calculations(); ///< part A
[[nodiscard]] const Calculations& transfer_calculations(); ///< part B

} // namespace finch::bench_vectors
