// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// The real window, working by itself until it is killed: confirms, plans, burns, reads, saves, and turns a knob all the
// while; or runs jobs, each taken up where the last kill left it. Says on its output what it has shown to be kept, so
// that the one who kills it can look for it afterwards.
#include "app/application.h"
#include "app/shell/main_window.h"
#include "app/theme/theme.h"
#include "formats/data_folder.h"
#include "formats/shipped_fonts.h"
#include "small_tray.h"

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <QtTest/QTest>

using namespace finch;
using namespace finch::app;

namespace {

void tell(const char* what, const QString& detail) {
    std::printf("%s %s\n", what, detail.toUtf8().constData());
    std::fflush(stdout);
}

/// Does what is to be done next with a run.
class Runner final : public QObject {
public:
    Runner(Workshop& shop, QObject* parent) : QObject(parent), run_(shop.run()), workbench_(shop.workbench()) {
        const Draft& d = workbench_.draft();
        const Job tray = tests::small_tray(d.setup, 12);
        job_ = ready_job({tray, {}, {}, {}, 0}, {}, workbench_.own_scene().scene(), fitted(d.setup.bench.scanner), {})
                   .value();
        // What was said before the last kill is not said again.
        uid_ = run_.record().start.uid;
        said_ = run_.record().events.size();
        connect(&run_, &RunFlow::changed, this, &Runner::say);
        auto* often = new QTimer(this);
        connect(often, &QTimer::timeout, this, &Runner::act);
        often->start(1);
    }

private:
    void say() {
        const RunRecord& r = run_.record();
        if (r.start.uid != uid_) {
            uid_ = r.start.uid;
            said_ = 0;
        }
        for (; said_ < r.events.size(); ++said_)
            if (r.events[said_].kind == RunEvent::Kind::passed)
                tell("passed", QString::fromStdString(uid_) + u' ' + QString::number(r.events[said_].portion));
    }
    void act() {
        using Step = RunFlow::Step;
        switch (run_.step()) {
        case Step::none:
            return run_.take(job_);
        case Step::left:
            return run_.take_up();
        case Step::asking:
            if (workbench_.focus_state().stale())
                workbench_.confirm_focus();
            for (const Gate& g : std::vector<Gate>(run_.gates()))
                if (g.kind == GateKind::frame)
                    verdict_at(g, run_.answers()) || run_.framing() ? void() : run_.show_frame();
                else if (g.kind != GateKind::known && !verdict_at(g, run_.answers()))
                    run_.answer(g.key, g.kind == GateKind::choice     ? g.choices.front().key
                                       : g.kind == GateKind::initials ? "OD"
                                                                      : "");
            if (run_.locked().empty())
                run_.start();
            return;
        case Step::held:
        case Step::hands:
            return run_.go_on();
        case Step::over:
            return run_.again();
        case Step::running:
            return;
        }
    }

    RunFlow& run_;
    Workbench& workbench_;
    std::shared_ptr<const ReadyJob> job_;
    std::string uid_;
    std::size_t said_ = 0;
};

} // namespace

int main(int argc, char** argv) {
    if (argc != 3 && argc != 4)
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
    if (argc == 4) {
        const Runner runs(**shop, &window);
        tell("ready", {});
        return QApplication::exec();
    }
    QTimer knob;
    // On from where the last one was killed: otherwise a draft that came back late would hide behind an older, faster
    // one.
    int turns = std::max(0, static_cast<int>(std::lround(workbench.draft().request.across.to)) - 1000);
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
