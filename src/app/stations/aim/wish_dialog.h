// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "recipe/aim.h"

#include <QDialog>

namespace finch::app {

/// Edits one wish: its numbers in any unit, a colour as L* a* b* or a value such as #1F5A96.
class WishDialog final : public QDialog {
    Q_OBJECT
public:
    explicit WishDialog(const Wish& wish, QWidget* parent = nullptr);

Q_SIGNALS:
    void accepted_wish(const finch::Wish& wish);

private:
    Wish wish_;
};

/// Edits the facts of the piece: title, place, pieces, area, whether it works.
class PieceDialog final : public QDialog {
    Q_OBJECT
public:
    explicit PieceDialog(const Aim& aim, QWidget* parent = nullptr);

Q_SIGNALS:
    void accepted_aim(const finch::Aim& aim);

private:
    Aim aim_;
};

} // namespace finch::app
