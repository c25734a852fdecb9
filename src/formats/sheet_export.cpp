// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/sheet_export.h"

#include "bench/bench_json.h"
#include "formats/export_text.h"
#include "formats/file_out.h"
#include "quantity/format.h"

#include <fmt/format.h>
#include <functional>
#include <QBuffer>
#include <QPageSize>
#include <QPainter>
#include <QPdfWriter>

namespace finch {
namespace {

std::string rect_svg(const RectMm& r) {
    return fmt::format("<rect x=\"{:.4f}\" y=\"{:.4f}\" width=\"{:.4f}\" height=\"{:.4f}\"/>", r.x, r.y, r.w, r.h);
}

/// Draws the sheet itself in mm; the painter's scale is set by the caller.
void draw_sheet(QPainter& painter, const ProofSheet& sheet, const SheetForecast& forecast,
                const MarkerModules& modules) {
    const SheetLayout at = layout(sheet);
    const auto rect = [](const RectMm& r) { return QRectF(r.x, r.y, r.w, r.h); };
    painter.setPen(QPen(Qt::black, 0.1));
    painter.drawRect(QRectF(0, 0, at.width_mm, at.height_mm));
    for (const ToolStep& step : tool_steps(sheet, at, modules)) {
        const bool cell = step.name != "fiducial" && step.name != "label";
        if (!cell)
            for (const RectMm& r : step.hatch)
                painter.fillRect(rect(r), Qt::black);
        for (const auto& stroke : step.strokes)
            for (std::size_t i = 1; i < stroke.size(); ++i)
                painter.drawLine(QPointF(stroke[i - 1].x, stroke[i - 1].y), QPointF(stroke[i].x, stroke[i].y));
    }
    for (std::size_t i = 0; i < sheet.cells(); ++i) {
        const CellForecast& f = forecast.cells.at(i);
        const QRectF box = rect(at.cells[i]);
        if (i < sheet.left_out.size() && sheet.left_out[i]) {
            painter.drawLine(box.topLeft(), box.bottomRight());
            painter.drawLine(box.topRight(), box.bottomLeft());
        } else if (f.prediction && f.fate == CellFate::marks) {
            const Rgb c = to_srgb(f.prediction->lab());
            painter.fillRect(box, QColor(c.r, c.g, c.b));
        }
        painter.drawRect(box);
    }
    painter.setPen(QPen(Qt::black, 0.1, Qt::DashLine));
    painter.drawRect(rect(at.white_card));
}

/// A page whose painter draws in mm.
Expected<void> write_page(const QString& title, const QString& path, const std::function<void(QPainter&)>& draw) {
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    {
        constexpr int per_inch = 600;
        QPdfWriter pdf(&buffer);
        pdf.setPageSize(QPageSize(QPageSize::A4));
        pdf.setResolution(per_inch);
        pdf.setTitle(title);
        QPainter painter(&pdf);
        painter.scale(per_inch / 25.4, per_inch / 25.4);
        QFont font(QStringLiteral("IBM Plex Sans"));
        font.setPixelSize(4);
        painter.setFont(font);
        draw(painter);
    }
    return write_file(path, bytes.toStdString());
}

/// Where the name of a printed patch is written, and how high, in mm.
PointMm beside(const RectMm& patch) {
    return {patch.x + 0.3, patch.y - 0.9};
}
constexpr double patch_name_mm = 1.2;

} // namespace

std::string sheet_svg(const ProofSheet& sheet, const MarkerModules& modules) {
    const SheetLayout at = layout(sheet);
    std::string out = fmt::format(
        "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{0:.3f}mm\" "
        "height=\"{1:.3f}mm\" viewBox=\"0 0 {0:.3f} {1:.3f}\">\n<title>Proof sheet {2}: {3}</title>\n",
        at.width_mm, at.height_mm, sheet.number, escaped(sheet.aim));
    std::string fiducials, label;
    std::string cells;
    for (const ToolStep& step : tool_steps(sheet, at, modules)) {
        std::string shapes;
        for (const RectMm& r : step.hatch)
            shapes += rect_svg(r);
        for (const auto& stroke : step.strokes) {
            shapes += "<polyline fill=\"none\" stroke=\"#000000\" stroke-width=\"0.1\" points=\"";
            for (const PointMm& p : stroke)
                shapes += fmt::format("{:.3f},{:.3f} ", p.x, p.y);
            shapes += "\"/>";
        }
        if (step.name == "fiducial")
            fiducials += shapes;
        else if (step.name == "label")
            label += shapes;
        else
            cells += fmt::format("<g id=\"cell-{}\"><title>{}</title>{}</g>\n", step.name,
                                 escaped(recipe_words(step.recipe)), shapes);
    }
    const std::string safe = escaped(recipe_words(sheet.label_recipe));
    out += fmt::format("<g id=\"fiducials\"><title>{}</title>{}</g>\n<g id=\"labels\"><title>{}</title>{}</g>\n", safe,
                       fiducials, safe, label);
    out += fmt::format("<g id=\"guide-white-card\" fill=\"none\" stroke=\"#000000\" stroke-width=\"0.1\"><title>not "
                       "burned: lay the white card here</title>{}</g>\n",
                       rect_svg(at.white_card));
    return out + cells + "</svg>\n";
}

std::string chart_svg(const ColourPrint& print) {
    std::string out = fmt::format(
        "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{0:.3f}mm\" "
        "height=\"{1:.3f}mm\" viewBox=\"0 0 {0:.3f} {1:.3f}\">\n<title>Colour chart</title>\n",
        print.width_mm, print.height_mm);
    for (const ColourPrint::Patch& patch : print.patches) {
        const auto& [l, a, b] = patch.asked_lab;
        const Rgb c = to_srgb(Lab{l, a, b});
        out += fmt::format("<g{} fill=\"#{:02x}{:02x}{:02x}\">",
                           patch.name.empty() ? "" : " id=\"patch-" + patch.name + '"', c.r, c.g, c.b);
        for (const RectMm& r : patch.where)
            out += rect_svg(r);
        out += "</g>\n";
        if (patch.name.empty())
            continue;
        for (const auto& stroke : stroke_text({patch.name, beside(patch.where.front()), patch_name_mm})) {
            out += "<polyline fill=\"none\" stroke=\"#808080\" stroke-width=\"0.12\" points=\"";
            for (const PointMm& p : stroke)
                out += fmt::format("{:.3f},{:.3f} ", p.x, p.y);
            out += "\"/>\n";
        }
    }
    return out + "</svg>\n";
}

std::string sheet_csv(const ProofSheet& sheet) {
    const SheetLayout at = layout(sheet);
    std::string out = "cell,left_out,x_mm,y_mm,width_mm,height_mm";
    for (const Knob knob : all_knobs)
        out += "," + std::string(traits(knob).key);
    out += ",turn\n";
    const auto order = sheet.turns.empty() ? planned_order(sheet, at) : burning_order(sheet, at);
    for (std::size_t i = 0; i < sheet.cells(); ++i) {
        if (!sheet.holds(i))
            continue;
        const RectMm& r = at.cells[i];
        out += fmt::format("{},{},{:.3f},{:.3f},{:.3f},{:.3f}", cell_name(sheet, i),
                           i < sheet.left_out.size() && sheet.left_out[i] ? "yes" : "no", r.x, r.y, r.w, r.h);
        for (const Knob knob : all_knobs)
            out += "," + format_number(knob_value(cell_recipe(sheet, i), knob), 9);
        const auto turn = std::ranges::find(order, i);
        out += turn == order.end() ? ",\n" : fmt::format(",{}\n", turn - order.begin() + 1);
    }
    return out;
}

Expected<void> write_sheet_pdf(const ProofSheet& sheet, const SheetForecast& forecast, const Setup& setup,
                               const MarkerModules& modules, const QString& path) {
    const QString title = QStringLiteral("Proof sheet %1").arg(sheet.number);
    return write_page(title, path, [&](QPainter& painter) {
        painter.drawText(QPointF(15, 14), QStringLiteral("%1: %2").arg(title, QString::fromStdString(sheet.aim)));
        painter.save();
        painter.translate(15, 20);
        draw_sheet(painter, sheet, forecast, modules);
        painter.restore();
        double y = 32 + layout(sheet).height_mm;
        const auto line = [&](const std::string& text) {
            painter.drawText(QRectF(15, y, 180, 12), Qt::TextWordWrap, QString::fromStdString(text));
            y += 12;
        };
        line(fmt::format("Bench {}, lens {}, {} {} mm, lot {}", setup.bench.name, setup.bench.lens().name,
                         setup.stock.metal, format_number(in_mm(setup.stock.thickness)), setup.stock.lot));
        line("Fixed: " + recipe_words(sheet.base));
        line(fmt::format("Labels and fiducials: {}", recipe_words(sheet.label_recipe)));
        line(fmt::format(
            "Predicted time {}. Colours are predictions; dashed box: lay the white card there before the photograph.",
            format_duration(forecast.total_s)));
    });
}

Expected<void> write_chart_pdf(const ColourPrint& print, const QString& path) {
    return write_page(QStringLiteral("Colour chart"), path, [&](QPainter& painter) {
        painter.drawText(QPointF(15, 14), QStringLiteral("Colour chart: print on matt white paper at 100 %."));
        painter.translate(15, 20);
        for (const ColourPrint::Patch& patch : print.patches) {
            const auto& [l, a, b] = patch.asked_lab;
            const Rgb c = to_srgb(Lab{l, a, b});
            for (const RectMm& r : patch.where)
                painter.fillRect(QRectF(r.x, r.y, r.w, r.h), QColor(c.r, c.g, c.b));
            if (patch.name.empty())
                continue;
            painter.setPen(QPen(Qt::gray, 0.12));
            for (const auto& stroke : stroke_text({patch.name, beside(patch.where.front()), patch_name_mm}))
                for (std::size_t i = 1; i < stroke.size(); ++i)
                    painter.drawLine(QPointF(stroke[i - 1].x, stroke[i - 1].y), QPointF(stroke[i].x, stroke[i].y));
        }
    });
}

} // namespace finch
