// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/actions/registry.h"

#include <QWidget>

namespace finch::app {

ActionRegistry::ActionRegistry(QWidget* window) : QObject(window), window_(window) {}

QAction* ActionRegistry::add(const ActionInfo& info, const std::function<void()>& run) {
    Q_ASSERT_X(!actions_.contains(info.id), "ActionRegistry", qPrintable(info.id));
    auto* action = new QAction(info.text, this);
    action->setObjectName(info.id);
    action->setShortcut(info.shortcut);
    action->setStatusTip(info.help);
    action->setToolTip(info.shortcut.isEmpty()
                           ? info.help
                           : info.help + QStringLiteral(" (%1)").arg(info.shortcut.toString(QKeySequence::NativeText)));
    connect(action, &QAction::triggered, this, [run] { run(); });
    window_->addAction(action);
    infos_.push_back(info);
    actions_[info.id] = action;
    return action;
}

QAction* ActionRegistry::operator[](const QString& id) const {
    const auto it = actions_.find(id);
    if (it == actions_.end())
        qFatal("no action %s", qPrintable(id));
    return it->second;
}

} // namespace finch::app

#include "moc_registry.cpp"
