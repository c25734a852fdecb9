// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/autosave.h"

#include "document/json_fields.h"
#include "formats/data_folder.h"
#include "formats/sheet_export.h"

#include <nlohmann/json.hpp>
#include <QFile>

namespace finch::app {

Autosave::Autosave(Workbench& workbench, QString path, QObject* parent)
    : QObject(parent), workbench_(workbench), path_(std::move(path)) {
    quiet_.setSingleShot(true);
    quiet_.setInterval(400);
    latest_.setSingleShot(true);
    latest_.setInterval(900);
    for (QTimer* timer : {&quiet_, &latest_})
        connect(timer, &QTimer::timeout, this, &Autosave::flush);
    connect(&workbench_, &Workbench::changed, this, [this] {
        pending_ = true;
        quiet_.start();
        if (!latest_.isActive())
            latest_.start();
    });
}

void Autosave::flush() {
    if (!pending_)
        return;
    pending_ = false;
    quiet_.stop();
    latest_.stop();
    const auto written = write_file(path_, to_json(workbench_.draft()).dump(1));
    if (written) {
        warned_ = false;
        Q_EMIT saved();
    } else if (!warned_) {
        warned_ = true;
        workbench_.fail(written.error());
    }
}

Expected<Draft> recover_draft(const QString& path) {
    const auto text = read_text_file(path.toStdString());
    if (!text)
        return tl::unexpected(text.error());
    const auto document = parse_json(*text, path.toStdString());
    auto draft =
        document ? draft_from_json(*document, path.toStdString()) : Expected<Draft>(tl::unexpected(document.error()));
    if (!draft) {
        const QString aside = path + QStringLiteral(".damaged");
        QFile::remove(aside);
        QFile::copy(path, aside);
        Error e = draft.error();
        e.fix += " A copy of it is kept beside it, ending in .damaged.";
        return tl::unexpected(e);
    }
    return draft;
}

} // namespace finch::app
