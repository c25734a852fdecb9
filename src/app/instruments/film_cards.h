// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/instrument.h"

#include <optional>
#include <vector>

namespace finch::app {

/// A coat that is wet, one that dries in patches and one that is dry, as they look from the side.
class DryLook final : public Instrument {
    Q_OBJECT
public:
    explicit DryLook(QWidget* parent = nullptr);
    /// What the dry one looks like, in words of the product.
    void show_look(const QString& dry);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    QString dry_;
};

/// The tools of a scratch ladder, softest first: what each counts, what is expected of it and what it did. A click or a
/// number key goes on from not tried to held, lightened and gone.
class ScratchLadder final : public Instrument {
    Q_OBJECT
public:
    struct Rung {
        QString tool;
        double weight = 0;
        bool expected = false;       ///< to be survived
        std::optional<double> grade; ///< 1 held, 0.5 lightened, 0 gone; nothing: not tried
    };
    explicit ScratchLadder(QWidget* parent = nullptr);
    void show_rungs(std::vector<Rung> rungs, bool can_grade);
    [[nodiscard]] const std::vector<Rung>& rungs() const { return rungs_; }
    [[nodiscard]] QSize sizeHint() const override;

Q_SIGNALS:
    void graded(std::size_t rung, std::optional<double> grade);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void go_on(std::size_t rung);
    std::vector<Rung> rungs_;
    bool can_grade_ = false;
};

} // namespace finch::app
