// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#define CATCH_CONFIG_RUNNER
#include <catch2/catch.hpp>

#include "hang_report.h"

#include <cstdlib>
#include <memory>
#include <QApplication>
#include <QStandardPaths>

/// Tests of the window bring the program's own.
__attribute__((weak)) std::unique_ptr<QApplication> make_application(int& argc, char** argv) {
    return std::make_unique<QApplication>(argc, argv);
}

int main(int argc, char** argv) {
    finch::tests::report_hang();
    // Test discovery runs the program at build time, where there may be no display.
    if (std::getenv("DISPLAY") == nullptr)
        setenv("QT_QPA_PLATFORM", "offscreen", 0);
    setenv("FONTCONFIG_FILE", FINCH_SOURCE "/tests/fonts.conf", 0);
    QStandardPaths::setTestModeEnabled(true);
    const auto app = make_application(argc, argv);
    QApplication::setOrganizationName(QStringLiteral("finch-tests"));
    return Catch::Session().run(argc, argv);
}
