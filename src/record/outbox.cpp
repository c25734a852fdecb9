// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "record/outbox.h"

#include "document/json_fields.h"

#include <algorithm>
#include <fcntl.h>
#include <QDir>
#include <QFile>
#include <unistd.h>

namespace finch {
namespace {

using json = nlohmann::json;
using namespace Qt::StringLiterals;

constexpr auto unfinished = ".part";
constexpr auto aside = ".unreadable";

/// Writes a file so that it is on the disk, not only on its way there.
bool put(const QString& path, const QByteArray& bytes) {
    QFile file(path);
    return file.open(QIODevice::WriteOnly) && file.write(bytes) == bytes.size() && file.flush() &&
           fsync(file.handle()) == 0;
}

/// Makes what was renamed or made in a folder last.
bool settle(const QString& folder) {
    const int handle = open(QFile::encodeName(folder).constData(), O_RDONLY | O_DIRECTORY | O_CLOEXEC);
    if (handle < 0)
        return false;
    const bool done = fsync(handle) == 0;
    close(handle);
    return done;
}

bool plain(const std::string& name) {
    return !name.empty() && name[0] != '.' && std::all_of(name.begin(), name.end(), [](unsigned char c) {
        return std::isalnum(c) != 0 || c == '-' || c == '_';
    });
}

} // namespace

QString Outbox::path_of(const std::string& uid) const {
    return folder_ + u'/' + QString::fromStdString(uid);
}

Expected<void> Outbox::keep(const Entry& entry, const std::vector<EntryPicture>& pictures) const {
    const QString path = path_of(entry.uid), part = path + QLatin1StringView(unfinished);
    const auto fault = [&] {
        QDir(part).removeRecursively();
        return failure("file.not_written", "The entry could not be kept on the disk.",
                       "Make room on the disk, and check that the workshop's folder may be written.",
                       {folder_.toStdString(), 0, {}});
    };
    if (!plain(entry.uid) || QDir(path).exists())
        return QDir(path).exists() ? Expected<void>() : fault();
    QDir(part).removeRecursively();
    if (!QDir().mkpath(part))
        return fault();
    json names = json::array();
    for (std::size_t i = 0; i < pictures.size(); ++i) {
        names.push_back(pictures[i].name);
        if (!put(part + u"/picture-%1"_s.arg(i + 1), pictures[i].bytes))
            return fault();
    }
    const json document{{"format", "finch-outbox"}, {"version", 1}, {"entry", to_json(entry)}, {"pictures", names}};
    if (!put(part + u"/entry.json"_s, QByteArray::fromStdString(json_text(document))) || !settle(part) ||
        !QDir().rename(part, path) || !settle(folder_))
        return fault();
    return {};
}

std::vector<std::string> Outbox::waiting() const {
    std::vector<std::string> out;
    for (const QFileInfo& there :
         QDir(folder_).entryInfoList(QDir::Dirs | QDir::NoDotAndDotDot, QDir::Time | QDir::Reversed))
        if (plain(there.fileName().toStdString()))
            out.push_back(there.fileName().toStdString());
    return out;
}

Expected<Outbox::Kept> Outbox::read(const std::string& uid) const {
    const QString path = path_of(uid);
    QFile file(path + u"/entry.json"_s);
    const std::string name = file.fileName().toStdString();
    if (!plain(uid) || !file.open(QIODevice::ReadOnly))
        return failure("file.missing", "The kept entry cannot be read.", "Check its permissions.", {name, 0, {}});
    const QByteArray bytes = file.readAll();
    const auto document = parse_json({bytes.constData(), static_cast<std::size_t>(bytes.size())}, name);
    if (!document)
        return tl::unexpected(document.error());
    if (const auto version = check_format(*document, "finch-outbox", 1, name); !version)
        return tl::unexpected(version.error());
    std::vector<Error> faults;
    JsonFields f(*document, "", faults);
    const auto entry = entry_from_json(f.raw("entry"), name);
    if (!entry)
        return tl::unexpected(entry.error());
    Kept out{*entry, {}};
    const auto names = f.texts("pictures");
    if (auto fault = first_fault(faults, name))
        return tl::unexpected(*fault);
    for (std::size_t i = 0; i < names.size(); ++i) {
        QFile picture(path + u"/picture-%1"_s.arg(i + 1));
        if (!picture.open(QIODevice::ReadOnly))
            return failure("file.missing", "A picture of the kept entry cannot be read.", "Check its permissions.",
                           {picture.fileName().toStdString(), 0, {}});
        out.pictures.push_back({names[i], picture.readAll()});
    }
    return out;
}

void Outbox::drop(const std::string& uid) const {
    if (plain(uid))
        QDir(path_of(uid)).removeRecursively();
}

void Outbox::set_aside(const std::string& uid) const {
    if (plain(uid))
        QDir().rename(path_of(uid), path_of(uid) + QLatin1StringView(aside));
}

} // namespace finch
