// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/svg_tree.h"

#include <fmt/format.h>
#include <QByteArray>
#include <QXmlStreamReader>

namespace finch {
namespace {

constexpr std::size_t deepest = 200, most_elements = 500'000;

/// "inkpot:label" is told as "label" of another vocabulary.
std::pair<std::string, bool> plain(QStringView name) {
    const auto colon = name.indexOf(u':');
    if (colon < 0)
        return {name.toString().toStdString(), false};
    return {name.mid(colon + 1).toString().toStdString(), name.left(colon) != u"svg"};
}

SvgElement element(const QXmlStreamReader& xml) {
    SvgElement out;
    std::tie(out.name, out.foreign) = plain(xml.qualifiedName());
    out.line = static_cast<int>(xml.lineNumber());
    for (const QXmlStreamAttribute& a : xml.attributes()) {
        auto [name, foreign] = plain(a.qualifiedName());
        // A foreign attribute does not stand for one of SVG's own: "x:width" is not a width. Links and labels are.
        if (!foreign || name == "href" || name == "label")
            out.attributes.emplace(std::move(name), a.value().toString().toStdString());
    }
    return out;
}

void index(const SvgElement& e, SvgTree& tree) {
    if (!e.foreign && !e.get("id").empty())
        tree.by_id.emplace(std::string(e.get("id")), &e);
    if (!e.foreign && e.name == "style") {
        std::string css = e.text;
        for (const SvgElement& part : e.children)
            css += part.text;
        tree.rules.add(css);
    }
    for (const SvgElement& child : e.children)
        index(child, tree);
}

} // namespace

Expected<void> SvgTree::read(std::string_view bytes) {
    QXmlStreamReader xml(QByteArray::fromRawData(bytes.data(), static_cast<qsizetype>(bytes.size())));
    // Drawing programs forget to declare their prefixes; that is no reason to refuse a drawing.
    xml.setNamespaceProcessing(false);
    std::vector<SvgElement> open; // the innermost last
    std::size_t count = 0;
    bool done = false;
    const auto close = [&] {
        SvgElement e = std::move(open.back());
        open.pop_back();
        if (open.empty()) {
            root = std::move(e);
            done = true;
        } else
            open.back().children.push_back(std::move(e));
    };
    while (!xml.atEnd() && !done) {
        switch (xml.readNext()) {
        case QXmlStreamReader::StartElement:
            if (open.size() >= deepest || ++count > most_elements)
                return failure("svg.too_much",
                               fmt::format("The drawing holds more than can be read: {}.",
                                           open.size() >= deepest ? "groups in groups 200 deep" : "500 000 elements"),
                               "Simplify it where it was drawn.", {{}, static_cast<int>(xml.lineNumber()), {}});
            open.push_back(element(xml));
            break;
        case QXmlStreamReader::EndElement:
            close();
            break;
        case QXmlStreamReader::Characters:
            if (!open.empty() && !xml.text().isEmpty()) {
                SvgElement text;
                text.text = xml.text().toString().toStdString();
                open.back().children.push_back(std::move(text));
            }
            break;
        default:
            break;
        }
    }
    if (!done) {
        broken_line = static_cast<int>(xml.lineNumber());
        broken = xml.hasError() ? xml.errorString().toStdString() : "The text ends too early.";
        while (!open.empty())
            close();
        if (!done)
            return failure("svg.not_xml", "This is not a drawing in SVG: " + broken,
                           "Save it as SVG where it was drawn.", {{}, broken_line, {}});
    }
    if (root.name != "svg")
        return failure("svg.no_drawing",
                       fmt::format("The file's outermost element is \"{}\", not a drawing.", root.name.substr(0, 40)),
                       "Save it as SVG where it was drawn.", {{}, root.line, {}});
    index(root, *this);
    return {};
}

std::string svg_first_colour(const SvgTree& tree, std::string_view id) {
    constexpr int most_hops = 8;
    for (int hops = 0; hops < most_hops; ++hops) {
        const auto it = tree.by_id.find(id);
        if (it == tree.by_id.end())
            break;
        for (const SvgElement& stop : it->second->children)
            if (stop.name == "stop") {
                SvgDeclarations d;
                add_declarations(d, stop.get("style"));
                const std::string_view c =
                    d.contains("stop-color") ? std::string_view(d["stop-color"]) : stop.get("stop-color");
                if (const auto p = svg_paint(c, "#000000"))
                    return p->colour;
            }
        id = it->second->get("href");
        if (!id.starts_with("#"))
            break;
        id.remove_prefix(1);
    }
    return "#000000";
}

} // namespace finch
