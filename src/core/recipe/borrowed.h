// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "recipe/carry.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace finch {

/// What a borrowed recipe can say. Each as far as it was said.
enum class BorrowedField {
    power_w,
    power_percent,
    rated_w,
    speed,
    frequency,
    pulse_width,
    pitch,
    passes,
    lens,
    spot,
    metal,
    thickness,
    ignored
};
inline constexpr std::size_t borrowed_field_count = 13;
[[nodiscard]] std::string_view word(BorrowedField field);

/// A recipe from someone else, in canonical units: W, %, mm/s, kHz, ns, mm.
struct Borrowed {
    std::string name;
    std::optional<double> power_w, power_percent, rated_w, speed_mm_s, frequency_khz, pulse_ns, pitch_mm, lens_mm,
        spot_mm, thickness_mm;
    std::optional<int> passes;
    std::string metal; ///< as it was written
    std::vector<std::string> not_understood;
};
/// Reads free text such as "25 W, 40 kHz, 600 mm/s, 0.03". A bare number is taken for a hatch pitch below 1, and left
/// out otherwise. Errors: borrowed.nothing.
[[nodiscard]] Expected<Borrowed> borrowed_from_text(std::string_view text, const Materials& materials);

/// A table with its columns, not yet understood.
struct BorrowedTable {
    std::vector<std::string> header;
    std::vector<std::vector<std::string>> rows;
    std::vector<BorrowedField> meaning; ///< guessed from the header; the user may change it
    std::vector<std::string> units;     ///< taken where a cell gives none; from the header
};
inline constexpr std::size_t most_borrowed_rows = 5000;
/// Comma, semicolon or tab, quotes as in CSV. Errors: borrowed.empty, borrowed.too_long, borrowed.ragged (with the
/// line).
[[nodiscard]] Expected<BorrowedTable> borrowed_table(std::string_view csv, const std::string& file);
/// One row understood by the table's meaning. Errors: borrowed.row with line and column.
[[nodiscard]] Expected<Borrowed> borrowed_row(const BorrowedTable& table, std::size_t row, const Materials& materials);

/// How far it fits what is in front of you.
struct Match {
    int score = 0;                    ///< 0 to 100
    std::vector<std::string> missing; ///< facts that were never said
    std::vector<std::string> differs;
    std::string confidence; ///< one honest sentence
};
[[nodiscard]] Match match(const Borrowed& borrowed, const Scene& scene);

/// A start on the present bench. What is missing is taken from the bench and said to be so.
struct BorrowedStart {
    Recipe recipe;
    TransferResult result;
    std::vector<std::string> assumed;
};
[[nodiscard]] Expected<BorrowedStart> rescaled(const Borrowed& borrowed, const Scene& scene, Process process);

} // namespace finch
