// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/autosave.h"

#include "app/session/border.h"
#include "document/json_fields.h"
#include "formats/data_folder.h"
#include "formats/file_out.h"

#include <chrono>
#include <nlohmann/json.hpp>
#include <QFile>

namespace finch::app {
namespace {

constexpr std::chrono::milliseconds apart{300}, again{3000};

Expected<void> write(const QString& path, const Draft& draft) {
    return guarded("writing the draft", [&] { return write_file(path, json_text(to_json(draft), 1)); });
}

} // namespace

Autosave::Autosave(Workbench& workbench, QString path, QObject* parent)
    : QObject(parent), workbench_(workbench), path_(std::move(path)), thread_([this] { work(); }) {
    connect(&workbench_, &Workbench::changed, this, [this] { take(workbench_.draft()); });
}

Autosave::~Autosave() {
    {
        const std::lock_guard lock(mutex_);
        stop_ = true;
    }
    asked_for_.notify_all();
    thread_.join();
}

void Autosave::take(const Draft& draft) {
    {
        const std::lock_guard lock(mutex_);
        next_ = draft;
        ++taken_;
    }
    asked_for_.notify_all();
}

void Autosave::work() {
    std::unique_lock lock(mutex_);
    while (true) {
        asked_for_.wait(lock, [this] { return stop_ || next_.has_value(); });
        if (!next_)
            return;
        const bool last = stop_; // what is not yet on the disk when the window goes is tried once
        const Draft draft = std::move(*next_);
        next_.reset();
        const int turn = taken_;
        at_once_ = false;
        lock.unlock();
        const auto written = write(path_, draft);
        QMetaObject::invokeMethod(
            this, [this, written] { finished(written); }, Qt::QueuedConnection);
        lock.lock();
        last_tried_ = turn;
        ++tries_;
        unkept_ = !written;
        if (unkept_ && !next_)
            next_ = draft;
        tried_.notify_all();
        if (last)
            return;
        if (unkept_)
            asked_for_.wait_for(lock, again, [&] { return stop_ || at_once_ || taken_ != turn; });
        asked_for_.wait_for(lock, apart, [this] { return stop_ || at_once_; });
    }
}

void Autosave::finished(const Expected<void>& written) {
    if (written) {
        warned_ = false;
        Q_EMIT saved();
    } else if (!warned_) {
        warned_ = true;
        workbench_.fail(written.error());
    }
}

bool Autosave::pending() const {
    const std::lock_guard lock(mutex_);
    return unkept_ || last_tried_ != taken_;
}

bool Autosave::flush() {
    std::unique_lock lock(mutex_);
    if (!unkept_ && last_tried_ == taken_)
        return true;
    const long before = tries_;
    at_once_ = true;
    asked_for_.notify_all();
    tried_.wait(lock, [&] { return tries_ > before && last_tried_ == taken_; });
    return !unkept_;
}

Expected<Draft> recover_draft(const QString& path) {
    const std::string name = path.toStdString();
    const auto text = read_text_file(name);
    if (!text)
        return tl::unexpected(text.error());
    const auto document = parse_json(*text, name);
    auto draft = document ? draft_from_json(*document, name) : Expected<Draft>(tl::unexpected(document.error()));
    if (draft)
        return draft;
    Error e = draft.error();
    const QString ending = e.code == "document.newer_version" ? QStringLiteral(".newer") : QStringLiteral(".damaged");
    QString aside = path + ending;
    for (int i = 2; QFile::exists(aside); ++i)
        aside = path + ending + QString::number(i);
    if (QFile::copy(path, aside))
        e.fix += " It is kept as " + aside.toStdString() + ".";
    return tl::unexpected(e);
}

} // namespace finch::app

#include "moc_autosave.cpp"
