// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "record/exchange.h"

#include "bench/bench_json.h"
#include "document/json_fields.h"
#include "proof/reading.h"
#include "quantity/format.h"
#include "quantity/scan.h"

#include <algorithm>
#include <fmt/format.h>
#include <map>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QSaveFile>

namespace finch {
namespace {

using json = nlohmann::json;
using namespace Qt::StringLiterals;

constexpr int format_version = 2;
constexpr int no_limit = 2000000000;
constexpr qint64 longest_entry = 64LL << 20;
constexpr qint64 largest_picture = 256LL << 20;

tl::unexpected<Error> not_written(const QFileDevice& file) {
    return failure("file.not_written", "The file could not be written: " + file.errorString().toStdString() + ".",
                   "Check the folder, its permissions and the free space.", {file.fileName().toStdString(), 0, {}});
}

tl::unexpected<Error> stopped() {
    return failure("work.cancelled", "This was cancelled.", "Nothing was changed.");
}

Expected<void> write_all(QIODevice& out, const std::string& bytes) {
    if (out.write(bytes.data(), static_cast<qint64>(bytes.size())) == static_cast<qint64>(bytes.size()))
        return {};
    return failure("file.not_written", "The file could not be written: " + out.errorString().toStdString() + ".",
                   "Check the folder, its permissions and the free space.");
}

std::string csv_field(const std::string& text) {
    // What a spreadsheet would take for a formula is made harmless; a plain number stays one.
    const bool formula =
        !text.empty() && std::string_view("=+-@\t\r").find(text[0]) != std::string_view::npos && !plain_number(text);
    const std::string out = formula ? "'" + text : text;
    if (out.find_first_of(",\"\n\r\t;") == std::string::npos)
        return out;
    std::string quoted = "\"";
    for (const char c : out)
        quoted += c == '"' ? std::string("\"\"") : std::string(1, c);
    return quoted + "\"";
}

std::string ending_of(const QByteArray& bytes) {
    return bytes.startsWith("\x89PNG") ? ".png" : bytes.startsWith("\xff\xd8") ? ".jpg" : ".bin";
}

/// Pictures of an entry as files, and what the entry says of them.
Expected<json> write_pictures(const Logbook& logbook, const Entry& entry, const QDir& folder) {
    const auto shots = logbook.pictures(entry.id);
    if (!shots)
        return tl::unexpected(shots.error());
    json out = json::array();
    for (std::size_t i = 0; i < shots->size(); ++i) {
        const EntryPicture& p = (*shots)[i];
        const std::string name = fmt::format("{:07}-{}{}", entry.id, i + 1, ending_of(p.bytes));
        QFile file(folder.filePath(u"pictures/"_s + QString::fromStdString(name)));
        if (!file.open(QIODevice::WriteOnly) || file.write(p.bytes) != p.bytes.size() || !file.flush())
            return not_written(file);
        out.push_back({{"name", p.name}, {"file", name}});
    }
    return out;
}

/// Removes a folder that was not finished.
class Unfinished {
public:
    explicit Unfinished(QString path) : path_(std::move(path)) { QDir(path_).removeRecursively(); }
    ~Unfinished() {
        if (!path_.isEmpty())
            QDir(path_).removeRecursively();
    }
    Unfinished(const Unfinished&) = delete;
    Unfinished& operator=(const Unfinished&) = delete;
    [[nodiscard]] bool finish(const QString& as) {
        const bool done = QDir().rename(path_, as);
        if (done)
            path_.clear();
        return done;
    }
    [[nodiscard]] const QString& path() const { return path_; }

private:
    QString path_;
};

/// One entry of a file with the pictures that go with it.
struct Incoming {
    Entry entry;
    std::vector<EntryPicture> pictures;
};

Expected<std::vector<EntryPicture>> read_pictures(const json& document, const QString& folder,
                                                  const std::string& file) {
    std::vector<EntryPicture> out;
    std::vector<Error> faults;
    JsonFields f(document, "", faults);
    if (!f.has("pictures"))
        return out;
    for (JsonFields& p : f.list("pictures")) {
        const std::string name = p.text("name");
        if (p.has("png_base64")) { // version 1
            out.push_back({name, QByteArray::fromBase64(QByteArray::fromStdString(p.text("png_base64")))});
            continue;
        }
        const std::string from = p.text("file");
        if (from.empty() || from.find_first_of("/\\") != std::string::npos || from[0] == '.') {
            p.fault("file", "This is no plain file name.", "Name a file in the folder pictures.");
            continue;
        }
        QFile picture(QDir(folder).filePath(u"pictures/"_s + QString::fromStdString(from)));
        if (!picture.open(QIODevice::ReadOnly) || picture.size() > largest_picture) {
            p.fault("file", "The picture \"" + from + "\" is missing or too large.",
                    "Copy the whole folder, pictures included.");
            continue;
        }
        out.push_back({name, picture.readAll()});
    }
    if (auto fault = first_fault(faults, file))
        return tl::unexpected(*fault);
    return out;
}

/// Gives entries of before they had one a uid, and turns parents of the file into uids.
class Names {
public:
    void settle(Entry& e) {
        if (e.uid.empty()) {
            const int before = same_[e.when_utc + '|' + std::string(word(e.kind)) + '|' + e.title]++;
            e.uid = uid_of_old(e.when_utc, word(e.kind), e.title, before);
        }
        if (e.parent_uid.empty())
            if (const auto it = by_id_.find(e.parent); it != by_id_.end())
                e.parent_uid = it->second;
        if (e.sheet == 0 && (e.kind == EntryKind::sheet || e.kind == EntryKind::reading))
            if (const auto sheet = sheet_from_json(e.body.value("sheet", json()), ""))
                e.sheet = sheet->number;
        if (e.id > 0)
            by_id_[e.id] = e.uid;
        e.parent = 0;
    }

private:
    std::map<std::string, int> same_;
    std::map<long long, std::string> by_id_;
};

/// Adds one entry; says whether it was new.
Expected<bool> bring_in(Logbook& logbook, Names& names, const json& document, const QString& folder,
                        const std::string& file) {
    auto entry = entry_from_json(document, file);
    if (!entry)
        return tl::unexpected(entry.error());
    names.settle(*entry);
    const auto there = logbook.id_of(entry->uid);
    if (!there)
        return tl::unexpected(there.error());
    if (*there > 0)
        return false;
    const auto pictures = read_pictures(document, folder, file);
    if (!pictures)
        return tl::unexpected(pictures.error());
    const auto id = logbook.add(*entry, *pictures);
    if (!id)
        return tl::unexpected(id.error());
    return true;
}

Expected<int> import_document(Logbook& logbook, const json& document, const QString& folder, const std::string& file,
                              const Going& going) {
    if (const auto version = check_format(document, "finch-logbook", format_version, file); !version)
        return tl::unexpected(version.error());
    const auto entries = document.find("entries");
    if (entries == document.end() || !entries->is_array())
        return failure("document.bad_field", "The list of entries is missing.", "Choose an exported logbook.",
                       {file, 0, "entries"});
    Names names;
    int added = 0;
    for (std::size_t i = 0; i < entries->size(); ++i) {
        const auto one = bring_in(logbook, names, (*entries)[i], folder, file);
        if (!one)
            return tl::unexpected(one.error().in_field(fmt::format("entries[{}]", i)));
        added += *one ? 1 : 0;
        if (going && !going(i + 1, entries->size()))
            return stopped();
    }
    return added;
}

Expected<int> import_lines(Logbook& logbook, QFile& in, const QString& folder, const Going& going) {
    const std::string file = in.fileName().toStdString();
    Names names;
    int added = 0;
    std::size_t all = 0;
    for (int line = 1; !in.atEnd(); ++line) {
        const QByteArray bytes = in.readLine(longest_entry);
        if (bytes.size() + 1 >= longest_entry)
            return failure("document.too_large", "This entry is over 64 MB.", "Choose an exported logbook.",
                           {file, line, {}});
        if (bytes.trimmed().isEmpty())
            continue;
        auto document = parse_json({bytes.constData(), static_cast<std::size_t>(bytes.size())}, file);
        if (!document) {
            Error e = document.error();
            e.place.line = line;
            return tl::unexpected(e);
        }
        if (line == 1) {
            if (const auto version = check_format(*document, "finch-logbook", format_version, file); !version)
                return tl::unexpected(version.error());
            if (const auto n = document->find("entries"); n != document->end() && n->is_number_unsigned())
                all = n->get<std::size_t>();
            continue;
        }
        const auto one = bring_in(logbook, names, *document, folder, file);
        if (!one) {
            Error e = one.error();
            if (e.place.line == 0)
                e.place.line = line;
            return tl::unexpected(e);
        }
        added += *one ? 1 : 0;
        if (going && !going(static_cast<std::size_t>(line - 1), all))
            return stopped();
    }
    return added;
}

} // namespace

Expected<std::size_t> export_folder(const Logbook& logbook, const EntryFilter& filter, const QString& folder,
                                    const Going& going) {
    if (QFileInfo::exists(folder))
        return failure("file.exists", "There is a file or folder of this name already.", "Choose another name.",
                       {folder.toStdString(), 0, {}});
    EntryFilter all = filter;
    all.limit = no_limit;
    const auto heads = logbook.list(all);
    if (!heads)
        return tl::unexpected(heads.error());
    Unfinished unfinished(folder + u".part"_s);
    const QDir part(unfinished.path());
    QFile lines(part.filePath(u"entries.jsonl"_s));
    if (!QDir().mkpath(part.filePath(u"pictures"_s)) || !lines.open(QIODevice::WriteOnly))
        return not_written(lines);
    const json head{{"format", "finch-logbook"}, {"version", format_version}, {"entries", heads->size()}};
    if (!write_all(lines, json_text(head) + "\n"))
        return not_written(lines);
    std::size_t done = 0;
    for (auto it = heads->rbegin(); it != heads->rend(); ++it) {
        const auto whole = logbook.entry(it->id);
        if (!whole)
            return tl::unexpected(whole.error());
        json one = to_json(*whole);
        auto shots = write_pictures(logbook, *whole, part);
        if (!shots)
            return tl::unexpected(shots.error());
        if (!shots->empty())
            one["pictures"] = std::move(*shots);
        if (!write_all(lines, json_text(one) + "\n"))
            return not_written(lines);
        if (going && !going(++done, heads->size()))
            return stopped();
    }
    if (!lines.flush())
        return not_written(lines);
    lines.close();
    if (!unfinished.finish(folder))
        return failure("file.not_written", "The folder could not be given its name.", "Choose another name.",
                       {folder.toStdString(), 0, {}});
    return heads->size();
}

Expected<int> import_entries(Logbook& logbook, const QString& path, const Going& going) {
    const QFileInfo there(path);
    const QString lines = there.isDir() ? QDir(path).filePath(u"entries.jsonl"_s) : path;
    QFile in(lines);
    if (!in.open(QIODevice::ReadOnly))
        return failure("file.missing", "The exported entries cannot be read.",
                       "Choose an exported folder, or the file entries.jsonl in it.", {lines.toStdString(), 0, {}});
    const QString folder = QFileInfo(lines).absolutePath();
    Expected<int> added = 0;
    const auto done = logbook.at_once([&]() -> Expected<void> {
        if (lines.endsWith(u".jsonl"_s))
            added = import_lines(logbook, in, folder, going);
        else {
            const QByteArray bytes = in.readAll();
            const auto document =
                parse_json({bytes.constData(), static_cast<std::size_t>(bytes.size())}, path.toStdString());
            added = document ? import_document(logbook, *document, folder, path.toStdString(), going)
                             : Expected<int>(tl::unexpected(document.error()));
        }
        return added ? Expected<void>() : tl::unexpected(added.error());
    });
    if (!done)
        return tl::unexpected(done.error());
    return added;
}

Expected<json> entries_document(const Logbook& logbook, const EntryFilter& filter) {
    const auto heads = logbook.list(filter);
    if (!heads)
        return tl::unexpected(heads.error());
    json entries = json::array();
    for (auto head = heads->rbegin(); head != heads->rend(); ++head) {
        const auto whole = logbook.entry(head->id);
        if (!whole)
            return tl::unexpected(whole.error());
        entries.push_back(to_json(*whole));
    }
    return json{{"format", "finch-logbook"}, {"version", format_version}, {"entries", std::move(entries)}};
}

Expected<std::size_t> export_cells_csv(const Logbook& logbook, const EntryFilter& filter, QIODevice& out,
                                       const Going& going) {
    EntryFilter readings = filter;
    readings.kind = EntryKind::reading;
    readings.limit = std::max(filter.limit, 0);
    const auto heads = logbook.list(readings);
    if (!heads)
        return tl::unexpected(heads.error());
    std::string header = "entry,when_utc,operator,bench,lens,metal,finish,thickness_mm,lot,sheet,cell";
    for (const Knob knob : all_knobs)
        header += "," + std::string(traits(knob).key);
    if (const auto done = write_all(out, header + ",state,l,a,b,unevenness_de00,within_de00\n"); !done)
        return tl::unexpected(done.error());
    std::size_t written = 0, seen = 0;
    for (const Entry& head : *heads) {
        const auto e = logbook.entry(head.id);
        if (!e)
            return tl::unexpected(e.error());
        const auto setup = setup_from_json(e->setup, "");
        const auto sheet = sheet_from_json(e->body.value("sheet", json()), "");
        const auto reading = sheet ? reading_from_json(e->body.value("reading", json()), *sheet, "")
                                   : Expected<SheetReading>(tl::unexpected(sheet.error()));
        std::string text;
        for (std::size_t i = 0; setup && reading && i < sheet->cells(); ++i) {
            const CellReading& c = reading->cells[i];
            if (c.state == CellState::left_out)
                continue;
            text += fmt::format("{},{},{},{},{},{},{},{},{},{},{}", e->id, csv_field(e->when_utc), csv_field(e->by),
                                csv_field(setup->bench.name), csv_field(setup->bench.lens().name),
                                csv_field(setup->stock.metal), word(setup->stock.finish),
                                format_exact(in_mm(setup->stock.thickness)), csv_field(setup->stock.lot), sheet->number,
                                cell_name(*sheet, i));
            const Recipe recipe = cell_recipe(*sheet, i);
            for (const Knob knob : all_knobs)
                text += "," + format_number(knob_value(recipe, knob), 9);
            text += c.state == CellState::read
                        ? fmt::format(",{},{:.3f},{:.3f},{:.3f},{:.3f},{:.3f}\n", c.spoiled ? "spoiled" : "read",
                                      c.lab.l, c.lab.a, c.lab.b, c.unevenness, c.within_de)
                        : ",hidden,,,,,\n";
        }
        written += text.empty() ? 0 : 1;
        if (const auto done = write_all(out, text); !done)
            return tl::unexpected(done.error());
        if (going && !going(++seen, heads->size()))
            return stopped();
    }
    return written;
}

} // namespace finch
