// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// Writes the demo workshop's logbook, once: ./finch demo calls it before the program starts.
#include "formats/plain_numbers.h"
#include "history/history.h"

#include <iostream>
#include <QCoreApplication>
#include <QDir>
#include <QFile>
#include <QStandardPaths>

namespace {

using namespace Qt::StringLiterals;

int fail(const finch::Error& error) {
    std::cerr << finch::sentence(error) << '\n';
    return 1;
}

int run(int argc, char** argv) {
    QCoreApplication app(argc, argv);
    // As the program itself, so that both mean the same folder.
    QCoreApplication::setOrganizationName(u"gilded-finch"_s);
    QCoreApplication::setApplicationName(u"gilded-finch"_s);
    finch::plain_numbers();
    const QString folder = argc > 1 ? QString::fromLocal8Bit(argv[1])
                                    : QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + u"/demo"_s;
    const QString path = folder + u"/logbook.sqlite"_s, making = path + u".making"_s;
    if (QFile::exists(path))
        return 0; // somebody has worked in it
    if (!QDir().mkpath(folder)) {
        std::cerr << "The folder cannot be made: " << folder.toStdString() << '\n';
        return 1;
    }
    for (const QString& ending : {u""_s, u"-wal"_s, u"-shm"_s})
        QFile::remove(making + ending); // of a run that was stopped
    const auto folders = finch::data_folders();
    if (!folders)
        return fail(folders.error());
    {
        const auto logbook = finch::Logbook::open(making);
        if (!logbook)
            return fail(logbook.error());
        if (const auto done = finch::history::write_nine_days(**logbook, *folders); !done)
            return fail(done.error());
    }
    // Whole or not at all.
    if (!QFile::rename(making, path)) {
        std::cerr << "The logbook cannot be put in its place: " << path.toStdString() << '\n';
        return 1;
    }
    return 0;
}

} // namespace

int main(int argc, char** argv) {
    try {
        return run(argc, argv);
    } catch (const std::exception& e) {
        std::cerr << "The demo's logbook could not be made: " << e.what() << '\n';
        return 1;
    }
}
