// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "proof/scrap_bin.h"

#include "proof/layout.h"
#include "quantity/format.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace finch {
namespace {

constexpr double rim_mm = 1;     // a cut edge is not flat, and draws the heat another way
constexpr double apart_mm = 1;   // from what is marked already: the hand that lays it is no better
constexpr double hair_mm = 1e-6; // so that what just fits fits

/// Where a rectangle may begin or end along one side: at the rim, or beside a mark.
struct Sides {
    std::vector<double> x, y;
};
Sides sides_of(const ScrapPiece& piece, std::size_t face) {
    Sides out{{rim_mm, piece.width_mm - rim_mm}, {rim_mm, piece.height_mm - rim_mm}};
    for (const ScrapMark& m : piece.marks)
        if (m.face == face) {
            out.x.insert(out.x.end(), {m.where.x - apart_mm, m.where.x + m.where.w + apart_mm});
            out.y.insert(out.y.end(), {m.where.y - apart_mm, m.where.y + m.where.h + apart_mm});
        }
    const auto tidied = [](std::vector<double>& v, double end) {
        std::erase_if(v, [&](double at) { return at < rim_mm || at > end - rim_mm; });
        std::ranges::sort(v);
        v.erase(std::unique(v.begin(), v.end()), v.end());
    };
    tidied(out.x, piece.width_mm);
    tidied(out.y, piece.height_mm);
    return out;
}

/// Between two neighbouring sides a face is all bare or not at all.
struct Patches {
    Sides at;
    std::vector<bool> bare; ///< row by row
    [[nodiscard]] std::size_t columns() const { return at.x.empty() ? 0 : at.x.size() - 1; }
    [[nodiscard]] std::size_t rows() const { return at.y.empty() ? 0 : at.y.size() - 1; }
};
Patches patches_of(const ScrapPiece& piece, std::size_t face) {
    Patches out{sides_of(piece, face), {}};
    for (std::size_t r = 0; r < out.rows(); ++r)
        for (std::size_t c = 0; c < out.columns(); ++c)
            out.bare.push_back(scrap_bare(
                piece, face, {out.at.x[c], out.at.y[r], out.at.x[c + 1] - out.at.x[c], out.at.y[r + 1] - out.at.y[r]}));
    return out;
}

/// A framed sheet in this many columns.
ProofSheet in_columns(ProofSheet sheet, std::size_t columns, std::size_t places) {
    sheet.own_columns = columns;
    sheet.frame->rows = (places + columns - 1) / columns;
    sheet.left_out.assign(sheet.cells(), false);
    for (std::size_t i = 0; i < sheet.cells(); ++i)
        sheet.left_out[i] = !sheet.holds(i);
    return sheet;
}

} // namespace

bool same_scrap(const Stock& piece, const Stock& wanted) {
    return piece.metal == wanted.metal && piece.finish == wanted.finish && piece.thickness == wanted.thickness &&
           piece.coating == wanted.coating && piece.coating_thickness == wanted.coating_thickness &&
           piece.lot == wanted.lot;
}

bool scrap_bare(const ScrapPiece& piece, std::size_t face, const RectMm& w) {
    const double right = w.x + w.w, below = w.y + w.h;
    if (w.x < rim_mm - hair_mm || w.y < rim_mm - hair_mm || right > piece.width_mm - rim_mm + hair_mm ||
        below > piece.height_mm - rim_mm + hair_mm)
        return false;
    return std::ranges::none_of(piece.marks, [&](const ScrapMark& m) {
        return m.face == face && w.x < m.where.x + m.where.w + apart_mm - hair_mm &&
               right > m.where.x - apart_mm + hair_mm && w.y < m.where.y + m.where.h + apart_mm - hair_mm &&
               below > m.where.y - apart_mm + hair_mm;
    });
}

