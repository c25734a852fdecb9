// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/instruments/edit_field.h"

#include "quantity/format.h"

#include <cmath>
#include <QStyle>

namespace finch::app {

using namespace Qt::StringLiterals;

EditField::EditField(const QString& object_name, const QString& accessible_name, QuantityKind kind,
                     const ParseContext& context, QWidget* parent)
    : QLineEdit(parent), kind_(kind), context_(context) {
    setObjectName(object_name);
    setAccessibleName(accessible_name);
    setProperty("mono", true);
    setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    if (context_.default_unit.empty())
        context_.default_unit = std::string(canonical_unit(kind));
    connect(this, &QLineEdit::editingFinished, this, &EditField::commit);
}

void EditField::show_value(double value) {
    if (hasFocus() && isModified())
        return;
    if (!std::isfinite(value)) {
        // A value that nobody gave has a word in its place, and no zero.
        clear();
        setPlaceholderText(tr("unknown"));
        setModified(false);
        return;
    }
    QString unit = QString::fromStdString(context_.default_unit);
    if (unit == u"degC"_s)
        unit = u"°C"_s;
    else if (unit == u"deg"_s)
        unit = u"°"_s;
    else if (unit == u"um"_s)
        unit = u"µm"_s;
    setText(QString::fromStdString(format_number(value, 5)) + (unit.isEmpty() ? u""_s : u" "_s + unit));
    setModified(false);
    if (property("wrong").toBool()) {
        setProperty("wrong", false);
        style()->polish(this);
    }
}

void EditField::commit() {
    if (!isModified())
        return;
    if (text().trimmed().isEmpty() && !placeholderText().isEmpty()) {
        setModified(false);
        Q_EMIT entered(0);
        return;
    }
    const auto parsed = parse_quantity(text().toStdString(), kind_, context_);
    if (property("wrong").toBool() == parsed.has_value()) {
        setProperty("wrong", !parsed);
        style()->polish(this);
    }
    if (!parsed) {
        const QString why = accessibleName() + u": "_s + QString::fromStdString(sentence(parsed.error()));
        setToolTip(why);
        Q_EMIT complained(why);
        return;
    }
    setToolTip({});
    setModified(false);
    Q_EMIT entered(parsed->value);
}

} // namespace finch::app

#include "moc_edit_field.cpp"
