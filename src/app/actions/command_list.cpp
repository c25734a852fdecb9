// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/actions/command_list.h"

#include <QKeyEvent>
#include <QLineEdit>
#include <QListWidget>
#include <QTimer>
#include <QVBoxLayout>

namespace finch::app {

using namespace Qt::StringLiterals;

CommandList::CommandList(const ActionRegistry& registry, QWidget* parent)
    : QDialog(parent, Qt::Popup), registry_(registry), words_(new QLineEdit(this)), list_(new QListWidget(this)) {
    setObjectName(u"command_list"_s);
    setAttribute(Qt::WA_DeleteOnClose);
    words_->setObjectName(u"command_words"_s);
    words_->setAccessibleName(tr("Find a command"));
    words_->setPlaceholderText(tr("Type what you want to do"));
    list_->setObjectName(u"command_hits"_s);
    list_->setAccessibleName(tr("Commands found"));
    list_->setFocusPolicy(Qt::NoFocus);
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(10, 10, 10, 10);
    box->addWidget(words_);
    box->addWidget(list_);
    resize(460, 380);
    words_->installEventFilter(this);
    connect(words_, &QLineEdit::textChanged, this, &CommandList::filter);
    connect(list_, &QListWidget::itemClicked, this, &CommandList::run_current);
    filter({});
}

void CommandList::filter(const QString& words) {
    list_->clear();
    for (const ActionInfo& info : registry_.infos()) {
        const QAction* action = registry_[info.id];
        const QString all = (info.text + u' ' + info.help + u' ' + info.menu).toLower();
        bool fits = action->isEnabled();
        for (const QString& w : words.toLower().split(u' ', Qt::SkipEmptyParts))
            fits = fits && all.contains(w);
        if (!fits)
            continue;
        const QString keys = info.shortcut.toString(QKeySequence::NativeText);
        auto* item = new QListWidgetItem(keys.isEmpty() ? info.text : info.text + u"    "_s + keys, list_);
        item->setData(Qt::UserRole, info.id);
        item->setToolTip(info.help);
    }
    list_->setCurrentRow(0);
}

void CommandList::run_current() {
    const QListWidgetItem* item = list_->currentItem();
    if (item == nullptr)
        return;
    QAction* action = registry_[item->data(Qt::UserRole).toString()];
    close();
    QTimer::singleShot(0, action, &QAction::trigger);
}

bool CommandList::eventFilter(QObject* watched, QEvent* event) {
    if (watched == words_ && event->type() == QEvent::KeyPress) {
        const auto* key = static_cast<QKeyEvent*>(event);
        if (key->key() == Qt::Key_Down || key->key() == Qt::Key_Up) {
            const int row = list_->currentRow() + (key->key() == Qt::Key_Down ? 1 : -1);
            list_->setCurrentRow(qBound(0, row, list_->count() - 1));
            return true;
        }
        if (key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter) {
            run_current();
            return true;
        }
    }
    return QDialog::eventFilter(watched, event);
}

} // namespace finch::app

#include "moc_command_list.cpp"
