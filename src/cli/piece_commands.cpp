// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// Artwork from the command line.
#include "cli/commands.h"
#include "formats/artwork_file.h"
#include "piece/describe.h"
#include "piece/repair.h"

#include <algorithm>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace finch::cli {

using json = nlohmann::json;

namespace {

Expected<Artwork> artwork(const PieceOptions& o) {
    ArtworkOptions options;
    if (o.unit_mm > 0)
        options.unit_mm = o.unit_mm;
    if (o.width_mm > 0)
        options.width_mm = o.width_mm;
    options.dark_below = o.dark_below;
    auto art = read_artwork(o.file, options);
    if (!art)
        return art;
    return repaired(std::move(*art), {o.close_mm, o.spot_mm}).map_error([&](const Error& e) {
        return e.in_file(o.file);
    });
}

} // namespace

Expected<json> piece_describe(const PieceOptions& o) {
    const auto art = artwork(o);
    return art ? described(*art) : tl::unexpected(art.error());
}

Expected<json> piece_hatch(const PieceOptions& o) {
    const auto art = artwork(o);
    if (!art)
        return tl::unexpected(art.error());
    std::vector<ArtShape> shapes = art->shapes;
    if (!o.layer.empty()) {
        const auto asked = [&](const ArtLayer& l) { return l.name == o.layer || l.colour == o.layer; };
        if (std::ranges::none_of(art->layers, asked)) {
            std::string names;
            for (const ArtLayer& l : art->layers)
                names += (names.empty() ? "" : ", ") + l.name;
            return failure("piece.no_layer", fmt::format("The drawing has no layer \"{}\".", o.layer),
                           "It has: " + names + ".", {o.file, 0, "layer"});
        }
        std::erase_if(shapes, [&](const ArtShape& s) { return !asked(art->layers.at(s.layer)); });
    }
    auto region = region_of(shapes);
    if (region && o.inset_mm != 0)
        region = inset(*region, o.inset_mm);
    if (!region)
        return tl::unexpected(region.error().in_file(o.file));
    HatchRules rules;
    rules.pitch_mm = o.pitch_mm;
    rules.angle_deg = o.angle_deg;
    rules.shift = o.shift;
    rules.to_and_fro = !o.one_way;
    const auto lines = hatch(*region, rules);
    return lines ? to_json(*lines) : Expected<json>(tl::unexpected(lines.error().in_file(o.file)));
}

} // namespace finch::cli
