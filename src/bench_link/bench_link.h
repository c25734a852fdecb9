// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "bench_link/laid_part.h"
#include "proof/colour_print.h"
#include "proof/reading.h"
#include "proof/tool_step.h"
#include "quantity/error.h"
#include "quantity/plane.h"

#include <optional>
#include <QObject>
#include <QString>
#include <vector>

namespace finch {

/// Numbers a request of one link, from 1. Every answer carries the number of what it answers.
using RequestId = int;

/// What drives the laser of a bench. Requests return at once; answers arrive as signals, never from within the request.
///
/// The contract, which tests/bench_link holds every implementation to: each burn is answered by exactly one of burned,
/// cancelled or failed, within the link's time limit even if the bench is silent. A cancel is a latch: whatever state
/// the bench is in, a burn that was cancelled before it was sent is never sent. A cancel that crosses the end of a job
/// is answered by burned, because it was. Only one burn is under way at a time; another is answered by failed.
class BenchLink : public QObject {
    Q_OBJECT
public:
    using QObject::QObject;
    Q_DISABLE_COPY_MOVE(BenchLink)

    enum class State { absent, starting, ready, burning };
    /// Whether a job is burned on the piece that lies there already, not moved since, or on another one.
    enum class Piece { fresh, same };

    [[nodiscard]] virtual State state() const = 0;
    /// What is driven, in words for the operator: "stand-in bench".
    [[nodiscard]] virtual QString name() const = 0;
    virtual RequestId burn(const Setup& setup, const std::vector<ToolStep>& steps, Piece piece) = 0;
    /// Stops a burn. Of one that has ended, or was never asked for, nothing is answered.
    virtual void cancel(RequestId burn) = 0;

Q_SIGNALS:
    void state_changed();
    void progressed(finch::RequestId burn, double share, const QString& at);
    void burned(finch::RequestId burn, double time_s);
    void cancelled(finch::RequestId burn);
    /// `lost` if the bench itself went away.
    void failed(finch::RequestId burn, const finch::Error& error, bool lost);
};

/// What looks at a bench. The same contract: each photograph is answered once, by photographed or failed, and nothing
/// is answered once it was cancelled.
class Camera : public QObject {
    Q_OBJECT
public:
    using QObject::QObject;
    Q_DISABLE_COPY_MOVE(Camera)

    /// `white_card`: where the reference card lies, in mm on the sheet. `tilt_deg`: of the sheet, out of the straight
    /// view.
    virtual RequestId photograph(const RectMm& white_card, double tilt_deg) = 0;
    /// Prints something and photographs it; answered by photographed_print or failed.
    virtual RequestId photograph_print(const ColourPrint& print) = 0;
    virtual void cancel(RequestId shot) = 0;

Q_SIGNALS:
    /// An encoded picture, not yet looked at.
    void photographed(finch::RequestId shot, const QByteArray& picture);
    /// `measured`: its patches by an instrument; empty where there is none.
    void photographed_print(finch::RequestId shot, const QByteArray& picture, const finch::LabByName& measured);
    void failed(finch::RequestId shot, const finch::Error& error);
};

/// What measures how deep marks are. The same contract: each request is answered once, by measured with one depth for
/// each place, or by failed, and nothing is answered once it was cancelled.
class Gauge : public QObject {
    Q_OBJECT
public:
    using QObject::QObject;
    Q_DISABLE_COPY_MOVE(Gauge)

    /// `at`: in mm on the sheet.
    virtual RequestId measure(const std::vector<PointMm>& at) = 0;
    virtual void cancel(RequestId probe) = 0;

Q_SIGNALS:
    void measured(finch::RequestId probe, const std::vector<finch::GaugeDepth>& depths);
    void failed(finch::RequestId probe, const finch::Error& error);
};

/// What moves the beam of a bench, without firing, and tells how long that took. The same contract: each drive is
/// answered once, by driven or failed, and nothing is answered once it was cancelled.
class Mirrors : public QObject {
    Q_OBJECT
public:
    using QObject::QObject;
    Q_DISABLE_COPY_MOVE(Mirrors)

    /// So many passes over the lines, in their order.
    virtual RequestId drive(const std::vector<LineMm>& lines, double speed_mm_s, int passes) = 0;
    virtual void cancel(RequestId drive) = 0;

Q_SIGNALS:
    void driven(finch::RequestId drive, double time_s);
    void failed(finch::RequestId drive, const finch::Error& error);
};

/// What runs a whole job on parts that lie on a bench. The contract of BenchLink: each run is answered by exactly one
/// of ran, cancelled or failed; a cancel is a latch; one run at a time. Where the program waits for somebody (M0),
/// `waits` is said, and nothing happens until `go_on` or `cancel`. The same where it stands with the beam off, because
/// it was asked or because the bench stopped it: `holds`, with the last line of the program that is done. A hold that
/// crosses the end of a run is answered by ran.
class JobRunner : public QObject {
    Q_OBJECT
public:
    using QObject::QObject;
    Q_DISABLE_COPY_MOVE(JobRunner)

    /// `gcode` in the dialect of docs/formats.md.
    virtual RequestId run(const std::string& gcode, const std::vector<LaidPart>& parts) = 0;
    /// The beam goes off at the end of a line. Of a run that waits or stands already, nothing comes.
    virtual void hold(RequestId run) = 0;
    /// Whoever was waited for is done. Of a run that does not wait, nothing comes.
    virtual void go_on(RequestId run) = 0;
    virtual void cancel(RequestId run) = 0;
    /// Whether the enclosure is open; nothing while the bench does not tell.
    [[nodiscard]] virtual std::optional<bool> open() const = 0;
    /// Whether no metal is marked by it.
    [[nodiscard]] virtual bool simulated() const = 0;

Q_SIGNALS:
    void opened_or_shut();
    void progressed(finch::RequestId run, double share, const QString& at, int line);
    void waits(finch::RequestId run, const QString& at);
    /// `why`: what stopped it; empty where it was asked.
    void holds(finch::RequestId run, int line, const QString& why);
    void ran(finch::RequestId run, const finch::RanJob& found);
    void cancelled(finch::RequestId run, int line);
    void failed(finch::RequestId run, const finch::Error& error);
};

} // namespace finch
