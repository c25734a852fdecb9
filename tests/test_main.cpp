// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#define CATCH_CONFIG_RUNNER
#include <catch2/catch.hpp>

#include <cstdlib>
#include <QApplication>
#include <QStandardPaths>

int main(int argc, char** argv) {
    // Test discovery runs the program at build time, where there may be no display.
    if (std::getenv("DISPLAY") == nullptr)
        setenv("QT_QPA_PLATFORM", "offscreen", 0);
    QStandardPaths::setTestModeEnabled(true);
    QApplication app(argc, argv);
    QApplication::setOrganizationName(QStringLiteral("finch-tests"));
    return Catch::Session().run(argc, argv);
}
