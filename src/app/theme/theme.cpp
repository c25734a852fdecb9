// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/theme/theme.h"

#include <QFile>
#include <QFontDatabase>
#include <QPainter>
#include <QPixmapCache>
#include <QSvgRenderer>
#include <QVariant>
#include <QWidget>

namespace finch::app {

using namespace Qt::StringLiterals;

Theme::Theme(QString name, bool dark, std::array<const char*, static_cast<std::size_t>(Role::count_)> colours)
    : name_(std::move(name)), dark_(dark) {
    for (std::size_t i = 0; i < colours.size(); ++i)
        colours_[i] = QColor(QLatin1StringView(colours[i]));
}

const Theme& Theme::named(const QString& name) {
    static const Theme paper(u"paper"_s, false,
                             {"#E9E9E9", "#F7F7F7", "#FFFFFF", "#FFFFFF", "#DEDEDE", "#171717", "#424242",
                              "#5E5E5E", "#C8C8C8", "#8E8E8E", "#6E6E6E", "#9A9A9A", "#A87B12", "#765505",
                              "#141414", "#0B6A55", "#A63E00", "#A3161F", "#5E5E5E", "#E6E6E6", "#D6D6D6",
                              "#C4C4C4", "#ADADAD", "#777777", "#1F5A96", "#A63E00", "#0B6A55", "#6B4C9A",
                              "#F2F2F2", "#111111", "#000000", "#E0B54A", "#FFB27A"});
    static const Theme workshop(u"workshop"_s, true,
                                {"#161616", "#212121", "#2B2B2B", "#141414", "#0F0F0F", "#EDEDED", "#C4C4C4",
                                 "#A3A3A3", "#3A3A3A", "#6A6A6A", "#8C8C8C", "#6A6A6A", "#E0B54A", "#E0B54A",
                                 "#141414", "#5EC4A6", "#F29A5C", "#F4837C", "#A3A3A3", "#2A2A2A", "#363636",
                                 "#444444", "#565656", "#777777", "#7FB2E8", "#F29A5C", "#5EC4A6", "#BBA0E6",
                                 "#F2F2F2", "#111111", "#000000", "#E0B54A", "#FFB27A"});
    return name == u"workshop"_s ? workshop : paper;
}

QPalette Theme::palette() const {
    const Theme& t = *this;
    QPalette p;
    p.setColor(QPalette::Window, t(Role::window));
    p.setColor(QPalette::WindowText, t(Role::ink));
    p.setColor(QPalette::Base, t(Role::field));
    p.setColor(QPalette::AlternateBase, t(Role::surface));
    p.setColor(QPalette::Text, t(Role::ink));
    p.setColor(QPalette::Button, t(Role::raised));
    p.setColor(QPalette::ButtonText, t(Role::ink));
    p.setColor(QPalette::PlaceholderText, t(Role::ink3));
    p.setColor(QPalette::Mid, t(Role::sunken));
    p.setColor(QPalette::Midlight, t(Role::hair));
    p.setColor(QPalette::Dark, t(Role::rule));
    p.setColor(QPalette::Light, t(Role::raised));
    p.setColor(QPalette::Shadow, t(Role::rule));
    p.setColor(QPalette::Highlight, t(Role::accent));
    p.setColor(QPalette::HighlightedText, t(Role::on_accent));
    p.setColor(QPalette::Link, t(Role::accent_text));
    p.setColor(QPalette::ToolTipBase, t(Role::raised));
    p.setColor(QPalette::ToolTipText, t(Role::ink));
    for (const auto role : {QPalette::WindowText, QPalette::Text, QPalette::ButtonText})
        p.setColor(QPalette::Disabled, role, t(Role::ink3));
    return p;
}

QString Theme::style_sheet() const {
    QString s = uR"(
QMainWindow, QDialog { background: @window; }
QLabel { color: @ink; background: transparent; }
QLabel[quiet="true"] { color: @ink2; }
QLabel[state="warn"] { color: @warn; }
QMenuBar { background: @window; color: @ink2; padding: 0 6px; }
QMenuBar::item { padding: 3px 9px; background: transparent; }
QMenuBar::item:selected { background: @raised; color: @ink; }
QMenu { background: @raised; color: @ink; border: 1px solid @rule; padding: 4px 0; }
QMenu::item { padding: 5px 28px 5px 16px; }
QMenu::item:selected { background: @accent; color: @on_accent; }
QMenu::item:disabled { color: @ink3; }
QMenu::separator { height: 1px; background: @hair; margin: 4px 8px; }
QLineEdit, QComboBox { background: @field; color: @ink; border: 1px solid @rule; border-radius: 3px; padding: 0 7px; min-height: 26px; selection-background-color: @accent; selection-color: @on_accent; }
QLineEdit[mono="true"] { font-family: "IBM Plex Mono"; font-weight: 500; }
QPlainTextEdit { background: @field; color: @ink; border: 1px solid @rule; border-radius: 3px; padding: 4px; selection-background-color: @accent; selection-color: @on_accent; }
QPlainTextEdit:focus { border: 2px solid @accent; padding: 3px; }
QLineEdit:focus, QComboBox:focus { border: 2px solid @accent; padding: 0 6px; }
QLineEdit:disabled, QComboBox:disabled { color: @ink3; border-color: @hair; }
QLineEdit[wrong="true"] { border: 2px solid @warn; padding: 0 6px; }
QComboBox::drop-down { width: 22px; border: none; }
QComboBox::down-arrow { image: url(:/icons/chevron-down-@shade.svg); width: 14px; height: 14px; }
QComboBox QAbstractItemView { background: @raised; color: @ink; border: 1px solid @rule; selection-background-color: @accent; selection-color: @on_accent; outline: 0; }
QPushButton { background: @raised; color: @ink; border: 1px solid @rule; border-radius: 4px; padding: 0 14px; min-height: 34px; font-weight: 600; }
QPushButton:hover { background: @surface; }
QPushButton:pressed { background: @sunken; }
QPushButton:focus { border: 2px solid @accent; padding: 0 13px; }
QPushButton:disabled { color: @ink3; border-color: @hair; background: @window; }
QPushButton[primary="true"] { background: @accent; color: @on_accent; border-color: @accent; }
QPushButton[primary="true"]:hover { border-color: @ink; }
QPushButton[primary="true"]:disabled { background: @sunken; color: @ink3; border-color: @hair; }
QPushButton:checked { background: @raised; border-bottom: 3px solid @accent; }
QPushButton[small="true"] { min-height: 28px; padding: 0 9px; font-weight: 500; }
QPushButton[small="true"]:focus { padding: 0 8px; }
QPushButton[segment="true"] { background: @raised; border: 1px solid @rule; border-radius: 0; padding: 0 6px; color: @ink; font-weight: 500; min-height: 32px; }
QPushButton[segment="true"]:hover { background: @sunken; }
QPushButton[segment="true"]:checked { background: @ink; color: @field; font-weight: 600; border: 1px solid @ink; border-bottom: 3px solid @accent; }
QListView, QTableView, QTreeView { background: @surface; alternate-background-color: @surface; color: @ink; border: none; outline: 0; selection-background-color: @raised; selection-color: @ink; gridline-color: @hair; }
QTableView { font-family: "IBM Plex Mono"; font-size: 12px; }
QHeaderView::section { background: @surface; color: @ink2; border: none; border-bottom: 1px solid @rule; padding: 4px 6px; font-family: "IBM Plex Sans"; font-size: 12px; }
QScrollArea, QScrollArea > QWidget, QScrollArea > QWidget > QWidget { background: transparent; border: none; }
QScrollBar:vertical { background: @surface; width: 10px; }
QScrollBar::handle:vertical { background: @rule; min-height: 24px; border-radius: 4px; margin: 1px; }
QScrollBar:horizontal { background: @surface; height: 10px; }
QScrollBar::handle:horizontal { background: @rule; min-width: 24px; border-radius: 4px; margin: 1px; }
QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
QToolTip { background: @raised; color: @ink; border: 1px solid @rule; padding: 4px 6px; }
QProgressBar { background: @sunken; border: none; border-radius: 3px; max-height: 6px; min-height: 6px; }
QProgressBar::chunk { background: @accent; border-radius: 3px; }
QCheckBox { spacing: 8px; color: @ink; }
QCheckBox::indicator { width: 16px; height: 16px; border: 1px solid @rule; border-radius: 3px; background: @field; }
QCheckBox::indicator:checked { background: @accent; border-color: @accent; image: url(:/icons/check.svg); }
QCheckBox:focus { color: @accent_text; }
QRadioButton { spacing: 8px; color: @ink; }
QRadioButton::indicator { width: 14px; height: 14px; border: 1px solid @rule; border-radius: 8px; background: @field; }
QRadioButton::indicator:checked { border: 5px solid @accent; width: 6px; height: 6px; background: @field; }
QRadioButton:focus { color: @accent_text; }
QAbstractSpinBox { background: @field; color: @ink; border: 1px solid @rule; border-radius: 3px; padding: 0 5px; min-height: 26px; selection-background-color: @accent; selection-color: @on_accent; }
QAbstractSpinBox:focus { border: 2px solid @accent; padding: 0 4px; }
QAbstractSpinBox::up-button, QAbstractSpinBox::down-button { width: 18px; border: none; background: transparent; }
QAbstractSpinBox::up-arrow { image: url(:/icons/chevron-up-@shade.svg); width: 11px; height: 11px; }
QAbstractSpinBox::down-arrow { image: url(:/icons/chevron-down-@shade.svg); width: 11px; height: 11px; }
QSplitter::handle { background: @hair; }
)"_s;
    const std::array<std::pair<const char*, Role>, 17> names{{{"@accent_text", Role::accent_text},
                                                              {"@on_accent", Role::on_accent},
                                                              {"@window", Role::window},
                                                              {"@surface", Role::surface},
                                                              {"@raised", Role::raised},
                                                              {"@field", Role::field},
                                                              {"@sunken", Role::sunken},
                                                              {"@ink2", Role::ink2},
                                                              {"@ink3", Role::ink3},
                                                              {"@ink", Role::ink},
                                                              {"@hair", Role::hair},
                                                              {"@rule", Role::rule},
                                                              {"@accent", Role::accent},
                                                              {"@warn", Role::warn},
                                                              {"@danger", Role::danger},
                                                              {"@ok", Role::ok},
                                                              {"@mat", Role::mat}}};
    for (const auto& [key, role] : names)
        s.replace(QLatin1StringView(key), (*this)(role).name());
    return s.replace(u"@shade"_s, dark_ ? u"light"_s : u"dark"_s);
}

