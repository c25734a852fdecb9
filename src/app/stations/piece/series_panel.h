// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "piece/typed_text.h"

#include <QWidget>

class QLabel;
class QLineEdit;
class QPushButton;
class QSpinBox;
class QTableWidget;

namespace finch::app {

/// How the pieces of a batch are told apart, which of them are at hand, and what each of them says.
class SeriesPanel final : public QWidget {
    Q_OBJECT
public:
    SeriesPanel(Series series, int nests, QWidget* parent = nullptr);
    [[nodiscard]] const Series& series() const { return series_; }
    /// Whether what is typed there can be taken.
    [[nodiscard]] bool readable() const { return readable_; }
    /// Shows what the texts say on each piece.
    void show_texts(const std::vector<TypedText>& texts);
    /// Reads a table with a row for each piece.
    void read_table(const QString& path);

Q_SIGNALS:
    void changed();
    /// What was typed cannot be taken; something is to be known.
    void refused(const QString& why);
    void told(const QString& words);

private:
    QSpinBox* whole(const QString& name, const QString& label, int low, int high, int Series::*value);
    void take_pieces();
    void next_tray();
    void ask_table();

    Series series_;
    int nests_ = 1;
    bool readable_ = true;
    std::vector<TypedText> texts_;
    QLineEdit* pieces_ = nullptr;
    QPushButton* next_ = nullptr;
    QLabel* table_words_ = nullptr;
    QTableWidget* said_ = nullptr;
};

} // namespace finch::app
