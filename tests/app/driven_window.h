// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/shell/main_window.h"
#include "app/stations/logbook/logbook_station.h"
#include "app/stations/proof/proof_station.h"
#include "formats/data_folder.h"
#include "patience.h"

#include <catch2/catch.hpp>
#include <QComboBox>
#include <QDialog>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSettings>
#include <QTemporaryDir>
#include <QtTest/QTest>

/// The real window over a folder of its own, driven by real events.
namespace finch::tests {

class DrivenWindow {
public:
    explicit DrivenWindow(const QString& folder, double speed_up = 100000,
                          const QString& standin = QStringLiteral(FINCH_STANDIN))
        : shop_(app::Workshop::open({folder,
                                     QStringLiteral("Larkspur Row Instrument Loft"),
                                     FINCH_SOURCE "/data",
                                     true,
                                     false,
                                     {standin, 7, speed_up},
                                     [this] { return time_; }})
                    .value()),
          window_(*shop_) {
        window_.resize(1280, 800);
        window_.show();
        REQUIRE(QTest::qWaitForWindowExposed(&window_));
        window_.activateWindow();
        QTest::qWait(20);
        REQUIRE(known());
    }

    app::MainWindow& window() { return window_; }
    app::Workshop& shop() { return *shop_; }
    app::Workbench& workbench() { return shop_->workbench(); }
    app::ProofFlow& flow() { return shop_->flow(); }
    LocalBench& bench() { return shop_->bench(); }
    [[nodiscard]] const app::Draft& draft() const { return shop_->workbench().draft(); }
    [[nodiscard]] const app::Round* round() { return workbench().round(); }
    void pass(int seconds) { time_ = time_.addSecs(seconds); }
    /// The logbook as another program sees it, once all that was recorded is in it.
    std::unique_ptr<Logbook> logbook() {
        REQUIRE(QTest::qWaitFor([this] { return shop_->recorder().waiting() + shop_->recorder().at_risk() == 0; },
                                patience));
        return Logbook::open(shop_->desk().path(), LogbookUse::look_only).value();
    }
    /// Waits until the record has told all that was asked of it.
    bool known() {
        return QTest::qWaitFor([this] { return shop_->knowledge().up_to_date(); }, patience);
    }

    template <typename T>
    T* find(const char* name) {
        auto* w = window_.findChild<T*>(QString::fromLatin1(name));
        INFO(name);
        REQUIRE(w != nullptr);
        return w;
    }
    void click(const char* name) {
        auto* button = find<QPushButton>(name);
        INFO(name);
        REQUIRE(button->isVisible());
        REQUIRE(button->isEnabled());
        QTest::mouseClick(button, Qt::LeftButton);
        QTest::qWait(1);
    }
    void keys(const QKeySequence& sequence) {
        // A dialog that has closed leaves the keys to the window, as a window manager would.
        for (int i = 0; i < 200 && QApplication::activeModalWidget() != nullptr; ++i)
            QTest::qWait(5);
        if (QApplication::activeWindow() != &window_) {
            window_.activateWindow();
            QTest::qWait(1);
        }
        QTest::keySequence(&window_, sequence);
        QTest::qWait(1);
    }
    /// Types into a field as a person does: click, select all, type, Enter.
    void type(const char* name, const QString& text) {
        auto* field = find<QLineEdit>(name);
        QTest::mouseClick(field, Qt::LeftButton);
        field->selectAll();
        QTest::keyClicks(field, text);
        QTest::keyClick(field, Qt::Key_Return);
        QTest::qWait(1);
    }
    /// Chooses an entry of a combo box by typing its first letters.
    void choose(const char* name, const QString& text) {
        auto* combo = find<QComboBox>(name);
        combo->setFocus();
        QTest::keyClick(combo, Qt::Key_Home);
        for (int i = 0; i < combo->count() && combo->currentText() != text; ++i)
            QTest::keyClick(combo, Qt::Key_Down);
        REQUIRE(combo->currentText() == text);
        QTest::qWait(1);
    }
    bool wait_idle() {
        return QTest::qWaitFor([this] { return flow().step() == app::ProofFlow::Step::idle; }, patience);
    }
    /// Answers the dialog that asks for a recipe's name.
    void name_recipe(const QString& name) {
        auto* dialog = window_.findChild<QDialog*>(QStringLiteral("recipe_name"));
        REQUIRE(dialog != nullptr);
        auto* field = dialog->findChild<QLineEdit*>();
        field->selectAll();
        QTest::keyClicks(field, name);
        QTest::keyClick(field, Qt::Key_Return);
        // Without a window manager nobody hands the focus back when a dialog closes.
        window_.activateWindow();
        QTest::qWait(20);
    }

private:
    QDateTime time_ = QDateTime(QDate(2026, 11, 24), QTime(9, 12));
    std::unique_ptr<app::Workshop> shop_;
    app::MainWindow window_;
};

/// The dialog that a shortcut opens.
template <typename Dialog>
Dialog* asked(DrivenWindow& w, const char* keys) {
    w.keys(QKeySequence(QString::fromLatin1(keys)));
    auto* dialog = w.window().template findChild<Dialog*>();
    REQUIRE(dialog != nullptr);
    REQUIRE(QTest::qWaitFor([&] { return dialog->isVisible(); }, patience));
    return dialog;
}

/// Clicks a button, once it can be.
inline void press(QWidget* in, const char* name) {
    auto* button = in->findChild<QPushButton*>(QString::fromLatin1(name));
    INFO(name);
    REQUIRE(button != nullptr);
    REQUIRE(QTest::qWaitFor([&] { return button->isEnabled(); }, patience));
    QTest::mouseClick(button, Qt::LeftButton);
    QTest::qWait(20);
}

struct CleanSettings {
    CleanSettings() { QSettings().clear(); }
};

} // namespace finch::tests
