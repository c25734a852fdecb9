// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "document/picture.h"
#include "proof/layout.h"
#include "quantity/error.h"

#include <optional>
#include <QObject>
#include <QString>
#include <vector>

namespace finch {

/// What drives a bench and its camera. Requests return at once; answers arrive as signals.
class BenchLink : public QObject {
    Q_OBJECT
public:
    using QObject::QObject;
    Q_DISABLE_COPY_MOVE(BenchLink)

    enum class State { absent, starting, ready, burning };

    [[nodiscard]] virtual State state() const = 0;
    virtual void burn(const Setup& setup, const std::vector<ToolStep>& steps) = 0;
    virtual void cancel() = 0;
    /// `white_card`: where the reference card lies. `attempt` makes each photograph a new one.
    virtual void photograph(const RectMm& white_card, int attempt) = 0;

Q_SIGNALS:
    void state_changed();
    void progressed(double share, const QString& at);
    void burned(double time_s);
    void cancelled();
    void photographed(const QByteArray& png);
    /// The request failed; `lost` if the bench itself went away.
    void failed(const Error& error, bool lost);
};

} // namespace finch
