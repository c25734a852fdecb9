// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "patience.h"

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>
#include <QProcess>

/// The command line program, run as a script runs it.
namespace finch::tests {

struct Run {
    int code = -1;
    nlohmann::json out, err;
};

inline Run run(const QStringList& arguments, const QByteArray& input = {}) {
    QProcess process;
    process.start(QStringLiteral(FINCH_CLI), arguments);
    process.write(input);
    process.closeWriteChannel();
    REQUIRE(process.waitForFinished(patience));
    const auto parse = [](const QByteArray& bytes) {
        return nlohmann::json::parse(bytes.toStdString(), nullptr, false);
    };
    return {process.exitCode(), parse(process.readAllStandardOutput()), parse(process.readAllStandardError())};
}

inline const QByteArray noon =
    R"({"format":"finch-recipe","version":1,"name":"noon line","power_percent":13,"frequency_khz":300,
  "pulse_width_ns":26,"scan_speed_mm_s":990,"hatch_pitch_mm":0.0035})";

inline QStringList words(const QString& line) {
    return line.split(u' ');
}
inline QStringList words(const char* line) {
    return words(QString::fromLatin1(line));
}

} // namespace finch::tests
