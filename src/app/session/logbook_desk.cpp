// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/logbook_desk.h"

namespace finch::app {

LogbookDesk::LogbookDesk(QString path, LogbookUse use, QObject* parent)
    : QObject(parent), path_(std::move(path)), use_(use), inside_(new QObject) {
    inside_->moveToThread(&thread_);
    connect(&thread_, &QThread::finished, inside_, &QObject::deleteLater);
    thread_.setObjectName(QStringLiteral("logbook"));
    thread_.start();
}

LogbookDesk::~LogbookDesk() {
    // The database belongs to its thread, to its last breath. Waited for: a thread that is told to quit does not look
    // at what was still asked of it.
    QMetaObject::invokeMethod(
        inside_, [this] { book_.reset(); }, Qt::BlockingQueuedConnection);
    thread_.quit();
    thread_.wait();
}

void LogbookDesk::post(std::function<void()> work) {
    QMetaObject::invokeMethod(inside_, std::move(work), Qt::QueuedConnection);
}

void LogbookDesk::finish() {
    QMetaObject::invokeMethod(
        inside_, [] {}, Qt::BlockingQueuedConnection);
}

Expected<Logbook*> LogbookDesk::open() {
    if (book_ == nullptr) {
        auto opened = Logbook::open(path_, use_);
        if (!opened)
            return tl::unexpected(opened.error());
        book_ = std::move(*opened);
    }
    return book_.get();
}

} // namespace finch::app

#include "moc_logbook_desk.cpp"
