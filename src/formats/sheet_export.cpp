// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/sheet_export.h"

#include "bench/bench_json.h"
#include "quantity/format.h"

#include <fmt/format.h>
#include <QBuffer>
#include <QFile>
#include <QImageReader>
#include <QPageSize>
#include <QPainter>
#include <QPdfWriter>
#include <QSaveFile>

namespace finch {
namespace {

std::string rect_svg(const RectMm& r) {
    return fmt::format("<rect x=\"{:.4f}\" y=\"{:.4f}\" width=\"{:.4f}\" height=\"{:.4f}\"/>", r.x, r.y, r.w, r.h);
}

std::string escaped(const std::string& text) {
    std::string out;
    for (const char c : text)
        out += c == '<' ? "&lt;" : c == '>' ? "&gt;" : c == '&' ? "&amp;" : c == '"' ? "&quot;" : std::string(1, c);
    return out;
}

std::string recipe_words(const Recipe& recipe) {
    std::string out;
    for (const Knob knob : all_knobs) {
        const KnobTraits& t = traits(knob);
        out += fmt::format("{}{} {}{}{}", out.empty() ? "" : ", ", t.label, format_number(knob_value(recipe, knob), 5),
                           t.unit.empty() ? "" : " ", t.unit);
    }
    return out;
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

std::string sheet_csv(const ProofSheet& sheet) {
    const SheetLayout at = layout(sheet);
    std::string out = "cell,left_out,x_mm,y_mm,width_mm,height_mm";
    for (const Knob knob : all_knobs)
        out += "," + std::string(traits(knob).key);
    out += "\n";
    for (std::size_t i = 0; i < sheet.cells(); ++i) {
        const RectMm& r = at.cells[i];
        out += fmt::format("{},{},{:.3f},{:.3f},{:.3f},{:.3f}", cell_name(sheet, i),
                           i < sheet.left_out.size() && sheet.left_out[i] ? "yes" : "no", r.x, r.y, r.w, r.h);
        for (const Knob knob : all_knobs)
            out += "," + format_number(knob_value(cell_recipe(sheet, i), knob), 9);
        out += "\n";
    }
    return out;
}

Expected<bool> write_sheet_pdf(const ProofSheet& sheet, const SheetForecast& forecast, const Setup& setup,
                               const MarkerModules& modules, const QString& path) {
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    {
        QPdfWriter pdf(&buffer);
        pdf.setPageSize(QPageSize(QPageSize::A4));
        pdf.setResolution(600);
        pdf.setTitle(QStringLiteral("Proof sheet %1").arg(sheet.number));
        QPainter painter(&pdf);
        const double mm_px = 600 / 25.4;
        painter.scale(mm_px, mm_px);
        QFont font(QStringLiteral("IBM Plex Sans"));
        font.setPixelSize(4);
        painter.setFont(font);
        painter.drawText(QPointF(15, 14),
                         QStringLiteral("Proof sheet %1: %2").arg(sheet.number).arg(QString::fromStdString(sheet.aim)));
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
    }
    return write_file(path, bytes.toStdString());
}

Expected<bool> write_file(const QString& path, const std::string& bytes) {
    QSaveFile file(path);
    const bool good =
        file.open(QIODevice::WriteOnly) &&
        file.write(bytes.data(), static_cast<qint64>(bytes.size())) == static_cast<qint64>(bytes.size()) &&
        file.commit();
    if (!good)
        return failure("file.not_written", "The file could not be written: " + file.errorString().toStdString() + ".",
                       "Check the folder, its permissions and the free space; an older file was not touched.",
                       {path.toStdString(), 0, {}});
    return true;
}

namespace {

Expected<Picture> decode(QImageReader& reader, const std::string& name) {
    const Place place{name, 0, {}};
    reader.setAutoTransform(true);
    reader.setDecideFormatFromContent(true);
    const QSize size = reader.size();
    if (size.isValid() && static_cast<double>(size.width()) * size.height() > 1e8)
        return failure("picture.too_large", "The picture has over 100 megapixels.", "Save it smaller; 12 are plenty.",
                       place);
    QImageReader::setAllocationLimit(512);
    const QImage image = reader.read();
    if (image.isNull())
        return failure("picture.not_a_picture", "This is no PNG or JPEG picture, or it is damaged.",
                       "Choose another file.", place);
    const QImage rgb = image.convertToFormat(QImage::Format_RGB888);
    Picture out{rgb.width(), rgb.height(), {}};
    out.rgb.reserve(static_cast<std::size_t>(rgb.width()) * static_cast<std::size_t>(rgb.height()) * 3);
    for (int y = 0; y < rgb.height(); ++y)
        out.rgb.insert(out.rgb.end(), rgb.constScanLine(y), rgb.constScanLine(y) + 3 * rgb.width());
    return out;
}

} // namespace

Expected<Picture> load_picture(const QString& path) {
    if (!QFile::exists(path))
        return failure("file.missing", "The file cannot be found.", "Check the path.", {path.toStdString(), 0, {}});
    QImageReader reader(path);
    return decode(reader, path.toStdString());
}

Expected<Picture> picture_from_bytes(const QByteArray& bytes, const std::string& name) {
    QByteArray copy = bytes;
    QBuffer buffer(&copy);
    buffer.open(QIODevice::ReadOnly);
    QImageReader reader(&buffer);
    return decode(reader, name);
}

QByteArray png_bytes(const Picture& picture) {
    const QImage image(picture.rgb.data(), picture.width, picture.height, 3 * picture.width, QImage::Format_RGB888);
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    image.save(&buffer, "PNG", 70);
    return bytes;
}

} // namespace finch
