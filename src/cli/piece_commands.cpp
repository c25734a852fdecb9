// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// Artwork from the command line.
#include "cli/piece_commands.h"
#include "formats/artwork_file.h"
#include "piece/describe.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace finch::cli {

using json = nlohmann::json;

namespace {

Expected<MendedArt> drawing(const PieceOptions& o) {
    ArtworkOptions options;
    if (o.unit_mm > 0)
        options.unit_mm = o.unit_mm;
    if (o.width_mm > 0)
        options.width_mm = o.width_mm;
    options.dark_below = o.dark_below;
    RepairRules rules{o.close_mm, o.spot_mm, {}};
    for (std::size_t i = 0; i + 1 < o.as_drawn.size(); i += 2)
        rules.as_drawn.push_back({o.as_drawn[i], o.as_drawn[i + 1]});
    return read_mended(o.file, options, rules);
}

} // namespace

Expected<json> piece_describe(const PieceOptions& o) {
    return drawing(o).map(described);
}

Expected<json> piece_hatch(const PieceOptions& o) {
    const auto read = drawing(o);
    if (!read)
        return tl::unexpected(read.error());
    std::vector<const Region*> regions;
    std::string names;
    for (std::size_t l = 0; l < read->regions.size(); ++l) {
        const ArtLayer& layer = read->art.layers[l];
        names += (names.empty() ? "" : ", ") + layer.name;
        if (o.layer.empty() || layer.name == o.layer || layer.colour == o.layer)
            regions.push_back(&read->regions[l]);
    }
    if (regions.empty() && !o.layer.empty())
        return failure("piece.no_layer", fmt::format("The drawing has no layer \"{}\".", o.layer),
                       "It has: " + names + ".", {o.file, 0, "layer"});
    auto region = united(regions);
    if (region && o.inset_mm != 0)
        region = inset(*region, o.inset_mm);
    if (!region)
        return tl::unexpected(region.error().in_file(o.file));
    HatchRules rules;
    rules.pitch_mm = o.pitch_mm;
    rules.angle_deg = o.angle_deg;
    rules.shift = o.shift;
    rules.to_and_fro = !o.one_way;
    rules.by_shape = o.by_shape;
    const auto lines = hatch(*region, rules);
    return lines ? to_json(*lines) : Expected<json>(tl::unexpected(lines.error().in_file(o.file)));
}

} // namespace finch::cli
