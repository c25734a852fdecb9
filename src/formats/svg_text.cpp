// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/svg_text.h"

#include "formats/shipped_fonts.h"

#include <QFont>
#include <QFontDatabase>
#include <QFontInfo>
#include <QFontMetricsF>
#include <QStringList>
#include <QTransform>

namespace finch {
namespace {

QString generic(const QString& family) {
    if (family == QLatin1String("sans-serif") || family == QLatin1String("system-ui"))
        return QStringLiteral("DejaVu Sans");
    if (family == QLatin1String("serif"))
        return QStringLiteral("DejaVu Serif");
    if (family == QLatin1String("monospace"))
        return QStringLiteral("DejaVu Sans Mono");
    return family;
}

} // namespace

QString installed_family(const std::string& families) {
    load_fonts();
    const QStringList installed = QFontDatabase::families();
    for (QString one : QString::fromStdString(families).split(u',')) {
        one = generic(one.trimmed().remove(u'"').remove(u'\''));
        const auto it = std::find_if(installed.begin(), installed.end(),
                                     [&](const QString& f) { return f.compare(one, Qt::CaseInsensitive) == 0; });
        if (it != installed.end())
            return *it;
    }
    return {};
}

QFont outline_font(const QString& family) {
    QFont font(family);
    font.setPixelSize(outline_px);
    font.setHintingPreference(QFont::PreferNoHinting);
    return font;
}

TextOutlines text_outlines(const std::string& text, const TextLook& look) {
    TextOutlines out;
    const QString family = installed_family(look.family);
    out.wanted = !family.isEmpty();
    QFont font = outline_font(out.wanted ? family : QStringLiteral("DejaVu Sans"));
    font.setBold(look.bold);
    font.setItalic(look.italic);
    const double scale = look.size / outline_px;
    if (look.spacing != 0 && scale > 0)
        font.setLetterSpacing(QFont::AbsoluteSpacing, look.spacing / scale);
    QPainterPath path;
    const QString line = QString::fromStdString(text);
    path.addText(0, 0, font, line);
    out.path = QTransform::fromScale(scale, scale).map(path);
    out.width = scale * QFontMetricsF(font).horizontalAdvance(line);
    out.used = QFontInfo(font).family().toStdString();
    return out;
}

} // namespace finch
