// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/recorder.h"
#include "app/session/workbench.h"
#include "piece/job.h"

namespace finch::app {

/// Puts jobs whose sheets were printed into the record.
class JobKeeper final : public QObject {
    Q_OBJECT
public:
    JobKeeper(Workbench& workbench, Recorder& recorder, QObject* parent = nullptr);
};

/// What was written of a job, in whatever form.
struct WrittenJob {
    std::string name, code; ///< no code: no sheet
    Setup setup;            ///< that it was made for
    nlohmann::json job;     ///< of a sheet, unless it is too large to keep
};
/// Writes a job in the form that the ending of the path says; runs in a worker. Errors: those of job_text() and
/// write_file().
[[nodiscard]] Expected<WrittenJob> write_job(const Job& job, const QString& path);

/// Says that it was written, and whose recipe was taken elsewhere; the job of a sheet goes to the record.
void tell_written(Workbench& workbench, const Expected<WrittenJob>& written, const QString& path,
                  const QStringList& elsewhere);

} // namespace finch::app
