// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/instrument.h"
#include "recipe/recipe.h"

#include <optional>

class QLineEdit;

namespace finch::app {

/// View data of one knob.
struct KnobView {
    Knob knob = Knob::power;
    double value = 0;
    double low = 0, high = 1; ///< what the bench can set
    bool log_scale = false;
    std::optional<double> saved;                    ///< of the last saved recipe
    std::optional<std::pair<double, double>> keeps; ///< range that keeps the target
    QString derived;                                ///< "4.94 W"
    QString change;                                 ///< "+10 %"
    double delta_l = 0;                             ///< lightness change of that step; NaN = no colour
    QString effect;                                 ///< "lighter 14"
    bool enabled = true;
};

void paint_knob_track(QPainter& painter, const QRectF& box, const KnobView& view, const Theme& theme);

/// Field that takes whatever a person types for one knob, shows the fault beside it and keeps the text until it is
/// right.
class KnobRow final : public Instrument {
    Q_OBJECT
public:
    KnobRow(Knob knob, QWidget* parent = nullptr);
    void show_view(const KnobView& view);
    /// Machine facts that let percentages and overlaps be typed.
    void set_context(std::optional<double> maximum, std::optional<double> spot_mm);
    [[nodiscard]] QLineEdit* field() const { return field_; }
    [[nodiscard]] QSize sizeHint() const override { return {440, 44}; }

Q_SIGNALS:
    void moved(double value);
    void complained(const QString& text);
    /// A value that was taken, but looks like a slip.
    void warned(const QString& text);

protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    [[nodiscard]] QRectF track() const;
    void move_to(double value);
    void drag(double x);
    void step(int direction, Qt::KeyboardModifiers modifiers);
    void commit();

    KnobView view_;
    QLineEdit* field_;
    std::optional<double> maximum_, spot_mm_;
};

} // namespace finch::app
