// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// How one comes in, how one leaves, and what stands when something is thrown in between.
#include "app/application.h"
#include "driven_window.h"
#include "formats/file_out.h"

#include <QDir>
#include <QMessageBox>
#include <QSignalSpy>
#include <QTimer>

using namespace finch;
using namespace finch::tests;

/// The program's own application object, so that all tests of the window pass its border.
std::unique_ptr<QApplication> make_application(int& argc, char** argv) {
    return std::make_unique<app::Application>(argc, argv);
}

namespace {

app::Workshop::Options options(const QString& folder, bool look_only = false) {
    return {folder,
            QStringLiteral("Larkspur Row Instrument Loft"),
            FINCH_SOURCE "/data",
            true,
            look_only,
            {QStringLiteral(FINCH_STANDIN), 7, 100000},
            [] { return QDateTime(QDate(2026, 11, 24), QTime(9, 12)); }};
}

/// Every file under a folder, with its bytes.
std::map<QString, QByteArray> contents(const QString& folder) {
    std::map<QString, QByteArray> out;
    QDir dir(folder);
    for (const QString& name : dir.entryList(QDir::Files))
        // The log and the shared memory of SQLite are not the workshop's.
        if (!name.endsWith(u"-shm") && !name.endsWith(u"-wal") && !name.endsWith(u".lock")) {
            QFile file(dir.filePath(name));
            REQUIRE(file.open(QFile::ReadOnly));
            out[name] = file.readAll();
        }
    return out;
}

} // namespace

TEST_CASE("one window works on a workshop, and another may look and changes nothing", "[window][doors]") {
    CleanSettings clean;
    QTemporaryDir folder;
    DrivenWindow first(folder.path());
    const auto second = app::Workshop::open(options(folder.path()));
    REQUIRE_FALSE(second);
    CHECK(second.error().code == "workshop.in_use");
    CHECK_FALSE(second.error().fix.empty());

    first.type("field_power_percent", QStringLiteral("17 %"));
    (void)first.logbook();
    REQUIRE(first.shop().autosave()->flush());
    const auto before = contents(folder.path());
    {
        auto looking = app::Workshop::open(options(folder.path(), true));
        REQUIRE(looking);
        CHECK((*looking)->autosave() == nullptr);
        app::MainWindow window(**looking);
        window.show();
        CHECK(window.windowTitle().contains(QStringLiteral("looking only")));
        CHECK((*looking)->workbench().draft().recipe.setting.power_percent == Approx(17));
        // It may try things out, and may neither burn nor write.
        (*looking)->workbench().set_knob(Knob::power, 23);
        (*looking)->workbench().confirm_focus();
        (*looking)->flow().plan(false);
        (*looking)->flow().burn();
        QTest::qWait(300);
        CHECK((*looking)->flow().step() == app::ProofFlow::Step::idle);
        CHECK((*looking)->would_be_lost().isEmpty());
        window.close();
    }
    CHECK(contents(folder.path()) == before);
}

TEST_CASE("closing asks only when something would be lost", "[window][doors]") {
    CleanSettings clean;
    QTemporaryDir folder;
    {
        DrivenWindow w(folder.path());
        w.type("field_power_percent", QStringLiteral("17 %"));
        w.window().close();
        CHECK(w.window().findChild<QMessageBox*>(QStringLiteral("close_question")) == nullptr);
        CHECK_FALSE(w.window().isVisible());
    }
    // Slowly enough that the burn is still under way when the operator wants to leave.
    DrivenWindow w(folder.path(), 20);
    CHECK(w.draft().recipe.setting.power_percent == Approx(17));
    w.keys(QKeySequence(Qt::CTRL | Qt::Key_3));
    w.workbench().confirm_focus();
    w.flow().plan(false);
    REQUIRE(w.wait_idle());
    w.flow().burn();
    REQUIRE(QTest::qWaitFor([&] { return w.flow().step() == app::ProofFlow::Step::burning; }, patience));
    const auto question = [&] {
        w.window().close();
        REQUIRE(QTest::qWaitFor(
            [&] { return w.window().findChild<QMessageBox*>(QStringLiteral("close_question")) != nullptr; }, patience));
        return w.window().findChild<QMessageBox*>(QStringLiteral("close_question"));
    };
    QMessageBox* first = question();
    CHECK(first->text().contains(QStringLiteral("not recorded")));
    CHECK(w.window().isVisible());
    QTest::keyClick(first, Qt::Key_Escape); // staying is the answer of a slip
    REQUIRE(QTest::qWaitFor(
        [&] { return w.window().findChild<QMessageBox*>(QStringLiteral("close_question")) == nullptr; }, patience));
    CHECK(w.window().isVisible());
    CHECK(w.flow().step() == app::ProofFlow::Step::burning);
    auto* leave = question()->findChild<QPushButton*>(QStringLiteral("close_anyway"));
    REQUIRE(leave != nullptr);
    QTest::mouseClick(leave, Qt::LeftButton);
    REQUIRE(QTest::qWaitFor([&] { return !w.window().isVisible(); }, patience));
}

