// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/instrument.h"

#include <vector>

namespace finch::app {

/// The rail of stations in the order of work.
class Perch final : public Instrument {
    Q_OBJECT
public:
    enum class Mark { none, unfinished, carried };
    struct Station {
        int number = 1;
        QString icon, name;
        Mark mark = Mark::none;
    };
    explicit Perch(std::vector<Station> stations, QWidget* parent = nullptr);
    void set_current(int index);
    void set_mark(int index, Mark mark);

Q_SIGNALS:
    void asked(int index);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void tell();
    std::vector<Station> stations_;
    int current_ = 0;
};

} // namespace finch::app
