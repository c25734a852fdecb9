// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "record/logbook.h"

#include <atomic>
#include <memory>
#include <QObject>

namespace finch::app {

/// Exports and imports entries in a worker, with progress, and stops when asked to: what was begun is then as if it had
/// not been.
class LogbookExchange final : public QObject {
    Q_OBJECT
public:
    explicit LogbookExchange(QString logbook, QObject* parent = nullptr);
    ~LogbookExchange() override;

    [[nodiscard]] bool running() const { return running_; }
    /// The matching entries: as a folder with pictures, or as cells for a path that ends in .csv.
    void export_to(const QString& path, const EntryFilter& filter);
    void import_from(const QString& path);
    void cancel();

Q_SIGNALS:
    void progressed(const QString& text);
    void exported(const QString& path);
    void imported(int added);
    void failed(const finch::Error& error);

private:
    struct Done {
        QString path;
        int added = -1; ///< of an import
    };
    void run(const QString& what,
             std::function<Expected<Done>(const std::function<bool(std::size_t, std::size_t)>&)> work);

    QString logbook_;
    std::shared_ptr<std::atomic<bool>> stop_;
    bool running_ = false;
};

} // namespace finch::app
