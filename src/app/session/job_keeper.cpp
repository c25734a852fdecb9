// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/job_keeper.h"

#include "document/json_fields.h"
#include "formats/file_out.h"
#include "formats/job_export.h"
#include "formats/job_sheet.h"

#include <QUuid>

namespace finch::app {

namespace {

constexpr std::size_t most_kept_bytes = 8'000'000; // of a job in the record; of larger ones the code says which it was

} // namespace

JobKeeper::JobKeeper(Workbench& workbench, Recorder& recorder, QObject* parent) : QObject(parent) {
    connect(&workbench, &Workbench::job_printed, this, [&workbench, &recorder](const PrintedJob& job) {
        const auto metal = workbench.materials().find(job.setup.stock.metal);
        recorder.record(entry_of(job, QUuid::createUuid().toString(QUuid::WithoutBraces).toStdString(),
                                 metal ? (*metal)->name : job.setup.stock.metal, FINCH_VERSION),
                        {}, [&workbench, code = job.code](const Expected<void>& kept) {
                            if (kept)
                                workbench.say(
                                    tr("The job is kept for the logbook under %1.").arg(QString::fromStdString(code)));
                            else
                                workbench.fail(kept.error());
                        });
    });
}

Expected<WrittenJob> write_job(const Job& job, const QString& path) {
    const std::string form = job_form(path.toStdString());
    const auto text = job_text(job, form);
    if (!text)
        return tl::unexpected(text.error().in_file(path.toStdString()));
    if (const auto written = write_file(path, *text); !written)
        return tl::unexpected(written.error());
    WrittenJob out{job.name, {}, job.setup, {}};
    if (form == "pdf") {
        out.code = job_code(job);
        auto document = to_json(job);
        if (json_text(document, 0).size() < most_kept_bytes)
            out.job = std::move(document);
    }
    return out;
}

void tell_written(Workbench& workbench, const Expected<WrittenJob>& written, const QString& path,
                  const QStringList& elsewhere) {
    if (!written)
        return workbench.fail(written.error());
    if (elsewhere.isEmpty())
        workbench.say(JobKeeper::tr("Written to %1.").arg(path));
    else
        workbench.say(JobKeeper::tr("Written to %1. Taken on another bench, lens or stock: the recipe of %2.")
                          .arg(path, elsewhere.join(QStringLiteral(", "))),
                      State::warn);
    if (!written->code.empty())
        workbench.keep_job({{}, {}, written->name, written->code, written->setup, written->job});
}

} // namespace finch::app

#include "moc_job_keeper.cpp"
