// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// The real window, working by itself until it is killed: confirms, plans, burns, reads, saves, and turns a knob all the
// while. Says on its output what it has shown to be kept, so that the one who kills it can look for it afterwards.
#include "app/application.h"
#include "app/shell/main_window.h"
#include "app/theme/theme.h"
#include "formats/data_folder.h"
#include "formats/shipped_fonts.h"

#include <cstdio>
#include <QtTest/QTest>

using namespace finch;
using namespace finch::app;

namespace {

void tell(const char* what, const QString& detail) {
    std::printf("%s %s\n", what, detail.toUtf8().constData());
    std::fflush(stdout);
}

} // namespace

int main(int argc, char** argv) {
    if (argc != 3)
        return 2;
    Application app(argc, argv);
    load_fonts();
    const QString folder = QString::fromLocal8Bit(argv[1]);
    const auto shop = Workshop::open({folder,
                                      QStringLiteral("Larkspur Row Instrument Loft"),
                                      DataFolders(FINCH_SOURCE "/data"),
                                      true,
                                      false,
                                      {QString::fromLocal8Bit(argv[2]), 7, 100000}});
    if (!shop) {
        tell("failed", QString::fromStdString(sentence(shop.error())));
        return 1;
    }
    Workbench& workbench = (*shop)->workbench();
    ProofFlow& flow = (*shop)->flow();
    MainWindow window(**shop);
    window.show();
    QObject::connect(&(*shop)->recorder(), &Recorder::kept, &window, [](const QString& uid) { tell("kept", uid); });
    QTimer knob;
    int turns = 0;
    QObject::connect(&knob, &QTimer::timeout, &window, [&] {
        // Faster and faster, so that a draft tells by itself how old it is.
        const double speed = 1000 + ++turns;
        workbench.change(QStringLiteral("turn"), {}, [&](Draft& d) { d.request.across.to = speed; });
        tell("set", QString::number(speed) + u' ' + QString::number(QDateTime::currentMSecsSinceEpoch()));
    });
    knob.start(90);
    QTimer work;
    QObject::connect(&work, &QTimer::timeout, &window, [&] {
        if (flow.step() != ProofFlow::Step::idle)
            return;
        const Round* r = workbench.round();
        if (workbench.focus_state().stale())
            QTest::keySequence(&window, QKeySequence(QStringLiteral("Ctrl+Shift+F")));
        else if (r == nullptr || r->reading) {
            if (r != nullptr)
                flow.save_recipe(QStringLiteral("found on sheet %1").arg(r->sheet.number));
            QTest::keySequence(&window, QKeySequence(QStringLiteral("Ctrl+P")));
        } else if (!r->burned)
            QTest::keySequence(&window, QKeySequence(QStringLiteral("Ctrl+B")));
        else
            flow.photograph();
    });
    work.start(40);
    tell("ready", {});
    return QApplication::exec();
}
