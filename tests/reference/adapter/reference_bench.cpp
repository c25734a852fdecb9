// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "physics/colour_difference.h"
#include "reference/adapter/bench_vocabulary.h"
#include "reference/adapter/reference_models.h"

#include <cctype>

namespace finch {

std::string bench_vectors::code_of(const Error& e) {
    static const std::map<std::string, std::string> codes{
        {"setup.no_depth_left", "NO_BUDGET"},   {"setup.cone", "BAD_INPUT"},
        {"setup.does_not_fit", "DOES_NOT_FIT"}, {"setup.pitch_too_coarse", "PITCH_TOO_COARSE"},
        {"setup.not_positive", "NOT_POSITIVE"}, {"setup.negative", "NEGATIVE"},
        {"setup.not_a_number", "NOT_A_NUMBER"}, {"compound.anodised_metal", "BAD_INPUT"},
        {"compound.no_window", "NO_WINDOW"},    {"compound.grades", "BAD_INPUT"},
        {"transfer.infeasible", "INFEASIBLE"},  {"cost.pieces", "NOT_POSITIVE"}};
    if (const auto it = codes.find(e.code); it != codes.end())
        return it->second;
    if (!e.code.starts_with("quantity."))
        return "OUT_OF_RANGE";
    std::string s = e.code.substr(e.code.find('.') + 1);
    for (char& c : s)
        c = static_cast<char>(std::toupper(static_cast<unsigned char>(c)));
    return s;
}

void fill_bench(nlohmann::json& document, const Materials& materials) {
    using namespace bench_vectors;
    for (json& v : document.at("vectors")) {
        const std::string fn = v.value("fn", "");
        v.erase("expect");
        v.erase("error");
        try {
            for (const Calculations* part : {&setup_calculations(), &compound_calculations(), &transfer_calculations()})
                if (const auto it = part->find(fn); it != part->end())
                    v["expect"] = it->second(v, materials);
        } catch (const Refused& refused) {
            v["error"] = refused.code;
        }
    }
    if (const auto pairs = document.find("sharma2005"); pairs != document.end())
        for (json& v : *pairs) {
            const auto lab = [&](const char* key) { return Lab{v.at(key).at(0), v.at(key).at(1), v.at(key).at(2)}; };
            v["de00"] = delta_e00(lab("lab1"), lab("lab2"));
        }
}

} // namespace finch
