// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// The pictures in docs/screenshots are what the program shows today.
#include <catch2/catch.hpp>
#include <cstdlib>
#include <QColor>
#include <QDir>
#include <QImage>
#include <QProcess>
#include <QTemporaryDir>

namespace {

constexpr int block = 8; // pixels; smaller than any region, larger than a digit of a clock

/// The share of blocks whose mean colour differs plainly.
double share_changed(const QImage& a, const QImage& b) {
    if (a.size() != b.size())
        return 1;
    const QSize small(a.width() / block, a.height() / block);
    const auto coarse = [&](const QImage& image) {
        return image.convertToFormat(QImage::Format_RGB32)
            .scaled(small, Qt::IgnoreAspectRatio, Qt::SmoothTransformation);
    };
    const QImage x = coarse(a), y = coarse(b);
    int changed = 0;
    for (int row = 0; row < small.height(); ++row)
        for (int column = 0; column < small.width(); ++column) {
            const QColor p = x.pixelColor(column, row), q = y.pixelColor(column, row);
            const int off =
                std::max({std::abs(p.red() - q.red()), std::abs(p.green() - q.green()), std::abs(p.blue() - q.blue())});
            changed += off > 12 ? 1 : 0;
        }
    return static_cast<double>(changed) / (small.width() * small.height());
}

} // namespace

TEST_CASE("the kept pictures show the program as it is", "[pictures]") {
    const QDir kept(QStringLiteral(FINCH_SOURCE "/docs/screenshots"));
    const QStringList names = kept.entryList({QStringLiteral("*.png")}, QDir::Files, QDir::Name);
    REQUIRE(names.size() >= 12);
    REQUIRE(names.size() < 20);
    QTemporaryDir fresh;
    QProcess shoot;
    shoot.start(QStringLiteral(FINCH_SCREENSHOTS), {fresh.path()});
    REQUIRE(shoot.waitForFinished(840000));
    INFO(shoot.readAllStandardError().toStdString());
    REQUIRE(shoot.exitCode() == 0);
    CHECK(QDir(fresh.path()).entryList({QStringLiteral("*.png")}, QDir::Files, QDir::Name) == names);
    QImage first;
    for (const QString& name : names) {
        INFO(name.toStdString() << ": look at it, then ./finch screenshots");
        const QImage was(kept.filePath(name)), is(fresh.filePath(name));
        REQUIRE_FALSE(was.isNull());
        CHECK(share_changed(was, is) < 0.02);
        // A comparison that finds all views alike would be none.
        if (!first.isNull())
            CHECK(share_changed(first, is) > 0.02);
        else
            first = is;
    }
}
