// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/latest.h"
#include "app/session/logbook_desk.h"
#include "app/session/recorder.h"
#include "app/session/workbench.h"
#include "bench_link/bench_link.h"
#include "proof/colour_chart.h"

#include <QByteArray>
#include <QTimer>

namespace finch::app {

/// Sets a camera's colours right: by a photograph of the printed chart, or of a burned sheet, and what an instrument
/// measured of its places. Fits in the background, whenever one of the two is new.
class CameraSetter final : public QObject {
    Q_OBJECT
public:
    CameraSetter(Workbench& workbench, Recorder& recorder, LogbookDesk& desk, Camera& camera,
                 QObject* parent = nullptr);

    /// What is photographed; nothing: the chart.
    struct Shown {
        std::optional<ProofSheet> sheet;
        QString photo; ///< name; empty: none yet
        QByteArray picture;
        Setup setup; ///< of the moment of the photograph
    };
    struct Found {
        CameraColour colours;
        std::vector<ColourPair> places;
    };
    [[nodiscard]] const Shown& shown() const { return shown_; }
    [[nodiscard]] const QString& values() const { return values_; }
    /// The last fit; nothing where a photograph or values are missing, or it is under way.
    [[nodiscard]] const std::optional<Expected<Found>>& found() const { return found_; }
    [[nodiscard]] bool photographing() const { return shot_ != 0; }
    [[nodiscard]] bool fitting() const { return latest_.running() || (soon_.isActive() && !shown_.picture.isEmpty()); }
    [[nodiscard]] bool look_only() const { return recorder_.look_only(); }

    /// The bench's own camera takes the chart; its instrument, if it has one, measures it.
    void photograph();
    void take_photo(const QString& path);
    /// "A1; 52.1; 3; -20", a place a line.
    void type_values(const QString& text);
    /// The shown sheet, its photograph from the record, and its cells that an instrument measured.
    void take_sheet();
    /// How many of its cells an instrument measured; 0 where the shown sheet cannot be taken.
    [[nodiscard]] int measured_cells() const;
    /// Into the record as this camera, and in use from now on. False where nothing is found, or the record is only
    /// looked at.
    bool keep(const QString& camera);

Q_SIGNALS:
    void changed();
    /// Others than were typed.
    void values_came(const QString& text);
    /// No photograph came of what was asked last.
    void failed(const finch::Error& error);

private:
    void show(Shown shown);
    void fit();
    void fail(const Error& error);

    Workbench& workbench_;
    Recorder& recorder_;
    LogbookDesk& desk_;
    Camera& camera_;
    RequestId shot_ = 0;
    int asked_ = 0; ///< photographs: of several under way the last that was asked for counts
    Shown shown_;
    QString values_;
    std::optional<Expected<Found>> found_;
    QTimer soon_;
    Latest latest_;
};

/// Photographs are read with these colours from now on; nothing: as they come. A choice: undo takes it back.
void use_camera(Workbench& workbench, const std::optional<CameraColour>& camera);

} // namespace finch::app
