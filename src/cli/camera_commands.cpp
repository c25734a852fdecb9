// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/commands.h"
#include "document/json_fields.h"
#include "formats/file_out.h"
#include "formats/folders.h"
#include "formats/sheet_export.h"
#include "proof/colour_chart.h"
#include "vision/fiducials.h"
#include "vision/sheet_photo.h"

#include <nlohmann/json.hpp>

namespace finch::cli {

using json = nlohmann::json;

Expected<json> camera_chart(const CameraOptions& o) {
    const ColourChart& chart = colour_chart();
    const auto written =
        write_file(QString::fromStdString(o.svg), chart_svg(chart_print(fiducial_modules(chart.layout))));
    if (!written)
        return tl::unexpected(written.error());
    json patches = json::array();
    for (std::size_t i = 0; i < chart.asked.size(); ++i)
        patches.push_back({{"patch", cell_name(chart.grid, i)},
                           {"asked_lab", {chart.asked[i].l, chart.asked[i].a, chart.asked[i].b}}});
    return json{{"svg", o.svg}, {"patches", patches}};
}

Expected<json> camera_fit(const Context& context, const CameraOptions& o) {
    const auto picture = quiet_picture(o.photo);
    const auto text = read_text_file(o.values);
    if (!picture || !text)
        return tl::unexpected(!picture ? picture.error() : text.error());
    Expected<std::vector<ColourPair>> pairs;
    if (o.sheet.empty()) {
        const auto values = measured_colours_from_text(*text, colour_chart().grid, o.values);
        if (!values)
            return tl::unexpected(values.error());
        pairs = read_chart_photo(*picture, *values);
    } else {
        const auto sheet = load_sheet(context, o.sheet);
        if (!sheet)
            return tl::unexpected(sheet.error());
        const auto values = measured_colours_from_text(*text, *sheet, o.values);
        if (!values)
            return tl::unexpected(values.error());
        const auto read = read_sheet_photo(*picture, *sheet);
        pairs = read ? Expected<std::vector<ColourPair>>(measured_pairs(*read, *sheet, *values))
                     : tl::unexpected(read.error());
    }
    if (!pairs)
        return tl::unexpected(pairs.error().in_file(o.photo));
    auto camera = fit_camera_colour(*pairs);
    if (!camera)
        return tl::unexpected(camera.error());
    camera->camera = o.name;
    camera->when_utc = o.when_utc;
    json out = to_json(*camera);
    if (!o.out.empty())
        if (const auto written = write_file(QString::fromStdString(o.out), json_text(out, 2) + "\n"); !written)
            return tl::unexpected(written.error());
    return out;
}

} // namespace finch::cli
