// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "formats/svg_style.h"
#include "quantity/error.h"

#include <map>
#include <string>
#include <string_view>

namespace finch {

/// A drawing's elements, what they are called, and its style rules.
struct SvgTree {
    SvgElement root;
    std::map<std::string, const SvgElement*, std::less<>> by_id; ///< the first of a name
    SvgRules rules;
    std::string broken; ///< why the text ends before its end; what came before is there
    int broken_line = 0;

    SvgTree() = default;
    SvgTree(const SvgTree&) = delete; // by_id points into root
    SvgTree& operator=(const SvgTree&) = delete;
    /// Errors: svg.not_xml, svg.no_drawing, svg.too_much.
    [[nodiscard]] Expected<void> read(std::string_view bytes);
};

/// The first colour of a gradient, or of the one that it refers to: it stands for all of it. Black without one.
[[nodiscard]] std::string svg_first_colour(const SvgTree& tree, std::string_view id);

} // namespace finch
