// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/workbench.h"

#include "app/theme/text.h"

#include <QLocale>
#include <QTimeZone>
#include <QUndoCommand>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr int merge_window_ms = 2000;

int merge_id(const QString& key) {
    return key.isEmpty() ? -1 : static_cast<int>(qHash(key) & 0x7fffffff);
}

} // namespace

/// An undo step is the draft before and after: values are small, and nothing can go out of step.
class DraftStep final : public QUndoCommand {
public:
    DraftStep(Workbench& bench, const QString& text, const QString& merge, Draft before, Draft after, QDateTime when)
        : QUndoCommand(text), bench_(bench), id_(merge_id(merge)), before_(std::move(before)), after_(std::move(after)),
          when_(std::move(when)) {}

    void undo() override { bench_.adopt(keep_records(before_)); }
    void redo() override { bench_.adopt(keep_records(after_)); }
    [[nodiscard]] int id() const override { return id_; }
    bool mergeWith(const QUndoCommand* other) override {
        const auto* next = static_cast<const DraftStep*>(other);
        if (when_.msecsTo(next->when_) > merge_window_ms)
            return false;
        after_ = next->after_;
        when_ = next->when_;
        return true;
    }

private:
    /// Sheet numbers that were given out are never given out again, or two sheets would carry the same code.
    [[nodiscard]] Draft keep_records(Draft draft) const {
        draft.next_sheet = std::max(draft.next_sheet, bench_.draft().next_sheet);
        return draft;
    }

    Workbench& bench_;
    int id_;
    Draft before_, after_;
    QDateTime when_;
};

struct Workbench::Cache {
    std::optional<Expected<Prediction>> prediction;
    std::optional<std::vector<Finding>> findings;
    std::optional<SheetForecast> forecast, first_forecast;
};

Workbench::Workbench(Materials materials, Draft draft, Clock clock, QObject* parent)
    : QObject(parent), materials_(std::move(materials)), clock_(std::move(clock)), cache_(std::make_shared<Cache>()) {
    undo_.setUndoLimit(200);
    adopt(draft);
}

void Workbench::adopt(const Draft& draft) {
    draft_ = draft;
    const auto metal = materials_.find(draft_.setup.stock.metal);
    metal_ = metal ? *metal : materials_.metals.front();
    *cache_ = {};
    Q_EMIT changed();
}

Evidence Workbench::evidence() const {
    const auto it = draft_.evidence.find(evidence_key(draft_.setup));
    return it != draft_.evidence.end() ? it->second : Evidence{};
}

const Expected<Prediction>& Workbench::prediction() const {
    if (!cache_->prediction)
        cache_->prediction =
            predict({materials_, *metal_, bench(), draft_.setup.stock, evidence()}, draft_.recipe, draft_.fill);
    return *cache_->prediction;
}

const std::vector<Finding>& Workbench::findings() const {
    if (!cache_->findings) {
        cache_->findings = check(draft_.recipe, bench(), draft_.setup.stock);
        if (auto bad = bad_history(draft_.recipe, history_))
            cache_->findings->push_back(std::move(*bad));
    }
    return *cache_->findings;
}

const SheetForecast& Workbench::forecast() const {
    if (!cache_->forecast)
        cache_->forecast = draft_.round() != nullptr ? finch::forecast(draft_.round()->sheet, {materials_, *metal_, bench(), draft_.setup.stock, evidence()})
                                                     : SheetForecast{};
    return *cache_->forecast;
}

const SheetForecast& Workbench::first_forecast() const {
    if (!cache_->first_forecast)
        cache_->first_forecast = draft_.round() != nullptr
                                     ? finch::forecast(draft_.round()->sheet, {materials_, *metal_, bench(), draft_.setup.stock, draft_.round()->before})
                                     : SheetForecast{};
    return *cache_->first_forecast;
}

void Workbench::set_history(std::vector<BadTry> tries) {
    history_ = std::move(tries);
    cache_->findings.reset();
    Q_EMIT changed();
}

FocusState Workbench::focus_state() const {
    return finch::focus_state(draft_.setup.focus, bench().lens().name, draft_.setup.stock);
}

void Workbench::change(const QString& text, const QString& merge, const std::function<void(Draft&)>& edit) {
    Draft after = draft_;
    edit(after);
    if (after == draft_)
        return;
    const bool was_fresh = !focus_state().stale();
    if (was_fresh && finch::focus_state(after.setup.focus, after.setup.bench.lens().name, after.setup.stock).stale())
        after.setup.focus.changed_utc = to_utc_text(now()).toStdString();
    undo_.push(new DraftStep(*this, text, merge, draft_, after, now()));
}

void Workbench::note(const std::function<void(Draft&)>& edit) {
    Draft after = draft_;
    edit(after);
    if (!(after == draft_))
        adopt(after);
}

void Workbench::set_knob(Knob knob, double value) {
    const QString label = from_utf8(traits(knob).label);
    change(tr("%1").arg(label.toLower()), u"knob/"_s + label,
           [&](Draft& d) { d.recipe = with_knob(d.recipe, knob, value); });
}

void Workbench::confirm_focus() {
    change(tr("confirm focus"), {}, [&](Draft& d) {
        d.setup.focus = confirmed_focus(d.setup.focus, d.setup.bench.lens().name, d.setup.stock, d.operator_initials,
                                        to_utc_text(now()).toStdString());
        d.setup.focus.changed_utc.clear();
    });
    Q_EMIT focus_confirmed();
}

void Workbench::fail(const Error& error) {
    Q_EMIT said(QString::fromStdString(sentence(error)), State::fail);
}

QString brief_time(const QString& utc, const QDateTime& now) {
    const QDateTime t = QDateTime::fromString(utc, Qt::ISODate).toTimeZone(now.timeZone());
    if (!t.isValid())
        return {};
    return t.date() == now.date() ? t.toString(u"HH:mm"_s) : QLocale(QLocale::English).toString(t.date(), u"d MMM"_s);
}

QString to_utc_text(const QDateTime& time) {
    return time.toUTC().toString(Qt::ISODate);
}

} // namespace finch::app
