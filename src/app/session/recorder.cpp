// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/recorder.h"

#include "app/session/border.h"
#include "record/logbook.h"
#include "record/outbox.h"

#include <deque>
#include <QCoreApplication>
#include <QEvent>
#include <QTimer>

namespace finch::app {

/// Lives in the recorder's thread; tells the recorder by queued calls.
class Recorder::Worker final : public QObject {
public:
    Worker(Recorder& owner, Places places) : owner_(owner), places_(std::move(places)), outbox_(places_.outbox) {}

    void start() {
        retry_ = new QTimer(this);
        retry_->setInterval(places_.retry_ms);
        connect(retry_, &QTimer::timeout, this, &Worker::work);
        if (places_.look_only)
            return;
        for (const std::string& uid : outbox_.waiting())
            queue_.push_back(uid);
        work();
    }
    void take(Entry entry, std::vector<EntryPicture> pictures, std::function<void(const Expected<void>&)> kept) {
        ++taken_;
        const auto done = guarded("keeping an entry", [&] { return outbox_.keep(entry, pictures); });
        if (done)
            queue_.push_back(entry.uid);
        else
            held_.push_back({entry, std::move(pictures)});
        tell_counts();
        tell([this, uid = entry.uid, kept = std::move(kept), done] {
            if (done)
                Q_EMIT owner_.kept(QString::fromStdString(uid));
            if (kept)
                kept(done);
        });
        work();
    }
    void work() {
        if (places_.look_only)
            return;
        if (const auto done = guarded("writing the logbook", [this] { work_off(); }); !done)
            tell([this, e = done.error()] { Q_EMIT owner_.delayed(e); });
        if (queue_.empty() && held_.empty())
            retry_->stop();
        else if (!retry_->isActive())
            retry_->start();
        tell_counts();
    }
    void stop() {
        work();
        retry_->stop();
        book_.reset();
    }

private:
    struct Held {
        Entry entry;
        std::vector<EntryPicture> pictures;
    };

    void work_off() {
        while (!held_.empty() && outbox_.keep(held_.front().entry, held_.front().pictures)) {
            queue_.push_back(held_.front().entry.uid);
            held_.pop_front();
        }
        if (!queue_.empty() && book_ == nullptr) {
            auto opened = Logbook::open(places_.logbook);
            if (!opened)
                return delay(opened.error());
            book_ = std::move(*opened);
        }
        while (!queue_.empty()) {
            const std::string uid = queue_.front();
            const auto kept = outbox_.read(uid);
            if (!kept) {
                outbox_.set_aside(uid);
                queue_.pop_front();
                delay(kept.error());
                continue;
            }
            const auto id = book_->add(kept->entry, kept->pictures);
            if (!id)
                return delay(id.error());
            outbox_.drop(uid);
            queue_.pop_front();
            said_ = false;
            tell([this, uid, id = *id] { Q_EMIT owner_.written(QString::fromStdString(uid), id); });
        }
    }
    void delay(const Error& error) {
        if (!said_)
            tell([this, error] { Q_EMIT owner_.delayed(error); });
        said_ = true;
    }
    void tell(std::function<void()> what) { QMetaObject::invokeMethod(&owner_, std::move(what), Qt::QueuedConnection); }
    void tell_counts() {
        tell([this, taken = taken_, held = static_cast<int>(held_.size()), queued = static_cast<int>(queue_.size())] {
            // What was asked for since is on its way to the worker, and as much at risk as what the disk refused.
            owner_.at_risk_ = owner_.asked_ - taken + held;
            owner_.waiting_ = queued;
            Q_EMIT owner_.counts_changed();
        });
    }

    Recorder& owner_;
    Places places_;
    Outbox outbox_;
    std::unique_ptr<Logbook> book_;
    std::deque<std::string> queue_; ///< uids in the outbox
    std::deque<Held> held_;         ///< what the disk would not take
    QTimer* retry_ = nullptr;
    int taken_ = 0; ///< how many it was asked to take so far
    bool said_ = false;
};

Recorder::Recorder(Places places, QObject* parent)
    : QObject(parent), look_only_(places.look_only), worker_(new Worker(*this, std::move(places))) {
    worker_->moveToThread(&thread_);
    connect(&thread_, &QThread::started, worker_, [this] { worker_->start(); });
    // It ends where it lived: what only its thread touched is not touched from another.
    connect(&thread_, &QThread::finished, worker_, &QObject::deleteLater);
    thread_.setObjectName(QStringLiteral("recorder"));
    thread_.start();
}

Recorder::~Recorder() {
    // Waited for: a thread that is told to quit does not look at what was still asked of it, and an entry would be
    // lost.
    QMetaObject::invokeMethod(
        worker_, [this] { worker_->stop(); }, Qt::BlockingQueuedConnection);
    thread_.quit();
    thread_.wait();
}

void Recorder::record(Entry entry, std::vector<EntryPicture> pictures,
                      std::function<void(const Expected<void>&)> kept) {
    if (look_only_)
        return kept(failure("record.look_only", "This window only looks at the workshop, so nothing is written.",
                            "Close the other window, and start again."));
    ++asked_;
    ++at_risk_; // until the worker says otherwise
    QMetaObject::invokeMethod(
        worker_,
        [this, entry = std::move(entry), pictures = std::move(pictures), kept = std::move(kept)]() mutable {
            worker_->take(std::move(entry), std::move(pictures), std::move(kept));
        },
        Qt::QueuedConnection);
}

void Recorder::finish() {
    QMetaObject::invokeMethod(
        worker_, [] {}, Qt::BlockingQueuedConnection);
    QCoreApplication::sendPostedEvents(this, QEvent::MetaCall);
}

void Recorder::retry() {
    QMetaObject::invokeMethod(
        worker_, [this] { worker_->work(); }, Qt::QueuedConnection);
}

} // namespace finch::app

#include "moc_recorder.cpp"
