// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/file_out.h"

#include <QSaveFile>

namespace finch {

Expected<void> write_file(const QString& path, const std::function<Expected<void>(QIODevice&)>& fill) {
    QSaveFile file(path);
    const auto fault = [&] {
        return failure("file.not_written", "The file could not be written: " + file.errorString().toStdString() + ".",
                       "Check the folder, its permissions and the free space; an older file was not touched.",
                       {path.toStdString(), 0, {}});
    };
    if (!file.open(QIODevice::WriteOnly))
        return fault();
    if (const auto filled = fill(file); !filled)
        return tl::unexpected(filled.error().in_file(path.toStdString()));
    // Bytes wait in a buffer: a full disk shows only when they are pushed out, which commit does not look at.
    if (!file.flush() || !file.commit())
        return fault();
    return {};
}

Expected<void> write_file(const QString& path, const std::string& bytes) {
    return write_file(path, [&](QIODevice& out) -> Expected<void> {
        if (out.write(bytes.data(), static_cast<qint64>(bytes.size())) == static_cast<qint64>(bytes.size()))
            return {};
        return failure("file.not_written", "The file could not be written: " + out.errorString().toStdString() + ".",
                       "Check the folder, its permissions and the free space; an older file was not touched.");
    });
}

} // namespace finch
