// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/folders.h"
#include "formats/plain_numbers.h"
#include "standin/server.h"

#include <CLI/CLI.hpp>
#include <iostream>
#include <QCoreApplication>
#include <QTimer>

namespace {

int run(int argc, char** argv) {
    CLI::App cli{"Simulated marking bench with a camera, for trying Gilded Finch without a laser."};
    std::string socket = "gilded-finch-standin";
    std::string grade = "honest";
    std::uint64_t seed = 7;
    double speed_up = 60;
    bool stay = false;
    cli.add_option("--socket", socket, "Name of the local socket to listen on")->capture_default_str();
    cli.add_option("--seed", seed, "Seed of the hidden truth; 0 = exactly as its own tables say")
        ->capture_default_str();
    cli.add_option("--grade", grade, "How far the bench is from what is written about it")
        ->capture_default_str()
        ->check(CLI::IsMember({"friendly", "honest", "hard"}));
    cli.add_option("--speed-up", speed_up, "Seconds of burning that pass in one second")
        ->capture_default_str()
        ->check(CLI::PositiveNumber);
    cli.add_flag("--stay", stay, "Keep running when the last client leaves");
    try {
        cli.parse(argc, argv);
    } catch (const CLI::ParseError& e) {
        const int code = cli.exit(e);
        return code == 0 ? 0 : 2;
    }
    // Pictures are encoded in memory; neither display nor fonts are ever needed.
    QCoreApplication app(argc, argv);
    finch::plain_numbers();
    using namespace finch::standin;
    const auto nature = finch::data_folders().and_then([](const finch::DataFolders& f) { return load_nature(f); });
    if (!nature) {
        std::cerr << finch::sentence(nature.error()) << '\n';
        return 1;
    }
    Server server(*nature, draw_world(grade_from_word(grade).value_or(Grade::honest), seed), speed_up);
    if (const auto listening = server.listen(QString::fromStdString(socket)); !listening) {
        std::cerr << finch::sentence(listening.error()) << '\n';
        return 1;
    }
    if (!stay)
        QObject::connect(&server, &finch::standin::Server::last_client_left, &app, [] { QCoreApplication::quit(); });
    std::cout << "listening on " << socket << std::endl;
    return QCoreApplication::exec();
}

} // namespace

int main(int argc, char** argv) {
    try {
        return run(argc, argv);
    } catch (const std::exception& e) {
        std::cerr << "The stand-in ended with a fault: " << e.what() << '\n';
        return 1;
    }
}
