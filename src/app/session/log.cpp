// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/log.h"

#include <memory>
#include <QDir>
#include <QtGlobal>
#include <spdlog/sinks/rotating_file_sink.h>
#include <spdlog/spdlog.h>

namespace finch::app {
namespace {

constexpr std::size_t file_bytes = 1 << 20;
constexpr std::size_t files = 5;

std::shared_ptr<spdlog::logger>& logger() {
    static std::shared_ptr<spdlog::logger> one;
    return one;
}

void from_qt(QtMsgType type, const QMessageLogContext&, const QString& text) {
    // Heard on every start without a screen, and of no use to anyone.
    if (text.startsWith(QStringLiteral("This plugin does not support")))
        return;
    if (logger())
        logger()->log(type == QtDebugMsg || type == QtInfoMsg ? spdlog::level::info : spdlog::level::warn, "qt: {}",
                      text.toStdString());
    if (type != QtDebugMsg && type != QtInfoMsg)
        std::fputs((text + u'\n').toLocal8Bit().constData(), stderr);
}

} // namespace

void open_log(const QString& folder) {
    try {
        QDir().mkpath(folder);
        auto sink = std::make_shared<spdlog::sinks::rotating_file_sink_mt>(
            QDir(folder).filePath(QStringLiteral("finch.log")).toStdString(), file_bytes, files);
        logger() = std::make_shared<spdlog::logger>("finch", std::move(sink));
        logger()->flush_on(spdlog::level::info);
        logger()->set_error_handler([](const std::string&) {}); // a full disk stops no work
    } catch (const spdlog::spdlog_ex&) {
        logger().reset();
    }
    qInstallMessageHandler(from_qt);
}

void log_error(const Error& error) {
    if (logger())
        logger()->error("{}: {}", error.code, sentence(error));
}

void log_note(const QString& text) {
    if (logger())
        logger()->info("{}", text.toStdString());
}

Error internal_fault(const char* doing, const char* exception) {
    const Error error{"program.fault",
                      std::string("Something went wrong inside the program while ") + doing + ".",
                      "Nothing that was written is lost. Please keep the log and report it.",
                      {}};
    if (logger())
        logger()->critical("{}: {}", sentence(error), exception);
    return error;
}

} // namespace finch::app
