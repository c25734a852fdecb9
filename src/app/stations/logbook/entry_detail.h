// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/instruments/instrument.h"
#include "app/session/logbook_desk.h"
#include "app/session/workbench.h"
#include "record/repeatable.h"

#include <optional>
#include <QImage>
#include <vector>

namespace finch::app {

/// The detail of one entry, or the comparison of two.
class EntryDetail final : public Instrument {
    Q_OBJECT
public:
    EntryDetail(LogbookDesk& desk, const Workbench& workbench, QWidget* parent = nullptr);
    void show_entry(long long id);
    void show_comparison(long long a, long long b);
    void clear();
    [[nodiscard]] QSize sizeHint() const override { return {700, static_cast<int>(height_)}; }

protected:
    void paintEvent(QPaintEvent*) override;

Q_SIGNALS:
    void failed(const finch::Error& error);
    /// What was asked for is shown.
    void shown();

private:
    struct Fact {
        QString name, value;
    };
    void paint_one(QPainter& painter);
    void paint_repeatable(QPainter& painter, double y);
    /// Why it may not come again on the bench as it is now; as lines, headings marked.
    void judge_repeatable();
    void paint_two(QPainter& painter);
    void set_height(double height);

    /// An entry with its pictures, decoded and no larger than a screen shows them.
    struct Loaded {
        Entry entry;
        std::vector<std::pair<QString, QImage>> pictures;
        int version = 0, versions = 0; ///< of a recipe: among those of its name, bench and metal
    };
    [[nodiscard]] static Expected<Loaded> load(Logbook& book, long long id);
    void show_loaded(const Loaded& loaded);
    void fact(const QString& name, const QString& value);
    void add_setup(const Entry& entry);
    void add_body(const Entry& entry);

    LogbookDesk& desk_;
    int turn_ = 0;
    const Workbench& workbench_;
    std::optional<Entry> one_, two_;
    std::vector<QImage> pictures_, second_pictures_;
    std::vector<QString> picture_names_;
    std::vector<Fact> facts_;
    std::vector<std::pair<bool, QString>> repeatable_; ///< heading or line, in order
    double facts_height_ = 0;                          ///< of what stands above them
    Comparison comparison_;
    double height_ = 400;
};

/// The state shape of an outcome.
[[nodiscard]] State state_of(Outcome outcome);

} // namespace finch::app
