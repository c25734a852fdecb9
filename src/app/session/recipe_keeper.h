// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/recorder.h"
#include "app/session/workbench.h"

namespace finch::app {

/// Saves recipes with their evidence into the logbook.
class RecipeKeeper final : public QObject {
    Q_OBJECT
public:
    RecipeKeeper(Workbench& workbench, Recorder& recorder, QObject* parent = nullptr)
        : QObject(parent), workbench_(workbench), recorder_(recorder) {}
    void save(const QString& name);

private:
    Workbench& workbench_;
    Recorder& recorder_;
    std::optional<Recipe> under_way_;
};

} // namespace finch::app
