// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/autosave.h"
#include "app/session/demo.h"
#include "app/shell/main_window.h"
#include "app/theme/theme.h"
#include "formats/data_folder.h"
#include "standin/standin_link.h"

#include <CLI/CLI.hpp>
#include <iostream>
#include <QApplication>
#include <QDir>
#include <QIcon>
#include <QStandardPaths>
#include <QTimer>

namespace {

using namespace finch;
using namespace finch::app;
using namespace Qt::StringLiterals;

struct Options {
    bool demo = false;
    std::string folder;
    std::string grab;
    double speed_up = 60;
    std::uint64_t seed = 7;
};

/// Folder of the draft and the logbook: given, or one of its own for the demo, so that a trial never mixes with work.
QString workshop_folder(const Options& o) {
    if (!o.folder.empty())
        return QString::fromStdString(o.folder);
    const QString base = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation);
    return base + (o.demo ? u"/demo"_s : u"/workshop"_s);
}

QString standin_program() {
    const QString beside = QCoreApplication::applicationDirPath() + u"/finch-standin"_s;
    return QFile::exists(beside) ? beside : QCoreApplication::applicationDirPath() + u"/../standin/finch-standin"_s;
}

int run(const Options& o) {
    const auto data = data_folder();
    const auto materials = data.and_then(load_materials);
    const auto fresh =
        data.and_then([&](const auto& folder) { return o.demo ? demo_draft(folder) : blank_draft(folder); });
    if (!materials || !fresh) {
        std::cerr << sentence(!materials ? materials.error() : fresh.error()) << '\n';
        return 1;
    }
    const QString folder = workshop_folder(o);
    QDir().mkpath(folder);
    std::vector<Error> troubles;
    auto logbook = Logbook::open(folder + u"/logbook.sqlite"_s);
    if (!logbook)
        troubles.push_back(logbook.error());
    Draft draft = *fresh;
    const QString draft_path = folder + u"/draft.json"_s;
    if (QFile::exists(draft_path)) {
        if (auto kept = recover_draft(draft_path))
            draft = *kept;
        else
            troubles.push_back(kept.error());
    }
    Workbench workbench(*materials, draft, [] { return QDateTime::currentDateTime(); });
    StandinLink link({standin_program(), o.seed, o.speed_up});
    ProofFlow flow(workbench, logbook ? logbook->get() : nullptr, link);
    Autosave autosave(workbench, draft_path);
    MainWindow window({workbench, flow, logbook ? logbook->get() : nullptr, link, &autosave, *data,
                       o.demo ? u"Larkspur Row Instrument Loft"_s : QObject::tr("Workshop")});
    for (const Error& e : troubles)
        workbench.fail(e);
    window.show();
    if (!o.grab.empty()) {
        // For the start-up check: the first usable frame is painted, kept as a picture, and the program ends.
        window.grab().save(QString::fromStdString(o.grab));
        QTimer::singleShot(0, &window, &QWidget::close);
    }
    return QApplication::exec();
}

} // namespace

int main(int argc, char** argv) {
    Options o;
    CLI::App cli{"Gilded Finch: bench companion for fibre laser marking."};
    cli.add_flag("--demo", o.demo, "Start with the demo workshop");
    cli.add_option("--folder", o.folder, "Folder of the draft and the logbook");
    cli.add_option("--speed-up", o.speed_up, "How many times faster the stand-in burns")
        ->capture_default_str()
        ->check(CLI::PositiveNumber);
    cli.add_option("--seed", o.seed, "Seed of the stand-in's hidden truth")->capture_default_str();
    cli.add_option("--grab-first-frame", o.grab, "Save a picture of the first frame and end")->group("");
    cli.set_version_flag("--version", FINCH_VERSION);
    try {
        cli.parse(argc, argv);
    } catch (const CLI::ParseError& e) {
        return cli.exit(e) == 0 ? 0 : 2;
    }
    QApplication app(argc, argv);
    QApplication::setOrganizationName(u"gilded-finch"_s);
    QApplication::setApplicationName(u"gilded-finch"_s);
    QApplication::setApplicationVersion(QStringLiteral(FINCH_VERSION));
    QApplication::setStyle(u"Fusion"_s);
    load_fonts();
    QApplication::setFont(text_font(TextStyle::body));
    QApplication::setWindowIcon(QIcon(u":/icons/finch.svg"_s));
    return run(o);
}
