// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/run_program.h"

#include <algorithm>
#include <array>

namespace finch {
namespace {

/// How the words of a program stand, as they were written: nothing is rounded.
struct Standing {
    std::array<std::string_view, 6> last; ///< of X, Y, Z, A, F and S
    bool laser = false;
    static constexpr std::string_view letters = "XYZAFS";

    [[nodiscard]] std::string_view of(char letter) const { return last[letters.find(letter)]; }
    void obey(std::string_view line) {
        line = line.substr(0, line.find(';'));
        while (!line.empty()) {
            line.remove_prefix(std::min(line.find_first_not_of(" \t\r"), line.size()));
            const std::string_view word = line.substr(0, line.find_first_of(" \t\r"));
            line.remove_prefix(word.size());
            if (word == "M3" || word == "M5")
                laser = word == "M3";
            else if (const std::size_t i = word.empty() ? std::string_view::npos : letters.find(word.front());
                     i != std::string_view::npos)
                last[i] = word;
        }
    }
};

} // namespace

Expected<LeftProgram> left_after(std::string_view gcode, int line) {
    if (line == 0)
        return LeftProgram{std::string(gcode), 0};
    Standing at;
    int done = 0;
    while (done < line && !gcode.empty()) {
        const std::size_t end = std::min(gcode.find('\n'), gcode.size());
        at.obey(gcode.substr(0, end));
        gcode.remove_prefix(std::min(end + 1, gcode.size()));
        ++done;
    }
    if (done < line || line < 0)
        return failure("run.line", "The program has no such line.", "Run it from its beginning.", {{}, line, {}});
    LeftProgram out;
    int head = 0;
    const auto say = [&](std::initializer_list<std::string_view> words) {
        for (const std::string_view word : words)
            if (!word.empty())
                out.gcode.append(out.gcode.empty() || out.gcode.back() == '\n' ? "" : " ").append(word);
        out.gcode += '\n';
        ++head;
    };
    say({"G21"});
    say({"G90"});
    say({"M5"});
    if (!at.of('Z').empty())
        say({"G0", at.of('Z')});
    if (!at.of('A').empty())
        say({"G0", at.of('A')});
    if (!at.of('X').empty() && !at.of('Y').empty())
        say({"G0", at.of('X'), at.of('Y')});
    if (at.laser)
        say({"M3", at.of('S')});
    out.gcode += gcode;
    out.shift = line - head;
    return out;
}

ProgramSlice first_slice(std::string_view gcode, std::size_t most_bytes) {
    const auto lines = [](std::string_view text) { return static_cast<int>(std::ranges::count(text, '\n')); };
    constexpr std::string_view off = "\nM5\n";
    if (gcode.size() <= most_bytes)
        return {gcode, lines(gcode), true};
    // The first M5 stands in the head, before anything is marked.
    const std::size_t head = gcode.find(off);
    std::size_t end = gcode.rfind(off, most_bytes);
    if (head != std::string_view::npos && (end == std::string_view::npos || end <= head))
        end = gcode.find(off, head + 1);
    if (end == std::string_view::npos || end + off.size() >= gcode.size())
        return {gcode, lines(gcode), true};
    const std::string_view slice = gcode.substr(0, end + off.size());
    return {slice, lines(slice), false};
}

} // namespace finch
