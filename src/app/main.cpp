// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/application.h"
#include "app/session/log.h"
#include "app/session/workshop.h"
#include "app/shell/main_window.h"
#include "app/theme/theme.h"
#include "formats/shipped_fonts.h"

#include <CLI/CLI.hpp>
#include <iostream>
#include <QApplication>
#include <QIcon>
#include <QMessageBox>
#include <QPushButton>
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
    bool look_only = false;
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

/// Asks what to do with a workshop that another window works on.
bool wants_to_look(const Error& in_use) {
    QMessageBox question(QMessageBox::Question, QObject::tr("Gilded Finch"),
                         QString::fromStdString(in_use.message + " " + in_use.fix));
    auto* look = question.addButton(QObject::tr("Look only"), QMessageBox::AcceptRole);
    question.addButton(QObject::tr("Close"), QMessageBox::RejectRole);
    question.exec();
    return question.clickedButton() == look;
}

int run(const Options& o, Application& app) {
    const auto data = data_folders();
    if (!data) {
        std::cerr << sentence(data.error()) << '\n';
        return 1;
    }
    const QString folder = workshop_folder(o);
    open_log(folder + u"/log"_s);
    log_note(u"started, version "_s + QStringLiteral(FINCH_VERSION));
    Workshop::Options options{folder,
                              o.demo ? u"Larkspur Row Instrument Loft"_s : QObject::tr("Workshop"),
                              *data,
                              o.demo,
                              o.look_only,
                              {standin_program(), o.seed, o.speed_up},
                              [] { return QDateTime::currentDateTime(); }};
    auto shop = Workshop::open(options);
    if (!shop && shop.error().code == "workshop.in_use" && wants_to_look(shop.error())) {
        options.look_only = true;
        shop = Workshop::open(options);
    }
    if (!shop) {
        log_error(shop.error());
        std::cerr << sentence(shop.error()) << '\n';
        return 1;
    }
    MainWindow window(**shop);
    QObject::connect(&app, &Application::faulted, &window, [&](const Error& e) { (*shop)->workbench().fail(e); });
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
    cli.add_flag("--look-only", o.look_only, "Look at the workshop without changing anything");
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
    try {
        Application app(argc, argv);
        load_fonts();
        QApplication::setFont(text_font(TextStyle::body));
        QApplication::setWindowIcon(QIcon(u":/icons/finch.svg"_s));
        return run(o, app);
    } catch (const std::exception& e) {
        std::cerr << sentence(internal_fault("starting or ending", e.what())) << '\n';
        return 1;
    }
}
