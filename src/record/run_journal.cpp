// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "document/json_fields.h"
#include "record/run_record.h"

#include <fcntl.h>
#include <QDir>
#include <QFile>
#include <QSaveFile>
#include <unistd.h>

namespace finch {
namespace {

constexpr auto ending = ".jsonl", laid_aside = ".unreadable";
constexpr qint64 largest_journal = 512LL << 20;

tl::unexpected<Error> not_written(const QString& path) {
    return failure("file.not_written", "The run cannot be written down on the disk.",
                   "Make room on the disk, and check that the workshop's folder may be written.",
                   {path.toStdString(), 0, {}});
}

} // namespace

QString RunJournal::path_of(const std::string& uid) const {
    return folder_ + u'/' + QString::fromStdString(uid) + QLatin1StringView(ending);
}

Expected<void> RunJournal::begin(const RunStart& start) const {
    const QString path = path_of(start.uid);
    if (!QDir().mkpath(folder_))
        return not_written(path);
    // Renamed into place: a journal is there with its whole first line, or not at all.
    QSaveFile file(path);
    const QByteArray line = QByteArray::fromStdString(json_text(to_json(start)) + '\n');
    if (!file.open(QIODevice::WriteOnly) || file.write(line) != line.size() || !file.commit())
        return not_written(path);
    return {};
}

Expected<void> RunJournal::append(const std::string& uid, const RunEvent& event) const {
    const QString path = path_of(uid);
    QFile file(path);
    if (!file.open(QIODevice::ReadWrite | QIODevice::ExistingOnly))
        return not_written(path);
    // What a kill or a full disk cut off was never told as done, and would swallow what comes after it.
    qint64 end = file.size();
    while (end > 0 && file.seek(end - 1) && file.read(1) != "\n")
        --end;
    const QByteArray line = QByteArray::fromStdString(json_text(to_json(event)) + '\n');
    if (!file.resize(end) || !file.seek(end) || file.write(line) != line.size() || !file.flush() ||
        fsync(file.handle()) != 0)
        return not_written(path);
    return {};
}

std::vector<std::string> RunJournal::kept() const {
    std::vector<std::string> out;
    for (const QFileInfo& f :
         QDir(folder_).entryInfoList({QStringLiteral("*.jsonl")}, QDir::Files, QDir::Time | QDir::Reversed))
        out.push_back(f.completeBaseName().toStdString());
    return out;
}

Expected<RunRecord> RunJournal::read(const std::string& uid) const {
    const QString path = path_of(uid);
    QFile file(path);
    if (!file.open(QIODevice::ReadOnly))
        return failure("file.missing", "The run cannot be read.", "Check the workshop's folder.",
                       {path.toStdString(), 0, {}});
    if (file.size() > largest_journal)
        return failure("file.too_large", "The run's journal is over 512 MB.", "Look at it by hand.",
                       {path.toStdString(), 0, {}});
    RunRecord out;
    int number = 0;
    while (!file.atEnd()) {
        const QByteArray line = file.readLine();
        ++number;
        const bool cut = !line.endsWith('\n');
        if (line.trimmed().isEmpty())
            continue;
        const auto document = parse_json({line.data(), static_cast<std::size_t>(line.size())}, path.toStdString());
        if (number == 1) {
            auto start = document.and_then(
                [&](const nlohmann::json& d) -> Expected<RunStart> { return run_start(d, path.toStdString()); });
            if (!start)
                return tl::unexpected(start.error());
            out.start = std::move(*start);
            continue;
        }
        auto event = document.and_then(
            [&](const nlohmann::json& d) -> Expected<RunEvent> { return run_event(d, path.toStdString()); });
        // Of a line that was cut off nothing was ever told as done; whatever follows it is whole.
        if (event && !cut)
            out.events.push_back(std::move(*event));
    }
    if (number == 0)
        return failure("document.empty", "The run's journal is empty.", "Nothing of it was marked.",
                       {path.toStdString(), 0, {}});
    return out;
}

void RunJournal::drop(const std::string& uid) const {
    QFile::remove(path_of(uid));
}

void RunJournal::set_aside(const std::string& uid) const {
    QFile::rename(path_of(uid), path_of(uid) + QLatin1StringView(laid_aside));
}

} // namespace finch
