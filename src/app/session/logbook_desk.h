// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/border.h"
#include "record/logbook.h"

#include <QCoreApplication>
#include <QPointer>
#include <QThread>

namespace finch::app {

/// A logbook with a thread of its own: work on it runs there, one piece after the other, and the result comes back to
/// the thread of the one who asked. A logbook that cannot be opened now is tried again with the next piece of work.
class LogbookDesk final : public QObject {
    Q_OBJECT
public:
    explicit LogbookDesk(QString path, LogbookUse use = LogbookUse::write, QObject* parent = nullptr);
    ~LogbookDesk() override;

    /// `work` gets the logbook and returns an Expected. `then` gets that, unless `receiver` is gone by then.
    template <typename Work, typename Then>
    void ask(QObject* receiver, Work work, Then then) {
        post([this, to = QPointer<QObject>(receiver), work = std::move(work), then = std::move(then)]() mutable {
            using Result = std::invoke_result_t<Work, Logbook&>;
            Result result = guarded("working on the logbook", [&]() -> Result {
                const auto book = open();
                return book ? work(**book) : Result(tl::unexpected(book.error()));
            });
            QMetaObject::invokeMethod(
                qApp,
                [to, result = std::move(result), then = std::move(then)]() mutable {
                    if (to)
                        then(result);
                },
                Qt::QueuedConnection);
        });
    }
    [[nodiscard]] QString path() const { return path_; }
    /// Waits until all that was asked so far is done.
    void finish();

private:
    void post(std::function<void()> work);
    [[nodiscard]] Expected<Logbook*> open();

    QString path_;
    LogbookUse use_;
    std::unique_ptr<Logbook> book_; ///< only touched in the thread
    QThread thread_;
    QObject* inside_; ///< lives in the thread
};

} // namespace finch::app
