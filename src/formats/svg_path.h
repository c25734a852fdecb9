// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <optional>
#include <QPainterPath>
#include <QTransform>
#include <string_view>

namespace finch {

/// Reads the numbers, commands and flags of SVG's small languages, front to back, whatever the locale.
class SvgScan {
public:
    explicit SvgScan(std::string_view text) : text_(text) {}
    /// White space and at most one comma.
    void skip_separator();
    void skip_space();
    [[nodiscard]] bool at_end() const { return at_ >= text_.size(); }
    [[nodiscard]] char peek() const { return at_end() ? '\0' : text_[at_]; }
    char take() { return at_end() ? '\0' : text_[at_++]; }
    [[nodiscard]] std::size_t where() const { return at_; }
    /// A finite number, or nothing and the place kept.
    std::optional<double> number();
    std::optional<bool> flag();
    /// Letters and '-'.
    std::string_view word();
    [[nodiscard]] std::string_view rest() const { return text_.substr(at_); }

private:
    std::string_view text_;
    std::size_t at_ = 0;
};

struct SvgPath {
    QPainterPath path;                    ///< a closed subpath ends where it began
    std::optional<std::size_t> broken_at; ///< character from which nothing was understood; what came before is kept
};
/// The `d` of a path: all commands.
[[nodiscard]] SvgPath svg_path(std::string_view d);

/// A `transform` list. Nothing where it is not understood.
[[nodiscard]] std::optional<QTransform> svg_transform(std::string_view text);

/// An arc of an ellipse as cubics of at most an eighth of a turn, off by less than 4e-6 of the radius.
void add_arc(QPainterPath& path, const QPointF& end, double rx, double ry, double turn_deg, bool large, bool sweep);
/// A whole ellipse, likewise.
void add_ellipse(QPainterPath& path, double cx, double cy, double rx, double ry);

} // namespace finch