double scrap_free_mm2(const ScrapPiece& piece, std::size_t face) {
    const Patches p = patches_of(piece, face);
    double out = 0;
    for (std::size_t r = 0; r < p.rows(); ++r)
        for (std::size_t c = 0; c < p.columns(); ++c)
            if (p.bare[r * p.columns() + c])
                out += (p.at.x[c + 1] - p.at.x[c]) * (p.at.y[r + 1] - p.at.y[r]);
    return out;
}

RectMm scrap_largest_free(const ScrapPiece& piece, std::size_t face) {
    const Patches p = patches_of(piece, face);
    RectMm out;
    for (std::size_t top = 0; top < p.rows(); ++top) {
        std::vector<bool> bare(p.columns(), true); // from this row down to the one in turn
        for (std::size_t low = top; low < p.rows(); ++low) {
            std::size_t from = 0;
            for (std::size_t c = 0; c < p.columns(); ++c) {
                bare[c] = bare[c] && p.bare[low * p.columns() + c];
                if (!bare[c]) {
                    from = c + 1;
                    continue;
                }
                const double w = p.at.x[c + 1] - p.at.x[from], h = p.at.y[low + 1] - p.at.y[top];
                if (w * h > out.w * out.h)
                    out = {p.at.x[from], p.at.y[top], w, h};
            }
        }
    }
    return out;
}

RectMm scrap_covers(const ScrapPlace& at, double width_mm, double height_mm) {
    return at.turned ? RectMm{at.x_mm, at.y_mm, height_mm, width_mm} : RectMm{at.x_mm, at.y_mm, width_mm, height_mm};
}

std::optional<ScrapPlace> scrap_place(const ScrapPiece& piece, double width_mm, double height_mm) {
    for (std::size_t face = 0; face < scrap_faces.size(); ++face) {
        // What lies bare anywhere can be pushed up and to the left until it touches: these places are all there are.
        const Sides sides = sides_of(piece, face);
        for (const bool turned : {false, true}) {
            if (turned && piece.stock.finish == Finish::brushed)
                continue;
            for (const double y : sides.y)
                for (const double x : sides.x) {
                    const ScrapPlace at{piece.name, face, x, y, turned};
                    if (scrap_bare(piece, face, scrap_covers(at, width_mm, height_mm)))
                        return at;
                }
        }
    }
    return std::nullopt;
}

std::optional<ScrapFit> fit_in_bin(const ProofSheet& sheet, std::span<const ScrapPiece> bin, const Stock& stock) {
    if (sheet.on_old_plate())
        return std::nullopt;
    std::vector<ProofSheet> shapes{sheet};
    if (sheet.frame && sheet.first_own() == 0) {
        const std::size_t places = sheet.cells();
        for (std::size_t columns = 2; columns <= std::min<std::size_t>(places, 26); ++columns)
            if (columns != sheet.own_columns)
                shapes.push_back(in_columns(sheet, columns, places));
    }
    // A part in fifty of the bare metal of a piece: enough to tell equals apart, too little to take a larger shape.
    constexpr double small_first = 0.02;
    std::optional<ScrapFit> out;
    double least = 1e300;
    for (const ScrapPiece& piece : bin) {
        if (!same_scrap(piece.stock, stock))
            continue;
        const double bare = scrap_free_mm2(piece, 0) + scrap_free_mm2(piece, 1);
        for (const ProofSheet& shape : shapes) {
            const SheetLayout at = layout(shape);
            const double cost = at.width_mm * at.height_mm + small_first * bare;
            if (cost >= least)
                continue;
            if (const auto place = scrap_place(piece, at.width_mm, at.height_mm)) {
                least = cost;
                out = ScrapFit{*place, shape};
            }
        }
    }
    return out;
}

std::string scrap_words(const ScrapPlace& at) {
    return fmt::format("{}, face {}: {} mm from the left, {} mm from the top{}", at.piece, scrap_faces.at(at.face),
                       format_number(at.x_mm, 4), format_number(at.y_mm, 4), at.turned ? ", turned by a quarter" : "");
}

} // namespace finch
