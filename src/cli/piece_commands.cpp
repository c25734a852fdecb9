// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// Artwork from the command line.
#include "cli/piece_commands.h"
#include "formats/artwork_file.h"
#include "formats/detail_picture.h"
#include "formats/file_out.h"
#include "piece/art_size.h"
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
    return read_artwork(o.file, options)
        .and_then([&](Artwork art) { return sized(std::move(art), o.size); })
        .and_then([&](Artwork art) { return mended(std::move(art), rules); })
        .map_error([&](const Error& e) { return e.in_file(o.file); });
}

} // namespace

Expected<Artwork> sized(Artwork art, const SizeOptions& o) {
    ArtSize size;
    int asked = 0;
    for (const auto& [given, by] :
         {std::pair{o.factor, SizeBy::factor}, {o.width_mm, SizeBy::width}, {o.height_mm, SizeBy::height}})
        if (given > 0) {
            size.by = by, size.value = given;
            ++asked;
        }
    if (!o.stock_mm.empty()) {
        size.by = SizeBy::stock;
        size.stock_w_mm = o.stock_mm.at(0), size.stock_h_mm = o.stock_mm.at(1), size.margin_mm = o.margin_mm;
        ++asked;
    }
    if (asked > 1)
        return failure("use.arguments", "The size is asked for in more than one way.",
                       "Give one of --times, --drawn-width-mm, --drawn-height-mm and --stock-mm.");
    if (asked == 0)
        return art;
    const auto extent = extent_of(art);
    if (!extent)
        return failure("size.nothing", "Nothing is drawn that has a size.", "Take another drawing.");
    return sizing_of(*extent, size).map([&](const ArtSizing& s) { return finch::sized(std::move(art), s); });
}

Expected<json> piece_describe(const PieceOptions& o) {
    return drawing(o).map(described);
}

Expected<json> piece_detail(double spot_mm, const std::string& out) {
    return detail_picture(spot_mm)
        .and_then([&](const std::string& svg) { return write_file(QString::fromStdString(out), svg); })
        .map([&] {
            return json{{"file", out}, {"widths_mm", detail_widths_mm(spot_mm)}};
        });
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
