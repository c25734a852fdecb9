// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/logbook_exchange.h"

#include "app/session/background.h"
#include "app/session/border.h"
#include "formats/file_out.h"
#include "record/exchange.h"

#include <QPointer>

namespace finch::app {

using namespace Qt::StringLiterals;

LogbookExchange::LogbookExchange(QString logbook, QObject* parent)
    : QObject(parent), logbook_(std::move(logbook)), stop_(std::make_shared<std::atomic<bool>>(false)) {}

LogbookExchange::~LogbookExchange() {
    cancel();
}

void LogbookExchange::cancel() {
    *stop_ = true;
}

void LogbookExchange::run(const QString& what, std::function<Expected<Done>(const Going&)> work) {
    if (running_) {
        Q_EMIT failed({"work.busy", "Another export or import is under way.", "Wait for it, or cancel it.", {}});
        return;
    }
    running_ = true;
    stop_ = std::make_shared<std::atomic<bool>>(false);
    Q_EMIT progressed(what);
    const QPointer<LogbookExchange> self(this);
    const auto going = [self, what, stop = stop_](std::size_t done, std::size_t all) {
        if (done % 20 == 0)
            QMetaObject::invokeMethod(
                qApp,
                [self, text = all > 0 ? tr("%1: %2 of %3").arg(what).arg(done).arg(all) : what] {
                    if (self && self->running_)
                        Q_EMIT self->progressed(text);
                },
                Qt::QueuedConnection);
        return !*stop;
    };
    const auto job = [self, going, work = std::move(work)] {
        auto result = guarded("exchanging entries", [&] { return work(going); });
        QMetaObject::invokeMethod(
            qApp,
            [self, result = std::move(result)] {
                if (!self)
                    return;
                self->running_ = false;
                Q_EMIT self->progressed({});
                if (!result)
                    Q_EMIT self->failed(result.error());
                else if (result->added >= 0)
                    Q_EMIT self->imported(result->added);
                else
                    Q_EMIT self->exported(result->path);
            },
            Qt::QueuedConnection);
    };
    [[maybe_unused]] const auto running = QtConcurrent::run(&background_pool(), job);
}

void LogbookExchange::export_to(const QString& path, const EntryFilter& filter) {
    run(tr("Exporting entries"), [logbook = logbook_, path, filter](const Going& going) -> Expected<Done> {
        const auto book = Logbook::open(logbook, LogbookUse::look_only);
        if (!book)
            return tl::unexpected(book.error());
        EntryFilter all = filter;
        all.limit = 2000000000;
        if (path.endsWith(u".csv"_s, Qt::CaseInsensitive)) {
            const auto written = write_file(path, [&](QIODevice& out) -> Expected<void> {
                const auto done = export_cells_csv(**book, all, out, going);
                return done ? Expected<void>() : tl::unexpected(done.error());
            });
            if (!written)
                return tl::unexpected(written.error());
        } else if (const auto done = export_folder(**book, all, path, going); !done)
            return tl::unexpected(done.error());
        return Done{path, -1};
    });
}

void LogbookExchange::import_from(const QString& path) {
    run(tr("Importing entries"), [logbook = logbook_, path](const Going& going) -> Expected<Done> {
        const auto book = Logbook::open(logbook);
        if (!book)
            return tl::unexpected(book.error());
        const auto added = import_entries(**book, path, going);
        if (!added)
            return tl::unexpected(added.error());
        return Done{path, *added};
    });
}

} // namespace finch::app

#include "moc_logbook_exchange.cpp"
