// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "quantity/error.h"

#include <optional>
#include <QSqlDatabase>
#include <QSqlError>
#include <QString>

namespace finch::record {

inline constexpr int schema_version = 2;

/// What a database error means to the operator.
[[nodiscard]] Error database_error(const QSqlError& error, const QString& path);

/// Looks at a file without touching it. Errors: record.not_a_logbook, record.newer_version.
[[nodiscard]] Expected<void> recognise(const QString& path);

/// Makes a new logbook in an empty database, or brings an older one up to this version in one transaction.
[[nodiscard]] Expected<void> bring_up_to_date(QSqlDatabase& database, const QString& path);

/// Rolls back unless committed.
class Transaction {
public:
    explicit Transaction(QSqlDatabase& database);
    ~Transaction();
    Transaction(const Transaction&) = delete;
    Transaction& operator=(const Transaction&) = delete;
    /// Why it could not be begun, if it could not.
    [[nodiscard]] const std::optional<QSqlError>& fault() const { return fault_; }
    [[nodiscard]] std::optional<QSqlError> commit();

private:
    QSqlDatabase& database_;
    std::optional<QSqlError> fault_;
    bool open_ = false;
};

} // namespace finch::record