TEST_CASE("what is thrown out of a handler is told, and the program goes on", "[window][doors]") {
    auto* program = dynamic_cast<app::Application*>(QCoreApplication::instance());
    REQUIRE(program != nullptr);
    QSignalSpy told(program, &app::Application::faulted);
    struct Thrower final : QObject {
        bool event(QEvent* e) override {
            if (e->type() == QEvent::User)
                throw std::runtime_error("out of paper");
            if (e->type() == static_cast<QEvent::Type>(QEvent::User + 1))
                throw 42; // NOLINT: anything may come
            return QObject::event(e);
        }
    } thrower;
    for (int kind = 0; kind < 2; ++kind)
        QCoreApplication::postEvent(&thrower, new QEvent(static_cast<QEvent::Type>(QEvent::User + kind)));
    REQUIRE(QTest::qWaitFor([&] { return told.count() == 2; }, patience));
    const auto error = told.at(0).at(0).value<finch::Error>();
    CHECK(error.code.find("fault") != std::string::npos);
    // The words of the exception are for the log; a person is told what was being done.
    CHECK(error.message.find("answering an event") != std::string::npos);
    CHECK_FALSE(error.fix.empty());
}

TEST_CASE("the user's own data lies over what ships, and a broken file is named", "[doors]") {
    QTemporaryDir own, folder;
    REQUIRE(QDir(own.path()).mkpath(QStringLiteral("benches")));
    const std::string shipped = read_text_file(FINCH_SOURCE "/data/benches/wren.json").value();
    const auto with_name = [&](const std::string& name) {
        std::string text = shipped;
        text.replace(text.find("\"Wren\""), 6, '"' + name + '"');
        return text;
    };
    const QString benches = own.path() + QStringLiteral("/benches/");
    REQUIRE(write_file(benches + QStringLiteral("swift.json"), with_name("Swift")));
    REQUIRE(write_file(benches + QStringLiteral("heron.json"), with_name("Heron of ours")));
    REQUIRE(write_file(benches + QStringLiteral("bent.json"), "{\"format\": \"finch-bench\", \"version\": 1, "));

    const DataFolders folders(FINCH_SOURCE "/data", own.path().toStdString());
    CHECK(load_bench(folders, "swift").value().name == "Swift");
    CHECK(load_bench(folders, "heron").value().name == "Heron of ours");
    CHECK(load_bench(folders, "mallow"));
    CHECK_FALSE(load_bench(folders, "bent"));

    app::Workshop::Options o = options(folder.path());
    o.data = folders;
    const auto shop = app::Workshop::open(o);
    INFO((shop ? std::string() : sentence(shop.error())));
    REQUIRE(shop);
    std::set<std::string> names;
    for (const Bench& b : (*shop)->benches())
        names.insert(b.name);
    CHECK(names == std::set<std::string>{"Wren", "Swift", "Heron of ours", "Mallow"});
    REQUIRE((*shop)->troubles().size() == 1);
    CHECK(sentence((*shop)->troubles().front()).find("bent.json") != std::string::npos);
}
