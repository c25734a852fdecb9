// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/job_sheet.h"

#include "demo_bench.h"
#include "document/json_fields.h"
#include "formats/job_export.h"
#include "patience.h"
#include "piece/placing.h"

#include <catch2/catch.hpp>
#include <fmt/format.h>
#include <nlohmann/json.hpp>
#include <QFile>
#include <QProcess>
#include <QTemporaryDir>
#include <set>

using namespace finch;
using namespace finch::tests;

namespace {

/// What another program says.
QString said_by(const char* program, const QStringList& words) {
    QProcess process;
    process.start(QString::fromLatin1(program), words);
    INFO(program);
    REQUIRE(process.waitForFinished(patience));
    REQUIRE(process.exitCode() == 0);
    return QString::fromUtf8(process.readAllStandardOutput());
}

QString text_of(const QString& pdf) {
    return said_by("pdftotext", {QStringLiteral("-layout"), pdf, QStringLiteral("-")});
}

std::string code_on(const QString& pdf, const QTemporaryDir& folder) {
    const QString page = folder.filePath(QStringLiteral("page"));
    said_by("pdftoppm", {QStringLiteral("-r"), QStringLiteral("120"), QStringLiteral("-png"),
                         QStringLiteral("-singlefile"), pdf, page});
    return said_by("zbarimg", {QStringLiteral("-q"), QStringLiteral("--raw"), page + QStringLiteral(".png")})
        .trimmed()
        .toStdString();
}

} // namespace

TEST_CASE("a job sheet says what the job is, to a reader of its own and to a camera", "[sheet]") {
    QTemporaryDir folder;
    DemoBench demo;
    Job job{"canal gauge", 300, 24, demo.setup, {}, {}, {}};
    Recipe r = DemoBench::blue();
    r.setting.passes = 3;
    for (int i = 0; i < 60; ++i)
        job.layers.push_back({fmt::format("mark {}", i + 1),
                              "#000000",
                              i == 0,
                              r,
                              {{{{5.0 * i, 2}, {5.0 * i + 1, 2}, {5.0 * i + 1, 9}, {5.0 * i, 9}}}},
                              false});
    PlaceRules tiles;
    tiles.holding = Holding::tiles;
    const Job laid = placed(job, tiles).value().job;
    std::set<std::string> codes;
    for (const Job& each : {job, laid}) {
        const QString file = folder.filePath(QStringLiteral("sheet.pdf"));
        QFile out(file);
        REQUIRE(out.open(QIODevice::WriteOnly));
        const std::string pdf = job_text(each, "pdf").value();
        out.write(pdf.data(), static_cast<qint64>(pdf.size()));
        out.close();
        const QString text = text_of(file);
        const std::string code = job_code(each);
        codes.insert(code);
        CHECK(code.size() == 10);
        for (const QString& words :
             {QStringLiteral("canal gauge"), QString::fromStdString(code), QStringLiteral("mark 7"),
              QStringLiteral("S316-07"), QStringLiteral("passes 3"), QStringLiteral("7 mm\u00b2"),
              QStringLiteral("Pulse width 26 ns"), QStringLiteral("guide, never marked"),
              QStringLiteral("laser safety o"), QStringLiteral("more layers")})
            CHECK(text.contains(words));
        CHECK(text.contains(QStringLiteral("3 tiles")) == !each.places.empty());
        CHECK(code_on(file, folder) == "finch-job " + code);
        // The code is of the job as it is kept, read back as well.
        const std::string kept = json_text(to_json(each), 1);
        CHECK(job_code(job_from_json(nlohmann::json::parse(kept), "kept").value()) == code);
    }
    CHECK(codes.size() == 2);
    job.layers[1].recipe->setting.passes = 4;
    CHECK(codes.count(job_code(job)) == 0);
}

TEST_CASE("a job sheet says what each part of a tray is to say, and how layers are filled", "[sheet]") {
    QTemporaryDir folder;
    DemoBench demo;
    Job job{"strips", 90, 30, demo.setup, {}, {}, {{1, {0, 0}}, {2, {30, 0}}, {3, {60, 0}}}};
    for (int nest = 1; nest <= 3; ++nest) {
        JobLayer l{"serial", "#1d1d1e", false, DemoBench::blue(), {{{{2, 2}, {9, 2}, {9, 9}}}}, false, {nest}};
        l.words = fmt::format("No 00{}7", nest);
        l.contours = 2, l.one_way = true;
        job.layers.push_back(l);
    }
    const QString file = folder.filePath(QStringLiteral("sheet.pdf"));
    QFile out(file);
    REQUIRE(out.open(QIODevice::WriteOnly));
    const std::string pdf = job_text(job, "pdf").value();
    out.write(pdf.data(), static_cast<qint64>(pdf.size()));
    out.close();
    const QString text = text_of(file);
    for (const char* words : {"What each part says", "contours 2", "one way", "serial: No 0017", "serial: No 0037"}) {
        INFO(words);
        CHECK(text.contains(QString::fromLatin1(words)));
    }
    CHECK(text.count(QStringLiteral("Pulse width 26 ns")) == 1); // one text, however many wordings
}
