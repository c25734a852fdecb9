// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "piece/job_step.h"

#include <nlohmann/json.hpp>

namespace finch {

double paused_s(const std::vector<JobStep>& steps) {
    double s = 0;
    for (const JobStep& step : steps)
        s += step.pause_s;
    return s;
}

nlohmann::json to_json(const std::vector<JobStep>& steps) {
    nlohmann::json out = nlohmann::json::array();
    for (const JobStep& s : steps)
        out.push_back(
            {{"layer", s.layer}, {"first_shape", s.first_shape}, {"shapes", s.shapes}, {"pause_s", tidy(s.pause_s)}});
    return out;
}

std::vector<JobStep> read_steps(JsonFields& from, const char* key) {
    constexpr std::size_t most_steps = 100'000;
    std::vector<JobStep> out;
    for (JsonFields& step : from.list(key)) {
        if (out.size() == most_steps) {
            from.fault(key, "There are more than 100000 steps.", "Leave them out.");
            break;
        }
        const auto index = [&](const char* part) { return static_cast<std::size_t>(step.whole(part, 0, 10'000'000)); };
        out.push_back({index("layer"), index("first_shape"), index("shapes"), step.number_or("pause_s", 0, 0, 1e5)});
    }
    return out;
}

} // namespace finch
