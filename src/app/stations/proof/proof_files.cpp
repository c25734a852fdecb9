// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// What goes into the proof station as a file and what leaves it as one.
#include "app/stations/proof/corners_dialog.h"
#include "app/stations/proof/proof_station.h"
#include "document/json_fields.h"
#include "formats/file_out.h"
#include "formats/sheet_export.h"
#include "vision/fiducials.h"

#include <nlohmann/json.hpp>
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QMimeData>

namespace finch::app {

using namespace Qt::StringLiterals;

void ProofStation::ask_photo_file() {
    auto* dialog =
        new QFileDialog(this, tr("Read photographs of the sheet"), {}, tr("Photographs (*.png *.jpg *.jpeg)"));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    // Several of the same sheet, turned between them, are read as one.
    dialog->setFileMode(QFileDialog::ExistingFiles);
    connect(dialog, &QFileDialog::filesSelected, &flow_, &ProofFlow::read_files);
    dialog->open();
}

void ProofStation::ask_corners(const Picture& photo, const Error& error) {
    // An older question is about a photograph that nobody waits for any more.
    if (auto* older = findChild<CornersDialog*>())
        older->close();
    const QImage image(photo.rgb.data(), photo.width, photo.height, 3 * photo.width, QImage::Format_RGB888);
    auto* dialog = new CornersDialog(image.copy(), QString::fromStdString(error.message), this);
    connect(dialog, &CornersDialog::placed, &flow_, &ProofFlow::read_again);
    dialog->open();
}

void ProofStation::ask_export() {
    auto* dialog = new QFileDialog(
        this, tr("Export the sheet"), {},
        tr("SVG with layers (*.svg);;Cells as CSV (*.csv);;Sheet as JSON (*.json);;Page to print (*.pdf)"));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setAcceptMode(QFileDialog::AcceptSave);
    dialog->setDefaultSuffix(u"svg"_s);
    connect(dialog, &QFileDialog::filterSelected, dialog, [dialog](const QString& filter) {
        dialog->setDefaultSuffix(filter.section(u"*."_s, 1).section(u')', 0, 0));
    });
    connect(dialog, &QFileDialog::fileSelected, this, &ProofStation::export_to);
    dialog->open();
}

void ProofStation::export_to(const QString& path) {
    const Round* r = workbench_.round();
    if (r == nullptr)
        return;
    const MarkerModules modules = fiducial_modules(finch::layout(r->sheet));
    const QString ending = path.section(u'.', -1).toLower();
    Expected<void> written;
    if (ending == u"svg"_s)
        written = write_file(path, sheet_svg(r->sheet, modules));
    else if (ending == u"csv"_s)
        written = write_file(path, sheet_csv(r->sheet));
    else if (ending == u"json"_s)
        written = write_file(path, json_text(to_json(r->sheet), 2) + "\n");
    else if (ending == u"pdf"_s)
        written = write_sheet_pdf(r->sheet, workbench_.first_forecast(), r->setup, modules, path);
    else
        written = failure("file.unknown_ending", "The ending \"" + ending.toStdString() + "\" is not known.",
                          "Use svg, csv, json or pdf.", {path.toStdString(), 0, {}});
    if (written)
        workbench_.say(tr("Written to %1.").arg(path));
    else
        workbench_.fail(written.error());
}

QString ProofStation::table_csv() const {
    const Round* r = workbench_.round();
    return r != nullptr ? QString::fromStdString(sheet_csv(r->sheet)) : QString();
}

void ProofStation::dragEnterEvent(QDragEnterEvent* event) {
    if (event->mimeData()->hasUrls() && workbench_.round() != nullptr)
        event->acceptProposedAction();
}

void ProofStation::dropEvent(QDropEvent* event) {
    const auto urls = event->mimeData()->urls();
    QStringList paths;
    for (const QUrl& url : urls)
        if (url.isLocalFile())
            paths << url.toLocalFile();
    if (!paths.isEmpty())
        flow_.read_files(paths);
    else
        workbench_.say(tr("Drop photographs that are files on this machine."), State::warn);
}

} // namespace finch::app
