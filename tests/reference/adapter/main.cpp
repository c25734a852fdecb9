// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
// Fills a vectors document from standard input with the program's own outputs: ./finch reference --model NAME
#include "document/json_fields.h"
#include "formats/data_folder.h"
#include "reference/adapter/reference.h"

#include <iostream>
#include <iterator>
#include <nlohmann/json.hpp>

int main(int argc, char** argv) {
    using namespace finch;
    if (argc != 3 || std::string_view(argv[1]) != "--model") {
        std::cerr << "usage: finch-reference --model anneal-color|removal|bench-math < vectors > filled\n";
        return 2;
    }
    const std::string text{std::istreambuf_iterator<char>(std::cin), std::istreambuf_iterator<char>()};
    const auto materials = data_folders().and_then([](const DataFolders& f) { return load_materials(f); });
    const auto document = parse_json(text, "standard input");
    const auto filled = !materials ? Expected<nlohmann::json>(tl::unexpected(materials.error()))
                        : document ? reference_document(argv[2], *document, *materials)
                                   : document;
    if (!filled) {
        std::cerr << sentence(filled.error()) << '\n';
        return 1;
    }
    std::cout << json_text(*filled, 2) << '\n';
    return 0;
}
