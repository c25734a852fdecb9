// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/svg_text.h"

#include <QFont>
#include <QFontDatabase>
#include <QFontInfo>
#include <QFontMetricsF>
#include <QGuiApplication>
#include <QStringList>
#include <QTransform>

namespace finch {
namespace {

constexpr int drawn_px = 256; // outlines are asked for at this size and scaled: small ones would be hinted

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

bool has_fonts() {
    return qobject_cast<QGuiApplication*>(QCoreApplication::instance()) != nullptr;
}

TextOutlines text_outlines(const std::string& text, const TextLook& look) {
    TextOutlines out;
    const QStringList installed = QFontDatabase::families();
    QString family;
    for (QString one : QString::fromStdString(look.family).split(u',')) {
        one = generic(one.trimmed().remove(u'"').remove(u'\''));
        const auto it = std::find_if(installed.begin(), installed.end(),
                                     [&](const QString& f) { return f.compare(one, Qt::CaseInsensitive) == 0; });
        if (it != installed.end()) {
            family = *it;
            break;
        }
    }
    out.wanted = !family.isEmpty();
    QFont font(out.wanted ? family : QStringLiteral("DejaVu Sans"));
    font.setPixelSize(drawn_px);
    font.setBold(look.bold);
    font.setItalic(look.italic);
    font.setHintingPreference(QFont::PreferNoHinting);
    const double scale = look.size / drawn_px;
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
