// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// The instruments with fixed view data, for pictures and for keys.
#pragma once

#include "app/instruments/instrument.h"

#include <functional>
#include <vector>

namespace finch::tests {

using app::Instrument;

/// A row of the table: an instrument that shows `other` = false for the picture, and something else otherwise.
struct Row {
    const char* name;
    QSize size;
    std::function<Instrument*(QWidget* parent, bool other)> make;
};

template <typename Widget, typename View>
Instrument* showing(QWidget* parent, const char* name, const View& view) {
    auto* w = new Widget(QString::fromLatin1(name), parent);
    w->show_view(view);
    return w;
}

/// Those of the Piece station.
std::vector<Row> piece_instruments();
/// Every instrument.
const std::vector<Row>& instruments();

} // namespace finch::tests