const Theme& theme_of(const QWidget* widget) {
    // A dialog is a window of its own, in the theme of the one that it belongs to.
    QVariant name;
    for (const QWidget* at = widget; at != nullptr && !name.isValid(); at = at->window()->parentWidget())
        name = at->window()->property("finch_theme");
    return Theme::named(name.toString());
}

void set_theme(QWidget* window, const Theme& theme) {
    window->setProperty("finch_theme", theme.name());
    window->setPalette(theme.palette());
    window->setStyleSheet(theme.style_sheet());
}

QFont text_font(TextStyle style) {
    const auto make = [](const char* family, int pixels, QFont::Weight weight) {
        QFont f{QString::fromLatin1(family)};
        f.setPixelSize(pixels);
        f.setWeight(weight);
        return f;
    };
    switch (style) {
    case TextStyle::title:
        return make("IBM Plex Sans", 20, QFont::DemiBold);
    case TextStyle::section:
        return make("IBM Plex Sans", 15, QFont::DemiBold);
    case TextStyle::head:
        return make("IBM Plex Sans", 13, QFont::DemiBold);
    case TextStyle::body:
        return make("IBM Plex Sans", 13, QFont::Normal);
    case TextStyle::small:
        return make("IBM Plex Sans", 12, QFont::Normal);
    case TextStyle::readout:
        return make("IBM Plex Mono", 17, QFont::Medium);
    case TextStyle::readout_large:
        return make("IBM Plex Mono", 20, QFont::Medium);
    case TextStyle::value:
        return make("IBM Plex Mono", 13, QFont::Medium);
    case TextStyle::value_small:
        return make("IBM Plex Mono", 12, QFont::Normal);
    case TextStyle::value_bold:
        return make("IBM Plex Mono", 13, QFont::DemiBold);
    }
    return {};
}

QPixmap icon_pixmap(const QString& name, const QColor& colour, int size, double ratio) {
    const QString key = u"finch-icon/%1/%2/%3/%4"_s.arg(name, colour.name()).arg(size).arg(ratio);
    QPixmap pixmap;
    if (QPixmapCache::find(key, &pixmap))
        return pixmap;
    QFile file(u":/icons/%1.svg"_s.arg(name));
    if (!file.open(QIODevice::ReadOnly))
        return {};
    // The icons are drawn in currentColor, which the renderer takes for black.
    QByteArray svg = file.readAll();
    svg.replace("currentColor", colour.name().toLatin1());
    svg.replace("stroke-width=\"2\"", "stroke-width=\"1.6\"");
    QSvgRenderer renderer(svg);
    pixmap = QPixmap(QSize(size, size) * ratio);
    pixmap.setDevicePixelRatio(ratio);
    pixmap.fill(Qt::transparent);
    QPainter painter(&pixmap);
    renderer.render(&painter, QRectF(0, 0, size, size));
    painter.end();
    QPixmapCache::insert(key, pixmap);
    return pixmap;
}

} // namespace finch::app
