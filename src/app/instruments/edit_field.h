// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "quantity/parse.h"

#include <QLineEdit>

namespace finch::app {

/// A field for one quantity: takes any unit and expression, keeps what was typed until it is right, and says why not.
class EditField final : public QLineEdit {
    Q_OBJECT
public:
    EditField(const QString& object_name, const QString& accessible_name, QuantityKind kind,
              const ParseContext& context, QWidget* parent = nullptr);
    /// Shows a value unless the operator is typing.
    void show_value(double value);
    /// What may be entered from now on.
    void set_range(double low, double high) {
        context_.low = low;
        context_.high = high;
    }

Q_SIGNALS:
    void entered(double value);
    void complained(const QString& text);

private:
    void commit();
    QuantityKind kind_;
    ParseContext context_;
};

} // namespace finch::app
