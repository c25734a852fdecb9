// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/job_sheet.h"

#include "bench/bench_json.h"
#include "document/json_fields.h"
#include "formats/export_text.h"
#include "formats/region_path.h"
#include "formats/shipped_fonts.h"
#include "piece/scanner_fit.h"
#include "quantity/format.h"
#include "recipe/check.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <map>
#include <memory>
#include <nlohmann/json.hpp>
#include <QBuffer>
#include <QCryptographicHash>
#include <QPainter>
#include <QPdfWriter>
#include <qrencode.h>

namespace finch {
namespace {

constexpr double left = 16, right = 194, top = 14, bottom = 283; // mm on A4
constexpr std::size_t most_rows = 40, most_told = 200;
constexpr int dpi = 300;

/// A page in millimetres with a line that moves down.
class Page {
public:
    explicit Page(QPdfWriter& pdf) : pdf_(pdf), painter_(&pdf) { painter_.scale(dpi / 25.4, dpi / 25.4); }
    [[nodiscard]] QPainter& painter() { return painter_; }
    double y = top;

    /// Begins another page where so much does not fit.
    void room_for(double high) {
        if (y + high <= bottom)
            return;
        pdf_.newPage();
        y = top;
    }
    /// Returns how high it is.
    double text(double x, double w, double high, const std::string& words, double size = 3.2, bool bold = false) {
        // Sizes of fonts are whole: drawn ten times as large and brought down.
        QFont font(QStringLiteral("IBM Plex Sans"));
        font.setPixelSize(static_cast<int>(std::lround(10 * size)));
        font.setWeight(bold ? QFont::DemiBold : QFont::Normal);
        painter_.save();
        painter_.setFont(font);
        painter_.scale(0.1, 0.1);
        QRectF used;
        painter_.drawText(QRectF(10 * x, 10 * y, 10 * w, 10 * high),
                          static_cast<int>(Qt::AlignLeft | Qt::AlignTop) | Qt::TextWordWrap,
                          QString::fromStdString(words), &used);
        painter_.restore();
        return 0.1 * used.height();
    }
    void line() {
        painter_.setPen(QPen(Qt::black, 0.15));
        painter_.drawLine(QPointF(left, y), QPointF(right, y));
    }
    void head(const std::string& words) {
        room_for(14);
        y += 3;
        text(left, right - left, 6, words, 3.8, true);
        y += 5.6;
        line();
        y += 1.2;
    }

private:
    QPdfWriter& pdf_;
    QPainter painter_;
};

bool draw_code(QPainter& painter, const std::string& words, const QRectF& box) {
    const std::unique_ptr<QRcode, void (*)(QRcode*)> code(QRcode_encodeString8bit(words.c_str(), 0, QR_ECLEVEL_M),
                                                          QRcode_free);
    if (code == nullptr)
        return false;
    const double dot = box.width() / code->width;
    for (int v = 0; v < code->width; ++v)
        for (int u = 0; u < code->width; ++u)
            if ((code->data[v * code->width + u] & 1) != 0) // NOLINT: rows of the library's own
                painter.fillRect(QRectF(box.left() + u * dot, box.top() + v * dot, dot * 1.01, dot * 1.01), Qt::black);
    return true;
}

/// All that is marked, in its places, fitted into a box; how high it became.
double draw_job(QPainter& painter, const Job& job, const QRectF& box) {
    QPainterPath marks, guides;
    const auto [w, h] = drawn_size(job);
    for (const JobLayer& l : job.layers)
        for (const PointMm& by : drawn_at(job, l))
            (l.guide ? guides : marks).addPath(region_path(l.region).translated(by.x, by.y));
    if (!(w > 0 && h > 0))
        return 0;
    const double scale = std::min(box.width() / w, box.height() / h);
    painter.save();
    painter.translate(box.left(), box.top() + scale * h);
    painter.scale(scale, -scale);
    painter.setPen(QPen(Qt::gray, 0.1 / scale));
    painter.drawRect(QRectF(0, 0, w, h));
    for (const JobPlace& p : job.places)
        if (p.only)
            painter.drawRect(QRectF(p.only->x, p.only->y, p.only->w, p.only->h));
    marks.setFillRule(Qt::OddEvenFill);
    painter.fillPath(marks, Qt::black);
    painter.setPen(QPen(Qt::gray, 0.15 / scale, Qt::DashLine));
    painter.drawPath(guides);
    painter.restore();
    return scale * h;
}

/// Whether it is a text that differs from part to part.
bool differs(const JobLayer& l) {
    return !l.words.empty() && !l.only_at.empty();
}

/// What is told of each nest, in the order of their numbers.
std::map<int, std::string> words_by_nest(const Job& job) {
    std::map<int, std::string> out;
    for (const JobLayer& l : job.layers)
        if (differs(l))
            for (const int nest : l.only_at) {
                std::string& words = out[nest];
                words += fmt::format("{}{}: {}", words.empty() ? "" : ";  ", l.name, l.words);
            }
    return out;
}

std::string places_words(const Job& job) {
    if (job.places.empty())
        return "one part, as drawn";
    const JobPlace& first = job.places.front();
    if (first.axis_deg)
        return fmt::format("{} strips round a turned part; hatch along the axis", job.places.size());
    if (first.only)
        return fmt::format("{} tiles; the work is moved by hand between them, lined up by the crosses",
                           job.places.size());
    return job.places.size() == 1 ? fmt::format("one part, {} and {} mm off the middle of the field",
                                                format_number(first.by.x), format_number(first.by.y))
                                  : fmt::format("{} nests of a tray", job.places.size());
}

} // namespace

std::string job_code(const Job& job) {
    const std::string text = json_text(to_json(job), 0);
    const QByteArray hash = QCryptographicHash::hash(QByteArrayView(text.data(), static_cast<qsizetype>(text.size())),
                                                     QCryptographicHash::Sha256);
    return hash.toHex().left(10).toStdString();
}

Expected<std::string> job_sheet_pdf(const Job& job) {
    load_fonts();
    const ScannerKnowledge scanner = fitted(job.setup.bench.scanner);
    const auto all = loads_of(job);
    if (!all)
        return tl::unexpected(all.error());
    const TimeBand total = time_of(scanner, *all);
    const std::string code = job_code(job);
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    bool drawn = true;
    {
        QPdfWriter pdf(&buffer);
        pdf.setPageSize(QPageSize(QPageSize::A4));
        pdf.setPageMargins({});
        pdf.setResolution(dpi);
        pdf.setTitle(QString::fromStdString("Job sheet " + job.name));
        Page page(pdf);
        const Setup& s = job.setup;
        drawn = draw_code(page.painter(), "finch-job " + code, QRectF(right - 24, top, 24, 24));
        page.text(left, 140, 9, job.name.empty() ? "Job" : job.name, 6.4, true);
        page.y += 10;
        page.text(left, 140, 6, "Job sheet " + code, 4);
        page.y += 7;
        page.text(left, 140, 6,
                  "The code is of this very job. The logbook has it under that, if the sheet came from the workshop.",
                  2.8);
        page.y += 10;
        page.head("On what");
        const auto fact = [&](const std::string& name, const std::string& value) {
            page.room_for(5);
            page.text(left, 34, 5, name, 3.2);
            page.text(left + 36, right - left - 36, 5, value, 3.2, true);
            page.y += 4.8;
        };
        fact("Bench", fmt::format("{}, lens {}, field {} mm", s.bench.name, s.bench.lens().name,
                                  format_number(in_mm(s.bench.lens().field))));
        fact("Stock", fmt::format("{}, {} mm, {}, lot {}", s.stock.metal, format_number(in_mm(s.stock.thickness)),
                                  word(s.stock.coating), s.stock.lot));
        fact("Held by", fmt::format("{}, on {}", s.stock.held_by, s.stock.under_it));
        fact("Lies as", places_words(job));
        fact("Size", fmt::format("{} x {} mm", format_number(job.width_mm, 4), format_number(job.height_mm, 4)));
        fact("Marking takes",
             fmt::format("{} ({} to {}), {}", format_duration(total.likely), format_duration(total.low),
                         format_duration(total.high),
                         scanner.runs > 0 ? fmt::format("by {} timed runs of this scanner", scanner.runs)
                                          : std::string("with a scanner as it usually is")));
        fact("Bench time costs", format_number(total.likely / 3600 * s.bench.rate_per_hour));
        page.y += 2;
        page.y += draw_job(page.painter(), job, QRectF(left, page.y, right - left, 78)) + 2;
        page.head("Layers, in the order of marking");
        std::size_t shown = 0;
        const JobLayer* last = nullptr;
        for (const JobLayer& l : job.layers) {
            const bool again = last != nullptr && differs(*last) && differs(l) && last->name == l.name &&
                               last->colour == l.colour; // another wording of the same text
            last = &l;
            if (again)
                continue;
            if (++shown > most_rows) {
                page.room_for(5);
                page.text(left, right - left, 5, "and more layers: all are in the job.", 3);
                page.y += 4.8;
                break;
            }
            page.room_for(14);
            page.text(left, 8, 5, fmt::format("{}", shown), 3.2);
            page.text(left + 8, 120, 5, l.name, 3.2, true);
            if (l.guide || !l.recipe) {
                page.text(left + 130, right - left - 130, 5, l.guide ? "guide, never marked" : "no recipe", 3);
                page.y += 5.4;
                continue;
            }
            page.text(left + 130, right - left - 130, 5,
                      fmt::format("{} mm\u00b2, passes {}", format_number(area_mm2(l.region)),
                                  burned_setting(*l.recipe).passes),
                      3);
            page.y += 4.2;
            page.y += page.text(left + 8, right - left - 8, 12, marking_words(l), 3) + 0.8;
            for (const Finding& f : check(*l.recipe, s.bench, s.stock)) {
                page.room_for(9);
                page.y += page.text(left + 8, right - left - 8, 12, "! " + f.message + " " + f.remedy, 2.8) + 0.6;
            }
        }
        if (std::ranges::any_of(job.layers, differs)) {
            page.head("What each part says");
            std::size_t told = 0;
            for (const auto& [nest, words] : words_by_nest(job)) {
                if (++told > most_told) {
                    page.room_for(5);
                    page.text(left, right - left, 5, "and the parts after them: all are in the job.", 3);
                    page.y += 4.8;
                    break;
                }
                page.room_for(5);
                page.text(left, 14, 5, fmt::format("{}", nest), 3.2, true);
                page.y += std::max(4.6, page.text(left + 14, right - left - 14, 12, words, 3.2));
            }
        }
        page.head("Before the laser is on");
        for (const std::string& step :
             {fmt::format("Focus confirmed with {} at {} mm", s.bench.lens().name,
                          format_number(in_mm(s.focus.offset))),
              std::string("Stock checked for lacquer, film or plating; degreased and dry"),
              fmt::format("Held by {}; nothing that burns lies under it", s.stock.held_by),
              std::string("Way up and mirroring compared with the part"),
              std::string("Frame shown with the pointer, and again after anything was moved"),
              std::string(
                  "Fume extraction and filter on; enclosure shut; eyewear for this wavelength; no one else in line")}) {
            page.room_for(6);
            page.painter().setPen(QPen(Qt::black, 0.2));
            page.painter().drawRect(QRectF(left, page.y + 0.6, 3, 3));
            page.text(left + 6, right - left - 6, 5, step, 3.2);
            page.y += 5.4;
        }
        page.room_for(16);
        page.y += 2;
        page.text(left, right - left, 12,
                  "This sheet informs and never certifies: the maker's manual, the data sheets, your laser safety "
                  "officer and "
                  "your local codes come first.",
                  2.8);
        page.y += 9;
        page.text(left, right - left, 6,
                  "Marked on ____________   by ______   good ______   spoiled ______   remarks:", 3.2);
    }
    if (!drawn)
        return failure("job.sheet", "The code of the job cannot be drawn.", "Export the job as json instead.");
    return bytes.toStdString();
}

} // namespace finch
