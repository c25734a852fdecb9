// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/session/workshop.h"

#include "app/session/demo.h"
#include "record/outbox.h"

#include <QDir>
#include <QFile>

namespace finch::app {

using namespace Qt::StringLiterals;

Expected<std::unique_ptr<Workshop>> Workshop::open(const Options& options) {
    std::unique_ptr<Workshop> shop(new Workshop(options));
    if (const auto started = shop->start(); !started)
        return tl::unexpected(started.error());
    return shop;
}

Workshop::~Workshop() = default;

Expected<void> Workshop::start() {
    const QDir folder(options_.folder);
    if (!options_.look_only) {
        QDir().mkpath(options_.folder);
        lock_ = std::make_unique<QLockFile>(folder.filePath(u"workshop.lock"_s));
        lock_->setStaleLockTime(0); // a lock of a process that is gone is stale at once, one that lives never
        if (!lock_->tryLock(0) && lock_->error() == QLockFile::LockFailedError)
            return failure("workshop.in_use", "Another window works on this workshop.",
                           "Go on there, or look at the workshop here without changing it.",
                           {options_.folder.toStdString(), 0, {}});
    }
    auto materials = load_materials(options_.data, &troubles_);
    const auto fresh = options_.demo ? demo_draft(options_.data) : blank_draft(options_.data);
    if (!materials || !fresh)
        return tl::unexpected(!materials ? materials.error() : fresh.error());
    benches_ = load_benches(options_.data, &troubles_);
    workbench_ = std::make_unique<Workbench>(std::move(*materials), opening_draft(*fresh), options_.clock);
    recorder_ = std::make_unique<Recorder>(
        Recorder::Places{folder.filePath(u"logbook.sqlite"_s), folder.filePath(u"outbox"_s), options_.look_only});
    recorder_->finish();
    desk_ = std::make_unique<LogbookDesk>(folder.filePath(u"logbook.sqlite"_s),
                                          options_.look_only ? LogbookUse::look_only : LogbookUse::write);
    read_numbers();
    bench_ = std::make_unique<LocalBench>(options_.bench);
    flow_ = std::make_unique<ProofFlow>(*workbench_, *recorder_, bench_->laser(), bench_->camera(), bench_->gauge());
    timer_ = std::make_unique<ScannerTimer>(*workbench_, *recorder_, bench_->mirrors());
    jobs_ = std::make_unique<JobKeeper>(*workbench_, *recorder_);
    films_ = std::make_unique<FilmKeeper>(*workbench_, *recorder_);
    scrap_ = std::make_unique<ScrapKeeper>(*workbench_, *recorder_);
    eyes_ = std::make_unique<CameraSetter>(*workbench_, *recorder_, *desk_, bench_->camera());
    auto safety = load_safety(options_.data, &troubles_);
    if (!safety)
        return tl::unexpected(safety.error());
    run_ = std::make_unique<RunFlow>(*workbench_, *recorder_, bench_->runner(), std::move(*safety),
                                     RunFlow::Places{folder.filePath(u"runs"_s), options_.look_only});
    troubles_.insert(troubles_.end(), run_->troubles().begin(), run_->troubles().end());
    knowledge_ = std::make_unique<KnowledgeKeeper>(*workbench_, *desk_);
    history_ = std::make_unique<HistoryKeeper>(*workbench_, *desk_);
    controls_ = std::make_unique<ControlKeeper>(*workbench_, *desk_);
    exchange_ = std::make_unique<LogbookExchange>(folder.filePath(u"logbook.sqlite"_s));
    if (!options_.look_only)
        autosave_ = std::make_unique<Autosave>(*workbench_, folder.filePath(u"draft.json"_s));
    return {};
}

Draft Workshop::opening_draft(const Draft& fresh) {
    const QString path = QDir(options_.folder).filePath(u"draft.json"_s);
    if (!QFile::exists(path))
        return fresh;
    auto kept = recover_draft(path);
    if (kept)
        return std::move(*kept);
    troubles_.push_back(kept.error());
    return fresh;
}

void Workshop::read_numbers() {
    const QDir folder(options_.folder);
    const QString path = folder.filePath(u"logbook.sqlite"_s);
    if (QFile::exists(path) || !options_.look_only) {
        const auto book = Logbook::open(path, options_.look_only ? LogbookUse::look_only : LogbookUse::write);
        const auto last = book ? (*book)->last_sheet() : Expected<int>(tl::unexpected(book.error()));
        if (last)
            workbench_->set_last_recorded_sheet(*last);
        else
            troubles_.push_back(last.error());
    }
    // What is on its way into the record counts as much as what is in it.
    const Outbox outbox(folder.filePath(u"outbox"_s));
    for (const std::string& uid : outbox.waiting()) {
        const auto kept = outbox.read(uid);
        if (!kept)
            continue;
        workbench_->set_last_recorded_sheet(kept->entry.sheet);
        workbench_->add_facts([&](Ledger& ledger) {
            if (const auto burned = burned_sheet(kept->entry))
                ledger.add(*burned);
            else if (const auto read = read_sheet(kept->entry))
                ledger.add(*read, {});
            else if (const auto timed = timed_scanner(kept->entry))
                ledger.add(*timed);
            else if (const auto film = compound_fact(kept->entry))
                ledger.add(*film);
            else if (const auto camera = camera_fact(kept->entry))
                ledger.add(*camera);
            else if (auto scrap = scrap_fact(kept->entry))
                ledger.add(std::vector{std::move(*scrap)});
            else if (const auto focus = focus_confirmation(kept->entry)) // last: any entry of a bench in focus has one
                ledger.add(*focus);
        });
    }
}

QStringList Workshop::would_be_lost() {
    QStringList out;
    if (options_.look_only)
        return out;
    if (flow_->step() == ProofFlow::Step::burning)
        out << QObject::tr("A sheet is burning. Closing stops it, and it is not recorded.");
    else if (flow_->step() != ProofFlow::Step::idle)
        out << QObject::tr("A photograph is being read. It can be read again from the sheet.");
    if (run_->under_way())
        out << QObject::tr("A run is under way. Closing stops it; it can be taken up again, pass by pass.");
    recorder_->retry();
    recorder_->finish();
    if (recorder_->at_risk() > 0)
        out << QObject::tr("%1 entries could not be put on the disk.").arg(recorder_->at_risk());
    if (autosave_ != nullptr && !autosave_->flush())
        out << QObject::tr("The draft could not be written.");
    return out;
}

} // namespace finch::app
