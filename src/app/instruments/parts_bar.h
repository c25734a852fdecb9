// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/instrument.h"

#include <vector>

namespace finch::app {

/// What a whole is made of, to scale: the time of a piece by layer, its cost by cause. Parts are told apart by texture
/// and name.
class PartsBar final : public Instrument {
    Q_OBJECT
public:
    struct Part {
        double size = 0;
        int texture = 0;
        QString name;
        QString value = {}; ///< spoken; on the bar only with `values_shown`
    };
    PartsBar(const QString& object_name, const QString& title, bool values_shown, QWidget* parent = nullptr);
    void show_parts(std::vector<Part> parts);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    bool values_shown_;
    std::vector<Part> parts_;
};

} // namespace finch::app
