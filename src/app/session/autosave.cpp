// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/autosave.h"

#include "app/session/border.h"
#include "document/json_fields.h"
#include "formats/data_folder.h"
#include "formats/file_out.h"

#include <nlohmann/json.hpp>
#include <QFile>
#include <QtConcurrentRun>

namespace finch::app {
namespace {

constexpr int again_ms = 3000;

Expected<void> write(const QString& path, const Draft& draft) {
    return guarded("writing the draft", [&] { return write_file(path, json_text(to_json(draft), 1)); });
}

} // namespace

Autosave::Autosave(Workbench& workbench, QString path, QObject* parent)
    : QObject(parent), workbench_(workbench), path_(std::move(path)) {
    quiet_.setInterval(400);
    latest_.setInterval(850);
    again_.setInterval(again_ms);
    for (QTimer* timer : {&quiet_, &latest_, &again_}) {
        timer->setSingleShot(true);
        connect(timer, &QTimer::timeout, this, &Autosave::start);
    }
    connect(&workbench_, &Workbench::changed, this, [this] {
        pending_ = true;
        quiet_.start();
        if (!latest_.isActive())
            latest_.start();
    });
    connect(&writing_, &QFutureWatcherBase::finished, this, [this] { finished(writing_.result()); });
}

Autosave::~Autosave() {
    writing_.waitForFinished();
}

void Autosave::start() {
    // One that is under way is of an older draft; this one follows it.
    if (!pending_ || writing_.isRunning())
        return;
    pending_ = false;
    for (QTimer* timer : {&quiet_, &latest_, &again_})
        timer->stop();
    writing_.setFuture(QtConcurrent::run([path = path_, draft = workbench_.draft()] { return write(path, draft); }));
}

void Autosave::finished(const Expected<void>& written) {
    if (written) {
        warned_ = false;
        Q_EMIT saved();
        start();
        return;
    }
    pending_ = true;
    again_.start();
    if (!warned_) {
        warned_ = true;
        workbench_.fail(written.error());
    }
}

bool Autosave::flush() {
    if (writing_.isRunning()) {
        writing_.waitForFinished();
        pending_ = pending_ || !writing_.result();
    }
    if (!pending_)
        return true;
    const auto written = write(path_, workbench_.draft());
    pending_ = !written;
    if (written)
        Q_EMIT saved();
    else
        again_.start();
    return written.has_value();
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
