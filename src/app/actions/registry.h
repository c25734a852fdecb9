// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <functional>
#include <map>
#include <QAction>
#include <QKeySequence>
#include <QObject>
#include <QString>
#include <vector>

namespace finch::app {

/// What an action is: menus, the command list, help and tests are fed from this one list.
struct ActionInfo {
    QString id;   ///< "proof.burn"
    QString text; ///< "Burn the sheet"
    QString help; ///< one sentence
    QKeySequence shortcut;
    QString menu; ///< title of the menu it stands in
};

/// All actions of the window by id.
class ActionRegistry final : public QObject {
    Q_OBJECT
public:
    explicit ActionRegistry(QWidget* window);
    /// Adds an action. The id must be new.
    QAction* add(const ActionInfo& info, const std::function<void()>& run);
    /// The action of a known id.
    [[nodiscard]] QAction* operator[](const QString& id) const;
    [[nodiscard]] const std::vector<ActionInfo>& infos() const { return infos_; }

private:
    QWidget* window_;
    std::vector<ActionInfo> infos_;
    std::map<QString, QAction*> actions_;
};

} // namespace finch::app
