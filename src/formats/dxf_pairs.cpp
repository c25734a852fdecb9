// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/dxf_pairs.h"

#include "quantity/scan.h"

#include <cmath>

namespace finch {
std::optional<double> dxf_number(std::string_view text) {
    text = trimmed(text);
    if (text.starts_with("+"))
        text.remove_prefix(1);
    const auto v = plain_number(text);
    return v && std::abs(*v) < 1e12 ? v : std::nullopt;
}

std::string_view DxfThing::text(int code) const {
    for (const DxfPair& p : pairs)
        if (p.code == code)
            return p.text;
    return {};
}

double DxfThing::number(int code, double otherwise) const {
    return dxf_number(text(code)).value_or(otherwise);
}

std::vector<double> DxfThing::numbers(int code) const {
    std::vector<double> out;
    for (const DxfPair& p : pairs)
        if (p.code == code)
            if (const auto v = dxf_number(p.text))
                out.push_back(*v);
    return out;
}

bool DxfThing::has(int code) const {
    for (const DxfPair& p : pairs)
        if (p.code == code)
            return true;
    return false;
}

Expected<std::vector<DxfThing>> dxf_things(std::string_view bytes, int& broken_line) {
    std::vector<DxfThing> out;
    int line = 0;
    const auto next_line = [&]() -> std::optional<std::string_view> {
        if (bytes.empty())
            return std::nullopt;
        const std::size_t end = bytes.find('\n');
        const std::string_view one = bytes.substr(0, end);
        bytes = end == std::string_view::npos ? std::string_view{} : bytes.substr(end + 1);
        ++line;
        return trimmed(one);
    };
    broken_line = 0;
    while (true) {
        const auto head = next_line();
        if (!head)
            break;
        const int at = line;
        if (head->empty() && bytes.find_first_not_of(" \t\r\n") == std::string_view::npos)
            break; // empty lines at the end
        const auto code = dxf_number(*head);
        const auto text = next_line();
        if (!code || !text || *code != std::round(*code) || std::abs(*code) > 1100) {
            broken_line = at;
            break;
        }
        if (*code == 0)
            out.push_back({*text, at, {}});
        else if (!out.empty())
            out.back().pairs.push_back({static_cast<int>(*code), *text, at});
        else if (*code != 999) { // remarks may come first
            broken_line = at;
            break;
        }
    }
    if (out.empty() || out.front().kind != "SECTION")
        return failure("dxf.not_dxf", "This is not a drawing in DXF: it does not begin with a section.",
                       "Save it as a DXF text file, not a binary one.", {{}, broken_line, {}});
    return out;
}

} // namespace finch
